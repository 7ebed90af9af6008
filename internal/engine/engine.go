// Package engine strings the parts together: it opens a project with its convention, checks, plans, straightens and
// takes back. It prints nothing and asks nothing.
package engine

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/git"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// UsageError is an error in what the user asked for: the command line or the convention.
type UsageError struct{ Err error }

func (e *UsageError) Error() string { return e.Err.Error() }
func (e *UsageError) Unwrap() error { return e.Err }

func usage(format string, args ...any) error { return &UsageError{fmt.Errorf(format, args...)} }

// Project is an opened project.
type Project struct {
	Root       string // absolute
	Convention *convention.Convention
	Tree       *project.Project
	Work       *git.WorkTree // that the project lies in; nil for none
	placed     *placement.Result
	graph      *graph.Graph
	certain    bool // the graph has certain mentions alone, which is all that a check needs
	journal    []*journal.Record
	records    *journal.Memory // of what was read of the journal
	disk       *rootfs.FS
	stamps     []rootfs.Info // what each file was before it was read; nil where nobody asked
	known      *known        // from the project before a straighten; nil for none
	asked      bool          // files are moved by their names, and not as the convention has it
}

// Open reads the convention and lists the tree, unless a straighten or an undo was stopped half way. An empty
// conventionPath stands for crooked.yaml in the root.
func Open(root, conventionPath string) (*Project, error) { return open(root, conventionPath, nil) }

// open is Open; before is the project as it was opened before, or nil.
func open(root, conventionPath string, before *Project) (*Project, error) {
	p, err := openBy(root, before, func(root string) (*convention.Convention, error) {
		return readConvention(root, conventionPath, before)
	})
	if err != nil {
		return nil, err
	}
	if err := p.complete(); err != nil {
		p.disk.Close()
		return nil, err
	}
	return p, nil
}

// openBy opens a project whose convention is read so.
func openBy(root string, before *Project, read func(root string) (*convention.Convention, error)) (*Project, error) {
	root, err := openRoot(root)
	if err != nil {
		return nil, err
	}
	memory := memoryOf(before)
	records, warnings, err := checkJournals(root, memory)
	if err != nil {
		return nil, err
	}
	c, err := read(root)
	if err != nil {
		return nil, err
	}
	disk, tree, work, err := loadTree(root)
	if err != nil {
		return nil, err
	}
	tree.Warnings = append(tree.Warnings, warnings...)
	return &Project{Root: root, Convention: c, Tree: tree, disk: disk, journal: records, records: memory, Work: work}, nil
}

// memoryOf is what was read of the journal when a project was opened before; nil for a project that was not.
func memoryOf(before *Project) *journal.Memory {
	if before == nil {
		return &journal.Memory{}
	}
	return before.records
}

// complete reads what lies in the project beside its own convention, and looks whether all of it fits.
func (p *Project) complete() error {
	if err := nested(p.Root, p.Convention, p.Tree); err != nil {
		return err
	}
	for _, one := range p.Convention.All() {
		if err := needs(one, p.Tree); err != nil {
			return err
		}
		if err := unknowable(one, p.Tree); err != nil {
			return err
		}
		if one.Base == "" {
			continue
		}
		// what is half way there is half way here
		if err := pendingElsewhere(filepath.Join(p.Root, filepath.FromSlash(one.Base))); err != nil {
			return err
		}
	}
	return nil
}

// loadTree opens a folder and lists its tree.
func loadTree(root string) (*rootfs.FS, *project.Project, *git.WorkTree, error) {
	disk, err := rootfs.Open(root)
	if err != nil {
		return nil, nil, nil, fmt.Errorf("%s can't be opened: %w", root, err)
	}
	w := git.Find(root)
	tree, err := project.Load(disk, git.Options(w))
	if err != nil {
		disk.Close()
		return nil, nil, nil, err
	}
	if w != nil {
		tree.Warnings = append(tree.Warnings, absent(w)...)
	}
	return disk, tree, w, nil
}

