//go:build linux

package cli_test

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/journal"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/rootfs"
)

// forge writes a journal as somebody would who wants undo to write a file. With own it has this user's mark, which
// nobody else can make.
func forge(t *testing.T, dir, at, content, state string, own bool) {
	t.Helper()
	folder := filepath.Join(dir, ".crooked/journal/0001")
	require.NoError(t, os.MkdirAll(filepath.Join(folder, "held"), 0o755))
	head := fmt.Sprintf("crooked old %d %s %q\n", len(content), plan.Sum([]byte(content)), at)
	record := fmt.Sprintf(`{"version":2,"time":{"s":0,"ns":0},"title":"forged","files":[{"from":%q,"to":"nowhere","before":%q,"after":%q,"mode":493,"uid":0,"gid":0,"modified":{"s":0,"ns":0},"id":{"device":0,"inode":0},"offset":%d,"size":%d,"new_size":%d}],"made":[],"emptied":[]}`,
		at, plan.Sum([]byte(content)), plan.Sum([]byte(content)), len(head), len(content), len(content))
	require.NoError(t, os.WriteFile(filepath.Join(folder, "record.json"), []byte(record), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(folder, "old.pack"), []byte(head+content+"\n"), 0o644))
	restate(t, dir, state)
	if !own {
		p := filepath.Join(folder, "state")
		text, err := os.ReadFile(p)
		require.NoError(t, err)
		mark := strings.Index(string(text), "mark ")
		require.NoError(t, os.WriteFile(p, fmt.Appendf(nil, "%smark %s\n", text[:mark], strings.Repeat("0", 64)),
			0o644))
	}
}

// withKey makes sure that the user has a key.
func withKey(t *testing.T) {
	t.Helper()
	require.Equal(t, 0, run(t, small(t, tools), "straighten", "--yes").code)
}

// A clone that brings a journal, and a link into the folder of git's hooks, gets nothing written; not even if the
// journal has the user's own mark.
func TestAJournalThatCameWithAClone(t *testing.T) {
	t.Parallel()
	withKey(t)
	const evil = "#!/bin/sh\ntouch evil\n"
	for _, state := range []string{"begun", "undoing", "done"} {
		for _, own := range []bool{false, true} {
			for _, at := range []string{"docs/pre-commit", ".git/hooks/pre-commit", "deep/docs/x/pre-commit"} {
				name := fmt.Sprintf("%s %s, own mark: %t", state, at, own)
				dir := repository(t, twoSteps)
				require.NoError(t, os.MkdirAll(filepath.Join(dir, ".git/hooks/x"), 0o755))
				require.NoError(t, os.MkdirAll(filepath.Join(dir, "deep"), 0o755))
				require.NoError(t, os.Symlink(".git/hooks", filepath.Join(dir, "docs")))
				require.NoError(t, os.Symlink("../.git/hooks", filepath.Join(dir, "deep/docs")))
				forge(t, dir, at, evil, state, own)
				check, undo := run(t, dir, "check"), run(t, dir, "undo")
				if !own {
					assert.Equal(t, 3, undo.code, name)
					assert.Contains(t, check.out+check.err, "delete the folder .crooked", name)
					if !strings.HasPrefix(at, ".git") {
						assert.Contains(t, undo.err, "was not made here by you", name)
					}
					trusted := run(t, dir, "undo", "--trust")
					assert.NotEqual(t, 0, trusted.code, name)
				}
				assert.NotEqual(t, 0, undo.code, name)
				assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/pre-commit"), name)
				assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/x/pre-commit"), name)
			}
		}
	}
	dir := repository(t, twoSteps)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	git(t, dir, "add", "-f", ".crooked")
	git(t, dir, "commit", "-qm", "with the journal")
	clone := t.TempDir()
	git(t, clone, "clone", "-q", dir, ".")
	old := tree(t, clone)
	for _, command := range [][]string{{"undo"}, {"straighten", "--yes", "--dirty"}} {
		if refused := run(t, clone, command...); command[0] == "undo" {
			assert.Equal(t, 3, refused.code)
			assert.Contains(t, refused.err, "git tracks .crooked/.gitignore: a journal is of one checkout")
		}
	}
	assert.Equal(t, old, tree(t, clone))
}

