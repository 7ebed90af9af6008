// Package carry carries moves out on paper: it works out the edits by which every reference follows, and proves them on
// a tree that is read afresh. It knows no convention and writes nothing to the disk. Who wants files elsewhere says so
// in a Request, and what the Request leaves out holds for a tree without a convention.
//
// impossible.go and places.go say which moves can't be made at all, relocate.go where everything goes, respell.go
// writes single references anew and settle.go whole statements, torn.go deals with folders whose files go to several
// places, duties.go with what a move owes to other files, fixed.go with the places that tools fix, doors.go with the
// files through which a folder is entered. prove.go compares the tree before with the one after; circle.go and left.go
// say what a reader should know.
package carry

import (
	"fmt"
	"maps"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Request says what is to be moved, and what else is known of the tree. The functions may be nil.
type Request struct {
	Graph *graph.Graph // of the tree before
	Moves map[project.FileID]string
	// Edits are asked for beside the moves. They are laid down first.
	Edits map[project.FileID][]Change
	// Writes are new files, by their paths. Unwritten are the paths of those that may not be written.
	Writes    map[string]Written
	Unwritten map[string]bool

	// Hold says how a file may be treated; all are free if it is nil.
	Hold func(id project.FileID) Hold
	// Door gives the file through which a file must import another, by their paths in the new tree; false for none.
	Door func(from, to string) (string, bool)
	// IsData says that a file of a kind that nothing reads may move without a look at it.
	IsData func(path string) bool
	// Addressed says that somebody judges the address of the file at a path; Remembered says so of a file whose name is
	// stored elsewhere, by its paths before and after.
	Addressed  func(path string) bool
	Remembered func(from, to string) bool
	// Widens says whether declarations may be seen further for the sake of a file; never if it is nil.
	Widens func(id project.FileID) bool
	// Packaged says whether a path lies in a package whose manifest was written for what comes to it.
	Packaged func(path string) bool
	// Skips says which files of the new tree are not searched for what is left over.
	Skips func(path string) bool
	// Judge is asked with the proof: it may refuse moves for the sake of what the new tree is then.
	Judge func(d *Draft) []Refusal

	Likely    bool // texts in code that only look like references are rewritten too
	Addresses bool // moves may change the addresses of public files
	Stored    bool // moves may change names that a database or a queue remembers
	Brief     bool // what is left over is not wanted, beyond what refuses a move
	KeepTexts bool // nothing that only looks like a name of what moves is rewritten
	// Finishes: the moves were made by hand, and some of what named the old places has been mended. It led nowhere on
	// the tree before, and may lead to what moved.
	Finishes bool
}

// Hold says how a file may be treated.
type Hold uint8

// How files may be treated.
const (
	Free      Hold = iota
	Kept           // it may be edited, and not removed
	Untouched      // it may not be edited
	Generated      // nor is it searched: a program writes it anew
)

// edited says whether a file may be edited for the sake of a reference.
func (h Hold) edited() bool { return h != Untouched && h != Generated }

// Written is a new file. Entry: it re-exports what other files export.
type Written struct {
	Entry   bool
	Content []byte
}

// Refusal is a move that can't be made, or a file that can't be written, and why.
type Refusal struct {
	File    project.FileID // project.None for a file that can't be written
	Written string         // its path
	Reason  string
}

// Change is an edit of a file, with what it is for.
type Change struct {
	Edit    source.Edit
	Mention int         // index in the file's mentions; -1 where the edit is not that of one mention's text
	Kind    string      // of such an edit
	Target  lang.Target // in the old tree
	To      string      // the path that it leads to in the new tree
}

// Remark is something that a reader should know of one edit.
type Remark struct {
	Path string `json:"path"`
	Line int    `json:"line"`
	Text string `json:"text"`
}

// Leftover is a text that still names what moves when all is done. Path and Line are those after the moves.
type Leftover struct {
	Path    string `json:"path"`
	Line    int    `json:"line"`
	Text    string `json:"text"`
	Named   string `json:"named"`         // the old path of what it names
	Now     string `json:"now"`           // where that is then
	Certain bool   `json:"certain"`       // it is that path, and does not only look or end like it
	New     string `json:"new,omitempty"` // as it would be written then; empty where that can't be said
	Reason  string `json:"reason"`
	// the line that it stands in, without the blanks at its ends; of a long one the beginning
	Around string `json:"around"`
}

// The reasons of leftovers that are no mentions.
const (
	SamePath = "it is the path of what moves"
	SameEnd  = "it ends like the path of what moves"
)

// Draft is what moves give: edits, and the tree after them. Edits, Removes and the keys of all maps are of the tree
// before.
type Draft struct {
	Edits   map[project.FileID][]Change // in the order of each file
	Writes  map[string]Written
	Removes []project.FileID // files that only marked a folder from which all has gone
	Remarks []Remark
	// Leftovers are what still names what moves; Past is how many more stand in change logs and the like; Unsearched
	// are files that could not be searched.
	Leftovers  []Leftover
	Past       int
	Unsearched []string
	// Open is what somebody must say before there can be a draft, one sentence each.
	Open      []string
	KeepTexts bool // texts that only look like names can't be rewritten: a reference would break

	After *graph.Graph
	NewID []project.FileID // of each file of the tree before
	OldID []project.FileID // of each file of the tree after; project.None for one that is written

	stayed   []stayed
	needless []project.FileID // files that may be removed
	moved    *relocation
	moves    func() []lang.Moved
	made     func() made
	overlaid overlaid
}

// overlaid says what the overlay holds beside edits: moves but for those that were refused, and how many written files.
type overlaid struct{ refused, written int }

// Work carries moves out on paper. If moves are refused, the caller takes them out, with whatever goes with them, and
// asks again: what can be done for the rest may be something else. Refusals come in the order in which they showed.
func Work(r Request) (*Draft, []Refusal) {
	w := newWorker(r)
	w.refuseUnreadable()
	w.refuseUnexplained()
	w.refusePlaces()
	if len(w.refused) > 0 {
		return &Draft{}, w.refused
	}
	for {
		d := w.respell()
		if len(w.refused) == 0 {
			w.prove(d)
		}
		d.Open = w.open
		if len(w.refused)+len(w.open) > 0 {
			return d, w.refused
		}
		found := w.leftovers(d)
		if w.builds(d, found) {
			return d, w.refused
		}
		if !w.KeepTexts && w.rewriteLeftovers(d, found) {
			if w.overlay(d, true); !w.provesStill(d) {
				w.KeepTexts = true // what is refused for the sake of such a text need not be
				continue
			}
			found = w.leftovers(d)
		}
		d.KeepTexts = w.KeepTexts
		w.finish(d, found)
		return d, nil
	}
}

// finish adds what a reader should know.
func (w *worker) finish(d *Draft, found leftover.Result) {
	d.Removes = w.removed(d)
	for _, id := range d.Removes { // what it says is of no use any more either
		delete(d.Edits, id)
	}
	d.Remarks = append(d.Remarks, w.circles(d)...)
	d.Leftovers = w.listLeftovers(d, found)
	d.Past, d.Unsearched = found.Past, found.Unsearched
}

// Impossible gives the moves that can't be made because something is not understood.
func Impossible(g *graph.Graph, moves map[project.FileID]string) []Refusal {
	w := newWorker(Request{Graph: g, Moves: moves})
	w.refuseUnreadable()
	w.refuseUnexplained()
	return w.refused
}

// Places gives the moves to places that are taken or wanted twice.
func Places(g *graph.Graph, moves map[project.FileID]string) []Refusal {
	w := newWorker(Request{Graph: g, Moves: moves})
	w.refusePlaces()
	return w.refused
}

// worker is a draft in the making. A move that is refused is taken out at once.
type worker struct {
	Request
	tree    *project.Project
	moves   map[project.FileID]string // those of the request that are not refused
	refused []Refusal
	fresh   map[project.FileID]bool // files whose moves are refused
	// the files that move, in the order of their paths; nil where that has to be found out
	order []project.FileID
	come  arrivals // the same by where they lead
	open  []string
}

func newWorker(r Request) *worker {
	w := &worker{Request: r, tree: r.Graph.Tree, moves: maps.Clone(r.Moves), fresh: map[project.FileID]bool{}}
	if w.moves == nil {
		w.moves = map[project.FileID]string{}
	}
	if w.Hold == nil {
		w.Hold = func(project.FileID) Hold { return Free }
	}
	never := func(string) bool { return false }
	neither := func(string, string) bool { return false }
	if w.IsData == nil {
		w.IsData = func(string) bool { return false }
	}
	if w.Addressed == nil {
		w.Addressed = never
	}
	if w.Remembered == nil {
		w.Remembered = neither
	}
	if w.Skips == nil {
		w.Skips = never
	}
	return w
}

// refuse takes a move out. The first reason stands.
func (w *worker) refuse(id project.FileID, reason string) {
	if _, moving := w.moves[id]; !moving {
		return
	}
	delete(w.moves, id)
	w.order, w.come, w.fresh[id] = nil, nil, true
	w.refused = append(w.refused, Refusal{File: id, Reason: reason})
}

// refuseWritten takes a file out of those that are written.
func (w *worker) refuseWritten(p, reason string) {
	if slices.ContainsFunc(w.refused, func(r Refusal) bool { return r.File == project.None && r.Written == p }) {
		return
	}
	w.refused = append(w.refused, Refusal{File: project.None, Written: p, Reason: reason})
}

// moving lists the files that move, in the order of their paths.
func (w *worker) moving() []project.FileID {
	if w.order == nil {
		w.order = slices.Sorted(maps.Keys(w.moves))
	}
	return w.order
}

// refuseBelow takes out the moves of all files of a folder. It reports whether there are some.
func (w *worker) refuseBelow(dir, reason string) bool {
	before := len(w.refused)
	from, to := w.tree.Below(dir)
	for id := from; id < to; id++ {
		w.refuse(id, reason)
	}
	return len(w.refused) > before
}

func (w *worker) refuseAll(reason string) {
	for _, id := range w.moving() {
		w.refuse(id, reason)
	}
}

// fixture says what the name of a file means to the tools of its language.
func (w *worker) fixture(id project.FileID) lang.Fixture {
	return w.Graph.Languages.Fixture(w.tree.Path(id))
}

// goneFolder says whether a reference led to a folder of which all files are removed.
func goneFolder(g *graph.Graph, t lang.Target, gone map[project.FileID]bool) bool {
	if t.Kind != lang.ToFolder || len(gone) == 0 {
		return false
	}
	from, to := g.Tree.Below(t.Folder())
	for id := from; id < to; id++ {
		if !gone[id] {
			return false
		}
	}
	return true
}

// Unproved compares the references of a tree with those that moves, edits and new files give, and says what does not
// lead where it led, one sentence each.
func Unproved(g *graph.Graph, moves map[project.FileID]string, edits map[project.FileID][]source.Edit,
	added map[string][]byte, gone map[project.FileID]bool,
	door func(from, to string) (string, bool)) []string {
	tree, newID, err := g.Tree.Overlay(moves, edits, added)
	if err != nil {
		return []string{err.Error()}
	}
	edited := map[project.FileID]bool{}
	for id := range edits {
		edited[newID[id]] = true
	}
	moved := relocate(g, newID, moves)
	check := proof{relocation: moved, after: g.Rebuild(tree, newID, edited, moved.after(moves)), door: door}
	var changed []string
	for id := range g.Files {
		id := project.FileID(id)
		if gone[id] {
			continue
		}
		for _, f := range check.file(id, edits[id]) {
			if t := g.Files[id].Targets[f.mention]; t.Kind == lang.ToFile && gone[t.File] || goneFolder(g, t, gone) {
				continue
			}
			ref := graph.Reference{From: id, Mention: f.mention}
			changed = append(changed, fmt.Sprintf("%s:%s refers to %s, and the plan does not follow it there",
				g.Tree.Path(id), g.Position(ref), targetName(g, g.Files[id].Targets[f.mention])))
		}
	}
	slices.Sort(changed)
	return changed
}
