package ruby

import (
	"bytes"
	"slices"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file says what becomes of the modules around a constant that gets another name by its place: module A … end is
// written around it, called otherwise, or taken away.

// shape is what becomes of the modules of a file.
type shape struct {
	names map[int]string // what modules, and values below 0, are called then in the text
	wrap  int            // the module around which others are put; 0 for none
	with  []string       // those, the outermost first
	gone  []int          // those that are taken away
	why   string         // why it can't be done
}

// level is a module around the constant, or what defines it.
type level struct {
	at    int
	parts []string
}

// levels are the modules from the outermost on, down to what defines the constant of the file.
func (e *entry) levels() (out []level) {
	at, name := e.label.at, ""
	if at < 0 {
		v := &e.file.values[-1-at]
		name = v.name
		out = append(out, level{at, nil})
		out[0].parts, _ = partsOf(name)
		at = v.space
	}
	for ; at > 0; at = e.file.spaces[at].owner {
		parts, rooted := partsOf(e.file.spaces[at].name)
		out = append([]level{{at, parts}}, out...)
		if rooted {
			break
		}
	}
	return out
}

// reshape works out what becomes of the modules of a file whose constant is called otherwise, and what all that it
// declares is called then.
//
// isClass says whether a constant is a class: what is put into one is named in full, since its body can't be opened as that
// of a module, and what it is built on is written where it is defined.
func (e *entry) reshape(isClass func(full string) bool) {
	s := &e.shape
	s.names = map[int]string{}
	levels, want := e.levels(), strings.Split(e.wants, "::")
	for head := parent(e.wants); head != ""; head = parent(head) {
		if isClass(head) {
			e.flatten(levels)
			return
		}
	}
	for len(levels) > 1 && len(levels[0].parts) < len(want) && slices.Equal(levels[0].parts, want[:len(levels[0].parts)]) {
		want = want[len(levels[0].parts):]
		levels = levels[1:]
	}
	rename := func(l level, name string) {
		if strings.Join(l.parts, "::") != name {
			s.names[l.at] = name
		}
	}
	inner := levels[len(levels)-1]
	switch extra := len(want) - len(levels); {
	case len(levels) == 1 && (len(inner.parts) > 1 || inner.at < 0):
		rename(inner, strings.Join(want, "::"))
	case extra >= 0:
		if s.with = want[:extra]; extra > 0 {
			s.wrap = levels[0].at
		}
		for i, l := range levels {
			rename(l, want[extra+i])
		}
	default:
		for _, l := range levels[:-extra] {
			s.gone = append(s.gone, l.at)
		}
		for i, l := range levels[-extra:] {
			rename(l, want[i])
		}
	}
	for _, l := range levels[:len(levels)-1] {
		if e.file.spaces[l.at].more && (s.names[l.at] != "" || slices.Contains(s.gone, l.at)) {
			s.why = e.file.spaces[l.at].name + " holds more than it here, and would get another name"
		}
		if e.file.spaces[l.at].class && s.names[l.at] != "" {
			s.why = "it stands in the class " + e.file.spaces[l.at].name + ", which would get another name"
		}
	}
	e.rename()
}

// flatten writes the name of a constant in full, with no module around it.
func (e *entry) flatten(levels []level) {
	s := &e.shape
	inner := levels[len(levels)-1]
	if strings.Join(inner.parts, "::") != e.wants {
		s.names[inner.at] = e.wants
	}
	for _, l := range levels[:len(levels)-1] {
		s.gone = append(s.gone, l.at)
		if e.file.spaces[l.at].more {
			s.why = e.file.spaces[l.at].name + " holds more than it here, and would get another name"
		}
	}
	e.rename()
}

// rename works out the names of all that the file declares, once its modules are written anew.
func (e *entry) rename() {
	s := &e.shape
	heads := make([]string, len(e.spaces)) // what stands before what is in each
	for i := 1; i < len(e.spaces); i++ {
		one := &e.file.spaces[i]
		head := heads[one.owner]
		if i == s.wrap {
			for _, name := range s.with {
				head = join(head, name)
				e.around[i] = append([]string{head}, e.around[i]...)
			}
		}
		name := one.name
		if other := s.names[i]; other != "" {
			name = other
		}
		switch {
		case slices.Contains(s.gone, i):
			e.gone[i] = true
			e.spaces[i], heads[i] = "", head
			continue
		case name == "":
			e.spaces[i] = ""
		case strings.HasPrefix(name, "::"):
			e.spaces[i] = name[2:]
		default:
			e.spaces[i] = join(head, name)
		}
		heads[i] = e.spaces[i]
	}
	for i := range e.values {
		v := &e.file.values[i]
		name := v.name
		if other := s.names[-1-i]; other != "" {
			name = other
		}
		if rest, rooted := strings.CutPrefix(name, "::"); rooted {
			e.values[i] = rest
		} else {
			e.values[i] = join(heads[v.space], name)
		}
	}
}

// write gives the edits that give a file its shape, by their places.
func (s *shape) write(src []byte, e *entry, edit func(at source.Span, text string)) {
	for at, name := range s.names {
		place := source.Span{}
		if at < 0 {
			place = e.file.values[-1-at].at
		} else {
			place = e.file.spaces[at].at
		}
		if bytes.HasPrefix(src[place.Start:], []byte("::")) && !strings.HasPrefix(name, "::") {
			name = "::" + name
		}
		edit(place, name)
	}
	heads := map[int]string{} // what stands before a line
	deeper := map[int]int{}   // by how many steps the lines of a part go in, by where it begins
	ends := map[int]int{}
	taken := map[int]bool{} // the lines that are taken out
	if s.wrap > 0 {
		one := &e.file.spaces[s.wrap]
		start := withComments(src, one.from)
		end := text.LineEnd(src, one.tail)
		blanks, _ := text.Indent(src, one.from)
		head, tail := "", ""
		for i, name := range s.with {
			head += blanks + strings.Repeat("  ", i) + "module " + name + "\n"
			tail = "\n" + blanks + strings.Repeat("  ", i) + "end" + tail
		}
		heads[start] = head
		edit(source.Span{Start: end, End: end}, tail)
		deeper[start], ends[start] = len(s.with), end
	}
	for _, at := range s.gone {
		one := &e.file.spaces[at]
		line := text.LineStart(src, one.from)
		next := min(text.LineEnd(src, one.head)+1, len(src))
		last := text.LineStart(src, one.tail)
		edit(source.Span{Start: line, End: next}, "")
		edit(source.Span{Start: last, End: min(text.LineEnd(src, one.tail)+1, len(src))}, "")
		deeper[next], ends[next] = -1, last
		taken[line], taken[last] = true, true
	}
	depth := func(at int) (n int) {
		for start, by := range deeper {
			if at >= start && at < ends[start] {
				n += by
			}
		}
		return n
	}
	comment := false
	for line := 0; line < min(len(src), e.file.end); line = text.LineEnd(src, line) + 1 {
		content := src[line:text.LineEnd(src, line)]
		comment = comment || bytes.HasPrefix(content, []byte("=begin"))
		n := depth(line)
		switch {
		case comment:
			comment = !bytes.HasPrefix(content, []byte("=end"))
		case taken[line] || n == 0 || len(bytes.TrimSpace(content)) == 0 || e.held(line):
		case n > 0:
			edit(source.Span{Start: line, End: line}, heads[line]+strings.Repeat("  ", n))
		default:
			k := 0
			for k < len(content) && k < -2*n && content[k] == ' ' {
				k++
			}
			if k == 0 && content[0] == '\t' {
				k = 1
			}
			edit(source.Span{Start: line, End: line + k}, "")
		}
	}
}

// held says whether a line begins inside of a text, so that its blanks belong to that.
func (f *file) held(line int) bool {
	for _, at := range f.lines {
		if line >= at.Start && line <= at.End {
			return true
		}
	}
	return false
}

// withComments gives the beginning of a statement's line, or of the comment right above it.
func withComments(src []byte, at int) int {
	line := text.LineStart(src, at)
	for line > 0 {
		above := text.LineStart(src, line-1)
		content := bytes.TrimSpace(src[above : line-1])
		if len(content) == 0 || content[0] != '#' || bytes.HasPrefix(content, []byte("#!")) || magic(content) {
			break
		}
		line = above
	}
	return line
}

// magic says whether a comment means something to the language (docs.ruby-lang.org/en/3.1/syntax/comments_rdoc.html).
func magic(comment []byte) bool {
	for _, word := range []string{"frozen_string_literal:", "coding:", "coding=", "warn_indent:", "shareable_constant_value:",
		"warn_past_scope:", "typed:"} {
		if bytes.Contains(comment, []byte(word)) {
			return true
		}
	}
	return false
}
