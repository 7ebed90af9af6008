package dart

import (
	"bytes"
	"fmt"
	"strings"
	"unicode/utf8"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// tokenKind says what a token is.
type tokenKind uint8

const (
	tName tokenKind = iota
	tString
	tNumber
	tSign // any other character
)

// token is a token of a text (the Dart language specification, "Lexical structure").
type token struct {
	start, end int32
	kind       tokenKind
	first      byte // its first character; of a string the number of bytes before its text
	last       byte // of a string the number of bytes behind its text
	raw        bool // of a string: nothing is escaped
	holes      bool // of a string: something is put into it
}

// letter says whether a byte may stand in a name.
var letter = func() (out [256]bool) {
	for c := range 256 {
		out[c] = c == '_' || c == '$' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c >= utf8.RuneSelf
	}
	return out
}()

// lexer cuts a text into tokens.
type lexer struct {
	src    []byte
	tokens []token
	err    error
}

// lex gives the tokens of a text.
func lex(src []byte, tokens []token) ([]token, error) {
	l := &lexer{src: src, tokens: tokens}
	i := 0
	if bytes.HasPrefix(src, []byte("\xef\xbb\xbf")) {
		i = 3
	}
	if bytes.HasPrefix(src[i:], []byte("#!")) {
		i = text.LineEnd(src, i)
	}
	for i < len(src) && l.err == nil {
		i = l.next(i)
	}
	return l.tokens, l.err
}

func (l *lexer) fail(what string, at int) int {
	if l.err == nil {
		l.err = &lang.ScanError{Message: fmt.Sprintf("%s (line %d)", what, source.PositionAt(l.src, at).Line)}
	}
	return len(l.src)
}

// next reads a token, a comment or blanks.
func (l *lexer) next(i int) int {
	c := l.src[i]
	t := token{start: int32(i), first: c, kind: tSign}
	switch {
	case text.Space(c):
		return i + 1
	case c == '/' && i+1 < len(l.src) && l.src[i+1] == '/':
		return text.LineEnd(l.src, i)
	case c == '/' && i+1 < len(l.src) && l.src[i+1] == '*':
		return l.comment(i)
	case c == '\'' || c == '"':
		return l.text(i, i, false)
	case c == 'r' && i+1 < len(l.src) && (l.src[i+1] == '\'' || l.src[i+1] == '"'):
		return l.text(i, i+1, true)
	case letter[c]:
		t.kind = tName
		if c >= '0' && c <= '9' {
			t.kind = tNumber
		}
		for i < len(l.src) && letter[l.src[i]] {
			i++
		}
	default:
		i++
	}
	t.end = int32(i)
	l.tokens = append(l.tokens, t)
	return i
}

// comment gives the end of a comment; they nest.
func (l *lexer) comment(i int) int {
	depth := 0
	for k := i; k+1 < len(l.src); k++ {
		switch {
		case l.src[k] == '/' && l.src[k+1] == '*':
			depth++
			k++
		case l.src[k] == '*' && l.src[k+1] == '/':
			if depth--; depth == 0 {
				return k + 2
			}
			k++
		}
	}
	return l.fail("a comment does not end", i)
}

// deepest is how deep strings may stand in one another.
const deepest = 500

// text reads a string whose quote stands at a place. What is put into it is no token of the text.
func (l *lexer) text(from, quote int, raw bool) int {
	end, head, tail, holes := l.bounds(quote, raw, 0)
	if l.err != nil {
		return end
	}
	l.tokens = append(l.tokens, token{start: int32(from), end: int32(end), kind: tString,
		first: byte(quote - from + head), last: byte(tail), raw: raw, holes: holes})
	return end
}

// bounds gives the end of a string, and how long its quotes are.
func (l *lexer) bounds(i int, raw bool, depth int) (end, head, tail int, holes bool) {
	if depth > deepest {
		return l.fail("strings stand too deep in one another", i), 0, 0, false
	}
	c := l.src[i]
	quote := l.src[i : i+1]
	if i+2 < len(l.src) && l.src[i+1] == c && l.src[i+2] == c {
		quote = l.src[i : i+3]
	}
	for k := i + len(quote); k < len(l.src); {
		switch b := l.src[k]; {
		case b == '\\' && !raw:
			k += 2
		case b == c && bytes.HasPrefix(l.src[k:], quote):
			return k + len(quote), len(quote), len(quote), holes
		case b == '\n' && len(quote) == 1:
			return l.fail("a string does not end", i), 0, 0, false
		case b == '$' && !raw:
			holes = true
			if k++; k < len(l.src) && l.src[k] == '{' {
				k = l.hole(k, depth)
			}
		default:
			k++
		}
	}
	return l.fail("a string does not end", i), 0, 0, false
}

// hole gives the end of what is put into a string.
func (l *lexer) hole(i, depth int) int {
	braces := 0
	for k := i; k < len(l.src) && l.err == nil; {
		switch c := l.src[k]; {
		case c == '{':
			braces++
			k++
		case c == '}':
			if k++; braces == 1 {
				return k
			}
			braces--
		case c == '\'' || c == '"':
			raw := k > i && l.src[k-1] == 'r' && !letter[l.src[k-2]]
			k, _, _, _ = l.bounds(k, raw, depth+1)
		case c == '/' && k+1 < len(l.src) && l.src[k+1] == '*':
			k = l.comment(k)
		case c == '/' && k+1 < len(l.src) && l.src[k+1] == '/':
			k = text.LineEnd(l.src, k)
		default:
			k++
		}
	}
	return l.fail("what is put into a string does not end", i)
}

// word is the text of a name; empty for another token.
func (s *scanner) word(i int) string {
	if i < 0 || i >= len(s.tok) || s.tok[i].kind != tName {
		return ""
	}
	return string(s.src[s.tok[i].start:s.tok[i].end])
}

func (s *scanner) is(i int, c byte) bool {
	return i >= 0 && i < len(s.tok) && s.tok[i].kind == tSign && s.tok[i].first == c
}

// value is the text of a string, and its place inside the quotes.
func (s *scanner) value(i int) (value string, at source.Span) {
	t := &s.tok[i]
	at = source.Span{Start: int(t.start) + int(t.first), End: int(t.end) - int(t.last)}
	value = string(s.src[at.Start:at.End])
	if !t.raw && strings.Contains(value, `\`) {
		value = text.DecodeScript([]byte(value))
	}
	return value, at
}
