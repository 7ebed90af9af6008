package cli_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

const dome = `
-- .gitignore --
made/
-- package.json --
{ "main": "src/main.ts", "scripts": { "sky": "node src/sky/moon.ts" } }
-- made/all.ts --
-- docs/guide.md --
See [the moon](../src/sky/moon.ts).
-- src/main.ts --
import { moon } from './sky/moon'
import './sky/Card'
-- src/sky/moon.ts --
import { day } from '../days'
export const moon = day
-- src/sky/moon.test.ts --
import { moon } from './moon'
-- src/sky/moonlight.ts --
-- src/sky/Card.tsx --
import './Card.css'
-- src/sky/Card.css --
-- src/sky/Card.stories.tsx --
import './Card'
-- src/days.ts --
export const day = 1
`

// law is a convention by which some files of the dome are not to be moved, and the others have a home.
const law = `
-- crooked.yaml --
crooked: 1
leave: { generated: [src/days.ts], untouched: [notes/**] }
beside: { may: [{ file: checks/<path>/<name>.check.ts, mirrors: src/ }] }
shelves:
  cards: { at: src/cards/, takes: [{ name: "Card.*" }] }
  sky: { at: src/sky/ }
settings: [{ in: package.json, set: { private: true } }]
discard: [{ file: src/sky/moonlight.ts, because: it is over }]
-- notes/old.md --
-- checks/sky/moon.check.ts --
import { moon } from '../../src/sky/moon'
`

