package plan

import (
	"maps"
	"slices"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/project"
)

// Removed is a file that goes, and why.
type Removed struct {
	Fingerprint
	Because string `json:"because,omitempty"` // the convention's reason; empty for a mark of a folder that is empty then
}

// discarded says whether a file is not wanted any more. It is not moved either, whether it can go or not.
func (b *builder) discarded(id project.FileID) bool {
	if b.Removal == nil {
		return false
	}
	_, needed := b.Removal.Needed[id]
	_, goes := slices.BinarySearch(b.Removal.Goes, id)
	return needed || goes
}

// stayDiscarded takes the moves of files out that are not wanted any more.
func (b *builder) stayDiscarded() {
	maps.DeleteFunc(b.moves, func(id project.FileID, _ string) bool { return b.discarded(id) })
}

// discard takes files out that are not wanted any more, with the entries of lists that name them. What would have been
// edited in them is of no use.
func (b *builder) discard(d *carry.Draft) {
	if b.Removal == nil || b.Only != nil {
		return
	}
	for _, id := range b.Removal.Goes {
		delete(d.Edits, id)
	}
	d.Removes = slices.Concat(d.Removes, b.Removal.Goes)
	slices.Sort(d.Removes)
	d.Removes = slices.Compact(d.Removes)
	for id, edits := range b.Removal.Edits {
		for _, e := range edits {
			d.Edits[id] = append(d.Edits[id], said(e, "discarded"))
		}
		slices.SortFunc(d.Edits[id], func(x, y carry.Change) int { return x.Edit.Span.Start - y.Edit.Span.Start })
	}
}
