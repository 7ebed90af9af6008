package carry

import (
	"fmt"
	"maps"
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
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

// owed carries out what the moves owe to other files. It reports whether moves are refused for want of it.
func (w *worker) owed(d *Draft) bool {
	before := len(w.refused)
	duties := w.duties(d)
	// a package that gets its marker is another thing to a builder, so what is owed is asked again with the marker there
	for w.writeNew(d, duties) {
		w.overlay(d, false)
		duties = w.duties(d)
	}
	d.needless = nil
	for _, duty := range duties {
		id, there := w.tree.Lookup(duty.Path)
		why := duty.Why
		switch {
		case duty.Remove && there:
			d.needless = append(d.needless, id)
		case there && len(duty.Edits)+len(duty.Lost) == 0 && duty.Why != "":
			line := 1
			w.tree.Peek(id, func(content []byte, err error) {
				if err == nil {
					line = source.PositionAt(content, duty.At).Line
				}
			})
			d.Remarks = append(d.Remarks, Remark{Path: duty.Path, Line: line, Text: duty.Why})
		case len(duty.Edits) > 0 && w.Hold(id) == Untouched:
			why = fmt.Sprintf("%s would have to say %s and is left alone", duty.Path, duty.Why)
		default:
			for _, edit := range duty.Edits {
				d.Edits[id] = append(d.Edits[id], Change{Edit: edit, Mention: -1, Kind: duty.Why,
					Target: lang.No(lang.ToNothing)})
			}
			sortChanges(d.Edits[id])
		}
		for _, lost := range duty.Lost {
			if file, ok := w.tree.Lookup(lost); ok {
				w.refuse(file, why)
			}
		}
	}
	return len(w.refused) > before
}

// duties asks all languages what the moves owe.
func (w *worker) duties(d *Draft) (out []lang.Duty) {
	for _, rules := range d.After.Rules() {
		if rules.Owes != nil {
			out = append(out, rules.Owes(w.Graph.Counterpart(&rules), d.moves())...)
		}
	}
	return out
}

// writeNew adds the files that must be there. It reports whether there are some.
func (w *worker) writeNew(d *Draft, duties []lang.Duty) bool {
	before := len(d.Writes)
	for _, duty := range duties {
		if _, asked := d.Writes[duty.Path]; duty.New != nil && !asked && !w.Unwritten[duty.Path] {
			d.Writes[duty.Path] = Written{Content: duty.New}
		}
	}
	return len(d.Writes) > before
}

func (w *worker) moved() []lang.Moved {
	var out []lang.Moved
	for _, id := range w.moving() {
		to := w.moves[id]
		out = append(out, lang.Moved{From: w.tree.Path(id), To: to, Widen: w.Widens != nil && w.Widens(id),
			Packaged: w.Packaged != nil && w.Packaged(to)})
	}
	return out
}

// removed lists the files of which the languages say that they are of no use any more, and to which nothing refers.
func (w *worker) removed(d *Draft) (out []project.FileID) {
	if len(d.needless) == 0 {
		return nil
	}
	// empty, and alone in its folder, a file may still be named by somebody
	used := d.After.References()
	for _, id := range d.needless {
		if w.Hold(id) == Free && len(used[d.NewID[id]]) == 0 {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}
