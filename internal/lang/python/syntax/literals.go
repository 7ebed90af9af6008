package syntax

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
)

// nameStart says whether a name may begin with a byte; bytes from 0x80 up count as letters.
func nameStart(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_' || c >= 0x80
}

// NamePart says whether a byte may stand in a name.
func NamePart(c byte) bool { return nameParts[c] }

// nameParts marks the bytes that a name may hold.
var nameParts = func() (out [256]bool) {
	for c := range out {
		out[c] = nameStart(byte(c)) || c >= '0' && c <= '9'
	}
	return out
}()

// inStrings marks the bytes that mean something within a string.
var inStrings = [256]bool{'\\': true, '\'': true, '"': true, '\n': true, '\r': true, '{': true}

// inLines marks the bytes that tell where a logical line ends.
var inLines = [256]bool{'\n': true, '\r': true, '#': true, '\\': true, '(': true, '[': true, '{': true, ')': true,
	']': true, '}': true, '\'': true, '"': true}

// word reads a name. It is a part of the text, not a copy.
func (s *Scanner) word() []byte {
	start := s.Pos
	for s.Pos < len(s.Src) && nameParts[s.Src[s.Pos]] {
		s.Pos++
	}
	return s.Src[start:s.Pos]
}

// name reads a name with its place; nothing if none is here.
func (s *Scanner) name() (source.Span, string) {
	if !nameStart(s.at(s.Pos)) {
		return source.Span{}, ""
	}
	start := s.Pos
	word := string(s.word())
	return source.Span{Start: start, End: s.Pos}, word
}

// wordIs says whether a word stands here, and moves nothing.
func (s *Scanner) wordIs(word string) bool {
	return bytes.HasPrefix(s.Src[s.Pos:], []byte(word)) && !NamePart(s.at(s.Pos+len(word)))
}

// dotted reads a.b.c, around whose dots blanks may stand.
func (s *Scanner) dotted(inside bool) (source.Span, string) {
	if !nameStart(s.at(s.Pos)) {
		return source.Span{}, ""
	}
	span := source.Span{Start: s.Pos}
	size := len(s.word()) // of the text without blanks
	for span.End = s.Pos; ; span.End = s.Pos {
		at := s.Pos
		s.blank(inside)
		if s.at(s.Pos) != '.' {
			s.Pos = at
			break
		}
		s.Pos++
		s.blank(inside)
		if !nameStart(s.at(s.Pos)) {
			s.Pos = at
			break
		}
		size += 1 + len(s.word())
	}
	if size == span.Len() {
		return span, string(s.Src[span.Start:span.End])
	}
	return span, strings.Join(names(s.Src[span.Start:span.End]), ".")
}

// names gives the names in a text, without the dots, blanks, line ends and comments between.
func names(text []byte) []string {
	s := &Scanner{Src: text}
	var out []string
	for s.Pos < len(text) {
		switch c := text[s.Pos]; {
		case nameStart(c):
			out = append(out, string(s.word()))
		case c == '#':
			s.comment()
		default:
			s.Pos++
		}
	}
	return out
}

// ModuleName says whether a text is a dotted name, or a relative one.
func ModuleName(text string) bool {
	text = strings.TrimLeft(text, ".")
	if text == "" {
		return false
	}
	for part := range strings.SplitSeq(text, ".") {
		if part == "" || !nameStart(part[0]) ||
			strings.ContainsFunc(part, func(r rune) bool { return r < 0x80 && !NamePart(byte(r)) }) {
			return false
		}
	}
	return true
}

// prefixed says whether a word is the prefix of a string.
func prefixed(word []byte) bool {
	if len(word) > 2 {
		return false
	}
	switch strings.ToLower(string(word)) {
	case "r", "u", "b", "f", "t", "br", "rb", "fr", "rf", "tr", "rt", "ur":
		return true
	}
	return false
}

// number passes over a number, so that its letters are no names.
func (s *Scanner) number() {
	for s.Pos < len(s.Src) && (NamePart(s.Src[s.Pos]) || s.Src[s.Pos] == '.') {
		if c := s.Src[s.Pos] | 0x20; c == 'e' && (s.at(s.Pos+1) == '+' || s.at(s.Pos+1) == '-') {
			s.Pos++
		}
		s.Pos++
	}
}

// maxFields bounds how deep formatted strings may stand in one another.
const maxFields = 64

// text passes over the string whose quote is here.
func (s *Scanner) text(prefix []byte) {
	lower := strings.ToLower(string(prefix))
	s.stringBody(strings.Contains(lower, "r"), strings.ContainsAny(lower, "ft"), 0)
}

