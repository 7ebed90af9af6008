package java

import (
	"strings"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file writes the imports of a file that is settled.

// writeImports writes what becomes of the imports, and those that are added: into the list that has the most alike.
func (s *settler) writeImports() {
	lines, become := s.lines(), map[int]imports.Become{}
	for i := range s.was.imports {
		one, a := &s.was.imports[i], s.aims[i]
		switch {
		case a.removed:
			become[i] = imports.Become{Removed: true}
		case a.goal != one.name:
			at := lines[i].Text
			head, tail := string(s.Content[at.Start:one.at.Start]), string(s.Content[one.at.End:at.End])
			become[i] = imports.Become{Key: a.goal, Text: head + a.goal + tail,
				Edits: []source.Edit{{Span: one.at, New: a.goal}}}
		}
	}
	imports.Sort(s.added)
	groups := imports.Groups(lines)
	if len(groups) == 0 && len(s.added) > 0 {
		s.firstImports()
		s.added = nil
	}
	homes := make([][]imports.New, len(groups))
	for _, one := range s.added {
		home := s.home(groups, lines, one.Key)
		homes[home] = append(homes[home], one)
	}
	for i, group := range groups {
		for _, e := range imports.Write(s.Content, lines, group, become, homes[i], "") {
			s.Edit(e.Span, e.New)
		}
	}
	for i := range lines { // those that stand in no list
		b, changes := become[i]
		switch {
		case !changes || !lines[i].Held:
		case b.Removed:
			s.Edit(lines[i].Line, "")
		default:
			s.Edit(b.Edits[0].Span, b.Edits[0].New)
		}
	}
}

// lines are the imports as lines of lists. One that shares its line, or brings static members, is held.
func (s *settler) lines() []imports.Line {
	out := make([]imports.Line, len(s.was.imports))
	for i := range out {
		one := &s.was.imports[i]
		start, end := text.LineStart(s.Content, one.whole.Start), text.LineEnd(s.Content, one.whole.End)
		behind := strings.TrimSpace(string(s.Content[one.whole.End:end]))
		alone := strings.TrimSpace(string(s.Content[start:one.whole.Start])) == "" &&
			(behind == "" || strings.HasPrefix(behind, "//"))
		line := source.Span{Start: start, End: min(end+1, len(s.Content))}
		if !alone {
			line = one.whole
		}
		out[i] = imports.Line{Key: one.name, Text: one.whole, Line: line, Held: one.static || !alone}
	}
	return out
}

// home is the list for an import: the one that has an import with the longest beginning in common.
func (s *settler) home(groups [][]int, lines []imports.Line, key string) int {
	best, most := len(groups)-1, 0
	for i, group := range groups {
		for _, k := range group {
			n := 0
			for n < min(len(key), len(lines[k].Key)) && key[n] == lines[k].Key[n] {
				n++
			}
			if dots := strings.Count(key[:n], "."); dots > most {
				best, most = i, dots
			}
		}
	}
	return best
}

// firstImports writes imports into a file that has no list of them.
func (s *settler) firstImports() {
	out := ""
	for _, one := range s.added {
		out += one.Text + "\n"
	}
	at := s.was.first
	if n := len(s.was.imports); n > 0 { // static ones
		at = min(text.LineEnd(s.Content, s.was.imports[n-1].whole.End)+1, len(s.Content))
		out = "\n" + out
	} else if s.was.pkgAt.Len() > 0 {
		out = "\n" + out
	} else if at < len(s.Content) && s.Content[at] != '\n' {
		out += "\n"
	}
	edit := source.Span{Start: at, End: at}
	// a package line may be written at the same place
	s.Behind(edit, out)
}
