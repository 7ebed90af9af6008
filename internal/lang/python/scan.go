// Package python reads Python: which modules a file imports and what it declares. Python files are read and judged; moving them
// comes later, and plans say so.
//
// The scanner makes one pass over tokens and builds no syntax tree. What a token means is known from where its statement begins:
// imports, classes and functions stand at the beginning of one. oracle/python holds it against CPython's own parser.
//
// scan.go reads statements, literals.go strings and names, outline.go declarations, resolve.go says where imports lead, roots.go
// from which folders.
package python

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Family is Python.
func Family() lang.Family {
	return lang.Family{
		Name:  "Python",
		Reads: func(p string) bool { return strings.HasSuffix(p, ".py") || strings.HasSuffix(p, ".pyi") },
		Scan: func(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
			s := &scanner{src: content}
			if declared.WantsOutlines() {
				s.outline = &lang.Outline{}
			}
			s.scan()
			found := lang.Scanned{Mentions: s.mentions, Outline: s.outline}
			if s.old != "" {
				return found, &lang.ScanError{Message: "it is Python 2, which is not read (" + s.old + ")"}
			}
			return found, nil
		},
		Stays: "Python files are read by this version and not moved yet",
	}
}

// Kinds are the kinds of mention that Python has.
var Kinds = []lang.Kind{lang.ModuleImport, lang.FromModule, lang.FromName, lang.ModuleCall}

type scanner struct {
	src      []byte
	pos      int
	mentions []lang.Mention
	outline  *lang.Outline // nil if nobody asks for it
	marks    []string      // decorators of the declaration to come
	old      string        // what shows that the file is Python 2
}

// Scan finds the imports of a text.
func Scan(src []byte) []lang.Mention {
	s := &scanner{src: src}
	s.scan()
	return s.mentions
}

func (s *scanner) scan() {
	if strings.HasPrefix(string(s.src[:min(3, len(s.src))]), "\xef\xbb\xbf") {
		s.pos = 3
	}
	for s.pos < len(s.src) {
		start := s.pos
		for s.pos < len(s.src) && (s.src[s.pos] == ' ' || s.src[s.pos] == '\t' || s.src[s.pos] == '\f') {
			s.pos++
		}
		top := s.pos == start || s.src[s.pos-1] == '\f'
		s.logicalLine(top)
	}
}

func (s *scanner) at(i int) byte {
	if i >= 0 && i < len(s.src) {
		return s.src[i]
	}
	return 0
}

// logicalLine reads up to the end of a logical line: brackets and backslashes join lines. Statements begin at its start, behind a
// semicolon, and behind the colon of a compound statement.
func (s *scanner) logicalLine(top bool) {
	depth := 0
	begins := true // a statement begins here
	previous := byte(0)
	for s.pos < len(s.src) {
		c := s.src[s.pos]
		switch {
		case c == ' ' || c == '\t' || c == '\f':
			s.pos++
			continue
		case c == '\n' || c == '\r':
			s.newline()
			if depth == 0 {
				return
			}
			continue
		case c == '#':
			s.comment()
			continue
		case c == '\\' && (s.at(s.pos+1) == '\n' || s.at(s.pos+1) == '\r'):
			s.pos++
			s.newline()
			continue
		case c == '\'' || c == '"':
			s.text(nil)
			begins = false
		case c == '(' || c == '[' || c == '{':
			depth++
			s.pos++
			begins = false
		case c == ')' || c == ']' || c == '}':
			depth = max(0, depth-1)
			s.pos++
			begins = false
		case c == ';' && depth == 0, c == ':' && depth == 0:
			s.pos++
			begins = true
			if c == ':' { // what stands behind it is of a block, or an annotation
				top = false
				begins = s.at(s.pos) != '='
			}
		case c == '@' && begins && depth == 0:
			s.decorator(top)
			begins = false
		case nameStart(c):
			start := s.pos
			word := s.word()
			if quote := s.at(s.pos); (quote == '\'' || quote == '"') && prefixed(word) {
				s.text(word)
				begins = false
				break
			}
			if begins && depth == 0 {
				begins = s.statement(word, start, top)
				break
			}
			s.called(word, previous)
			begins = false
		case c >= '0' && c <= '9':
			s.number()
			begins = false
		default:
			s.pos++
			begins = false
		}
		previous = c
	}
}

// newline passes over the end of a line.
func (s *scanner) newline() {
	if s.src[s.pos] == '\r' && s.at(s.pos+1) == '\n' {
		s.pos++
	}
	s.pos++
}

func (s *scanner) comment() {
	rest := s.src[s.pos:]
	if end := bytes.IndexByte(rest, '\n'); end >= 0 {
		rest = rest[:end]
	}
	if end := bytes.IndexByte(rest, '\r'); end >= 0 {
		rest = rest[:end]
	}
	s.pos += len(rest)
}

// blank passes over white space and joined lines within a statement; inside parentheses over comments and line ends too.
func (s *scanner) blank(inside bool) {
	for s.pos < len(s.src) {
		switch c := s.src[s.pos]; {
		case c == ' ' || c == '\t' || c == '\f':
			s.pos++
		case c == '\\' && (s.at(s.pos+1) == '\n' || s.at(s.pos+1) == '\r'):
			s.pos++
			s.newline()
		case inside && (c == '\n' || c == '\r'):
			s.newline()
		case inside && c == '#':
			s.comment()
		default:
			return
		}
	}
}

