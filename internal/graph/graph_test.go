package graph_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/source"
)

func TestComponents(t *testing.T) {
	t.Parallel()
	edges := map[int][]int{0: {1}, 1: {2}, 2: {1, 3}, 3: nil, 4: {4, 0}}
	got := graph.Components(5, func(n int) []int { return edges[n] })
	assert.Equal(t, [][]int{{3}, {1, 2}, {0}, {4}}, got)
	long := graph.Components(200_000, func(n int) []int {
		if n+1 < 200_000 {
			return []int{n + 1}
		}
		return nil
	})
	assert.Len(t, long, 200_000)
}

func TestReferencesAndWarnings(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- a.vue --\n<script>import './b'</script><style>@import "+
		"'./c.css';</style><template><img src=\"./d.svg\"></template>\n-- b.ts --\nimport './b'\n-- c.css --\n"+
		"-- d.svg --\n-- broken.json --\n{\n")
	g := graph.Build(tree, all.Languages(), nil)
	byPath := map[string]string{}
	for id, refs := range g.References() {
		var from []string
		for _, r := range refs {
			from = append(from, tree.Path(r.From)+":"+g.Position(r).String())
		}
		byPath[tree.Files[id].Path] = strings.Join(from, " ")
	}
	assert.Equal(t, map[string]string{"a.vue": "", "b.ts": "a.vue:1:17 b.ts:1:9", "c.css": "a.vue:1:46",
		"d.svg": "a.vue:1:83", "broken.json": ""}, byPath)
	require.Len(t, g.Warnings, 1)
	assert.Contains(t, g.Warnings[0], "broken.json: not valid JSON")
}

// What a file declares of the kinds that are asked for is known at once, and all else when somebody asks for it: in a
// tree and in one that is laid over it.
func TestDeclarations(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- w/Card.tsx --\nimport { row } from './row'\nexport const Card = () => <p/>\n"+
		"export function far() {}\n-- w/row.ts --\nexport const row = 1\n-- w/all.ts --\nexport * from './Card'\n"+
		"-- w/a.py --\nclass A: pass\n")
	c, err := convention.Read("crooked.yaml",
		[]byte("crooked: 1\nshelves: { a: { at: a/, from: [w/**], takes: [{ declares: component }] } }\n"))
	require.NoError(t, err)
	declared := lang.NewDeclared(c, false, nil)
	declared.Certain = true
	g := graph.Build(tree, all.Languages(), declared)
	names := func(g *graph.Graph, file string, kinds lang.DeclarationKinds) (out []string) {
		id, ok := g.Tree.Lookup(file)
		require.True(t, ok, file)
		for _, d := range g.Declarations(id, kinds) {
			if d.Kinds&kinds != 0 {
				out = append(out, d.Name)
			}
		}
		return out
	}
	check := func(g *graph.Graph) {
		assert.Equal(t, []string{"Card"}, names(g, "w/Card.tsx", lang.IsComponent))
		assert.Equal(t, []string{"Card", "far"}, names(g, "w/Card.tsx", lang.IsFunction))
		assert.Empty(t, names(g, "w/row.ts", lang.IsComponent))
		assert.Equal(t, []string{"row"}, names(g, "w/row.ts", lang.AnyKind))
		assert.Empty(t, names(g, "w/a.py", lang.IsComponent))
		assert.Equal(t, []string{"A"}, names(g, "w/a.py", lang.IsClass))
		for id, f := range g.Tree.Files {
			assert.Equal(t, f.Path == "w/all.ts", g.HandsOn(project.FileID(id)), f.Path)
		}
	}
	check(g)

	row, _ := tree.Lookup("w/row.ts")
	over, newID, err := tree.Overlay(nil, map[project.FileID][]source.Edit{row: {{New: "// new\n"}}}, nil)
	require.NoError(t, err)
	next := g.Rebuild(over, newID, map[project.FileID]bool{newID[row]: true}, declared)
	check(next)
	assert.Equal(t, []lang.Declaration{{Name: "row", Kinds: lang.IsConstant, Exported: true, Offset: 20}},
		next.Declarations(newID[row], lang.AnyKind))
}

// Each kind of mention has rules that answer for it, and only one.
func TestEveryKindHasRules(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, "-- a.ts --\n")
	rules := map[*lang.Kind]int{}
	for _, r := range all.Languages().Tree(tree, nil).Rules() {
		for _, k := range r.Kinds {
			rules[k]++
			assert.NotEmpty(t, k.Name)
			assert.Equal(t, 1, rules[k], k.Name)
		}
	}
	declared := 0
	files, err := filepath.Glob("../lang/*/kinds.go")
	require.NoError(t, err)
	deeper, err := filepath.Glob("../lang/*/*/kinds.go")
	require.NoError(t, err)
	files = append(files, deeper...)
	for _, file := range files {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		declared += strings.Count(string(text), "= &lang.Kind{")
	}
	assert.Len(t, rules, declared)
}

// BenchmarkBuild scans the demo's files and resolves every mention in them.
func BenchmarkBuild(b *testing.B) {
	var text strings.Builder
	size := int64(0)
	require.NoError(b, fs.WalkDir(demo.Hilltop(), ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		src, err := fs.ReadFile(demo.Hilltop(), p)
		text.WriteString("-- " + p + " --\n" + string(src))
		size += int64(len(src))
		return err
	}))
	tree := projecttest.Load(b, text.String())
	b.SetBytes(size)
	for b.Loop() {
		graph.Build(tree, all.Languages(), nil)
	}
}
