package plan_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

// server moves views, routes and assets as servers' projects do.
const server = `
-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
shelves:
  views: { at: server/views/, from: [views/**] }
  routes: { at: server/routes/, from: [routes/**] }
  lib: { at: server/lib/, from: [lib/**] }
  pictures: { at: src/assets/pictures/, from: [src/img/**] }
  styles: { at: src/assets/styles/, from: [src/css/**] }
  pages: { at: src/pages/<page|kebab>/, takes: [{ name: <page>Page.vue }] }
  parts: { at: src/parts/, from: [src/components/**] }
`

// archive writes files as one text.
func archive(files map[string]string) string {
	var out strings.Builder
	for _, p := range projecttest.Paths(files) {
		out.WriteString("-- " + p + " --\n" + files[p])
	}
	return out.String()
}

func TestBlockedBeyondModules(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name, tree string
		want       []string // from: a part of the reason
	}{
		{"a pattern that would be torn", "-- src/main.js --\nimport.meta.glob('./components/*.vue')\n" +
			"-- src/components/A.vue --\n-- src/components/BPage.vue --\n",
			[]string{"src/components/A.vue: src/main.js:1:19 leads to a set of files by \"./components/*.vue\"",
				"src/components/BPage.vue: src/main.js:1:19"}},
		{"a listed folder that would be torn", "-- main.js --\nreaddirSync(__dirname + '/src/components')\n" +
			"-- src/components/A.vue --\n-- src/components/BPage.vue --\n",
			[]string{"src/components/A.vue: main.js:1:26", "src/components/BPage.vue: main.js:1:26"}},
		{"a listed folder that gains a file",
			"-- main.js --\nreaddirSync(__dirname + '/server/lib')\n-- server/lib/a.js --\n-- lib/b.js --\n",
			[]string{"lib/b.js: main.js:1:26 would lead to it instead"}},
		{"a certain folder that would be torn", "-- main.js --\nnew URL('./src/components/', import.meta.url)\n" +
			"-- src/components/A.vue --\n-- src/components/BPage.vue --\n",
			[]string{"src/components/A.vue: main.js:1:10 names the folder src/components",
				"src/components/BPage.vue: main.js:1:10"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			made, g := build(t, server+c.tree)
			require.Len(t, made.Blocked, len(c.want))
			for i, b := range made.Blocked {
				assert.Contains(t, b.From+": "+b.Reason, c.want[i])
			}
			after(t, server+c.tree, made, g)
		})
	}
}

// likely are the leftovers that are mentions: texts that are none, such as those of comments, are not looked at.
func likely(made *plan.Plan) []plan.Leftover {
	return slices.DeleteFunc(slices.Clone(made.Leftovers),
		func(l plan.Leftover) bool { return l.Reason == carry.SamePath || l.Reason == carry.SameEnd })
}

func TestLikelyMentions(t *testing.T) {
	t.Parallel()
	text := server + "-- src/main.js --\nlog('lib/x.js', 'lib', './img/a.svg', 'a/b', 'http://x/lib/x.js')\n" +
		"-- src/migrations/a.js --\nrun('lib/x.js')\n-- a.yaml --\nroot: src/both\n-- lib/x.js --\n" +
		"-- src/img/a.svg --\n-- src/both/APage.vue --\n-- src/both/c.txt --\n"
	made, g := build(t, text)
	assert.Empty(t, made.Blocked)
	require.Len(t, made.Leftovers, 4)
	for i := range made.Leftovers {
		made.Leftovers[i].Around = ""
	}
	assert.Equal(t, []plan.Leftover{
		{Path: "src/main.js", Line: 1, Text: "lib/x.js", Named: "lib/x.js", Now: "server/lib/x.js",
			Reason: "a string that only looks like a path"},
		{Path: "src/migrations/a.js", Line: 1, Text: "lib/x.js", Named: "lib/x.js", Now: "server/lib/x.js",
			Reason: "a string that only looks like a path"},
	}, made.Leftovers[:2])
	assert.Equal(t, "a.yaml", made.Leftovers[2].Path)
	assert.Contains(t, made.Leftovers[2].Now, "src/pages/a")
	assert.Equal(t, plan.Leftover{Path: "src/main.js", Line: 1, Text: "./img/a.svg", Named: "src/img/a.svg",
		Now: "src/assets/pictures/a.svg", Reason: "a string that only looks like a path"}, made.Leftovers[3])
	assert.NotContains(t, after(t, text, made, g)["src/main.js"], "server")

	made, g = build(t, text, func(in *plan.Input) { in.RewriteLikely = true })
	assert.Equal(t, "log('server/lib/x.js', 'lib', './assets/pictures/a.svg', 'a/b', 'http://x/lib/x.js')\n",
		after(t, text, made, g)["src/main.js"])
	assert.Len(t, made.Leftovers, 2, "the torn folder and what a migration remembers stay")
}

