package carry

import (
	"fmt"
	"path"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// proveWritten makes sure that every reference of a written file leads to a file of its instance.
func (w *worker) proveWritten(d *Draft) {
	for p := range d.Writes {
		id, there := d.After.Tree.Lookup(p)
		if !there {
			continue
		}
		for i, t := range d.After.Files[id].Targets {
			if t.Kind == lang.ToNothing && !d.After.Files[id].Mentions[i].Likely {
				w.refuseWritten(p, fmt.Sprintf("its %q would lead nowhere", d.After.Files[id].Mentions[i].Text))
			}
		}
	}
}

// door gives the file through which an import from outside an instance must go instead of to its target: the door of
// the instance, if it is shown to re-export every name that the import brings. Both are IDs of the new tree.
func (w *worker) door(d *Draft, ref graph.Reference, to project.FileID) (project.FileID, bool) {
	m := &w.Graph.Files[ref.From].Mentions[ref.Mention]
	if w.Door == nil || !m.Kind.Is(lang.Imports) {
		return 0, false
	}
	p, ok := w.Door(d.After.Tree.Path(d.NewID[ref.From]), d.After.Tree.Path(d.NewID[to]))
	if !ok {
		return 0, false
	}
	door, there := d.After.Tree.Lookup(p)
	if !there {
		return 0, false
	}
	fresh, isNew := d.Writes[p]
	bindings := w.Graph.Bindings(ref)
	for _, binding := range bindings {
		if binding.Name == lang.Everything {
			return 0, false
		}
		if isNew && !w.entryGives(fresh, p, binding.Name, d.After.Tree.Path(d.NewID[to])) {
			return 0, false
		}
		if !isNew && !slices.Contains(w.Graph.Gives(d.OldID[door], binding.Name), to) {
			return 0, false
		}
	}
	return door, len(bindings) > 0
}

// entryGives says whether a written entry hands a name of a file on.
func (w *worker) entryGives(written Written, entry, name, file string) bool {
	writer := w.Graph.Languages.Reexports(entry)
	return written.Entry && writer != nil &&
		writer.Gives(written.Content, writer.Specifier(path.Dir(entry), file, w.Graph.WritesEndings()), name)
}
