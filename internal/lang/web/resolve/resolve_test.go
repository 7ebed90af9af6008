package resolve

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

const packages = `
-- package.json --
{"name": "hill", "workspaces": ["packages/*"], "imports": {"#log": "./src/log.ts", "#parts/*": "./src/parts/*.ts", "#out": "chart"}, "devDependencies": {"chart": "1", "@types/shape": "1", "@types/a__b": "1"}}
-- tsconfig.json --
{
  // comments and trailing commas
  "compilerOptions": {"module": "esnext", "moduleResolution": "bundler", "paths": {"@/*": ["./src/*"], "@/sky": ["./src/parts/sky.ts"], "~x": ["./none/x", "./src/log.ts"], "*": ["./types/*"]}},
}
-- types/ambient.d.ts --
declare module "made-*" { const x: string; export default x }
-- src/main.ts --
-- src/log.ts --
-- src/both.ts --
-- src/both/index.ts --
-- src/parts/sky.ts --
-- src/parts/index.tsx --
-- src/parts/sky.css --
-- src/parts/plain.js --
-- src/parts/plain.d.ts --
-- src/parts/m.mts --
-- src/parts/c.cts --
-- src/parts/data.json --
-- src/parts/style.css --
-- src/parts/style.d.css.ts --
-- src/parts/odd#name.ts --
-- src/old.js --
-- src/widget.jsx --
-- base/tsconfig.json --
{"extends": "./shared", "compilerOptions": {"baseUrl": "lib", "moduleResolution": "node10"}}
-- base/shared.json --
{"extends": "./tsconfig.json", "compilerOptions": {"rootDirs": ["one", "two"]}}
-- base/main.ts --
-- base/lib/deep/a.ts --
-- base/lib/both.js --
-- base/lib/both/index.ts --
-- base/one/a.ts --
-- base/two/b.ts --
-- split/tsconfig.json --
{"files": [], "references": [{"path": "./tsconfig.app.json"}]}
-- split/tsconfig.app.json --
{"include": ["src"], "compilerOptions": {"paths": {"app/*": ["./src/*"]}}}
-- split/src/a.ts --
-- split/src/b.ts --
-- packages/core/package.json --
{"name": "@hill/core", "exports": {".": {"types": "./src/index.ts", "default": "./dist/index.js"}, "./sub/*": "./src/sub/*.ts", "./compiled": "./dist/made.js", "./closed": null}}
-- packages/core/tsconfig.json --
{"compilerOptions": {"outDir": "dist", "rootDir": "src"}}
-- packages/core/src/index.ts --
-- packages/core/src/made.ts --
-- packages/core/src/sub/a.ts --
-- packages/loose/package.json --
{"name": "loose", "main": "./lib/main", "type": "module"}
-- packages/loose/lib/main.js --
-- packages/loose/extra/index.js --
-- packages/loose/user.js --
-- packages/broken/package.json --
{"name": 
-- packages/broken/a.ts --
-- packages/broken/b.ts --
`