// An alias may change its meaning: every import is spelled anew, also in files that do not move.
func TestAliases(t *testing.T) {
	t.Parallel()
	const head = `
-- crooked.yaml --
crooked: 1
aliases:
  "~/*": { now: "*", then: app/* }
  "~~/*": { then: "*" }
leave: { stay: ["*"] }
shelves:
  types: { at: app/types/, from: [types/**] }
  pages: { at: app/pages/, from: [pages/**] }
  server: server/
`
	t.Run("a package's own imports", func(t *testing.T) {
		text := "-- crooked.yaml --\ncrooked: 1\naliases: { \"#ui/*\": app/parts/* }\nleave: { stay: [\"*\"] }\n" +
			"shelves: { parts: { at: app/parts/, from: ui/** }, odd: { at: app/odd/, from: lib/** } }\n" +
			"-- package.json --\n{\"imports\": {\"#ui/*\": \"./ui/*\", \"#lib/*\": \"./lib/*\"}}\n-- main.js --\n" +
			"import '#ui/a.js'\nimport '#lib/b.js'\n-- ui/a.js --\n-- lib/b.js --\n"
		made, g := build(t, text)
		files := after(t, text, made, g)
		assert.Equal(t, "{\"imports\": {\"#ui/*\": \"./app/parts/*\", \"#lib/*\": \"./app/odd/*\"}}\n",
			files["package.json"])
		assert.Equal(t, "import '#ui/a.js'\nimport '#lib/b.js'\n", files["main.js"])
	})
	t.Run("load paths of style sheets", func(t *testing.T) {
		text := "-- crooked.yaml --\ncrooked: 1\nroots: { sass: { now: sass, then: app/look } }\n" +
			"leave: { stay: [\"*\"] }\n" +
			"shelves: { look: { at: app/look/, from: sass/** }, pages: { at: app/pages/, from: pages/** } }\n" +
			"-- sass/_vars.scss --\n-- sass/deep/_a.scss --\n@use 'vars';\n-- pages/x.scss --\n@use 'vars';\n" +
			"@use 'deep/a';\n"
		made, g := build(t, text)
		assert.Empty(t, made.Blocked)
		assert.Equal(t, "@use 'vars';\n@use 'deep/a';\n", after(t, text, made, g)["app/pages/x.scss"])
		require.Len(t, made.Edits, 1, "the style sheets stay as they are")
		assert.Equal(t, "crooked.yaml", made.Edits[0].Path)
	})
	t.Run("no name reaches it", func(t *testing.T) {
		text := strings.Replace(head, `"~~/*": { then: "*" }`, "", 1) +
			"-- pages/a.ts --\nimport '~/server/y'\n-- server/y.ts --\n"
		made, g := build(t, text)
		assert.Equal(t, "import '../../server/y'\n", after(t, text, made, g)["app/pages/a.ts"])
		require.Len(t, made.Remarks, 1)
		assert.Equal(t, "~/server/y became ../../server/y: no name leads there any more, so a relative path is used",
			made.Remarks[0].Text)
	})
}

func TestAnAliasThatIsTornApartMustBeStated(t *testing.T) {
	t.Parallel()
	text := server + "-- tsconfig.json --\n{\"compilerOptions\": {\"paths\": {\"c/*\": [\"./src/components/*\"]}}}\n" +
		"-- src/components/A.ts --\n-- src/components/BPage.vue --\n"
	_, _, err := try(t, text)
	var alias *plan.AliasError
	require.ErrorAs(t, err, &alias)
	assert.Contains(t, err.Error(), `tsconfig.json:1:41: the alias c/* stands for src/components`)
	_, _, err = try(t, strings.Replace(text, "crooked: 1", "crooked: 1\naliases: { \"c/*\": src/parts/* }", 1))
	assert.NoError(t, err)
}

