package rust_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// Each file of testdata is a crate that says the same before and after it is straightened: its own tests by name, its
// documents, its warnings. RUST_MIGRATIONS=1 runs what is too long for CI.
func TestApplications(t *testing.T) {
	has(t, "cargo", "sources/crates")
	pattern := "testdata/*.txtar"
	if os.Getenv("RUST_MIGRATIONS") != "" { // what fetch.sh all gets
		pattern = "testdata/whole/*.txtar"
	}
	tree.Cases(t, pattern, func(t *testing.T, a *tree.Application) {
		sources, err := filepath.Abs("sources/crates")
		require.NoError(t, err)
		a.Env = []string{"CRATES=" + sources, "CARGO_TARGET_DIR=" + t.TempDir(), "CARGO_PROFILE_DEV_DEBUG=0", "CARGO_PROFILE_TEST_DEBUG=0"}
	})
}
