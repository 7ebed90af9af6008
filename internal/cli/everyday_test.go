package cli_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStaged(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed")
	}
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { parts: { at: src/parts/, from: old/** } }\n-- old/a.ts --\n-- old/b.ts --\n")
	assert.Contains(t, run(t, dir, "check", "--staged").err, "this is no git work tree")
	git := func(args ...string) {
		cmd := exec.Command("git", append([]string{"-c", "user.name=x", "-c", "user.email=x@example.org"}, args...)...)
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	git("init", "-q")
	git("add", "old/b.ts", "crooked.yaml")
	assert.Contains(t, run(t, dir, "check", "--staged").out, "1 finding", "before the first commit")
	git("commit", "-qm", "one")
	assert.Equal(t, 0, run(t, dir, "check", "--staged").code)
	git("add", "old/a.ts")
	got := run(t, dir, "check", "--staged")
	assert.Equal(t, 1, got.code)
	assert.Contains(t, got.out, "old/a.ts")
	assert.NotContains(t, got.out, "old/b.ts")
	assert.Equal(t, 2, run(t, dir, "check", "--staged", "--since", "HEAD").code)
}

func TestManualPages(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "man1")
	require.Equal(t, 0, run(t, ".", "man", dir, "-q").code)
	page, err := os.ReadFile(filepath.Join(dir, "crooked-move.1"))
	require.NoError(t, err)
	assert.Contains(t, string(page), `.TH "CROOKED-MOVE" "1"`)
	assert.Contains(t, string(page), "crooked undo takes it back")
	assert.Equal(t, 2, run(t, ".", "man").code)
}

// Without a command the program says what is there and what to do next; a wrong word is answered with the right one.
func TestTheFirstMinute(t *testing.T) {
	t.Parallel()
	bare, empty, straight := small(t, "-- src/a.ts --\n-- src/b.ts --\n"), t.TempDir(),
		small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { parts: src/parts/ }\n-- src/parts/a.ts --\n")
	for _, c := range []struct {
		dir  string
		args []string
		code int
		says string
	}{
		{bare, nil, 0, "2 files, mostly TypeScript, and no crooked.yaml yet.\n  crooked survey "},
		{straight, nil, 0, "All straight. The project: 1 of 2 files judged.\n  crooked survey "},
		{hilltop(t), nil, 0, "91 findings.\n  crooked check "},
		{empty, nil, 0, "Available Commands"},
		{bare, []string{"chekc"}, 2, `there is no command "chekc"; did you mean check? crooked --help lists them`},
		{bare, []string{"help", "pln"}, 2, "did you mean man or plan?"},
		{bare, []string{"check", os.TempDir()}, 2, "the project's folder is named by --root: crooked check --root " + os.TempDir()},
		{bare, []string{"check"}, 2, "crooked survey --draft writes a first one from what is there, crooked adopt lists starters"},
		{bare, []string{"survey", "-q"}, 0, ""},
	} {
		got := run(t, c.dir, c.args...)
		assert.Equal(t, c.code, got.code, got.err)
		assert.Contains(t, got.out+got.err, c.says)
		if c.says == "" {
			assert.Empty(t, got.out)
		}
	}
}

func TestMap(t *testing.T) {
	t.Parallel()
	dir := hilltop(t)
	tree := run(t, dir, "map")
	assert.Equal(t, 0, tree.code, tree.err)
	for _, part := range []string{"Hilltop web client  101 files, as everything stands where it belongs", "  +10  ", "one page of the site",
		"helpers  -> services 1 (1 may not), types 2", "69 files of them elsewhere"} {
		assert.Contains(t, tree.out, part)
	}
	assert.NotContains(t, tree.out, "utils/", "nothing is left there")
	now := run(t, dir, "map", "--before", "--depth", "2")
	assert.Contains(t, now.out, "as it is now")
	assert.Regexp(t, `components/ +37 +-37`, now.out)
	var m struct{ Files, Shelves, Uses []any }
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "map", "--format", "json").out), &m))
	assert.Len(t, m.Files, 101)
	assert.Len(t, m.Shelves, 16)
	for _, name := range []string{"shelves.svg", "map.html"} {
		file := filepath.Join(t.TempDir(), name)
		assert.Contains(t, run(t, dir, "map", "-o", file).out, "Written to")
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.Contains(t, string(text), "Hilltop web client")
	}
	assert.Contains(t, run(t, dir, "map", "-o", "x.pdf").err, "-o takes a file that ends in .svg or .html")
	assert.Equal(t, 2, run(t, dir, "map", "--before", "--after").code)
	assert.Equal(t, 2, run(t, dir, "map", "--depth", "0").code)
	bare := small(t, "-- src/a.ts --\n")
	assert.Contains(t, run(t, bare, "map").out, "1 file, as it is now\n\nsrc/      1\n\nThere are no shelves yet")
	empty := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { parts: src/parts/ }\n")
	assert.Contains(t, run(t, empty, "map").out, "1 file, as everything stands")
}
