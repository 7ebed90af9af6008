package cli_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// This file has what the tests of the languages share.

// badInput is a project with something wrong, and what is said of it.
type badInput struct{ name, files, says string }

// badInputs wants that one of some commands says what is wrong with each project, that none fails, and that all files
// stay as they are.
func badInputs(t *testing.T, rows []badInput, commands ...string) {
	t.Helper()
	for _, row := range rows {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			projecttest.Write(t, dir, row.files)
			said := ""
			for i, command := range commands {
				result := run(t, dir, command)
				assert.Less(t, result.code, 3)
				if said += result.out; i == 0 {
					said += result.err
				}
			}
			assert.Contains(t, said, row.says)
			holds(t, dir, projecttest.Files(row.files))
		})
	}
}

// holds wants that files have a content.
func holds(t *testing.T, dir string, files map[string]string) {
	t.Helper()
	for p, want := range files {
		got, err := os.ReadFile(filepath.Join(dir, p))
		require.NoError(t, err)
		assert.Equal(t, want, string(got), p)
	}
}

// straightens carries out the plan of a project, and wants that some files have a content then and that none is left to
// move.
func straightens(t *testing.T, dir string, files map[string]string) {
	t.Helper()
	done := run(t, dir, "straighten", "--yes", "--dirty")
	require.Equal(t, 0, done.code, done.err+done.out)
	holds(t, dir, files)
	assert.NotContains(t, run(t, dir, "check").out, "misplaced")
}

// finds wants that a check of a project finds something, and says some lines.
func finds(t *testing.T, tree string, lines ...string) {
	t.Helper()
	dir := t.TempDir()
	projecttest.Write(t, dir, tree)
	check := run(t, dir, "check", "--format", "lines")
	assert.Equal(t, 1, check.code, check.err)
	for _, line := range lines {
		assert.Contains(t, check.out, line)
	}
}