func TestStatedMentions(t *testing.T) {
	t.Parallel()
	const head = `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*"] }
mentions:
  - { in: deploy/site.yaml, key: assets.root, file: <path> }
  - { in: deploy/site.yaml, key: 'list[*]', each: ",", file: <path> }
  - { in: deploy/site.yaml, key: log, each: ";", like: <package>=* }
  - { in: deploy/site.yaml, key: copy, each: " ", like: "from=<path>" }
  - { in: deploy/site.yaml, key: title, is: text }
  - { in: app.config.ts, key: 'autoload.dirs[*]', base: { now: ., then: app/ }, file: <path> }
  - { call: [render, res.show], like: <view>, file: app/views/<view>.pug }
  - { like: Hilltop.<class|dots>, file: { now: classes/<class>.js, then: app/classes/<class>.js } }
  - { file: app/controllers/<any>.php, loaded: by name }
  - { file: { now: components/<path>.vue, then: app/parts/<path>.vue }, like: <path|pascal>, in_templates: true }
shelves:
  views: { at: app/views/, from: [views/**] }
  deep: { at: app/classes/deep/, takes: [{ name: Deep*.js }] }
  classes: { at: app/classes/, from: [classes/**] }
  sky: { at: app/parts/sky/, takes: [{ name: List.vue }] }
  parts: { at: app/parts/, from: [components/**] }
`
	text := head + `-- deploy/site.yaml --
assets: { root: views }
list: ["views/a.pug,classes", other]
title: views/a.pug
log: core=debug;other=info
copy: from=views/a.pug to=views
-- packages/core/package.json --
{"name": "core"}
-- app.config.ts --
export default { autoload: { dirs: ['views', "classes"] } }
-- src.js --
render('a'); x.render('sub/b'); res.show('a'); other.show('a'); render('none'); use('Hilltop.data.Star'); use('Hilltop.DeepSky')
-- page.vue --
<template><NightCard /><night-card></night-card><List></List><Unknown /></template>
-- views/a.pug --
-- views/sub/b.pug --
-- classes/data/Star.js --
-- classes/DeepSky.js --
-- components/night/Card.vue --
-- components/List.vue --
`
	made, g := build(t, text)
	assert.Empty(t, made.Blocked)
	files := after(t, text, made, g)
	assert.Equal(t, "assets: { root: app/views }\nlist: [\"app/views/a.pug,app/classes\", other]\ntitle: views/a.pug\n"+
		"log: core=debug;other=info\ncopy: from=app/views/a.pug to=views\n", files["deploy/site.yaml"])
	assert.Equal(t, "export default { autoload: { dirs: ['views', \"classes\"] } }\n", files["app.config.ts"])
	assert.Equal(t, "render('a'); x.render('sub/b'); res.show('a'); other.show('a'); render('none'); "+
		"use('Hilltop.data.Star'); use('Hilltop.deep.DeepSky')\n", files["src.js"])
	assert.Equal(t, "<template><NightCard /><night-card></night-card><SkyList></SkyList><Unknown /></template>\n",
		files["page.vue"])
}

// A function that is called and imported by nobody is found by its file's name, which may not change then.
func TestStatedFunctions(t *testing.T) {
	t.Parallel()
	const head = `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*"] }
mentions: [{ file: { now: composables/<name>.ts, then: app/composables/<name>.ts }, like: <name>, in_code: true }]
shelves:
  old: { at: app/composables/useTheSky.ts, from: composables/useSky.ts }
  composables: { at: app/composables/, from: [composables/**] }
`
	made, g := build(t, head+"-- page.ts --\nuseNights(); x.useNights(); useSky()\nfunction useNights() {}\n"+
		"-- composables/useNights.ts --\n-- composables/useSky.ts --\n")
	require.Len(t, made.Blocked, 1)
	assert.Equal(t, "composables/useSky.ts", made.Blocked[0].From)
	assert.Contains(t, made.Blocked[0].Reason, `page.ts:1:29 refers to it as "useSky"`)
	var names []string
	id, _ := g.Tree.Lookup("page.ts")
	for _, m := range g.Files[id].Mentions {
		names = append(names, m.Text)
	}
	assert.Equal(t, []string{"useNights", "useSky"}, names)
}

