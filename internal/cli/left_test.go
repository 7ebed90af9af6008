package cli_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a straighten leaves is listed at its end, and by check until it is set right, undone or forgotten.
func TestLeftoversAreReportedUntilTheyAreGone(t *testing.T) {
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n-- src/helpers/dates.ts --\n"+
		"-- docs/a.rst --\nOne line.\nSee src/helpers/dates.ts.\nAnd helpers/dates once more.\n")
	did := run(t, dir, "straighten", "--yes")
	require.Equal(t, 0, did.code, did.err)
	assert.Contains(t, did.out, "left over 2  texts that still name what moves")
	assert.Contains(t, did.out, "docs/a.rst:2  src/helpers/dates.ts")
	assert.Contains(t, did.out, "Moved 1 file")

	checked := run(t, dir, "check")
	assert.Equal(t, 0, checked.code, "a leftover is a warning")
	assert.Contains(t, checked.out, "leftover 2  warning: still names what a straighten moved")
	assert.Contains(t, checked.out, `docs/a.rst:2:5  "src/helpers/dates.ts" names src/helpers/dates.ts, which is now src/tools/dates.ts`)
	assert.NotContains(t, checked.out, "All straight")
	assert.Contains(t, run(t, dir, "check", "--format", "sarif").out, `"ruleId": "leftover"`)
	assert.Contains(t, run(t, dir, "check", "--format", "json").out, `"rule": "leftover"`)

	page := filepath.Join(dir, "docs", "a.rst")
	text, err := os.ReadFile(page)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(page, []byte("A new line above.\n"+strings.Replace(string(text), "src/helpers", "src/tools", 1)), 0o644))
	checked = run(t, dir, "check")
	assert.Contains(t, checked.out, "leftover 1")
	assert.Contains(t, checked.out, `docs/a.rst:4:5  "helpers/dates"`, "it is found where it is now")

	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.NotContains(t, run(t, dir, "check").out, "leftover")
}

// With --likely rewrite what can be written anew is, in files of all kinds, and undo takes that back too.
func TestLeftoversAreRewritten(t *testing.T) {
	text := "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n-- src/helpers/dates.ts --\n-- docs/a.rst --\nSee src/helpers/dates.ts\n"
	dir := small(t, text)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes", "--likely", "rewrite").code)
	page := filepath.Join(dir, "docs", "a.rst")
	now, err := os.ReadFile(page)
	require.NoError(t, err)
	assert.Equal(t, "See src/tools/dates.ts\n", string(now))
	assert.Contains(t, run(t, dir, "check").out, "All straight.")
	require.Equal(t, 0, run(t, dir, "undo").code)
	back, err := os.ReadFile(page)
	require.NoError(t, err)
	assert.Equal(t, "See src/helpers/dates.ts\n", string(back))
}
