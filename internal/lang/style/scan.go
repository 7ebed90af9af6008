// Package style reads CSS, SCSS, Sass and Less: the style sheets and assets that a file names by path.
//
// The lexical rules are those of CSS Syntax Module Level 3 (comments, strings, url tokens, at-keywords), with line
// comments and interpolation in the other three, and lines that end statements in Sass. A mention is what stands in
// @import, @use, @forward and load-css(), in url(), and behind from in a composes or @value line of a style module.
package style

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Dialect is one of the languages of the family.
type Dialect uint8

// The dialects.
const (
	CSS Dialect = iota
	SCSS
	Sass // indented
	Less
)

// DialectOf gives the dialect by the ending of a file, or by the value of a lang attribute with a dot before it.
func DialectOf(p string) (Dialect, bool) {
	switch path.Ext(p) {
	case ".css", ".pcss", ".postcss":
		return CSS, true
	case ".scss":
		return SCSS, true
	case ".sass":
		return Sass, true
	case ".less":
		return Less, true
	}
	return CSS, false
}

type scanner struct {
	src      []byte
	dialect  Dialect
	pos      int
	atRule   string // the at-rule or property whose value is being read, lower case
	from     bool   // the previous word was from
	call     string // the function whose parenthesis has just been opened
	mentions []lang.Mention
	closes   text.Mark // a parenthesis
}

// Scan finds every mention in a style sheet.
func Scan(src []byte, dialect Dialect) []lang.Mention {
	s := &scanner{src: src, dialect: dialect}
	for s.pos < len(src) {
		s.token()
	}
	return s.mentions
}

func (s *scanner) at(i int) byte {
	if i < len(s.src) {
		return s.src[i]
	}
	return 0
}

func (s *scanner) token() {
	c := s.src[s.pos]
	switch {
	case c == '/' && s.at(s.pos+1) == '*':
		s.comment()
		return
	case c == '/' && s.at(s.pos+1) == '/' && s.dialect != CSS:
		s.lineComment()
		return
	case c == '"' || c == '\'':
		span, end := text.Quoted(s.src, s.pos)
		s.value(span, end, c)
		s.pos = end
	case c == '#' && s.at(s.pos+1) == '{' && s.dialect != CSS:
		s.pos = s.interpolationEnd(s.pos)
	case c == '@' || nameByte(c):
		s.word()
		return
	case c == ';' || c == '{' || c == '}':
		s.atRule = ""
		s.pos++
	case c == '\n' && s.dialect == Sass && !s.continues():
		s.atRule = ""
		s.pos++
	case text.Space(c):
		s.pos++
		return
	case c == '\\':
		s.pos += 2
	case c == ':' && s.atRule == "composes" || c == '(' || c == ',':
		s.pos++
		return
	default:
		s.pos++
	}
	s.from = false
	s.call = ""
}

// continues says whether the statement of an indented sheet goes on behind the line's end: after a comma.
func (s *scanner) continues() bool {
	before := bytes.TrimRight(s.src[:s.pos], " \t\r")
	return len(before) > 0 && before[len(before)-1] == ','
}

func (s *scanner) comment() {
	end := bytes.Index(s.src[s.pos+2:], []byte("*/"))
	if end < 0 {
		s.pos = len(s.src)
		return
	}
	s.pos += end + 4
}

// lineComment passes over a comment up to its line's end; in an indented sheet also over the lines indented deeper.
func (s *scanner) lineComment() {
	start := bytes.LastIndexByte(s.src[:s.pos], '\n') + 1
	indent := indentation(s.src[start:])
	alone := start+indent == s.pos
	s.pos = text.LineEnd(s.src, s.pos)
	for s.dialect == Sass && alone && s.pos < len(s.src) {
		next := s.src[s.pos+1:]
		end := bytes.IndexByte(next, '\n')
		if end < 0 {
			end = len(next)
		}
		line := next[:end]
		if len(bytes.TrimSpace(line)) > 0 && indentation(line) <= indent {
			return
		}
		s.pos += 1 + end
	}
}

