package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project/projecttest"
)

// A condition that can't be known of any file is an error where it stands; one that can't be known of some is reported.
func TestWhatIsNotRead(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct{ text, fails string }{
		"declares": {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a:\n    at: a/\n    takes: [{ name: \"*.abap\", declares: class }]\n",
			"crooked.yaml:5:1: files like *.abap are not read by this version, so declares, extends and marked can't be " +
				"known of them"},
		"imports": {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, takes: [{ name: \"*.abap\", imports: x }] }\n",
			"so imports can't be known of them"},
		"declares in a style sheet": {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, takes: [{ name: \"*.css\", declares: class }] }\n",
			"files like *.css are not read"},
		"uses": {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, uses: [] }\n-- a/x.abap --\n",
			"crooked.yaml:3:1: no file on a is read by this version, as a/x.abap is not"},
		"a name that is read":    {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, takes: [{ name: \"*.ts\", declares: class }] }\n", ""},
		"any name":               {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, takes: [{ name: \"*.*\", declares: class }] }\n", ""},
		"uses of data alone":     {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, uses: [] }\n-- a/x.png --\n", ""},
		"uses of a style sheet":  {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, uses: [] }\n-- a/x.css --\n", ""},
		"uses of an empty shelf": {"-- crooked.yaml --\ncrooked: 1\nshelves:\n  a: { at: a/, uses: [] }\n", ""},
	} {
		dir := t.TempDir()
		projecttest.Write(t, dir, c.text)
		p, err := engine.Open(dir, "")
		if c.fails != "" {
			assert.ErrorContains(t, err, c.fails, name)
			continue
		}
		require.NoError(t, err, name)
		p.Close()
	}
}

func TestUnseen(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- crooked.yaml --
crooked: 1
leave: { stay: [kept/**] }
shelves:
  jobs: { at: jobs/<job>/, apart: true, inside: { deep: {} } }
  plain: plain/
-- jobs/x/a.ts --
-- jobs/x/b.awk --
-- jobs/y/deep/c.awk --
-- jobs/y/d.abap --
-- plain/e.awk --
-- kept/f.awk --
`)
	early, whole := checked(t, dir)
	assert.Equal(t, whole, early)
	var got []string
	for _, f := range early.Findings {
		require.Equal(t, finding.Unseen, f.Rule)
		assert.Equal(t, finding.Warn, f.Level)
		got = append(got, f.Path+": "+f.Reason)
	}
	assert.Equal(t, []string{
		"jobs/x/b.awk: b.awk and 1 more like it are not read: judged by name and place alone, and not by jobs.apart",
		"jobs/y/d.abap: d.abap is not read: judged by name and place alone, and not by jobs.apart",
	}, got)
}

// What a convention says and nothing in the project fits is listed.
func TestIdle(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- crooked.yaml --
crooked: 1
shelves:
  parts: src/parts/
  charts: src/charts/
aliases:
  "@/*": src/*
  "@old/*": old/*
mentions:
  - { in: a.yaml, key: x, file: <path> }
  - { in: a.yaml, key: y, file: <path> }
  - { file: src/parts/<name>.ts, loaded: by name }
  - { file: src/gone/<name>.ts, loaded: by name }
  - { in: a.yaml, key: z, is: text }
  - { in: b.yaml, key: z, is: text }
settings:
  - { in: tsconfig.json, set: { compilerOptions: { strict: true } } }
  - { in: jsconfig.json, set: { a: 1, b: 2 } }
-- a.yaml --
x: src/parts/a.ts
z: src/parts/a.ts
-- tsconfig.json --
{"compilerOptions": {"strict": true, "paths": {"@/*": ["./src/*"]}}}
-- main.ts --
-- src/parts/a.ts --
import '@/parts/b'
-- src/parts/b.ts --
`)
	early, whole := checked(t, dir)
	assert.Equal(t, whole, early)
	assert.Equal(t, []engine.Idle{
		{What: "shelf", Name: "charts", Line: 4, Convention: "crooked.yaml"},
		{What: "mention", Line: 10, Convention: "crooked.yaml"},
		{What: "mention", Line: 12, Convention: "crooked.yaml"},
		{What: "mention", Line: 14, Convention: "crooked.yaml"},
		{What: "alias", Name: "@old/*", Line: 7, Convention: "crooked.yaml"},
		{What: "setting", Name: "jsconfig.json", Line: 17, Convention: "crooked.yaml"},
	}, early.Idle)
	assert.Equal(t, 6, early.All)
	assert.Equal(t, 2, early.Files)
	assert.Equal(t, 3, early.Unspoken)
	assert.Equal(t, []string{"main.ts"}, early.UnspokenSources)
}

// Where leave keeps what from would take, both lines are shown.
func TestKept(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- crooked.yaml --
crooked: 1
leave: { stay: [src/*.ts], generated: [src/api/**] }
shelves:
  parts: { at: src/parts/, from: ["src/components/**", "src/api/**", "src/*"] }
-- src/a.ts --
-- src/b.ts --
-- src/api/c.ts --
-- src/components/d.ts --
`)
	early, _ := checked(t, dir)
	assert.Equal(t, []engine.Kept{
		{Line: 2, Shelf: "parts", ShelfLine: 4, Files: 3, First: "src/a.ts", Convention: "crooked.yaml"},
	}, early.Kept)
}

func TestAPlanSaysWhatHasNoShelf(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, "-- crooked.yaml --\ncrooked: 1\nshelves: { parts: src/parts/, pages: src/pages/ }\n"+
		"-- src/parts/a.ts --\n-- src/b.ts --\n-- src/c.ts --\n")
	p, err := engine.Open(dir, "")
	require.NoError(t, err)
	defer p.Close()
	made, _, err := p.Plan(engine.PlanOptions{})
	require.NoError(t, err)
	assert.Equal(t, 2, made.Homeless)
	c, err := p.Check(engine.CheckOptions{Today: time.Now()})
	require.NoError(t, err)
	assert.Len(t, c.Findings, 2)
}

// Each line is a reference that leads nowhere and the rest lead somewhere, or may mean what a build writes.
func TestDangling(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- crooked.yaml --
crooked: 1
shelves: { src: src/ }
-- package.json --
{ "name": "x", "main": "src/gone.js", "types": "dist/x.d.ts", "scripts": { "a": "node src/gone2.js", "b": "node src/here.js",
  "c": "node dist/made.js" }, "bin": { "x": "bin/gone.js" }, "files": ["lib"], "exports": { ".": "./src/none.js" } }
-- index.html --
<script src="./src/gone.js"></script><script src="/src/gone.js"></script><img src="img/gone.png"><a href="https://x.y/z">z</a>
<img src="made/all.png"><img src="img/sky.png"><img src="img/view">
-- .gitignore --
made/
-- shown/img/sky.png --
-- README.md --
See [the guide](docs/gone.md) and [x](src/here.js#top) and [web](https://x.y/z) and [top](#a) and [a](/b) and [c]({d})
-- tsconfig.json --
{ "extends": "./gone.json", "compilerOptions": { "outDir": "./build" }, "files": ["src/gone.ts"], "include": ["gone/**/*"] }
-- tool/tsconfig.json --
{ "compilerOptions": { "baseUrl": "./gone", "rootDir": "made", "paths": { "@/*": ["lib/*"], "one": ["one"], "in": ["../src/*"],
  "of": ["gone/*", "../src/*"], "m/*": ["../made/*"], "n": ["../node_modules/n"], "h": ["../../src/here"] } }, "extends": "base",
  "references": [{ "path": "../gone" }, { "path": "sub" }] }
-- tool/sub/tsconfig.json --
{ "extends": ["../../gone", "../tsconfig"] }
-- .github/workflows/ci.yml --
jobs: { a: { steps: [{ uses: ./.github/actions/gone }, { uses: ./.github/actions/there }, { run: node scripts/made.js }] } }
-- .github/actions/there/action.yml --
name: there
-- src/here.js --
-- src/a.css --
a { background: url(gone.png) }
-- src/page.vue --
<template><img src="./gone.png"><img :src="./{x}.png"></template>
`)
	early, whole := checked(t, dir)
	assert.Equal(t, whole.Findings, early.Findings)
	var got []string
	for _, f := range early.Findings {
		got = append(got, f.Path+":"+f.At+" "+f.Reason)
	}
	assert.Equal(t, []string{
		`.github/workflows/ci.yml:1:30 setting "./.github/actions/gone" leads nowhere`,
		`README.md:1:17 link "docs/gone.md" leads nowhere`,
		`index.html:1:14 asset "./src/gone.js" leads nowhere`,
		`index.html:1:84 asset "img/gone.png" leads nowhere`,
		`package.json:1:25 setting "src/gone.js" leads nowhere`,
		`package.json:1:87 setting word "src/gone2.js" leads nowhere`,
		`package.json:2:99 setting "./src/none.js" leads nowhere`,
		`src/a.css:1:21 style asset "gone.png" leads nowhere`,
		`src/page.vue:1:21 asset "./gone.png" leads nowhere`,
		`tool/sub/tsconfig.json:1:16 setting "../../gone" leads nowhere`,
		`tool/tsconfig.json:1:36 setting "./gone" leads nowhere`,
		`tool/tsconfig.json:1:84 alias "lib/*" leads nowhere`,
		`tool/tsconfig.json:1:102 alias "one" leads nowhere`,
		`tool/tsconfig.json:1:117 alias "../src/*" leads nowhere`,
		`tool/tsconfig.json:3:29 setting "../gone" leads nowhere`,
		`tsconfig.json:1:15 setting "./gone.json" leads nowhere`,
		`tsconfig.json:1:84 setting "src/gone.ts" leads nowhere`,
	}, got)
}
