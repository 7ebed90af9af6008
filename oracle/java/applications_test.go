package java_test

import (
	"testing"

	"crookedshelf/oracle/tree"
)

// Each file of testdata is an application that its builder builds, tests and runs before and after it is straightened.
func TestApplications(t *testing.T) {
	has(t, "mvn", "java", "python3", "sources/commons-text")
	tree.Cases(t, "testdata/*.txtar", func(_ *testing.T, a *tree.Application) { a.Env = []string{"MAVEN_OPTS=-Xmx2g"} })
}
