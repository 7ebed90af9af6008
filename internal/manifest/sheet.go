package manifest

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Sheet is a settings file that is written anew in parts, one edit after the other. The first error stands, and nothing
// is changed after it.
type Sheet struct {
	source.Chain
	Root  *Value
	Err   error
	style Style
}

// Sheet begins to write a file anew whose text and values are given.
func (s Style) Sheet(src []byte, root *Value) *Sheet {
	return &Sheet{Chain: source.Chain{Text: src}, Root: root, style: s}
}

// Parse reads a text of the format.
func (s Style) Parse(src []byte) (*Value, error) {
	switch s.Format {
	case "TOML":
		return ParseTOML(src)
	case "YAML":
		return ParseYAML(src)
	case "JSON":
		return ParseJSON(src)
	}
	return nil, fmt.Errorf("%s can't be written in parts", s.Format)
}

// Change makes edits of the text as it is now.
func (s *Sheet) Change(edits ...source.Edit) {
	slices.SortFunc(edits, func(a, b source.Edit) int { return b.Span.Start - a.Span.Start }) // the last first
	newline := text.Newline(s.Text)
	for _, e := range edits {
		if !strings.Contains(e.New, "\r\n") {
			e.New = strings.ReplaceAll(e.New, "\n", newline)
		}
		if s.Err == nil {
			s.Err = s.Add(e)
		}
	}
	if s.Err == nil {
		s.Root, s.Err = s.style.Parse(s.Text)
	}
}

// Set writes a value, given as it is written.
func (s *Sheet) Set(raw string, key ...string) {
	e, changed, err := Set(s.Text, s.Root, s.style, key, &Value{Text: raw})
	if err != nil {
		s.Err = cmp.Or(s.Err, err)
	} else if changed {
		s.Change(e)
	}
}

// Drop takes out what stands at a path of keys, if anything does.
func (s *Sheet) Drop(key ...string) {
	if s.style.Format == "TOML" {
		s.Change(DropTOML(s.Text, s.Root, key...)...)
		return
	}
	if holder := s.Root.At(key[:len(key)-1]...); s.style.Format == "YAML" && holder != nil && !braced(s.Text, holder) {
		for _, m := range holder.Members {
			if m.Key == key[len(key)-1] {
				s.Change(source.Edit{Span: linesOf(s.Text, m)})
			}
		}
		return
	}
	if e, there := dropMember(s.Text, s.Root.At(key[:len(key)-1]...), key[len(key)-1]); there {
		s.Change(e)
	}
}

// linesOf are the lines of a member of a mapping that stands in lines.
func linesOf(src []byte, m Member) source.Span {
	end := m.Start
	var last func(v *Value)
	last = func(v *Value) {
		end = max(end, Whole(v).End)
		for _, member := range v.Members {
			end = max(end, member.Start)
			last(member.Value)
		}
		for _, item := range v.Items {
			last(item)
		}
	}
	last(m.Value)
	if end > m.Start && src[end-1] == '\n' {
		end--
	}
	return source.Span{Start: text.LineStart(src, m.Start), End: min(len(src), text.LineEnd(src, end)+1)}
}

// AddItem adds a text to the list at a path of keys.
func (s *Sheet) AddItem(item string, key ...string) {
	s.Change(s.style.AddItem(s.Text, s.Root.At(key...), item))
}
