package java

import (
	"bytes"

	"crookedshelf/internal/source"
)

// This file cuts a text into tokens (docs.oracle.com/javase/specs/jls/se17/html/jls-3.html). A token is a range and a
// kind; comments are none, but those that documents are made of are listed beside. A > is always one token, so that
// nobody has to take >> apart.

// kind is what a token is: a byte for most punctuation.
type kind uint16

const (
	tEnd        kind = 0
	tWord       kind = 256 + iota // a name or a word of the language
	tNumber                       //
	tString                       // "…", with its quotes
	tText                         // """…"""
	tChar                         // '…'
	tColons                       // ::
	tArrow                        // ->
	tEllipsis                     // ...
	tUnfinished                   // what begins here has no end
	tEscape                       // \u outside of names, texts and comments: it may be any character
)

type token struct {
	start, end int32
	kind       kind
	key        bool // of a word: it is one that the language has for itself
}

// comment is one that documents are made of, and the token behind it.
type comment struct {
	at   source.Span
	next int
}

// ofName has the bytes that names consist of. All bytes beyond ASCII count: no encoding has punctuation there that Java
// knows.
var ofName = func() (out [256]bool) {
	for c := range out {
		out[c] = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '$' || c >= 0x80
	}
	return out
}()

func digit(c byte) bool { return c >= '0' && c <= '9' }

// lex cuts a text into tokens, with one of kind tEnd behind the last.
func lex(src []byte, tokens []token, docs []comment) ([]token, []comment) {
	i := 0
	if bytes.HasPrefix(src, []byte("\xEF\xBB\xBF")) {
		i = 3
	}
	add := func(start, end int, k kind) {
		tokens = append(tokens, token{start: int32(start), end: int32(end), kind: k})
	}
	for i < len(src) {
		c := src[i]
		start := i
		switch {
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == 0x1a:
			i++
		case digit(c) || c == '.' && i+1 < len(src) && digit(src[i+1]):
			i = number(src, i)
			add(start, i, tNumber)
		case ofName[c]:
			for i++; i < len(src) && ofName[src[i]]; i++ {
			}
			if i < len(src) && src[i] == '\\' {
				i = escapedName(src, i)
			}
			add(start, i, tWord)
			tokens[len(tokens)-1].key = c >= 'a' && c <= 'w' && i-start <= len("synchronized") && reserved(src[start:i])
		case c == '\\':
			if end := escapedName(src, i); end > i {
				i = end
				add(start, i, tWord)
				continue
			}
			i++
			add(start, i, tEscape)
		case c == '/' && i+1 < len(src) && src[i+1] == '/':
			i = lineEnd(src, i)
		case c == '/' && i+1 < len(src) && src[i+1] == '*':
			n := bytes.Index(src[i+2:], []byte("*/"))
			if n < 0 {
				add(start, len(src), tUnfinished)
				i = len(src)
				continue
			}
			i += n + 4
			if src[start+2] == '*' && i > start+4 {
				docs = append(docs, comment{source.Span{Start: start, End: i}, len(tokens)})
			}
		case c == '"':
			k := tString
			if bytes.HasPrefix(src[i:], []byte(`"""`)) {
				k = tText
			}
			end, closed := quoted(src, i, k)
			if !closed {
				k = tUnfinished
			}
			i = end
			add(start, i, k)
		case c == '\'':
			end, closed := quoted(src, i, tChar)
			i = end
			if !closed {
				add(start, i, tUnfinished)
				continue
			}
			add(start, i, tChar)
		case c == ':' && i+1 < len(src) && src[i+1] == ':':
			i += 2
			add(start, i, tColons)
		case c == '-' && i+1 < len(src) && src[i+1] == '>':
			i += 2
			add(start, i, tArrow)
		case c == '.' && bytes.HasPrefix(src[i:], []byte("...")):
			i += 3
			add(start, i, tEllipsis)
		default:
			i++
			add(start, i, kind(c))
		}
	}
	add(len(src), len(src), tEnd)
	return tokens, docs
}

