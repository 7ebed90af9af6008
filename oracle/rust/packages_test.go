package rust_test

import (
	"fmt"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// TestPackagesAtRandom makes packages of some modules of real crates: what a plan lets through must compile, each package
// must compile alone, and the compiler may find no crate that nobody uses. RUST_ROUNDS is how many packages are made, and
// has their tests compiled too; RUST_CRATES is as for moves.
func TestPackagesAtRandom(t *testing.T) {
	has(t, "cargo", "sources/crates")
	rounds, crates := 1, []string{"itertools-0.14.0"}
	check := []string{"check", "--quiet", "--workspace", "--lib"}
	if more := os.Getenv("RUST_ROUNDS"); more != "" {
		rounds, _ = strconv.Atoi(more)
		check = append(check, "--tests")
	}
	if others := os.Getenv("RUST_CRATES"); others != "" {
		crates = strings.Split(others, ",")
	}
	program := tree.Build(t)
	target := t.TempDir()
	for _, crate := range crates {
		t.Run(crate, func(t *testing.T) {
			dir := lay(t, crate)
			before, err := tree.Hashes(dir)
			require.NoError(t, err)
			parted, moved, tried := 0, 0, 0
			for seed := int64(0); parted < rounds && seed < int64(20*rounds); seed++ {
				tried++
				text := severed(rand.New(rand.NewSource(seed)), dir)
				require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(text), 0o644))
				out, _ := tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial")
				m := regexp.MustCompile(`Moved (\d+) file`).FindStringSubmatch(out)
				if m == nil {
					continue
				}
				n, _ := strconv.Atoi(m[1])
				moved += n
				made, err := filepath.Glob(filepath.Join(dir, "parts/*/Cargo.toml"))
				require.NoError(t, err)
				parted += len(made)
				cargo := func(args ...string) string {
					cmd := exec.Command("cargo", args...)
					cmd.Dir = dir
					cmd.Env = append(os.Environ(), "CARGO_TARGET_DIR="+target, "CARGO_PROFILE_DEV_DEBUG=0", "CARGO_PROFILE_TEST_DEBUG=0")
					said, err := cmd.CombinedOutput()
					require.NoError(t, err, "seed %d\n%s\n%s", seed, text, said)
					return string(said)
				}
				cargo(check...)
				for _, one := range made {
					said := cargo("rustc", "--quiet", "-p", filepath.Base(filepath.Dir(one)), "--lib", "--profile", "check", "--", "-Wunused_crate_dependencies")
					assert.NotContains(t, said, "is unused in crate", "seed %d\n%s", seed, text)
				}
				out, err = tree.Call(program, dir, "undo")
				require.NoError(t, err, out)
				require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
				_ = os.Remove(filepath.Join(dir, "Cargo.lock"))
				after, err := tree.Hashes(dir)
				require.NoError(t, err)
				delete(before, "Cargo.lock")
				require.Empty(t, tree.Differences(before, after))
			}
			t.Logf("%d packages of %d files, %d tried", parted, moved, tried)
			assert.Positive(t, parted)
		})
	}
}

// severed makes packages of some modules that stand right below the root.
func severed(random *rand.Rand, dir string) string {
	var modules []string
	entries, _ := os.ReadDir(filepath.Join(dir, "src"))
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".rs")
		if name != "lib" && name != "main" && name != "bin" && !strings.Contains(name, ".") {
			modules = append(modules, name)
		}
	}
	random.Shuffle(len(modules), func(i, j int) { modules[i], modules[j] = modules[j], modules[i] })
	text, at := "crooked: 1\nshelves:\n", 0
	for k := range 1 + random.Intn(2) {
		text += fmt.Sprintf("  p%d:\n    at: parts/p%d/\n    package: true\n    widen: needed\n    inside:\n", k, k)
		for i := range 1 + random.Intn(2) {
			if at < len(modules) {
				name := modules[at]
				at++
				text += fmt.Sprintf("      f%d: { at: src/, from: [src/%s.rs] }\n      d%d: { at: src/%s/, from: [src/%s/**] }\n", i, name, i, name, name)
			}
		}
	}
	return text + "  rest: { at: src/ }\nleave: { stay: [\"*\", \"tests/**\", \"benches/**\", \"examples/**\"] }\n"
}
