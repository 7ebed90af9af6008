package engine

import (
	"errors"
	"io/fs"
	"maps"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/git"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
)

// OpenBare opens a project with its convention, or with an empty one if it has none.
func OpenBare(root, conventionPath string) (*Project, error) {
	return openBare(root, conventionPath, nil)
}

// openBare is OpenBare; before is the project as it was opened before, or nil.
func openBare(root, conventionPath string, before *Project) (*Project, error) {
	if conventionPath == "" && !HasConvention(root) {
		return openBy(root, before, func(string) (*convention.Convention, error) { return convention.Empty(), nil })
	}
	return open(root, conventionPath, before)
}

// HasConvention says whether a folder has a convention.
func HasConvention(folder string) bool {
	_, err := os.Lstat(filepath.Join(folder, convention.FileName))
	return !errors.Is(err, fs.ErrNotExist)
}

// TopOf is the top of the work tree of git that a folder lies in; empty for none.
func TopOf(folder string) string {
	if work := git.Find(folder); work != nil {
		return work.Top
	}
	return ""
}

// OpenToMove opens a project in which files are moved by their names. A convention that is there says how files may be
// treated, and nothing of it is set right.
func OpenToMove(root, conventionPath string) (*Project, error) {
	p, err := OpenBare(root, conventionPath)
	if err != nil {
		return nil, err
	}
	return p.today(), nil
}

// today is the project by what its convention says of today alone.
func (p *Project) today() *Project {
	today := *p
	today.Convention, today.placed, today.graph, today.asked = p.Convention.Today(), nil, nil, true
	return &today
}

// Moving is what somebody asks to move.
type Moving struct {
	From  []string // files and folders, from the root
	To    string   // a folder, if it ends in a slash or is one; else the new path of the one file or folder
	Alone bool     // what belongs to a file by its name stays where it is
}

// Moves gives the single moves that are asked for, in the order of the files that move, with those of the files that go
// with them.
func (p *Project) Moves(m Moving) ([]plan.Asked, error) {
	to := strings.TrimSuffix(path.Clean(m.To), "/")
	switch {
	case !project.CleanPath(to) && to != ".":
		return nil, usage("%q is no place below the project's root", m.To)
	case len(m.From) == 0:
		return nil, usage("say what to move, and where to: crooked move src/night.ts src/sky/")
	}
	_, isFile := p.Tree.Lookup(to)
	into := strings.HasSuffix(m.To, "/") || to == "." || p.Tree.IsDir(to) || p.isFolder(to)
	switch {
	case into && isFile:
		return nil, usage("%s is a file, and no folder", to)
	case !into && len(m.From) > 1:
		return nil, usage("several files need a folder to go to: write %s/", to)
	}
	moves, with := map[string]string{}, map[string]string{}
	named := map[string]bool{} // files that were named one by one
	for _, from := range m.From {
		from = path.Clean(from)
		goes := to
		if into {
			goes = path.Join(to, path.Base(from))
		}
		if err := p.addMoves(moves, named, from, goes); err != nil {
			return nil, err
		}
	}
	if !m.Alone {
		if err := p.addCompanions(moves, with, named); err != nil {
			return nil, err
		}
	}
	return p.inOrder(moves, with)
}

// isFolder says whether a folder is on the disk in which the tree has no file.
func (p *Project) isFolder(place string) bool {
	info, err := p.disk.Look(place)
	return err == nil && info.Mode.IsDir()
}

// addMoves adds the moves of a file, or of all files of a folder.
func (p *Project) addMoves(moves map[string]string, named map[string]bool, from, to string) error {
	switch {
	case !project.CleanPath(from):
		return usage("%q is no path of a file or folder below the project's root", from)
	case from == to:
		return usage("%s is there already", from)
	case strings.HasPrefix(to, from+"/"):
		return usage("%s can't be moved into itself", from)
	}
	if _, there := p.Tree.Lookup(from); there {
		if path.Ext(from) != "" && path.Ext(to) == "" {
			return usage("there is no folder %s: write %s/ for a new one", to, to)
		}
		moves[from], named[from] = to, true
		return nil
	}
	first, end := p.Tree.Below(from)
	if first == end {
		if _, err := p.disk.Look(from); err == nil {
			return usage("%s is no part of the project: git ignores it, or it is a folder without files", from)
		}
		return usage("there is no file or folder %s in the project", from)
	}
	for _, f := range p.Tree.Files[first:end] {
		if _, asked := moves[f.Path]; !asked {
			moves[f.Path] = to + f.Path[len(from):]
		}
	}
	return nil
}