// Each row is a wish to move files: what is said, what moves, and a file with a text that it has then. Undo gives back
// every byte.
func TestMove(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name  string
		files string
		args  []string
		code  int
		says  string
		moved map[string]string
		file  string
		holds string
	}{
		{"a file goes to a folder with its test", "", []string{"src/sky/moon.ts", "src/night/"}, 0, "Moved 2 files and rewrote 3 mentions",
			map[string]string{"src/sky/moon.ts": "src/night/moon.ts", "src/sky/moon.test.ts": "src/night/moon.test.ts"},
			"package.json", `"node src/night/moon.ts"`},
		{"a test that is none then", "", []string{"src/sky/moon.test.ts", "src/sky/night.ts"}, 0,
			"src/sky/moon.test.ts is a test by its name, and src/sky/night.ts is none: what runs the tests may not find it",
			map[string]string{"src/sky/moon.test.ts": "src/sky/night.ts"}, "", ""},
		{"what git ignores is out of reach", "-- src/x.ts --\nimport '../made/all'\n-- src/y.js --\nconst p = path.join(__dirname, 'made', 'note.txt')\n-- src/made/note.txt --\n",
			[]string{"src/x.ts", "src/y.js", "lib/deep/"}, 0,
			"src/y.js:1:33 names \"made/note.txt\", which lies at src/made/note.txt and is no part of the project: from lib/deep/y.js it would",
			map[string]string{"src/x.ts": "lib/deep/x.ts"}, "lib/deep/x.ts", "'../../made/all'"},
		{"a test at the root goes along", "-- a.ts --\n-- a.test.ts --\nimport './a'\n", []string{"a.ts", "src/"}, 0, "Moved 2 files",
			map[string]string{"a.test.ts": "src/a.test.ts"}, "", ""},
		{"and alone", "", []string{"src/sky/moon.ts", "src/night/", "--alone"}, 0, "Moved 1 file ",
			map[string]string{"src/sky/moon.ts": "src/night/moon.ts"}, "src/sky/moon.test.ts", "'../night/moon'"},
		{"a file gets a name, and what belongs to it too", "", []string{"src/sky/Card.tsx", "src/sky/Pane.tsx"}, 0, "Moved 3 files",
			map[string]string{"src/sky/Card.tsx": "src/sky/Pane.tsx", "src/sky/Card.css": "src/sky/Pane.css",
				"src/sky/Card.stories.tsx": "src/sky/Pane.stories.tsx"}, "src/sky/Pane.tsx", "'./Pane.css'"},
		{"a folder gets a name", "", []string{"src/sky", "src/dome"}, 0, "Moved 6 files",
			map[string]string{"src/sky/moonlight.ts": "src/dome/moonlight.ts"}, "docs/guide.md", "(../src/dome/moon.ts)"},
		{"a folder goes into one that is there", "", []string{"docs", "src"}, 0, "Moved 1 file",
			map[string]string{"docs/guide.md": "src/docs/guide.md"}, "src/docs/guide.md", "(../sky/moon.ts)"},
		{"several go to a folder", "", []string{"src/days.ts", "docs/guide.md", "lib/"}, 0, "Moved 2 files",
			map[string]string{"src/days.ts": "lib/days.ts", "docs/guide.md": "lib/guide.md"}, "src/sky/moon.ts", "'../../lib/days'"},
		{"where it is", "", []string{"src/days.ts", "src/main.ts", "src/"}, 2, "src/days.ts is there already", nil, "", ""},
		{"a home", law, []string{"src/sky/Card.tsx", "src/cards/"}, 0, "Moved 3 files",
			map[string]string{"src/sky/Card.tsx": "src/cards/Card.tsx"}, "package.json", `{ "main": "src/main.ts", "s`},
		{"no home", law, []string{"src/sky/Card.tsx", "src/"}, 0, "warning: src/Card.css is no home of it: the convention wants it at " +
			"src/cards/Card.css (crooked.yaml:5); so it is with 2 more", map[string]string{"src/sky/Card.tsx": "src/Card.tsx"}, "", ""},
		{"a mirrored companion", law, []string{"src/sky/moon.ts", "src/night/"}, 0, "Moved 3 files",
			map[string]string{"checks/sky/moon.check.ts": "checks/night/moon.check.ts"}, "checks/night/moon.check.ts",
			"'../../src/night/moon'"},
		{"what a program writes", law, []string{"src/days.ts", "lib/"}, 2, "a program writes it, and would write it there again (crooked.yaml:2)", nil, "", ""},
		{"what must not be touched", law, []string{"notes", "lib/"}, 2, "notes/old.md is not moved: it must not be touched", nil, "", ""},
		{"into itself", "", []string{"src", "src/sky/x"}, 2, "src can't be moved into itself", nil, "", ""},
		{"onto what is there", "", []string{"src/days.ts", "src/main.ts"}, 2, "something is there", nil, "", ""},
		{"onto what git ignores", "", []string{"src/days.ts", "made/all.ts"}, 2, "something is there", nil, "", ""},
		{"out of the project", "", []string{"src/days.ts", "../x/"}, 2, "lies outside of the project", nil, "", ""},
		{"what git ignores", "", []string{"made", "src/"}, 2, "made is no part of the project: git ignores it", nil, "", ""},
		{"nothing", "", []string{"src/none.ts", "lib/"}, 2, "there is no file or folder src/none.ts", nil, "", ""},
		{"no folder", "", []string{"src/days.ts", "lib"}, 2, "there is no folder lib: write lib/ for a new one", nil, "", ""},
		{"several to a file", "", []string{"src/days.ts", "docs", "x.ts"}, 2, "several files need a folder to go to: write x.ts/", nil, "", ""},
		{"a file as a folder", "", []string{"src/days.ts", "src/main.ts/"}, 2, "src/main.ts is a file, and no folder", nil, "", ""},
		{"named twice", "", []string{"src/days.ts", "docs/guide.md", "src/sky/../days.ts", "lib/"}, 0, "Moved 2 files",
			map[string]string{"src/days.ts": "lib/days.ts"}, "", ""},
		{"one word", "", []string{"src"}, 2, "say what to move, and where to", nil, "", ""},
		{"what goes with a file stays with it", law + "-- notes/sky.md --\n[a](../src/sky/moon.ts)\n",
			[]string{"src/sky/moon.ts", "src/night/", "--partial"}, 1, "Nothing moves: 3 moves blocked.", nil, "", ""},
		{"into a repository of its own", "-- sub/.git --\ngitdir: elsewhere\n", []string{"src/days.ts", "sub/"}, 1,
			"it would lie in sub, which is a repository of its own", nil, "", ""},
		{"what can't be proved", "-- src/x.ts --\nrequire('./' + name + '.ts')\nimport './days'\n-- lib/days.ts --\n",
			[]string{"src/x.ts", "lib/"}, 1, "blocked 1", nil, "", ""},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			projecttest.Write(t, dir, dome+c.files)
			before := projecttest.Read(t, dir)
			got := run(t, dir, append([]string{"move", "--yes"}, c.args...)...)
			require.Equal(t, c.code, got.code, got.out+got.err)
			assert.Contains(t, got.out+got.err, c.says)
			for from, to := range c.moved {
				assert.NoFileExists(t, filepath.Join(dir, from))
				assert.FileExists(t, filepath.Join(dir, to))
			}
			if c.file != "" {
				text, err := os.ReadFile(filepath.Join(dir, c.file))
				require.NoError(t, err)
				assert.Contains(t, string(text), c.holds)
			}
			if c.moved != nil {
				assert.Equal(t, 0, run(t, dir, "undo").code)
			}
			assert.Equal(t, before, projecttest.Read(t, dir))
		})
	}
}