func TestNamesAndAddresses(t *testing.T) {
	t.Parallel()
	text := `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*"] }
public: [{ folder: public/, at: / }, { folder: src/pages/, at: /, routes: true }]
mentions: [{ file: app/controllers/<any>.php, loaded: by name }]
shelves:
  pictures: { at: public/pictures/, from: [public/*.svg, assets/*.svg] }
  pages: { at: src/pages/<page|kebab>/index.vue, from: [src/pages/<page>.vue] }
  control: { at: app/controllers/Main.php, from: [app/old/Home.php] }
  same: { at: app/controllers/, from: [app/old/*.php] }
-- public/a.svg --
-- assets/b.svg --
-- src/pages/Night.vue --
-- app/old/Home.php --
-- app/old/Same.php --
`
	made, _ := build(t, text)
	reasons := map[string]string{}
	for _, b := range made.Blocked {
		reasons[b.From] = b.Reason
	}
	assert.Equal(t, "its address /a.svg would become /pictures/a.svg; --allow-addresses lets it",
		reasons["public/a.svg"])
	assert.Equal(t, "its address /Night would become /night; --allow-addresses lets it", reasons["src/pages/Night.vue"])
	assert.Contains(t, reasons["app/old/Home.php"],
		"it would be renamed, and it is loaded by its name (line 4 of the convention)")
	assert.NotContains(t, reasons, "assets/b.svg")

	made, _ = build(t, text, func(in *plan.Input) { in.AllowAddresses = true })
	for _, b := range made.Blocked {
		assert.NotContains(t, b.Reason, "address")
	}
}

func TestStoredNamesStay(t *testing.T) {
	t.Parallel()
	const text = `
-- crooked.yaml --
crooked: 1
stored: [apps/<app>/migrations/**, "tasks/**"]
shelves:
  nights: { at: apps/night/, from: [nights/**] }
  desk: { at: apps/desk/, from: [desk/**] }
  tasks: { at: tasks/, from: [old/**] }
-- desk/migrations/0001.py --
-- nights/migrations/0001.py --
-- nights/models.py --
-- old/expire.py --
-- old/a/b.py --
`
	made, _ := build(t, text)
	reasons := map[string]string{}
	for _, b := range made.Blocked {
		reasons[b.From] = b.Reason
	}
	assert.Equal(t, map[string]string{
		"nights/migrations/0001.py": "what is stored elsewhere remembers it by night/migrations/0001.py (line 2 of " +
			"the convention); --allow-stored lets it",
	}, reasons)
	made, _ = build(t, text, func(in *plan.Input) { in.AllowStored = true })
	assert.Empty(t, made.Blocked)
}

// The new folder is in use already: what stands right stays, clashes are blocked one by one.
func TestADestinationInUse(t *testing.T) {
	t.Parallel()
	text := `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*.json"] }
shelves:
  pages: { at: app/pages/, from: [pages/**] }
  parts: { at: app/parts/, from: [parts/**] }
  other: { for: what app/ meant before, at: app/old/ }
-- tsconfig.json --
{"include": ["app", "pages", "parts"]}
-- app/pages/home.ts --
import '../../parts/card'
import '../old/tool'
-- app/old/tool.ts --
-- app/parts --
a file where a folder shall be
-- pages/home.ts --
-- pages/night.ts --
import './home'
import '../app/pages/home'
-- parts/card.ts --
`
	made, g := build(t, text)
	reasons := map[string]string{}
	for _, b := range made.Blocked {
		reasons[b.From] = b.Reason
	}
	assert.Equal(t, map[string]string{
		"pages/home.ts": "a file stands there already and stays",
		"parts/card.ts": "the file app/parts stands where its folder would be",
	}, reasons)
	files := after(t, text, made, g)
	assert.Equal(t, "import '../../pages/home'\nimport './home'\n", files["app/pages/night.ts"])
	assert.Equal(t, "import '../../parts/card'\nimport '../old/tool'\n", files["app/pages/home.ts"])
}

func TestAtOnce(t *testing.T) {
	t.Parallel()
	text := shelves + "at_once: [parts, tools]\n-- src/components/A.ts --\n-- src/utils/a.ts --\n" +
		"-- src/helpers/a.ts --\n-- src/x/SkyPanel.tsx --\n"
	made, _ := build(t, text)
	require.Len(t, made.Blocked, 3)
	assert.Equal(t, "it moves at once with src/helpers/a.ts, which is blocked", made.Blocked[0].Reason)
	require.Len(t, made.Moves(), 1)
	assert.Equal(t, "src/x/SkyPanel.tsx", made.Moves()[0].From)
}

