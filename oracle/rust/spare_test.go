package rust_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// unused is what the compiler says of a package that is asked for and not used.
var unused = regexp.MustCompile("extern crate `([a-z0-9_]+)` is unused in crate")

// TestSparePackagesAgainstTheCompiler compares what is said to be asked for and not used with the compiler's own lint: each
// crate as it is, and with a package more that nothing uses. Of packages for tests the compiler says nothing here.
func TestSparePackagesAgainstTheCompiler(t *testing.T) {
	has(t, "cargo", "sources/crates")
	program := tree.Build(t)
	target := t.TempDir()
	for _, crate := range []string{"petgraph-0.8.3", "indexmap-2.14.2", "itertools-0.14.0", "smallvec-1.16.6", "httparse-1.10.1", "nom-8.0.0"} {
		t.Run(crate, func(t *testing.T) {
			dir := lay(t, crate)
			manifest := filepath.Join(dir, "Cargo.toml")
			content, err := os.ReadFile(manifest)
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(manifest, append(content, "\n[dependencies.utf8parse]\nversion = \"0.2\"\n"...), 0o644))
			cmd := exec.Command("cargo", "check", "--quiet", "--lib")
			cmd.Dir = dir
			cmd.Env = append(os.Environ(), "CARGO_TARGET_DIR="+target, "RUSTFLAGS=-Wunused-crate-dependencies")
			out, err := cmd.CombinedOutput()
			require.NoError(t, err, string(out))
			var theirs []string
			for _, m := range unused.FindAllStringSubmatch(string(out), -1) {
				theirs = append(theirs, m[1])
			}
			require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte("crooked: 1\nshelves: { all: src/ }\n"), 0o644))
			said, _ := tree.Call(program, dir, "check", "--format", "json")
			var check struct {
				Findings []struct{ Rule, Reason string }
			}
			require.NoError(t, json.Unmarshal([]byte(said), &check), said)
			tests := regexp.MustCompile(`dev-dependencies\.([\w-]+)`).FindAllStringSubmatch(string(content), -1)
			var mine []string
			for _, f := range check.Findings {
				name := regexp.MustCompile(`asks for ([\w-]+),`).FindStringSubmatch(f.Reason)
				if f.Rule == "spare" && !slices.ContainsFunc(tests, func(m []string) bool { return m[1] == name[1] }) {
					mine = append(mine, name[1])
				}
			}
			assert.ElementsMatch(t, theirs, mine)
			assert.Contains(t, mine, "utf8parse")
		})
	}
}