// absent reports what a sparse checkout keeps out of the work tree.
func absent(w *git.WorkTree) []string {
	files, folders := w.Absent()
	what := fmt.Sprintf("%d of the files", files)
	switch {
	case files+folders == 0:
		return nil
	case files == 0:
		what = fmt.Sprintf("%d whole folders of the files", folders)
	case folders > 0:
		what += fmt.Sprintf(" and %d whole folders of those", folders)
	}
	return []string{fmt.Sprintf("a sparse checkout keeps %s that git tracks out of the work tree: what they refer to "+
		"is not seen", what)}
}

// Progress says how many files have been read, and how many the project has. It may be asked at any time.
func (p *Project) Progress() (read, files int) { return p.Tree.Read(), len(p.Tree.Files) }

// Paths are the paths of the project's files, in order.
func (p *Project) Paths() []string {
	out := make([]string, len(p.Tree.Files))
	for i, f := range p.Tree.Files {
		out[i] = f.Path
	}
	return out
}

// Close lets go of the project.
func (p *Project) Close() { p.disk.Close() }

func openRoot(root string) (string, error) {
	abs, err := filepath.Abs(root)
	if err != nil {
		return "", usage("%s: %w", root, err)
	}
	info, err := os.Stat(abs)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return "", usage("the folder %s does not exist", root)
	case err != nil:
		return "", usage("the folder %s can't be opened: %w", root, err)
	case !info.IsDir():
		return "", usage("%s is a file; --root takes the project's folder", root)
	}
	return abs, nil
}

// largestConvention is the most bytes that are read of a convention.
const largestConvention = 4 << 20

func cause(err error) error {
	var at *fs.PathError
	if errors.As(err, &at) {
		return at.Err
	}
	return err
}

func readConvention(root, conventionPath string, before *Project) (*convention.Convention, error) {
	shown := conventionPath
	if conventionPath == "" {
		conventionPath = filepath.Join(root, convention.FileName)
		shown = convention.FileName
	}
	text, err := rootfs.ReadRegular(conventionPath, largestConvention)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, usage("there is no convention at %s: crooked survey --draft writes a first one from what is there, "+
			"crooked adopt lists starters, and --convention names another file", conventionPath)
	}
	if err != nil {
		return nil, usage("the convention %s can't be read: %w", shown, cause(err))
	}
	if before != nil && before.sameText(text) {
		return before.Convention, nil
	}
	c, err := convention.ReadFrom(filepath.ToSlash(shown), text, loader(root))
	if err != nil {
		return nil, &UsageError{err}
	}
	c.InTree = inTree(root, conventionPath)
	return c, nil
}

// inTree gives the path of a file from the root of a project; empty for one that lies outside of it.
func inTree(root, file string) string {
	abs, err := filepath.Abs(file)
	if err != nil {
		return ""
	}
	below, err := filepath.Rel(root, abs)
	if err != nil || !filepath.IsLocal(below) {
		return ""
	}
	return filepath.ToSlash(below)
}

// nested reads the conventions of folders further down, which govern there, save where the root's says that it does not
// speak of them.
func nested(root string, c *convention.Convention, tree *project.Project) error {
	for id, f := range tree.Files {
		base, below := strings.CutSuffix(f.Path, "/"+convention.FileName)
		if !below || f.Link || placement.Spared(c, f.Path) {
			continue
		}
		text, err := tree.Content(project.FileID(id))
		if err != nil {
			return err
		}
		one, err := convention.ReadBelow(base+"/", f.Path, text, loader(root))
		if err != nil {
			return &UsageError{err}
		}
		c.Adopt(one)
	}
	return nil
}

// loader reads files of a project that conventions start from.
func loader(root string) func(string) ([]byte, error) {
	return func(p string) ([]byte, error) {
		disk, err := rootfs.Open(root)
		if err != nil {
			return nil, err
		}
		defer disk.Close()
		return disk.ReadFile(path.Clean(p), largestConvention)
	}
}

func (p *Project) place() (*placement.Result, error) { return p.placeFor(whole) }

// reading says how the files of a tree are read.
type reading uint8

const (
	whole   reading = iota // for all mentions; their texts are kept, since many of them are edited
	passing                // for all mentions, and no text is kept
	certain                // for certain mentions alone; no text is kept
)

// placeFor is place by files that are read so, or so that more is known of them.
func (p *Project) placeFor(how reading) (*placement.Result, error) {
	if p.placed != nil && (how == certain || !p.certain) {
		return p.placed, nil
	}
	placed, g, err := placeBy(p.Convention, p.Tree, how, p.known)
	if err != nil {
		return nil, &UsageError{err}
	}
	p.placed, p.graph, p.certain = placed, g, how == certain
	return placed, nil
}