// addCompanions adds the moves of files that go with those that were named: the companions that the convention knows,
// and by their names, in the same folder, parts, tests, examples and styles.
func (p *Project) addCompanions(moves, with map[string]string, named map[string]bool) error {
	placed, err := p.place()
	if err != nil {
		return err
	}
	for _, from := range slices.Sorted(maps.Keys(named)) {
		to := moves[from]
		add := func(beside, goes string) {
			_, there := p.Tree.Lookup(beside)
			if _, asked := moves[beside]; there && !asked && beside != goes {
				moves[beside], with[beside] = goes, from
			}
		}
		id, _ := p.Tree.Lookup(from)
		if h := placed.Homes[id]; h.Shelf != nil {
			for _, companion := range h.Shelf.Beside.All() {
				beside, lies := companion.Of(from)
				if goes, fits := companion.Of(to); lies && fits {
					add(beside, goes)
				}
			}
		}
	}
	p.addBeside(moves, with, named)
	p.addMirrored(moves, with, named)
	return nil
}

// addMirrored adds the tests of named files that lie where these do in another folder of sources.
func (p *Project) addMirrored(moves, with map[string]string, named map[string]bool) {
	for _, from := range slices.Sorted(maps.Keys(named)) {
		family := p.graph.Languages.FamilyOf(from)
		if family == nil || family.Facts.Mirror == [2]string{} {
			continue
		}
		facts, ext := &family.Facts, path.Ext(from)
		mirrored := func(p, end string) string {
			return strings.TrimSuffix(strings.Replace(p, facts.Mirror[0], facts.Mirror[1], 1), ext) + end + ext
		}
		for _, end := range facts.Tests.Stems {
			test, goes := mirrored(from, end), mirrored(moves[from], end)
			_, there := p.Tree.Lookup(test)
			_, asked := moves[test]
			if there && !asked && strings.Contains(moves[from], facts.Mirror[0]) && test != goes {
				moves[test], with[test] = goes, from
			}
		}
	}
}

// addBeside adds what lies beside a named file and belongs to it by its name. Each file of a folder is looked at once,
// and finds its owner by what its own name begins with.
func (p *Project) addBeside(moves, with map[string]string, named map[string]bool) {
	owners := map[string][]string{} // by their paths without an ending
	dirs := map[string]bool{}
	for _, from := range slices.Sorted(maps.Keys(named)) {
		stem := strings.TrimSuffix(from, path.Ext(from))
		owners[stem] = append(owners[stem], from)
		dirs[path.Dir(from)] = true
	}
	for _, dir := range slices.Sorted(maps.Keys(dirs)) {
		first, end := p.Tree.Below(dir)
		for _, f := range p.Tree.Files[first:end] {
			if _, asked := moves[f.Path]; asked || path.Dir(f.Path) != dir {
				continue
			}
			for at := len(f.Path) - 1; at > len(f.Path)-len(path.Base(f.Path)) && moves[f.Path] == ""; at-- {
				if !strings.ContainsRune("._-", rune(f.Path[at])) {
					continue
				}
				for _, owner := range owners[f.Path[:at]] {
					to := moves[owner]
					if name, goes := p.goesWith(f.Path, owner, path.Base(to)); goes {
						if place := path.Join(path.Dir(to), name); place != f.Path {
							moves[f.Path], with[f.Path] = place, owner
						}
						break
					}
				}
			}
		}
	}
}

// goesWith says whether a file goes with another of its folder, and what it is called when that gets a new name: it has
// the same name up to a further part, and is a part of it, a test, an example, or no program.
func (p *Project) goesWith(file, owner, renamed string) (name string, goes bool) {
	languages := p.graph.Languages
	stem := strings.TrimSuffix(path.Base(owner), path.Ext(owner))
	rest, begins := strings.CutPrefix(path.Base(file), stem)
	if !begins || rest == "" || !strings.ContainsRune("._-", rune(rest[0])) || !languages.IsProgram(owner) ||
		languages.IsTest(owner) {
		return "", false
	}
	there := func(place string) bool { return place == owner }
	if languages.Owner(file, there) != owner && !languages.IsTest(file) && !languages.Shows(file) &&
		(languages.IsProgram(file) || rest[0] != '.') {
		return "", false
	}
	return strings.TrimSuffix(renamed, path.Ext(renamed)) + rest, true
}

// inOrder puts moves in order, and refuses those that can't be meant.
func (p *Project) inOrder(moves, with map[string]string) ([]plan.Asked, error) {
	placed, err := p.place()
	if err != nil {
		return nil, err
	}
	out := make([]plan.Asked, 0, len(moves))
	came := map[string]string{}
	for _, from := range slices.Sorted(maps.Keys(moves)) {
		to := moves[from]
		id, _ := p.Tree.Lookup(from)
		h := placed.Homes[id]
		if why := unmovable[h.Leave]; why != "" {
			return nil, usage("%s is not moved: %s (%s:%d)", from, why, p.Convention.For(from).Path, h.Line)
		}
		if other, taken := came[to]; taken {
			return nil, usage("%s and %s would both be %s", other, from, to)
		}
		came[to] = from
		if _, leaves := moves[to]; !leaves {
			if _, err := p.disk.Look(to); err == nil {
				return nil, usage("%s can't be moved to %s: something is there", from, to)
			}
		}
		out = append(out, plan.Asked{From: from, To: to, With: with[from]})
	}
	return out, nil
}

