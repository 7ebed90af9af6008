package placement

import (
	"path"
	"strings"

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
	return h.Shelf != nil && h.Shelf.Beside != nil && (h.Kind == AtHome || h.Kind == Misplaced) &&
		h.Owner == project.None
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
	mine := Home{Kind: Misplaced, Path: then, Shelf: h.Shelf, Instance: h.Instance, Line: c.Line, values: h.values,
		Owner: owner}
	if then == now {
		mine.Kind = AtHome
	}
	r.Homes[id] = mine
}

// unite gives files that are a part of another, by their names, the home of that, where no shelf takes them by
// themselves: a file of types stays with its script.
func (w *world) unite(r *Result) {
	there := func(p string) bool { _, is := w.tree.Lookup(p); return is }
	for id, f := range w.tree.Files {
		h := &r.Homes[id]
		c := w.of(f.Path).convention
		if h.Kind != Homeless && h.Kind != Unspoken || h.Owner != project.None || c.Owner == nil {
			continue
		}
		owner, is := w.tree.Lookup(c.Owner(f.Path, there))
		if !is {
			continue
		}
		o := &r.Homes[owner]
		if o.Shelf == nil || o.Kind != AtHome && o.Kind != Misplaced {
			continue
		}
		mine := Home{Kind: o.Kind, Path: partOf(f.Path, w.tree.Path(owner), o.Path), Shelf: o.Shelf,
			Instance: o.Instance, Line: o.Line, values: o.values, Owner: owner, part: true}
		if mine.Path == f.Path {
			mine.Kind = AtHome
		}
		*h = mine
	}
}

// partOf is the path of a part when its owner goes from one path to another.
func partOf(part, owner, to string) string {
	return path.Join(path.Dir(to), stemOf(to)+strings.TrimPrefix(path.Base(part), stemOf(owner)))
}