// Where no key can be kept it is said, steps go on all the same, and undo asks for trust.
func TestWithoutAKey(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	old := tree(t, dir)
	without := []string{"HOME=/proc/none", "XDG_CONFIG_HOME=/proc/none"}
	for _, how := range []string{"--steps", "--partial"} {
		done := runWith(t, dir, without, "straighten", "--yes", how)
		require.Equal(t, 0, done.code, done.err)
		assert.Contains(t, done.err, "no key for the journal can be kept")
		refused := runWith(t, dir, without, "undo")
		assert.Equal(t, 3, refused.code)
		assert.Contains(t, refused.err, "crooked undo --trust")
		require.Equal(t, 0, runWith(t, dir, without, "undo", "--trust").code)
		assert.Equal(t, old, tree(t, dir))
	}
	failed := runWith(t, dir, without, "straighten", "--yes", "--verify-with", "false")
	assert.Equal(t, 3, failed.code)
	assert.Equal(t, old, tree(t, dir), "what was just made is taken back without it")
}

// A folder on the way of a stored plan that has become a link is not followed.
func TestALinkOnTheWayOfAStoredPlan(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	stored := filepath.Join(t.TempDir(), "plan.json")
	require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
	outside := t.TempDir()
	for _, target := range []string{outside, ".git", "src"} {
		require.NoError(t, os.MkdirAll(filepath.Join(dir, ".git"), 0o755))
		require.NoError(t, os.Symlink(target, filepath.Join(dir, "src/tools")))
		done := run(t, dir, "straighten", "--yes", "--dirty", "--plan", stored)
		assert.Equal(t, 3, done.code, target)
		for _, folder := range []string{outside, filepath.Join(dir, ".git")} {
			entries, err := os.ReadDir(folder)
			require.NoError(t, err)
			assert.Empty(t, entries, target)
		}
		assert.FileExists(t, filepath.Join(dir, "src/utils/dates.ts"))
		require.NoError(t, os.Remove(filepath.Join(dir, "src/tools")))
		require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
	}
}

// Nor is one above it, by which the new place lies in a folder of git's.
func TestALinkAboveANewPlace(t *testing.T) {
	t.Parallel()
	for _, how := range [][]string{{"--plan"}, {}} {
		dir := small(t, strings.ReplaceAll(twoSteps, "src/tools/", "docs/hooks/"))
		stored := filepath.Join(t.TempDir(), "plan.json")
		require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
		if len(how) > 0 {
			how = append(how, stored)
		}
		hooks := filepath.Join(dir, ".git/hooks")
		require.NoError(t, os.MkdirAll(hooks, 0o755))
		require.NoError(t, os.Symlink(".git", filepath.Join(dir, "docs")))
		done := run(t, dir, append([]string{"straighten", "--yes", "--dirty"}, how...)...)
		assert.NotEqual(t, 0, done.code, how)
		entries, err := os.ReadDir(hooks)
		require.NoError(t, err)
		assert.Empty(t, entries, "%v: %s", how, done.err)
		assert.FileExists(t, filepath.Join(dir, "src/utils/dates.ts"))
	}
}

