#!/usr/bin/env run
//! What has misled readers of the language.
use a::{self, b::{self as c, *}, r#type::d as _};

/* one /* two */ use no::way; */
macro_rules! rules {
    ($x:expr) => { mod not_here; use not::here; $x };
}

pub(crate) struct Private<'a, T: e::F<'a>> {
    pub open: g::H,
    closed: Option<Vec<i::J<T>>>,
    pub(super) r#where: u8,
}

impl<'a, T> Private<'a, T> where T: for<'b> k::L<'b> {
    fn hidden() -> char { let _ = 'x'; let 'y' = 'z' else { loop {} }; '\'' }
    pub const SHOWN: &'static str = r##"use not::me; "# "##;
}

impl<T> m::N for <o::P as q::R>::S {
    fn not_a_member() {}
}

fn code(range: std::ops::Range<u8>) {
    for i in 0..t::U { let _ = (1.0.powi(2), x.0.1, 1..=v::W, 0xE+v::X); }
    'outer: loop { break 'outer; }
    if a < b && c >> d::E > f { }
    let _ = Vec::<g::H<i::J>>::new();
    match range { k::L { m: n::O, .. } | p::Q(..) => {}, _ => { mod inner { use super::r::s; } } }
    assert_eq!(u::v(), 1);
    const _: () = ();
}

#[serde(with = "w::x", other(y = "z"))]
#[doc = include_str!("a.md")]
enum E { A(b::C), D { e: f::G }, H = i::J as isize }
extern "C" { fn foreign(x: k::L); }
