package plan

import (
	"fmt"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// strike takes out of the conventions what they say for the day of the move alone, once nothing is left to move. One
// that was given by its path is its writer's, and is not edited: it may be the plan of many projects.
func (b *builder) strike(d *carry.Draft) {
	if nothing := len(b.moves) == 0 && len(d.Edits) == 0 && b.Convention.Day.Line == 0; nothing || !b.complete() {
		return
	}
	for _, c := range b.Convention.All() {
		edits := c.Strikes(b.followed(d))
		if len(edits) == 0 {
			continue
		}
		file := c.Base + convention.FileName
		id, there := b.tree.Lookup(file)
		if !there || c.Base == "" && c.InTree != file {
			b.warn("%s: with this the move is done. Take out what is only for it before the next plan: coming_from, and "+
				"what something is now", c.Path)
			continue
		}
		for _, e := range edits {
			d.Edits[id] = append(d.Edits[id], said(e, "done with the move"))
		}
	}
}

// followed gives what an alias stands for in the new tree that follows its folder.
func (b *builder) followed(d *carry.Draft) func(convention.Alias) string {
	if d.After == nil {
		return nil
	}
	return func(a convention.Alias) string { return d.After.Declared.Followed[a.Scope+a.Pattern] }
}

// warnMade says which folders that a program writes have moved: it must run anew, or it writes the old ones again.
func (b *builder) warnMade() {
	seen := map[string]bool{}
	for _, id := range b.moving() {
		h := b.home(id)
		if h.Shelf == nil || !h.Shelf.Made || seen[h.Shelf.Name] {
			continue
		}
		seen[h.Shelf.Name] = true
		b.warn("%s is written by a program: run it again after the move", strings.TrimSuffix(h.Instance, "/"))
	}
}

// complete says whether every file that stands wrong is moved.
func (b *builder) complete() bool {
	for id := range b.Placement.Homes {
		if _, moves := b.moves[project.FileID(id)]; !b.discarded(project.FileID(id)) &&
			b.Placement.Homes[id].Kind == placement.Misplaced &&
			!moves {
			return false
		}
	}
	return true
}

// outlived refuses a plan without moves whose convention still says what an alias stands for before the move. Imports
// that were written after it would be read by what the alias meant before.
func (b *builder) outlived() error {
	pattern, line := b.Convention.Outlived()
	if line == 0 || len(b.wanted) > 0 {
		return nil
	}
	return fmt.Errorf("%s:%d: nothing is left to move, and this still says what %s stood for before the move: "+
		"take that out", b.Convention.Path, line, pattern)
}
