package ruby_test

import (
	"os"
	"testing"

	"crookedshelf/oracle/tree"
)

// Each file of testdata is a library or an application that says the same before and after it is straightened: its own tests,
// and its pages. RUBY_MIGRATIONS=1 runs what is too long for CI.
func TestApplications(t *testing.T) {
	has(t, "ruby", "sources/rails")
	pattern := "testdata/*.txtar"
	if os.Getenv("RUBY_MIGRATIONS") != "" { // what fetch.sh all gets
		pattern = "testdata/whole/*.txtar"
	}
	tree.Cases(t, pattern, nil)
}
