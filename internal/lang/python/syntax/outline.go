package syntax

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
)

// decorator notes what stands behind an @, without its arguments.
func (s *Scanner) decorator(top bool) {
	s.Pos++
	s.blank(false)
	span, text := s.dotted(false)
	if top && s.outline != nil {
		s.marks = append(s.marks, text)
	}
	s.called = s.Src[span.Start:span.End]
	s.called = s.called[bytes.LastIndexByte(s.called, '.')+1:]
}

// declare reads the name of a class with what it is built on, or of a function.
func (s *Scanner) declare(word string, top bool) {
	s.blank(false)
	name, text := s.name()
	marks := s.marks
	if s.marks = nil; s.outline == nil || !top || text == "" {
		return
	}
	d := lang.Declaration{Name: text, Marks: marks, Offset: name.Start, Exported: !strings.HasPrefix(text, "_")}
	s.outline.Own = true
	if word == "def" {
		d.Kinds = lang.IsFunction
		for _, m := range marks { // @app.route, @router.get
			if last := m[strings.LastIndexByte(m, '.')+1:]; strings.Contains(m, ".") && routeMarks[last] {
				d.Kinds |= lang.IsRoute
			}
		}
	} else {
		d.Kinds = lang.IsClass | lang.IsType
		d.Extends = s.bases()
	}
	s.outline.Declarations = append(s.outline.Declarations, d)
}

// routeMarks are the decorators by which a function answers an address.
var routeMarks = map[string]bool{"route": true, "get": true, "post": true, "put": true, "patch": true, "delete": true,
	"websocket": true}

// bases reads the classes that another is built on; what is no dotted name is passed over. It moves nothing.
func (s *Scanner) bases() []string {
	at := s.Pos
	defer func() { s.Pos = at }()
	s.blank(false)
	if s.at(s.Pos) == '[' { // type parameters
		for s.Pos < len(s.Src) && s.Src[s.Pos] != ']' {
			s.Pos++
		}
		s.Pos++
		s.blank(false)
	}
	if s.at(s.Pos) != '(' {
		return nil
	}
	s.Pos++
	var out []string
	for depth := 0; s.Pos < len(s.Src); {
		s.blank(true)
		switch c := s.at(s.Pos); {
		case c == ')' && depth == 0 || c == 0:
			return out
		case c == '(' || c == '[':
			depth++
			s.Pos++
		case c == ')' || c == ']':
			depth--
			s.Pos++
		case c == '\'' || c == '"':
			s.text(nil)
		case nameStart(c):
			_, text := s.dotted(true)
			s.blank(true)
			if s.at(s.Pos) == '=' { // metaclass=x
				s.Pos++
				s.blank(true)
				s.dotted(true)
				continue
			}
			if depth == 0 {
				out = append(out, text)
			}
		default:
			s.Pos++
		}
	}
	return out
}

// assigned notes a constant of the module: a name that a value is given to at its top level.
func (s *Scanner) assigned(word []byte, start int, top bool) {
	if s.outline == nil || !top {
		return
	}
	at := s.Pos
	s.blank(false)
	c, next := s.at(s.Pos), s.at(s.Pos+1)
	s.Pos = at
	if c == '=' && next != '=' || c == ':' && next != '=' {
		// __all__ and its kin only speak of what is there
		s.outline.Own = s.outline.Own || !bytes.HasPrefix(word, []byte("__"))
		s.outline.Declarations = append(s.outline.Declarations, lang.Declaration{
			Name: string(word), Kinds: lang.IsConstant, Offset: start, Exported: word[0] != '_',
		})
	}
}
