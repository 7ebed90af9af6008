package plan

import (
	"slices"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/lang"
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
	return needed || slices.Contains(b.Removal.Goes, id)
}

// stayDiscarded takes the moves of files out that are not wanted any more.
func (b *builder) stayDiscarded() {
	if b.Removal == nil {
		return
	}
	for _, id := range b.Removal.Goes {
		delete(b.moves, id)
	}
	for id := range b.Removal.Needed {
		delete(b.moves, id)
	}
}

// discard takes files out that are not wanted any more, with the entries of lists that name them. What would have been
// edited in them is of no use.
func (b *builder) discard(d *carry.Draft) {
	if b.Removal == nil || b.Only != nil {
		return
	}
	for _, id := range b.Removal.Goes {
		delete(d.Edits, id)
		if !slices.Contains(d.Removes, id) {
			d.Removes = append(d.Removes, id)
		}
	}
	slices.Sort(d.Removes)
	for id, edits := range b.Removal.Edits {
		for _, e := range edits {
			d.Edits[id] = append(d.Edits[id], carry.Change{Edit: e, Mention: -1, Kind: "discarded",
				Target: lang.No(lang.ToNothing)})
		}
		slices.SortFunc(d.Edits[id], func(x, y carry.Change) int { return x.Edit.Span.Start - y.Edit.Span.Start })
	}
}
