package plan

import (
	"errors"
	"fmt"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// require puts the values that the convention requires into the settings files. Several for one file are put in one
// after the other, each into the text that those before it made: what a file looks like with one of them decides how
// the next is written.
func (b *builder) require() map[project.FileID][]carry.Change {
	edits := map[project.FileID][]carry.Change{}
	done := map[int]bool{}
	for id, f := range b.tree.Files {
		if f.Link {
			continue
		}
		home := f.Path
		if h := b.Placement.Homes[id]; h.Kind == placement.Misplaced {
			home = h.Path
		}
		var asked []int
		for i, s := range b.Convention.Settings {
			if _, ok := s.In.Match(home); ok {
				asked = append(asked, i)
				done[i] = true
			}
		}
		for _, e := range b.requireAll(project.FileID(id), asked) {
			edits[project.FileID(id)] = append(edits[project.FileID(id)], said(e, "required setting"))
		}
	}
	for i, s := range b.Convention.Settings {
		if !done[i] {
			b.warn("%s line %d: there is no file %s to set %s in", b.Convention.Path, s.Line, s.In.Text,
				strings.Join(s.Key, "."))
		}
	}
	return edits
}

// requireAll gives the edits by which a file holds some of the values that are required. One that would undo another is
// refused with all.
func (b *builder) requireAll(id project.FileID, asked []int) []source.Edit {
	if len(asked) == 0 {
		return nil
	}
	p := b.tree.Path(id)
	refuse := func(i int, err error) {
		s := b.Convention.Settings[i]
		b.warn("%s line %d: %s can't be set in %s: %s", b.Convention.Path, s.Line, strings.Join(s.Key, "."), p, err)
	}
	if b.Placement.Homes[id].Leave == placement.Untouched {
		refuse(asked[0], errors.New("the file is left alone"))
		return nil
	}
	content, err := b.tree.Content(id)
	if err != nil {
		refuse(asked[0], err)
		return nil
	}
	made := source.Chain{Text: content}
	var set []int
	for _, i := range asked {
		s := b.Convention.Settings[i]
		edit, changed, err := b.Graph.Languages.Require(p, made.Text, s.Key, s.Value)
		if err != nil {
			refuse(i, err)
			continue
		}
		if set = append(set, i); !changed {
			continue
		}
		if err := made.Add(edit); err != nil {
			refuse(i, err)
			return nil
		}
	}
	for _, i := range set {
		s := b.Convention.Settings[i]
		if _, changed, err := b.Graph.Languages.Require(p, made.Text, s.Key, s.Value); err != nil || changed {
			b.warn("%s: nothing is set in %s: line %d of the convention and others can't be put in together",
				b.Convention.Path, p, s.Line)
			return nil
		}
	}
	return made.Edits
}

func (b *builder) warn(format string, args ...any) {
	text := fmt.Sprintf(format, args...)
	for _, w := range b.warnings {
		if w == text {
			return
		}
	}
	b.warnings = append(b.warnings, text)
}

// asksForEdits says whether anything but moves is asked for.
func (b *builder) asksForEdits() bool {
	return len(b.Convention.Aliases) > 0 || len(b.Convention.Settings) > 0 || len(b.Placement.Missing) > 0 ||
		b.Convention.HasDoors() || b.Convention.Day.Line > 0 || len(b.Placement.Lists) > 0 || b.Removal != nil
}

// said is a change that the convention asks for by itself: no mention of what moves is behind it.
func said(e source.Edit, kind string) carry.Change {
	return carry.Change{Edit: e, Mention: -1, Kind: kind, Target: lang.No(lang.ToNothing)}
}
