package cli_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a straighten leaves is listed at its end, and by check until it is set right, undone or forgotten.
func TestLeftoversAreReportedUntilTheyAreGone(t *testing.T) {
	t.Parallel()
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n"+
		"-- src/helpers/dates.ts --\n"+
		"-- docs/a.rst --\nOne line.\nSee src/helpers/dates.ts.\nAnd helpers/dates once more.\n")
	did := run(t, dir, "straighten", "--yes")
	require.Equal(t, 0, did.code, did.err)
	assert.Contains(t, did.out, "left over 2  texts that still name what moves")
	assert.Contains(t, did.out, "docs/a.rst:2  src/helpers/dates.ts")
	assert.Contains(t, did.out, "Moved 1 file")

	checked := run(t, dir, "check")
	assert.Equal(t, 0, checked.code, "a leftover is a warning")
	assert.Contains(t, checked.out, "leftover 2  warning: still names what a straighten moved")
	assert.Contains(t, checked.out,
		`docs/a.rst:2:5  "src/helpers/dates.ts" names src/helpers/dates.ts, which is now src/tools/dates.ts`)
	assert.NotContains(t, checked.out, "All straight")
	assert.Contains(t, run(t, dir, "check", "--format", "sarif").out, `"ruleId": "leftover"`)
	assert.Contains(t, run(t, dir, "check", "--format", "json").out, `"rule": "leftover"`)

	page := filepath.Join(dir, "docs", "a.rst")
	text, err := os.ReadFile(page)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(page,
		[]byte("A new line above.\n"+strings.Replace(string(text), "src/helpers", "src/tools", 1)), 0o644))
	checked = run(t, dir, "check")
	assert.Contains(t, checked.out, "leftover 1")
	assert.Contains(t, checked.out, `docs/a.rst:4:5  "helpers/dates"`, "it is found where it is now")

	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.NotContains(t, run(t, dir, "check").out, "leftover")
}

// With --likely rewrite what can be written anew is, in files of all kinds, and undo takes that back too.
func TestLeftoversAreRewritten(t *testing.T) {
	t.Parallel()
	text := "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n" +
		"-- src/helpers/dates.ts --\n-- docs/a.rst --\nSee src/helpers/dates.ts\n"
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

// Hostile and odd files are searched or passed over, and nothing is lost: a huge file, binary data, an alias that
// stands for itself, a manifest that lists thousands of packages, a broken notebook, an old encoding, a line without an
// end.
func TestLeftoversInOddFiles(t *testing.T) {
	t.Parallel()
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n"+
		"-- src/helpers/dates.ts --\n"+
		"-- tsconfig.json --\n{\"compilerOptions\": {\"paths\": {\"@/*\": [\"@/*\"], \"~/*\": [\"./~/*\"]}}}\n"+
		"-- book.ipynb --\n{\"cells\": [\"src/helpers/dates.ts\n-- src/main.ts --\nimport '@/helpers/dates'\n"+
		"import '@p/k9'\nimport './helpers/dates'\n")
	var listed strings.Builder
	for i := range 5000 {
		fmt.Fprintf(&listed, "\"@p/k%d\": \"1\", ", i)
	}
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o644))
	}
	write("package.json", `{"dependencies": {`+strings.TrimSuffix(listed.String(), ", ")+`}}`)
	write("a.po", "#: src/helpers/dates.ts:1 \xe9\xff\n")
	write("old.txt", "caf\xe9 src/helpers/dates.ts\n")
	write("data.bin", "\x00src/helpers/dates.ts")
	write("line.txt", strings.Repeat("src/", 300_000)+"helpers/dates.ts")
	write("huge.dat", "src/helpers/dates.ts\n")
	require.NoError(t, os.Truncate(filepath.Join(dir, "huge.dat"), 2<<30))

	blocked := run(t, dir, "plan")
	assert.Equal(t, 1, blocked.code)
	assert.Contains(t, blocked.out, `src/main.ts:1:9 imports "@/helpers/dates", which may mean it`)
	write("src/main.ts", "import '@p/k9'\nimport './helpers/dates'\n")
	did := run(t, dir, "straighten", "--yes")
	require.Equal(t, 0, did.code, did.err)
	assert.Contains(t, did.out, "book.ipynb:1  src/helpers/dates.ts")
	assert.Contains(t, did.out, "old.txt:1  src/helpers/dates.ts")
	assert.NotContains(t, did.out, "data.bin")
	planned := run(t, dir, "undo")
	require.Equal(t, 0, planned.code)
	warned := run(t, dir, "plan").out
	assert.Contains(t, warned, "huge.dat was not searched for the names of what moves")
	assert.Contains(t, warned, "1 text in change logs and in what programs write")
}

// What git ignores stays where it is when all else leaves a folder, and that is said in one line.
func TestIgnoredFilesThatStay(t *testing.T) {
	t.Parallel()
	dir := small(t, "-- crooked.yaml --\ncrooked: 1\nshelves: { tools: { at: src/tools/, from: [src/helpers/**] } }\n"+
		"-- .gitignore --\n*.mo\n-- src/helpers/dates.ts --\n-- src/helpers/a.mo --\n-- src/helpers/deep/b.mo --\n"+
		"-- src/helpers/deep/c.ts --\n")
	assert.Contains(t, run(t, dir, "plan").out, "warning: what git ignores, and repositories of their own, stay in 2 "+
		"folders that are otherwise emptied: src/helpers/a.mo, src/helpers/deep/b.mo\n")
}