// Package managers refuse two packages of one name: an import means neither, before and after.
func TestTwoPackagesOfOneName(t *testing.T) {
	t.Parallel()
	const text = `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*"] }
shelves: { parts: { at: src/parts/, from: [src/widgets/**] } }
-- package.json --
{"private": true, "workspaces": ["packages/*", "!packages/d"]}
-- packages/a/package.json --
{"name": "sky", "main": "index.js"}
-- packages/a/index.js --
-- packages/b/package.json --
{"name": "sky", "main": "index.js"}
-- packages/b/index.js --
-- packages/c/package.json --
{"name": "dome", "main": "index.js"}
-- packages/c/index.js --
import 'sky'
-- packages/d/package.json --
{"name": "dome", "main": "index.js"}
-- packages/d/index.js --
-- src/widgets/a.js --
import 'sky'
import 'dome'
import '../main'
-- src/main.js --
`
	made, g := build(t, text)
	assert.Empty(t, made.Blocked)
	assert.Contains(t, made.Warnings,
		"packages/a/package.json and packages/b/package.json are both called sky; an import of that name means neither")
	require.Len(t, made.Edits, 0, "the folder is as deep as before")
	id, _ := g.Tree.Lookup("src/widgets/a.js")
	dome, _ := g.Tree.Lookup("packages/c/index.js")
	assert.Equal(t, project.None, g.Files[id].Targets[0].File, "it leads to no file of the project")
	assert.Equal(t, dome, g.Files[id].Targets[1].File)
}

// The packages of a workspace may lie beside its folder.
func TestWorkspaceOfNeighbours(t *testing.T) {
	t.Parallel()
	_, g := build(t, `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*"] }
shelves: { libs: { at: "libs/<n>/", from: ["shared/<n>/**"] } }
-- client/package.json --
{"private": true, "workspaces": ["../shared/*"]}
-- shared/x/package.json --
{"name": "x", "main": "index.js"}
-- shared/x/index.js --
import 'y'
-- shared/y/package.json --
{"name": "y", "main": "index.js"}
-- shared/y/index.js --
`)
	x, _ := g.Tree.Lookup("shared/x/index.js")
	y, _ := g.Tree.Lookup("shared/y/index.js")
	assert.Equal(t, y, g.Files[x].Targets[0].File)
}

func TestRequiredSettings(t *testing.T) {
	t.Parallel()
	const head = `
-- crooked.yaml --
crooked: 1
vars: { app: src }
leave: { stay: ["*"] }
shelves: { parts: { at: src/parts/, from: [lib/**] } }
settings:
  - { in: app.config.ts, set: { sourceRoot: <app>/, future: { level: 4 } } }
  - { in: "*.json", set: { root: <app>, deep: { list: [a, b] } } }
  - { in: a.yaml, set: { root: <app>, on: { flag: true } } }
  - { in: a.toml, set: { root: <app>, tool: { x: 1 } } }
`
	text := head + `-- app.config.ts --
export default defineConfig({
  // kept
  modules: ['x'],
  sourceRoot: '.',
})
-- a.json --
{
    "name": "x"
}
-- a.yaml --
name: x # kept

on:
  other: 1
-- a.toml --
name = "x" # kept

[tool]
y = 2
`
	made, g := build(t, text)
	files := after(t, text, made, g)
	assert.Equal(t, "export default defineConfig({\n  // kept\n  modules: ['x'],\n  sourceRoot: 'src/',\n  future: {\n"+
		"    level: 4,\n  },\n})\n", files["app.config.ts"])
	assert.Equal(t,
		"{\n    \"name\": \"x\",\n    \"root\": \"src\",\n    \"deep\": {\n        \"list\": [\"a\", \"b\"]\n    }\n}\n", files["a.json"])
	assert.Equal(t, "name: x # kept\n\non:\n  other: 1\n  flag: true\nroot: src\n", files["a.yaml"])
	assert.Equal(t, "name = \"x\" # kept\nroot = \"src\"\n\n[tool]\ny = 2\nx = 1\n", files["a.toml"])
	second, _ := build(t, archive(files))
	assert.True(t, second.Empty(), "what is set is not set again: %v", second.Edits)
}
