package dart_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// A project becomes packages: the machine of the language loads and runs it before and after, by the addresses that its
// manifests allow.
func TestPackages(t *testing.T) {
	tree.Has(t, "run oracle/dart/fetch.sh", "sources/ready", "python3")
	machine, err := filepath.Abs("sources/dart")
	require.NoError(t, err)
	tree.Cases(t, "testdata/*.txtar", func(_ *testing.T, a *tree.Application) { a.Env = []string{"MACHINE=" + machine} })
}
