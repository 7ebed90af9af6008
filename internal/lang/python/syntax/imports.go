package syntax

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Item is one name that a statement imports, with what it is called here.
type Item struct {
	Name  source.Span
	text  string
	alias string // empty for none
	End   int    // behind the alias
}

// local is the name that the item gives to the file: of import a.b that is a.
func (i *Item) local() string {
	if i.alias != "" {
		return i.alias
	}
	first, _, _ := strings.Cut(i.text, ".")
	return first
}

// ImportNames reads a.b as c, d.
func (s *Scanner) ImportNames(each func(Item)) {
	for {
		s.blank(false)
		span, text := s.dotted(false)
		if text == "" {
			return
		}
		alias := s.as(false)
		each(Item{span, text, alias, s.end(span, alias)})
		at := s.Pos
		s.blank(false)
		if s.at(s.Pos) != ',' {
			s.Pos = at
			return
		}
		s.Pos++
	}
}

// end gives the place behind an item: as moves past the alias, or past blanks where there is none.
func (s *Scanner) end(name source.Span, alias string) int {
	if alias == "" {
		s.Pos = name.End
	}
	return s.Pos
}

// FromClause is a statement that imports names from a module.
type FromClause struct {
	span source.Span // of the module
	text string
}

// FromImport reads from ..a.b import (c as d, e) and from a import *. head is given the module before the names come;
// it is not called for what is no import.
func (s *Scanner) FromImport(head func(FromClause), each func(Item)) {
	s.blank(false)
	start := s.Pos
	for s.at(s.Pos) == '.' {
		s.Pos++
		s.blank(false)
	}
	dots := 0
	for _, c := range s.Src[start:s.Pos] {
		if c == '.' {
			dots++
		}
	}
	span, text := source.Span{Start: start, End: start}, ""
	if nameStart(s.at(s.Pos)) && !s.wordIs("import") {
		span, text = s.dotted(false)
		if dots > 0 {
			span.Start = start
		}
	} else if dots > 0 {
		span.End = start + bytes.LastIndexByte(s.Src[start:s.Pos], '.') + 1
	}
	switch {
	case dots > 0 && span.Len() == dots+len(text):
		text = string(s.Src[span.Start:span.End])
	case dots > 0:
		text = strings.Repeat(".", dots) + text
	}
	s.blank(false)
	if text == "" || !s.wordIs("import") {
		return
	}
	s.Pos += len("import")
	s.blank(false)
	inside := s.at(s.Pos) == '('
	if inside {
		s.Pos++
	}
	head(FromClause{span, text})
	for {
		at := s.Pos
		s.blank(inside)
		if s.at(s.Pos) == '*' {
			s.Pos++
			each(Item{source.Span{Start: s.Pos - 1, End: s.Pos}, lang.Everything, "", s.Pos})
			return
		}
		name, word := s.name()
		if word == "" {
			if !inside {
				s.Pos = at
			}
			break
		}
		alias := s.as(inside)
		each(Item{name, word, alias, s.end(name, alias)})
		at = s.Pos
		s.blank(inside)
		if s.at(s.Pos) != ',' {
			if !inside {
				s.Pos = at
			}
			break
		}
		s.Pos++
	}
	if inside && s.at(s.Pos) == ')' {
		s.Pos++
	}
}

// as reads an alias; empty if there is none.
func (s *Scanner) as(inside bool) string {
	s.blank(inside)
	if !s.wordIs("as") {
		return ""
	}
	s.Pos += len("as")
	s.blank(inside)
	_, alias := s.name()
	return alias
}

// imported notes the names of import a.b as c, d. The word before begins at start.
func (s *Scanner) imported(start int) {
	s.ImportNames(func(i Item) {
		s.add(i.Name, i.text, ModuleImport, "")
		s.mentions[len(s.mentions)-1].Clause = int32(i.Name.Start - start)
	})
}

// importedFrom notes the module and the names of from a import b. The word before begins at start.
func (s *Scanner) importedFrom(start int, top bool) {
	module, at := "", 0
	s.FromImport(func(f FromClause) {
		module, at = f.text, f.span.Start
		s.add(f.span, f.text, FromModule, "")
		s.mentions[len(s.mentions)-1].Clause = int32(f.span.Start - start)
	}, func(i Item) {
		s.add(i.Name, i.text, FromName, module)
		s.mentions[len(s.mentions)-1].Group = int32(i.Name.Start - at)
		// a package gives on what it imports
		if s.outline != nil && s.texts.exports && top && i.text != lang.Everything {
			local := i.local()
			s.outline.Exports = append(s.outline.Exports, lang.Binding{Name: local, Local: local})
		}
	})
}

func (s *Scanner) add(span source.Span, text string, kind *lang.Kind, from string) {
	m := lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.Plain, Deferred: s.deferred >= 0}
	if from != "" {
		m.Detail = &lang.Detail{Own: Detail{From: from}}
	}
	s.mentions = append(s.mentions, m)
}

// Appended puts a name behind a module, which may be dots alone.
func Appended(module, rest string) string {
	if strings.HasSuffix(module, ".") {
		return module + strings.TrimPrefix(rest, ".")
	}
	return module + rest
}
