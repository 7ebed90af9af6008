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
		text := ""
		for _, line := range lines {
			text += "\t" + line + "\n"
		}
		s.edit(source.Span{Start: s.file.block, End: s.file.block}, text)
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
	text, mentions := string(s.Content[only.all.Start:only.all.End]), []int(nil)
	if w := s.written[only]; w != nil {
		quoted := text[only.at.Start-1-only.all.Start:]
		name := text[:len(text)-len(quoted)]
		if w.name != "" {
			name = w.name + " "
		}
		text, mentions = name+quoted[:1]+w.path+quoted[len(quoted)-1:], []int{w.mention}
	}
	delete(s.written, only)
	all, gap := append([]string{text}, lines...), "\n\n\t"
	if _, ours := s.specs[only]; ours {
		slices.SortStableFunc(all, func(a, b string) int {
			return strings.Compare(a[strings.IndexByte(a, '"')+1:], b[strings.IndexByte(b, '"')+1:])
		})
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
		w := s.written[one]
		switch {
		case w == nil || w.path == one.path:
			stays = append(stays, one)
		case w.removed:
		case s.fits(group, i):
			stays = append(stays, one)
			continue
		default:
			moves = append(moves, s.lineOf(one))
			s.edit(one.line, "", w.mention)
			continue
		}
		s.writeSpec(one)
	}
	for _, one := range stays {
		if w := s.written[one]; w != nil && w.path != one.path {
			s.writeSpec(one)
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

// lineOf is the line of an import as it becomes, without what stands around it.
func (s *settler) lineOf(one *spec) string {
	w := s.written[one]
	line := string(s.Content[one.all.Start:one.line.End])
	at, name := one.at.Start-one.all.Start, ""
	if w.name != "" {
		name = w.name + " "
	}
	return strings.TrimRight(line[:at-1]+name+line[at-1:at]+w.path+line[one.at.End-one.all.Start:], "\r\n")
}

// pathIn is the path in the line of an import.
func pathIn(line string) string {
	_, rest, _ := strings.Cut(line, `"`)
	path, _, _ := strings.Cut(rest, `"`)
	return path
}

// addLines writes imports at places, in the order of their paths.
func (s *settler) addLines(at map[int][]string) {
	for _, place := range slices.Sorted(maps.Keys(at)) {
		lines := at[place]
		slices.SortStableFunc(lines, func(a, b string) int { return strings.Compare(pathIn(a), pathIn(b)) })
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
