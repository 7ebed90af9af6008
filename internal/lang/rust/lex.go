package rust

import (
	"bytes"
	"fmt"
	"sync"
	"unicode/utf8"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// tokenKind says what a token is.
type tokenKind uint8

const (
	tName     tokenKind = iota // a word, a keyword too, also r#type
	tLifetime                  // 'a
	tString                    // "…", r#"…"#, b"…", c"…"
	tChar                      // 'a', b'a'
	tNumber
	tPath  // ::
	tDots  // .. ..= ...
	tArrow // => and ->
	tOpen  // ( [ {
	tClose // ) ] }
	tSign  // any other character
)

// token is a token of a text. The Rust Reference, "Tokens", says what they are.
type token struct {
	start, end int32
	pair       int32 // of a bracket: the token of its partner; of a name: its number
	kind       tokenKind
	first      byte // its first character; of a string the number of bytes before its text
	last       byte // of a string the number of bytes behind its text; of a name the word of the language that it is, or 0
}

// comment is one that documents are made of: /// //! /** /*! .
type comment struct {
	start, end int32
	next       int32 // the token behind it
	inner      bool  // it speaks of what it stands in
}

// kinds of bytes, for the fast part of the lexer.
const (
	cOther = iota
	cSpace
	cLetter
	cDigit
)

var classes = func() (out [256]uint8) {
	for c := range 256 {
		switch {
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == '\v':
			out[c] = cSpace
		case c >= '0' && c <= '9':
			out[c] = cDigit
		case c == '_' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= utf8.RuneSelf:
			out[c] = cLetter
		}
	}
	return out
}()

// stack are the open brackets of a text that is read.
var stacks = sync.Pool{New: func() any { return new([]int32) }}

// lex cuts a text into tokens, and gives the comments that documents are made of.
func lex(src []byte, tokens []token, docs []comment, names *names) ([]token, []comment, error) {
	stack := stacks.Get().(*[]int32)
	open := (*stack)[:0]
	defer func() { *stack = open; stacks.Put(stack) }()
	i := 0
	if bytes.HasPrefix(src, []byte("\xef\xbb\xbf")) {
		i = 3
	}
	if bytes.HasPrefix(src[i:], []byte("#!")) && !attributeFollows(src[i+2:]) {
		i = text.LineEnd(src, i)
	}
	for i < len(src) {
		c := src[i]
		start := i
		if classes[c] == cSpace {
			for i++; i < len(src) && classes[src[i]] == cSpace; i++ {
			}
			continue
		}
		t := token{start: int32(start), pair: -1, first: c}
		switch classes[c] {
		case cLetter:
			if n := prefixed(src[i:]); n > 0 {
				end, head, tail, ok := stringAt(src, i, n)
				if !ok {
					return tokens, docs, unfinished("string", src, start)
				}
				t.kind, t.first, t.last, i = tString, head, tail, end
				if src[start] == 'b' && src[start+1] == '\'' {
					t.kind = tChar
				}
				break
			}
			if c == 'r' && i+2 < len(src) && src[i+1] == '#' && classes[src[i+2]] == cLetter {
				i += 2
			}
			own := i // behind r#
			h := uint32(0)
			for ; i < len(src) && classes[src[i]] >= cLetter; i++ {
				h = hashed(h, src[i])
			}
			t.kind, t.pair = tName, names.number(src[own:i], h)
			if own == start && int(t.pair) <= len(words) {
				t.last = byte(t.pair)
			}
		case cDigit:
			i = number(src, i)
			t.kind = tNumber
		default:
			switch c {
			case '/':
				if i+1 < len(src) && (src[i+1] == '/' || src[i+1] == '*') {
					end, doc, inner, ok := commentAt(src, i)
					if !ok {
						return tokens, docs, unfinished("comment", src, start)
					}
					if doc {
						docs = append(docs, comment{int32(i), int32(end), int32(len(tokens)), inner})
					}
					i = end
					continue
				}
				i++
				t.kind = tSign
			case '"':
				end, head, tail, ok := stringAt(src, i, 1)
				if !ok {
					return tokens, docs, unfinished("string", src, start)
				}
				t.kind, t.first, t.last, i = tString, head, tail, end
			case '\'':
				i, t.kind = quote(src, i)
				if i < 0 {
					return tokens, docs, unfinished("character", src, start)
				}
			case '(', '[', '{':
				i++
				t.kind = tOpen
				open = append(open, int32(len(tokens)))
			case ')', ']', '}':
				i++
				t.kind = tClose
				if len(open) == 0 || partner(tokens[open[len(open)-1]].first) != c {
					return tokens, docs, wrong("a bracket closes that nothing opened", src, start)
				}
				t.pair = open[len(open)-1]
				open = open[:len(open)-1]
				tokens[t.pair].pair = int32(len(tokens))
			case ':':
				if i++; i < len(src) && src[i] == ':' {
					i++
					t.kind = tPath
				} else {
					t.kind = tSign
				}
			case '.':
				if i++; i < len(src) && src[i] == '.' {
					if i++; i < len(src) && (src[i] == '=' || src[i] == '.') {
						i++
					}
					t.kind = tDots
				} else {
					t.kind = tSign
				}
			case '=', '-':
				if i++; i < len(src) && src[i] == '>' {
					i++
					t.kind = tArrow
				} else {
					t.kind = tSign
				}
			default:
				i++
				t.kind = tSign
			}
		}
		t.end = int32(i)
		tokens = append(tokens, t)
	}
	if len(open) > 0 {
		return tokens, docs, wrong("a bracket is not closed", src, int(tokens[open[len(open)-1]].start))
	}
	return tokens, docs, nil
}

func partner(open byte) byte {
	switch open {
	case '(':
		return ')'
	case '[':
		return ']'
	}
	return '}'
}

func unfinished(what string, src []byte, at int) error {
	return wrong("a "+what+" does not end", src, at)
}

func wrong(what string, src []byte, at int) error {
	return &lang.ScanError{Message: fmt.Sprintf("%s (line %d)", what, source.PositionAt(src, at).Line)}
}

// attributeFollows tells #![…] from a line that names the program that runs a script.
func attributeFollows(src []byte) bool {
	for i := 0; i < len(src); {
		switch {
		case classes[src[i]] == cSpace:
			i++
		case bytes.HasPrefix(src[i:], []byte("//")):
			i = text.LineEnd(src, i)
		case bytes.HasPrefix(src[i:], []byte("/*")):
			end, _, _, ok := commentAt(src, i)
			if !ok {
				return false
			}
			i = end
		default:
			return src[i] == '['
		}
	}
	return false
}

// prefixed gives the number of bytes up to the first quote of a string that begins with letters; 0 where none begins.
func prefixed(src []byte) int {
	i := 0
	switch {
	case src[0] == 'b' && len(src) > 1 && src[1] == '\'':
		return 1
	case (src[0] == 'b' || src[0] == 'c') && len(src) > 1 && src[1] == 'r':
		i = 2
	case src[0] == 'b' || src[0] == 'c':
		if len(src) > 1 && src[1] == '"' {
			return 2
		}
		return 0
	case src[0] == 'r':
		i = 1
	default:
		return 0
	}
	for i < len(src) && src[i] == '#' {
		i++
	}
	if i < len(src) && src[i] == '"' {
		return i + 1
	}
	return 0
}

// stringAt gives the end of a string of which n bytes stand before its text, and how many bytes stand before and behind
// the text.
func stringAt(src []byte, i, n int) (end int, head, tail byte, ok bool) {
	if end, head, tail, ok = bareString(src, i, n); ok && end < len(src) && classes[src[end]] == cLetter {
		for end < len(src) && classes[src[end]] >= cLetter && tail < 250 { // a suffix, which only macros take
			end++
			tail++
		}
	}
	return end, head, tail, ok
}

func bareString(src []byte, i, n int) (end int, head, tail byte, ok bool) {
	if src[i] == 'b' && src[i+1] == '\'' {
		end, kind := quote(src, i+1)
		return end, 2, 1, end >= 0 && kind == tChar
	}
	hashes := 0
	raw := src[i] == 'r' || n > 2 || n == 2 && src[i+1] == 'r'
	if raw {
		for k := i; k < i+n; k++ {
			if src[k] == '#' {
				hashes++
			}
		}
		closing := append([]byte{'"'}, bytes.Repeat([]byte{'#'}, hashes)...)
		at := bytes.Index(src[i+n:], closing)
		if at < 0 || n > 255 {
			return 0, 0, 0, false
		}
		return i + n + at + len(closing), byte(n), byte(hashes + 1), true
	}
	for k := i + n; k < len(src); k++ {
		switch src[k] {
		case '\\':
			k++
		case '"':
			return k + 1, byte(n), 1, true
		}
	}
	return 0, 0, 0, false
}

// quote reads what begins with a single quote: a character or a lifetime.
func quote(src []byte, i int) (end int, kind tokenKind) {
	i++
	if i >= len(src) {
		return -1, tChar
	}
	if src[i] == '\\' {
		for k := i + 2; k < len(src) && src[k] != '\n'; k++ {
			if src[k] == '\'' {
				return k + 1, tChar
			}
		}
		return -1, tChar
	}
	_, width := utf8.DecodeRune(src[i:])
	if i+width < len(src) && src[i+width] == '\'' {
		return i + width + 1, tChar
	}
	if classes[src[i]] < cLetter {
		return -1, tChar
	}
	if src[i] == 'r' && i+2 < len(src) && src[i+1] == '#' && classes[src[i+2]] == cLetter { // 'r#a
		i += 2
	}
	for i < len(src) && classes[src[i]] >= cLetter {
		i++
	}
	return i, tLifetime
}

// number gives the end of a number: 1..2 is two numbers, 1.foo() a number and a method, 1.5e-3 one.
func number(src []byte, i int) int {
	word := func() {
		for i < len(src) && classes[src[i]] >= cLetter {
			if (src[i] == 'e' || src[i] == 'E') && i+1 < len(src) && (src[i+1] == '-' || src[i+1] == '+') &&
				i+2 < len(src) && classes[src[i+2]] == cDigit {
				i++
			}
			i++
		}
	}
	if src[i] == '0' && i+1 < len(src) && (src[i+1] == 'x' || src[i+1] == 'b' || src[i+1] == 'o') {
		for i < len(src) && classes[src[i]] >= cLetter {
			i++
		}
		return i
	}
	word()
	if i+1 < len(src) && src[i] == '.' && classes[src[i+1]] == cDigit {
		i++
		word()
	} else if i < len(src) && src[i] == '.' && (i+1 == len(src) || src[i+1] != '.' && classes[src[i+1]] != cLetter) {
		i++ // 1.
	}
	return i
}

// commentAt gives the end of a comment. Those between /* and */ nest. doc: documents are made of it.
func commentAt(src []byte, i int) (end int, doc, inner, ok bool) {
	if src[i+1] == '/' {
		end = text.LineEnd(src, i)
		text := src[i+2 : end]
		inner = len(text) > 0 && text[0] == '!'
		doc = inner || len(text) > 0 && text[0] == '/' && (len(text) == 1 || text[1] != '/')
		return end, doc, inner, true
	}
	depth, k := 1, i+2
	for depth > 0 {
		n := bytes.IndexAny(src[k:], "/*")
		if n < 0 || k+n+1 >= len(src) {
			return 0, false, false, false
		}
		k += n
		switch {
		case src[k] == '/' && src[k+1] == '*':
			depth++
			k += 2
		case src[k] == '*' && src[k+1] == '/':
			depth--
			k += 2
		default:
			k++
		}
	}
	text := src[i+2 : k-2]
	inner = len(text) > 0 && text[0] == '!'
	doc = inner || len(text) > 1 && text[0] == '*' && text[1] != '*'
	return k, doc, inner, true
}
