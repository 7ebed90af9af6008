package git_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/git"
)

// lsFiles is what git itself says is tracked.
func lsFiles(t *testing.T, dir string) []string {
	t.Helper()
	out, err := exec.Command("git", "-C", dir, "ls-files", "-z").Output()
	require.NoError(t, err)
	names := strings.Split(strings.TrimSuffix(string(out), "\x00"), "\x00")
	slices.Sort(names)
	return slices.Compact(names)
}

// many fills a repository with files in folders, and commits them.
func many(t *testing.T, dir string) {
	t.Helper()
	for i := range 300 {
		write(t, dir, fmt.Sprintf("f%d/%s/n%d.txt", i%7, strings.Repeat("x", i%40+1), i), fmt.Sprint(i))
	}
	run(t, dir, "add", "-A")
	run(t, dir, "commit", "-qm", "The nights of a year")
}

// The index is read in every form that git writes it in, as git itself reads it.
func TestFormsOfAnIndex(t *testing.T) {
	forms := map[string]func(dir string){
		"version 2": func(dir string) { run(t, dir, "update-index", "--index-version", "2") },
		"version 3": func(dir string) { write(t, dir, "later.txt", ""); run(t, dir, "add", "-N", "later.txt") },
		"version 4": func(dir string) { run(t, dir, "update-index", "--index-version", "4") },
		"no sum": func(dir string) {
			run(t, dir, "-c", "index.skipHash=true", "update-index",
				"--force-write-index")
		},
		"split": func(dir string) { run(t, dir, "update-index", "--split-index") },
		"split, then changed": func(dir string) {
			run(t, dir, "config", "splitIndex.maxPercentChange", "100")
			run(t, dir, "update-index", "--split-index")
			random := rand.New(rand.NewPCG(1, 2))
			for i := range 90 {
				p := lsFiles(t, dir)[random.IntN(200)]
				switch i % 3 {
				case 0:
					run(t, dir, "rm", "-q", "--cached", p)
				case 1:
					write(t, dir, p, "changed")
					run(t, dir, "add", p)
				case 2:
					write(t, dir, fmt.Sprintf("new/%d.txt", i), "new")
					run(t, dir, "add", fmt.Sprintf("new/%d.txt", i))
				}
			}
		},
		"split, of version 4": func(dir string) {
			run(t, dir, "update-index", "--index-version", "4")
			run(t, dir, "update-index", "--split-index")
			write(t, dir, "a.txt", "changed")
			run(t, dir, "add", "a.txt")
		},
		"with a cache of what is untracked": func(dir string) { run(t, dir, "update-index", "--untracked-cache") },
		"in conflict": func(dir string) {
			run(t, dir, "checkout", "-qb", "other")
			write(t, dir, "a.txt", "theirs")
			run(t, dir, "commit", "-qam", "theirs")
			run(t, dir, "checkout", "-q", "main")
			write(t, dir, "a.txt", "ours")
			run(t, dir, "commit", "-qam", "ours")
			_ = exec.Command("git", "-C", dir, "merge", "-q", "other").Run()
		},
	}
	for name, form := range forms {
		for _, objects := range []string{"sha1", "sha256"} {
			t.Run(name+" "+objects, func(t *testing.T) {
				repository(t) // sets the environment
				dir := t.TempDir()
				if err := exec.Command("git", "init", "-q", "-b", "main", "--object-format="+objects,
					dir).Run(); err != nil {
					t.Skipf("this git knows no %s", objects)
				}
				write(t, dir, "a.txt", "one")
				many(t, dir)
				form(dir)
				w := git.Find(dir)
				require.NoError(t, w.Problem())
				assert.Equal(t, lsFiles(t, dir), w.Tracked())
				if name == "in conflict" {
					return
				}
				var clean []string
				for _, p := range w.Tracked() {
					if _, err := os.Stat(filepath.Join(dir, p)); err == nil && p != "later.txt" {
						clean = append(clean, p)
					}
				}
				assert.Empty(t, w.Modified(clean), "what is in the index is what is there")
				write(t, dir, clean[3], "changed since")
				assert.Equal(t, []string{clean[3]}, git.Find(dir).Modified(clean))
			})
		}
	}
}

// A sparse index has one entry for a folder that is kept out: what is in it is said to be absent.
func TestSparseIndex(t *testing.T) {
	dir := repository(t)
	many(t, dir)
	run(t, dir, "sparse-checkout", "init", "--cone", "--sparse-index")
	run(t, dir, "sparse-checkout", "set", "f1", "web")
	w := git.Find(dir)
	require.NoError(t, w.Problem())
	files, folders := w.Absent()
	assert.Zero(t, files)
	assert.Equal(t, 6, folders, "f0 and f2 to f6")
	tracked := w.Tracked()
	assert.Contains(t, tracked, "web/b.txt")
	assert.NotContains(t, tracked, "f2")
	for _, p := range tracked {
		assert.FileExists(t, filepath.Join(dir, p))
	}
	assert.Empty(t, w.Modified([]string{"web/b.txt", "a.txt"}))
}

// An index that is damaged is not taken for an empty one, whatever is damaged.
func TestDamagedIndex(t *testing.T) {
	dir := repository(t)
	for i := range 20 {
		write(t, dir, fmt.Sprintf("n%d.txt", i), "")
	}
	run(t, dir, "add", ".")
	p := filepath.Join(dir, ".git", "index")
	whole, err := os.ReadFile(p)
	require.NoError(t, err)
	for i := 0; i < len(whole); i += 3 {
		for _, damaged := range [][]byte{whole[:i], append(append(slices.Clone(whole[:i]), whole[i]^0x40),
			whole[i+1:]...)} {
			require.NoError(t, os.WriteFile(p, damaged, 0o644))
			assert.ErrorContains(t, git.Find(dir).Problem(),
				"git's view of the project can't be read: its index can't be read", i)
		}
	}
}

// FuzzIndex: no index makes the reader fail otherwise than by an error.
func FuzzIndex(f *testing.F) {
	f.Add([]byte("DIRC\x00\x00\x00\x02\x00\x00\x00\x00"), false)
	f.Add([]byte("DIRC\x00\x00\x00\x04\x00\x00\x00\x01"+strings.Repeat("\x00", 70)+"link"), true)
	f.Fuzz(func(t *testing.T, index []byte, zeros bool) {
		dir := t.TempDir()
		if err := os.MkdirAll(filepath.Join(dir, ".git"), 0o755); err != nil {
			t.Fatal(err)
		}
		if zeros {
			index = append(index, make([]byte, 20)...)
		}
		if err := os.WriteFile(filepath.Join(dir, ".git", "index"), index, 0o644); err != nil {
			t.Fatal(err)
		}
		w := git.Find(dir)
		_ = w.Tracked()
		_ = w.Problem()
	})
}
