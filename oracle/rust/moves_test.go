package rust_test

import (
	"fmt"
	"math/rand"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// TestMovesAtRandom gives modules of real crates random places: what a plan lets through must compile, with the tests.
// RUST_ROUNDS=20 makes more of them, RUST_CRATES=a,b takes others.
func TestMovesAtRandom(t *testing.T) {
	has(t, "cargo", "sources/crates")
	rounds, crates := 2, []string{"petgraph-0.8.3"}
	if more := os.Getenv("RUST_ROUNDS"); more != "" {
		rounds, _ = strconv.Atoi(more)
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
			moved, asked := 0, 0
			for seed := range int64(rounds) {
				text, count := scattered(rand.New(rand.NewSource(seed)), dir)
				if seed%2 == 1 { // what would not be seen any more is seen further
					text = strings.ReplaceAll(text, "] }\n", "], widen: needed }\n")
				}
				require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(text), 0o644))
				out, _ := tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial") // some are held back
				asked += count
				if m := regexp.MustCompile(`Moved (\d+) file`).FindStringSubmatch(out); m != nil {
					n, _ := strconv.Atoi(m[1])
					moved += n
				} else {
					continue
				}
				cmd := exec.Command("cargo", "check", "--quiet", "--lib", "--tests")
				cmd.Dir = dir
				cmd.Env = append(os.Environ(), "CARGO_TARGET_DIR="+target, "CARGO_PROFILE_DEV_DEBUG=0", "CARGO_PROFILE_TEST_DEBUG=0")
				said, err := cmd.CombinedOutput()
				require.NoError(t, err, "seed %d\n%s\n%s", seed, text, said)
				assert.NotContains(t, string(said), "warning: unused", "seed %d", seed)
				out, err = tree.Call(program, dir, "undo")
				require.NoError(t, err, out)
				require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
				after, err := tree.Hashes(dir)
				require.NoError(t, err)
				require.Empty(t, tree.Differences(before, after))
			}
			t.Logf("%d of %d moves in %d rounds", moved, asked, rounds)
			assert.Positive(t, moved)
		})
	}
}

// lay copies the sources of a package.
func lay(t *testing.T, name string) string {
	t.Helper()
	dir, err := filepath.EvalSymlinks(t.TempDir())
	require.NoError(t, err)
	dir = filepath.Join(dir, name)
	require.NoError(t, os.CopyFS(dir, os.DirFS(filepath.Join("sources/crates", name))))
	for _, file := range []string{".cargo-checksum.json", "Cargo.toml.orig"} {
		_ = os.Remove(filepath.Join(dir, file))
	}
	return dir
}

// scattered gives some modules of a crate other places.
func scattered(random *rand.Rand, dir string) (string, int) {
	var files, folders []string
	known := map[string]bool{}
	_ = filepath.WalkDir(filepath.Join(dir, "src"), func(p string, e os.DirEntry, err error) error {
		rel, _ := filepath.Rel(dir, p)
		if base := path.Base(rel); err == nil && strings.HasSuffix(rel, ".rs") && base != "lib.rs" && base != "main.rs" && !strings.HasPrefix(rel, "src/bin/") {
			files = append(files, rel)
			if folder := path.Dir(rel); !known[folder] {
				known[folder] = true
				folders = append(folders, folder)
			}
		}
		return nil
	})
	folders = append(folders, "src/alpha", "src/beta", "src/alpha/gamma", "src/alpha", "src/beta", "src/alpha/gamma")
	random.Shuffle(len(files), func(i, j int) { files[i], files[j] = files[j], files[i] })
	text, count, taken := "crooked: 1\nshelves:\n", 0, map[string]bool{}
	for i, file := range files[:min(8, len(files))] {
		to := path.Join(folders[random.Intn(len(folders))], path.Base(file))
		if path.Base(file) == "mod.rs" {
			to = path.Join(folders[random.Intn(len(folders))], path.Base(path.Dir(file))+"_m/mod.rs")
		} else if random.Intn(3) == 0 {
			to = path.Join(path.Dir(to), "new_"+path.Base(to))
		}
		if _, err := os.Stat(filepath.Join(dir, to)); err == nil || taken[to] {
			continue
		}
		taken[to] = true
		text += fmt.Sprintf("  s%d: { at: %s, from: [%s] }\n", i, to, file)
		count++
	}
	return text, count
}
