package cli_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// Packages of npm that can't be made are reported, with the place, before anything moves.
func TestBadPackagesOfNpm(t *testing.T) {
	t.Parallel()
	const (
		manifest = "-- package.json --\n{ \"name\": \"hilltop\", \"private\": true, \"dependencies\": { \"chalk\": \"5\", \"react-scripts\": \"5\" } }\n"
		two      = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: NAME, inside: { src: { at: src/, from: [{ src/one/**: {} }] } } }\n" +
			"  two: { at: parts/two/, package: true, inside: { src: { at: src/, from: [{ src/two/**: {} }] } } }\n"
		rest = "  rest: { at: src/ }\n"
	)
	var rows []badInput
	for _, row := range []struct{ name, called, files, says string }{
		{"a circle", "true", manifest + "-- src/one/a.js --\nimport '../two/b.js'\n-- src/two/b.js --\n\nrequire('../one/a')\n",
			"packages may not need one another in a circle: parts/one needs parts/two (src/one/a.js:1: ../two/b.js), parts/two needs parts/one (src/two/b.js:2: ../one/a)"},
		{"two of one name", "two", manifest + "-- src/one/a.js --\n-- src/two/b.js --\n", "has the name two already"},
		{"no name", "One", manifest + "-- src/one/a.js --\n-- src/two/b.js --\n", `"One" is no name of a package: small letters`},
		{"a module of the platform", "util", manifest + "-- src/one/a.js --\n-- src/two/b.js --\n", "util is a module of the platform"},
		{"the name of a library", "chalk", manifest + "-- src/one/a.js --\n-- src/two/b.js --\n\nimport 'chalk'\n", "chalk is the name of a library too (src/two/b.js:2)"},
		{"what stays at the root", "true", manifest + "-- src/one/a.js --\nimport '../main.js'\n-- src/main.js --\n",
			"it needs src/main.js (src/one/a.js:1: ../main.js), and no package can ask for the one at the root: let the file go into a package too"},
		{"a builder that compiles no other package", "true", manifest + "-- src/one/a.jsx --\n-- src/main.js --\nimport './one/a'\n",
			"react-scripts compiles nothing outside of src, and src/one/a.jsx must be compiled"},
		{"a builder that must be told", "true", "-- package.json --\n{ \"name\": \"hilltop\" }\n-- src/two/package.json --\n{ \"name\": \"two\", \"dependencies\": { \"next\": \"16\" } }\n" +
			"-- src/one/a.tsx --\n-- src/two/b.js --\nimport '../one/a'\n", "next.config must have transpilePackages: ['one'] first"},
		{"a manifest that does not parse", "true", "-- package.json --\n{ \"name\": \n-- src/one/a.js --\n-- src/two/b.js --\n", "no package.json says what its files are of"},
	} {
		rows = append(rows, badInput{row.name, row.files + strings.Replace(two, "NAME", row.called, 1) + rest, row.says})
	}
	const one = "-- src/one/a.js --\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\n"
	rows = append(rows,
		badInput{"a template that is not valid", manifest + "-- part.json --\n{ \"name\": 1, }}\n" + one +
			"shelves: { one: { at: parts/one/, package: { template: part.json }, inside: { src: { at: src/, from: [{ src/one/**: {} }] } } } }\n",
			"the text that its package.json begins with is not valid JSON"},
		badInput{"a package beside its workspace", "-- app/package.json --\n{ \"name\": \"app\" }\n" + strings.Replace(one, "src/", "app/src/", 1) +
			"shelves: { one: { at: parts/one/, package: true, inside: { src: { at: src/, from: [{ app/src/one/**: {} }] } } } }\n",
			"app/package.json is the manifest of all packages, and this folder does not lie below it"})
	for _, row := range []struct{ name, script, says string }{
		{"nothing that compiles", "", "tsconfig.json writes scripts into dist, and no script calls the compiler (tsc)"},
		{"a builder with ways of its own", "nest build", "tsconfig.json writes scripts into dist, and no script calls the compiler (tsc)"},
		{"another compiler file", "tsc -p tsconfig.build.json", "the script build compiles by tsconfig.build.json, and the files of the package are of tsconfig.json"},
	} {
		rows = append(rows, badInput{row.name, "-- package.json --\n{ \"name\": \"hilltop\", \"scripts\": { \"build\": \"" + row.script + "\" } }\n" +
			"-- tsconfig.json --\n{ \"compilerOptions\": { \"outDir\": \"dist\" } }\n-- tsconfig.build.json --\n{ \"extends\": \"./tsconfig.json\" }\n" +
			"-- src/one/a.ts --\n-- src/two/b.ts --\n" + strings.Replace(two, "NAME", "true", 1), row.says})
	}
	badInputs(t, rows, "plan")
}

// What a reader should know of packages that are made stands in the plan.
func TestNotesOnPackagesOfNpm(t *testing.T) {
	t.Parallel()
	const (
		convention = "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n" +
			"  one: { at: parts/one/, package: true, inside: { src: { at: src/, from: [{ src/one/**: {} }] } } }\n  rest: { at: src/ }\n"
		manifest = "-- package.json --\n{\n  \"name\": \"hilltop\",\n  \"private\": true,\n  \"dependencies\": {\n    \"chalk\": \"5\",\n    \"nobody\": \"1\"\n  }\n}\n"
		main     = "-- src/main.js --\nimport './one/a.js'\n"
	)
	badInputs(t, []badInput{
		{"a library that nobody names", convention + manifest + "-- src/one/a.js --\nimport 'chalk'\n", "note: package.json:6: no code names nobody, so no package asks for it"},
		{"a library that no manifest asks for", convention + manifest + main + "-- src/one/a.js --\n\nimport 'fs'\nimport 'express'\n-- node_modules/express/package.json --\n{}\n",
			"note: src/one/a.js:3: it uses express, which no package.json asks for"},
		{"another name", strings.Replace(convention, "package: true", "package: three", 1) + manifest + "-- parts/one/package.json --\n{ \"name\": \"two\" }\n" + main + "-- src/one/a.js --\n",
			"note: parts/one/package.json:1: the package is called two, and the convention calls it three: the name stays"},
		{"a lock file", convention + manifest + main + "-- src/one/a.js --\n-- yarn.lock --\n", "note: yarn.lock:1: it is out of date then: yarn install writes it anew"},
		{"what could be published", convention + strings.Replace(manifest, "  \"private\": true,\n", "", 1) + main + "-- src/one/a.js --\n",
			"note: package.json:1: it does not say that it is private, and so neither do one: they could be published"},
		{"what is read by its path", convention + manifest + "-- src/main.css --\n@import './one/a.css';\n-- src/one/a.css --\n" + main + "-- src/one/a.js --\n",
			"note: src/main.css:1: it reads ./one/a.css by its path, which lies in the package one then"},
		{"an image that installs first", convention + manifest + main + "-- src/one/a.js --\n-- Dockerfile --\nFROM node:22\nCOPY package.json ./\nRUN npm ci\nCOPY . .\n",
			"note: Dockerfile:3: the manifests of the packages are not there yet when this line installs what they ask for"},
		{"types that must be named", convention + strings.Replace(manifest, "{\n", "{\n  \"scripts\": { \"build\": \"tsc\" },\n", 1) + "-- tsconfig.json --\n{ \"compilerOptions\": { \"outDir\": \"dist\" } }\n-- src/main.ts --\nimport './one/a'\n-- src/one/a.ts --\n",
			"note: tsconfig.json:1: the compiler writes types too then"},
	}, "plan")
}

// New manifests are indented as the old one is, and their lines end as its lines do.
func TestMannerOfManifestsOfNpm(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	lines := func(text string) string { return strings.ReplaceAll(text, "\n", "\r\n") }
	projecttest.Write(t, dir, "-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\"] }\nshelves:\n"+
		"  one: { at: parts/one/, package: true, inside: { src: { at: src/, from: [{ src/one/**: {} }] } } }\n  rest: { at: src/ }\n"+
		"-- src/main.js --\nimport './one/a.js'\n-- src/one/a.js --\nimport 'b'\n")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "package.json"), []byte(lines("{\n\t\"name\": \"hilltop\",\n\t\"private\": true,\n\t\"engines\": {\n\t\t\"node\": \">=20\"\n\t},\n"+
		"\t\"dependencies\": {\n\t\t\"b\": \"1\"\n\t}\n}\n")), 0o644))
	require.Zero(t, run(t, dir, "straighten", "--yes").code)
	for file, want := range map[string]string{
		"package.json": "{\n\t\"name\": \"hilltop\",\n\t\"private\": true,\n\t\"engines\": {\n\t\t\"node\": \">=20\"\n\t},\n\t\"dependencies\": {\n\t\t\"one\": \"*\"\n\t},\n" +
			"\t\"workspaces\": [\"parts/one\"]\n}\n",
		"parts/one/package.json": "{\n\t\"name\": \"one\",\n\t\"private\": true,\n\t\"engines\": {\n\t\t\"node\": \">=20\"\n\t},\n\t\"exports\": {\n\t\t\"./a\": \"./src/a.js\"\n\t},\n" +
			"\t\"dependencies\": {\n\t\t\"b\": \"1\"\n\t}\n}\n",
	} {
		content, err := os.ReadFile(filepath.Join(dir, file))
		require.NoError(t, err)
		assert.Equal(t, lines(want), string(content), file)
	}
}
