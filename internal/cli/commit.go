package cli

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/git"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

// committer makes commits with the user's own git, as the user has set it up: its hooks run. A nil one makes none. Git
// is asked from the top of the work tree, and all paths are from there.
type committer struct {
	top     string
	prefix  string // of the project's folder, with a slash at the end
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
	if err := w.Problem(); err != nil {
		return nil, err
	}
	if what := w.Unfinished(); what != "" {
		return nil, fmt.Errorf("git is in the middle of %s; finish it first, or leave --commit out", what)
	}
	staged, err := stagedBelow(git.Find(w.Top), w.Top)
	if err != nil {
		return nil, err
	}
	if len(staged) > 0 {
		return nil, fmt.Errorf("%s staged already and would be committed along; commit or unstage them first",
			report.Count(len(staged), "change"))
	}
	if w.Detached() {
		fmt.Fprintln(a.Err, "crooked: HEAD is detached: the commits will be on no branch")
	}
	return &committer{top: w.Top, prefix: w.Prefix, signoff: opts.signoff}, nil
}

// ofOneRepository are the variables that choose a repository or change how it is read (git rev-parse --local-env-vars).
// The work tree that the project lies in is the one that is meant.
var ofOneRepository = []string{
	"GIT_ALTERNATE_OBJECT_DIRECTORIES", "GIT_CONFIG", "GIT_CONFIG_PARAMETERS", "GIT_CONFIG_COUNT",
	"GIT_OBJECT_DIRECTORY", "GIT_DIR", "GIT_WORK_TREE",
	"GIT_IMPLICIT_WORK_TREE", "GIT_GRAFT_FILE", "GIT_INDEX_FILE", "GIT_NO_REPLACE_OBJECTS", "GIT_REPLACE_REF_BASE",
	"GIT_PREFIX", "GIT_SHALLOW_FILE",
	"GIT_COMMON_DIR", "GIT_NAMESPACE", "GIT_CEILING_DIRECTORIES", "GIT_LITERAL_PATHSPECS", "GIT_GLOB_PATHSPECS",
	"GIT_NOGLOB_PATHSPECS", "GIT_ICASE_PATHSPECS",
}

// run runs git as the user would.
func (c *committer) run(input []byte, args ...string) ([]byte, error) {
	cmd := exec.Command("git", append([]string{"--literal-pathspecs"}, args...)...)
	cmd.Dir = c.top
	cmd.Env = append(without(os.Environ(), func(name string) bool { return slices.Contains(ofOneRepository, name) }),
		"GIT_TERMINAL_PROMPT=0")
	cmd.Stdin = bytes.NewReader(input)
	var out, wrong bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &wrong
	if err := cmd.Run(); err != nil {
		return nil, fmt.Errorf("git %s failed (%w):\n%s", args[0], err, ending(append(wrong.Bytes(), out.Bytes()...)))
	}
	return out.Bytes(), nil
}

// runOver runs git on paths, as many at a time as fit on a command line, and gives all that it wrote.
func (c *committer) runOver(paths []string, args ...string) ([]byte, error) {
	const most = 2000
	var out []byte
	for part := range slices.Chunk(paths, most) {
		one, err := c.run(nil, append(append(slices.Clone(args), "--"), part...)...)
		if err != nil {
			return nil, err
		}
		out = append(out, one...)
	}
	return out, nil
}

// staged is what the index has of the files of a step before the step: mode and blob by path.
type staged map[string]string

// look reads what the index has of the files that a step touches. Those that git does not track are not in it.
func (c *committer) look(outcome *plan.Outcome) (staged, error) {
	if c == nil {
		return nil, nil
	}
	var paths []string
	for _, f := range outcome.Files {
		if f.From != "" {
			paths = append(paths, c.prefix+f.From)
		}
	}
	list, err := c.runOver(paths, "ls-files", "--stage", "-z")
	if err != nil {
		return nil, err
	}
	found := staged{}
	for entry := range bytes.SplitSeq(list, []byte{0}) { // mode SP blob SP stage TAB path
		head, name, ok := strings.Cut(string(entry), "\t")
		fields := strings.Fields(head)
		if ok && len(fields) == 3 && fields[2] == "0" {
			found[name] = fields[0] + " " + fields[1]
		}
	}
	return found, nil
}

