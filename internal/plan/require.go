package plan

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// require puts the values that the convention requires into the settings files. Several for one file are put in one
// after the other, and become one edit for each place.
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
		for i, s := range b.Convention.Settings {
			if _, ok := s.In.Match(home); !ok {
				continue
			}
			done[i] = true
			if err := b.requireOne(edits, project.FileID(id), i); err != nil {
				b.warn("%s line %d: %s can't be set in %s: %s", b.Convention.Path, s.Line, strings.Join(s.Key, "."),
					f.Path, err)
			}
		}
		b.tryTogether(edits, project.FileID(id), home)
	}
	for i, s := range b.Convention.Settings {
		if !done[i] {
			b.warn("%s line %d: there is no file %s to set %s in", b.Convention.Path, s.Line, s.In.Text,
				strings.Join(s.Key, "."))
		}
	}
	return edits
}

// tryTogether makes the edits of a file, each of which was tried alone, on one text: it must hold every value then.
func (b *builder) tryTogether(edits map[project.FileID][]carry.Change, id project.FileID, home string) {
	if len(edits[id]) == 0 {
		return
	}
	content, err := b.tree.Content(id)
	if err == nil {
		content, err = source.Apply(content, carry.SourceEdits(edits[id]))
	}
	for _, s := range b.Convention.Settings {
		if _, ok := s.In.Match(home); !ok || err != nil {
			continue
		}
		var changed bool
		if _, changed, err = b.Graph.Languages.Require(b.tree.Path(id), content, s.Key, s.Value); err == nil &&
			changed {
			err = fmt.Errorf("line %d of the convention and others can't be put in together", s.Line)
		}
	}
	if err != nil {
		delete(edits, id)
		b.warn("%s: nothing is set in %s: %s", b.Convention.Path, b.tree.Path(id), err)
	}
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

// requireOne adds one value to the edits of a file. Values that go to one place stand there in the order of the
// convention.
func (b *builder) requireOne(edits map[project.FileID][]carry.Change, id project.FileID, setting int) error {
	if leave := b.Placement.Homes[id].Leave; leave == placement.Untouched {
		return fmt.Errorf("the file is left alone")
	}
	content, err := b.tree.Content(id)
	if err != nil {
		return err
	}
	s := b.Convention.Settings[setting]
	edit, changed, err := b.Graph.Languages.Require(b.tree.Path(id), content, s.Key, s.Value)
	if err != nil || !changed {
		return err
	}
	for i := range edits[id] {
		if have := &edits[id][i]; have.Edit.Span == edit.Span {
			if edit.Span.Len() > 0 {
				return fmt.Errorf("line %d sets it too", s.Line)
			}
			have.Edit.New = joined(have.Edit.New, edit.New)
			return nil
		}
	}
	edits[id] = append(edits[id], carry.Change{Edit: edit, Mention: -1, Kind: "required setting",
		Target: lang.No(lang.ToNothing)})
	slices.SortFunc(edits[id], func(x, y carry.Change) int { return x.Edit.Span.Start - y.Edit.Span.Start })
	return nil
}

// joined puts two insertions at one place together. Both end as the last member of an object would.
func joined(first, second string) string {
	if strings.HasSuffix(first, "\n") || strings.HasPrefix(second, ",") {
		if indent(second) > indent(first) { // it belongs to what stands before
			return second + first
		}
		return first + second
	}
	return strings.TrimRight(first, " \n\t") + "," + strings.TrimPrefix(second, ",")
}

// asksForEdits says whether anything but moves is asked for.
func (b *builder) asksForEdits() bool {
	return len(b.Convention.Aliases) > 0 || len(b.Convention.Settings) > 0 || len(b.Placement.Missing) > 0 ||
		b.Convention.HasDoors()
}

func indent(text string) int { return len(text) - len(strings.TrimLeft(text, " ")) }
