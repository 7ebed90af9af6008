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

// uncommitted asks git which of the paths below root have changes that are not committed; untracked files count. The
// settings through which a repository could make git start a program are overridden. Outside of a work tree nothing is
// uncommitted.
func uncommitted(root string, paths []string) ([]string, error) {
	w := git.Find(root)
	if w == nil || len(paths) == 0 {
		return nil, nil
	}
	cmd := exec.Command("git", "--no-optional-locks", "--literal-pathspecs", "-c", "core.fsmonitor=false", "-c", "core.hooksPath="+os.DevNull, "-c", "core.pager=cat",
		"status", "--porcelain=v1", "-z", "--no-renames", "--untracked-files=all", "--ignore-submodules=all", "--", ".")
	cmd.Dir = root
	cmd.Env = append(os.Environ(), "GIT_TERMINAL_PROMPT=0", "LC_ALL=C")
	var stderr bytes.Buffer
	cmd.Stderr = &stderr
	out, err := cmd.Output()
	if errors.Is(err, exec.ErrNotFound) {
		return nil, errors.New("this is a git work tree, and git is not installed")
	}
	if err != nil {
		return nil, fmt.Errorf("git status failed: %s", strings.TrimSpace(stderr.String()))
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
