package python

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// item is one name that a statement imports, with what it is called here.
type item struct {
	name  source.Span
	text  string
	alias string // empty for none
	end   int    // behind the alias
}

// local is the name that the item gives to the file: of import a.b that is a.
func (i *item) local() string {
	if i.alias != "" {
		return i.alias
	}
	first, _, _ := strings.Cut(i.text, ".")
	return first
}

// importNames reads a.b as c, d.
func (s *scanner) importNames(each func(item)) {
	for {
		s.blank(false)
		span, text := s.dotted(false)
		if text == "" {
			return
		}
		alias := s.as(false)
		each(item{span, text, alias, s.end(span, alias)})
		at := s.pos
		s.blank(false)
		if s.at(s.pos) != ',' {
			s.pos = at
			return
		}
		s.pos++
	}
}

// end gives the place behind an item: as moves past the alias, or past blanks where there is none.
func (s *scanner) end(name source.Span, alias string) int {
	if alias == "" {
		s.pos = name.End
	}
	return s.pos
}

// from is a statement that imports names from a module.
type from struct {
	span source.Span // of the module
	text string
}

// fromImport reads from ..a.b import (c as d, e) and from a import *. head is told of the module before the names come;
// it is not called for what is no import.
func (s *scanner) fromImport(head func(from), each func(item)) {
	s.blank(false)
	start := s.pos
	for s.at(s.pos) == '.' {
		s.pos++
		s.blank(false)
	}
	dots := 0
	for _, c := range s.src[start:s.pos] {
		if c == '.' {
			dots++
		}
	}
	span, text := source.Span{Start: start, End: start}, ""
	if nameStart(s.at(s.pos)) && !s.wordIs("import") {
		span, text = s.dotted(false)
		if dots > 0 {
			span.Start = start
		}
	} else if dots > 0 {
		span.End = start + bytes.LastIndexByte(s.src[start:s.pos], '.') + 1
	}
	switch {
	case dots > 0 && span.Len() == dots+len(text):
		text = string(s.src[span.Start:span.End])
	case dots > 0:
		text = strings.Repeat(".", dots) + text
	}
	s.blank(false)
	if text == "" || !s.wordIs("import") {
		return
	}
	s.pos += len("import")
	s.blank(false)
	inside := s.at(s.pos) == '('
	if inside {
		s.pos++
	}
	head(from{span, text})
	for {
		at := s.pos
		s.blank(inside)
		if s.at(s.pos) == '*' {
			s.pos++
			each(item{source.Span{Start: s.pos - 1, End: s.pos}, lang.Everything, "", s.pos})
			return
		}
		name, word := s.name()
		if word == "" {
			if !inside {
				s.pos = at
			}
			break
		}
		alias := s.as(inside)
		each(item{name, word, alias, s.end(name, alias)})
		at = s.pos
		s.blank(inside)
		if s.at(s.pos) != ',' {
			if !inside {
				s.pos = at
			}
			break
		}
		s.pos++
	}
	if inside && s.at(s.pos) == ')' {
		s.pos++
	}
}

// as reads an alias; empty if there is none.
func (s *scanner) as(inside bool) string {
	s.blank(inside)
	if !s.wordIs("as") {
		return ""
	}
	s.pos += len("as")
	s.blank(inside)
	_, alias := s.name()
	return alias
}

// imported notes the names of import a.b as c, d. The word before begins at start.
func (s *scanner) imported(start int) {
	s.importNames(func(i item) {
		s.add(i.name, i.text, ModuleImport, "")
		s.mentions[len(s.mentions)-1].Clause = int32(i.name.Start - start)
	})
}

// importedFrom notes the module and the names of from a import b. The word before begins at start.
func (s *scanner) importedFrom(start int, top bool) {
	module := ""
	s.fromImport(func(f from) {
		module = f.text
		s.add(f.span, f.text, FromModule, "")
		s.mentions[len(s.mentions)-1].Clause = int32(f.span.Start - start)
	}, func(i item) {
		s.add(i.name, i.text, FromName, module)
		if s.outline != nil && s.texts.exports && top && i.text != lang.Everything { // a package gives on what it imports
			local := i.local()
			s.outline.Exports = append(s.outline.Exports, lang.Binding{Name: local, Local: local})
		}
	})
}

func (s *scanner) add(span source.Span, text string, kind *lang.Kind, from string) {
	m := lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.Plain, Deferred: s.deferred >= 0}
	if from != "" {
		m.Detail = &lang.Detail{Own: Detail{From: from}}
	}
	s.mentions = append(s.mentions, m)
}
