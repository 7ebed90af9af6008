package plan

import (
	"bytes"
	"fmt"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// prove checks the draft on its overlay, whose files were scanned and resolved afresh. What fails is blocked:
//
//  1. no two files claim one path: blockPlaces and the overlay itself see to that;
//  2. every reference that led to a file leads to the same file;
//  3. no reference dangles that did not before;
//  4. outside the edited spans every byte is what it was;
//  5. every moved file is at home.
func (b *builder) prove(d *draft) {
	if d.after == nil {
		return
	}
	for id := range b.Graph.Files {
		b.proveReferences(d, project.FileID(id))
	}
	for id := range d.edits {
		b.proveBytes(d, id)
	}
	placer := placement.New(b.Convention)
	for _, id := range b.moving() {
		if h := placer.Place(d.after.Tree.Path(d.newID[id])); h.Kind != placement.AtHome && h.Kind != placement.Left {
			b.block(id, fmt.Sprintf("at %s it would not be at home", d.after.Tree.Path(d.newID[id])))
		}
	}
}

func (b *builder) proveReferences(d *draft, id project.FileID) {
	before, after := &b.Graph.Files[id], &d.after.Files[d.newID[id]]
	if len(before.Mentions) != len(after.Mentions) {
		b.fault(d, id, "its references could not be found again after the edits")
		return
	}
	for i := range before.Mentions {
		if before.Mentions[i].Kind != after.Mentions[i].Kind {
			b.fault(d, id, "its references could not be found again after the edits")
			return
		}
		old, now := before.Targets[i], after.Targets[i]
		if same(d.newID, old, now) {
			continue
		}
		// Outside and nothing are both no file: what a setting or an ignored folder hides may be told apart less well
		// from another place. A reference that begins to dangle is a fault all the same.
		if old.Kind != lang.ToFile && now.Kind != lang.ToFile && now.Kind != lang.ToNothing {
			continue
		}
		b.blockReference(d, graph.Reference{From: id, Mention: i}, "")
	}
}

// fault blocks a file's move, or that of everything it refers to.
func (b *builder) fault(d *draft, id project.FileID, reason string) {
	if _, moves := b.moves[id]; moves {
		b.block(id, reason)
		return
	}
	for _, c := range d.edits[id] {
		if c.target != project.None {
			b.block(c.target, fmt.Sprintf("%s: %s", b.tree.Path(id), reason))
		}
	}
}

func (b *builder) proveBytes(d *draft, id project.FileID) {
	old, errOld := b.tree.Content(id)
	now, errNow := d.after.Tree.Content(d.newID[id])
	if errOld != nil || errNow != nil || !sameOutside(old, now, d.edits[id]) {
		b.fault(d, id, "an edit would change more than it should")
	}
}

// sameOutside compares two texts in all places that no edit covers.
func sameOutside(old, now []byte, changes []change) bool {
	at, shift := 0, 0
	for _, c := range changes {
		span := c.edit.Span
		if span.Start+shift > len(now) || !bytes.Equal(old[at:span.Start], now[at+shift:span.Start+shift]) {
			return false
		}
		at = span.End
		shift += len(c.edit.New) - span.Len()
	}
	return at+shift <= len(now) && bytes.Equal(old[at:], now[at+shift:])
}