func TestResolve(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, packages)
	r := newResolver(known(tree))
	cases := []struct{ from, spec, want string }{
		// by path
		{"src/main.ts", "./log", "src/log.ts"},
		{"src/main.ts", "./log.js", "src/log.ts"},
		{"src/main.ts", "./log.ts", "src/log.ts"},
		{"src/main.ts", "./both", "src/both.ts"},
		{"src/main.ts", "./both/", "src/both/index.ts"},
		{"src/main.ts", "./parts", "src/parts/index.tsx"},
		{"src/parts/sky.ts", ".", "src/parts/index.tsx"},
		{"src/parts/sky.ts", "..", "nothing"},
		{"src/parts/sky.ts", "../parts/sky.js", "src/parts/sky.ts"},
		{"src/main.ts", "./parts/sky.css", "src/parts/sky.css"},
		{"src/main.ts", "./parts/sky.css?inline", "src/parts/sky.css"},
		{"src/main.ts", "raw!./parts/sky.css", "src/parts/sky.css"},
		{"src/main.ts", "./parts/plain", "src/parts/plain.d.ts and src/parts/plain.js"},
		{"src/old.js", "./parts/plain.js", "src/parts/plain.js and src/parts/plain.d.ts"},
		{"src/main.ts", "./parts/m.mjs", "src/parts/m.mts"},
		{"src/main.ts", "./parts/m", "nothing"},
		{"src/main.ts", "./parts/c.cjs", "src/parts/c.cts"},
		{"src/main.ts", "./parts/data.json", "src/parts/data.json"},
		{"src/main.ts", "./parts/style.css", "src/parts/style.d.css.ts"},
		{"src/main.ts", "./parts/odd#name", "src/parts/odd#name.ts"},
		{"src/main.ts", "./widget.jsx", "src/widget.jsx"},
		{"src/main.ts", "./missing", "nothing"},
		{"src/main.ts", "../../beyond", "outside"},
		{"src/main.ts", "/src/log", "outside"},
		// by name
		{"src/main.ts", "@/log", "src/log.ts"},
		{"src/main.ts", "@/sky", "src/parts/sky.ts"},
		{"src/main.ts", "@/parts", "src/parts/index.tsx"},
		{"src/main.ts", "~x", "src/log.ts"},
		{"src/main.ts", "@/missing", "nothing"},
		{"src/main.ts", "ambient", "types/ambient.d.ts"},
		{"src/main.ts", "chart", "package"},
		{"src/main.ts", "chart/deep", "package"},
		{"src/main.ts", "node:fs", "package"},
		{"src/main.ts", "fs/promises", "package"},
		{"src/main.ts", "shape", "package"},
		{"src/main.ts", "@a/b/c", "package"},
		{"src/main.ts", "unlisted", "nothing"},
		{"src/main.ts", "~/log", "nothing"},
		{"src/main.ts", "$lib/log", "nothing"},
		{"src/main.ts", "made-up", "package"}, // a file of types declares it
		{"src/main.ts", "#log", "src/log.ts"},
		{"src/main.ts", "#parts/sky", "src/parts/sky.ts"},
		{"src/main.ts", "#out", "package"},
		{"src/main.ts", "#none", "nothing"},
		{"src/main.ts", "@hill/core", "packages/core/src/index.ts"},
		{"src/main.ts", "@hill/core/sub/a", "packages/core/src/sub/a.ts"},
		{"src/main.ts", "@hill/core/compiled", "packages/core/src/made.ts"},
		{"src/main.ts", "@hill/core/closed", "nothing"},
		{"src/main.ts", "@hill/core/src/index", "nothing"},
		{"packages/core/src/made.ts", "@hill/core", "packages/core/src/index.ts"},
		{"src/main.ts", "loose", "packages/loose/lib/main.js"},
		{"src/main.ts", "loose/extra", "packages/loose/extra/index.js"},
		// by other settings
		{"base/main.ts", "deep/a", "base/lib/deep/a.ts"},
		{"base/main.ts", "./lib/both", "base/lib/both/index.ts"},
		{"base/one/a.ts", "./b", "base/two/b.ts"},
		{"split/src/a.ts", "app/b", "split/src/b.ts"},
		{"packages/broken/a.ts", "./b", "packages/broken/b.ts"},
	}
	for _, c := range cases {
		from, ok := tree.Lookup(c.from)
		require.True(t, ok, c.from)
		assert.Equal(t, c.want, describe(tree, r.Resolve(from, &lang.Mention{Text: c.spec, Kind: script.Import})),
			"%s from %s", c.spec, c.from)
	}
	assert.Len(t, r.warnings, 2)
	assert.Contains(t, r.warnings[0], "base/tsconfig.json extends itself, by way of base/shared.json")
	assert.Contains(t, r.warnings[1], "packages/broken/package.json: not valid JSON")
}

func describe(tree *project.Project, target lang.Target) string {
	switch target.Kind {
	case lang.ToNothing:
		return "nothing"
	case lang.ToPackage:
		return "package"
	case lang.ToOutside:
		return "outside"
	}
	if target.Twin != project.None {
		return tree.Path(target.File) + " and " + tree.Path(target.Twin)
	}
	return tree.Path(target.File)
}

func TestResolveOtherKinds(t *testing.T) {
	t.Parallel()
	tree := projecttest.Load(t, packages)
	r := newResolver(known(tree))
	from, _ := tree.Lookup("src/main.ts")
	cases := []struct {
		from project.FileID
		kind *lang.Kind
		text string
		want string
	}{
		{from, script.ReferencePath, "log.ts", "src/log.ts"},
		{from, script.ReferencePath, "../types/ambient.d.ts", "types/ambient.d.ts"},
		{from, script.ReferencePath, "nowhere.ts", "nothing"},
		{from, script.ReferenceTypes, "node", "package"},
		{from, script.DeclareModule, "./log", "src/log.ts"},
		{from, script.DeclareModule, "*.css", "package"},
		{from, script.DeclareModule, "./missing", "package"},
		{from, script.Mock, "./log", "src/log.ts"},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, describe(tree, r.Resolve(c.from, &lang.Mention{Text: c.text, Kind: c.kind})), "%s %s",
			c.kind, c.text)
	}
}

