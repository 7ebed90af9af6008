// Package apps_test moves whole applications and asks their own tools about it.
package apps_test

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

func TestApplicationsStillBuildAndRun(t *testing.T) {
	modules := tree.NeedModules(t, "apps/npm")
	program := tree.Build(t)
	root := t.TempDir()
	require.NoError(t, os.Symlink(modules, filepath.Join(root, "node_modules")))
	bin := filepath.Join(root, "node_modules", ".bin")
	entries, err := cases.ReadDir("cases")
	require.NoError(t, err)
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".txtar")
		t.Run(name, func(t *testing.T) {
			text, err := cases.ReadFile("cases/" + e.Name())
			require.NoError(t, err)
			a := &tree.Application{Name: name, Text: text, Program: program, Dir: filepath.Join(root, name), Path: bin,
				Env: []string{"BIN=" + bin}}
			told, err := a.Run()
			require.NoError(t, err)
			t.Log(told)
		})
	}
}
