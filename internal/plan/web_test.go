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

// Each row is a tree below a convention; want is the content of files afterwards, by their new path.
func TestRewritesBeyondModules(t *testing.T) {
	cases := []struct {
		name, tree string
		want       map[string]string
	}{
		{"a path in pieces",
			"-- views/a.pug --\n-- src/main.js --\napp.set('views', path.join(__dirname, '..', 'views'))\n",
			map[string]string{"src/main.js": "app.set('views', path.join(__dirname, '..', 'server', 'views'))\n"}},
		{"a path added", "-- views/a.pug --\n-- main.js --\nx(__dirname + '/views', `${__dirname}/views/a.pug`)\n",
			map[string]string{"main.js": "x(__dirname + '/server/views', `${__dirname}/server/views/a.pug`)\n"}},
		{"a path from the working folder", "-- views/a.pug --\n-- main.js --\n" +
			"fs.readFileSync('views/a.pug'); path.join(process.cwd(), 'views'); path.resolve('./views')\n",
			map[string]string{"main.js": "fs.readFileSync('server/views/a.pug'); path.join(process.cwd(), " +
				"'server/views'); path.resolve('./server/views')\n"}},
		{"a folder of the script in a module", "-- views/a.pug --\n-- main.mjs --\n" +
			"const here = path.dirname(fileURLToPath(import.meta.url))\npath.join(here, 'views')\n" +
			"path.join(import.meta.dirname, 'views')\n",
			map[string]string{"main.mjs": "const here = path.dirname(fileURLToPath(import.meta.url))\n" +
				"path.join(here, 'server/views')\npath.join(import.meta.dirname, 'server/views')\n"}},
		{"a folder that is listed", "-- routes/a.js --\n-- routes/b.js --\n-- main.js --\n" +
			"fs.readdirSync(path.join(__dirname, 'routes')).forEach(f => require(path.join(__dirname, 'routes', f)))\n",
			map[string]string{"main.js": "fs.readdirSync(path.join(__dirname, 'server/routes')).forEach(f => " +
				"require(path.join(__dirname, 'server/routes', f)))\n"}},
		{"a moved file counts its own folder anew", "-- lib/a.js --\npath.join(__dirname, '../data')\n" +
			"path.join(__dirname, '..', 'data', name)\n-- data/x.json --\n{}\n",
			map[string]string{"server/lib/a.js": "path.join(__dirname, '../../data')\n" +
				"path.join(__dirname, '..', '..', 'data', name)\n"}},
		{"computed imports", "-- src/main.js --\nimport(`./img/${x}.js`); require('./img/' + y); " +
			"require.context('./img', true, /x/)\n-- src/img/a.js --\n-- src/img/b.js --\n",
			map[string]string{"src/main.js": "import(`./assets/pictures/${x}.js`); require('./assets/pictures/' + y); " +
				"require.context('./assets/pictures', true, /x/)\n"}},
		{"a pattern", "-- src/main.js --\nimport.meta.glob('./img/*.svg'); import.meta.glob(['./img/**/*.svg', " +
			"'!./img/b.svg', '/src/img/*.svg'])\n-- src/img/a.svg --\n-- src/img/b.svg --\n",
			map[string]string{"src/main.js": "import.meta.glob('./assets/pictures/*.svg'); " +
				"import.meta.glob(['./assets/pictures/**/*.svg', '!./assets/pictures/b.svg', " +
				"'/src/assets/pictures/*.svg'])\n"}},
		{"a module's address", "-- src/main.js --\nnew URL('./img/a.svg', import.meta.url); new Worker(new " +
			"URL('../lib/w.js', import.meta.url))\n-- src/img/a.svg --\n-- lib/w.js --\n",
			map[string]string{"src/main.js": "new URL('./assets/pictures/a.svg', import.meta.url); new Worker(new " +
				"URL('../server/lib/w.js', import.meta.url))\n"}},
		{"workers", "-- src/main.js --\nnew Worker('../lib/w.js'); navigator.serviceWorker.register('../lib/w.js'); " +
			"importScripts('../lib/w.js')\n-- lib/w.js --\n",
			map[string]string{"src/main.js": "new Worker('../server/lib/w.js'); " +
				"navigator.serviceWorker.register('../server/lib/w.js'); importScripts('../server/lib/w.js')\n"}},
		{"mocks", "-- src/a.test.js --\njest.mock('./components/A'); vi.mock(\"./components/A.js\", () => ({}))\n" +
			"vi.importActual('./components/A')\n-- src/components/A.js --\n",
			map[string]string{"src/a.test.js": "jest.mock('./parts/A'); vi.mock(\"./parts/A.js\", () => ({}))\n" +
				"vi.importActual('./parts/A')\n"}},
		{"a single-file component", "-- src/components/CardPage.vue --\n<script setup lang=\"ts\">\n" +
			"import A from './A.vue'\nimport x from '../../lib/x'\n</script>\n<script src=\"./b.ts\"></script>\n" +
			"<template><div><img src=\"../img/a.svg\" :src=\"require('../img/b.svg')\" srcset=\"../img/a.svg 1x, " +
			"../img/b.svg 2x\"><a href=\"/x\">'./A.vue'</a></div></template>\n" +
			"<style lang=\"scss\">@use '../css/vars'; a { b: url('../img/a.svg') }</style>\n" +
			"<style src=\"../css/page.css\"></style>\n-- src/components/A.vue --\n-- src/components/b.ts --\n" +
			"-- lib/x.js --\n-- src/img/a.svg --\n-- src/img/b.svg --\n-- src/css/_vars.scss --\n" +
			"-- src/css/page.css --\n",
			map[string]string{"src/pages/card/CardPage.vue": "<script setup lang=\"ts\">\n" +
				"import A from '../../parts/A.vue'\nimport x from '../../../server/lib/x'\n</script>\n" +
				"<script src=\"../../parts/b.ts\"></script>\n" +
				"<template><div><img src=\"../../assets/pictures/a.svg\" " +
				":src=\"require('../../assets/pictures/b.svg')\" srcset=\"../../assets/pictures/a.svg 1x, " +
				"../../assets/pictures/b.svg 2x\"><a href=\"/x\">'./A.vue'</a></div></template>\n" +
				"<style lang=\"scss\">@use '../../assets/styles/vars'; a { b: url('../../assets/pictures/a.svg') " +
				"}</style>\n<style src=\"../../assets/styles/page.css\"></style>\n"}},
		{"other components", "-- src/a.svelte --\n<script>\n  import A from './components/A.svelte'\n</script>\n" +
			"<img src=\"./img/a.svg\" alt={x}>\n-- src/b.astro --\n---\nimport A from './components/A.svelte'\n---\n" +
			"<A />\n-- src/components/A.svelte --\n-- src/img/a.svg --\n",
			map[string]string{"src/a.svelte": "<script>\n  import A from './parts/A.svelte'\n</script>\n" +
				"<img src=\"./assets/pictures/a.svg\" alt={x}>\n",
				"src/b.astro": "---\nimport A from './parts/A.svelte'\n---\n<A />\n"}},
		{"Sass", "-- src/main.scss --\n@use 'css/vars' as v;\n@use 'sass:math';\n@forward \"./css\";\n" +
			"@import 'css/a', 'css/b.css';\n// @use 'css/no';\n-- src/css/_vars.scss --\n-- src/css/_index.scss --\n" +
			"-- src/css/a.scss --\n-- src/css/b.css --\n",
			map[string]string{"src/main.scss": "@use 'assets/styles/vars' as v;\n@use 'sass:math';\n" +
				"@forward \"./assets/styles\";\n@import 'assets/styles/a', 'assets/styles/b.css';\n// @use 'css/no';\n"}},
		{"Less and indented Sass", "-- src/main.less --\n@import (reference) \"css/a\";\n@import url('css/a.less');\n" +
			"-- src/main.sass --\n@import css/b, css/c\n@use \"css/b\"\n-- src/css/a.less --\n-- src/css/_b.sass --\n" +
			"-- src/css/c.sass --\n",
			map[string]string{"src/main.less": "@import (reference) \"assets/styles/a\";\n" +
				"@import url('assets/styles/a.less');\n",
				"src/main.sass": "@import assets/styles/b, assets/styles/c\n@use \"assets/styles/b\"\n"}},
		{"a page", "-- index.html --\n<link rel=stylesheet href=src/css/a.css><script type=\"module\" " +
			"src=\"/src/components/a.js\"></script><img srcset=\"src/img/a.svg, src/img/b.svg " +
			"2x\"><script>import('./src/components/a.js')</script>\n" +
			"<script type=\"importmap\">{\"imports\": {\"a\": \"./src/components/a.js\"}}</script><!-- src/img/a.svg " +
			"--><div style=\"background: url(src/img/a.svg)\">\n-- src/css/a.css --\n-- src/components/a.js --\n" +
			"-- src/img/a.svg --\n-- src/img/b.svg --\n",
			map[string]string{"index.html": "<link rel=stylesheet href=src/assets/styles/a.css><script " +
				"type=\"module\" src=\"/src/parts/a.js\"></script><img srcset=\"src/assets/pictures/a.svg, " +
				"src/assets/pictures/b.svg 2x\"><script>import('./src/parts/a.js')</script>\n" +
				"<script type=\"importmap\">{\"imports\": {\"a\": \"./src/parts/a.js\"}}</script><!-- src/img/a.svg " +
				"--><div style=\"background: url(src/assets/pictures/a.svg)\">\n"}},
		{"templates", "-- src/a.pug --\nextends ../views/layout\nblock x\n  include ../views/b.pug\n" +
			"  img(src='./img/a.svg')\n-- src/b.ejs --\n<%- include('../views/c') %><img src=\"<%= x %>\">\n" +
			"-- src/c.hbs --\n{{> ../views/d}}\n-- src/d.njk --\n" +
			"{% extends \"../views/e.njk\" %}{% include '../views/e.njk' %}\n-- views/layout.pug --\n" +
			"-- views/b.pug --\n-- views/c.ejs --\n-- views/d.hbs --\n-- views/e.njk --\n-- src/img/a.svg --\n",
			map[string]string{"src/a.pug": "extends ../server/views/layout\nblock x\n  include ../server/views/b.pug\n" +
				"  img(src='./assets/pictures/a.svg')\n",
				"src/b.ejs": "<%- include('../server/views/c') %><img src=\"<%= x %>\">\n",
				"src/c.hbs": "{{> ../server/views/d}}\n",
				"src/d.njk": "{% extends \"../server/views/e.njk\" %}{% include '../server/views/e.njk' %}\n"}},
		{"templates that move together",
			"-- views/a.pug --\nextends layout\ninclude parts/b\n-- views/layout.pug --\n-- views/parts/b.pug --\n",
			map[string]string{"server/views/a.pug": "extends layout\ninclude parts/b\n"}},
		{"a document", "-- README.md --\n---\ncover: ./src/img/a.svg\n---\n" +
			"[a](src/img/a.svg \"t\") ![b](<src/img/b c.svg>) `[c](src/img/a.svg)`\n\n    x\n```\n[d](src/img/a.svg)\n" +
			"```\n[e]: src/img/b%20c.svg\n<img src=\"src/img/a.svg\">\n-- src/img/a.svg --\n-- src/img/b c.svg --\n",
			map[string]string{"README.md": "---\ncover: ./src/assets/pictures/a.svg\n---\n" +
				"[a](src/assets/pictures/a.svg \"t\") ![b](<src/assets/pictures/b c.svg>) `[c](src/img/a.svg)`\n\n" +
				"    x\n```\n[d](src/img/a.svg)\n```\n[e]: src/assets/pictures/b%20c.svg\n" +
				"<img src=\"src/assets/pictures/a.svg\">\n"}},
		{"settings of all formats", "-- package.json --\n" +
			"{\"main\": \"lib\", \"files\": [\"lib\"], \"scripts\": {\"a\": \"node lib/x.js && sass src/css:out\"}}\n" +
			"-- ci.yml --\npaths: [ 'lib/**' ] # lib/x.js\nrun: |\n  node lib/x.js\n-- a.toml --\n" +
			"x = [\"lib/x.js\"] # lib/x.js\n-- a.xml --\n<a b=\"lib/x.js\"><!-- lib/x.js --></a>\n-- a.ini --\n[p]\n" +
			"file=lib/x.js\n-- .env --\nDIR=lib/\n-- Dockerfile --\nCOPY lib ./lib\nCMD [\"node\", \"lib/x.js\"]\n" +
			"-- Makefile --\na:\n\tnode lib/x.js\n-- .dockerignore --\nlib/tmp/*\n/lib/\n-- .github/CODEOWNERS --\n" +
			"/lib/ @a/lib\n-- .htaccess --\nRewriteRule ^a lib/x.js\n-- lib/x.js --\n-- lib/index.js --\n" +
			"-- src/css/a.css --\n",
			map[string]string{"package.json": "{\"main\": \"server/lib\", \"files\": [\"server/lib\"], \"scripts\": " +
				"{\"a\": \"node server/lib/x.js && sass src/assets/styles:out\"}}\n",
				"ci.yml": "paths: [ 'server/lib/**' ] # lib/x.js\nrun: |\n  node server/lib/x.js\n",
				"a.toml": "x = [\"server/lib/x.js\"] # lib/x.js\n",
				"a.xml":  "<a b=\"server/lib/x.js\"><!-- lib/x.js --></a>\n", "a.ini": "[p]\nfile=server/lib/x.js\n",
				".env":       "DIR=server/lib/\n",
				"Dockerfile": "COPY server/lib ./server/lib\nCMD [\"node\", \"server/lib/x.js\"]\n",
				"Makefile":   "a:\n\tnode server/lib/x.js\n", ".dockerignore": "server/lib/tmp/*\n/server/lib/\n",
				".github/CODEOWNERS": "/server/lib/ @a/lib\n", ".htaccess": "RewriteRule ^a server/lib/x.js\n"}},
		{"a compiler's lists", "-- tsconfig.json --\n" +
			"{\"include\": [\"lib\", \"src/**/*.ts\", \"lib/*.ts\"], \"exclude\": [\"lib/x.ts\"], " +
			"\"compilerOptions\": {\"rootDir\": \".\", \"outDir\": \"dist\", \"typeRoots\": [\"lib/types\"]}}\n" +
			"-- lib/x.ts --\n-- lib/types/a.d.ts --\n",
			map[string]string{"tsconfig.json": "{\"include\": [\"server/lib\", \"src/**/*.ts\", \"server/lib/*.ts\"], " +
				"\"exclude\": [\"server/lib/x.ts\"], \"compilerOptions\": {\"rootDir\": \".\", \"outDir\": \"dist\", " +
				"\"typeRoots\": [\"server/lib/types\"]}}\n"}},
		{"settings written as code", "-- vite.config.ts --\n" +
			"export default defineConfig({ root: 'lib', publicDir: \"lib/pub\", plugins: ['lib'], build: { " +
			"rollupOptions: { input: './lib/x.js' } }, resolve: { alias: { '@': path.resolve(__dirname, 'lib'), '~': " +
			"fileURLToPath(new URL('./lib', import.meta.url)) } } })\n-- src/a.js --\nimport '@/x'\nimport '~/x.js'\n" +
			"-- lib/x.js --\n-- lib/pub/a.txt --\n",
			map[string]string{"vite.config.ts": "export default defineConfig({ root: 'server/lib', publicDir: " +
				"\"server/lib/pub\", plugins: ['lib'], build: { rollupOptions: { input: './server/lib/x.js' } }, " +
				"resolve: { alias: { '@': path.resolve(__dirname, 'server/lib'), '~': fileURLToPath(new " +
				"URL('./server/lib', import.meta.url)) } } })\n", "src/a.js": "import '@/x'\nimport '~/x.js'\n"}},
		{"a folder that is torn apart in a list", "-- tsconfig.json --\n" +
			"{\"include\": [\"src/both\", \"src/a.ts\"], \"files\": [\"x.ts\"]}\n-- src/a.ts --\n-- x.ts --\n" +
			"-- src/both/APage.vue --\n-- src/both/b.ts --\n",
			map[string]string{"tsconfig.json": "{\"include\": [\"src/both\", \"src/pages\", \"src/a.ts\"], \"files\": " +
				"[\"x.ts\"]}\n"}},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			text := server + c.tree
			if c.name == "a folder that is torn apart in a list" {
				text = strings.Replace(text, "stay: [src/*]", "stay: [src/*, src/both/b.ts]", 1)
			}
			made, g := build(t, text)
			assert.Empty(t, made.Blocked)
			assert.Empty(t, likely(made))
			files := after(t, text, made, g)
			for p, want := range c.want {
				assert.Equal(t, want, files[p], p)
			}
			second, _ := build(t, archive(files))
			assert.True(t, second.Empty(), "after a straighten nothing is left to do")
		})
	}
}

