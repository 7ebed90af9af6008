package cli_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

const twoSteps = `-- crooked.yaml --
crooked: 1
verify: [test ! -e broken]
leave: { stay: [src/*] }
shelves:
  tools: { at: src/tools/, from: src/utils/** }
  parts: { at: src/parts/, from: src/components/** }
-- src/main.ts --
import { Card } from './components/Card'
-- src/components/Card.ts --
import { dates } from '../utils/dates'
export const Card = dates
-- src/utils/dates.ts --
export const dates = 1
`

// tree reads a project without git's own folder and the journal.
func tree(t *testing.T, dir string) map[string]string {
	t.Helper()
	out := projecttest.Read(t, dir)
	for p := range out {
		if strings.HasPrefix(p, ".git/") || strings.HasPrefix(p, ".crooked/") {
			delete(out, p)
		}
	}
	return out
}

func TestStraightenInSteps(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	old := tree(t, dir)
	done := run(t, dir, "straighten", "--steps", "--verify", "--yes")
	require.Equal(t, 0, done.code, done.err)
	assert.Equal(t, `$ test ! -e broken
step 1 of 2, tools at src/tools/: Moved 1 file and rewrote 1 mention in 1 file.
$ test ! -e broken
step 2 of 2, parts at src/parts/: Moved 1 file and rewrote 1 mention in 1 file.
Moved 2 files and rewrote 2 mentions in 2 files. crooked undo takes it back.
`, done.out)
	assert.Equal(t, 0, run(t, dir, "check").code)
	list := run(t, dir, "undo", "--list").out
	assert.Contains(t, list, "step 2, parts at src/parts/: 1 move, 1 rewrite")
	assert.Contains(t, list, "step 1, tools at src/tools/")

	assert.Equal(t, 2, run(t, dir, "undo", "--step", "0").code)
	assert.Equal(t, 3, run(t, dir, "undo", "--step", "3").code)
	one := run(t, dir, "undo", "--step", "2")
	assert.Equal(t, 0, one.code, one.err)
	now := tree(t, dir)
	assert.Contains(t, now["src/components/Card.ts"], "'../tools/dates'", "the first step stays")
	assert.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	assert.Equal(t, 0, run(t, dir, "undo", "--all").code)
	assert.Equal(t, old, tree(t, dir))
}

// What a step is planned from is what the project is then, and what its convention says then.
func TestStepsSeeWhatChangesBetween(t *testing.T) {
	t.Parallel()
	dir := small(t,
		twoSteps+"-- src/later.ts --\nexport const v = load('components/Card.ts')\n-- src/settings.ts --\nexport {}\n")
	change := `grep -q mentions crooked.yaml || printf 'mentions: [{ call: [load], like: <p>, file: src/<p> }]\n' >> crooked.yaml
printf "import './components/Card'\n" > src/settings.ts; printf "import './components/Card'\n" > src/fresh.ts`
	done := run(t, dir, "straighten", "-q", "--steps", "--yes", "--dirty", "--verify-with", "test -e src/parts || { "+
		change+"; }")
	require.Equal(t, 0, done.code, done.err)
	after := tree(t, dir)
	const mode = "-rw-r--r--\n"
	assert.Equal(t, mode+"export const v = load('parts/Card.ts')\n", after["src/later.ts"])
	assert.Equal(t, mode+"import './parts/Card'\n", after["src/settings.ts"])
	assert.Equal(t, mode+"import './parts/Card'\n", after["src/fresh.ts"])
}

// A step after which a check fails is taken back; those before it stay, and the end of what the check wrote is shown.
func TestVerifyFails(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	check := "for i in $(seq 1 30); do echo line $i; done; test ! -e src/parts"
	failed := run(t, dir, "straighten", "--steps", "--verify-with", check, "--yes")
	assert.Equal(t, 3, failed.code)
	assert.Contains(t, failed.err, "step 2 was taken back, and 1 step before it stay")
	assert.Contains(t, failed.err, "(10 lines before)")
	assert.Contains(t, failed.err, "  line 30")
	assert.NotContains(t, failed.err, "  line 10\n")
	now := tree(t, dir)
	assert.Contains(t, now, "src/tools/dates.ts")
	assert.Contains(t, now, "src/components/Card.ts")

	whole := small(t, twoSteps)
	old := tree(t, whole)
	failed = run(t, whole, "straighten", "--verify-with", "false", "--yes")
	assert.Equal(t, 3, failed.code)
	assert.Contains(t, failed.err, "all is as it was")
	assert.Equal(t, old, tree(t, whole))
	for _, wrong := range [][]string{{"straighten", "--signoff"}, {"straighten", "--plan", "x", "--steps"},
		{"straighten", "--only", "nowhere", "--yes"}} {
		assert.Equal(t, 2, run(t, whole, wrong...).code, wrong)
	}
	none := small(t, tools)
	assert.Contains(t, run(t, none, "straighten", "--verify", "--yes").err, "names no checks")
}

