package git_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/git"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/rootfs"
)

// repository makes a repository of two commits in a folder, whose settings are the test's own.
func repository(t *testing.T) string {
	t.Helper()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed")
	}
	home := t.TempDir()
	t.Setenv("HOME", home)
	t.Setenv("XDG_CONFIG_HOME", filepath.Join(home, ".config"))
	t.Setenv("GIT_CONFIG_NOSYSTEM", "1")
	dir := t.TempDir()
	projecttest.Write(t, dir, "-- .gitignore --\n*.log\nmade/\n-- a.txt --\none\n-- web/b.txt --\ntwo\n"+
		"-- web/kept.log --\nkept\n-- web/c.txt --\nthree\n")
	run(t, dir, "init", "-q", "-b", "main")
	run(t, dir, "add", "-f", ".")
	run(t, dir, "commit", "-qm", "The first nights")
	return dir
}

func run(t *testing.T, dir string, args ...string) {
	t.Helper()
	all := append([]string{"-C", dir, "-c", "user.name=Observer", "-c", "user.email=observer@hilltop.example", "-c",
		"commit.gpgsign=false"}, args...)
	out, err := exec.Command("git", all...).CombinedOutput()
	require.NoError(t, err, "%v: %s", args, out)
}

func absent(w *git.WorkTree) int {
	files, _ := w.Absent()
	return files
}

func write(t *testing.T, dir, name, text string) {
	t.Helper()
	p := filepath.Join(dir, filepath.FromSlash(name))
	require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
	require.NoError(t, os.WriteFile(p, []byte(text), 0o644))
}

// listed lists a project as the program sees it.
func listed(t *testing.T, dir string) []string {
	t.Helper()
	disk, err := rootfs.Open(dir)
	require.NoError(t, err)
	defer disk.Close()
	p, err := project.Load(disk, git.Options(git.Find(dir)))
	require.NoError(t, err)
	var out []string
	for _, f := range p.Files {
		out = append(out, f.Path)
	}
	return out
}

func TestFind(t *testing.T) {
	dir := repository(t)
	w := git.Find(dir)
	require.NotNil(t, w)
	assert.Empty(t, w.Prefix)
	assert.Equal(t, []string{".gitignore", "a.txt", "web/b.txt", "web/c.txt", "web/kept.log"}, w.Tracked())
	below := git.Find(filepath.Join(dir, "web"))
	require.NotNil(t, below)
	assert.Equal(t, "web/", below.Prefix)
	assert.Equal(t, []string{"b.txt", "c.txt", "kept.log"}, below.Tracked())
	assert.Nil(t, git.Find(t.TempDir()))
}

// What is ignored is left out, by the rules of the tree, of the folders above it, of the repository and of the user;
// what is tracked is never ignored.
func TestWhatIsIgnored(t *testing.T) {
	dir := repository(t)
	write(t, dir, "web/new.log", "x")
	write(t, dir, "web/new.txt", "x")
	write(t, dir, "web/mine.tmp", "x")
	write(t, dir, "web/ours.bak", "x")
	write(t, dir, "made/x.txt", "x")
	assert.Equal(t, []string{".gitignore", "a.txt", "web/b.txt", "web/c.txt", "web/kept.log", "web/mine.tmp",
		"web/new.txt", "web/ours.bak"}, listed(t, dir))
	assert.Equal(t, []string{"b.txt", "c.txt", "kept.log", "mine.tmp", "new.txt", "ours.bak"},
		listed(t, filepath.Join(dir, "web")), "the rules of the folder above hold")

	write(t, dir, ".git/info/exclude", "*.bak\n")
	write(t, os.Getenv("HOME"), ".config/git/ignore", "*.tmp\n")
	assert.Equal(t, []string{".gitignore", "a.txt", "web/b.txt", "web/c.txt", "web/kept.log", "web/new.txt"},
		listed(t, dir))

	write(t, os.Getenv("HOME"), ".gitconfig", "[core]\n\texcludesFile = ~/mine\n[user]\n\texcludesfile = no\n")
	write(t, os.Getenv("HOME"), "mine", "new.txt\n")
	assert.Equal(t, []string{".gitignore", "a.txt", "web/b.txt", "web/c.txt", "web/kept.log", "web/mine.tmp"},
		listed(t, dir), "the user's own file takes the place of git's default")
}