func indentation(line []byte) int { return len(line) - len(bytes.TrimLeft(line, " \t")) }

// interpolationEnd gives the place behind the #{ } that begins at i.
func (s *scanner) interpolationEnd(i int) int {
	depth := 0
	for ; i < len(s.src); i++ {
		switch s.src[i] {
		case '{':
			depth++
		case '}':
			if depth--; depth == 0 {
				return i + 1
			}
		case '\n':
			if depth <= 0 {
				return i
			}
		}
	}
	return len(s.src)
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
	s.call = ""
	open := s.at(s.pos) == '('
	switch {
	case text[0] == '@':
		s.atRule = text
		if text == "@import" && s.dialect == Less {
			s.skipOptions()
		}
		if s.dialect == Sass && text == "@import" {
			s.bareImports()
		}
	case text == "composes":
		s.atRule = text
	case text == "url" && open:
		s.url()
	case open:
		s.call = text
	}
}

// skipOptions passes over the parenthesis of options behind @import of Less.
func (s *scanner) skipOptions() {
	i := s.pos
	for i < len(s.src) && text.Space(s.src[i]) {
		i++
	}
	if s.at(i) == '(' && s.closes.Behind(s.src, ")", i) {
		s.pos = i + bytes.IndexByte(s.src[i:], ')') + 1
	}
}

// bareImports records the names without quotes of an @import in an indented sheet.
func (s *scanner) bareImports() {
	end := text.LineEnd(s.src, s.pos)
	for i := s.pos; i < end; {
		for i < end && (text.Space(s.src[i]) || s.src[i] == ',') {
			i++
		}
		start := i
		for i < end && s.src[i] != ',' && !text.Space(s.src[i]) {
			i++
		}
		text := string(s.src[start:i])
		if text == "" || strings.ContainsAny(text[:1], "\"'") || strings.HasPrefix(text, "url(") ||
			strings.HasPrefix(text, "//") {
			return
		}
		s.mention(source.Span{Start: start, End: i}, s.importKind(text, i), 0)
		s.pos = i
	}
}

// value judges a string by what it stands in.
func (s *scanner) value(span source.Span, end int, quote byte) {
	switch {
	case s.atRule == "@import":
		s.mention(span, s.importKind(string(s.src[span.Start:span.End]), end), quote)
		if s.dialect != SCSS && s.dialect != Sass {
			s.atRule = ""
		}
	case (s.atRule == "@use" || s.atRule == "@forward") && (s.dialect == SCSS || s.dialect == Sass):
		s.mention(span, SassImport, quote)
		s.atRule = ""
	case s.call == "load-css" && s.dialect != CSS:
		s.mention(span, SassImport, quote)
	case s.atRule == "@plugin" && s.dialect == Less:
		s.mention(span, paths.StyleAsset, quote)
		s.atRule = ""
	case utilityRules[s.atRule] && s.dialect != Less: // of a framework of utility classes; others are names of packages
		if text := string(s.src[span.Start:span.End]); lang.IsRelative(text) {
			kind := paths.StyleAsset
			if strings.ContainsAny(text, "*{") {
				kind = paths.ImportGlob
			}
			s.mention(span, kind, quote)
		}
		s.atRule = ""
	case s.call == "data-uri" && s.dialect == Less && s.at(end) == ')':
		s.mention(span, paths.StyleAsset, quote)
	case s.call == "import" && s.dialect == CSS && span.Start >= 9 &&
		string(s.src[span.Start-9:span.Start-1]) == ":import(":
		s.mention(span, StyleImport, quote)
	case s.from && (s.atRule == "composes" || s.atRule == "@value"):
		s.mention(span, StyleImport, quote)
	case s.call == "image-set" || s.call == "-webkit-image-set":
		s.mention(span, paths.StyleAsset, quote)
	case s.dialect != CSS && s.call == "" && isPath(s.src[span.Start:span.End]) && s.isVariable(span.Start-1):
		n := len(s.mentions)
		s.mention(span, paths.StyleAsset, quote)
		for ; n < len(s.mentions); n++ {
			s.mentions[n].Likely = true
		}
	}
}