// Only what the convention gives today is carried out of a stored plan, whatever else is written into it.
func TestStoredPlansAreNotBelieved(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps+"-- notes.md --\nimportant\n")
	stored := filepath.Join(t.TempDir(), "plan.json")
	require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
	text, err := os.ReadFile(stored)
	require.NoError(t, err)
	notes, yaml := plan.Sum([]byte("important\n")), plan.Sum([]byte(projecttest.Files(twoSteps)["crooked.yaml"]))
	old := tree(t, dir)
	for name, change := range map[string]func(p *plan.Plan){
		"removes a file with content": func(p *plan.Plan) {
			p.Removes = append(p.Removes,
				plan.Removed{Fingerprint: plan.Fingerprint{Path: "notes.md", SHA256: notes}})
		},
		"removes the convention": func(p *plan.Plan) {
			p.Removes = append(p.Removes, plan.Removed{Fingerprint: plan.Fingerprint{Path: "crooked.yaml", SHA256: yaml}})
		},
		"writes .husky/pre-commit": func(p *plan.Plan) {
			p.Writes = append(p.Writes, plan.NewFile{Path: ".husky/pre-commit", Content: "evil"})
		},
		"edits src/main.ts otherwise":   func(p *plan.Plan) { p.Edits[len(p.Edits)-1].Changes[0].New = "./evil" },
		"edits src/components/Card.ts ": func(p *plan.Plan) { p.Edits[0].Changes[0].New = "'; evil() //" },
		"moves notes.md to src/notes": func(p *plan.Plan) {
			p.Steps[0].Moves = append(p.Steps[0].Moves, plan.Move{From: "notes.md", To: "src/notes.md", SHA256: notes})
		},
		"one path twice": func(p *plan.Plan) { p.Steps[0].Moves = append(p.Steps[0].Moves, p.Steps[0].Moves[0]) },
		"one new place twice": func(p *plan.Plan) {
			p.Writes = append(p.Writes,
				plan.NewFile{Path: p.Steps[0].Moves[0].To})
		},
	} {
		made, err := plan.Read(text)
		require.NoError(t, err)
		change(made)
		for i := range made.Edits { // the sums are set right, as somebody would
			content, err := os.ReadFile(filepath.Join(dir, made.Edits[i].Path))
			require.NoError(t, err)
			f := plan.OutcomeFile{From: made.Edits[i].Path, To: made.Edits[i].Path, Before: content,
				Edits: made.Edits[i].SourceEdits()}
			made.Edits[i].After = plan.Sum(f.After())
		}
		forged, err := made.Write()
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(stored, forged, 0o644))
		done := run(t, dir, "straighten", "--yes", "--plan", stored)
		assert.Contains(t, []int{2, 3}, done.code, name)
		assert.NotEmpty(t, done.err, name)
		assert.Equal(t, old, tree(t, dir), name)
	}
	require.NoError(t, os.WriteFile(stored, text, 0o644))
	assert.Equal(t, 0, run(t, dir, "straighten", "--yes", "--plan", stored).code, "as it was made it is carried out")
}

