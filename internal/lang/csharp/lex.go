package csharp

import (
	"bytes"
	"unicode"
	"unicode/utf8"

	"crookedshelf/internal/source"
)

// This file cuts a text into tokens (learn.microsoft.com/dotnet/csharp/language-reference/language-specification,
// Lexical structure). A token is a range and a kind; comments are none, but those that documents are made of are listed
// beside. A > is always one token, so that nobody has to take >> apart. A string with holes is cut at its holes, whose
// code stands between tHole and tHoleEnd.

// kind is what a token is: a byte for most punctuation.
type kind uint16

const (
	tEnd        kind = 0
	tWord       kind = 256 + iota // a name or a word of the language
	tNumber                       //
	tString                       // "…", with its quotes
	tPlain                        // @"…" and """…"""
	tPart                         // a part of a string with holes, with its quote if it has one
	tHole                         // {
	tHoleEnd                      // } and the format before it
	tChar                         // '…'
	tColons                       // ::
	tArrow                        // =>
	tPointer                      // ->
	tOperator                     // one of several characters that begins no list of types
	tUnfinished                   // what begins here has no end
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

// ofName has the bytes that names consist of. All bytes beyond ASCII count.
var ofName = func() (out [256]bool) {
	for c := range out {
		out[c] = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c >= 0x80
	}
	return out
}()

// ofPlainName has those of ASCII.
var ofPlainName = func() (out [256]bool) {
	copy(out[:0x80], ofName[:])
	return out
}()

// beginsName has those of ASCII that a name begins with.
var beginsName = func() (out [256]bool) {
	for c := range 0x80 {
		out[c] = ofName[c] && !digit(byte(c))
	}
	return out
}()

// isBlank has the blanks of ASCII.
var isBlank = [256]bool{' ': true, '\t': true, '\n': true, '\r': true, '\f': true, '\v': true, 0x1a: true}

func digit(c byte) bool { return c >= '0' && c <= '9' }

type lexer struct {
	src    []byte
	i      int
	tokens []token
	docs   []comment
	depth  int
	*branches
}

// deepest is how deep strings may stand in the holes of others.
const deepest = 100

func (l *lexer) add(start, end int, k kind) {
	l.tokens = append(l.tokens, token{start: int32(start), end: int32(end), kind: k})
}

// lex cuts a text into tokens, with one of kind tEnd behind the last.
func lex(src []byte, tokens []token, docs []comment, with *branches) ([]token, []comment) {
	l := lexer{src: src, tokens: tokens, docs: docs, branches: with}
	if bytes.HasPrefix(src, []byte("\xEF\xBB\xBF")) {
		l.i = 3
	}
	if bytes.HasPrefix(src[l.i:], []byte("#!")) {
		l.i = lineEnd(src, l.i)
	}
	l.code(false)
	l.add(len(src), len(src), tEnd)
	return l.tokens, l.docs
}

// code cuts code into tokens. In a hole it stops before what ends that: a } or a : of its own.
func (l *lexer) code(hole bool) {
	src := l.src
	nested := 0
	for l.i < len(src) {
		i := l.i
		c := src[i]
		if beginsName[c] { // most are
			l.word()
			continue
		}
		if isBlank[c] {
			for l.i++; l.i < len(src) && isBlank[src[l.i]]; l.i++ {
			}
			continue
		}
		next := byte(0)
		if i+1 < len(src) {
			next = src[i+1]
		}
		switch {
		case c >= 0x80 && blank(src[i:]) > 0:
			l.i += blank(src[i:])
		case c == '/' && next == '/':
			l.i = lineEnd(src, i)
			if i+2 < len(src) && src[i+2] == '/' && (i+3 >= len(src) || src[i+3] != '/') {
				l.docs = append(l.docs, comment{source.Span{Start: i, End: l.i}, len(l.tokens)})
			}
		case c == '/' && next == '*':
			n := bytes.Index(src[i+2:], []byte("*/"))
			if n < 0 {
				l.add(i, len(src), tUnfinished)
				l.i = len(src)
				return
			}
			l.i = i + n + 4
			if n > 1 && src[i+2] == '*' && src[i+3] != '*' {
				l.docs = append(l.docs, comment{source.Span{Start: i, End: l.i}, len(l.tokens)})
			}
		case digit(c) || c == '.' && digit(next):
			l.i = number(src, i)
			l.add(i, l.i, tNumber)
		case c == '"' || c == '$' || c == '@' && (next == '"' || next == '$' && i+2 < len(src) && src[i+2] == '"'):
			if !l.text() {
				return
			}
		case ofName[c] || c == '@' && (ofName[next] || next == '\\') || c == '\\':
			l.word()
		case c == '\'':
			end, closed := character(src, i)
			l.i = end
			if !closed {
				l.add(i, l.i, tUnfinished)
				continue
			}
			l.add(i, l.i, tChar)
		case c == '#' && !hole:
			l.directive()
		default:
			if hole {
				switch c {
				case '(', '[', '{':
					nested++
				case ')', ']':
					nested--
				case '}':
					if nested == 0 {
						return
					}
					nested--
				case ':':
					if nested <= 0 {
						return
					}
				}
			}
			l.operator(c, next)
		}
	}
}

// word reads a name or a word of the language.
func (l *lexer) word() {
	src, start := l.src, l.i
	plain := src[start] != '@' && src[start] != '\\'
	if src[start] == '@' {
		l.i++
	}
	i := l.i
	for i < len(src) && ofPlainName[src[i]] {
		i++
	}
	l.i = i
	if plain && i > start && (i == len(src) || src[i] < 0x80 && src[i] != '\\') {
		l.tokens = append(l.tokens, token{start: int32(start), end: int32(i), kind: tWord, key: reserved(src[start:i])})
		return
	}
	for l.i < len(src) {
		if c := src[l.i]; ofName[c] && (c < 0x80 || blank(src[l.i:]) == 0) {
			l.i++
			continue
		}
		end := escape(src, l.i)
		if end == l.i {
			break
		}
		plain = false
		l.i = end
	}
	if l.i == start || l.i == start+1 && src[start] == '@' {
		l.i = start + 1
		l.add(start, l.i, tOperator)
		return
	}
	l.add(start, l.i, tWord)
	l.tokens[len(l.tokens)-1].key = plain && reserved(src[start:l.i])
}

// blank gives how many bytes a blank beyond ASCII has, or a mark of the order of bytes; 0 for none.
func blank(text []byte) int {
	if text[0] != 0xC2 && text[0] != 0xE2 && text[0] != 0xE3 && text[0] != 0xEF {
		return 0
	}
	r, size := utf8.DecodeRune(text)
	if r == '\uFEFF' || unicode.Is(unicode.Zs, r) {
		return size
	}
	return 0
}

// operator reads punctuation. What begins with < or > is taken apart, but where it can begin no list of types.
func (l *lexer) operator(c, next byte) {
	i := l.i
	k, n := kind(c), 1
	switch {
	case c == ':' && next == ':':
		k, n = tColons, 2
	case c == '=' && next == '>':
		k, n = tArrow, 2
	case c == '-' && next == '>':
		k, n = tPointer, 2
	case c == '<' && (next == '<' || next == '='), c == '=' && next == '=', c == '!' && next == '=',
		c == '?' && next == '?', c == '&' && next == '&', c == '|' && next == '|', c == '.' && next == '.',
		c == '+' && next == '+', c == '-' && next == '-',
		next == '=' && (c == '+' || c == '-' || c == '*' || c == '/' || c == '%' || c == '&' || c == '|' || c == '^'):
		k, n = tOperator, 2
	}
	l.add(i, i+n, k)
	l.i = i + n
}

// text reads a string of any kind. It reports false where nothing more can be read.
func (l *lexer) text() bool {
	src, start := l.src, l.i
	dollars, at, i := 0, false, start
	for ; i < len(src) && (src[i] == '$' || src[i] == '@'); i++ {
		if src[i] == '$' {
			dollars++
		} else {
			at = true
		}
	}
	if i >= len(src) || src[i] != '"' {
		l.i = start + 1
		l.add(start, l.i, tOperator)
		return true
	}
	quotes := 0
	for i+quotes < len(src) && src[i+quotes] == '"' {
		quotes++
	}
	switch {
	case quotes >= 3 && !at:
		return l.raw(start, i, quotes, dollars)
	case dollars > 0:
		return l.holes(start, i+1, at)
	}
	i++
	for ; i < len(src); i++ {
		switch c := src[i]; {
		case c == '"' && at && i+1 < len(src) && src[i+1] == '"':
			i++
		case c == '"':
			if bytes.HasPrefix(src[i+1:], []byte("u8")) {
				i += 2
			}
			l.i = i + 1
			l.add(start, l.i, map[bool]kind{false: tString, true: tPlain}[at])
			return true
		case c == '\\' && !at:
			i++
		case (c == '\n' || c == '\r') && !at:
			l.add(start, i, tUnfinished)
			l.i = i
			return true
		}
	}
	l.add(start, len(src), tUnfinished)
	l.i = len(src)
	return false
}

// holes reads the rest of a string with holes.
func (l *lexer) holes(start, i int, at bool) bool {
	src := l.src
	if l.depth++; l.depth > deepest {
		l.add(start, len(src), tUnfinished)
		l.i = len(src)
		return false
	}
	defer func() { l.depth-- }()
	for i < len(src) {
		switch c := src[i]; {
		case c == '"' && at && i+1 < len(src) && src[i+1] == '"', (c == '{' || c == '}') && i+1 < len(src) && src[i+1] == c:
			i += 2
		case c == '"':
			l.i = i + 1
			l.add(start, l.i, tPart)
			return true
		case c == '\\' && !at:
			i += 2
		case (c == '\n' || c == '\r') && !at:
			l.add(start, i, tUnfinished)
			l.i = i
			return true
		case c == '{':
			l.add(start, i, tPart)
			if start, i = l.hole(i, 1, func(k int) int { return l.format(k, at) }); start < 0 {
				return false
			}
		default:
			i++
		}
	}
	l.add(start, len(src), tUnfinished)
	l.i = len(src)
	return false
}

// hole reads the code of a hole, with so many braces, and gives where the text goes on; -1 where nothing does.
func (l *lexer) hole(i, braces int, format func(k int) int) (start, end int) {
	l.add(i, i+braces, tHole)
	l.i = i + braces
	l.code(true)
	k := l.i
	if k < len(l.src) && l.src[k] == ':' {
		k = format(k)
	}
	if k+braces > len(l.src) || l.src[k] != '}' {
		l.add(i, len(l.src), tUnfinished)
		l.i = len(l.src)
		return -1, -1
	}
	l.add(k, k+braces, tHoleEnd)
	return k + braces, k + braces
}

// format passes the format in a hole.
func (l *lexer) format(k int, at bool) int {
	for ; k < len(l.src); k++ {
		switch c := l.src[k]; {
		case c == '}' && k+1 < len(l.src) && l.src[k+1] == '}', c == '{' && k+1 < len(l.src) && l.src[k+1] == '{':
			k++
		case c == '\\' && !at:
			k++
		case c == '}' || c == '"' || (c == '\n' || c == '\r') && !at:
			return k
		}
	}
	return k
}

// raw reads a string between three and more quotes.
func (l *lexer) raw(start, i, quotes, dollars int) bool {
	src := l.src
	many := bytes.Repeat([]byte{'"'}, quotes)
	if dollars == 0 {
		n := bytes.Index(src[i+quotes:], many)
		if n < 0 {
			l.add(start, len(src), tUnfinished)
			l.i = len(src)
			return false
		}
		l.i = i + quotes + n + quotes
		for l.i < len(src) && src[l.i] == '"' {
			l.i++
		}
		if bytes.HasPrefix(src[l.i:], []byte("u8")) {
			l.i += 2
		}
		l.add(start, l.i, tPlain)
		return true
	}
	if l.depth++; l.depth > deepest {
		l.add(start, len(src), tUnfinished)
		l.i = len(src)
		return false
	}
	defer func() { l.depth-- }()
	for i += quotes; i < len(src); {
		switch c := src[i]; {
		case c == '"' && bytes.HasPrefix(src[i:], many):
			for i += quotes; i < len(src) && src[i] == '"'; {
				i++
			}
			l.i = i
			l.add(start, i, tPart)
			return true
		case c == '{':
			n := 0
			for i+n < len(src) && src[i+n] == '{' {
				n++
			}
			if n < dollars {
				i += n
				continue
			}
			i += n - dollars
			l.add(start, i, tPart)
			if start, i = l.hole(i, dollars, func(k int) int {
				for k < len(src) && src[k] != '}' && src[k] != '"' {
					k++
				}
				return k
			}); start < 0 {
				return false
			}
		default:
			i++
		}
	}
	l.add(start, len(src), tUnfinished)
	l.i = len(src)
	return false
}

// reserved says whether a word is never a name unless @ stands before it (Lexical structure, Keywords).
func reserved(word []byte) bool {
	if len(word) < 2 || len(word) > 10 || word[0] < 'a' || word[0] > 'w' {
		return false
	}
	switch string(word) {
	case "abstract", "as", "base", "bool", "break", "byte", "case", "catch", "char", "checked", "class", "const",
		"continue", "decimal", "default", "delegate", "do", "double", "else", "enum", "event", "explicit", "extern",
		"false", "finally", "fixed", "float", "for", "foreach", "goto", "if", "implicit", "in", "int", "interface",
		"internal", "is", "lock", "long", "namespace", "new", "null", "object", "operator", "out", "override",
		"params", "private", "protected", "public", "readonly", "ref", "return", "sbyte", "sealed", "short", "sizeof",
		"stackalloc", "static", "string", "struct", "switch", "this", "throw", "true", "try", "typeof", "uint", "ulong",
		"unchecked", "unsafe", "ushort", "using", "virtual", "void", "volatile", "while":
		return true
	}
	return false
}

// primitive says whether a word is a type that the language has a word for.
func primitive(word []byte) bool {
	switch string(word) {
	case "bool", "byte", "sbyte", "short", "ushort", "int", "uint", "long", "ulong", "char", "float", "double", "decimal",
		"object", "string", "void":
		return true
	}
	return false
}

// number gives the end of a number: 1_000L, 0x1F, 1e+9, 1.5m and .5.
func number(src []byte, i int) int {
	hex := src[i] == '0' && i+1 < len(src) && (src[i+1]|0x20 == 'x')
	for i++; i < len(src); i++ {
		switch c := src[i]; {
		case ofName[c] && c < 0x80:
		case c == '.' && i+1 < len(src) && digit(src[i+1]): // 1.Method() and 1..2 are none
		case (c == '+' || c == '-') && !hex && src[i-1]|0x20 == 'e':
		default:
			return i
		}
	}
	return i
}

// escape gives the end of \u0041 or \U00000041; the place itself for none.
func escape(src []byte, i int) int {
	if i+1 >= len(src) || src[i] != '\\' || src[i+1]|0x20 != 'u' {
		return i
	}
	n := 4
	if src[i+1] == 'U' {
		n = 8
	}
	if i+2+n > len(src) {
		return i
	}
	for _, d := range src[i+2 : i+2+n] {
		if !digit(d) && (d|0x20 < 'a' || d|0x20 > 'f') {
			return i
		}
	}
	return i + 2 + n
}

func lineEnd(src []byte, i int) int {
	if n := bytes.IndexAny(src[i:], "\n\r"); n >= 0 {
		return i + n
	}
	return len(src)
}

// character gives the end of a character that begins at a place, and whether it has one.
func character(src []byte, i int) (end int, closed bool) {
	for i++; i < len(src); i++ {
		switch src[i] {
		case '\\':
			i++
		case '\n', '\r':
			return i, false
		case '\'':
			return i + 1, true
		}
	}
	return len(src), false
}

// decodedName is a name without @ and with its escapes turned into characters.
func decodedName(raw []byte) string {
	raw = bytes.TrimPrefix(raw, []byte("@"))
	if bytes.IndexByte(raw, '\\') < 0 {
		return string(raw)
	}
	var out []rune
	for i := 0; i < len(raw); {
		end := escape(raw, i)
		if end == i {
			end++
			out = append(out, rune(raw[i]))
		} else {
			c := rune(0)
			for _, d := range raw[i+2 : end] {
				if digit(d) {
					c = c<<4 | rune(d-'0')
				} else {
					c = c<<4 | rune(d|0x20-'a'+10)
				}
			}
			out = append(out, c)
		}
		i = end
	}
	return string(out)
}