// commit makes two commits of a step: the renames alone, with the contents as they were, and then the rewrites with the
// files that were written. After each it looks whether the commit has what it should. If git refuses the first, or a
// commit has something else, the branch and the index are as they were before.
func (c *committer) commit(before staged, made *plan.Plan, outcome *plan.Outcome, title string) error {
	if c == nil {
		return nil
	}
	renamed, edited := c.changes(before, outcome)
	if len(renamed)+len(edited) == 0 {
		return nil
	}
	back, err := c.remember()
	if err != nil {
		return err
	}
	if len(renamed) > 0 {
		if err := c.commitRenames(before, renamed, title+"\n\n"+moveList(made)); err != nil {
			return errors.Join(err, back())
		}
	}
	if len(edited) == 0 {
		return nil
	}
	_, err = c.run([]byte(strings.Join(edited, "\x00")+"\x00"), "update-index", "--add", "-z", "--stdin")
	if err == nil {
		_, err = c.run([]byte(editTitle(made)+"\n"), c.message()...)
	}
	switch {
	case err != nil && len(renamed) > 0:
		return keptError{fmt.Errorf("%w\nthe renames are committed, and the rewrites stand in the work tree", err)}
	case err != nil:
		return errors.Join(err, back())
	}
	differ, err := c.runOver(edited, "diff-index", "--name-only", "-z", "HEAD")
	if err == nil && len(differ) > 0 {
		err = fmt.Errorf("the commit of the rewrites has not what stands in the work tree, in %q: a hook may have "+
			"changed it; the commits were taken back",
			string(differ[:bytes.IndexByte(differ, 0)]))
	}
	if err != nil {
		return errors.Join(err, back())
	}
	return nil
}

// changes gives what the renames make of the index, by path: mode and blob, or empty for what goes; and the files that
// are rewritten or written. All paths are from the top.
func (c *committer) changes(before staged, outcome *plan.Outcome) (renamed map[string]string, edited []string) {
	renamed = map[string]string{}
	for _, f := range outcome.Files {
		_, tracked := before[c.prefix+f.From]
		if f.From != "" && !tracked {
			continue
		}
		if f.From != f.To && f.From != "" {
			renamed[c.prefix+f.From] = ""
		}
		if f.From == "" || len(f.Edits) > 0 {
			edited = append(edited, c.prefix+f.To)
		}
	}
	for _, f := range outcome.Files { // after all removals, so that a place which one leaves can be another's
		if blob, tracked := before[c.prefix+f.From]; tracked && f.From != f.To && f.To != "" {
			renamed[c.prefix+f.To] = blob
		}
	}
	for p, blob := range renamed { // a place that gets what was there is no change
		if before[p] == blob {
			delete(renamed, p)
		}
	}
	return renamed, edited
}

// commitRenames commits renames, and looks whether the commit has these and nothing else that it should not have.
func (c *committer) commitRenames(before staged, renamed map[string]string, message string) error {
	var input bytes.Buffer
	for p, blob := range renamed {
		if blob == "" {
			_, hash, _ := strings.Cut(before[p], " ")
			fmt.Fprintf(&input, "0 %s\t%s\x00", strings.Repeat("0", len(hash)), p)
		}
	}
	for p, blob := range renamed {
		if blob != "" {
			fmt.Fprintf(&input, "%s\t%s\x00", blob, p)
		}
	}
	if _, err := c.run(input.Bytes(), "update-index", "-z", "--index-info"); err != nil {
		return err
	}
	list, err := c.run(nil, "diff-index", "--cached", "--raw", "-z", "--no-renames", "--no-abbrev", "HEAD")
	if err != nil {
		return err
	}
	if p := differing(renamed, list, true); p != "" {
		return fmt.Errorf("the index has not the renames of this step, in %q; nothing was committed", p)
	}
	if _, err := c.run([]byte(message), c.message()...); err != nil {
		return err
	}
	list, err = c.run(nil, "diff-tree", "-r", "--raw", "-z", "--no-renames", "--no-abbrev", "HEAD^", "HEAD")
	if err != nil {
		return err
	}
	if p := differing(renamed, list, false); p != "" {
		return fmt.Errorf("the commit of the renames has something else than the renames, in %q: a hook may have "+
			"changed it; the commit was taken back", p)
	}
	return nil
}

