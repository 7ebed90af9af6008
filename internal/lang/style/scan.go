// Package style reads plain CSS: the style sheets and assets that a file names by path.
//
// The lexical rules are those of CSS Syntax Module Level 3 (comments, strings, url tokens, at-keywords). A mention is
// what stands in @import, in url(), and behind from in a composes or @value line of a style module.
package style

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

type scanner struct {
	src      []byte
	pos      int
	atRule   string // the at-rule or property whose value is being read, lower case
	from     bool   // the previous word was from
	mentions []lang.Mention
}

// Scan finds every mention in a style sheet.
func Scan(src []byte) []lang.Mention {
	s := &scanner{src: src}
	for s.pos < len(src) {
		s.token()
	}
	return s.mentions
}

func (s *scanner) token() {
	c := s.src[s.pos]
	switch {
	case c == '/' && bytes.HasPrefix(s.src[s.pos:], []byte("/*")):
		end := bytes.Index(s.src[s.pos+2:], []byte("*/"))
		if end < 0 {
			s.pos = len(s.src)
			return
		}
		s.pos += end + 4
		return
	case c == '"' || c == '\'':
		span, end := s.quoted(s.pos)
		if s.atRule == "@import" || s.from && (s.atRule == "composes" || s.atRule == "@value") {
			s.mention(span, lang.StyleImport, c)
			if s.atRule == "@import" {
				s.atRule = ""
			}
		}
		s.pos = end
	case c == '@' || nameByte(c):
		s.word()
		return
	case c == ';' || c == '{' || c == '}':
		s.atRule = ""
		s.pos++
	case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f':
		s.pos++
		return
	case c == '\\':
		s.pos += 2
	default:
		s.pos++
	}
	s.from = false
}

func nameByte(c byte) bool {
	return c|0x20 >= 'a' && c|0x20 <= 'z' || c >= '0' && c <= '9' || c == '-' || c == '_' || c >= 0x80
}

// word reads an at-keyword, a property or an identifier, or a url token.
func (s *scanner) word() {
	start := s.pos
	for s.pos++; s.pos < len(s.src) && nameByte(s.src[s.pos]); s.pos++ {
	}
	text := strings.ToLower(string(s.src[start:s.pos]))
	s.from = text == "from"
	switch {
	case text[0] == '@', text == "composes":
		s.atRule = text
	case text == "url" && s.pos < len(s.src) && s.src[s.pos] == '(':
		s.url()
	}
}

// url reads what stands between the parentheses: a string, or text up to the closing one.
func (s *scanner) url() {
	i := s.pos + 1
	for i < len(s.src) && bytes.IndexByte([]byte(" \t\n\r\f"), s.src[i]) >= 0 {
		i++
	}
	kind := lang.StyleAsset
	if s.atRule == "@import" {
		kind = lang.StyleImport
		s.atRule = ""
	}
	if i < len(s.src) && (s.src[i] == '"' || s.src[i] == '\'') {
		span, end := s.quoted(i)
		s.mention(span, kind, s.src[i])
		s.pos = end
		return
	}
	end := i
	for end < len(s.src) && s.src[end] != ')' {
		if s.src[end] == '\\' {
			end++
		}
		end++
	}
	end = min(end, len(s.src))
	text := bytes.TrimRight(s.src[i:end], " \t\n\r\f")
	s.mention(source.Span{Start: i, End: i + len(text)}, kind, 0)
	s.pos = min(end+1, len(s.src))
}

// quoted gives the text span of the string at i and the place after it. A string ends with its line if not before.
func (s *scanner) quoted(i int) (source.Span, int) {
	quote := s.src[i]
	for end := i + 1; end < len(s.src); end++ {
		switch s.src[end] {
		case quote:
			return source.Span{Start: i + 1, End: end}, end + 1
		case '\\':
			end++
		case '\n':
			return source.Span{Start: i + 1, End: i + 1}, end
		}
	}
	return source.Span{Start: i + 1, End: i + 1}, len(s.src)
}

// mention records a path. Addresses, fragments and data are none, nor is text with escapes, which no tool writes.
func (s *scanner) mention(span source.Span, kind lang.Kind, quote byte) {
	text := string(s.src[span.Start:span.End])
	if text == "" || text[0] == '#' || text[0] == '/' || strings.ContainsAny(text, "\\\n") || strings.Contains(text, "//") || scheme(text) {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Quote: quote})
}

// scheme says whether a text begins like data: or https:.
func scheme(text string) bool {
	colon := strings.IndexByte(text, ':')
	return colon > 0 && !strings.ContainsAny(text[:colon], "/.")
}
