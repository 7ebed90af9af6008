package php

import "bytes"

// This file cuts a text into tokens, as PHP's own scanner does (php.net/manual/en/tokens.php). White space and comments
// are left out, but for those that documents are written in.

// token is a piece of a text. Marks of one character have that as their kind.
type token struct {
	kind       kind
	start, end int32
}

type kind uint8

const (
	tEnd       kind = iota + 128 // the end of the text
	tHTML                        // text outside of PHP
	tOpen                        // <?php
	tOpenEcho                    // <?=
	tClose                       // ?>, with the end of its line
	tWord                        // a name of one part, or a word of the language
	tQualified                   // A\B
	tFull                        // \A\B
	tRelative                    // namespace\A
	tVariable                    // $a
	tNumber
	tString     // a string in quotes into which nothing is put
	tPart       // a piece of text of a string into which something is put
	tQuote      // " or ` around such a string
	tHereStart  // <<<X with the end of its line
	tHereEnd    // the label that ends it, with the blanks before
	tDoc        // /** */
	tAttribute  // #[
	tArrow      // -> or ?->
	tColons     // ::
	tFatArrow   // =>
	tEllipsis   // ...
	tPutIn      // { or ${ in a string: code follows
	tCast       // (int)
	tDoubleBar  // ||, so that | is left for types
	tDoubleAnd  // &&
	tAssigns    // .=, |=, &= and other marks that end with =
	tQuestions  // ??
	tShortOpen  // <?, which is PHP on some machines and text on others
	tUnfinished // what begins here never ends
)

// lexer cuts one text.
type lexer struct {
	src    []byte
	at     int
	tokens []token
	modes  []mode // strings that the place lies in; code inside of them too
}

// mode is what surrounds a place.
type mode struct {
	quote byte   // of a string; heredocs have none; '}' for code that ends with one
	label []byte // of a heredoc
	depth int    // braces that are open in code
	start int    // where it begins
}

// lex cuts a text into tokens. It never fails: what never ends is the last token but one.
func lex(src []byte, tokens []token) []token {
	l := lexer{src: src, tokens: tokens}
	l.html()
	for l.at < len(l.src) {
		if n := len(l.modes); n > 0 && l.modes[n-1].quote != '}' {
			l.inString(&l.modes[n-1])
			continue
		}
		if !l.code() {
			break
		}
	}
	if n := len(l.modes); n > 0 {
		l.at = l.modes[n-1].start
		l.add(tUnfinished, len(src))
	}
	l.at = len(src)
	l.add(tEnd, len(src))
	return l.tokens
}

func (l *lexer) add(k kind, end int) {
	l.tokens = append(l.tokens, token{k, int32(l.at), int32(end)})
	l.at = end
}

// html passes over what is no PHP, and over the tag behind it.
func (l *lexer) html() {
	for at := l.at; ; {
		next := bytes.Index(l.src[at:], []byte("<?"))
		if next < 0 {
			if l.at < len(l.src) {
				l.add(tHTML, len(l.src))
			}
			return
		}
		at += next
		k, end := tShortOpen, at+2
		switch rest := l.src[at+2:]; {
		case len(rest) > 0 && rest[0] == '=':
			k, end = tOpenEcho, at+3
		case len(rest) >= 3 && bytes.EqualFold(rest[:3], []byte("php")) && (len(rest) == 3 || blank(rest[3])):
			k, end = tOpen, at+5
			if len(rest) > 3 {
				end++
				if rest[3] == '\r' && len(rest) > 4 && rest[4] == '\n' {
					end++
				}
			}
		case len(rest) > 0 && !blank(rest[0]): // <?xml, and whatever else is text
			at += 2
			continue
		}
		if at > l.at {
			l.add(tHTML, at)
		}
		l.add(k, end)
		if k != tShortOpen {
			return
		}
		at = end
	}
}

