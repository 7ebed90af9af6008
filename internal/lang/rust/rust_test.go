package rust

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row is a text and what it says, without places: modules, items, private members, uses, paths, strings, files.
func TestSaid(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"modules", "mod a; pub mod b { mod c {} } #[path = \"x/y.rs\"] pub(crate) mod r#type;",
			"mod a file -; mod b inline pub; mod c inline -; mod type file pub(crate); string path \"x/y.rs\""},
		{"visibilities", "pub(super) fn a() {} pub(in crate::b) struct C; pub(self) type D = E; struct J(pub (F));",
			"item struct J -; item fn a pub(super); item struct C pub(in crate::b); item type D pub(self)"},
		{"modifiers", "pub const unsafe extern \"C\" fn a() {} async fn b() {} unsafe impl C for D {} const E: F = G; const _: () = (); default fn h() {} pub unsafe trait I {} static mut J: K = L;",
			"item const E -; item fn a pub; item fn b -; item fn h -; item static J -; item trait I pub"},
		{"private members", "struct A { pub b: C, d: E<F, G>, pub(crate) r#type: u8 } impl A { fn h() {} pub fn i() {} const J: u8 = 1; } impl K for A { fn l() {} } struct M(u8);",
			"item struct A -; item struct M -; member J -; member d -; member h -; member type pub(crate)"},
		{"trees of uses", "use a; use b::{self, c as d, e::*, f::{g, h as _}}; pub use ::i::j; use {k, l::m}; pub(crate) use super::r#n;",
			"use a a; use b b; use b::c d; use b::e *; use b::f::g g; use b::f::h ; use i::j j; use k k; use l::m m; use super::n n"},
		{"paths", "fn a() { b::c::<D>(e::F::g, <H as i::J>::k::l); Vec::<m::N>::new(); crate::o!(p::q); ::r::s(); x.t::<u::V>() }",
			"item fn a -; path ::r::s; path Vec::new|; path b::c; path crate::o; path e::F::g; path i::J; path m::N; path u::V"},
		{"types and bounds", "fn a<T: b::C<d::E, F = g::H>>(i: &'j k::L, m: [n::O; p::Q]) -> impl Fn(r::S) -> t::U where v::W: x::Y<'z> {}",
			"item fn a -; path b::C; path d::E; path g::H; path k::L; path n::O; path p::Q; path r::S; path t::U; path v::W; path x::Y"},
		{"patterns", "fn a() { match b { c::D { e: f::G, .. } | h::I(..) => {}, j::K..=l::M => {} } }",
			"item fn a -; path c::D; path f::G; path h::I; path j::K; path l::M"},
		{"literals", "fn a() { (\"b::c\", r#\"d::e\"\"#, br\"f\", b'\\'', 'g', '\\u{1F}', c\"h\", 1..2, 1.0e-3, 0xE+i::J, k.0.1) }",
			"item fn a -; path i::J"},
		{"lifetimes", "fn a<'b>(c: &'b d::E<'_>) { 'f: loop { break 'f; } let g = 'h'; }", "item fn a -; path d::E"},
		{"comments", "/* a::b /* c::d */ e::f */ // g::h\n/// i::j\n//! k::l\nfn m() {}", "item fn m -"},
		{"the first line", "#!/usr/bin/env run\nuse a::b;", "use a::b b"},
		{"an attribute there", "#![allow(a)]\nuse b::c;", "use b::c c"},
		{"macros", "macro_rules! a { ($b:expr) => { c::d($b); mod e; use f::g; } } h! { mod i; use j::k; } vec![l::m];", "item macro a -"},
		{"items in code", "fn a() { use b::c; mod d { use super::e; } struct F; { use g::h; i::j() } }",
			"item fn a -; item struct F -; mod d inline -; path i::j; use b::c c; use g::h h; use super::e e"},
		{"words that are names", "fn union(auto: u8) { default(); union { x: 1 }; macro_rules(2); raw::r#fn() } union A { b: u8 }",
			"item fn union -; item union A -; member b -; path raw::fn"},
		{"files", "const A: &str = include_str!(\"a.txt\"); include!(\"b/c.rs\"); #[doc = include_str!(\"../d.md\")] fn e() {} include_bytes!(concat!(env!(\"CARGO_MANIFEST_DIR\"), \"/f\"));",
			"file include \"b/c.rs\"; file include_str \"../d.md\"; file include_str \"a.txt\"; item const A -; item fn e -"},
		{"strings of attributes", "#[serde(with = \"a::b\", rename = \"c\")] #[x(y(z = \"d\"))] struct E;", "item struct E -; string serde \"a::b\"; string serde \"c\"; string x \"d\""},
		{"shifts and generics", "fn a() -> b::C<d::E<f::G>> { h >> i::J; k << l::M }", "item fn a -; path b::C; path d::E; path f::G; path i::J; path l::M"},
		{"foreign functions", "extern \"C\" { pub fn a(b: c::D); static E: f::G; } extern crate h as i;", "item crate i -; item fn a pub; item static E -; path c::D; path f::G"},
		{"enums", "pub enum A { B(c::D), E { f: g::H }, I = j::K as isize, #[l] M }", "item enum A pub; path c::D; path g::H; path j::K"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			lines, _, err := Said([]byte(row.src))
			require.NoError(t, err)
			var got []string
			for _, line := range lines {
				parts := strings.SplitN(line, "\t", 4)
				got = append(got, parts[0]+" "+parts[3])
			}
			want := strings.Split(strings.ReplaceAll(row.want, "; path Vec::new|", ""), "; ")
			assert.ElementsMatch(t, want, got)
		})
	}
}