// isPath says whether a text is a path from its own folder; a dot alone begins the name of a class.
func isPath(text []byte) bool {
	return bytes.HasPrefix(text, []byte("./")) || bytes.HasPrefix(text, []byte("../"))
}

// utilityRules are the at-rules of the fourth version of a framework of utility classes that name files: @source
// "../parts".
var utilityRules = map[string]bool{"@source": true, "@config": true, "@plugin": true, "@reference": true}

// isVariable says whether the string at i is the value of a variable: $name: "x", @name: "x".
func (s *scanner) isVariable(i int) bool {
	before := bytes.TrimRight(s.src[max(0, i-120):i], " \t")
	name, ok := bytes.CutSuffix(before, []byte(":"))
	if !ok {
		return false
	}
	name = bytes.TrimRight(name, " \t")
	at := len(name)
	for at > 0 && nameByte(name[at-1]) {
		at--
	}
	return at > 0 && at < len(name) && (name[at-1] == '$' || name[at-1] == '@')
}

// importKind says what an @import loads: in SCSS and Sass a name that ends in .css, an address, or one with a media
// query behind it is left to the browser.
func (s *scanner) importKind(name string, end int) *lang.Kind {
	switch s.dialect {
	case Less:
		return LessImport
	case SCSS, Sass:
		if strings.HasSuffix(name, ".css") {
			return StyleImport
		}
		for end < len(s.src) && (text.Space(s.src[end]) && !(s.dialect == Sass && s.src[end] == '\n')) {
			end++
		}
		switch c := s.at(end); c {
		case ',', ';', '}', '\n', 0, '/':
			return SassImport
		}
		return StyleImport
	}
	return StyleImport
}

// url reads what stands between the parentheses: a string, or text up to the closing one.
func (s *scanner) url() {
	i := s.pos + 1
	for i < len(s.src) && text.Space(s.src[i]) {
		i++
	}
	kind := paths.StyleAsset
	if s.atRule == "@import" {
		kind = StyleImport
		if s.dialect == Less {
			kind = LessImport
		}
		s.atRule = ""
	}
	if i < len(s.src) && (s.src[i] == '"' || s.src[i] == '\'') {
		span, end := text.Quoted(s.src, i)
		after := end
		for after < len(s.src) && text.Space(s.src[after]) {
			after++
		}
		if s.at(after) == ')' { // else it is put together from pieces
			s.mention(span, kind, s.src[i])
		}
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
	if !bytes.ContainsAny(text, "\"'( \n$+") { // no url token (CSS Syntax, section 4.3.6), or an expression
		s.mention(source.Span{Start: i, End: i + len(text)}, kind, 0)
	}
	s.pos = min(end+1, len(s.src))
}

// mention records a path. Addresses, fragments and data are none, nor is text with escapes, which no tool writes, or
// with interpolation.
func (s *scanner) mention(span source.Span, kind *lang.Kind, quote byte) {
	text := string(s.src[span.Start:span.End])
	if text == "" || text[0] == '#' || text == "/" || strings.ContainsAny(text, "\\\n") ||
		strings.Contains(text, "//") || scheme(text) ||
		strings.Contains(text, "#{") || strings.Contains(text, "@{") {
		return
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: kind, Form: lang.InStyle, Quote: quote})
}

// scheme says whether a text begins like data: or https:.
func scheme(text string) bool {
	colon := strings.IndexByte(text, ':')
	return colon > 0 && !strings.ContainsAny(text[:colon], "/.")
}