// reserved says whether a word is never a name (JLS 3.9). The other words of the language mean something in their
// places alone.
func reserved(word []byte) bool {
	switch string(word) {
	case "abstract", "assert", "boolean", "break", "byte", "case", "catch", "char", "class", "const", "continue",
		"default", "do", "double", "else", "enum", "extends", "final", "finally", "float", "for", "goto", "if",
		"implements", "import", "instanceof", "int", "interface", "long", "native", "new", "package", "private",
		"protected", "public", "return", "short", "static", "strictfp", "super", "switch", "synchronized", "this",
		"throw", "throws", "transient", "try", "void", "volatile", "while", "true", "false", "null":
		return true
	}
	return false
}

// primitive says whether a word is a type without a declaration.
func primitive(word []byte) bool {
	switch string(word) {
	case "boolean", "byte", "short", "int", "long", "char", "float", "double", "void", "var":
		return true
	}
	return false
}

// number gives the end of a number: 1_000L, 0x1.8p-3, 1e+9, 1. and .5.
func number(src []byte, i int) int {
	for i++; i < len(src); i++ {
		switch c := src[i]; {
		case ofName[c] && c < 0x80:
		case c == '.' && i+1 < len(src) && src[i+1] != '.': // 1.method() is none
		case (c == '+' || c == '-') && bytes.IndexByte([]byte("eEpP"), src[i-1]) >= 0:
			// of 0xE+1 the + is an operator, which is all the same here
		default:
			return i
		}
	}
	return i
}

// escapedName reads on where a name goes on by \u0041; the place itself if it does not.
func escapedName(src []byte, i int) int {
	for {
		c, end := escape(src, i)
		if end == i || c < 256 && !ofName[c] {
			return i
		}
		for i = end; i < len(src) && ofName[src[i]]; i++ {
		}
	}
}

// escape reads \u0041, also with several u: the character, and the place behind it; the place itself for none.
func escape(src []byte, i int) (c rune, end int) {
	if i+1 >= len(src) || src[i] != '\\' || src[i+1] != 'u' {
		return 0, i
	}
	at := i + 1
	for at < len(src) && src[at] == 'u' {
		at++
	}
	if at+4 > len(src) {
		return 0, i
	}
	for _, d := range src[at : at+4] {
		switch {
		case d >= '0' && d <= '9':
			c = c<<4 | rune(d-'0')
		case d|0x20 >= 'a' && d|0x20 <= 'f':
			c = c<<4 | rune(d|0x20-'a'+10)
		default:
			return 0, i
		}
	}
	return c, at + 4
}

// lineEnd is the end of the line of a comment: an escape may end it too, as javac turns escapes into characters first.
func lineEnd(src []byte, i int) int {
	end := len(src)
	if n := bytes.IndexAny(src[i:], "\n\r"); n >= 0 {
		end = i + n
	}
	for at := i; ; {
		n := bytes.Index(src[at:end], []byte(`\u`))
		if n < 0 {
			return end
		}
		at += n
		odd := true // a \ before it makes it a text
		for k := at - 1; k >= i && src[k] == '\\'; k-- {
			odd = !odd
		}
		if c, behind := escape(src, at); odd && (c == '\n' || c == '\r') {
			return behind
		}
		at += 2
	}
}

// quoted gives the end of a text or a character that begins at a place, and whether it has one.
func quoted(src []byte, i int, k kind) (end int, closed bool) {
	close, width := src[i:i+1], 1
	if k == tText {
		close, width = src[i:i+3], 3
	}
	for i += width; i < len(src); i++ {
		switch c := src[i]; {
		case c == '\\':
			if r, end := escape(src, i); end > i {
				if r == rune(close[0]) && k != tText {
					return end, true
				}
				if r == '\\' { // it escapes what follows
					end = min(end+1, len(src))
				}
				i = end - 1
				continue
			}
			i++
		case (c == '\n' || c == '\r') && k != tText:
			return i, false
		case bytes.HasPrefix(src[i:], close):
			return i + width, true
		}
	}
	return len(src), false
}

// decodedName is a name with its escapes turned into characters.
func decodedName(raw []byte) string {
	if bytes.IndexByte(raw, '\\') < 0 {
		return string(raw)
	}
	var out []rune
	for i := 0; i < len(raw); {
		if c, end := escape(raw, i); end > i {
			out = append(out, c)
			i = end
			continue
		}
		out = append(out, rune(raw[i]))
		i++
	}
	return string(out)
}
