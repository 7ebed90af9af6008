package csharp

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file writes the usings of a file that is settled.

// writeUsings writes what becomes of the usings, and those that are added.
func (s *settler) writeUsings() {
	lines, become := s.lines(), map[int]imports.Become{}
	for i := range s.was.usings {
		one, a := &s.was.usings[i], s.aims[i]
		goal := a.goal
		switch {
		case a.removed:
			become[i] = imports.Become{Removed: true}
		case goal != one.name:
			at := lines[i].Text
			head, tail := string(s.Content[at.Start:one.at.Start]), string(s.Content[one.at.End:at.End])
			become[i] = imports.Become{Key: key(goal), Text: head + goal + tail,
				Edits: []source.Edit{{Span: one.at, New: goal}}}
		}
	}
	for _, space := range s.with.spaces {
		s.added = append(s.added, imports.New{Key: key(space), Text: "using " + space + ";"})
	}
	groups := imports.Groups(lines)
	groups = slices.DeleteFunc(groups, func(group []int) bool { return s.was.usings[group[0]].space != s.with.level })
	if len(groups) == 0 && len(s.added) > 0 {
		s.firstUsings()
		s.added = nil
	}
	indent := ""
	if s.with.level > 0 {
		indent = s.was.file.spaces[s.with.level].indent
	}
	home := len(groups) - 1
	written := map[int]bool{}
	for k, group := range groups {
		var added []imports.New
		if k == home {
			added = s.added
		}
		for _, i := range group {
			written[i] = true
		}
		for _, e := range imports.Write(s.Content, lines, group, become, added, indent) {
			s.Edit(e.Span, e.New)
		}
	}
	for i := range lines { // those that stand in no list
		b, changes := become[i]
		switch {
		case !changes || written[i]:
		case b.Removed:
			s.Edit(lines[i].Line, "")
		default:
			s.Edit(b.Edits[0].Span, b.Edits[0].New)
		}
	}
}

// key is the place of a using in a list: those of the language's own libraries come first.
func key(name string) string {
	if within(name, "System") {
		return "0" + name
	}
	return "1" + name
}

// lines are the usings as lines of lists. One that shares its line, stands between #if and #endif, gives another name or
// brings members is held.
func (s *settler) lines() []imports.Line {
	out := make([]imports.Line, len(s.was.usings))
	for i := range out {
		one := &s.was.usings[i]
		start, end := text.LineStart(s.Content, one.whole.Start), text.LineEnd(s.Content, one.whole.End)
		behind := strings.TrimSpace(string(s.Content[one.whole.End:end]))
		before := strings.TrimPrefix(string(s.Content[start:one.whole.Start]), "\xEF\xBB\xBF")
		alone := strings.TrimSpace(before) == "" && (behind == "" || strings.HasPrefix(behind, "//"))
		if start == 0 && len(before) < one.whole.Start {
			start = one.whole.Start - len(before)
		}
		line := source.Span{Start: start, End: min(end+1, len(s.Content))}
		if !alone {
			line = one.whole
		}
		out[i] = imports.Line{Key: key(one.name), Text: one.whole, Line: line,
			Held: one.static || one.alias != "" || one.global || !alone || s.conditional(i)}
	}
	return out
}

// conditional says whether a using stands between #if and #endif.
func (s *settler) conditional(i int) bool {
	at := s.was.usings[i].whole.Start
	return slices.ContainsFunc(s.was.cond, func(part [2]int) bool { return part[0] <= at && at < part[1] })
}

// firstUsings writes usings into a file that has no list of them.
func (s *settler) firstUsings() {
	out, indent := "", ""
	at := s.was.first
	if s.with.level > 0 {
		indent = s.was.file.spaces[s.with.level].indent
		at = s.was.file.spaces[s.with.level].first
	}
	imports.Sort(s.added)
	for _, one := range s.added {
		out += indent + one.Text + "\n"
	}
	for i := range s.was.usings { // behind those that can't be joined
		if one := &s.was.usings[i]; one.space == s.with.level && !s.conditional(i) {
			at = max(at, min(text.LineEnd(s.Content, one.whole.End)+1, len(s.Content)))
		}
	}
	for _, part := range s.was.cond {
		if part[0] <= at && at < part[1] {
			at = part[0]
		}
	}
	if len(s.was.usings) == 0 && at < len(s.Content) && s.Content[at] != '\n' && s.Content[at] != '\r' {
		out += "\n"
	}
	edit := source.Span{Start: at, End: at}
	s.Behind(edit, out)
}