// Names that are no valid UTF-8 are moved, come back, and are kept in JSON.
func TestNamesOfAnyBytes(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	for _, name := range []string{"d\xf4me.ts", "\xff\xfe.ts", "caf\u00e9.ts", "a\uef80b.ts"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils", name), []byte("export {}\n"), 0o644))
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/main.ts"), []byte("import './utils/caf\u00e9'\n"), 0o644))
	old := projecttest.Read(t, dir)
	checked := run(t, dir, "check", "--format", "json")
	var document struct{ Findings []struct{ Path string } }
	require.NoError(t, json.Unmarshal([]byte(checked.out), &document))
	paths := map[string]bool{}
	for _, f := range document.Findings {
		paths[f.Path] = true
	}
	assert.True(t, paths["src/utils/d\ueff4me.ts"], "%v", paths)
	stored := filepath.Join(t.TempDir(), "plan.json")
	for _, how := range [][]string{{}, {"--steps"}, {"--plan", stored}} {
		require.Equal(t, 0, run(t, dir, "plan", "-o", stored).code)
		done := run(t, dir, append([]string{"straighten", "--yes"}, how...)...)
		require.Equal(t, 0, done.code, done.err)
		now := projecttest.Read(t, dir)
		for _, name := range []string{"d\xf4me.ts", "\xff\xfe.ts", "caf\u00e9.ts", "a\uef80b.ts"} {
			assert.Contains(t, now, "src/tools/"+name)
		}
		require.Equal(t, 0, run(t, dir, "undo").code)
		assert.Equal(t, old, projecttest.Read(t, dir), how)
	}
}

// An undo that was stopped half way is reported, nothing else goes ahead, and the next undo goes on with it.
func TestAnUndoThatWasStopped(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	old := projecttest.Read(t, dir)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	restate(t, dir, "undoing")
	for _, command := range [][]string{{"check"}, {"plan"}, {"straighten", "--yes"}} {
		refused := run(t, dir, command...)
		assert.Equal(t, 3, refused.code, command)
		assert.Contains(t, refused.err,
			"was stopped half way; crooked undo goes on with it and gives the old tree back", command)
	}
	assert.Contains(t, run(t, dir, "undo", "--list").out, "its undo was stopped half way")
	require.Equal(t, 0, run(t, dir, "undo").code)
	assert.Equal(t, old, projecttest.Read(t, dir))
}

// One lock governs a tree: a project and one further down are not written at one time, those side by side are. A
// straighten that runs is told apart from one that was stopped.
func TestOneLockForATree(t *testing.T) {
	t.Parallel()
	files := ""
	for _, below := range []string{"", "one/", "other/", "one/deep/"} {
		for name, data := range projecttest.Files(tools) {
			files += "-- " + below + name + " --\n" + data
		}
	}
	dir := small(t, strings.ReplaceAll(files, "leave: { stay: [src/*] }", "leave: { stay: [src/*], outside: [x/**] }"))
	hold := func(at string) func() {
		root := filepath.Join(dir, at)
		disk, err := rootfs.Open(root)
		require.NoError(t, err)
		lock, err := journal.Acquire(root, disk)
		require.NoError(t, err)
		return func() {
			require.NoError(t, lock.Release())
			disk.Close()
		}
	}
	for _, c := range []struct {
		held, tried string
		busy        bool
	}{{"", "", true}, {"", "one", true}, {"one", "", true}, {"one", "other", false}, {"one", "one/deep", true},
		{"one/deep", "one", true}, {"", "one/deep", true}} {
		release := hold(c.held)
		done := run(t, filepath.Join(dir, c.tried), "straighten", "--yes", "--only", "tools")
		if c.busy {
			assert.Equal(t, 3, done.code, c)
			assert.Contains(t, done.err, "another crooked is at work in", c)
			assert.True(t, strings.Contains(done.err, "(process ") ||
				strings.Contains(done.err, "or in a project below it"), "%v: %s", c, done.err)
		} else {
			assert.Equal(t, 0, done.code, "%v: %s", c, done.err)
			assert.Equal(t, 0, run(t, filepath.Join(dir, c.tried), "undo").code)
		}
		release()
		assert.NoDirExists(t, filepath.Join(dir, c.held, ".crooked"))
	}

	one := filepath.Join(dir, "one")
	require.Equal(t, 0, run(t, one, "straighten", "--yes", "--only", "tools").code)
	restate(t, one, "begun")
	assert.Contains(t, run(t, one, "check").err, "was stopped half way; crooked undo gives")
	assert.Contains(t, run(t, dir, "check").err, "was stopped half way; crooked undo --root", "a project further down")
	assert.Contains(t, run(t, filepath.Join(one, "deep"), "check").err, "was stopped half way; crooked undo --root",
		"a project above")
	release := hold("one")
	for _, at := range []string{one, dir, filepath.Join(one, "deep")} {
		running := run(t, at, "check")
		assert.Equal(t, 3, running.code, at)
		assert.Contains(t, running.err, "another crooked is at work in", at)
		assert.NotContains(t, running.err, "was stopped half way", at)
	}
	release()
	require.Equal(t, 0, run(t, one, "undo").code)
}

// Where an old folder was, somebody has put a file: what can be put back is, the rest is reported file by file and
// kept.
func TestAFileWhereAFolderWas(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils"), []byte("mine"), 0o644))
	undone := run(t, dir, "undo")
	assert.Equal(t, 1, undone.code, undone.err)
	assert.Contains(t, undone.out, "kept: src/utils/dates.ts can't be put back: src/utils is no folder any more")
	now := tree(t, dir)
	assert.Contains(t, now["src/utils"], "mine")
	assert.Contains(t, now["src/components/Card.ts"], "'../utils/dates'", "the others are put back")
	assert.Contains(t, now["src/tools/dates.ts"], "export const dates", "and this one stays where it is")
	assert.Equal(t, 0, run(t, dir, "undo").code)
	listed := run(t, dir, "undo", "--list")
	assert.Contains(t, listed.out, "taken back; kept for the old contents of files that were changed meanwhile")
	assert.Equal(t, "export const dates = 1\n", run(t, dir, "undo", "--extract", "src/utils/dates.ts").out)
	assert.Equal(t, "export const dates = 1\n", run(t, dir, "undo", "--extract", "./src/tools/dates.ts").out)
	assert.Contains(t, run(t, dir, "undo", "--verify").out, "whole")
	assert.Contains(t, run(t, dir, "undo", "--forget", "1").out, "Record 1 is deleted")
	assert.Equal(t, 3, run(t, dir, "undo", "--extract", "src/utils/dates.ts").code)
	assert.NoDirExists(t, filepath.Join(dir, ".crooked"))
}

// A damaged record is reported by every command that could meet it, and put aside when it is to be forgotten.
func TestADamagedRecord(t *testing.T) {
	t.Parallel()
	dir := small(t, twoSteps)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	record := filepath.Join(dir, ".crooked/journal/0001/record.json")
	text, err := os.ReadFile(record)
	require.NoError(t, err)
	text[len(text)/2] ^= 4
	require.NoError(t, os.WriteFile(record, text, 0o600))
	check := run(t, dir, "check")
	assert.Equal(t, 0, check.code, "what is damaged was finished")
	assert.Contains(t, check.out, "record 1 of the journal can't be used: its record.json is damaged")
	verified := run(t, dir, "undo", "--verify")
	assert.Equal(t, 1, verified.code)
	assert.Contains(t, verified.out, "its record.json is damaged")
	var found []struct{ Wrong []string }
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "undo", "--verify", "--format", "json").out), &found))
	assert.Equal(t, []string{"its record.json is damaged"}, found[0].Wrong)
	undone := run(t, dir, "undo")
	assert.Equal(t, 3, undone.code)
	assert.Contains(t, undone.err, "Nothing of it was deleted")
	assert.Contains(t, run(t, dir, "undo", "--list").out, "can't be used: its record.json is damaged")
	assert.Contains(t, run(t, dir, "undo", "--extract", "src/components/Card.ts").out, "'../utils/dates'")

	require.NoError(t, os.WriteFile(filepath.Join(dir, ".crooked/journal/0001/state"), nil, 0o600))
	lost := run(t, dir, "check")
	assert.Equal(t, 3, lost.code, "what may be half done stops everything")
	assert.Contains(t, lost.err, "its state is damaged")
	assert.Contains(t, run(t, dir, "undo", "--forget", "1").out, "it is in .crooked/damaged/0001 now")
	assert.FileExists(t, filepath.Join(dir, ".crooked/damaged/0001/old.pack"))
	assert.Equal(t, 0, run(t, dir, "check").code)
}

