package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"crookedshelf/internal/git"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

// committer makes commits with the user's own git, as the user has set it up: its hooks run. A nil one makes none.
type committer struct {
	root    string
	signoff bool
}

// keptError is a failure after which the step stays, since a part of it is committed.
type keptError struct{ error }

// committer looks whether commits can be made here. Without a work tree none are, and that is said.
func (a *app) committer(root string, opts straightenOptions) (*committer, error) {
	if !opts.commit {
		return nil, nil
	}
	w := git.Find(root)
	if w == nil {
		fmt.Fprintln(a.Err, "crooked: this is no git work tree, so no commits are made")
		return nil, nil
	}
	if what := w.Unfinished(); what != "" {
		return nil, fmt.Errorf("git is in the middle of %s; finish it first, or leave --commit out", what)
	}
	staged, err := stagedBelow(w.Top)
	if err != nil {
		return nil, err
	}
	if len(staged) > 0 {
		return nil, fmt.Errorf("%s staged already and would be committed along; commit or unstage them first", report.Count(len(staged), "change"))
	}
	if w.Detached() {
		fmt.Fprintln(a.Err, "crooked: HEAD is detached: the commits will be on no branch")
	}
	return &committer{root: root, signoff: opts.signoff}, nil
}

// run runs git as the user would.
func (c *committer) run(input []byte, args ...string) ([]byte, error) {
	cmd := exec.Command("git", append([]string{"--literal-pathspecs"}, args...)...)
	cmd.Dir = c.root
	cmd.Env = append(os.Environ(), "GIT_TERMINAL_PROMPT=0")
	cmd.Stdin = bytes.NewReader(input)
	var out, wrong bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &wrong
	if err := cmd.Run(); err != nil {
		return nil, fmt.Errorf("git %s failed (%w):\n%s", args[0], err, ending(append(wrong.Bytes(), out.Bytes()...)))
	}
	return out.Bytes(), nil
}

// staged is what the index has of the files of a step before the step: mode and blob by path.
type staged map[string]string

// look reads what the index has of the files that a step touches. Those that git does not track are not in it.
func (c *committer) look(outcome *plan.Outcome) (staged, error) {
	if c == nil {
		return nil, nil
	}
	args := []string{"ls-files", "--stage", "-z", "--"}
	for _, f := range outcome.Files {
		if f.From != "" {
			args = append(args, f.From)
		}
	}
	found := staged{}
	const most = 2000 // of names on one command line
	for len(args) > 4 {
		n := min(len(args), most)
		list, err := c.run(nil, args[:n]...)
		if err != nil {
			return nil, err
		}
		for entry := range bytes.SplitSeq(list, []byte{0}) { // mode SP blob SP stage TAB path
			head, name, ok := strings.Cut(string(entry), "\t")
			fields := strings.Fields(head)
			if ok && len(fields) == 3 && fields[2] == "0" {
				found[name] = fields[0] + " " + fields[1]
			}
		}
		args = append(args[:4:4], args[n:]...)
	}
	return found, nil
}

// commit makes two commits of a step: the renames alone, with the contents as they were, and then the rewrites with the files
// that were written. If git refuses the first, the index is as it was before.
func (c *committer) commit(before staged, made *plan.Plan, outcome *plan.Outcome, title string) error {
	if c == nil {
		return nil
	}
	var renames, edits bytes.Buffer
	for _, f := range outcome.Files {
		blob, tracked := before[f.From]
		if f.From != "" && !tracked {
			continue
		}
		if f.From != f.To && f.From != "" {
			fmt.Fprintf(&renames, "0 %s\t%s\x00", strings.Repeat("0", len(strings.Fields(blob)[1])), f.From)
		}
		if f.From == "" || len(f.Edits) > 0 {
			fmt.Fprintf(&edits, "%s\x00", f.To)
		}
	}
	for _, f := range outcome.Files { // after all removals, so that a place which one leaves can be another's
		if blob, tracked := before[f.From]; tracked && f.From != f.To && f.To != "" {
			fmt.Fprintf(&renames, "%s\t%s\x00", blob, f.To)
		}
	}
	if renames.Len() > 0 {
		restore, err := c.keepIndex()
		if err != nil {
			return err
		}
		if _, err := c.run(renames.Bytes(), "update-index", "-z", "--index-info"); err != nil {
			return errors.Join(err, restore())
		}
		if _, err := c.run([]byte(title+"\n\n"+moveList(made)), c.message()...); err != nil {
			return errors.Join(err, restore())
		}
	}
	if edits.Len() == 0 {
		return nil
	}
	_, err := c.run(edits.Bytes(), "update-index", "--add", "-z", "--stdin")
	if err == nil {
		_, err = c.run([]byte(editTitle(made)+"\n"), c.message()...)
	}
	if err != nil && renames.Len() > 0 {
		return keptError{fmt.Errorf("%w\nthe renames are committed, and the rewrites stand in the work tree", err)}
	}
	return err
}

// message are the arguments by which git commits what is staged, with a message from its input.
func (c *committer) message() []string {
	args := []string{"commit", "--quiet", "--file=-"}
	if c.signoff {
		args = append(args, "--signoff")
	}
	return args
}

// keepIndex copies the index, and gives what puts it back.
func (c *committer) keepIndex() (restore func() error, err error) {
	out, err := c.run(nil, "rev-parse", "--git-path", "index")
	if err != nil {
		return nil, err
	}
	p := strings.TrimRight(string(out), "\n")
	if !filepath.IsAbs(p) {
		p = filepath.Join(c.root, p)
	}
	content, err := os.ReadFile(p)
	if err != nil {
		return nil, err
	}
	return func() error { return os.WriteFile(p, content, 0o644) }, nil
}

// commitTitle says what a step moves.
func commitTitle(made *plan.Plan, step, of int, steps bool) string {
	var places []string
	for _, s := range made.Steps {
		for part := range strings.SplitSeq(s.Title, ", ") {
			_, at, _ := strings.Cut(part, " at ")
			places = append(places, at)
		}
	}
	where := strings.Join(places, ", ")
	if len(where) > 50 {
		where = "where they belong"
	}
	title := fmt.Sprintf("Move %s to %s", report.Count(len(made.Moves()), "file"), where)
	if steps {
		title += fmt.Sprintf(" (step %d of %d)", step, of)
	}
	return title
}

// moveList lists the moves in a commit's message.
func moveList(made *plan.Plan) string {
	const most = 100
	var out strings.Builder
	for i, m := range made.Moves() {
		if i == most {
			fmt.Fprintf(&out, "and %d more\n", len(made.Moves())-most)
			break
		}
		fmt.Fprintf(&out, "%s -> %s\n", m.From, m.To)
	}
	return out.String()
}

func editTitle(made *plan.Plan) string {
	title := fmt.Sprintf("Follow the moves: %s in %s", report.Count(made.Changes(), "rewrite"), report.Count(len(made.Edits), "file"))
	if len(made.Writes) > 0 {
		title += ", " + report.Count(len(made.Writes), "new file")
	}
	return title
}
