package plan_test

import (
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

func TestRewrites(t *testing.T) {
	cases := []struct {
		name, tree string
		want       map[string]string // content of files afterwards
	}{
		{"importer stays, target moves",
			"-- src/main.ts --\nimport './components/Card'\n-- src/components/Card.ts --\n",
			map[string]string{"src/main.ts": "import './parts/Card'\n"}},
		{"importer moves, target stays", "-- src/main.ts --\n-- src/components/Card.ts --\nimport '../main'\n",
			map[string]string{"src/parts/Card.ts": "import '../main'\n"}},
		{"a component without its ending", "-- src/main.js --\nimport './components/Card'\n" +
			"import './components/Sky.vue'\nimport './components/row'\n-- src/components/Card.vue --\n" +
			"-- src/components/Sky.vue --\n-- src/components/row/index.vue --\n",
			map[string]string{"src/main.js": "import './parts/Card'\nimport './parts/Sky.vue'\nimport './parts/row'\n"}},
		{"both move together", "-- src/components/a/A.ts --\nimport './B'\n-- src/components/a/B.ts --\n",
			map[string]string{"src/parts/a/A.ts": "import './B'\n"}},
		{"both move apart", "-- src/components/A.ts --\nimport '../utils/b.js'\n-- src/utils/b.ts --\n",
			map[string]string{"src/parts/A.ts": "import '../tools/b.js'\n"}},
		{"a circle", "-- src/components/A.ts --\nimport '../utils/b'\n-- src/utils/b.ts --\nimport '../components/A'\n",
			map[string]string{"src/parts/A.ts": "import '../tools/b'\n", "src/tools/b.ts": "import '../parts/A'\n"}},
		{"an index that others enter by its folder", "-- src/main.ts --\nimport x from './components'\n" +
			"-- src/components/index.ts --\nexport * from './A'\n-- src/components/A.ts --\n",
			map[string]string{"src/main.ts": "import x from './parts'\n",
				"src/parts/index.ts": "export * from './A'\n"}},
		{"all else of the line stays", "-- src/main.ts --\n\timport  {a}/*x*/from \"./components/A\"  ; // " +
			"'./components/A'\r\nrequire(`./components/A`)\n-- src/components/A.ts --\n",
			map[string]string{"src/main.ts": "\timport  {a}/*x*/from \"./parts/A\"  ; // './components/A'\r\n" +
				"require(`./parts/A`)\n"}},
		{"names with blanks, quotes and letters",
			"-- src/main.ts --\nimport './components/it\\'s ünsere'\n-- src/components/it's ünsere.ts --\n",
			map[string]string{"src/main.ts": "import './parts/it\\'s ünsere'\n"}},
		{"what is missing goes with the folder that it would lie in",
			"-- src/components/A.ts --\nimport './gone'\nimport './ignored/x?raw'\nimport('../../../beyond')\n",
			map[string]string{"src/parts/A.ts": "import './gone'\nimport './ignored/x?raw'\nimport('../../../beyond')\n"}},
		{"a settings file that names it", "-- package.json --\n" +
			"{ \"main\": \"src/components/A.ts\", \"types\":\"./src/components/A.ts\" }\n-- src/components/A.ts --\n",
			map[string]string{"package.json": "{ \"main\": \"src/parts/A.ts\", \"types\":\"./src/parts/A.ts\" }\n"}},
		{"an exact alias follows its file", "-- tsconfig.json --\n" +
			"{\"compilerOptions\": {\"paths\": {\"card\": [\"./src/components/A.ts\"]}}} // x\n-- src/main.ts --\n" +
			"import 'card'\n-- src/components/A.ts --\n",
			map[string]string{"tsconfig.json": "{\"compilerOptions\": {\"paths\": {\"card\": " +
				"[\"./src/parts/A.ts\"]}}} // x\n", "src/main.ts": "import 'card'\n"}},
		{"an alias follows its folder", "-- tsconfig.json --\n" +
			"{\"compilerOptions\": {\"paths\": {\"c/*\": [\"./src/components/*\"]}}}\n-- src/main.ts --\n" +
			"import 'c/A'\n-- src/components/A.ts --\n",
			map[string]string{"src/main.ts": "import 'c/A'\n",
				"tsconfig.json": "{\"compilerOptions\": {\"paths\": {\"c/*\": [\"./src/parts/*\"]}}}\n"}},
		{"style sheets", "-- src/components/a.css --\n@import 'b.css'; @import url(../base.css);\n" +
			"x { background: url( \"./i.png\" ), url(/abs.png), url(data:x), url(#y) }\n-- src/components/b.css --\n" +
			"-- src/base.css --\n-- src/components/i.png --\n",
			map[string]string{"src/parts/a.css": "@import 'b.css'; @import url(../base.css);\n" +
				"x { background: url( \"./i.png\" ), url(/abs.png), url(data:x), url(#y) }\n"}},
		{"a style sheet that goes deeper", "-- src/utils/SkyPanel.tsx --\nimport './x.css'\n-- src/utils/x.css --\n" +
			"@import \"../base.css\";\n-- src/base.css --\n",
			map[string]string{"src/panels/sky/SkyPanel.tsx": "import '../../tools/x.css'\n",
				"src/tools/x.css": "@import \"../base.css\";\n"}},
		{"a file takes the place of another that moves",
			"-- src/components/index.ts --\nexport const a = 1\n-- src/utils/a.ts --\nimport '../components'\n",
			map[string]string{"src/parts/index.ts": "export const a = 1\n", "src/tools/a.ts": "import '../parts'\n"}},
		{"types in comments and a reference path",
			"-- src/components/A.ts --\n/// <reference path=\"../globals.d.ts\" />\n-- src/globals.d.ts --\n",
			map[string]string{"src/parts/A.ts": "/// <reference path=\"../globals.d.ts\" />\n"}},
		{"carried folders change the depth of nothing",
			"-- src/utils/deep/er/a.ts --\nimport '../../b'\n-- src/utils/b.ts --\n",
			map[string]string{"src/tools/deep/er/a.ts": "import '../../b'\n"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			text := shelves + c.tree
			made, g := build(t, text)
			assert.Empty(t, made.Blocked)
			files := after(t, text, made, g)
			for p, want := range c.want {
				assert.Equal(t, want, files[p], p)
			}
			var again strings.Builder
			for _, p := range projecttest.Paths(files) {
				again.WriteString("-- " + p + " --\n" + files[p])
			}
			second, _ := build(t, again.String())
			assert.True(t, second.Empty(), "after a straighten nothing is left to do")
		})
	}
}

func TestBlocked(t *testing.T) {
	cases := []struct {
		name, tree string
		want       string // from: reason; one a line
	}{
		{"two for one place", "-- src/utils/a.ts --\n-- src/helpers/a.ts --\n",
			"src/helpers/a.ts: src/utils/a.ts would go to the same place\n" +
				"src/utils/a.ts: src/helpers/a.ts would go to the same place"},
		{"two that differ in case", "-- src/utils/a.ts --\n-- src/helpers/A.ts --\n",
			"src/helpers/A.ts: src/utils/a.ts would go to src/tools/a.ts, which differs in case or accents alone\n" +
				"src/utils/a.ts: src/helpers/A.ts would go to src/tools/A.ts, which differs in case or accents alone"},
		{"two that differ in the form of an accent", "-- src/utils/ä.ts --\n-- src/helpers/a\u0308.ts --\n",
			"src/helpers/a\u0308.ts: src/utils/ä.ts would go to src/tools/ä.ts, which differs in case or accents " +
				"alone\nsrc/utils/ä.ts: src/helpers/a\u0308.ts would go to src/tools/a\u0308.ts, which differs in " +
				"case or accents alone"},
		{"the place is taken", "-- src/utils/a.ts --\n-- src/tools/a.ts --\n",
			"src/utils/a.ts: a file stands there already and stays"},
		{"the place is taken by the same content", "-- src/utils/a.ts --\nx\n-- src/tools/a.ts --\nx\n",
			"src/utils/a.ts: a file stands there already and stays"},
		{"the place is taken, by case", "-- src/utils/a.ts --\n-- src/tools/A.ts --\n",
			"src/utils/a.ts: src/tools/A.ts stands there already and differs in case or accents alone"},
		{"a file where the folder would be", "-- src/utils/a/b.ts --\n-- src/tools/a --\n",
			"src/utils/a/b.ts: the file src/tools/a stands where its folder would be"},
		{"a folder where the file would be", "-- src/utils/a.ts --\n-- src/tools/a.ts/b.ts --\n",
			"src/utils/a.ts: a folder stands at src/tools/a.ts"},
		{"an untouched file would need an edit", "-- src/utils/a.ts --\n-- src/frozen/b.ts --\nimport '../utils/a'\n",
			"src/utils/a.ts: src/frozen/b.ts would have to be edited at line 1 and is left alone"},
		{"a generated file would need an edit", "-- src/utils/a.ts --\n-- src/gen/b.ts --\n\nimport '../utils/a'\n",
			"src/utils/a.ts: src/gen/b.ts would have to be edited at line 2 and is left alone"},
		{"an unread kind of file without one, or one that moves with what it names",
			"-- src/utils/a.zig --\n@import(\"b.zig\")\n-- src/utils/b.zig --\n\x00../main.ts\n", ""},
		{"a script and its declarations part", "-- src/utils/SkyPanel.tsx --\n-- src/main.ts --\nimport './utils/a'\n" +
			"-- src/utils/a.d.ts --\n-- src/utils/a.js --\n-- src/tools/a.js --\n",
			"src/utils/a.d.ts: src/utils/a.d.ts and src/utils/a.js stand for one thing and would part\n" +
				"src/utils/a.js: a file stands there already and stays"},
		{"where git would not see it", "-- .gitignore --\n# made\nsrc/tools/made/\n*.log\n!src/tools/kept.log\n" +
			"-- src/utils/made/a.ts --\n-- src/utils/b.ts --\nimport './made/a'\n-- src/tools/.gitignore --\n/c.*\n" +
			"-- src/utils/c.ts --\n",
			"src/utils/c.ts: git would ignore it at src/tools/c.ts, by src/tools/.gitignore: it would be lost from " +
				"sight\nsrc/utils/made/a.ts: git would ignore it at src/tools/made/a.ts, by .gitignore: it would be " +
				"lost from sight"},
		{"a broken settings file", "-- src/utils/package.json --\n{\n",
			"src/utils/package.json: it can't be read: not valid JSON: line 2, column 1: parsing value: unexpected EOF"},
		{"a package's exports follow the file, so nothing is blocked",
			"-- package.json --\n{\"workspaces\": [\"p/*\"]}\n-- src/main.ts --\nimport 'core/a'\n" +
				"-- p/core/package.json --\n{\"name\": \"core\", \"exports\": {\"./a\": \"./src/utils/aPanel.tsx\"}}\n" +
				"-- p/core/src/utils/aPanel.tsx --\n", ""},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			made, g := build(t, shelves+c.tree)
			var got []string
			for _, b := range made.Blocked {
				got = append(got, b.From+": "+b.Reason)
			}
			assert.Equal(t, c.want, strings.Join(got, "\n"))
			after(t, shelves+c.tree, made, g) // what is left is whole
		})
	}
}

// A file of a kind that nothing reads moves where no path in it would change; one of which a path would change stays,
// and holds back no other.
func TestUnreadKinds(t *testing.T) {
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