// Each row moves files and says what one mention becomes.
func TestSpell(t *testing.T) {
	t.Parallel()
	const settings = `
-- package.json --
{"name": "hill", "workspaces": ["packages/*"], "imports": {"#parts/*": "./src/parts/*.ts"}}
-- tsconfig.json --
{"compilerOptions": {"moduleResolution": "bundler", "module": "esnext", "baseUrl": ".", "paths": {"@/*": ["src/*"], "@parts/*": ["src/parts/*"], "one": ["src/parts/sky.ts"]}}}
-- src/main.ts --
-- src/parts/sky.ts --
-- src/parts/index.ts --
-- src/parts/m.mts --
-- src/parts/w.tsx --
-- src/parts/a.css --
-- src/deep/er/x.ts --
-- packages/core/package.json --
{"name": "@hill/core", "exports": {"./*": "./src/*.ts"}}
-- packages/core/src/a.ts --
-- packages/loose/package.json --
{"name": "loose"}
-- packages/loose/b.ts --
`
	cases := []struct{ from, spec, moves, want string }{
		{"src/main.ts", "./parts/sky", "src/parts/sky.ts>src/sky/it.ts", "./sky/it"},
		{"src/main.ts", "./parts/sky.js", "src/parts/sky.ts>src/sky/it.ts", "./sky/it.js"},
		{"src/main.ts", "./parts/sky.ts", "src/parts/sky.ts>src/sky/it.ts", "./sky/it.ts"},
		{"src/main.ts", "./parts/m.mjs", "src/parts/m.mts>m.mts", "../m.mjs"},
		{"src/main.ts", "./parts/w.jsx", "src/parts/w.tsx>w.tsx", "../w.jsx"},
		{"src/main.ts", "./parts", "src/parts/index.ts>src/all/index.ts", "./all"},
		{"src/main.ts", "./parts/", "src/parts/index.ts>src/all/index.ts", "./all/"},
		{"src/main.ts", "./parts/index", "src/parts/index.ts>src/all/index.ts", "./all/index"},
		{"src/main.ts", "./parts", "src/parts/index.ts>src/parts/all.ts", "./parts/all"},
		{"src/parts/sky.ts", ".", "src/parts/sky.ts>src/sky.ts", "./parts"},
		{"src/parts/sky.ts", "./index", "src/parts/sky.ts>src/deep/sky.ts", "../parts/index"},
		{"src/main.ts", "./parts/a.css?inline#x", "src/parts/a.css>src/a.css", "./a.css?inline#x"},
		{"src/main.ts", "raw!./parts/a.css", "src/parts/a.css>src/a.css", "raw!./a.css"},
		{"src/deep/er/x.ts", "../../main", "src/deep/er/x.ts>x.ts", "./src/main"},
		{"src/main.ts", "@/parts/sky", "src/parts/sky.ts>src/sky.ts", "@/sky"},
		{"src/main.ts", "@parts/sky", "src/parts/sky.ts>src/parts/deep/sky.ts", "@parts/deep/sky"},
		{"src/main.ts", "@parts/sky", "src/parts/sky.ts>src/sky.ts", "@/sky"},
		{"src/main.ts", "@/main", "src/main.ts>src/parts/main.ts", "@/parts/main"},
		{"src/deep/er/x.ts", "@parts/sky", "src/deep/er/x.ts>x.ts", "@parts/sky"},
		{"src/main.ts", "src/parts/sky", "src/parts/sky.ts>src/sky.ts", "src/sky"},
		{"src/main.ts", "#parts/sky", "src/parts/sky.ts>src/parts/new/sky.ts", "#parts/new/sky"},
		{"src/main.ts", "@hill/core/a", "packages/core/src/a.ts>packages/core/src/in/a.ts", "@hill/core/in/a"},
		{"src/main.ts", "loose/b", "packages/loose/b.ts>packages/loose/in/b.ts", "loose/in/b"},
		{"src/main.ts", "@parts/sky", "src/parts/sky.ts>other/sky.ts", "../other/sky"},
	}
	for _, c := range cases {
		tree := projecttest.Load(t, settings)
		moves := map[project.FileID]string{}
		for pair := range strings.SplitSeq(c.moves, " ") {
			from, to, _ := strings.Cut(pair, ">")
			id, ok := tree.Lookup(from)
			require.True(t, ok, from)
			moves[id] = to
		}
		next, newID, err := tree.Overlay(moves, nil, nil)
		require.NoError(t, err)
		from, _ := tree.Lookup(c.from)
		old, now := newResolver(known(tree)), newResolver(known(next))
		m := &lang.Mention{Text: c.spec, Kind: script.Import}
		before := old.Resolve(from, m)
		require.Equal(t, lang.ToFile, before.Kind, c.spec)
		got, ok := now.Spell(lang.Respelling{Old: old, OldFrom: from, From: newID[from], Before: before,
			Target: lang.File(newID[before.File]), Mention: m})
		assert.True(t, ok, fmt.Sprint(c))
		assert.Equal(t, c.want, got.Text, fmt.Sprint(c))
		noName := c.want == "../other/sky" // no alias reaches there
		assert.Equal(t, noName, got.Remark != "", got.Remark)
	}
}