// stringBody passes over a string: raw ones keep their backslashes, formatted ones hold expressions in braces, with
// strings that may use the same quotes (PEP 701).
func (s *Scanner) stringBody(raw, formatted bool, depth int) {
	quote := s.Src[s.Pos]
	triple := s.at(s.Pos+1) == quote && s.at(s.Pos+2) == quote
	if s.Pos++; triple {
		s.Pos += 2
	}
	for s.Pos < len(s.Src) {
		c := s.Src[s.Pos]
		switch {
		case !inStrings[c]:
			s.Pos++
		case c == '\\' && formatted && s.at(s.Pos+1) == '{': // the brace opens a field all the same
			s.Pos++
		case c == '\\' && formatted && !raw && s.at(s.Pos+1) == 'N' && s.at(s.Pos+2) == '{': // a character by its name
			s.Pos += 3
		case c == '\\': // raw ones keep it, and what follows does not end them either
			s.Pos++
			if s.at(s.Pos) == '\r' && s.at(s.Pos+1) == '\n' {
				s.Pos++
			}
			s.Pos++
		case c == quote && !triple:
			s.Pos++
			return
		case c == quote && s.at(s.Pos+1) == quote && s.at(s.Pos+2) == quote:
			s.Pos += 3
			return
		case (c == '\n' || c == '\r') && !triple: // it is never closed
			return
		case formatted && c == '{' && s.at(s.Pos+1) == '{':
			s.Pos += 2
		case formatted && c == '{' && depth < maxFields:
			s.nested(quote, triple, raw, depth)
		default:
			s.Pos++
		}
	}
	s.Pos = min(s.Pos, len(s.Src))
}

// nested passes over a field, whose brace is here. To the tokens it is a group of its own.
func (s *Scanner) nested(quote byte, triple, raw bool, depth int) {
	if s.tokenize {
		s.tokens = append(s.tokens, token{opToken, '{', s.Pos, s.Pos + 1})
	}
	s.Pos++
	s.field(quote, triple, raw, depth+1)
	if s.tokenize {
		s.tokens = append(s.tokens, token{opToken, '}', s.Pos, s.Pos})
	}
}

// field passes over an expression in a formatted string, with the format behind its colon. Where the braces do not fit,
// the quote of the string ends it.
func (s *Scanner) field(quote byte, triple, raw bool, depth int) {
	brackets := 0
	for s.Pos < len(s.Src) {
		c := s.Src[s.Pos]
		switch {
		case c == '(' || c == '[' || c == '{':
			brackets++
			s.op()
		case c == '}' && brackets == 0:
			s.Pos++
			return
		case c == ')' || c == ']' || c == '}':
			brackets = max(0, brackets-1)
			s.op()
		case c == ':' && brackets == 0 && s.at(s.Pos+1) != '=' || c == '!' && brackets == 0 && s.at(s.Pos+1) != '=':
			s.Pos++
			s.format(quote, triple, raw, depth)
			return
		case c == '\'' || c == '"':
			if c == quote && brackets == 0 && s.closes(quote, triple) {
				return
			}
			s.stringBody(false, false, depth)
		case c == '#':
			s.comment()
		case nameStart(c):
			s.fieldWord(depth)
		case (c == '\n' || c == '\r') && !triple && brackets == 0 && !s.spansLines():
			return
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == '\\':
			s.Pos++
		case c >= '0' && c <= '9' && s.tokenize:
			s.number()
			s.tokens = append(s.tokens, token{OtherToken, 0, s.Pos - 1, s.Pos})
		default:
			s.op()
		}
	}
}

// fieldWord reads a word in a field: a name, or the prefix of a string.
func (s *Scanner) fieldWord(depth int) {
	before, start := s.at(s.Pos-1), s.Pos
	word := s.word()
	if q := s.at(s.Pos); (q == '\'' || q == '"') && prefixed(word) {
		lower := strings.ToLower(string(word))
		s.stringBody(strings.Contains(lower, "r"), strings.ContainsAny(lower, "ft") && depth < maxFields, depth)
		return
	}
	s.token(nameToken, start)
	s.named(word, start, before)
}

// closes says whether a quote in a field ends the string around it: nothing but the end of a statement can follow,
// where before an expression must.
func (s *Scanner) closes(quote byte, triple bool) bool {
	i := s.Pos - 1
	for i >= 0 && (s.Src[i] == ' ' || s.Src[i] == '\t') {
		i--
	}
	c := s.at(i)
	operand := NamePart(c) || c == ')' || c == ']' || c == '\'' || c == '"'
	return operand && c != quote && (!triple || s.at(s.Pos+1) == quote && s.at(s.Pos+2) == quote)
}

// spansLines says whether a field of a string of one line goes on in the next, as it may since Python 3.12: a brace
// must close it before the string ends.
func (s *Scanner) spansLines() bool {
	return bytes.IndexByte(s.Src[s.Pos:min(len(s.Src), s.Pos+2000)], '}') >= 0
}

// format passes over the conversion and the format of a field, in which fields may stand.
func (s *Scanner) format(quote byte, triple, raw bool, depth int) {
	for s.Pos < len(s.Src) {
		switch c := s.Src[s.Pos]; {
		case c == '}':
			s.Pos++
			return
		case c == '{' && depth < maxFields:
			s.nested(quote, triple, raw, depth)
		case c == quote && (!triple || s.at(s.Pos+1) == quote && s.at(s.Pos+2) == quote):
			return
		case (c == '\n' || c == '\r') && !triple:
			return
		case c == '\\' && !raw:
			s.Pos = min(s.Pos+2, len(s.Src))
		default:
			s.Pos++
		}
	}
}
