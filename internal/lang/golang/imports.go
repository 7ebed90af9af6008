package golang

import (
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/source"
)

// This file writes the imports of a file that is settled.

// insert writes imports: into the list that holds an import of the tree, in the order of the paths, or into a
// declaration of their own.
func (s *settler) insert(lines []string) {
	if s.file.block > 0 && len(s.groups()) == 0 { // an empty list, or one that is full of comments
		s.addLines(map[int][]string{s.file.block: lines})
		return
	}
	if s.file.block == 0 && s.file.declarations == 1 && !s.file.cgo && !s.removed {
		s.makeList(&s.file.imports[0], lines)
		return
	}
	if s.file.block == 0 {
		text := "\n"
		if len(s.file.imports) == 0 {
			text = "\n\n"
		}
		for i, line := range lines {
			if i > 0 {
				text += "\n"
			}
			text += "import " + line
		}
		s.edit(source.Span{Start: s.file.after, End: s.file.after}, text)
		return
	}
	s.added = lines
}

// makeList writes the only import anew as a list, with others behind it.
func (s *settler) makeList(only *spec, lines []string) {
	all, gap := append([]string{s.textOf(only)}, lines...), "\n\n\t"
	var mentions []int
	if w := s.written[only]; w != nil {
		mentions = []int{w.mention}
		delete(s.written, only)
	}
	if _, ours := s.specs[only]; ours {
		slices.SortStableFunc(all, byPath)
		gap = "\n\t"
	}
	s.edit(only.line, "import (\n\t"+all[0]+gap+strings.Join(all[1:], "\n\t")+"\n)", mentions...)
}

// writeImports writes what becomes of the imports, and the added ones into the first list of imports of the tree: in
// the order of the paths, where they were in that order.
func (s *settler) writeImports() {
	groups := s.groups()
	home := slices.IndexFunc(groups, func(g []*spec) bool {
		return slices.ContainsFunc(g, func(one *spec) bool { _, ours := s.specs[one]; return ours })
	})
	if home < 0 {
		home = len(groups) - 1
	}
	inGroup := map[*spec]bool{}
	for i, g := range groups {
		var added []string
		if i == home {
			added = s.added
		}
		s.writeGroup(g, added)
		for _, one := range g {
			inGroup[one] = true
		}
	}
	for i := range s.file.imports {
		if one := &s.file.imports[i]; !inGroup[one] {
			s.writeSpec(one)
		}
	}
}

// writeSpec writes one import where it stands.
func (s *settler) writeSpec(one *spec) {
	w := s.written[one]
	switch {
	case w == nil:
	case w.removed:
		s.edit(one.line, "", w.mention)
	default:
		if w.name != "" {
			s.edit(source.Span{Start: one.at.Start - 1, End: one.at.Start - 1}, w.name+" ")
		}
		if w.path != one.path {
			s.edit(one.at, w.path, w.mention)
		}
	}
}

// writeGroup writes the imports of a list. Where they were in the order of their paths, one that would stand out of it
// is taken out and written where it belongs.
func (s *settler) writeGroup(group []*spec, added []string) {
	if !slices.IsSortedFunc(group, func(a, b *spec) int { return strings.Compare(a.path, b.path) }) {
		for _, one := range group {
			s.writeSpec(one)
		}
		s.addLines(map[int][]string{group[len(group)-1].line.End: added})
		return
	}
	var stays []*spec // what keeps its line
	var moves []string
	for i, one := range group {
		switch w := s.written[one]; {
		case w != nil && w.removed:
			s.writeSpec(one)
		case w == nil || w.path == one.path || s.fits(group, i):
			stays = append(stays, one)
			s.writeSpec(one)
		default:
			behind := string(s.Content[one.all.End:one.line.End]) // a comment
			moves = append(moves, strings.TrimRight(s.textOf(one)+behind, "\r\n"))
			s.edit(one.line, "", w.mention)
		}
	}
	at := map[int][]string{}
	for _, line := range append(moves, added...) {
		place := group[len(group)-1].line.End
		for _, one := range stays {
			if s.pathOf(one) > pathIn(line) {
				place = one.line.Start
				break
			}
		}
		at[place] = append(at[place], line)
	}
	s.addLines(at)
}

// fits says whether an import whose path changes may keep its line: those that keep theirs stand around it in order,
// and no other between.
func (s *settler) fits(group []*spec, i int) bool {
	now := s.written[group[i]].path
	changes := func(one *spec) bool { w := s.written[one]; return w != nil && !w.removed && w.path != one.path }
	if i > 0 && (changes(group[i-1]) || group[i-1].path > now) {
		return false
	}
	return i == len(group)-1 || !changes(group[i+1]) && group[i+1].path >= now
}

// pathOf is the path that an import has in the end.
func (s *settler) pathOf(one *spec) string {
	if w := s.written[one]; w != nil && !w.removed {
		return w.path
	}
	return one.path
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

// pathIn is the path in the line of an import.
func pathIn(line string) string {
	const quotes = "\"`"
	rest := line[strings.IndexAny(line, quotes)+1:]
	return rest[:strings.IndexAny(rest, quotes)]
}

// byPath compares the lines of two imports.
func byPath(a, b string) int { return strings.Compare(pathIn(a), pathIn(b)) }

// addLines writes imports at places, in the order of their paths.
func (s *settler) addLines(at map[int][]string) {
	for _, place := range slices.Sorted(maps.Keys(at)) {
		lines := at[place]
		slices.SortStableFunc(lines, byPath)
		if len(lines) > 0 {
			s.edit(source.Span{Start: place, End: place}, "\t"+strings.Join(lines, "\n\t")+"\n")
		}
	}
}

// groups are the lists of imports without a blank line between.
func (s *settler) groups() (groups [][]*spec) {
	for i := range s.file.imports {
		one := &s.file.imports[i]
		if one.line.End > s.file.block || one.line.Start >= one.all.Start || one.doc || one.crowded { // not in the list, or with a comment of its own
			continue
		}
		if n := len(groups); n > 0 {
			if last := groups[n-1]; last[len(last)-1].line.End == one.line.Start {
				groups[n-1] = append(last, one)
				continue
			}
		}
		groups = append(groups, []*spec{one})
	}
	return groups
}
