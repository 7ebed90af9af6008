package placement

import (
	"fmt"
	"path"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project"
)

// accompany gives companions their owners' homes: a file that lies, seen from an owner, where a companion of it lies goes
// where that companion belongs, whatever other shelves say. The first owner counts. Missing companions are findings.
func (r *Result) accompany(c *convention.Convention, tree *project.Project) {
	for id := range tree.Files {
		owner := r.Homes[id]
		if owner.Shelf == nil || owner.Shelf.Beside == nil || owner.Kind != AtHome && owner.Kind != Misplaced || owner.Owner != project.None {
			continue
		}
		for _, companion := range owner.Shelf.Beside.All() {
			r.companion(tree, project.FileID(id), companion)
		}
	}
	for id := range tree.Files {
		owner := r.Homes[id]
		if owner.Shelf == nil || owner.Shelf.Beside == nil || owner.Owner != project.None || owner.Kind != AtHome && owner.Kind != Misplaced {
			continue
		}
		for _, companion := range owner.Shelf.Beside.Must {
			r.missing(c, tree, project.FileID(id), companion)
		}
	}
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

// missing tells of a companion that is neither beside the file nor where the file belongs.
func (r *Result) missing(c *convention.Convention, tree *project.Project, owner project.FileID, companion convention.Companion) {
	now, _ := companion.Of(tree.Path(owner))
	then, ok := companion.Of(r.Homes[owner].Path)
	if !ok {
		return
	}
	for _, p := range []string{now, then} {
		if _, there := tree.Lookup(p); there {
			return
		}
	}
	if Excuse(c, finding.Missing, tree.Path(owner)) != nil {
		return
	}
	r.Findings = append(r.Findings, finding.Finding{
		Rule: finding.Missing, Path: tree.Path(owner), Shelf: r.Homes[owner].Shelf.Name, Line: companion.Line,
		Reason: fmt.Sprintf("%s must be beside it", path.Base(then)),
	})
}