// A plan of moves can be written down and carried out later, without a convention; in steps; and as a patch.
func TestMovePlans(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, dome)
	before := projecttest.Read(t, dir)
	assert.Equal(t, 2, run(t, dir, "move", "src/sky", "src/dome").code, "nobody can be asked")
	assert.Contains(t, run(t, dir, "move", "src/sky", "src/dome", "--patch").out, "rename to src/dome/moon.ts")
	plan := filepath.Join(t.TempDir(), "plan.json")
	got := run(t, dir, "move", "src/sky", "src/dome", "-o", plan)
	assert.Equal(t, 0, got.code, got.err)
	assert.Equal(t, before, projecttest.Read(t, dir))
	got = run(t, dir, "straighten", "--plan", plan, "--yes")
	assert.Equal(t, 0, got.code, got.err)
	assert.FileExists(t, filepath.Join(dir, "src/dome/moon.ts"))
	assert.Equal(t, 0, run(t, dir, "undo").code)

	text, err := os.ReadFile(plan)
	require.NoError(t, err)
	var changed map[string]any
	require.NoError(t, json.Unmarshal(text, &changed))
	changed["options"] = map[string]any{}
	text, err = json.Marshal(changed)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(plan, text, 0o666))
	got = run(t, dir, "straighten", "--plan", plan, "--yes")
	assert.Equal(t, 3, got.code)
	assert.Contains(t, got.err, "this convention does not give what the plan does")

	got = run(t, dir, "move", "src/sky", "docs", "lib/", "--steps", "--yes")
	assert.Equal(t, 0, got.code, got.err)
	assert.Contains(t, got.out, "step 2 of 2, to lib/")
	assert.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, before, projecttest.Read(t, dir))
}

// What was moved by hand is seen by check, and finished by move --already, also where some of it was mended.
func TestMoveAlready(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed: what it knows of renames is not tried")
	}
	dir := t.TempDir()
	projecttest.Write(t, dir, dome+"-- crooked.yaml --\ncrooked: 1\nshelves: { src: src/ }\n")
	git := func(args ...string) {
		cmd := exec.Command("git", append([]string{"-c", "user.name=x", "-c", "user.email=x@example.org"}, args...)...)
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	git("init", "-q")
	git("add", "-A")
	git("commit", "-qm", "as it was")
	git("mv", "src/sky", "src/dome")
	require.NoError(t, os.Mkdir(filepath.Join(dir, "lib"), 0o777))
	require.NoError(t, os.Rename(filepath.Join(dir, "src/days.ts"), filepath.Join(dir, "lib/days.ts")))

	check := run(t, dir, "check")
	assert.Contains(t, check.out, "  crooked move --already src/days.ts lib/days.ts\n  crooked move --already src/sky src/dome\n")
	main := filepath.Join(dir, "src/main.ts")
	require.NoError(t, os.WriteFile(main, []byte("import { moon } from './dome/moon'\nimport './sky/Card'\n"), 0o666))
	for _, args := range [][]string{{"src/sky", "src/dome"}, {"src/days.ts", "lib"}} {
		got := run(t, dir, append([]string{"move", "--already", "--yes", "--dirty"}, args...)...)
		assert.Equal(t, 0, got.code, got.out+got.err)
		assert.Contains(t, got.out, "Rewrote ")
		got = run(t, dir, append([]string{"move", "--already", "--yes"}, args...)...)
		assert.Contains(t, got.out, "Nothing to mend")
	}
	text, err := os.ReadFile(main)
	require.NoError(t, err)
	assert.Equal(t, "import { moon } from './dome/moon'\nimport './dome/Card'\n", string(text))
	assert.Equal(t, 0, run(t, dir, "check").code)

	for _, c := range []struct{ from, to, says string }{
		{"src/main.ts", "lib/", "src/main.ts is still there: without --already it is moved"},
		{"src/none.ts", "x/", "there is no file x/none.ts, and none at x: where has it gone?"},
	} {
		got := run(t, dir, "move", "--already", c.from, c.to)
		assert.Equal(t, 2, got.code)
		assert.Contains(t, got.err, c.says)
	}
	for _, flag := range []string{"--steps", "--commit", "--output=x"} {
		assert.Contains(t, run(t, dir, "move", "--already", flag, "a", "b").err, "--already makes rewrites alone")
	}
}
