package cli

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/git"
)

// quietSettings override the settings of a repository through which it could make git start a program while it is asked
// what its index has. Fetching what a partial clone lacks starts programs in many ways, so every way of transport is
// forbidden by the environment.
var quietSettings = []string{
	"core.fsmonitor=false", "core.hooksPath=" + os.DevNull, "core.pager=cat", "core.alternateRefsCommand=false",
	"core.askPass=false", "core.editor=false",
	"core.sshCommand=false", "core.excludesFile=" + os.DevNull, "core.attributesFile=" + os.DevNull,
	"core.gitProxy=false", "credential.helper=", "diff.external=", "gc.auto=0", "maintenance.auto=false",
	"protocol.allow=never",
	"submodule.recurse=false", "fetch.recurseSubmodules=false", "core.untrackedCache=false", "core.commitGraph=false",
}

// patience is how long git may take for an answer. A repository can hold pipes in the place of its files.
const patience = 30 * time.Second

// gitError is a failure of git.
type gitError struct {
	command string
	code    int // the exit code; -1 if it was not started or was ended
	said    string
}

func (e *gitError) Error() string {
	switch {
	case strings.Contains(e.said, "dubious ownership"):
		return "git refuses to read this repository, since it belongs to another user (its setting safe.directory " +
			"says which it reads): " + firstLine(e.said)
	case strings.Contains(e.said, "lazy fetching disabled") || strings.Contains(e.said, "not allowed"):
		return "the repository lacks objects that git would fetch, as a partial clone does, and git is let fetch " +
			"nothing here: get them with git first. It says: " + e.said
	}
	return fmt.Sprintf("git %s failed: %s", e.command, e.said)
}

func firstLine(text string) string {
	line, _, _ := strings.Cut(text, "\n")
	return line
}

// askGit runs git in a folder for an answer that it can give from its own files. Nothing of the environment chooses
// another repository, and nothing that the repository names is started.
func askGit(folder, command string, args ...string) ([]byte, error) {
	return askGitFor(patience, folder, command, args...)
}

// askGitFor is askGit with another patience.
func askGitFor(patience time.Duration, folder, command string, args ...string) ([]byte, error) {
	ctx, cancel := context.WithTimeout(context.Background(), patience)
	defer cancel()
	all := []string{"--no-optional-locks", "--literal-pathspecs", "--no-replace-objects", "--no-pager"}
	for _, s := range quietSettings {
		all = append(all, "-c", s)
	}
	cmd := exec.CommandContext(ctx, "git", append(append(all, command), args...)...)
	cmd.Dir = folder
	cmd.WaitDelay = time.Second
	cmd.Env = append(without(os.Environ(), func(name string) bool {
		return strings.HasPrefix(name, "GIT_") ||
			name == "SSH_ASKPASS"
	}),
		"GIT_TERMINAL_PROMPT=0", "GIT_ALLOW_PROTOCOL=none", "GIT_NO_LAZY_FETCH=1", "GIT_OPTIONAL_LOCKS=0", "LC_ALL=C")
	var stderr bytes.Buffer
	cmd.Stderr = &stderr
	out, err := cmd.Output()
	switch {
	case errors.Is(err, exec.ErrNotFound):
		return nil,
			errors.New("this is a git work tree, and git is not installed, so nothing shows which changes are not " +
				"committed")
	case ctx.Err() != nil:
		return nil, &gitError{command, -1, fmt.Sprintf("it gave no answer within %s", patience)}
	case err != nil:
		said := strings.TrimSpace(stderr.String())
		if said == "" {
			said = err.Error()
		}
		return nil, &gitError{command, cmd.ProcessState.ExitCode(), said}
	}
	return out, nil
}

// without leaves variables out of an environment.
func without(environment []string, drop func(name string) bool) []string {
	return slices.DeleteFunc(slices.Clone(environment), func(one string) bool {
		name, _, _ := strings.Cut(one, "=")
		return drop(name)
	})
}