// What a framework defines without a line of settings is known by the packages that a manifest lists.
func TestFrameworks(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, tree, from, spec, want string }{
		{"a library's folder", "-- package.json --\n{\"devDependencies\": {\"@sveltejs/kit\": \"2\"}}\n" +
			"-- src/lib/a.ts --\n-- src/routes/+page.ts --\n", "src/routes/+page.ts", "$lib/a", "src/lib/a.ts"},
		{"one that settings move", "-- package.json --\n{\"devDependencies\": {\"@sveltejs/kit\": \"2\"}}\n" +
			"-- svelte.config.js --\nexport default { kit: { files: { lib: 'code/' } } }\n-- code/a.ts --\n" +
			"-- src/b.ts --\n", "src/b.ts", "$lib/a", "code/a.ts"},
		{"the framework's own modules",
			"-- package.json --\n{\"devDependencies\": {\"@sveltejs/kit\": \"2\"}}\n-- src/b.ts --\n", "src/b.ts",
			"$app/stores", "package"},
		{"a source folder by version", "-- package.json --\n{\"dependencies\": {\"nuxt\": \"^4.1.0\"}}\n" +
			"-- app/a.ts --\n-- nuxt.config.ts --\nexport default defineNuxtConfig({})\n", "app/a.ts", "~/a",
			"app/a.ts"},
		{"an older one", "-- package.json --\n{\"dependencies\": {\"nuxt\": \"^3.1.0\"}}\n-- app/a.ts --\n-- b.ts --\n",
			"app/a.ts", "@/b", "b.ts"},
		{"one that settings name", "-- package.json --\n{\"dependencies\": {\"nuxt\": \"^3.1.0\"}}\n" +
			"-- nuxt.config.ts --\nexport default defineNuxtConfig({ srcDir: 'source/' })\n-- source/a.ts --\n" +
			"-- b.ts --\n", "source/a.ts", "~~/b", "b.ts"},
		{"a site",
			"-- package.json --\n{\"dependencies\": {\"@docusaurus/core\": \"3\"}}\n-- src/a.tsx --\n-- docs/x.ts --\n",
			"docs/x.ts", "@site/src/a", "src/a.tsx"},
		{"the own name", "-- package.json --\n{\"name\": \"hill\", \"devDependencies\": {\"ember-source\": \"5\"}}\n" +
			"-- app/a.js --\n-- config/environment.js --\n", "app/a.js", "hill/config/environment",
			"config/environment.js"},
		{"a workspace that stands in a file of its own", "-- package.json --\n{}\n-- pnpm-workspace.yaml --\n" +
			"packages:\n  - 'p/*'\n-- p/core/package.json --\n{\"name\": \"core\", \"main\": \"a.js\"}\n" +
			"-- p/core/a.js --\n-- p/desk/b.js --\n", "p/desk/b.js", "core", "p/core/a.js"},
	} {
		tree := projecttest.Load(t, c.tree)
		from, ok := tree.Lookup(c.from)
		require.True(t, ok, c.name)
		assert.Equal(t, c.want, describe(tree,
			newResolver(known(tree)).Resolve(from, &lang.Mention{Text: c.spec, Kind: script.Import})), c.name)
	}
}

// known is a tree whose files of types are read.
func known(p *project.Project) *lang.Tree {
	return lang.NewTree(p, nil, lang.Family{
		Reads: func(p string) bool { _, is := script.DialectOf(p); return is },
		Index: IndexOf,
	})
}