// unmovable says why a file that an entry of leave takes is not moved.
var unmovable = map[placement.Leave]string{
	placement.Generated: "a program writes it, and would write it there again",
	placement.Outside:   "the convention does not speak of it",
	placement.Untouched: "it must not be touched",
}

// askedMoves are the moves of a plan that were asked for, by the files that are there; only those of some files if
// these are given.
func (p *Project) askedMoves(asked []plan.Asked, files []string) (moves map[project.FileID]string,
	with map[project.FileID]project.FileID, err error) {
	moves, with = map[project.FileID]string{}, map[project.FileID]project.FileID{}
	only := map[string]bool{}
	for _, file := range files {
		only[file] = true
	}
	for _, a := range asked {
		if files != nil && !only[a.From] {
			continue
		}
		id, there := p.Tree.Lookup(a.From)
		if !there {
			return nil, nil, usage("there is no file %s in the project", a.From)
		}
		moves[id] = a.To
		if owner, there := p.Tree.Lookup(a.With); there {
			with[id] = owner
		}
	}
	return moves, with, nil
}

// FinishMoves makes the plan of the rewrites that are left when files were moved by hand: what still names the places
// where they were.
func (p *Project) FinishMoves(m Moving, opts PlanOptions) (*plan.Plan, *plan.Outcome, error) {
	back, err := p.movedByHand(m)
	if err != nil {
		return nil, nil, err
	}
	tree, _, err := p.Tree.Overlay(back, nil, nil) // as it was before
	if err != nil {
		return nil, nil, usage("%w", err)
	}
	before := *p
	before.Tree, before.placed, before.graph = tree, nil, nil
	opts.finishes = true
	now := map[string]string{}
	for id, from := range back {
		opts.Asked = append(opts.Asked, plan.Asked{From: from, To: p.Tree.Path(id)})
		now[from] = p.Tree.Path(id)
	}
	slices.SortFunc(opts.Asked, func(a, b plan.Asked) int { return strings.Compare(a.From, b.From) })
	made, outcome, err := before.Plan(opts)
	if err != nil {
		return nil, nil, err
	}
	made.Moved(outcome, now)
	return made, outcome, nil
}

// movedByHand gives the files that were moved, with the paths that they had.
func (p *Project) movedByHand(m Moving) (map[project.FileID]string, error) {
	back := map[project.FileID]string{}
	for _, from := range m.From {
		from, to := path.Clean(from), path.Clean(m.To)
		if !project.CleanPath(from) || !project.CleanPath(to) && to != "." {
			return nil, usage("%q is no path below the project's root", from)
		}
		if _, there := p.Tree.Lookup(from); there || p.Tree.IsDir(from) {
			return nil, usage("%s is still there: without --already it is moved", from)
		}
		within := path.Join(to, path.Base(from))
		if _, there := p.Tree.Lookup(within); there || p.Tree.IsDir(within) {
			to = within
		}
		if id, there := p.Tree.Lookup(to); there {
			back[id] = from
			continue
		}
		first, end := p.Tree.Below(to)
		if first == end || to == "." {
			return nil, usage("there is no file %s, and none at %s: where has it gone?", within, path.Clean(m.To))
		}
		for id := first; id < end; id++ {
			back[id] = from + p.Tree.Path(id)[len(to):]
		}
	}
	return back, nil
}

// NoteMoved adds to a check in which references lead nowhere what was moved by hand. staged are renames that the index
// of git has against the last commit; those that it has not yet are seen by what lies where. Where all of a folder went
// to one place, the folder stands for its files.
func (p *Project) NoteMoved(c *Check, staged map[string]string) {
	moved := map[string]string{}
	if p.Work != nil && p.Work.Problem() == nil {
		moved = p.Work.Renamed(p.Paths())
	}
	maps.Copy(moved, staged)
	was := map[string]string{}
	for from, to := range moved {
		was[to] = from
	}
	looked := map[plan.Asked]bool{}
	allFrom := func(from, to string) bool { // whether all of a folder came from another
		folders := plan.Asked{From: from, To: to}
		all, known := looked[folders]
		if !known {
			first, end := p.Tree.Below(to)
			all = !slices.ContainsFunc(p.Tree.Files[first:end], func(f project.File) bool {
				return was[f.Path] != from+f.Path[len(to):]
			})
			looked[folders] = all
		}
		return all
	}
	whole := map[plan.Asked]bool{}
	for _, from := range slices.Sorted(maps.Keys(moved)) {
		one := plan.Asked{From: from, To: moved[from]}
		if _, there := p.Tree.Lookup(one.To); !there {
			continue
		}
		for {
			from, to := path.Dir(one.From), path.Dir(one.To)
			if from == "." || to == "." || p.Tree.IsDir(from) || !allFrom(from, to) {
				break
			}
			one = plan.Asked{From: from, To: to}
		}
		if !whole[one] {
			whole[one] = true
			c.Moved = append(c.Moved, one)
		}
	}
}

// LeadNowhere says whether a check found references that lead nowhere.
func (c *Check) LeadNowhere() bool {
	return slices.ContainsFunc(c.Findings, func(f finding.Finding) bool { return f.Rule == finding.Dangling })
}