// changedSince says which files of a project differ from a revision, those that git does not track included. Git is
// asked only what its index has: what the work tree has is compared here, so that no filter of the repository runs.
func changedSince(p *engine.Project, revision string) (map[string]bool, error) {
	w := p.Work
	if w == nil {
		return nil, errors.New("this is no git work tree, so nothing shows what changed since a revision")
	}
	if err := w.Problem(); err != nil {
		return nil, err
	}
	if strings.HasPrefix(revision, "-") {
		return nil, flagError{fmt.Errorf("%q is no revision", revision)}
	}
	changed, err := indexAgainst(p.Root, revision)
	if err != nil {
		return nil, flagError{err}
	}
	for _, file := range w.Modified(p.Paths()) {
		changed[file] = true
	}
	return changed, nil
}

// nextCommit says which files of a project the next commit changes.
func nextCommit(p *engine.Project) (map[string]bool, error) {
	if p.Work == nil {
		return nil, errors.New("this is no git work tree, so nothing shows what the next commit changes")
	}
	if err := p.Work.Problem(); err != nil {
		return nil, err
	}
	return stagedBelow(p.Work, p.Root)
}

// indexAgainst says which files below a folder the index has otherwise than a revision.
func indexAgainst(folder, revision string) (map[string]bool, error) {
	list, err := askGit(folder, "diff-index", "--cached", "--name-only", "-z", "--relative", "--no-renames",
		"--no-ext-diff", "--no-textconv", "--ignore-submodules=all", revision, "--", ".")
	if err != nil {
		return nil, err
	}
	out := map[string]bool{}
	for name := range bytes.SplitSeq(list, []byte{0}) {
		if len(name) > 0 {
			out[string(name)] = true
		}
	}
	return out, nil
}

// lastCommits are the paths that each of the last commits changed below a folder; none where git can't say.
func lastCommits(folder string) (out [][]string) {
	if w := git.Find(folder); w == nil || w.Problem() != nil {
		return nil
	}
	list, err := askGitFor(3*time.Second, folder, "log", "--max-count=300", "--no-merges", "--name-only", "--no-renames",
		"--relative", "-z", "--format=%x01", "--no-ext-diff", "--no-textconv", "--ignore-submodules=all", "HEAD", "--", ".")
	if err != nil {
		return nil
	}
	for commit := range strings.SplitSeq(string(list), "\x01") {
		paths := strings.FieldsFunc(commit, func(r rune) bool { return r == 0 || r == '\n' })
		if len(paths) > 0 {
			out = append(out, paths)
		}
	}
	return out
}

// stagedRenames are the renames that the index has against the last commit, by the old paths below a folder; none where
// git can't say.
func stagedRenames(folder string) map[string]string {
	out := map[string]string{}
	list, err := askGitFor(
		3*time.Second,
		folder,
		"diff-index",
		"--cached",
		"--name-status",
		"-z",
		"--relative",
		"--find-renames",
		"--diff-filter=R",
		"--no-ext-diff",
		"--no-textconv",
		"--ignore-submodules=all",
		"HEAD",
		"--",
		".",
	)
	if err != nil {
		return out
	}
	fields := strings.Split(string(list), "\x00") // a sign, the old path and the new one
	for i := 0; i+2 < len(fields); i += 3 {
		out[fields[i+1]] = fields[i+2]
	}
	return out
}

// uncommitted says which of the paths below root have changes that are not committed; untracked files count. Outside
// of a work tree nothing is uncommitted.
func uncommitted(root string, paths []string) ([]string, error) {
	w := git.Find(root)
	if w == nil || len(paths) == 0 {
		return nil, nil
	}
	if err := w.Problem(); err != nil {
		return nil, err
	}
	staged, err := stagedBelow(w, root)
	if err != nil {
		return nil, err
	}
	dirty := map[string]bool{}
	for _, p := range w.Modified(paths) {
		dirty[p] = true
	}
	for _, p := range paths {
		if staged[p] {
			dirty[p] = true
		}
	}
	return slices.Sorted(maps.Keys(dirty)), nil
}

// stagedBelow says which files below a folder of a work tree the index has otherwise than the last commit; all that it
// has before the first.
func stagedBelow(w *git.WorkTree, folder string) (map[string]bool, error) {
	var failed *gitError
	if _, err := askGit(folder, "rev-parse", "--verify", "--quiet", "HEAD"); errors.As(err, &failed) &&
		failed.code == 1 {
		staged := map[string]bool{} // there is no commit yet
		for _, p := range w.Tracked() {
			staged[p] = true
		}
		return staged, nil
	} else if err != nil {
		return nil, err
	}
	return indexAgainst(folder, "HEAD")
}
