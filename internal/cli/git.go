package cli

import (
	"bytes"
	"errors"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"slices"
	"strings"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/git"
)

// askGit runs git in a folder. The settings through which a repository could make git start a program are overridden.
func askGit(folder, command string, args ...string) ([]byte, error) {
	cmd := exec.Command("git", append([]string{
		"--no-optional-locks", "--literal-pathspecs", "-c", "core.fsmonitor=false", "-c", "core.hooksPath=" + os.DevNull, "-c", "core.pager=cat", command,
	}, args...)...)
	cmd.Dir = folder
	cmd.Env = append(os.Environ(), "GIT_TERMINAL_PROMPT=0", "LC_ALL=C")
	var stderr bytes.Buffer
	cmd.Stderr = &stderr
	out, err := cmd.Output()
	if errors.Is(err, exec.ErrNotFound) {
		return nil, errors.New("this is a git work tree, and git is not installed")
	}
	if err != nil {
		return nil, fmt.Errorf("git %s failed: %s", command, strings.TrimSpace(stderr.String()))
	}
	return out, nil
}

// changedSince tells which files of a project differ from a revision, those that git does not track included. Git is asked
// only what its index has: what the work tree has is compared here, so that no filter of the repository runs.
func changedSince(p *engine.Project, revision string) (map[string]bool, error) {
	w := git.Find(p.Root)
	if w == nil {
		return nil, errors.New("this is no git work tree, so nothing tells what changed since a revision")
	}
	if strings.HasPrefix(revision, "-") {
		return nil, flagError{fmt.Errorf("%q is no revision", revision)}
	}
	staged, err := askGit(p.Root, "diff-index", "--cached", "--name-only", "-z", "--relative", "--no-renames", "--ignore-submodules=all", revision, "--", ".")
	if err != nil {
		return nil, flagError{err}
	}
	changed := map[string]bool{}
	for name := range bytes.SplitSeq(staged, []byte{0}) {
		if len(name) > 0 {
			changed[string(name)] = true
		}
	}
	for _, file := range w.Modified(p.Paths()) {
		changed[file] = true
	}
	return changed, nil
}

// uncommitted tells which of the paths below root have changes that are not committed; untracked files count. Outside of a
// work tree nothing is uncommitted.
func uncommitted(root string, paths []string) ([]string, error) {
	w := git.Find(root)
	if w == nil || len(paths) == 0 {
		return nil, nil
	}
	staged, err := stagedBelow(root)
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

// stagedBelow tells which files below root the index has otherwise than the last commit; all that it has before the first.
func stagedBelow(root string) (map[string]bool, error) {
	staged := map[string]bool{}
	list, err := askGit(root, "diff-index", "--cached", "--name-only", "-z", "--relative", "--no-renames", "--ignore-submodules=all", "HEAD", "--", ".")
	if err != nil {
		if _, unborn := askGit(root, "rev-parse", "--verify", "--quiet", "HEAD"); unborn == nil {
			return nil, err
		}
		for _, p := range git.Find(root).Tracked() {
			staged[p] = true
		}
		return staged, nil
	}
	for name := range bytes.SplitSeq(list, []byte{0}) {
		if len(name) > 0 {
			staged[string(name)] = true
		}
	}
	return staged, nil
}