func TestOnly(t *testing.T) {
	t.Parallel()
	for _, only := range []string{"tools", "src/utils", "src/utils/dates.ts", "./src/tools"} {
		dir := small(t, twoSteps)
		require.Equal(t, 0, run(t, dir, "straighten", "--only", only, "--yes").code, only)
		now := tree(t, dir)
		assert.Contains(t, now, "src/tools/dates.ts")
		assert.Contains(t, now["src/components/Card.ts"], "'../tools/dates'")
	}
}

// history gives the subjects of the commits that touch a path, the last first.
func history(t *testing.T, dir, path string) []string {
	t.Helper()
	out, err := exec.Command("git", "-C", dir, "log", "--follow", "--format=%s", "--", path).Output()
	require.NoError(t, err)
	return strings.Split(strings.TrimSpace(string(out)), "\n")
}

func repository(t *testing.T, text string) string {
	t.Helper()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed")
	}
	dir := small(t, text)
	git(t, dir, "init", "-q", "-b", "main")
	git(t, dir, "config", "user.name", "Ada")
	git(t, dir, "config", "user.email", "ada@hilltop.example")
	git(t, dir, "add", ".")
	git(t, dir, "commit", "-qm", "first")
	return dir
}

func output(t *testing.T, dir string, args ...string) string {
	t.Helper()
	out, err := exec.Command("git", append([]string{"-C", dir}, args...)...).CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

func TestCommits(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "untracked.txt"), nil, 0o644))
	done := run(t, dir, "straighten", "--steps", "--commit", "--signoff", "--yes")
	require.Equal(t, 0, done.code, done.err)
	assert.Equal(t, "Follow the moves: 1 rewrite in 1 file\nMove 1 file to src/parts/ (step 2 of 2)\n"+
		"Follow the moves: 1 rewrite in 1 file\nMove 1 file to src/tools/ (step 1 of 2)\nfirst\n",
		output(t, dir, "log", "--format=%s"))
	assert.Equal(t, "?? untracked.txt\n", output(t, dir, "status", "--short"))
	assert.Contains(t, output(t, dir, "log", "-1", "--format=%b", "HEAD~1"),
		"src/components/Card.ts -> src/parts/Card.ts")
	assert.Contains(t, output(t, dir, "log", "-1", "--format=%b"), "Signed-off-by: Ada")
	assert.Contains(t, output(t, dir, "show", "--format=", "--stat", "-M100%", "HEAD~1"),
		"0 insertions(+), 0 deletions(-)", "pure renames")
	assert.Equal(t, []string{"Move 1 file to src/parts/ (step 2 of 2)", "Follow the moves: 1 rewrite in 1 file",
		"first"}, history(t, dir, "src/parts/Card.ts"))
	assert.Contains(t, output(t, dir, "blame", "--line-porcelain", "src/parts/Card.ts"), "summary first")
}

// What git would make a mess of is refused, or said.
func TestCommitsInOddTrees(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "new.txt"), nil, 0o644))
	git(t, dir, "add", "new.txt")
	refused := run(t, dir, "straighten", "--commit", "--yes")
	assert.Equal(t, 3, refused.code)
	assert.Contains(t, refused.err, "1 change staged already and would be committed along")
	git(t, dir, "commit", "-qm", "second")

	require.NoError(t, os.WriteFile(filepath.Join(dir, ".git", "MERGE_HEAD"), nil, 0o644))
	assert.Contains(t, run(t, dir, "straighten", "--commit", "--yes").err, "git is in the middle of a merge")
	require.NoError(t, os.Remove(filepath.Join(dir, ".git", "MERGE_HEAD")))

	hook := filepath.Join(dir, ".git", "hooks", "pre-commit")
	require.NoError(t, os.MkdirAll(filepath.Dir(hook), 0o755))
	require.NoError(t, os.WriteFile(hook, []byte("#!/bin/sh\necho the hook says no\nexit 1\n"), 0o755))
	old := tree(t, dir)
	hooked := run(t, dir, "straighten", "--commit", "--yes")
	assert.Equal(t, 3, hooked.code)
	assert.Contains(t, hooked.err, "the hook says no")
	assert.Contains(t, hooked.err, "all is as it was")
	assert.Equal(t, old, tree(t, dir))
	assert.Empty(t, output(t, dir, "status", "--short"), "the index too")
	require.NoError(t, os.WriteFile(hook, []byte("#!/bin/sh\ngit diff --cached --quiet --diff-filter=M || exit 1\n"),
		0o755))
	half := run(t, dir, "straighten", "--commit", "--yes")
	assert.Equal(t, 3, half.code)
	assert.Contains(t, half.err, "the renames are committed, and the rewrites stand in the work tree")
	assert.Equal(t, "Move 2 files to src/tools/, src/parts/\n", output(t, dir, "log", "-1", "--format=%s"))
	require.NoError(t, os.Remove(hook))
	git(t, dir, "commit", "-qam", "third")

	git(t, dir, "checkout", "-q", "--detach", "HEAD~2")
	detached := run(t, dir, "straighten", "--commit", "--yes")
	require.Equal(t, 0, detached.code, detached.err)
	assert.Contains(t, detached.err, "HEAD is detached")

	plain := small(t, twoSteps)
	without := run(t, plain, "straighten", "--commit", "--yes")
	assert.Equal(t, 0, without.code, without.err)
	assert.Contains(t, without.err, "no git work tree, so no commits are made")
}

