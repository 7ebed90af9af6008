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

const libraries = `
-- crooked.yaml --
crooked: 1
beside: { must: [<name>.test.ts] }
shelves:
  libs:
    at: "libs/<lib|kebab>/"
    must: [index.ts, { file: README.md, write: templates/lib.md }]
    listed: { in: package.json, key: workspaces }
  parts: { at: src/parts/, from: [src/*.ts] }
-- package.json --
{ "workspaces": ["libs/sky"], "files": ["src/a.ts", "src/main.ts"] }
-- notes.md --
See src/a.ts, src/a.tsx and the folder old/deep.
-- libs/sky/package.json --
{}
-- old/deep/x.txt --
-- src/a.ts --
import './b'
-- src/b.ts --
-- src/c.ts --
import './b'
-- src/main.ts --
import './c'
-- templates/lib.md --
# <lib|pascal>
`

// Each row is a wish to remove files: what is said, and the files that are gone afterwards. Undo brings all back.
func TestRemove(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name string
		args []string
		code int
		says []string
		gone []string
	}{
		{"nobody needs it", []string{"src/a.ts"}, 0, []string{"removes\n  src/a.ts\n", "package.json  \"src/a.ts",
			"notes.md:1:5  src/a.ts\n", "Removed 1 file. crooked undo brings it back."}, []string{"src/a.ts"}},
		{"somebody needs it", []string{"src/b.ts"}, 1, []string{"src/b.ts  is needed by\n  src/a.ts:1:9  ./b\n  src/c.ts:1:9  ./b\n",
			"Nothing was removed"}, nil},
		{"who needs it goes too", []string{"src/b.ts", "./src/a.ts", "src/c.ts", "src/main.ts"}, 0, []string{"Removed 4 files."},
			[]string{"src/b.ts", "src/a.ts", "src/c.ts", "src/main.ts"}},
		{"one of them stays", []string{"src/b.ts", "src/a.ts"}, 1, []string{"src/b.ts  is needed by\n  src/c.ts:1:9  ./b\n"}, nil},
		{"a folder, with its entry", []string{"libs/sky/"}, 0, []string{"package.json  \"libs/sky"}, []string{"libs/sky/package.json"}},
		{"a folder that is named in prose", []string{"old"}, 0, []string{"notes.md:1:40  old/deep\n"}, []string{"old/deep/x.txt"}},
		{"no such file", []string{"src/none.ts"}, 2, []string{"there is no file src/none.ts in the project"}, nil},
		{"outside", []string{"../x"}, 2, []string{"../x lies outside of the project"}, nil},
	}
	for _, c := range cases {
		for _, plain := range []bool{false, true} {
			dir := small(t, libraries)
			if plain {
				require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
			}
			before := projecttest.Read(t, dir)
			got := run(t, dir, append([]string{"remove", "--yes", "--dirty"}, c.args...)...)
			assert.Equal(t, c.code, got.code, c.name+got.err)
			for _, part := range c.says {
				assert.Contains(t, got.out+got.err, part, c.name)
			}
			after := onlyFiles(projecttest.Read(t, dir))
			for _, gone := range c.gone {
				assert.NotContains(t, after, gone, c.name)
			}
			assert.Len(t, after, len(onlyFiles(before))-len(c.gone), c.name)
			if len(c.gone) > 0 {
				assert.Equal(t, 0, run(t, dir, "undo").code)
			}
			assert.Equal(t, before, projecttest.Read(t, dir), c.name)
		}
	}
	dir := small(t, libraries)
	refused := run(t, dir, "remove", "src/a.ts")
	assert.Equal(t, 2, refused.code)
	assert.Contains(t, refused.err, "without a terminal to ask on, this needs --yes")
}

func TestBegin(t *testing.T) {
	t.Parallel()
	dir := small(t, libraries)
	before := projecttest.Read(t, dir)
	begun := run(t, dir, "begin", "libs", "NightRota", "--yes", "--dirty")
	assert.Equal(t, 0, begun.code, begun.err)
	assert.Contains(t, begun.out, "libs/night-rota/  a new instance of libs\n  libs/night-rota/index.ts\n"+
		"  libs/night-rota/index.test.ts\n  libs/night-rota/README.md\npackage.json  lists it then\nWrote 3 files.")
	files := projecttest.Read(t, dir)
	assert.Contains(t, files["libs/night-rota/README.md"], "# NightRota\n")
	assert.Contains(t, files["package.json"], `{ "workspaces": ["libs/sky", "libs/night-rota"], "files": ["src/a.ts", "src/main.ts"] }`)
	assert.NotContains(t, run(t, dir, "check", "--format", "lines").out, "night-rota", "it begins straight")
	assert.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, before, projecttest.Read(t, dir))
	for want, args := range map[string][]string{
		"libs/sky/ is there already":                           {"libs", "sky"},
		"parts has one place alone, src/parts/":                {"parts", "x"},
		`there is no shelf "lbs"; the shelves are libs, parts`: {"lbs", "x"},
		"libs takes lib: say crooked begin libs LIB":           {"libs", "a", "b"},
		`"a/b" is no name of one lib`:                          {"libs", "a/b"},
	} {
		got := run(t, dir, append([]string{"begin", "--yes"}, args...)...)
		assert.Equal(t, 2, got.code, want)
		assert.Contains(t, got.err, want)
	}
	assert.Equal(t, before, projecttest.Read(t, dir))
}

// onlyFiles are the files of a folder without those of the journal.
func onlyFiles(all map[string]string) map[string]string {
	out := map[string]string{}
	for name, content := range all {
		if !strings.HasSuffix(name, "/") && !strings.HasPrefix(name, ".crooked") {
			out[name] = content
		}
	}
	return out
}
