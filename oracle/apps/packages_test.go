package apps_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// Applications become workspaces: each package gets what its manifest asks for and nothing more, and all must build, pass
// its tests and run as before. Where a case says so, each dependency is taken out in turn, and that must break it.
func TestPackages(t *testing.T) {
	modules := tree.NeedModules(t, "apps/npm")
	strict, err := filepath.Abs("strict.mjs")
	require.NoError(t, err)
	tree.Cases(t, "packages/*.txtar", func(t *testing.T, a *tree.Application) {
		if a.Name == "library" && os.Getenv("WHOLE") == "" {
			t.Skip("the library of 256 files takes minutes: WHOLE=1 runs it")
		}
		a.Sources = modules
		a.Path = filepath.Join(modules, ".bin")
		a.Env = []string{"MODULES=" + modules, "STRICT=" + strict}
	})
}