// archive writes files as one text.
func archive(files map[string]string) string {
	var out strings.Builder
	for _, p := range projecttest.Paths(files) {
		out.WriteString("-- " + p + " --\n" + files[p])
	}
	return out.String()
}

func TestBlockedBeyondModules(t *testing.T) {
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
	cases := []struct {
		name, tree string
		want       map[string]string
	}{
		{"an implicit table", "-- pages/a.ts --\nimport '~/types/x'\nimport '~/server/y'\n-- types/x.ts --\n" +
			"-- server/y.ts --\nimport '~/types/x'\n",
			map[string]string{"app/pages/a.ts": "import '~/types/x'\nimport '~~/server/y'\n",
				"server/y.ts": "import '~/types/x'\n"}},
		{"a table in a compiler's file", "-- tsconfig.json --\n" +
			"{\"compilerOptions\": {\"paths\": {\"~/*\": [\"./*\"], \"~~/*\": [\"./*\"]}}}\n-- pages/a.ts --\n" +
			"import '~/types/x'\nimport '~/server/y'\n-- types/x.ts --\n-- server/y.ts --\n",
			map[string]string{"tsconfig.json": "{\"compilerOptions\": {\"paths\": {\"~/*\": [\"./app/*\"], \"~~/*\": " +
				"[\"./*\"]}}}\n", "app/pages/a.ts": "import '~/types/x'\nimport '~~/server/y'\n"}},
		{"a bundler's list and a test runner's names", "-- vite.config.js --\n" +
			"export default { resolve: { alias: [{ find: '~', replacement: path.resolve(__dirname, '.') }] } }\n" +
			"-- package.json --\n{\"jest\": {\"moduleNameMapper\": {\"^~/(.*)$\": \"<rootDir>/$1\"}}}\n" +
			"-- pages/a.ts --\nimport '~/types/x'\n-- types/x.ts --\n",
			map[string]string{"vite.config.js": "export default { resolve: { alias: [{ find: '~', replacement: " +
				"path.resolve(__dirname, './app') }] } }\n",
				"package.json":   "{\"jest\": {\"moduleNameMapper\": {\"^~/(.*)$\": \"<rootDir>/app/$1\"}}}\n",
				"app/pages/a.ts": "import '~/types/x'\n"}},
		{"in style sheets, components and settings", "-- pages/a.vue --\n<script>import '~/types/x'</script>\n" +
			"<template><img src=\"~/types/a.svg\"></template>\n<style>@import '~/types/a.css';</style>\n" +
			"-- app.config.ts --\nexport default { css: ['~/types/a.css', '~/server/b.css'] }\n-- types/x.ts --\n" +
			"-- types/a.svg --\n-- types/a.css --\n-- server/b.css --\n",
			map[string]string{"app/pages/a.vue": "<script>import '~/types/x'</script>\n" +
				"<template><img src=\"~/types/a.svg\"></template>\n<style>@import '~/types/a.css';</style>\n",
				"app.config.ts": "export default { css: ['~/types/a.css', '~~/server/b.css'] }\n"}},
	}
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
		assert.Empty(t, made.Edits)
	})
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			made, g := build(t, head+c.tree)
			assert.Empty(t, made.Blocked)
			files := after(t, head+c.tree, made, g)
			for p, want := range c.want {
				assert.Equal(t, want, files[p], p)
			}
		})
	}
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