// statement reads what the first word of a statement says. It reports whether another statement begins right behind.
func (s *scanner) statement(word []byte, start int, top bool) bool {
	switch string(word) {
	case "import":
		s.importNames()
	case "from":
		s.fromImport()
	case "class", "def":
		s.declare(string(word), top)
	case "async":
		return true
	case "print", "exec":
		s.printed(string(word))
	case "except":
		s.caught()
	case "else", "try", "finally", "if", "elif", "while", "for", "with", "match", "case", "return", "lambda":
	default:
		s.assigned(word, start, top)
		s.called(word, 0)
	}
	return false
}

// importNames reads a.b as c, d.
func (s *scanner) importNames() {
	for {
		s.blank(false)
		span, text := s.dotted(false)
		if text == "" {
			return
		}
		s.add(span, text, lang.ModuleImport, "")
		s.as(false)
		s.blank(false)
		if s.at(s.pos) != ',' {
			return
		}
		s.pos++
	}
}

// fromImport reads from ..a.b import (c as d, e) and from a import *.
func (s *scanner) fromImport() {
	s.blank(false)
	start := s.pos
	for s.at(s.pos) == '.' {
		s.pos++
		s.blank(false)
	}
	dots := strings.Count(string(s.src[start:s.pos]), ".")
	span, text := source.Span{Start: start, End: start}, ""
	if nameStart(s.at(s.pos)) && !s.wordIs("import") {
		span, text = s.dotted(false)
		if dots > 0 {
			span.Start = start
		}
	} else if dots > 0 {
		span.End = start + strings.LastIndexByte(string(s.src[start:s.pos]), '.') + 1
	}
	text = strings.Repeat(".", dots) + text
	s.blank(false)
	if text == "" || !s.wordIs("import") {
		return
	}
	s.pos += len("import")
	s.add(span, text, lang.FromModule, "")
	s.blank(false)
	inside := s.at(s.pos) == '('
	if inside {
		s.pos++
	}
	for {
		s.blank(inside)
		if s.at(s.pos) == '*' {
			s.pos++
			return
		}
		name, word := s.name()
		if word == "" {
			break
		}
		s.add(name, word, lang.FromName, text)
		s.as(inside)
		s.blank(inside)
		if s.at(s.pos) != ',' {
			break
		}
		s.pos++
	}
	if inside && s.at(s.pos) == ')' {
		s.pos++
	}
}

// as passes over an alias.
func (s *scanner) as(inside bool) {
	s.blank(inside)
	if s.wordIs("as") {
		s.pos += len("as")
		s.blank(inside)
		s.name()
	}
}

func (s *scanner) add(span source.Span, text string, kind lang.Kind, from string) {
	m := lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.Plain}
	if from != "" {
		m.More = &lang.More{From: from}
	}
	s.mentions = append(s.mentions, m)
}

// printed notices a statement of Python 2 that has become a function.
func (s *scanner) printed(word string) {
	at := s.pos
	s.blank(false)
	switch c := s.at(s.pos); {
	case s.pos > at && (c == '\'' || c == '"' || nameStart(c) && !s.wordIs("in") && !s.wordIs("is") && !s.wordIs("and") && !s.wordIs("or") && !s.wordIs("if") && !s.wordIs("not")),
		c == '>' && s.at(s.pos+1) == '>' && word == "print":
		if s.old == "" {
			s.old = word + " is a statement"
		}
	}
}

// caught notices except A, b: of Python 2. From 3.14 on except A, B: catches both (PEP 758), so a name that begins like a class is no
// sign.
func (s *scanner) caught() {
	at := s.pos
	s.blank(false)
	if _, text := s.dotted(false); text != "" {
		s.blank(false)
		if s.at(s.pos) == ',' {
			s.pos++
			s.blank(false)
			_, name := s.name()
			s.blank(false)
			if name != "" && strings.ToLower(name[:1]) == name[:1] && s.at(s.pos) == ':' && s.old == "" {
				s.old = "except with a comma"
			}
		}
	}
	s.pos = at
}

// called notes a module that is imported by a call with a literal: __import__('a'), importlib.import_module('a.b').
func (s *scanner) called(word []byte, previous byte) {
	if string(word) != "import_module" && (string(word) != "__import__" || previous == '.') {
		return
	}
	at := s.pos
	defer func() { s.pos = at }()
	s.blank(true)
	if s.at(s.pos) != '(' {
		return
	}
	s.pos++
	s.blank(true)
	var prefix []byte
	if nameStart(s.at(s.pos)) {
		if prefix = s.word(); !prefixed(prefix) || bytes.ContainsAny(prefix, "fFbBtT") {
			return
		}
	}
	start := s.pos
	quote := s.at(start)
	if quote != '\'' && quote != '"' {
		return
	}
	s.text(prefix)
	end := s.pos
	s.blank(true)
	if c := s.at(s.pos); c != ')' && c != ',' {
		return
	}
	span := source.Span{Start: start + 1, End: end - 1}
	if span.Len() < 1 || s.at(start+1) == quote {
		return
	}
	if text := string(s.src[span.Start:span.End]); moduleName(text) {
		s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: lang.ModuleCall, Form: lang.Plain, Quote: quote})
	}
}