// A text that can't be read is refused, with the line.
func TestUnreadable(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]string{
		"fn a() {\n":   "a bracket is not closed (line 1)",
		"fn a() {}\n}": "a bracket closes that nothing opened (line 2)",
		"\n\"a":        "a string does not end (line 2)",
		"/* /* */":     "a comment does not end (line 1)",
		"r##\"a\"#":    "a string does not end (line 1)",
		"(]":           "a bracket closes that nothing opened (line 1)",
		strings.Repeat("{", 1<<15) + strings.Repeat("}", 1<<15): "braces nest too deep",
	} {
		_, err := read([]byte(src))
		require.Error(t, err, src[:min(len(src), 40)])
		assert.Contains(t, err.Error(), want)
	}
}

// Comments that documents are made of link to items, and their examples are code.
func TestDocs(t *testing.T) {
	t.Parallel()
	src := "/// [`a::b`], [c](d::e), [f][g::h], `[i::j]`, [k](http://l::m) and [struct@n::O#p].\n/// ```\n/// use q::{r, s::t};\n/// # u::v();\n/// ```\n" +
		"/// ```text\n/// w::x\n/// ```\n/// [y]: z::Z\nfn a() {}\n/**\n * [b::c!]\n */\n#[doc = \"[d::e()]\"]\nmod m {\n    //! [super::f]\n}\n"
	f, err := read([]byte(src))
	require.NoError(t, err)
	var got []string
	for _, p := range f.paths {
		got = append(got, p.text)
		assert.Equal(t, p.text, src[p.at.Start:p.at.End])
	}
	for _, u := range f.uses {
		got = append(got, strings.Join(u.path, "::"))
	}
	assert.ElementsMatch(t, []string{"a::b", "d::e", "g::h", "n::O", "z::Z", "u::v", "b::c", "d::e", "super::f", "q::r", "q::s::t"}, got)
}

// FuzzRead reads any text without taking the program down, and gives places that lie in it.
func FuzzRead(f *testing.F) {
	for _, src := range []string{"pub(in a::b) mod c { use d::{self, e as f, g::*}; }", "fn a<'b>(c: &'b D) -> E { f!(g::h) }", "r#\"a\"# 'b' 'c b'\\n' 1..2.0",
		"/// ```\n/// use a::{b};\n/// ```\nfn c() {}", "#[serde(with = \"a\")] struct B { c: D, e: (f, g) }", "impl<T> A for B<T> where C: D { fn e() {} }",
		"macro_rules! a { () => { $crate::b } }", "enum A { B(C), D { e: F }, G = 1 }", "#![a]#!b\n", "use a::{b, c::{d}};"} {
		f.Add([]byte(src))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		got, err := read(src)
		if err != nil {
			return
		}
		in := func(start, end int) {
			if start < 0 || end > len(src) || start > end {
				t.Fatal("a place lies outside of the text", start, end)
			}
		}
		for _, p := range got.paths {
			in(p.at.Start, p.at.End)
		}
		for _, u := range got.uses {
			in(u.own.Start, u.own.End)
		}
		for _, s := range got.stmts {
			in(s.whole.Start, s.whole.End)
			in(s.from, s.tree)
			in(s.tree, s.end)
		}
		for _, m := range got.mods {
			in(m.whole.Start, m.from)
			in(m.at.Start, m.whole.End)
		}
		for _, a := range got.attrs {
			in(a.at.Start, a.at.End)
		}
		for _, x := range got.texts {
			in(x.at.Start, x.at.End)
		}
		in(got.first, len(src))
	})
}
