package plan_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/plan"
)

// moved takes a folder of scripts and a package of Python to other places.
const moved = `
-- crooked.yaml --
crooked: 1
shelves:
  tools: { at: src/tools/, from: [src/helpers/**] }
  desk: { at: service/desk/, from: [desk/**] }
  docs: { at: guide/, from: [docs/**] }
-- src/helpers/dates.ts --
-- src/helpers/deep/stars.ts --
-- src/main.ts --
-- desk/__init__.py --
-- desk/models.py --
-- docs/first.md --
-- docs/[night]/page.md --
`

// Every text that names what moved is listed with where that is now, and with how it would be written, if that can be
// said.
func TestLeftovers(t *testing.T) {
	t.Parallel()
	cases := []struct{ name, tree, want string }{
		{"paths from the root in prose and in files of no known kind",
			"-- a.rst --\nSee src/helpers/dates.ts, src\\helpers\\deep\\stars.ts and ``src/helpers/``.\n" +
				"-- b.proto --\n// src/helpers/dates\n",
			"a.rst:1 src/helpers/ = src/tools/\na.rst:1 src/helpers/dates.ts = src/tools/dates.ts\n" +
				"b.proto:1 src/helpers/dates = src/tools/dates\na.rst:1 src\\helpers\\deep\\stars.ts = ?"},
		{"paths from the file's own folder", "-- src/notes.txt --\n./helpers/dates.ts ../src/helpers/deep ./main.ts\n" +
			"-- x/y.txt --\n../src/helpers/dates.ts\n",
			"src/notes.txt:1 ./helpers/dates.ts = ./tools/dates.ts\n" +
				"x/y.txt:1 ../src/helpers/dates.ts = ../src/tools/dates.ts\n" +
				"src/notes.txt:1 ../src/helpers/deep = ./tools/deep"},
		{"ends of paths, and paths with something in front",
			"-- a.txt --\n@/helpers/dates helpers/dates.ts /app/src/helpers/dates.ts helpers/other deep/stars\n",
			"a.txt:1 /app/src/helpers/dates.ts ~ /app/src/tools/dates.ts\na.txt:1 @/helpers/dates ~ @/tools/dates\n" +
				"a.txt:1 helpers/dates.ts ~ tools/dates.ts"},
		{"patterns", "-- a.toml --\n[x]\n\"src/helpers/*.ts\" = 1\n-- b.txt --\nsrc/helpers/**/*.ts src/*.ts\n",
			"b.txt:1 src/helpers/**/*.ts = src/tools/**/*.ts"},
		{"comments and docstrings", "-- src/main.ts --\n// as in src/helpers/dates.ts\n/* ./helpers/dates */\n" +
			"-- x.py --\n\"\"\"See desk.models.Night and desk/models.py.\"\"\"\ndesk.models.Night = 1 # desk.models\n",
			"x.py:1 desk.models.Night = service.desk.models.Night\nx.py:1 desk/models.py = service/desk/models.py\n" +
				"x.py:2 desk.models = service.desk.models\nsrc/main.ts:1 src/helpers/dates.ts = src/tools/dates.ts\n" +
				"src/main.ts:2 ./helpers/dates = ./tools/dates"},
		{"one segment: with an ending or a slash, or among paths",
			"-- tox.ini --\n[x]\nd = desk\ne = run desk\n-- lint-all --\nmypy desk src\n-- a.md --\n" +
				"The `docs/` and the docs.\n",
			"lint-all:1 desk = service/desk"},
		{"a folder in brackets", "-- a.txt --\n(see docs/[night]/page.md)\n",
			"a.txt:1 docs/[night]/page.md = guide/[night]/page.md"},
		{"a repository's address", "-- a.txt --\nhttps://code.example/hilltop/desk/blob/main/src/helpers/dates.ts " +
			"https://hilltop.example/docs/first\n",
			"a.txt:1 //code.example/hilltop/desk/blob/main/src/helpers/dates.ts ~ " +
				"//code.example/hilltop/desk/blob/main/src/tools/dates.ts"},
		{"a file that moved along names another",
			"-- docs/second.txt --\nfirst.md ../src/helpers/dates.ts desk/models.py\n",
			"guide/second.txt:1 desk/models.py = service/desk/models.py\n" +
				"guide/second.txt:1 ../src/helpers/dates.ts = ../src/tools/dates.ts"},
		{"what names something else",
			"-- a.txt --\nother/dates.ts src/helpers.ts xsrc/helpers/dates.tsx src/helpersx " +
				"desk.modelsx /docs/first\n-- src/helpers.ts --\n", ""},
		{"what is there today",
			"-- src/old/helpers/dates.ts --\n-- a.txt --\nhelpers/dates.ts\n-- guide/first.txt --\n", ""},
		{"a change log, what is built, and data", "-- CHANGELOG.md --\nsrc/helpers/dates.ts\n-- a.map --\n" +
			"{\"sources\":[\"src/helpers/dates.ts\"]}\n-- b.bin --\n\x00src/helpers/dates.ts\n", ""},
		{"an old encoding and broken notebooks", "-- a.latin --\n#: desk/models.py:12 \xe9\xff\n-- a.po --\n" +
			"#: desk/models.py:12\n-- b.ipynb --\n{ \"source\": [\"desk/models.py\"\n",
			"a.latin:1 desk/models.py = service/desk/models.py\nb.ipynb:1 desk/models.py = service/desk/models.py"},
		{"regular expressions and escapes",
			"-- a.py --\nr'desk\\.models' 'desk\\n' 'desk/models.py\\n'\n-- b.js --\n/desk\\/x/.test(desk.models)\n",
			"a.py:1 desk/models.py\\n = ?"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			text := moved + c.tree
			made, _ := build(t, text)
			require.Empty(t, made.Blocked)
			var got []string
			for _, l := range made.Leftovers {
				sign, new := "~", l.New
				if l.Certain {
					sign = "="
				}
				if new == "" {
					new = "?"
				}
				assert.NotEmpty(t, l.Now)
				assert.Contains(t, l.Around, l.Text)
				got = append(got, fmt.Sprintf("%s:%d %s %s %s", l.Path, l.Line, l.Text, sign, new))
			}
			assert.Equal(t, c.want, strings.Join(got, "\n"))
		})
	}
}

