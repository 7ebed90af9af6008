package plan_test

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project/projecttest"
)

// build makes the plan of a tree whose convention is its crooked.yaml.
func build(t *testing.T, text string, changes ...func(*plan.Input)) (*plan.Plan, *graph.Graph) {
	t.Helper()
	made, g, err := try(t, text, changes...)
	require.NoError(t, err)
	return made, g
}

func try(t *testing.T, text string, changes ...func(*plan.Input)) (*plan.Plan, *graph.Graph, error) {
	t.Helper()
	tree := projecttest.Load(t, text)
	c, err := convention.Read("crooked.yaml", []byte(projecttest.Files(text)["crooked.yaml"]))
	require.NoError(t, err)
	c.InTree = "crooked.yaml"
	placed, g, err := engine.Place(c, tree)
	require.NoError(t, err)
	in := engine.PlanInput(c, g, placed)
	for _, change := range changes {
		change(&in)
	}
	made, outcome, err := plan.Build(in)
	if err != nil {
		return nil, nil, err
	}
	made.Seal(outcome)
	stored, changed := made.Apply(tree)
	require.Empty(t, changed)
	require.Equal(t, len(stored.Files), len(outcome.Files), "a stored plan gives what the plan itself gives")
	for i := range stored.Files {
		require.Equal(t, stored.Files[i], outcome.Files[i])
	}
	return made, g, nil
}

// after gives the tree that a plan leads to.
func after(t *testing.T, text string, made *plan.Plan, g *graph.Graph) map[string]string {
	t.Helper()
	out, changed := made.Apply(g.Tree)
	require.Empty(t, changed)
	require.Empty(t, out.Unproved(g))
	files := projecttest.Files(text)
	arriving := map[string]string{}
	for _, f := range out.Files {
		require.Equal(t, files[f.From], string(f.Before))
		delete(files, f.From)
		if f.To == "" {
			continue
		}
		arriving[f.To] = string(f.After())
	}
	for p, content := range arriving {
		require.NotContains(t, files, p)
		files[p] = content
	}
	return files
}

const shelves = `
-- crooked.yaml --
crooked: 1
leave:
  stay: [src/*]
  untouched: [src/frozen/**]
  generated: [src/gen/**]
shelves:
  panels: { at: "src/panels/<panel|kebab>/", takes: [{ name: <panel>Panel.tsx }] }
  parts: { at: src/parts/, from: [src/components/**] }
  tools: { at: src/tools/, from: [src/utils/**, src/helpers/**] }
`

// A file of a kind that nothing reads moves where no path in it would change; one of which a path would change stays,
// and holds back no other.
func TestUnreadKinds(t *testing.T) {
	t.Parallel()
	const text = "-- crooked.yaml --\ncrooked: 1\nshelves: { schema: { at: api/schema/, from: [src/*] } }\n" +
		"-- src/a.zig --\n@import(\"./b.zig\") @import(\"../lib/c.zig\")\n" +
		"-- src/b.zig --\n\x00\"../lib/c.zig\"\n-- lib/c.zig --\n-- src/CNAME --\nhilltop.example\n" +
		"-- src/_redirects --\n/old /new/page.html\n-- src/x.proto --\nimport \"api/schema/y.proto\";\n"
	made, g := build(t, text)
	require.Len(t, made.Blocked, 1)
	assert.Equal(t, "src/a.zig", made.Blocked[0].From)
	assert.Equal(t, "files like *.zig are not read by this version, and \"../lib/c.zig\" in line 1 leads to something "+
		"from its folder that it would not lead to from the new one; if it is no path, say data: [\"*.zig\"]",
		made.Blocked[0].Reason)
	files := after(t, text, made, g)
	for _, p := range []string{"api/schema/b.zig", "api/schema/CNAME", "api/schema/_redirects", "api/schema/x.proto"} {
		assert.Contains(t, files, p)
	}
}