// What a framework finds by where it stands does not leave that place, unless a setting takes the place along.
func TestPlacesThatFrameworksFix(t *testing.T) {
	kit := "-- package.json --\n{\"devDependencies\": {\"@sveltejs/kit\": \"2\"}}\n-- src/app.html --\n" +
		"-- src/hooks.server.ts --\n-- src/routes/+page.svelte --\n-- src/routes/part.ts --\n-- src/lib/a.ts --\n" +
		"-- static/x.png --\n"
	next := "-- package.json --\n{\"dependencies\": {\"next\": \"16\"}}\n-- app/page.tsx --\n" +
		"-- app/nights/page.tsx --\nimport '../part'\n-- app/part.tsx --\n-- middleware.ts --\n"
	nuxt := "-- package.json --\n{\"dependencies\": {\"nuxt\": \"^3.1\"}}\n-- nuxt.config.ts --\n" +
		"export default defineNuxtConfig({ ssr: true })\n-- pages/a.vue --\n-- components/x/Card.vue --\n" +
		"-- utils/dates.ts --\n"
	for _, c := range []struct{ name, tree, shelves, want string }{
		{"routes", kit, "pages: { at: src/pages/, from: [src/routes/**] }",
			"src/routes/+page.svelte: each file of its kind in src/routes is an address, by SvelteKit (the package " +
				"@sveltejs/kit is listed); the setting kit.files.routes would have to move with it"},
		{"a part that only lies there", kit, "parts: { at: src/parts/, from: [src/routes/part.ts] }", ""},
		{"within the routes", kit, "pages: { at: src/routes/deep/, from: [src/routes/+page.svelte] }",
			"src/routes/+page.svelte: each file of its kind in src/routes is an address, by SvelteKit (the package " +
				"@sveltejs/kit is listed), and it would be another one; --allow-addresses lets it"},
		{"files with a name", kit, "root: { at: src/root/, from: [src/app.html, src/hooks.server.ts] }",
			"src/app.html: each file of its kind in src is found by its name, by SvelteKit (the package @sveltejs/kit " +
				"is listed); the setting kit.files would have to move with it\n" +
				"src/hooks.server.ts: each file of its kind in src is found by its name, by SvelteKit (the package " +
				"@sveltejs/kit is listed); the setting kit.files would have to move with it"},
		{"static files", kit, "files: { at: files/, from: [static/**] }",
			"static/x.png: each file of its kind in static is an address, by SvelteKit (the package @sveltejs/kit is " +
				"listed); the setting kit.files.assets would have to move with it"},
		{"routes whose folder a setting moves",
			kit + "-- svelte.config.js --\nexport default { kit: { files: { routes: 'src/routes' } } }\n",
			"pages: { at: src/pages/, from: [src/routes/**] }", ""},
		{"the whole folder to where the framework looks too", next,
			"app: { at: src/app/, from: [app/**] }\n  rest: { at: src/, from: [middleware.ts] }", ""},
		{"one of them", next, "app: { at: src/nights/, from: [app/nights/**] }",
			"app/nights/page.tsx: each file of its kind in app is an address or frames some, by Next (the package " +
				"next is listed), and no setting moves that"},
		{"names that are made of paths", nuxt,
			"parts: { at: components/y/, from: [components/x/**] }\n  utils: { at: utils/deep/, from: [utils/*] }",
			"components/x/Card.vue: each file of its kind in components is an element without an import, by its path, " +
				"by Nuxt (the package nuxt is listed), and it would be another one; --allow-addresses lets it\n" +
				"utils/dates.ts: each file of its kind in utils gives names that need no import, by Nuxt (the package " +
				"nuxt is listed); the setting imports.dirs would have to move with it"},
		{"all with the source folder", nuxt, "pages: { at: web/pages/, from: [pages/**] }\n" +
			"  parts: { at: web/components/, from: [components/**] }\n  utils: { at: web/utils/, from: [utils/**] }\n" +
			"settings: [{ in: nuxt.config.ts, set: { srcDir: web/ } }]", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			text := "-- crooked.yaml --\ncrooked: 1\nshelves:\n  " + c.shelves + "\n" + c.tree
			made, g := build(t, text)
			var got []string
			for _, b := range made.Blocked {
				got = append(got, b.From+": "+b.Reason)
			}
			assert.Equal(t, c.want, strings.Join(got, "\n"))
			after(t, text, made, g)
		})
	}
}

