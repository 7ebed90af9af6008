package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"strings"

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

// changedSince asks git which files below root differ from a revision, those that git does not track included.
func changedSince(root, revision string) (map[string]bool, error) {
	if git.Find(root) == nil {
		return nil, errors.New("this is no git work tree, so nothing tells what changed since a revision")
	}
	if strings.HasPrefix(revision, "-") {
		return nil, flagError{fmt.Errorf("%q is no revision", revision)}
	}
	changed := map[string]bool{}
	diff, err := askGit(root, "diff", "--name-only", "-z", "--relative", "--no-renames", "--no-ext-diff", "--no-textconv", "--ignore-submodules=all", revision, "--", ".")
	if err != nil {
		return nil, flagError{err}
	}
	untracked, err := askGit(root, "ls-files", "--others", "--exclude-standard", "-z", "--", ".")
	if err != nil {
		return nil, err
	}
	for _, list := range [][]byte{diff, untracked} {
		for name := range bytes.SplitSeq(list, []byte{0}) {
			if len(name) > 0 {
				changed[string(name)] = true
			}
		}
	}
	return changed, nil
}

// uncommitted asks git which of the paths below root have changes that are not committed; untracked files count. Outside of
// a work tree nothing is uncommitted.
func uncommitted(root string, paths []string) ([]string, error) {
	w := git.Find(root)
	if w == nil || len(paths) == 0 {
		return nil, nil
	}
	out, err := askGit(root, "status", "--porcelain=v1", "-z", "--no-renames", "--untracked-files=all", "--ignore-submodules=all", "--", ".")
	if err != nil {
		return nil, err
	}
	touched := map[string]bool{}
	for _, p := range paths {
		touched[w.Prefix+p] = true
	}
	var dirty []string
	for entry := range bytes.SplitSeq(out, []byte{0}) {
		if len(entry) > 3 && touched[string(entry[3:])] {
			dirty = append(dirty, strings.TrimPrefix(string(entry[3:]), w.Prefix))
		}
	}
	return dirty, nil
}
