package php_test

import (
	"testing"

	"crookedshelf/oracle/tree"
)

// Each file of testdata/packages is a project that becomes packages: the manager of packages installs it before and after,
// and each of its packages by itself.
func TestPackages(t *testing.T) {
	tree.Has(t, "run oracle/php/fetch.sh", "php", "composer")
	tree.Cases(t, "testdata/packages/*.txtar", nil)
}