// A name of one segment counts in the folder of the file that has it, also if it begins with a dot or stands behind a
// backslash.
func TestLeftoversBesideTheFile(t *testing.T) {
	t.Parallel()
	made, _ := build(t, `
-- crooked.yaml --
crooked: 1
leave: { stay: ["*", src/old/README.txt] }
shelves: { new: { at: src/new/, from: [src/old/**] } }
-- src/old/.env --
-- src/old/a.ts --
-- src/old/README.txt --
copy .env here, and a.ts and .\a.ts, not .envrc, b.ts, .a.ts
`)
	var found []string
	for _, l := range made.Leftovers {
		found = append(found, l.Text+" = "+l.Now)
	}
	assert.Equal(t, []string{".env = src/new/.env", `.\a.ts = src/new/a.ts`, "a.ts = src/new/a.ts"}, found)
}

// What is left over is written anew where that is asked for: the files then name what they named.
func TestLeftoversRewritten(t *testing.T) {
	t.Parallel()
	text := moved + "-- a.rst --\nsrc/helpers/dates.ts and ./src/helpers/\n-- x.py --\n# desk.models\n" +
		"-- docs/second.txt --\n../src/helpers/dates.ts\n-- src/main.ts --\n" +
		"import './helpers/dates' // ./helpers/dates\n"
	made, g := build(t, text, func(in *plan.Input) { in.RewriteLikely = true })
	files := after(t, text, made, g)
	assert.Equal(t, "src/tools/dates.ts and ./src/tools/\n", files["a.rst"])
	assert.Equal(t, "# service.desk.models\n", files["x.py"])
	assert.Equal(t, "../src/tools/dates.ts\n", files["guide/second.txt"])
	assert.Equal(t, "import './tools/dates' // ./tools/dates\n", files["src/main.ts"])
	assert.Empty(t, made.Leftovers)
}
