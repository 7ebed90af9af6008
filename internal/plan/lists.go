package plan

import (
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// lists puts instances into the lists of settings that are to have them, and takes out what is gone. It looks at the
// text that the other edits of the file make: an item that names what moves is written anew there already.
func (b *builder) lists(d *carry.Draft) {
	if !b.complete() { // what stays where it is may still be listed as it is
		return
	}
	for _, change := range b.Placement.Lists {
		b.editList(d, change.File, change.Key, change.Add, change.Drop)
	}
}

func (b *builder) editList(d *carry.Draft, id project.FileID, key, add, drop []string) {
	p := b.tree.Path(id)
	refuse := func(err error) { b.warn("%s can't be set in %s: %s", strings.Join(key, "."), p, err) }
	if b.Placement.Homes[id].Leave == placement.Untouched {
		b.warn("%s can't be set in %s: the file is left alone", strings.Join(key, "."), p)
		return
	}
	content, err := b.tree.Content(id)
	if err != nil {
		refuse(err)
		return
	}
	before := carry.SourceEdits(d.Edits[id])
	text, err := source.Apply(content, before)
	if err != nil {
		refuse(err)
		return
	}
	made, err := b.Graph.Languages.EditList(p, text, key, add, drop)
	if err != nil {
		refuse(err)
		return
	}
	both := source.Chain{Text: text, Edits: before}
	for _, e := range slices.Backward(made) { // from the end, so that places before it stay
		if err := both.Add(e); err != nil {
			refuse(err)
			return
		}
	}
	var changes []carry.Change
	for _, e := range both.Edits {
		kept := slices.IndexFunc(d.Edits[id], func(c carry.Change) bool { return c.Edit == e })
		if kept >= 0 {
			changes = append(changes, d.Edits[id][kept])
			continue
		}
		changes = append(changes, said(e, "list of "+strings.Join(key, ".")))
	}
	d.Edits[id] = changes
}
