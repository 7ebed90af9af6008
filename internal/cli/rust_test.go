package cli_test

import (
	"strings"
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

// Parts of a package that can't be packages are said with their place before anything moves.
func TestBadPackages(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- Cargo.toml --\n[package]\nname = \"nights\"\nversion = \"0.1.0\"\nedition = \"2021\"\n"
		two      = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { src: { at: src/, from: [src/one/**, src/one.rs] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { src: { at: src/, from: [src/two/**, src/two.rs] } } }\n" +
			"  rest: { at: src/ }\n"
		roots = "-- src/main.rs --\nmod one;\nmod two;\nfn main() {}\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", manifest + roots + "-- src/one.rs --\npub fn a() { crate::two::b() }\n-- src/two.rs --\npub fn b() {}\npub fn c() { crate::one::a() }\n",
			"packages may not need one another in a circle: parts/one needs parts/two (src/one.rs:1: crate::two::b), parts/two needs parts/one (src/two.rs:2: crate::one::a)"},
		{"two of one name", "two", manifest + roots + "-- src/one.rs --\n-- src/two.rs --\n", "has the name two already"},
		{"no name", "'a b'", manifest + roots + "-- src/one.rs --\n-- src/two.rs --\n", `"a b" is no name of a package`},
		{"a function that only its crate sees", "true", manifest + roots + "-- src/one.rs --\npub(crate) fn a() {}\n-- src/two.rs --\npub fn b() { crate::one::a() }\n",
			"src/two.rs uses it, from another package, which sees only what is pub (src/main.rs:1); widen: needed lets it"},
		{"an implementation that leaves its type", "true", manifest + "-- src/main.rs --\nmod one;\nmod two;\nfn main() {}\n-- src/one.rs --\npub struct A;\n" +
			"-- src/two.rs --\nuse crate::one::A;\nimpl std::fmt::Debug for A {\n    fn fmt(&self, _: &mut std::fmt::Formatter) -> std::fmt::Result { Ok(()) }\n}\n",
			"src/two.rs:2: neither std::fmt::Debug nor a type that it is for would be of this package"},
		{"what a type has by itself", "true", manifest + roots + "-- src/one.rs --\npub struct A;\n-- src/two.rs --\nimpl crate::one::A { pub fn b() {} }\n",
			"src/two.rs:1: what crate::one::A has by itself must be in its package (src/one.rs)"},
		{"a macro that is known by its place", "true", manifest + "-- src/main.rs --\n#[macro_use]\nmod one;\nmod two;\nfn main() {}\n-- src/one.rs --\n" +
			"macro_rules! m { () => {}; }\n-- src/two.rs --\nm!();\n", "the macro m is known by its place, which ends with its package"},
		{"the edition 2015", "true", strings.Replace(manifest, "2021", "2015", 1) + roots + "-- src/one.rs --\n-- src/two.rs --\n", "is of the edition 2015"},
		{"a manifest that does not parse", "true", "-- Cargo.toml --\n[package\n" + roots + "-- src/one.rs --\n-- src/two.rs --\n", "no manifest says what its files are of"},
		{"no language", "true", "-- src/one.css --\n-- src/one/a.css --\n", "parts/one: no language of its files makes packages yet"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1), row.says})
	}
	const three = "-- src/main.rs --\nmod one;\nfn main() {}\n-- src/one.rs --\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\", \"parts/**\"] }\n"
	rows = append(rows,
		badInput{"a pattern that takes a folder without a manifest", manifest + "-- parts/old/notes.txt --\nold\n" + three + "workspace: { members: [parts/*] }\n" +
			"shelves: { one: { at: parts/one/, package: true, inside: { src: { at: src/, from: [src/one.rs] } } } }\n",
			"members: parts/* takes parts/old too, which would have no Cargo.toml"},
		badInput{"a template that is not there", manifest + three +
			"shelves: { one: { at: parts/one/, package: { template: none.toml }, inside: { src: { at: src/, from: [src/one.rs] } } } }\n",
			"there is no file none.toml to begin a manifest with"},
		badInput{"a module under a condition", manifest + strings.Replace(three, "mod one", "#[cfg(unix)] mod one", 1) +
			"shelves: { one: { at: parts/one/, package: true, inside: { src: { at: src/lib.rs, from: [src/one.rs] } } } }\n",
			"src/main.rs:1: the module is there under #[cfg(unix)], and a library is always there"})
	badInputs(t, rows, "plan")
}
