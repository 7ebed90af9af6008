// Package pypi_test moves real packages of Python and asks their own test suites about it, and web applications, and
// asks their frameworks, their tests and their pages.
package pypi_test

import (
	"embed"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

//go:embed cases/*.txtar
var cases embed.FS

func TestPythonStillRuns(t *testing.T) {
	here, err := filepath.Abs(".")
	require.NoError(t, err)
	if _, err := os.Stat(filepath.Join(here, "venv", "ready")); err != nil {
		const message = "the comparison needs its toolchain: oracle/pypi/install.sh"
		if os.Getenv("CI") != "" {
			t.Fatal(message)
		}
		t.Skip(message)
	}
	program := tree.Build(t)
	root := t.TempDir()
	entries, err := cases.ReadDir("cases")
	require.NoError(t, err)
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".txtar")
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			text, err := cases.ReadFile("cases/" + e.Name())
			require.NoError(t, err)
			a := &tree.Application{
				Name: name, Text: text, Program: program, Dir: filepath.Join(root, name),
				Root: filepath.Join(here, "..", ".."), Sources: filepath.Join(here, "venv", "sources"),
				Path: filepath.Join(here, "venv", "bin"),
				Env:  []string{"PYTHONDONTWRITEBYTECODE=1", "TOOLS=" + here},
			}
			told, err := a.Run()
			require.NoError(t, err)
			t.Log(told)
		})
	}
}