func blank(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

// begins says whether a name may begin with a byte, and continues whether one may stand further in.
func begins(c byte) bool    { return c|0x20 >= 'a' && c|0x20 <= 'z' || c == '_' || c >= 0x80 }
func continues(c byte) bool { return begins(c) || c >= '0' && c <= '9' }

func (l *lexer) peek(n int) byte {
	if l.at+n < len(l.src) {
		return l.src[l.at+n]
	}
	return 0
}

// word gives the end of the name that begins at a place.
func (l *lexer) word(at int) int {
	for at < len(l.src) && continues(l.src[at]) {
		at++
	}
	return at
}

// code reads one token of code. It reports false where the file ends for PHP: behind __halt_compiler();
func (l *lexer) code() bool {
	switch c := l.src[l.at]; {
	case blank(c) || c == '\v' || c == '\f':
		l.at++
	case begins(c):
		return l.name()
	case c == '\\':
		if end := l.parts(l.at); end > l.at {
			l.add(tFull, end)
		} else {
			l.add('\\', l.at+1)
		}
	case c == '$':
		if begins(l.peek(1)) {
			l.add(tVariable, l.word(l.at+1))
		} else {
			l.add('$', l.at+1)
		}
	case c >= '0' && c <= '9', c == '.' && l.peek(1) >= '0' && l.peek(1) <= '9':
		l.number()
	case c == '\'' || c == '"' || c == '`':
		l.quoted(c)
	case c == '#' && l.peek(1) != '[', c == '/' && l.peek(1) == '/':
		l.lineComment()
	case c == '/' && l.peek(1) == '*':
		l.comment()
	default:
		l.mark(c)
	}
	return true
}

// marks are those of more than one character that mean something here, the longer ones first.
var marks = []struct {
	text string
	kind kind
}{
	{"?->", tArrow}, {"...", tEllipsis}, {"->", tArrow}, {"::", tColons}, {"=>", tFatArrow}, {"#[", tAttribute},
	{"||", tDoubleBar}, {"&&", tDoubleAnd}, {"??", tQuestions}, {"|=", tAssigns}, {"&=", tAssigns}, {".=", tAssigns},
	{"==", tAssigns}, {"!=", tAssigns}, {"<=", tAssigns}, {">=", tAssigns}, {"+=", tAssigns}, {"-=", tAssigns},
}

// mark reads a mark: ends of PHP, beginnings of texts, brackets, and all others as they are.
func (l *lexer) mark(c byte) {
	rest := l.src[l.at:]
	switch c {
	case ';', ',', '(', ')', '[', ']', ':':
		switch {
		case c == '(' && l.cast():
		case c == ':' && l.peek(1) == ':':
			l.add(tColons, l.at+2)
		default:
			l.add(kind(c), l.at+1)
		}
		return
	case '{', '}':
		l.brace(c)
		return
	case '?':
		if l.peek(1) == '>' {
			l.close()
			return
		}
	case '<':
		if bytes.HasPrefix(rest, []byte("<<<")) && l.heredoc() {
			return
		}
	}
	if c < 0x80 {
		for _, m := range marks {
			if m.text[0] == c && len(rest) >= len(m.text) && string(rest[:len(m.text)]) == m.text {
				l.add(m.kind, l.at+len(m.text))
				return
			}
		}
	}
	l.add(kind(c), l.at+1)
}

// brace counts the braces of code in a string, whose last one ends it.
func (l *lexer) brace(c byte) {
	l.add(kind(c), l.at+1)
	n := len(l.modes) - 1
	switch {
	case n < 0:
	case c == '{':
		l.modes[n].depth++
	case l.modes[n].depth > 0:
		l.modes[n].depth--
	default:
		l.modes = l.modes[:n]
	}
}

// close ends PHP, with one end of a line behind it. What follows is text up to the next tag.
func (l *lexer) close() {
	end := l.at + 2
	if end < len(l.src) && l.src[end] == '\n' {
		end++
	} else if end+1 < len(l.src) && l.src[end] == '\r' && l.src[end+1] == '\n' {
		end += 2
	}
	l.add(tClose, end)
	l.html()
}

// parts gives the end of a name with \ before each part; the place itself where no part follows.
func (l *lexer) parts(at int) int {
	for at+1 < len(l.src) && l.src[at] == '\\' && begins(l.src[at+1]) {
		at = l.word(at + 1)
	}
	return at
}

// name reads a name of one or more parts. It reports false for __halt_compiler.
func (l *lexer) name() bool {
	first := l.word(l.at)
	end := l.parts(first)
	switch word := l.src[l.at:first]; {
	case end > first && bytes.EqualFold(word, []byte("namespace")):
		l.add(tRelative, end)
	case end > first:
		l.add(tQualified, end)
	case len(word) == 15 && bytes.EqualFold(word, []byte("__halt_compiler")):
		l.add(tWord, end)
		return false
	default:
		l.add(tWord, end)
	}
	return true
}

func (l *lexer) number() {
	end := l.at
	digits := func() {
		for end < len(l.src) && (l.src[end] >= '0' && l.src[end] <= '9' || l.src[end] == '_') {
			end++
		}
	}
	if l.src[l.at] == '0' && (l.peek(1)|0x20 == 'x' || l.peek(1)|0x20 == 'b' || l.peek(1)|0x20 == 'o') {
		l.add(tNumber, l.word(l.at))
		return
	}
	digits()
	if end < len(l.src) && l.src[end] == '.' && !bytes.HasPrefix(l.src[end:], []byte("...")) {
		end++
		digits()
	}
	if end+1 < len(l.src) && l.src[end]|0x20 == 'e' {
		power := end + 1
		if l.src[power] == '+' || l.src[power] == '-' {
			power++
		}
		if power < len(l.src) && l.src[power] >= '0' && l.src[power] <= '9' {
			end = power
			digits()
		}
	}
	l.add(tNumber, end)
}

// lineComment passes over a comment to the end of the line, or up to the end of PHP.
func (l *lexer) lineComment() {
	for l.at < len(l.src) {
		switch c := l.src[l.at]; {
		case c == '\n' || c == '\r':
			return
		case c == '?' && l.peek(1) == '>':
			return
		}
		l.at++
	}
}

func (l *lexer) comment() {
	end := bytes.Index(l.src[l.at+2:], []byte("*/"))
	doc := l.peek(2) == '*' && blank(l.peek(3))
	switch {
	case end < 0:
		l.add(tUnfinished, len(l.src))
	case doc:
		l.add(tDoc, l.at+2+end+2)
	default:
		l.at += 2 + end + 2
	}
}

// casts are the types in brackets that turn a value into one.
var casts = words(`int integer bool boolean float double real string array object unset binary`)

func (l *lexer) cast() bool {
	at := l.at + 1
	for at < len(l.src) && (l.src[at] == ' ' || l.src[at] == '\t') {
		at++
	}
	end := l.word(at)
	if end == at || end-at > 7 || !casts.has(l.src[at:end]) {
		return false
	}
	for end < len(l.src) && (l.src[end] == ' ' || l.src[end] == '\t') {
		end++
	}
	if end >= len(l.src) || l.src[end] != ')' {
		return false
	}
	l.add(tCast, end+1)
	return true
}

// quoted reads a string. One into which something is put is a mode of its own.
func (l *lexer) quoted(quote byte) {
	for at := l.at + 1; at < len(l.src); at++ {
		switch c := l.src[at]; {
		case c == '\\':
			at++
		case c == quote && quote != '`':
			l.add(tString, at+1)
			return
		case quote == '\'':
		case quote == '`', puts(l.src[at:]):
			l.modes = append(l.modes, mode{quote: quote, start: l.at})
			l.add(tQuote, l.at+1)
			return
		}
	}
	if quote == '`' && l.at+1 == len(l.src) {
		l.modes = append(l.modes, mode{quote: quote, start: l.at})
	}
	l.add(tUnfinished, len(l.src))
}

// puts says whether something is put into a string at its beginning: $a, ${a}, {$a}.
func puts(text []byte) bool {
	if len(text) < 2 {
		return false
	}
	return text[0] == '$' && (begins(text[1]) || text[1] == '{') || text[0] == '{' && text[1] == '$'
}

// heredoc reads the line on which one begins. It reports false for anything else.
func (l *lexer) heredoc() bool {
	at := l.at + 3
	for at < len(l.src) && (l.src[at] == ' ' || l.src[at] == '\t') {
		at++
	}
	quote := byte(0)
	if at < len(l.src) && (l.src[at] == '\'' || l.src[at] == '"') {
		quote = l.src[at]
		at++
	}
	end := l.word(at)
	if end == at || !begins(l.src[at]) {
		return false
	}
	label := l.src[at:end]
	if quote != 0 {
		if end >= len(l.src) || l.src[end] != quote {
			return false
		}
		end++
	}
	switch {
	case end < len(l.src) && l.src[end] == '\n':
		end++
	case end+1 < len(l.src) && l.src[end] == '\r' && l.src[end+1] == '\n':
		end += 2
	case end < len(l.src) && l.src[end] == '\r':
		end++
	default:
		return false
	}
	begin := l.at
	l.add(tHereStart, end)
	if quote == '\'' {
		l.nowdoc(label)
		return true
	}
	l.modes = append(l.modes, mode{label: label, start: begin})
	l.hereEnds(label)
	return true
}

// closes gives the end of a label that ends a heredoc, if one stands at the beginning of the line at a place.
func (l *lexer) closes(at int, label []byte) (end int, ok bool) {
	for at < len(l.src) && (l.src[at] == ' ' || l.src[at] == '\t') {
		at++
	}
	end = at + len(label)
	if !bytes.HasPrefix(l.src[at:], label) || end < len(l.src) && continues(l.src[end]) {
		return 0, false
	}
	return end, true
}

// hereEnds ends a heredoc whose label stands at the place, which is the beginning of a line.
func (l *lexer) hereEnds(label []byte) bool {
	end, ok := l.closes(l.at, label)
	if ok {
		l.modes = l.modes[:len(l.modes)-1]
		l.add(tHereEnd, end)
	}
	return ok
}

func (l *lexer) nowdoc(label []byte) {
	for at := l.at; ; {
		if end, ok := l.closes(at, label); ok {
			if at > l.at {
				l.add(tPart, at)
			}
			l.add(tHereEnd, end)
			return
		}
		line := bytes.IndexByte(l.src[at:], '\n')
		if line < 0 {
			l.add(tUnfinished, len(l.src))
			return
		}
		at += line + 1
	}
}

// inString reads a piece of a string into which something is put.
func (l *lexer) inString(m *mode) {
	at := l.at
	text := func() {
		if at > l.at {
			l.add(tPart, at)
		}
	}
	for at < len(l.src) {
		switch c := l.src[at]; {
		case c == '\\':
			at += 2
			if m.label != nil && at <= len(l.src) && l.src[at-1] == '\n' { // the line ends all the same
				at--
			}
			continue
		case c == m.quote && m.label == nil:
			text()
			l.modes = l.modes[:len(l.modes)-1]
			l.add(tQuote, l.at+1)
			return
		case c == '\n' && m.label != nil: // only at the beginning of a line can the label end it
			at++
			if _, ends := l.closes(at, m.label); ends {
				text()
				l.hereEnds(m.label)
				return
			}
			continue
		case puts(l.src[at:]):
			text()
			l.putIn()
			return
		}
		at++
	}
	l.at = m.start
	l.add(tUnfinished, len(l.src))
}

// putIn reads what is put into a string: a variable with one step behind it, or code in braces.
func (l *lexer) putIn() {
	if l.src[l.at] == '{' {
		l.modes = append(l.modes, mode{quote: '}', start: l.at})
		l.add(tPutIn, l.at+1)
		return
	}
	if l.src[l.at+1] == '{' {
		l.modes = append(l.modes, mode{quote: '}', start: l.at})
		l.add(tPutIn, l.at+2)
		if end := l.word(l.at); end > l.at && end < len(l.src) && (l.src[end] == '[' || l.src[end] == '}') {
			l.add(tVariable, end)
		}
		return
	}
	l.add(tVariable, l.word(l.at+1))
	switch {
	case l.peek(0) == '[':
		end := l.at + 1
		for end < len(l.src) && (continues(l.src[end]) || l.src[end] == '$' || l.src[end] == '-') {
			end++
		}
		if end < len(l.src) && l.src[end] == ']' {
			l.at = end + 1
		}
	case l.peek(0) == '-' && l.peek(1) == '>' && begins(l.peek(2)):
		l.at = l.word(l.at + 2)
	case l.peek(0) == '?' && l.peek(1) == '-' && l.peek(2) == '>' && begins(l.peek(3)):
		l.at = l.word(l.at + 3)
	}
}