// The output can't be written: what was done is done, the exit code says so, and no check is skipped.
func TestOutputThatCannotBeWritten(t *testing.T) {
	t.Parallel()
	shell := func(dir, script string) (int, string) {
		cmd := exec.Command("sh", "-c", script)
		cmd.Dir = dir
		cmd.Env = append(os.Environ(), "CROOKED="+program)
		out, _ := cmd.CombinedOutput()
		return cmd.ProcessState.ExitCode(), string(out)
	}
	for _, format := range []string{"text", "json"} {
		dir := small(t, twoSteps)
		code, said := shell(dir, `$CROOKED straighten --yes --format `+format+` > /dev/full`)
		assert.Equal(t, 4, code, "%s: %s", format, said)
		assert.Contains(t, said, "it was done, and what was done could not be written out")
		assert.FileExists(t, filepath.Join(dir, "src/tools/dates.ts"))
		code, _ = shell(dir, `$CROOKED check --format `+format+` > /dev/full`)
		assert.Equal(t, 3, code, format)
		code, _ = shell(dir, `$CROOKED undo --format `+format+` > /dev/full`)
		assert.Equal(t, 4, code, format)
		assert.FileExists(t, filepath.Join(dir, "src/utils/dates.ts"))
	}
	for _, c := range []struct {
		verify string
		code   string
		stays  bool
	}{{"touch checked", "4", true}, {"touch checked; false", "3", false}} {
		for _, steps := range []string{"", "--steps"} {
			dir := small(t, twoSteps)
			_, _ = shell(dir, `{ $CROOKED straighten --yes `+steps+` --verify-with "`+c.verify+
				`" 2>/dev/null; echo $? > code; } | true`)
			code, err := os.ReadFile(filepath.Join(dir, "code"))
			require.NoError(t, err)
			assert.FileExists(t, filepath.Join(dir, "checked"), "the check is run, whoever reads")
			assert.Equal(t, c.code, strings.TrimSpace(string(code)), c)
			_, err = os.Stat(filepath.Join(dir, "src/tools/dates.ts"))
			assert.Equal(t, c.stays, err == nil, "a step whose check failed is taken back")
		}
	}
}
