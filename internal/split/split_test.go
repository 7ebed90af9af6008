package split_test

import (
	"bytes"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/split"
)

const manifest = `
-- Cargo.toml --
[package]
name = "nights"
version = "0.1.0"
edition = "2021"
-- src/main.rs --
mod a;
mod b;
mod c;
fn main() {}
`

// parts makes the packages a, b and c of a project with such modules; the moves are from the one file to the other.
func parts(t *testing.T, tree string, moves map[string]string) (*project.Project, *split.Result) {
	t.Helper()
	const law = `crooked: 1
shelves:
  parts: { at: parts/<part>/, package: { name: night-<part>, template: parts.txt } }
`
	c, err := convention.Read("crooked.yaml", []byte(law))
	require.NoError(t, err)
	p := projecttest.Load(t, manifest+tree)
	g := graph.Build(p, all.Languages(), lang.NewDeclared(c, false, nil))
	in := split.Input{Convention: c, Graph: g, Moves: map[project.FileID]string{}, Filled: func(text []byte, values map[string]string) []byte {
		return bytes.ReplaceAll(text, []byte("<package>"), []byte(values["package"]))
	}}
	for from, to := range moves {
		id, there := p.Lookup(from)
		require.True(t, there, from)
		in.Moves[id] = to
	}
	return p, split.Work(in)
}

var apart = map[string]string{"src/a.rs": "parts/a/src/a.rs", "src/b.rs": "parts/b/src/b.rs", "src/c.rs": "parts/c/src/c.rs"}

const template = "-- parts.txt --\n[package]\nname = \"<package>\"\n"

func TestPackagesOfShelves(t *testing.T) {
	t.Parallel()
	p, made := parts(t, template+"-- src/a.rs --\npub fn one() {}\n-- src/b.rs --\nuse crate::a::one;\npub fn two() { one() }\n-- src/c.rs --\n", apart)
	assert.Empty(t, made.Refused)
	assert.Equal(t, []string{"parts/a/Cargo.toml", "parts/b/Cargo.toml", "parts/c/Cargo.toml"}, slices.Sorted(maps.Keys(made.Writes)))
	assert.Equal(t, "[package]\nname = \"night-b\"\n\n[dependencies]\nnight-a = { path = \"../a\" }\n", string(made.Writes["parts/b/Cargo.toml"]))
	id, _ := p.Lookup("Cargo.toml")
	require.Len(t, made.Edits[id], 1)
	assert.Contains(t, made.Edits[id][0].New, "members = [\n    \"parts/a\",\n    \"parts/b\",\n    \"parts/c\",\n]")
}

// Of packages that need one another in a circle the shortest is shown, and what only needs them is not refused.
func TestCirclesOfPackages(t *testing.T) {
	t.Parallel()
	p, made := parts(t, template+"-- src/a.rs --\npub fn a() { crate::b::b() }\n-- src/b.rs --\npub fn b() { crate::a::a() }\n-- src/c.rs --\npub fn c() { crate::a::a() }\n", apart)
	var refused []string
	for _, r := range made.Refused {
		refused = append(refused, p.Path(r.File))
		assert.Equal(t, "packages may not need one another in a circle: parts/a needs parts/b (src/a.rs:1: crate::b::b), "+
			"parts/b needs parts/a (src/b.rs:1: crate::a::a); what both need may be a package of its own", r.Reason)
	}
	assert.Equal(t, []string{"src/a.rs", "src/b.rs"}, refused)
}

func TestNothingIsAskedFor(t *testing.T) {
	t.Parallel()
	_, made := parts(t, "-- src/a.rs --\n-- src/b.rs --\n-- src/c.rs --\n", nil)
	assert.Empty(t, made.Writes)
	assert.Empty(t, made.Refused)
	_, made = parts(t, "-- src/a.rs --\n-- src/b.rs --\n-- src/c.rs --\n", apart)
	require.Len(t, made.Refused, 3)
	assert.Equal(t, "line 3 of the convention: there is no file parts.txt to begin a manifest with", made.Refused[0].Reason)
}

func TestPackageOfAPath(t *testing.T) {
	t.Parallel()
	c, err := convention.Read("crooked.yaml", []byte("crooked: 1\nshelves:\n  parts: { at: parts/<part>/, package: true, inside: { src: { at: src/ } } }\n"))
	require.NoError(t, err)
	for file, dir := range map[string]string{"parts/sky/src/a.rs": "parts/sky", "parts/sky/Cargo.toml": "parts/sky", "src/a.rs": ""} {
		_, got := placement.PackageOf(c, file)
		assert.Equal(t, dir, got, file)
	}
}