// The dirty check compares for itself, so no filter of the repository runs; line endings that git normalizes are no
// change.
func TestDirtyWithoutFilters(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	mark := filepath.Join(t.TempDir(), "ran")
	git(t, dir, "config", "filter.evil.clean", "touch "+mark+"; cat")
	git(t, dir, "config", "core.fsmonitor", "touch "+mark)
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".gitattributes"), []byte("*.ts filter=evil\n"), 0o644))
	file := filepath.Join(dir, "src/utils/dates.ts")
	content, err := os.ReadFile(file)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(file, []byte(strings.ReplaceAll(string(content), "\n", "\r\n")), 0o644))
	assert.Equal(t, 0, run(t, dir, "check", "--since", "HEAD").code, "what is misplaced and unchanged is not told")
	assert.Equal(t, 0, run(t, dir, "straighten", "--only", "parts", "--yes").code)
	require.NoError(t, os.WriteFile(file, append(content, "// more\n"...), 0o644))
	dirty := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 3, dirty.code)
	assert.Contains(t, dirty.err, "src/utils/dates.ts")
	assert.NoFileExists(t, mark)
}

// Work trees of other kinds: one that is linked, one with a submodule, and one of which a part is absent.
func TestOtherWorkTrees(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps+"-- far/away.ts --\nimport '../src/utils/dates'\n")
	inner := repository(t, "-- src/utils/inner.ts --\n-- a.ts --\n")
	git(t, dir, "-c", "protocol.file.allow=always", "submodule", "--quiet", "add", inner, "src/utils/sub")
	git(t, dir, "commit", "-qm", "with a submodule")

	linked := filepath.Join(t.TempDir(), "linked")
	git(t, dir, "worktree", "add", "-q", linked)
	git(t, linked, "config", "user.name", "Ada")
	done := run(t, linked, "straighten", "--commit", "--yes")
	require.Equal(t, 0, done.code, done.err)
	assert.Contains(t, output(t, linked, "log", "-2", "--format=%s"), "Move 2 files to src/tools/, src/parts/")
	assert.NotContains(t, output(t, dir, "log", "--format=%s"), "Move 2 files",
		"the other work tree is on its own branch")

	whole := run(t, dir, "plan")
	assert.Equal(t, 0, whole.code, whole.err)
	assert.NotContains(t, whole.out, "sub/", "a submodule is left out")
	git(t, dir, "sparse-checkout", "set", "--cone", "src")
	assert.NoFileExists(t, filepath.Join(dir, "far/away.ts"))
	sparse := run(t, dir, "check")
	assert.Contains(t, sparse.out,
		"a sparse checkout keeps 1 of the files that git tracks out of the work tree: what they refer to is not seen")

	ignored := repository(t, twoSteps)
	require.NoError(t, os.MkdirAll(filepath.Join(ignored, ".git/info"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(ignored, ".git/info/exclude"), []byte("/src/tools/\n"), 0o644))
	require.NoError(t, os.MkdirAll(filepath.Join(ignored, "src/tools"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(ignored, "src/tools/dates.ts"), []byte("mine"), 0o644))
	old := tree(t, ignored)
	refused := run(t, ignored, "straighten", "--yes")
	assert.Equal(t, 1, refused.code)
	assert.Contains(t, refused.out, "git would ignore it at src/tools/dates.ts, by an ignore file outside of the "+
		"project: it would be lost from sight")
	assert.Equal(t, old, tree(t, ignored))
	partly := run(t, ignored, "straighten", "--yes", "--partial")
	assert.Equal(t, 1, partly.code)
	after := tree(t, ignored)
	assert.Contains(t, after["src/tools/dates.ts"], "mine", "what git ignores stays as it was")
	assert.Contains(t, after, "src/utils/dates.ts")
	assert.Equal(t, 0, run(t, ignored, "undo").code)
	assert.Equal(t, old, tree(t, ignored))
}
