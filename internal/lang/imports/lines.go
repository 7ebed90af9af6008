// Package imports writes statements that bring names into a file, in the manner of the file: imports that stand each on
// a line of its own, and names in a list with commas. It knows no language; who asks brings the texts.
//
// lines.go writes lists of lines and keeps them sorted, names.go takes names out of a list, sheet.go gathers what is
// written into one file.
package imports

import (
	"cmp"
	"slices"
	"strings"

	"crookedshelf/internal/source"
)

// Line is an import that stands alone on its line.
type Line struct {
	Key  string      // lists may be in the order of their keys
	Text source.Span // the import itself
	Line source.Span // the whole line, with its end
	// Held: it keeps its place, as one that a comment above belongs to.
	Held bool
}

// Groups gives the lists that lines make: those between which nothing stands, not even a blank line. Lines that are
// held belong to none. Each is given by its index.
func Groups(lines []Line) (groups [][]int) {
	for i, one := range lines {
		if one.Held {
			continue
		}
		if n := len(groups); n > 0 {
			last := groups[n-1]
			if lines[last[len(last)-1]].Line.End == one.Line.Start {
				groups[n-1] = append(last, i)
				continue
			}
		}
		groups = append(groups, []int{i})
	}
	return groups
}

// Become is what becomes of a line.
type Become struct {
	Removed bool
	Key     string        // where it is not removed
	Text    string        // the import as it is then
	Edits   []source.Edit // those that make it so in its place
}

// New is an import that is added.
type New struct{ Key, Text string }

// Edit is an edit of a list. Line is the index of the line that it is for; -1 for one that is added.
type Edit struct {
	source.Edit
	Line int
}

// Write gives the edits of one list: what becomes of its lines, by their indices, and what is added to it. Where the
// lines are in the order of their keys they stay so: one that would stand out of it is taken out and written where it
// belongs, with a comment behind it, and what is added stands in the order too. Else each is written in its place, and
// what is added stands at the end. indent stands before what is written on a line of its own.
func Write(src []byte, lines []Line, group []int, become map[int]Become, added []New, indent string) (out []Edit) {
	inPlace := func(i int) {
		switch b, changes := become[i]; {
		case !changes:
		case b.Removed:
			out = append(out, Edit{source.Edit{Span: lines[i].Line}, i})
		default:
			for _, e := range b.Edits {
				out = append(out, Edit{e, i})
			}
		}
	}
	end := lines[group[len(group)-1]].Line.End
	if !slices.IsSortedFunc(group, func(a, b int) int { return strings.Compare(lines[a].Key, lines[b].Key) }) {
		for _, i := range group {
			inPlace(i)
		}
		return append(out, insertions(map[int][]New{end: added}, indent)...)
	}
	var stay []int // what keeps its line
	moving := slices.Clone(added)
	for at, i := range group {
		b, changes := become[i]
		switch {
		case changes && b.Removed:
			inPlace(i)
		case !changes || b.Key == lines[i].Key || fits(lines, group, become, at):
			stay = append(stay, i)
			inPlace(i)
		default:
			behind := string(src[lines[i].Text.End:lines[i].Line.End]) // a comment
			moving = append(moving, New{b.Key, strings.TrimRight(b.Text+behind, "\r\n")})
			out = append(out, Edit{source.Edit{Span: lines[i].Line}, i})
		}
	}
	places := map[int][]New{}
	for _, one := range moving {
		place := end
		for _, i := range stay {
			if keyOf(lines, become, i) > one.Key {
				place = lines[i].Line.Start
				break
			}
		}
		places[place] = append(places[place], one)
	}
	return append(out, insertions(places, indent)...)
}

// fits says whether a line whose key changes may keep its place: those that keep theirs stand around it in order, and
// no other between.
func fits(lines []Line, group []int, become map[int]Become, at int) bool {
	changes := func(i int) bool {
		b, is := become[i]
		return is && !b.Removed && b.Key != lines[i].Key
	}
	now := become[group[at]].Key
	if at > 0 && (changes(group[at-1]) || lines[group[at-1]].Key > now) {
		return false
	}
	return at == len(group)-1 || !changes(group[at+1]) && lines[group[at+1]].Key >= now
}

// keyOf is the key that a line has in the end.
func keyOf(lines []Line, become map[int]Become, i int) string {
	if b, changes := become[i]; changes && !b.Removed {
		return b.Key
	}
	return lines[i].Key
}

// insertions writes lines at places, in the order of their keys.
func insertions(places map[int][]New, indent string) (out []Edit) {
	for place, lines := range places {
		if len(lines) == 0 {
			continue
		}
		Sort(lines)
		text := ""
		for _, one := range lines {
			text += indent + one.Text + "\n"
		}
		out = append(out, Edit{source.Edit{Span: source.Span{Start: place, End: place}, New: text}, -1})
	}
	slices.SortFunc(out, func(a, b Edit) int { return cmp.Compare(a.Span.Start, b.Span.Start) })
	return out
}

// Sort puts what is added in the order of the keys.
func Sort(lines []New) {
	slices.SortStableFunc(lines, func(a, b New) int { return strings.Compare(a.Key, b.Key) })
}
