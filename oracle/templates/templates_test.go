// Package templates_test lays out projects by the generators that people begin with, moves them by conventions as one
// would write them at the first try, and asks the projects' own builds, type checks and tests about it.
package templates_test

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

func TestTemplatesStillBuild(t *testing.T) {
	modules := tree.NeedModules(t, "templates/npm")
	program := tree.Build(t)
	tools, err := filepath.Abs(".")
	require.NoError(t, err)
	entries, err := cases.ReadDir("cases")
	require.NoError(t, err)
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".txtar")
		t.Run(name, func(t *testing.T) {
			text, err := cases.ReadFile("cases/" + e.Name())
			require.NoError(t, err)
			root := t.TempDir() // each has its own: some builders look for other projects around
			require.NoError(t, os.Symlink(modules, filepath.Join(root, "node_modules")))
			a := &tree.Application{
				Name: name, Text: text, Program: program, Dir: filepath.Join(root, name), Sources: modules,
				Path: filepath.Join(root, "node_modules", ".bin"),
				Env:  []string{"TOOLS=" + tools, "MODULES=" + modules, "NEXT_TELEMETRY_DISABLED=1", "TZ=UTC"},
			}
			told, err := a.Run()
			require.NoError(t, err)
			t.Log(told)
		})
	}
}