// No convention brings a file to where git keeps its own, however that is spelled; nor is one written there, or where
// git ignores it.
func TestPlacesThatAreNobodysShelf(t *testing.T) {
	t.Parallel()
	made, _ := build(t, `
-- crooked.yaml --
crooked: 1
leave: { stay: [text] }
shelves:
  hooks: { at: src/.GIT/hooks/, from: [src/utils/**], must: [{ file: pre-commit, write: text }] }
  parts: { at: src/parts/, from: [src/pieces/**], must: [{ file: made.log, write: text }, { file: kept.log, write: text }] }
-- text --
-- .gitignore --
*.log
!kept.log
-- src/utils/a.ts --
-- src/pieces/b.ts --
-- src/.GIT/hooks/c.ts --
`)
	require.Len(t, made.Blocked, 1)
	assert.Equal(t, "src/.GIT/hooks/a.ts belongs to git, or to crooked itself", made.Blocked[0].Reason)
	assert.Equal(t, []string{
		"src/.GIT/hooks/pre-commit is not written: src/.GIT/hooks/pre-commit belongs to git, or to crooked itself",
		"src/parts/made.log is not written: git would ignore it at src/parts/made.log, by .gitignore: it would be " +
			"lost from sight",
	}, made.Warnings)
	require.Len(t, made.Writes, 1)
	assert.Equal(t, "src/parts/kept.log", made.Writes[0].Path)
}

// A file that is put where an import already looks would change what the import means.
func TestAMoveThatWouldShadowIsBlocked(t *testing.T) {
	t.Parallel()
	text := shelves + "-- src/main.ts --\nimport './tools/a'\n-- src/tools/a/index.ts --\n-- src/utils/a.ts --\n"
	made, g := build(t, text)
	files := after(t, text, made, g)
	if len(made.Blocked) == 0 { // or the import is spelled so that it still leads to the index
		assert.Equal(t, "import './tools/a/index'\n", files["src/main.ts"])
		return
	}
	assert.Contains(t, made.Blocked[0].Reason, "src/main.ts:1:9")
}

func TestStepsFollowDependency(t *testing.T) {
	t.Parallel()
	made, _ := build(t, shelves+`
-- src/components/Card.ts --
import '../utils/format'
-- src/components/SkyPanel.tsx --
import './Card'
-- src/utils/format.ts --
-- src/utils/MoonPanel.tsx --
import '../components/OtherPanel'
-- src/components/OtherPanel.tsx --
import '../utils/MoonPanel'
`)
	at := map[string]int{}
	for i, s := range made.Steps {
		for _, m := range s.Moves {
			at[m.From] = i
		}
	}
	require.Len(t, made.Steps, 4)
	assert.Less(t, at["src/utils/format.ts"], at["src/components/Card.ts"])
	assert.Less(t, at["src/components/Card.ts"], at["src/components/SkyPanel.tsx"])
	assert.Equal(t, at["src/utils/MoonPanel.tsx"], at["src/components/OtherPanel.tsx"],
		"a circle across shelves is one step")
}

func TestStoredPlans(t *testing.T) {
	t.Parallel()
	text := shelves + "-- src/main.ts --\nimport './utils/a'\n-- src/utils/a.ts --\n"
	made, _ := build(t, text)
	stored, err := made.Write()
	require.NoError(t, err)
	read, err := plan.Read(stored)
	require.NoError(t, err)
	assert.Equal(t, made, read)

	stale := func(tree string) []string {
		_, changed := read.Apply(projecttest.Load(t, tree))
		return changed
	}
	assert.Empty(t, stale(text))
	assert.Equal(t, []string{"src/main.ts has changed"},
		stale(strings.Replace(text, "import './utils/a'", "import './utils/a' ", 1)))
	assert.Equal(t, []string{"src/utils/a.ts is gone"},
		stale(strings.Replace(text, "src/utils/a.ts", "src/utils/b.ts", 1)))

	newcomer := text + "-- src/late.ts --\n\nimport './utils/a'\n"
	_, g := build(t, newcomer)
	out, changed := read.Apply(g.Tree)
	require.Empty(t, changed)
	assert.Equal(t, []string{"src/late.ts:2:9 refers to src/utils/a.ts, and the plan does not follow it there"},
		out.Unproved(g))

	for bad, want := range map[string]string{
		`{}`: "version 0", `[]`: "this is no plan", `{"plan": 1, "extra": 1}`: "unknown field",
		strings.ReplaceAll(string(stored), "src/tools/a.ts", "../../a.ts"):   "no path below the project's root",
		strings.ReplaceAll(string(stored), "src/utils/a.ts", "/etc/a.ts"):    "no path below the project's root",
		strings.ReplaceAll(string(stored), `"src/main.ts"`, `".git/config"`): "no path below the project's root",
	} {
		_, err := plan.Read([]byte(bad))
		assert.ErrorContains(t, err, want)
	}
}