// What was seen on real projects: each row is a case in which something was left behind, or blocked for no reason.
func TestSeenOnRealProjects(t *testing.T) {
	for _, c := range []struct {
		name, shelves, tree string
		blocked             string            // from: reason
		want                map[string]string // by path
	}{
		{"a folder whose files all go below one new place is no torn folder",
			"a: { at: app/one/, from: [src/a/**] }\n  b: { at: app/two/, from: [src/b/**] }",
			"-- package.json --\n{\"scripts\": {\"lint\": \"eslint src && prettier 'src/**/*.js'\"}}\n" +
				"-- src/a/x.js --\n-- src/b/y.js --\n", "",
			map[string]string{"package.json": "{\"scripts\": {\"lint\": \"eslint app && prettier 'app/**/*.js'\"}}\n"}},
		{"imports that no alias explains", "a: { at: src/x/, from: [src/a/**] }",
			"-- package.json --\n{}\n-- src/a/dates.ts --\n-- src/main.ts --\nimport '~/a/dates'\n",
			"src/a/dates.ts: src/main.ts:1:9 imports \"~/a/dates\", which may mean it, and no alias, package or file " +
				"explains that; say in the convention what stands for what: aliases: { \"~/*\": … }", nil},
		{"an alias by a helper", "a: { at: src/x/, from: [src/a/**] }",
			"-- package.json --\n{}\n-- build/webpack.base.conf.js --\nfunction resolve (dir) {\n" +
				"  return path.join(__dirname, '..', dir)\n}\n" +
				"module.exports = { resolve: { alias: { '@': resolve('src') } } }\n-- src/a/dates.js --\n" +
				"-- src/main.js --\nimport '@/a/dates'\n",
			"", map[string]string{"src/main.js": "import '@/x/dates'\n"}},
		{"the folder of an alias by a helper", "a: { at: app/, from: [src/**] }",
			"-- package.json --\n{}\n-- build/webpack.base.conf.js --\nfunction resolve (dir) {\n" +
				"  return path.join(__dirname, '..', dir)\n}\n" +
				"module.exports = { resolve: { alias: { '@': resolve('src') } } }\n-- src/a/dates.js --\n" +
				"-- src/start.js --\nimport '@/a/dates'\n",
			"", map[string]string{"app/start.js": "import '@/a/dates'\n",
				"build/webpack.base.conf.js": "function resolve (dir) {\n  return path.join(__dirname, '..', dir)\n}\n" +
					"module.exports = { resolve: { alias: { '@': resolve('app') } } }\n"}},
		{"a library's folder that only the framework knows", "a: { at: src/parts/, from: [src/lib/**] }",
			"-- package.json --\n{\"devDependencies\": {\"@sveltejs/kit\": \"2\"}}\n-- src/lib/a.ts --\n" +
				"-- src/routes/part.ts --\nimport '$lib/a'\n",
			"", map[string]string{"src/routes/part.ts": "import '../parts/a'\n"}},
		{"types in comments", "a: { at: src/x/, from: [src/a/**] }",
			"-- src/a/dates.js --\n-- src/main.js --\n/** @type {import('./a/dates').Night} */\nlet a\n" +
				"/** @import { Star } from \"./a/dates\" */\n/** @param {import(\"./a/dates\")} b */\n",
			"", map[string]string{"src/main.js": "/** @type {import('./x/dates').Night} */\nlet a\n" +
				"/** @import { Star } from \"./x/dates\" */\n/** @param {import(\"./x/dates\")} b */\n"}},
		{"a template of a class", "a: { at: src/x/, from: [src/a.html, src/a.css, src/b.css] }",
			"-- src/a.html --\n-- src/a.css --\n-- src/b.css --\n-- src/a.ts --\n" +
				"@Component({ templateUrl: './a.html', styleUrl: './a.css', styleUrls: ['./b.css'] })\n" +
				"export class A {}\n",
			"", map[string]string{"src/a.ts": "@Component({ templateUrl: './x/a.html', styleUrl: './x/a.css', " +
				"styleUrls: ['./x/b.css'] })\nexport class A {}\n"}},
		{"settings by other names", "a: { at: texts/, from: [content/**] }",
			"-- content/notes/a.md --\n-- gatsby-config.js --\n" +
				"module.exports = { plugins: [{ options: { path: './content/notes/' } }] }\n-- .storybook/main.js --\n" +
				"module.exports = { stories: ['../content/**/*.md'] }\n",
			"",
			map[string]string{"gatsby-config.js": "module.exports = { plugins: [{ options: { path: './texts/notes/' } " +
				"}] }\n", ".storybook/main.js": "module.exports = { stories: ['../texts/**/*.md'] }\n"}},
		{"a string whose place speaks of files", "a: { at: src/x/, from: [src/a/**] }",
			"-- src/a/night.txt --\n-- src/main.js --\n" +
				"watch('./a/night.txt', { file: './a/night.txt', title: './a/night.txt' })\n",
			"",
			map[string]string{"src/main.js": "watch('./x/night.txt', { file: './x/night.txt', title: './a/night.txt' " +
				"})\n"}},
		{"paths against the old base", "a: { at: app/core/, from: [src/**] }",
			"-- tsconfig.json --\n" +
				"{ \"compilerOptions\": { \"baseUrl\": \"./src\", \"paths\": { \"@/*\": [\"./*\"], \"~lib/*\": " +
				"[\"../lib/*\"] } } }\n-- lib/z.ts --\n-- src/a.ts --\nimport '@/b'\nimport '~lib/z'\n-- src/b.ts --\n",
			"", map[string]string{"tsconfig.json": "{ \"compilerOptions\": { \"baseUrl\": \"./app/core\", \"paths\": " +
				"{ \"@/*\": [\"./*\"], \"~lib/*\": [\"../../lib/*\"] } } }\n",
				"app/core/a.ts": "import '@/b'\nimport '~lib/z'\n"}},
		{"an ending that the compiler refuses", "a: { at: src/x/, from: [src/a/**] }",
			"-- tsconfig.json --\n{}\n-- src/a/index.tsx --\n-- src/x/index.ts --\n-- src/main.ts --\nimport './a'\n",
			"src/a/index.tsx: src/main.ts:1:9 refers to it as \"./a\", and no new spelling of that leads to it", nil},
		{"a container that is built from the top", "a: { at: server/, from: [src/**] }",
			"-- src/a.js --\n-- docker/Dockerfile --\nCOPY src ./src\n-- compose.yaml --\n" +
				"services: { desk: { build: { context: ., dockerfile: docker/Dockerfile } } }\n",
			"", map[string]string{"docker/Dockerfile": "COPY server ./server\n"}},
		{"an address in settings", "a: { at: texts/, from: [blog/**] }",
			"-- blog/a.md --\n-- site.config.js --\n" +
				"export default { nav: [{ to: '/blog', label: 'x' }], publicPath: '/blog/' }\n", "",
			map[string]string{"site.config.js": "export default { nav: [{ to: '/blog', label: 'x' }], publicPath: " +
				"'/blog/' }\n"}},
		{"files that a server gives out", "a: { at: web/, from: [public/**] }",
			"-- package.json --\n{}\n-- app.js --\nuse(express.static(path.join(__dirname, 'public')))\n" +
				"-- public/a.css --\n-- views/a.html --\n<link href=\"/a.css\">\n",
			"", map[string]string{"app.js": "use(express.static(path.join(__dirname, 'web')))\n",
				"views/a.html": "<link href=\"/a.css\">\n"}},
		{"what users of a package import", "a: { at: src/deep/, from: [src/a.js] }",
			"-- package.json --\n{\"name\": \"hill\", \"exports\": {\"./*\": \"./src/*.js\"}}\n-- src/a.js --\n" +
				"-- src/b.js --\n",
			"src/a.js: package.json:1:38 gives it to users of the package as \"a\", which would become \"deep/a\"; " +
				"--allow-addresses lets it", nil},
		{"settings in YAML without an ending", "a: { at: texts/, from: [docs/**] }",
			"-- .prettierrc --\noverrides:\n  - files: 'docs/**/*.md'\n    options: { tabWidth: 2 }\n-- docs/a.md --\n",
			"",
			map[string]string{".prettierrc": "overrides:\n  - files: 'texts/**/*.md'\n    options: { tabWidth: 2 }\n"}},
		{"formats of schemas", "a: { at: api/x/, from: [api/a.graphql, api/c.proto] }",
			"-- api/a.graphql --\n-- api/b.graphql --\n#import \"./a.graphql\"\n-- api/c.proto --\n-- api/d.proto --\n" +
				"import \"api/c.proto\";\n",
			"", map[string]string{"api/b.graphql": "#import \"./x/a.graphql\"\n",
				"api/d.proto": "import \"api/x/c.proto\";\n"}},
		{"a file of one kind that is plain data", "a: { at: web/x/, from: [web/*] }\ndata: [\"*.webapp\"]",
			"-- web/a.webapp --\n\"../README.md\"\n-- README.md --\n-- web/b.js --\n", "", nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			text := "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [src/main.ts, src/main.js] }\nshelves:\n  " +
				c.shelves + "\n" + c.tree
			made, g := build(t, text)
			var got []string
			for _, b := range made.Blocked {
				got = append(got, b.From+": "+b.Reason)
			}
			assert.Equal(t, c.blocked, strings.Join(got, "\n"))
			files := after(t, text, made, g)
			for p, want := range c.want {
				assert.Equal(t, want, files[p], p)
			}
		})
	}
}
