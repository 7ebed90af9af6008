package csharp_test

import (
	"testing"

	"crookedshelf/oracle/tree"
)

// Each file of testdata is an application that its builder builds, tests and runs before and after it is straightened.
func TestApplications(t *testing.T) {
	has(t, "xbuild", "nunit-console", "python3")
	tree.Cases(t, "testdata/[gp]*.txtar", nil)
}