// The proof must notice damage that the edits themselves would not show.
func TestTheProofHasTeeth(t *testing.T) {
	t.Parallel()
	text := shelves +
		"-- src/main.ts --\nimport './utils/a'\n-- src/utils/a.ts --\nimport './b'\n-- src/utils/b.ts --\n"
	made, g := build(t, text)
	out, changed := made.Apply(g.Tree)
	require.Empty(t, changed)
	require.Empty(t, out.Unproved(g))

	made.Edits = nil // a plan that forgets its rewrites
	out, changed = made.Apply(g.Tree)
	require.Empty(t, changed)
	assert.Equal(t, []string{"src/main.ts:1:9 refers to src/utils/a.ts, and the plan does not follow it there"},
		out.Unproved(g))
}

func TestPlanIsTheSameOnAnyNumberOfCores(t *testing.T) {
	t.Parallel()
	text := shelves + "-- src/main.ts --\nimport './utils/a'\nimport './components/B'\n-- src/utils/a.ts --\n" +
		"import '../components/B'\n-- src/components/B.ts --\nimport '../utils/a'\n"
	first, _ := build(t, text)
	want, err := first.Write()
	require.NoError(t, err)
	for range 20 {
		made, _ := build(t, text)
		got, err := made.Write()
		require.NoError(t, err)
		require.Equal(t, string(want), string(got))
	}
}

// Companions move with their owner, and are blocked with it.
func TestCompanionsMoveTogether(t *testing.T) {
	t.Parallel()
	const head = `
-- crooked.yaml --
crooked: 1
shelves:
  panels: { at: "src/panels/<panel|kebab>/", takes: [{ name: <panel>Panel.tsx }], beside: { may: [<name>.test.tsx, <name>.css] } }
  rest: src/rest/
`
	text := head + "-- src/SkyPanel.tsx --\nimport './SkyPanel.css'\n-- src/SkyPanel.css --\n@import './base.css';\n" +
		"-- src/SkyPanel.test.tsx --\nimport './SkyPanel'\n-- src/base.css --\n" +
		"-- src/MoonPanel.tsx --\n-- src/MoonPanel.css --\n-- src/panels/moon/MoonPanel.css --\n"
	made, g := build(t, text)
	files := after(t, text, made, g)
	assert.Equal(t, "import './SkyPanel.css'\n", files["src/panels/sky/SkyPanel.tsx"])
	assert.Equal(t, "@import '../../base.css';\n", files["src/panels/sky/SkyPanel.css"])
	assert.Equal(t, "import './SkyPanel'\n", files["src/panels/sky/SkyPanel.test.tsx"])
	reasons := map[string]string{}
	for _, b := range made.Blocked {
		reasons[b.From] = b.Reason
	}
	assert.Equal(t, map[string]string{"src/MoonPanel.css": "a file stands there already and stays",
		"src/MoonPanel.tsx": "src/MoonPanel.css goes with it and is blocked"}, reasons)
}

// What a convention discards is named with its reason, and what needs it keeps it.
func TestDiscard(t *testing.T) {
	t.Parallel()
	archive, err := os.ReadFile("testdata/cases/discard/what-nobody-needs-goes.txtar")
	require.NoError(t, err)
	text, _, _ := strings.Cut(string(archive), "-- then/")
	text = text[strings.Index(text, "-- "):]
	made, g := build(t, text)
	var goes []string
	for _, r := range made.Removes {
		assert.Equal(t, "nobody uses the old calendar", r.Because)
		goes = append(goes, r.Path)
	}
	assert.Equal(t, []string{"packages/gone/index.ts", "packages/gone/package.json", "src/old/a.ts", "src/old/b.ts"}, goes)
	files := after(t, text, made, g)
	for _, gone := range goes {
		assert.NotContains(t, files, gone)
	}
}
