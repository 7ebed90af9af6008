package cli_test

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"
)

// tryArchive lays the project of an archive into a folder, and compares what the program makes of it:
//
//   - found are the findings that no plan sets right, or that it will: path and rule, one a line;
//   - then/PATH is what a file holds after a straighten, and gone are files that are not there any more.
func tryArchive(t *testing.T, archive *txtar.Archive) {
	t.Helper()
	dir := t.TempDir()
	then := map[string]string{}
	var found, gone string
	for _, f := range archive.Files {
		p, is := strings.CutPrefix(f.Name, "then/")
		switch {
		case f.Name == "found":
			found = string(f.Data)
		case f.Name == "gone":
			gone = string(f.Data)
		case is:
			then[p] = string(f.Data)
		default:
			lay(t, dir, f)
		}
	}
	check := run(t, dir, "check", "--format", "lines")
	require.Less(t, check.code, 2, check.err)
	if found != "" {
		assert.Equal(t, found, findings(check.out))
	}
	done := run(t, dir, "straighten", "--yes", "--dirty", "--partial")
	require.Less(t, done.code, 2, done.err)
	for p, content := range then {
		text, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(p)))
		require.NoError(t, err, done.out)
		assert.Equal(t, content, string(text), p)
	}
	for p := range strings.Lines(gone) {
		assert.NoFileExists(t, filepath.Join(dir, filepath.FromSlash(strings.TrimSpace(p))))
	}
	if len(then) > 0 && gone == "" {
		again := run(t, dir, "plan")
		require.Equal(t, 0, again.code, again.err)
		assert.Regexp(t, `(Nothing to do|No moves)`, again.out, "after a straighten nothing is left to do")
	}
}

// lay writes files of an archive into a folder.
func lay(t *testing.T, dir string, files ...txtar.File) {
	t.Helper()
	for _, f := range files {
		place := filepath.Join(dir, filepath.FromSlash(f.Name))
		require.NoError(t, os.MkdirAll(filepath.Dir(place), 0o755))
		require.NoError(t, os.WriteFile(place, f.Data, 0o644))
	}
}

// findings are path and rule of each finding but those that files are misplaced.
func findings(lines string) string {
	var out strings.Builder
	for _, m := range regexp.MustCompile(`(?m)^([^:\n]+):\d+:\d+: (\w+): `).FindAllStringSubmatch(lines, -1) {
		if m[2] != "misplaced" {
			fmt.Fprintf(&out, "%s: %s\n", m[1], m[2])
		}
	}
	return out.String()
}

// Each task is a project and a wish in one sentence. The convention that grants it has at most as many lines as the wish
// has words.
func TestTasksOfNewcomers(t *testing.T) {
	t.Parallel()
	files, err := filepath.Glob("../../docs/tasks/*.txtar")
	require.NoError(t, err)
	require.Len(t, files, 10)
	for _, file := range files {
		t.Run(strings.TrimSuffix(filepath.Base(file), ".txtar"), func(t *testing.T) {
			t.Parallel()
			archive, err := txtar.ParseFile(file)
			require.NoError(t, err)
			at := slices.IndexFunc(archive.Files, func(f txtar.File) bool { return f.Name == "crooked.yaml" })
			require.GreaterOrEqual(t, at, 0)
			lines := strings.Count(string(archive.Files[at].Data), "\n")
			assert.LessOrEqual(t, lines, len(strings.Fields(string(archive.Comment))), "lines and words")
			tryArchive(t, archive)
		})
	}
}

// The reference shows a project before and after for each task that it speaks of, and what it shows is true.
func TestTheReferenceIsTrue(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/convention.md")
	require.NoError(t, err)
	blocks := regexp.MustCompile("(?ms)^### ([^\n]+)$|^```text\n(-- .*?)^```$").FindAllStringSubmatch(string(text), -1)
	tried, title := 0, ""
	for _, block := range blocks {
		if block[1] != "" {
			title = block[1]
			continue
		}
		tried++
		t.Run(title, func(t *testing.T) {
			t.Parallel()
			tryArchive(t, txtar.Parse([]byte(block[2])))
		})
	}
	assert.Greater(t, tried, 8)
}
