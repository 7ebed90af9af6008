package carry

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// writeAsked adds the files that are asked for, where nothing stands in their places and git sees them.
func (w *worker) writeAsked(d *Draft) {
	hidden := d.hidden()
	for _, p := range slices.Sorted(maps.Keys(w.Writes)) {
		_, taken := d.After.Tree.Lookup(p)
		if taken || d.After.Tree.IsDir(p) || w.Unwritten[p] {
			continue
		}
		if reason := hidden(p); reason != "" {
			w.refuseWritten(p, reason)
			continue
		}
		d.Writes[p] = w.Writes[p]
	}
}

// packageFiles adds the files without which the language would not find what has moved.
func (w *worker) packageFiles(d *Draft) {
	for _, rules := range d.After.Rules() {
		if rules.PackageFiles == nil {
			continue
		}
		for _, p := range rules.PackageFiles(w.Graph.Counterpart(&rules), d.moves()) {
			if _, required := d.Writes[p]; !required && !w.Unwritten[p] {
				d.Writes[p] = Written{}
			}
		}
	}
}

// owed makes the edits by which those who build the project find what has moved. It reports whether moves are blocked
// for want of one.
func (w *worker) owed(d *Draft) bool {
	before := len(w.refused)
	for _, rules := range d.After.Rules() {
		if rules.Owes == nil {
			continue
		}
		for _, duty := range rules.Owes(w.Graph.Counterpart(&rules), d.moves()) {
			id, _ := w.tree.Lookup(duty.Path)
			why := duty.Why
			if len(duty.Edits) > 0 && w.Hold(id) == Untouched {
				why = fmt.Sprintf("%s would have to say %s and is left alone", duty.Path, duty.Why)
			} else {
				for _, edit := range duty.Edits {
					d.Edits[id] = append(d.Edits[id], Change{Edit: edit, Mention: -1, Kind: duty.Why, Target: lang.No(lang.ToNothing)})
				}
			}
			for _, lost := range duty.Lost {
				if file, ok := w.tree.Lookup(lost); ok {
					w.refuse(file, why)
				}
			}
			sortChanges(d.Edits[id])
		}
	}
	return len(w.refused) > before
}

func (w *worker) moved() []lang.Moved {
	var out []lang.Moved
	for _, id := range w.moving() {
		out = append(out, lang.Moved{From: w.tree.Path(id), To: w.moves[id]})
	}
	return out
}

// removed lists the files that only marked a folder out of which everything has gone.
func (w *worker) removed(d *Draft) (out []project.FileID) {
	if d.After == nil || len(w.moves) == 0 {
		return out
	}
	var used [][]graph.Reference
	for id, f := range w.tree.Files {
		id := project.FileID(id)
		_, moves := w.moves[id]
		if moves || !w.fixture(id).Marks || w.Hold(id) != Free || !w.emptied(d, path.Dir(f.Path)) {
			continue
		}
		content, err := w.tree.Content(id)
		if err != nil || !blank(content) {
			continue
		}
		if used == nil {
			used = d.After.References()
		}
		if len(used[d.NewID[id]]) == 0 {
			out = append(out, id)
		}
	}
	return out
}

// emptied says whether files have left a folder and nothing but marks is below it.
func (w *worker) emptied(d *Draft, dir string) bool {
	from, to := w.tree.Below(dir)
	left := false
	for id := from; id < to; id++ {
		_, moves := w.moves[id]
		left = left || moves
	}
	if !left || dir == "." {
		return false
	}
	from, to = d.After.Tree.Below(dir)
	for id := from; id < to; id++ {
		if d.isWritten(d.After.Tree.Path(id)) || !w.fixture(d.OldID[id]).Marks {
			return false
		}
	}
	return true
}

// blank says whether a text holds nothing but comments.
func blank(content []byte) bool {
	for line := range bytes.Lines(content) {
		if line = bytes.TrimSpace(line); len(line) > 0 && line[0] != '#' {
			return false
		}
	}
	return true
}
