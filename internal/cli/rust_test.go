package cli_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

const roomsOfRust = `
-- Cargo.toml --
[package]
name = "dome"
edition = "2021"
[dependencies]
serde = "1"
-- src/lib.rs --
pub mod chart;
pub mod clock;
pub mod macros;
pub mod rows;
pub mod ticking;
pub mod views;
-- src/views/mod.rs --
pub mod night_page;
-- src/views/night_page.rs --
use crate::chart::Chart;
#[derive(Debug)]
pub struct Night { pub chart: Chart }
pub fn now() -> crate::clock::Clock { crate::clock::Clock }
-- src/chart.rs --
#[derive(Debug)]
pub struct Chart;
-- src/clock.rs --
use crate::ticking::Ticking;
#[entity]
pub struct Clock;
impl Ticking for Clock {}
-- src/ticking.rs --
pub trait Ticking: Send {}
-- src/rows.rs --
use serde::Serialize;
pub fn rows() {}
-- src/macros.rs --
#[macro_export]
macro_rules! shelf { () => {} }
`

// What a convention asks of files is known of Rust: what they declare, implement, bear and use, and who needs them.
func TestWhatRustDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfRust+`-- crooked.yaml --
crooked: 1
pools:
  stuff: [src/*.rs]
leave: { stay: [Cargo.toml, src/lib.rs, src/views/mod.rs] }
shelves:
  pages: { at: src/views/<page>_page.rs, takes: [{ name: "<page>_page.rs" }] }
  entities: { at: src/entities/, takes: [{ marked: entity, pool: stuff }] }
  traits: { at: src/traits/, takes: [{ declares: type, pool: stuff }] }
  writers: { at: src/writers/, takes: [{ imports: serde, pool: stuff }] }
  charts: { at: src/charts/<page>/, takes: [{ pool: stuff, needed_by: one of pages }] }
  rest: { at: src/rest/, takes: [{ declares: function, pool: stuff }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{"clock": "entities/clock", "ticking": "traits/ticking",
		"rows": "writers/rows", "chart": "charts/night/chart", "macros": "rest/macros"} {
		assert.Regexp(t, `src/`+from+`\.rs +-> src/`+to+`\.rs`, check.out)
	}
	straightens(t, dir, map[string]string{
		"src/lib.rs":            "pub mod charts;\npub mod entities;\npub mod rest;\npub mod traits;\npub mod views;\npub mod writers;\n",
		"src/charts/mod.rs":     "pub mod night;\n",
		"src/entities/clock.rs": "use crate::traits::ticking::Ticking;\n#[entity]\npub struct Clock;\nimpl Ticking for Clock {}\n",
		"src/views/night_page.rs": "use crate::charts::night::chart::Chart;\n#[derive(Debug)]\npub struct Night { pub chart: Chart }\n" +
			"pub fn now() -> crate::entities::clock::Clock { crate::entities::clock::Clock }\n",
	})
	assert.Equal(t, 0, run(t, dir, "undo").code)
}

// Whom a file of Rust may use, and through which door: a path in code is a use of its file.
func TestWhomRustUses(t *testing.T) {
	t.Parallel()
	finds(t, `
-- Cargo.toml --
[package]
name = "dome"
edition = "2021"
-- src/lib.rs --
pub mod pages;
pub mod sky;
-- src/pages.rs --
use crate::sky::wind::Wind;
pub fn page() -> Wind { crate::sky::rain::fall(); Wind }
-- src/sky/mod.rs --
pub mod rain;
pub mod wind;
-- src/sky/rain.rs --
pub fn fall() {}
-- src/sky/wind.rs --
pub struct Wind;
-- crooked.yaml --
crooked: 1
leave: { stay: [Cargo.toml, src/lib.rs] }
shelves:
  pages: { at: src/pages.rs, uses: [] }
  sky: { at: src/sky/, door: mod.rs }
`,
		"src/pages.rs:1:5: overreach: pages may not use sky, and it uses src/sky/wind.rs",
		"src/pages.rs:2:25: overreach: pages may not use sky, and it uses src/sky/rain.rs")
}

// What is wrong in Rust is said with its place, and holds back what it must.
func TestBadRust(t *testing.T) {
	t.Parallel()
	const moving = "-- Cargo.toml --\n[package]\nname = \"dome\"\nedition = \"2021\"\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\n" +
		"shelves: { new: { at: src/fresh/, from: [src/old/**] } }\n"
	rows := []badInput{
		{"a file that does not parse", "-- src/lib.rs --\nmod old;\n-- src/old/a.rs --\nfn a() {\n", "a bracket is not closed (line 1)"},
		{"a string without an end", "-- src/lib.rs --\nmod old;\n-- src/old/a.rs --\n\nconst A: &str = \"b;\n", "a string does not end (line 2)"},
		{"two files for one module", "-- src/lib.rs --\npub mod old;\n-- src/old/mod.rs --\nmod a;\n-- src/old/a.rs --\n-- src/old/a/mod.rs --\n",
			"src/old/a.rs and src/old/a/mod.rs are both the file of one module"},
		{"a file that names itself as a module, and another", "-- src/lib.rs --\n#[path = \"old/b.rs\"] mod a;\n-- src/old/b.rs --\nmod b;\n-- src/old/b/mod.rs --\n",
			"src/old/b.rs and src/old/b/mod.rs are both the file of one module"},
		{"a module that no parent names", "-- src/lib.rs --\n-- src/old/a.rs --\nfn a() {}\n", "no line says that it is a module of a crate"},
		{"a macro that makes modules", "-- src/lib.rs --\nmod old;\nmacro_rules! m { ($a:ident) => { mod $a; } }\nm!(x);\n-- src/old/mod.rs --\nm!(a);\n-- src/old/a.rs --\n",
			"no line says that it is a module of a crate"},
		{"a line in the call of a macro", "-- src/lib.rs --\npub mod old;\n-- src/old/mod.rs --\non! { mod a; }\n-- src/old/a.rs --\n", "2 moves"},
		{"a private function", "-- src/lib.rs --\npub mod top;\n-- src/top.rs --\n#[path = \"x.rs\"] mod y;\n-- src/x.rs --\n-- src/old/a.rs --\n", "no line says"},
	}
	for i := range rows {
		rows[i].files += moving
	}
	badInputs(t, rows, "plan")
}
