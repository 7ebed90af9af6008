package project_test

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/git"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/source"
)

func paths(p *project.Project) []string {
	var out []string
	for _, f := range p.Files {
		out = append(out, f.Path)
	}
	return out
}

func load(t *testing.T, dir string) *project.Project {
	t.Helper()
	disk, err := rootfs.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { disk.Close() })
	p, err := project.Load(disk, git.Options(git.Find(dir)))
	require.NoError(t, err)
	return p
}

func runGit(t *testing.T, dir string, args ...string) string {
	t.Helper()
	cmd := exec.Command("git", append([]string{"-c", "user.name=Ada", "-c", "user.email=ada@hilltop.example", "-c",
		"core.quotePath=false"}, args...)...)
	cmd.Dir = dir
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

// The rows are held against git itself: what it lists as neither ignored nor deleted is the tree.
func TestIgnoreRulesAreGits(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed, so its rules can't be asked for")
	}
	files := []string{
		"a.log", "keep.log", "b/a.log", "b/keep.log", "build/x.js", "b/build/x.js", "b/build/c/y.js", "c/only/here.txt",
		"d/only/here.txt",
		"e/f/g.tmp", "e/g.tmp", "h/i/j/k.txt", "h/k.txt", "l[1].txt", "l1.txt", "m n.txt", "trail ", "#hash", "!bang",
		"o/p/q.md", "o/q.md",
		"r/s.dat", "r/t/s.dat", "u.a", "u.b", "u.c", "v{1}.txt", "v1.txt", "w/x/y/z", "w/z", "Case.txt", "case.txt",
		"foo/bar", "deep/foo/bar", "ab", "aXb", "ä.log",
		"one/.gitignore/x", "inner/skip.me", "inner/take.me", "inner/sub/skip.me", "dir.only", "sub/dir.only/x",
		"star/ab/x", "star/b/x",
	}
	cases := []string{
		"*.log\n!keep.log", "build/", "/build/", "only", "/c/only", "**/g.tmp", "e/**", "e/**/g.tmp",
		"h/*/k.txt\nh/**/k.txt", "l[1].txt", `l\[1\].txt`, "m n.txt",
		`trail\ `, "trail ", `\#hash`, `\!bang`, "# comment\n\n", "*.md\n!o/q.md", "o/\n!o/q.md", "r/*\n!r/t",
		"r/*\n!r/t/\nr/t/*", "u.[ab]", "u.[!ab]", "u.[^ab]", "v{1}.txt",
		"w/**/z", "case.txt", "foo/bar", "/foo/bar", "foo/bar/", "a?b", "a*b", "*", "*\n!*/\n!*.md", "/*\n!/w", "**",
		"**/", "e/", "dir.only/", "star/**b/x", "star/*b/x", "w/**", "!*.log", "*.log/", "\xEF\xBB\xBF*.log", "*.log\r",
		"x/../a.log", "[", "a[", `\`,
	}
	for i, rules := range cases {
		t.Run(fmt.Sprint(i, " ", strings.ReplaceAll(rules, "\n", " ; ")), func(t *testing.T) {
			dir := t.TempDir()
			runGit(t, dir, "init", "-q")
			for _, f := range files {
				p := filepath.Join(dir, f)
				require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
				require.NoError(t, os.WriteFile(p, nil, 0o644))
			}
			require.NoError(t, os.WriteFile(filepath.Join(dir, ".gitignore"), []byte(rules), 0o644))
			require.NoError(t, os.WriteFile(filepath.Join(dir, "inner", ".gitignore"), []byte("skip.me\n!u.a\n"),
				0o644))
			var want []string
			for f := range strings.SplitSeq(runGit(t, dir, "ls-files", "-z", "--others", "--exclude-standard"),
				"\x00") {
				if f != "" {
					want = append(want, f)
				}
			}
			slices.Sort(want)
			p := load(t, dir)
			assert.Equal(t, want, paths(p))
			ignoring := p.Ignoring()
			for _, f := range files {
				_, ignored := ignoring(f)
				assert.Equal(t, !slices.Contains(want, f), ignored, "what comes to %s", f)
			}
		})
	}
}

func TestGitAround(t *testing.T) {
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed")
	}
	dir := t.TempDir()
	t.Setenv("HOME", t.TempDir())
	t.Setenv("XDG_CONFIG_HOME", "")
	require.NoError(t, os.WriteFile(filepath.Join(os.Getenv("HOME"), ".gitconfig"),
		[]byte("[core]\n\texcludesFile = ~/mine\n"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(os.Getenv("HOME"), "mine"), []byte("*.swp\n"), 0o644))
	projecttest.Write(t, dir, `
-- .gitignore --
/app/dist
*.gen.ts
-- app/.gitignore --
!kept.gen.ts
-- app/a.ts --
-- app/a.ts.swp --
-- app/b.gen.ts --
-- app/kept.gen.ts --
-- app/tracked.gen.ts --
-- app/dist/out.js --
-- app/dist/tracked.js --
-- app/excluded.ts --
-- app/node_modules/x/index.js --
-- app/nested/.git/HEAD --
-- app/nested/x.ts --
-- app/.crooked/x --
`)
	runGit(t, dir, "init", "-q")
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".git", "info", "exclude"), []byte("/app/excluded.ts\n"), 0o644))
	runGit(t, dir, "add", "-f", "app/tracked.gen.ts", "app/dist/tracked.js")
	assert.Equal(t, []string{".gitignore", "a.ts", "dist/tracked.js", "kept.gen.ts", "tracked.gen.ts"},
		paths(load(t, filepath.Join(dir, "app"))))
}

func TestWithoutGit(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, "-- .gitignore --\n*.log\n-- a.log --\n-- b.ts --\n-- node_modules/x.js --\n")
	assert.Equal(t, []string{".gitignore", "b.ts"}, paths(load(t, dir)))
}

func TestLinksAreListedAndNotFollowed(t *testing.T) {
	t.Parallel()
	dir, outside := t.TempDir(), t.TempDir()
	projecttest.Write(t, outside, "-- secret.ts --\nimport 'x'\n")
	projecttest.Write(t, dir, "-- a/b.ts --\n")
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "out")))
	require.NoError(t, os.Symlink(filepath.Join(outside, "secret.ts"), filepath.Join(dir, "a", "secret.ts")))
	require.NoError(t, os.Symlink("..", filepath.Join(dir, "a", "loop")))
	p := load(t, dir)
	assert.Equal(t, []string{"a/b.ts", "a/loop", "a/secret.ts", "out"}, paths(p))
	id, _ := p.Lookup("a/secret.ts")
	_, err := p.Content(id)
	require.ErrorContains(t, err, "a/secret.ts is a link")
	_, err = p.ReadOutside("out/secret.ts")
	assert.Error(t, err, "nothing is read through a link")
}

func TestOverlay(t *testing.T) {
	t.Parallel()
	p := projecttest.Load(t, "-- a.ts --\none\n-- b/c.ts --\ntwo\n-- b/d.ts --\nthree\n")
	a, _ := p.Lookup("a.ts")
	c, _ := p.Lookup("b/c.ts")
	o, newID, err := p.Overlay(map[project.FileID]string{a: "b/c.ts", c: "z/c.ts"},
		map[project.FileID][]source.Edit{c: {{Span: source.Span{Start: 0, End: 2}, New: "TW"},
			{Span: source.Span{Start: 2, End: 3}, New: "O"}}}, map[string][]byte{"n": []byte("new")})
	require.NoError(t, err)
	assert.Equal(t, []string{"b/c.ts", "b/d.ts", "n", "z/c.ts"}, paths(o))
	assert.True(t, o.IsOverlay() && !p.IsOverlay())
	for id, want := range []string{"one\n", "three\n", "new", "TWO\n"} {
		o.Peek(project.FileID(id), func(content []byte, err error) {
			assert.NoError(t, err)
			assert.Equal(t, want, string(content))
		})
	}
	text := func(id project.FileID) string { b, _ := o.Content(id); return string(b) }
	assert.Equal(t, "one\n", text(newID[a]))
	assert.Equal(t, "TWO\n", text(newID[c]))
	for id, was := range []string{"a.ts", "b/d.ts", "n", "b/c.ts"} {
		assert.Equal(t, was, o.Before(project.FileID(id)), o.Path(project.FileID(id)))
	}
	assert.Equal(t, "a.ts", p.Before(a))
	assert.True(t, o.IsDir("z"))
	assert.Equal(t, []string{"a.ts", "b/c.ts", "b/d.ts"}, paths(p), "the tree below is as it was")
	_, _, err = p.Overlay(map[project.FileID]string{a: "b/d.ts"}, nil, nil)
	assert.ErrorContains(t, err, "a.ts and b/d.ts would both be b/d.ts")
	_, _, err = p.Overlay(nil, map[project.FileID][]source.Edit{a: {{Span: source.Span{Start: 3, End: 9}}}}, nil)
	assert.ErrorContains(t, err, "a.ts can't be edited: edit 1 at bytes 3-9 does not fit")
}

func TestForEachReadsEveryFileOnce(t *testing.T) {
	t.Parallel()
	var text strings.Builder
	for i := range 600 {
		fmt.Fprintf(&text, "-- f%03d --\n%d\n", i, i)
	}
	p := projecttest.Load(t, text.String())
	ids := make([]project.FileID, len(p.Files))
	for i := range ids {
		ids[i] = project.FileID(i)
	}
	for _, keep := range []bool{true, false} {
		var mu sync.Mutex
		seen := map[project.FileID]string{}
		p.ForEach(ids, keep, func(id project.FileID, content []byte, err error) {
			mu.Lock()
			defer mu.Unlock()
			assert.NoError(t, err)
			seen[id] += string(content)
		})
		assert.Len(t, seen, 600)
		assert.Equal(t, "599\n", seen[599])
	}
}

// Contents that are kept lie one behind the other, and none is in the way of another.
func TestContentsAreKeptApart(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	want := map[string][]byte{}
	for i, size := range []int{0, 1, 5000, 1 << 16, 1<<16 - 1, 0, 200_000, 1 << 18, 9 << 20, 3, 5000, 100_000, 60_000,
		60_000} {
		name := fmt.Sprintf("f%02d", i)
		want[name] = bytes.Repeat([]byte{byte('a' + i)}, size)
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), want[name], 0o600))
	}
	p := load(t, dir)
	for range 2 {
		for id, f := range p.Files {
			content, err := p.Content(project.FileID(id))
			require.NoError(t, err)
			require.True(t, bytes.Equal(want[f.Path], content), f.Path)
			require.Equal(t, len(content), cap(content), "what is appended goes elsewhere")
		}
	}
}

func TestCleanPath(t *testing.T) {
	t.Parallel()
	for _, good := range []string{"a", "a/b", "a b/ü", "a\nb", "..a", ".gitignore", "a/.github/x", "src/.crooked"} {
		assert.True(t, project.CleanPath(good), good)
	}
	for _, bad := range []string{"", ".", "..", "../a", "/a", "a/../b", "a//b", "a/", "./a", ".git/x", ".git",
		".crooked/x", ".crooked", "a\x00", "a/.git/hooks/x", ".GIT/x", ".Git", "a/.g\u200cit/x", ".git. /x",
		".git::$INDEX_ALLOCATION/x", "GIT~1/x", ".CROOKED/x", `a\..\..\x`, `.git\x`, `\.crooked\x`, "a/\u200c.git",
		"G\u200cit~1", `a\GIT~1`} {
		assert.False(t, project.CleanPath(bad), bad)
	}
}
