package csharp_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// Each file of testdata is an application that its builder builds, tests and runs before and after it is straightened.
func TestApplications(t *testing.T) {
	has(t, "xbuild", "nunit-console", "python3")
	cases, err := filepath.Glob("testdata/gateway.txtar")
	require.NoError(t, err)
	require.NotEmpty(t, cases)
	root, err := filepath.Abs("../..")
	require.NoError(t, err)
	program := tree.Build(t)
	for _, file := range cases {
		name := strings.TrimSuffix(filepath.Base(file), ".txtar")
		t.Run(name, func(t *testing.T) {
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			a := tree.Application{Name: name, Text: text, Program: program, Root: root, Dir: filepath.Join(t.TempDir(), name)}
			said, err := a.Run()
			require.NoError(t, err)
			t.Log(said)
		})
	}
}
