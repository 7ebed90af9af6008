package engine

import (
	"bytes"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// known is what is known of a tree from the one before a straighten.
type known struct {
	graph   *graph.Graph
	newID   []project.FileID        // of each file of the tree before
	changed map[project.FileID]bool // files to be looked through again
}

// Stamp notes what each file is, so that Next can tell which of them stayed. It is called before the files are read.
func (p *Project) Stamp() {
	p.stamps = make([]rootfs.Info, len(p.Tree.Files))
	parallel.Do(len(p.stamps), func(i int) { p.stamps[i], _ = p.disk.Look(p.Tree.Files[i].Path) })
}

// Next opens the project anew after a straighten. What was read of files that nobody changed is taken over.
func (p *Project) Next(conventionPath string, done *plan.Outcome) (*Project, error) {
	next, err := p.reopen(conventionPath)
	if err != nil {
		return nil, err
	}
	next.Stamp()
	if p.stamps == nil || p.graph == nil || p.certain || !bytes.Equal(next.Convention.Texts(), p.Convention.Texts()) {
		return next, nil // what files hold depends on what the convention says of them
	}
	to := map[string]string{}
	for _, f := range done.Files {
		if f.From != "" {
			to[f.From] = f.To
		}
	}
	k := known{graph: p.graph, newID: make([]project.FileID, len(p.Tree.Files)), changed: map[project.FileID]bool{}}
	before := make([]project.FileID, len(next.Tree.Files)) // of each file, by its ID
	for id := range before {
		before[id] = project.None
	}
	for id, f := range p.Tree.Files {
		place, moved := to[f.Path]
		if !moved {
			place = f.Path
		}
		now, there := next.Tree.Lookup(place)
		if !there { // somebody took it away: the rest is read anew as well
			return next, nil
		}
		k.newID[id] = now
		same := stayed(p.stamps[id], next.stamps[now], moved) && !f.Link
		if same {
			before[now] = project.FileID(id)
		}
		if !same || place != f.Path { // how a file is read may depend on its folder
			k.changed[now] = true
		}
	}
	next.Tree.Adopt(p.Tree, before)
	next.known = &k
	return next, nil
}

// reopen opens the project again in the way in which it was opened.
func (p *Project) reopen(conventionPath string) (*Project, error) {
	if !p.asked {
		return open(p.Root, conventionPath, p)
	}
	next, err := openBare(p.Root, conventionPath, p)
	if err != nil {
		return nil, err
	}
	return next.today(), nil
}

// stayed says whether a file is the one that it was. A rename changes the time at which something of it was changed.
func stayed(before, now rootfs.Info, moved bool) bool {
	return before.Mode.IsRegular() && before.ID == now.ID && before.ID != rootfs.FileID{} && before.Size == now.Size &&
		before.Mode == now.Mode &&
		before.Modified.Equal(now.Modified) && (moved || before.Changed.Equal(now.Changed))
}

// sameText says whether a convention that was read is still what its file says, and stands on nothing else.
func (p *Project) sameText(text []byte) bool {
	return len(p.Convention.Nested) == 0 && bytes.Equal(p.Convention.Texts(), text)
}