// differing gives a path of which a raw list of differences (git-diff-index, RAW OUTPUT FORMAT) does not say what was
// to be changed; empty for none. With alone, nothing else may be in the list.
func differing(want map[string]string, list []byte, alone bool) string {
	fields := strings.Split(string(list), "\x00")
	found := map[string]string{}
	for i := 0; i+1 < len(fields); i += 2 { // :mode mode blob blob letter NUL path NUL
		of := strings.Fields(strings.TrimPrefix(fields[i], ":"))
		if len(of) != 5 {
			return fields[i]
		}
		if found[fields[i+1]] = of[1] + " " + of[3]; of[4] == "D" {
			found[fields[i+1]] = ""
		}
	}
	for p, blob := range want {
		if now, there := found[p]; !there || now != blob {
			return p
		}
	}
	if alone {
		for p := range found {
			if _, wanted := want[p]; !wanted {
				return p
			}
		}
	}
	return ""
}

// message are the arguments by which git commits what is staged, with a message from its input.
func (c *committer) message() []string {
	args := []string{"commit", "--quiet", "--file=-"}
	if c.signoff {
		args = append(args, "--signoff")
	}
	return args
}

// remember notes where the branch is and copies the index, and gives what puts both back.
func (c *committer) remember() (back func() error, err error) {
	head, _ := c.run(nil, "rev-parse", "--verify", "--quiet", "HEAD") // none before the first commit
	out, err := c.run(nil, "rev-parse", "--git-path", "index")
	if err != nil {
		return nil, err
	}
	p := strings.TrimRight(string(out), "\n")
	if !filepath.IsAbs(p) {
		p = filepath.Join(c.top, p)
	}
	content, err := os.ReadFile(p)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	return func() error {
		if now, err := c.run(nil, "rev-parse", "--verify", "--quiet", "HEAD"); err == nil && !bytes.Equal(now, head) &&
			len(head) > 0 {
			if _, err := c.run(nil, "update-ref", "-m", "crooked: a step was taken back", "HEAD",
				strings.TrimSpace(string(head)), strings.TrimSpace(string(now))); err != nil {
				return err
			}
		}
		lock := p + ".lock" // as git itself does, so that no other git writes it meanwhile
		file, err := os.OpenFile(lock, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
		if err != nil {
			return fmt.Errorf("the index could not be put back: %w", err)
		}
		_, err = file.Write(content)
		if err = errors.Join(err, file.Close()); err == nil {
			err = os.Rename(lock, p)
		}
		return err
	}, nil
}

// commitTitle says what a step moves.
func commitTitle(made *plan.Plan, step, of int, steps bool) string {
	var places []string
	for _, s := range made.Steps {
		for part := range strings.SplitSeq(s.Title, ", ") {
			_, at, onShelf := strings.Cut(part, " at ")
			if !onShelf {
				at = strings.TrimPrefix(part, "to ")
			}
			places = append(places, at)
		}
	}
	where := strings.Join(places, ", ")
	if len(where) > 50 {
		where = "where they belong"
	}
	title := fmt.Sprintf("Move %s to %s", report.Count(len(made.Moves()), "file"), report.Clean(where))
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
	title := fmt.Sprintf("Follow the moves: %s in %s", report.Count(made.Changes(), "rewrite"),
		report.Count(len(made.Edits), "file"))
	if len(made.Writes) > 0 {
		title += ", " + report.Count(len(made.Writes), "new file")
	}
	return title
}