// placePart gives every file its home, where homes do not depend on what files hold, and reads some of the files.
// Nothing but a check may be made of that.
func (p *Project) placePart(files map[string]bool) (*placement.Result, error) {
	fix(p.Convention)
	placed, err := placement.Place(p.Convention, p.Tree, nil)
	if err != nil {
		return nil, &UsageError{err}
	}
	declared := lang.NewDeclared(p.Convention, false, homesOf(p.Tree, placed))
	declared.Certain = true
	p.graph = graph.Part(p.Tree, all.Languages(), declared)
	var ids []project.FileID
	for file := range files {
		if id, ok := p.Tree.Lookup(file); ok {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	p.graph.Read(ids)
	return placed, nil
}

// Place reads who refers to whom and gives every file its home. What the convention says of mentions is compared with
// homes, so where homes depend on who refers to whom, both are worked out a second time.
func Place(c *convention.Convention, tree *project.Project) (*placement.Result, *graph.Graph, error) {
	return placeBy(c, tree, whole, nil)
}

func placeBy(c *convention.Convention, tree *project.Project, how reading, before *known) (*placement.Result,
	*graph.Graph, error) {
	fix(c)
	build := func(home func(string) string) *graph.Graph {
		declared := lang.NewDeclared(c, false, home)
		declared.Certain = how == certain
		switch {
		case before != nil && how == whole:
			return before.graph.Rebuild(tree, before.newID, before.changed, declared)
		case how == passing:
			return graph.Watch(tree, all.Languages(), declared, func(project.FileID, []byte) {})
		}
		return graph.Build(tree, all.Languages(), declared)
	}
	var g *graph.Graph
	if c.NeedsGraph() {
		g = build(nil)
	}
	placed, err := placement.Place(c, tree, g)
	if err != nil || g != nil && len(c.Mentions)+len(c.Settings) == 0 {
		return placed, g, err
	}
	first := g
	g = build(homesOf(tree, placed))
	if first != nil {
		placed, err = placement.Place(c, tree, g)
	}
	return placed, g, err
}

// fix lets a convention know which names bind files to their places, or to other files.
func fix(c *convention.Convention) {
	for _, one := range c.All() {
		one.Fixed, one.Owner = all.Fixed, all.Owner
	}
}

// homesOf says where the file at a path belongs.
func homesOf(tree *project.Project, placed *placement.Result) func(string) string {
	homes := map[string]string{}
	for id, h := range placed.Homes {
		if h.Kind == placement.Misplaced {
			homes[tree.Path(project.FileID(id))] = h.Path
		}
	}
	return func(path string) string {
		if h, moves := homes[path]; moves {
			return h
		}
		return path
	}
}

// PlanOptions are what a user may ask of a plan.
type PlanOptions struct {
	RewriteLikely  bool // strings in code that only look like paths are rewritten too
	AllowAddresses bool // the addresses of public files may change
	AllowStored    bool // names that a database or a queue remembers may change
	Rename         bool // names that are not as their shelf wants them are set right
	Brief          bool // what is left over is not wanted, beyond what blocks a move
	// Only are names of shelves and paths of files and folders: nothing else moves. Empty for all.
	Only []string
	// Files are the very files that may move, by their paths; nil for all.
	Files []string
	// Asked are moves that somebody asks for, wherever the convention wants the files; nil for those of the convention.
	Asked    []plan.Asked
	finishes bool // they were made by hand
}

// PlanInput is what a plan is made from, with what the languages know how to write.
func PlanInput(c *convention.Convention, g *graph.Graph, placed *placement.Result) plan.Input {
	return plan.Input{Convention: c, Graph: g, Placement: placed, Removal: removal(c, g)}
}

// Plan works out and proves the plan.
func (p *Project) Plan(opts PlanOptions) (*plan.Plan, *plan.Outcome, error) {
	placed, err := p.place()
	if err != nil {
		return nil, nil, err
	}
	in := PlanInput(p.Convention, p.graph, placed)
	allowed := p.Convention.Day.Allow
	in.RewriteLikely, in.Rename, in.Brief = opts.RewriteLikely, opts.Rename, opts.Brief
	in.AllowAddresses, in.AllowStored = opts.AllowAddresses || allowed.Addresses, opts.AllowStored || allowed.Stored
	if opts.Asked != nil {
		in.Removal = nil
		in.Finishes = opts.finishes
		in.Asked, in.With, err = p.askedMoves(opts.Asked, opts.Files)
	} else {
		in.Only, err = p.only(placed, opts)
	}
	if err != nil {
		return nil, nil, err
	}
	made, outcome, err := plan.Build(in)
	if err != nil {
		return nil, nil, &UsageError{err}
	}
	if stays := p.ignoredThatStay(made); stays != "" {
		made.Warnings = append(made.Warnings, stays)
	}
	made.Warnings = append(made.Warnings, p.outOfReach(made)...)
	made.Warnings = append(made.Warnings, p.outOfPlace(made)...)
	made.Options = plan.Options{Likely: opts.RewriteLikely, Addresses: opts.AllowAddresses, Stored: opts.AllowStored,
		Rename: opts.Rename, Only: opts.Only, Asked: opts.Asked}
	return made, outcome, nil
}

// only gives the files that may move; nil for all.
func (p *Project) only(placed *placement.Result, opts PlanOptions) (map[project.FileID]bool, error) {
	if len(opts.Only) == 0 && opts.Files == nil {
		return nil, nil
	}
	out := map[project.FileID]bool{}
	for _, file := range opts.Files {
		if id, ok := p.Tree.Lookup(file); ok {
			out[id] = true
		}
	}
	for _, name := range opts.Only {
		found := false
		clean := path.Clean(strings.TrimPrefix(name, "./"))
		for id, h := range placed.Homes {
			file := p.Tree.Path(project.FileID(id))
			onShelf := h.Shelf != nil && (h.Shelf.Name == name || strings.HasPrefix(h.Shelf.Name, name+"."))
			below := file == clean || strings.HasPrefix(file, clean+"/") || h.Path == clean ||
				strings.HasPrefix(h.Path, clean+"/")
			if onShelf || below {
				out[project.FileID(id)], found = true, true
			}
		}
		if !found && !slices.ContainsFunc(p.Convention.All(),
			func(c *convention.Convention) bool { return c.Shelf(name) != nil }) {
			return nil, usage("%q is neither a shelf nor a file or folder of the project", name)
		}
	}
	return out, nil
}

// StaleError says how a plan no longer fits the project.
type StaleError struct{ Changed []string }

func (e *StaleError) Error() string {
	const most = 20
	out := "the plan does not fit the project any more; make a new one:"
	for i, c := range e.Changed {
		if i == most {
			return out + fmt.Sprintf("\n  and %d more", len(e.Changed)-most)
		}
		out += "\n  " + c
	}
	return out
}

// StoredOutcome lays a plan that was read from a file over the tree. It is compared with the convention, proved anew,
// and must be a part of the plan that is made today.
func (p *Project) StoredOutcome(stored *plan.Plan) (*plan.Outcome, error) {
	if sum := plan.Sum(p.Convention.Texts()); sum != stored.Convention.SHA256 {
		return nil, &StaleError{[]string{p.Convention.Path + " has changed"}}
	}
	if stored.Options.Asked != nil {
		p = p.today()
	}
	out, changed := stored.Apply(p.Tree)
	if len(changed) > 0 {
		return nil, &StaleError{changed}
	}
	if _, err := p.place(); err != nil {
		return nil, err
	}
	if changed := out.Unproved(p.graph); len(changed) > 0 {
		return nil, &StaleError{changed}
	}
	today, outcome, err := p.Plan(PlanOptions{
		RewriteLikely: stored.Options.Likely, AllowAddresses: stored.Options.Addresses,
		AllowStored: stored.Options.Stored, Rename: stored.Options.Rename,
		Only: stored.Options.Only, Asked: stored.Options.Asked,
	})
	if err != nil {
		return nil, err
	}
	today.Seal(outcome)
	if beyond := stored.Beyond(today); len(beyond) > 0 {
		return nil, &StaleError{append([]string{"this convention does not give what the plan does:"}, beyond...)}
	}
	return out, nil
}
