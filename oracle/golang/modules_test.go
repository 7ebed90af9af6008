package golang_test

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/mod/modfile"

	"crookedshelf/oracle/tree"
)

// A real module becomes six. Each is built and tested by itself, with no more than its go.mod says, and all pass the
// tests that they passed as one. What a module asks for is needed: without any of it the go command refuses.
func TestModules(t *testing.T) {
	t.Parallel()
	const convention = `crooked: 1
shelves:
  binding: { at: libs/binding/, from: ["binding/**"], package: true }
  render: { at: libs/render/, from: ["render/**"], package: true }
  inner:
    at: libs/inner/
    package: true
    inside: { parts: { at: <part>/, from: ["internal/<part>/**"] } }
  samples:
    at: libs/samples/
    package: true
    inside: { messages: { at: protoexample/, from: ["testdata/protoexample/**"] } }
  short: { at: libs/short/, from: ["ginS/**"], package: short }
leave: { stay: ["*", "docs/**", "examples/**", "testdata/template/**", "testdata/certificate/**", ".github/**"] }
`
	dir := tree.Module(t, "github.com/gin-gonic/gin@v1.10.0")
	before := tested(t, dir, ".")
	require.Greater(t, len(before), 400)
	require.Greater(t, straighten(t, dir, convention), 50)

	modules := []string{".", "libs/binding", "libs/inner", "libs/render", "libs/samples", "libs/short"}
	var after []string
	direct := 0
	for _, module := range modules {
		in := filepath.Join(dir, filepath.FromSlash(module))
		assert.Empty(t, asReadOnly(t, in, "vet", "./..."), module)
		after = append(after, tested(t, in, module)...)
		direct += needed(t, in)
	}
	slices.Sort(after)
	assert.Equal(t, before, after)
	assert.Greater(t, direct, 25, "requirements that were taken out one by one")
	t.Logf("%d tests the same by name, %d requirements of %d modules each needed", len(after), direct, len(modules))
}

// asReadOnly runs the go command in a module that it may not change, and gives what it says.
func asReadOnly(t *testing.T, dir string, args ...string) []string {
	t.Helper()
	return askWith(t, dir, "readonly", args...)
}

// tested gives the tests that pass in a module, by name.
func tested(t *testing.T, dir, module string) (passed []string) {
	t.Helper()
	for _, line := range asReadOnly(t, dir, "test", "-count=1", "-v", "./...") {
		if name, is := strings.CutPrefix(line, "--- PASS: "); is {
			passed = append(passed, name)
		}
		assert.NotContains(t, line, "FAIL", module)
	}
	slices.Sort(passed)
	return passed
}

// needed takes out each requirement of a module that is not indirect, and gives how many there are: the go command must
// miss each.
func needed(t *testing.T, dir string) int {
	t.Helper()
	file := filepath.Join(dir, "go.mod")
	content, err := os.ReadFile(file)
	require.NoError(t, err)
	whole, err := modfile.Parse(file, content, nil)
	require.NoError(t, err)
	count := 0
	for _, req := range whole.Require {
		if req.Indirect {
			continue
		}
		less, err := modfile.Parse(file, content, nil)
		require.NoError(t, err)
		require.NoError(t, less.DropRequire(req.Mod.Path))
		less.Cleanup()
		text, err := less.Format()
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(file, text, 0o600))
		said := ""
		for _, tags := range []string{"", "go_json", "jsoniter", "sonic,avx"} { // some is needed for what is built with them
			said += strings.Join(asReadOnly(t, dir, "list", "-deps", "-test", "-tags="+tags, "./..."), "\n")
		}
		assert.Regexp(t, "no required module provides|cannot find module|updates to go.mod needed|is replaced but not required", said, req.Mod.Path)
		count++
	}
	require.NoError(t, os.WriteFile(file, content, 0o600))
	return count
}