func TestModified(t *testing.T) {
	dir := repository(t)
	past := time.Now().Add(-time.Hour).Truncate(time.Second)
	require.NoError(t, os.Chtimes(filepath.Join(dir, "web", "c.txt"), past, past)) // touched, and the same
	write(t, dir, "a.txt", "other\n")
	write(t, dir, "new.txt", "x")
	require.NoError(t, os.Remove(filepath.Join(dir, "web", "kept.log")))
	all := []string{"a.txt", "web/b.txt", "web/c.txt", "web/kept.log", "new.txt"}
	assert.Equal(t, []string{"a.txt", "web/kept.log", "new.txt"}, git.Find(dir).Modified(all))

	write(t, dir, "web/b.txt", "two\r\n") // as a checkout on another system has it
	assert.Equal(t, []string{"a.txt", "web/kept.log", "new.txt"}, git.Find(dir).Modified(all))
	require.NoError(t, os.Remove(filepath.Join(dir, "web", "b.txt")))
	require.NoError(t, os.Symlink("a.txt", filepath.Join(dir, "web", "b.txt")))
	assert.Contains(t, git.Find(dir).Modified(all), "web/b.txt", "a link has taken the file's place")
	assert.Equal(t, []string{"b.txt"}, git.Find(filepath.Join(dir, "web")).Modified([]string{"b.txt", "c.txt"}))
}

func TestWhatGitIsInTheMiddleOf(t *testing.T) {
	dir := repository(t)
	w := git.Find(dir)
	assert.Empty(t, w.Unfinished())
	assert.False(t, w.Detached())
	for file, what := range map[string]string{"MERGE_HEAD": "a merge", "CHERRY_PICK_HEAD": "a cherry-pick",
		"REVERT_HEAD": "a revert", "rebase-merge": "a rebase", "BISECT_LOG": "a bisect"} {
		write(t, dir, ".git/"+file, "")
		assert.Equal(t, what, w.Unfinished())
		require.NoError(t, os.Remove(filepath.Join(dir, ".git", file)))
	}
	run(t, dir, "checkout", "-q", "--detach")
	assert.True(t, w.Detached())
}

// A linked work tree has an index of its own and shares the rest.
func TestLinkedWorkTree(t *testing.T) {
	dir := repository(t)
	linked := filepath.Join(t.TempDir(), "linked")
	run(t, dir, "worktree", "add", "-q", "-b", "other", linked)
	write(t, dir, ".git/info/exclude", "*.bak\n")
	write(t, linked, "x.bak", "x")
	write(t, linked, "y.txt", "y")
	run(t, linked, "add", "y.txt")
	w := git.Find(linked)
	require.NotNil(t, w)
	assert.Contains(t, w.Tracked(), "y.txt")
	assert.NotContains(t, git.Find(dir).Tracked(), "y.txt")
	assert.Equal(t, []string{".gitignore", "a.txt", "web/b.txt", "web/c.txt", "web/kept.log", "y.txt"},
		listed(t, linked))
	assert.False(t, w.Detached())
}

func TestSparseCheckout(t *testing.T) {
	dir := repository(t)
	assert.Zero(t, absent(git.Find(dir)))
	run(t, dir, "sparse-checkout", "set", "--no-cone", "/a.txt", "/.gitignore")
	w := git.Find(dir)
	assert.Equal(t, 3, absent(w))
	assert.Empty(t, w.Modified([]string{"a.txt", "web/b.txt"}), "what is kept out has not changed")
}

// A repository that is broken is one of which nothing is known.
func TestBrokenRepositories(t *testing.T) {
	dir := repository(t)
	write(t, dir, ".git/index", "DIRC no index")
	w := git.Find(dir)
	assert.Empty(t, w.Tracked())
	assert.Equal(t, []string{"a.txt"}, w.Modified([]string{"a.txt"}))
	for _, text := range []string{"", "gitdir", "gitdir: ", "\x00"} {
		odd := t.TempDir()
		write(t, odd, ".git", text)
		write(t, odd, "a.txt", "x")
		assert.Equal(t, []string{"a.txt"}, listed(t, odd), "%q", text)
	}
}
