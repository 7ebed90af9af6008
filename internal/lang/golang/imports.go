package golang

import (
	"slices"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
)

// This file writes the imports of a file that is settled.

// insert writes imports: into the list that holds an import of the tree, in the order of the paths, or into a
// declaration of their own.
func (s *settler) insert(added []imports.New) {
	imports.Sort(added)
	lists := slices.ContainsFunc(s.lines(), func(l imports.Line) bool { return !l.Held })
	switch {
	case s.file.block > 0 && lists:
		s.added = added
	case s.file.block > 0: // an empty list, or one that is full of comments
		text := ""
		for _, one := range added {
			text += "\t" + one.Text + "\n"
		}
		s.edit(source.Span{Start: s.file.block, End: s.file.block}, text)
	case s.file.declarations == 1 && !s.file.cgo && !s.removed:
		s.makeList(&s.file.imports[0], added)
	default:
		text := "\n"
		if len(s.file.imports) == 0 {
			text = "\n\n"
		}
		for i, one := range added {
			if i > 0 {
				text += "\n"
			}
			text += "import " + one.Text
		}
		s.edit(source.Span{Start: s.file.after, End: s.file.after}, text)
	}
}

// makeList writes the only import anew as a list, with others behind it.
func (s *settler) makeList(only *spec, added []imports.New) {
	key := only.path
	var mentions []int
	if w := s.written[only]; w != nil {
		key, mentions = w.path, []int{w.mention}
	}
	all, gap := append([]imports.New{{Key: key, Text: s.textOf(only)}}, added...), "\n\n\t"
	delete(s.written, only)
	if _, ours := s.specs[only]; ours {
		imports.Sort(all)
		gap = "\n\t"
	}
	text := "import (\n\t" + all[0].Text + gap
	for i, one := range all[1:] {
		if i > 0 {
			text += "\n\t"
		}
		text += one.Text
	}
	s.edit(only.line, text+"\n)", mentions...)
}

// writeImports writes what becomes of the imports, and the added ones into the first list that has imports of the tree.
func (s *settler) writeImports() {
	lines, become := s.lines(), map[int]imports.Become{}
	for i := range s.file.imports {
		if w := s.written[&s.file.imports[i]]; w != nil {
			become[i] = s.become(&s.file.imports[i], w)
		}
	}
	groups := imports.Groups(lines)
	home := slices.IndexFunc(groups, func(group []int) bool {
		return slices.ContainsFunc(group, func(i int) bool { _, ours := s.specs[&s.file.imports[i]]; return ours })
	})
	if home < 0 {
		home = len(groups) - 1
	}
	for i, group := range groups {
		var added []imports.New
		if i == home {
			added = s.added
		}
		for _, e := range imports.Write(s.Content, lines, group, become, added, "\t") {
			if e.Line < 0 || e.Span.Len() == 0 {
				s.edit(e.Span, e.New)
				continue
			}
			s.edit(e.Span, e.New, s.written[&s.file.imports[e.Line]].mention)
		}
	}
	for i := range lines { // those that stand in no list
		b, changes := become[i]
		switch w := s.written[&s.file.imports[i]]; {
		case !changes || !lines[i].Held:
		case b.Removed:
			s.edit(lines[i].Line, "", w.mention)
		default:
			for _, e := range b.Edits {
				if e.Span.Len() == 0 {
					s.edit(e.Span, e.New)
					continue
				}
				s.edit(e.Span, e.New, w.mention)
			}
		}
	}
}

// lines are the imports as lines of lists. One that has a comment of its own above, or shares its line, is held.
func (s *settler) lines() []imports.Line {
	out := make([]imports.Line, len(s.file.imports))
	for i := range out {
		one := &s.file.imports[i]
		inList := one.line.End <= s.file.block && one.line.Start < one.all.Start
		out[i] = imports.Line{Key: one.path, Text: one.all, Line: one.line, Held: !inList || one.doc || one.crowded}
	}
	return out
}

// become is what becomes of an import.
func (s *settler) become(one *spec, w *line) imports.Become {
	if w.removed {
		return imports.Become{Removed: true}
	}
	b := imports.Become{Key: w.path, Text: s.textOf(one)}
	if w.name != "" {
		b.Edits = append(b.Edits, source.Edit{Span: source.Span{Start: one.at.Start - 1, End: one.at.Start - 1},
			New: w.name + " "})
	}
	if w.path != one.path {
		b.Edits = append(b.Edits, source.Edit{Span: one.at, New: w.path})
	}
	return b
}

// textOf is an import as it becomes, with its name.
func (s *settler) textOf(one *spec) string {
	text := string(s.Content[one.all.Start:one.all.End])
	w := s.written[one]
	if w == nil {
		return text
	}
	quote := one.at.Start - 1 - one.all.Start
	name := text[:quote]
	if w.name != "" {
		name = w.name + " "
	}
	return name + text[quote:quote+1] + w.path + text[len(text)-1:]
}
