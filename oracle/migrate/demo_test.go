package migrate_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/oracle/tree"
)

// The demo's projects pass under the compiler at every stage of their stories, and come back whole.
func TestDemoUnderTheCompiler(t *testing.T) {
	modules := tree.NeedModules(t, "npm")
	program := tree.Build(t)
	compiles := func(dir string) {
		t.Helper()
		out, err := exec.Command(filepath.Join(modules, ".bin", "tsc"), "--noEmit", "-p", dir).CombinedOutput()
		require.NoError(t, err, string(out))
	}
	crooked := func(dir string, args ...string) {
		t.Helper()
		out, err := tree.Call(program, dir, args...)
		require.NoError(t, err, out)
	}

	client := filepath.Join(t.TempDir(), "client")
	require.NoError(t, os.CopyFS(client, demo.Hilltop()))
	before, err := tree.Hashes(client)
	require.NoError(t, err)
	compiles(client)
	crooked(client, "straighten", "--rename", "--yes", "--dirty")
	compiles(client)
	crooked(client, "undo")
	after, err := tree.Hashes(client)
	require.NoError(t, err)
	require.Empty(t, tree.Differences(before, after))

	desk := filepath.Join(t.TempDir(), "desk")
	require.NoError(t, os.CopyFS(desk, demo.Desk()))
	compiles(desk)
	crooked(desk, "adopt", "one-room")
	crooked(desk, "check")
	for _, starter := range []string{"by-feature", "by-module"} {
		convention := filepath.Join(desk, starter+".yaml")
		crooked(desk, "adopt", starter, "--to", convention)
		crooked(desk, "straighten", "--yes", "--dirty", "--convention", convention)
		compiles(desk)
		crooked(desk, "check", "--convention", convention)
		crooked(desk, "plan", "--convention", convention)
	}
}
