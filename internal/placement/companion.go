package placement

import (
	"path"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// accompany gives companions their owners' homes: a file that lies, seen from an owner, where a companion of it lies
// goes where that companion belongs, whatever other shelves say. The first owner counts.
func (r *Result) accompany(tree *project.Project) {
	for id := range tree.Files {
		owner := &r.Homes[id]
		if !owner.owns() {
			continue
		}
		for _, companion := range owner.Shelf.Beside.All() {
			r.companion(tree, project.FileID(id), companion)
		}
	}
}

// owns says whether a file may have companions.
func (h *Home) owns() bool {
	return h.Shelf != nil && h.Shelf.Beside != nil && (h.Kind == AtHome || h.Kind == Misplaced) && h.Owner == project.None
}

// companion places one companion of an owner, if it is there.
func (r *Result) companion(tree *project.Project, owner project.FileID, c convention.Companion) {
	h := r.Homes[owner]
	now, ok := c.Of(tree.Path(owner))
	if !ok { // the owner comes from elsewhere: its companion then lies beside it, by the same name
		beside := c
		beside.Mirrors = ""
		if now, ok = beside.Of(tree.Path(owner)); !ok {
			return
		}
		now = path.Join(path.Dir(tree.Path(owner)), path.Base(now))
	}
	id, there := tree.Lookup(now)
	then, reaches := c.Of(h.Path)
	if !there || !reaches || id == owner || r.Homes[id].Kind == Left || r.Homes[id].Owner != project.None {
		return
	}
	mine := Home{Kind: Misplaced, Path: then, Shelf: h.Shelf, Instance: h.Instance, Line: c.Line, values: h.values, Owner: owner}
	if then == now {
		mine.Kind = AtHome
	}
	r.Homes[id] = mine
}
