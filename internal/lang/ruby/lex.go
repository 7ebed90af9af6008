package ruby

import (
	"bytes"
	"slices"

	"crookedshelf/internal/text"
)

// This file cuts a text into tokens (docs.ruby-lang.org/en/3.1/syntax/literals_rdoc.html, and the state that the
// language's own reader keeps). What / % ? : < and [ mean follows from what stands before them: an operand, an operator,
// or the name of a method that may have arguments without brackets.
//
// The body of a here document is cut where its tag stands: its tokens follow the tag, and lie behind it in the text. The
// reader passes it when it comes to the end of the line.

// kind is what a token is.
type kind uint8

const (
	tEnd        kind = iota
	tNewline         // the end of a statement: a line end, or ;
	tName            // a name that begins with a small letter, with its ? or !
	tConst           // one that begins with a capital
	tKey             // a word of the language
	tVar             // @a, @@a, $a
	tNumber          //
	tChar            // ?a
	tLabel           // a: with its colon
	tString          // a string in quotes in which nothing is put
	tSymbol          // :a
	tOpen            // what begins a literal that has parts
	tPart            // a text in one
	tHole            // #{
	tHoleEnd         // }
	tClose           // what ends a literal that has parts
	tOperator        // all else; the one byte of punctuation, or several
	tUnfinished      // what begins here has no end
)

// What a literal is, as the lit of its tokens.
const (
	litText   = '"'
	litRaw    = '\''
	litShell  = '`'
	litRegexp = '/'
	litSymbol = ':'
	litWords  = 'w' // %w and %W
	litNames  = 'i' // %i and %I
	litHere   = '<'
)

// token is a part of the text.
type token struct {
	start, end int32
	kind       kind
	lit        byte // of a literal: what it is; of an operator of one byte: that byte
	space      bool // blanks stand before it
	opens      bool // of a word: an end belongs to it
	value      bool // it stands where a value may begin
	head       bool // of a method: its name, and the bracket that closes its parameters
}

// state is what the token before makes of what follows.
type state uint8

const (
	sBeg     state = iota // a value is expected
	sBegName              // a value, or a label
	sMid                  // a value, or the end of the line: behind return
	sLabeled              // a value, behind a label
	sArg                  // an operator, or an argument without brackets
	sEnd                  // an operator: an operand stands before
	sEndName              // an operator, or a label
	sFname                // the name of a method: behind def
	sDot                  // the name of a method: behind a dot
	sClass                // behind class
)

func (s state) begins() bool { return s <= sLabeled || s == sClass }
func (s state) ends() bool   { return s == sEnd || s == sEndName }

// ofName has the bytes that names consist of. All bytes beyond ASCII count.
var ofName = func() (out [256]bool) {
	for c := range out {
		out[c] = letter(byte(c)) || digit(byte(c))
	}
	return out
}()

func digit(c byte) bool   { return c >= '0' && c <= '9' }
func letter(c byte) bool  { return c|0x20 >= 'a' && c|0x20 <= 'z' || c == '_' || c >= 0x80 }
func capital(c byte) bool { return c >= 'A' && c <= 'Z' }
func isBlank(c byte) bool { return c == ' ' || c == '\t' || c == '\r' || c == '\f' || c == '\v' }

// lexer cuts a text into tokens.
type lexer struct {
	src    []byte
	i      int
	tokens []token
	state  state
	def    uint8 // how far the head of a method is read
	head   int   // how many brackets are open in the parameters of a method; 0 for none
	fresh  uint8 // how many names of methods follow, behind alias
	undef  bool  // names of methods follow, with commas between
	known  *variables
	left   []*variables // those of parts that ended, empty, for parts to come
	same   *text.Same
	words  []scope // what is open that an end closes
	blocks []bool  // beside words: it is a block
	braces []scope // the blocks that } closes
	params params  // names are those of variables
	here   int     // where the line goes on that has here documents; 0 for a line without
	open   []byte  // the brackets that are open: ( [ { for a hash, b for a block, # for a hole
	loops  []int   // how many brackets are open at the heads of loops, whose do belongs to them
	caught bool    // the line has a rescue or a pattern, whose => gives a variable
	depth  int
	end    int // where __END__ stands; else the end of the text
}

// variables are the names of variables at a place.
type variables struct {
	names map[string]int
	order []string
}

func (l *lexer) declare(name []byte) {
	text := l.same.Of(name)
	l.known.names[text]++
	l.known.order = append(l.known.order, text)
}

func (v *variables) has(name []byte) bool { return len(v.names) > 0 && v.names[string(name)] > 0 }

// scope is what was known before something began.
type scope struct {
	known *variables
	mark  int
}

// enter begins a part of code. closed: it sees none of the variables around it.
func (l *lexer) enter(closed bool) scope {
	s := scope{l.known, len(l.known.order)}
	if n := len(l.left); closed && n > 0 {
		l.known, l.left = l.left[n-1], l.left[:n-1]
	} else if closed {
		l.known = &variables{names: map[string]int{}}
	}
	return s
}

// leave ends it. The variables of words such as if and while stay.
func (l *lexer) leave(s scope, block bool) {
	if l.known != s.known {
		clear(l.known.names)
		l.known.order = l.known.order[:0]
		l.left = append(l.left, l.known)
	}
	l.known = s.known
	if !block {
		return
	}
	if s.mark > len(l.known.order) { // words and brackets that do not fit one another
		return
	}
	for _, name := range l.known.order[s.mark:] {
		l.known.names[name]--
	}
	l.known.order = l.known.order[:s.mark]
}

// params says which names are those of variables, since they are declared.
type params uint8

const (
	noParams  params = iota
	inBars           // |a, b|
	inLambda         // ->(a) {
	inDef            // def f(a) or def f a
	inLoop           // for a in
	inPattern        // in {a:, b: c}
)

// deepest is how deep literals may stand in the holes of others.
const deepest = 100

// lex cuts a text into tokens, with one of kind tEnd behind the last. It gives the place of __END__ too, or the end.
func lex(src []byte, with *scratch) ([]token, int) {
	l := lexer{src: src, tokens: with.tokens[:0], same: with.same, known: &variables{names: map[string]int{}}, end: len(src)}
	if bytes.HasPrefix(src, []byte("\xEF\xBB\xBF")) {
		l.i = 3
	}
	l.code(0)
	l.tokens = append(l.tokens, token{start: int32(len(src)), end: int32(len(src)), kind: tEnd})
	with.tokens = l.tokens
	return l.tokens, l.end
}

func (l *lexer) at(i int) byte {
	if uint(i) < uint(len(l.src)) {
		return l.src[i]
	}
	return 0
}

// add adds a token, and gives the state behind it.
func (l *lexer) add(start, end int, k kind, lit byte, space bool, next state) *token {
	n := len(l.tokens)
	if n == cap(l.tokens) {
		l.tokens = slices.Grow(l.tokens, 64)
	}
	l.tokens = l.tokens[:n+1]
	t := &l.tokens[n] // field by field: a value of that size is written twice
	t.start, t.end, t.kind, t.lit, t.space = int32(start), int32(end), k, lit, space
	t.opens, t.value, t.head = false, l.state.begins(), false
	l.state = next
	if l.fresh > 0 && (k == tName || k == tConst || k == tSymbol || k == tVar) {
		if l.fresh--; l.fresh > 0 {
			l.state = sFname
		}
	}
	return t
}

// unfinished ends the reading where something has no end.
func (l *lexer) unfinished(start int) {
	l.add(start, len(l.src), tUnfinished, 0, false, sEnd)
	l.i = len(l.src)
}

// code reads code: up to the end, or in a hole up to the brace that closes it. base is how many brackets are open around.
func (l *lexer) code(base int) {
	src := l.src
	for l.i < len(src) {
		i := l.i
		for i < len(src) && src[i] <= ' ' && isBlank(src[i]) {
			i++
		}
		space := i > l.i
		l.i = i
		if i >= len(src) {
			return
		}
		c := src[i]
		switch {
		case c == '\n':
			l.lineEnd()
		case c == '\\' && (l.at(i+1) == '\n' || l.at(i+1) == '\r' && l.at(i+2) == '\n'):
			l.i = l.nextLine(i + 1 + b2i(l.at(i+1) == '\r'))
		case c == '#':
			l.i = text.LineEnd(src, i)
		case c == '=' && l.comment():
		case c == '_' && l.ends():
			l.end, l.i = i, len(src)
			return
		case letter(c):
			l.word(space)
		case digit(c):
			l.i = number(src, i)
			l.add(i, l.i, tNumber, 0, space, sEnd)
		case c == '}' && len(l.open) == base && base > 0:
			return
		default:
			if !l.sign(c, space) {
				return
			}
		}
	}
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// nextLine gives the beginning of the line behind a line end, behind the here documents of the line.
func (l *lexer) nextLine(at int) int {
	if l.here > at {
		at, l.here = l.here, 0
		return at
	}
	l.here = 0
	return at + 1
}

// lineEnd reads a line end: it ends a statement, unless something is expected, or the next line begins with a dot.
func (l *lexer) lineEnd() {
	at := l.i
	next := l.nextLine(at)
	l.i = next
	l.caught = false
	switch l.state {
	case sBeg, sBegName, sFname, sDot, sClass, sLabeled:
		return
	}
	for k := next; k < len(l.src); k++ { // the next line that is no comment
		for k < len(l.src) && (isBlank(l.src[k]) || l.src[k] == '\n') {
			k++
		}
		if l.at(k) == '#' {
			k = text.LineEnd(l.src, k)
			continue
		}
		if l.at(k) == '.' && l.at(k+1) != '.' || l.at(k) == '&' && l.at(k+1) == '.' {
			return
		}
		break
	}
	l.statementEnds(at)
}

func (l *lexer) statementEnds(at int) {
	l.add(at, at+1, tNewline, 0, false, sBeg)
	l.caught, l.undef, l.fresh = false, false, 0
	if l.params != inBars {
		l.params = noParams
	}
	if n := len(l.loops); n > 0 && l.loops[n-1] == len(l.open) {
		l.loops = l.loops[:n-1]
	}
}

// comment passes =begin … =end.
func (l *lexer) comment() bool {
	src, i := l.src, l.i
	if i > 0 && src[i-1] != '\n' || !bytes.HasPrefix(src[i:], []byte("=begin")) || ofName[l.at(i+6)] {
		return false
	}
	for i < len(src) {
		end := text.LineEnd(src, i)
		if bytes.HasPrefix(src[i:end], []byte("=end")) && !ofName[l.at(i+4)] {
			l.i = end
			return true
		}
		i = end + 1
	}
	l.unfinished(l.i)
	return true
}

// ends says whether the text ends here, by __END__ alone on its line.
func (l *lexer) ends() bool {
	i := l.i
	return (i == 0 || l.src[i-1] == '\n') && bytes.HasPrefix(l.src[i:], []byte("__END__")) &&
		(i+7 == len(l.src) || l.src[i+7] == '\n' || l.src[i+7] == '\r') && l.depth == 0
}

// word reads a name or a word of the language.
func (l *lexer) word(space bool) {
	src, start := l.src, l.i
	i := start
	for i < len(src) && ofName[src[i]] {
		i++
	}
	c := l.at(i)
	if (c == '?' || c == '!') && l.at(i+1) != '=' || (c == '?' || c == '!') && l.at(i+1) == '=' && (l.at(i+2) == '=' || l.at(i+2) == '~' || l.at(i+2) == '>') {
		i++
	} else if c == '=' && l.state == sFname && l.def != 2 {
		if n := l.at(i + 1); n != '~' && n != '>' && (n != '=' || l.at(i+2) == '>') {
			i++
		}
	}
	l.i = i
	word := src[start:i]
	st := l.state
	if l.at(i) == ':' && l.at(i+1) != ':' && (st == sBegName || st == sArg || st == sEndName) {
		l.add(start, i+1, tLabel, 0, space, sLabeled)
		l.i = i + 1
		if l.params != noParams {
			l.declare(word)
		}
		return
	}
	k := tName
	if last := word[len(word)-1]; capital(word[0]) && last != '?' && last != '!' {
		k = tConst
	}
	switch st {
	case sDot:
		l.add(start, i, k, 0, space, sArg)
		return
	case sFname:
		if string(word) == "self" {
			k = tKey
		} else if l.def == 0 { // behind alias
			k = tName
		}
		l.add(start, i, k, 0, space, sEndName)
		switch l.def {
		case 1: // def a, or def a.b
			l.def = 2
			if l.at(i) == '.' || l.at(i) == ':' && l.at(i+1) == ':' {
				return
			}
			fallthrough
		case 3:
			l.headBegins()
		}
		return
	}
	if k == tName {
		if next, is := keyword(word); is {
			l.wordOf(string(word), next, space)
			return
		}
	} else if string(word) == "BEGIN" || string(word) == "END" {
		l.add(start, i, tKey, 0, space, sEnd)
		return
	}
	next := sArg
	if k == tName && (l.params != noParams || l.known.has(word)) {
		if l.params != noParams {
			l.declare(word)
		}
		next = sEndName
	}
	l.add(start, i, k, 0, space, next)
}

// keyword gives the state behind a word of the language; false for a word that is none.
func keyword(word []byte) (state, bool) {
	if len(word) < 2 || len(word) > 12 {
		return 0, false
	}
	switch string(word) {
	case "and", "begin", "case", "do", "else", "elsif", "ensure", "for", "if", "module", "or", "then", "unless", "until",
		"when", "while":
		return sBeg, true
	case "end", "false", "nil", "redo", "retry", "self", "true", "__FILE__", "__LINE__", "__ENCODING__":
		return sEnd, true
	case "break", "next", "rescue", "return":
		return sMid, true
	case "defined?", "not", "super", "yield":
		return sArg, true
	case "alias", "def", "undef":
		return sFname, true
	case "class":
		return sClass, true
	case "in":
		return sBegName, true
	}
	return 0, false
}

// wordOf reads a word of the language.
func (l *lexer) wordOf(word string, next state, space bool) {
	begins := l.state == sBeg || l.state == sBegName || l.state == sLabeled || l.state == sClass
	opens := false
	switch word {
	case "if", "unless", "while", "until", "rescue":
		if opens = begins && word != "rescue"; !begins { // behind a statement
			next = sBegName
		}
		if opens && (word == "while" || word == "until") {
			l.loops = append(l.loops, len(l.open))
		}
		l.caught = word == "rescue"
	case "case", "begin", "def", "class", "module":
		opens = true
		l.def = uint8(b2i(word == "def"))
	case "for":
		opens = true
		l.loops = append(l.loops, len(l.open))
		l.params = inLoop
	case "do":
		opens = true
		if n := len(l.loops); n > 0 && l.loops[n-1] == len(l.open) {
			l.loops, opens = l.loops[:n-1], false
		}
		if l.params == inLambda {
			l.params = noParams
		}
	case "in":
		if l.params == inLoop {
			l.params, next = noParams, sBeg
		} else if begins {
			l.params = inPattern
		}
	case "alias":
		defer func() { l.fresh = 2 }()
	case "undef":
		l.undef = true
	case "then":
		if l.params == inPattern {
			l.params = noParams
		}
	}
	switch n := len(l.words); {
	case opens:
		l.words = append(l.words, l.enter(word == "def" || word == "class" || word == "module"))
		l.blocks = append(l.blocks, word == "do")
	case word == "end" && n > 0:
		l.leave(l.words[n-1], l.blocks[n-1])
		l.words, l.blocks = l.words[:n-1], l.blocks[:n-1]
	}
	l.add(l.i-len(word), l.i, tKey, 0, space, next).opens = opens
}

// sign reads what is no word. It reports false where nothing more can be read.
func (l *lexer) sign(c byte, space bool) bool {
	src, i, st := l.src, l.i, l.state
	next := l.at(i + 1)
	// an argument without brackets may begin here: a blank stands before, and none behind
	argument := st == sArg && space && !text.Space(next)
	switch c {
	case '"', '\'':
		label := st == sBegName || st == sArg || st == sEndName
		return l.quoted(i, i+1, c, c, c == '"', c, space, label)
	case '`':
		if st == sFname || st == sDot {
			l.name(1, space)
			return true
		}
		return l.quoted(i, i+1, c, c, true, litShell, space, false)
	case '@', '$':
		l.variable(space)
		return true
	case '/':
		if st.begins() || argument && next != '=' {
			return l.quoted(i, i+1, c, c, true, litRegexp, space, false)
		}
	case '%':
		if st.begins() || argument && next != '=' {
			if done, ok := l.percent(space); done {
				return ok
			}
		}
	case '?':
		if end := l.character(); end > 0 {
			l.i = end
			l.add(i, end, tChar, 0, space, sEnd)
			return true
		}
	case '<':
		if next == '<' && st != sDot && st != sClass && st != sFname && !st.ends() && (st != sArg || space) {
			if done, ok := l.hereDocument(space); done {
				return ok
			}
		}
	case ':':
		if next == ':' {
			l.colons(space)
			return true
		}
		if !st.ends() && next != '#' && !text.Space(next) && i+1 < len(src) || st == sFname {
			return l.symbol(space)
		}
	case '.':
		switch {
		case next == '.' && l.at(i+2) == '.':
			l.operator(3, sBeg, space)
		case next == '.':
			l.operator(2, sBeg, space)
		case l.def == 2:
			l.def = 3
			l.operator(1, sFname, space)
		default:
			l.operator(1, sDot, space)
		}
		return true
	case '&':
		if next == '.' {
			l.operator(2, sDot, space)
			return true
		}
	case ';':
		l.statementEnds(i)
		l.i++
		return true
	}
	if st == sFname || st == sDot {
		if n := methodSign(src[i:]); n > 0 {
			l.name(n, space)
			return true
		}
	}
	l.punctuation(c, next, space)
	return true
}

// name reads a sign that is the name of a method.
func (l *lexer) name(n int, space bool) {
	next := sArg
	if l.state == sFname {
		next = sEndName
	}
	l.add(l.i, l.i+n, tName, 0, space, next)
	l.i += n
	if l.def > 0 {
		l.headBegins()
	}
}

// headBegins notes that the name of a method was read, and its parameters follow.
func (l *lexer) headBegins() {
	l.def, l.params = 0, inDef
	l.tokens[len(l.tokens)-1].head = true
}

// methodSigns are the names of methods that are signs, the longest first.
var methodSigns = [][]byte{[]byte("[]="), []byte("<=>"), []byte("==="), []byte("[]"), []byte("=="), []byte("=~"),
	[]byte("!="), []byte("!~"), []byte("**"), []byte("+@"), []byte("-@"), []byte("~@"), []byte("!@"), []byte("<<"), []byte(">>"),
	[]byte("<="), []byte(">="), []byte("+"), []byte("-"), []byte("*"), []byte("/"), []byte("%"), []byte("<"), []byte(">"),
	[]byte("!"), []byte("&"), []byte("|"), []byte("^"), []byte("~"), []byte("`")}

func methodSign(src []byte) int {
	for _, sign := range methodSigns {
		if bytes.HasPrefix(src, sign) {
			return len(sign)
		}
	}
	return 0
}

// colons reads ::, which selects a constant in what stands before it, or begins a name at the top.
func (l *lexer) colons(space bool) {
	st := l.state
	if st.begins() || st == sArg && space && !text.Space(l.at(l.i+2)) {
		l.operator(2, sBeg, space)
		l.tokens[len(l.tokens)-1].value = true
		return
	}
	if l.def == 2 {
		l.def = 3
		l.operator(2, sFname, space)
		return
	}
	l.operator(2, sDot, space)
}

func (l *lexer) operator(n int, next state, space bool) {
	lit := byte(0)
	if n == 1 {
		lit = l.src[l.i]
	}
	l.add(l.i, l.i+n, tOperator, lit, space, next)
	l.i += n
}

// punctuation reads brackets and operators.
func (l *lexer) punctuation(c, next byte, space bool) {
	i := l.i
	switch c {
	case '(', '[':
		l.open = append(l.open, c)
		if n := len(l.tokens); c == '(' && l.params == inDef && l.head == 0 && n > 0 && l.tokens[n-1].head {
			l.head = len(l.open)
		}
		l.operator(1, sBegName, space)
		return
	case '{':
		if l.state == sEnd || l.state == sEndName || l.state == sArg {
			l.open = append(l.open, 'b')
			l.braces = append(l.braces, l.enter(false))
			l.operator(1, sBeg, space)
		} else {
			l.open = append(l.open, '{')
			l.operator(1, sBegName, space)
		}
		if l.params == inLambda {
			l.params = noParams
		}
		return
	case ')', ']', '}':
		if n := len(l.open); n > 0 {
			if k := len(l.braces); l.open[n-1] == 'b' && k > 0 {
				l.leave(l.braces[k-1], true)
				l.braces = l.braces[:k-1]
			}
			l.open = l.open[:n-1]
		}
		if c == ')' && l.head == len(l.open)+1 { // the parameters of a method
			l.params, l.head = noParams, 0
			l.operator(1, sBeg, space)
			l.tokens[len(l.tokens)-1].head = true
			return
		}
		if c == ')' {
			l.operator(1, sEndName, space)
		} else {
			l.operator(1, sEnd, space)
		}
		return
	case ',':
		if l.operator(1, sBegName, space); l.undef {
			l.state = sFname
		}
		return
	case '|':
		switch {
		case l.params == inBars:
			l.params = noParams
		case l.barsBegin():
			l.params = inBars
		case next == '|' || next == '=':
			l.assigns(2, space)
			return
		}
		l.operator(1, sBegName, space)
		return
	case '-':
		if next == '>' {
			l.params = inLambda
			l.operator(2, sEndName, space)
			return
		}
	case '=':
		switch {
		case next == '>':
			if l.operator(2, sBeg, space); l.caught {
				k := i + 2
				for isBlank(l.at(k)) {
					k++
				}
				from := k
				for ofName[l.at(k)] {
					k++
				}
				l.declare(l.src[from:k])
			}
			return
		case next == '=' && l.at(i+2) == '=':
			l.operator(3, sBeg, space)
			return
		case next == '=' || next == '~':
			l.operator(2, sBeg, space)
			return
		}
		if n := len(l.tokens); n > 0 && l.tokens[n-1].head && len(l.words) > 0 { // def a = b
			l.leave(l.words[len(l.words)-1], true)
			l.words, l.blocks = l.words[:len(l.words)-1], l.blocks[:len(l.blocks)-1]
			l.params = noParams
		} else {
			l.assigned(len(l.tokens) - 1)
		}
		l.operator(1, sBeg, space)
		return
	}
	n := 1
	switch {
	case c == next && (c == '&' || c == '*' || c == '<' || c == '>'):
		n = 2
	case c == '<' && next == '=' && l.at(i+2) == '>':
		l.operator(3, sBeg, space)
		return
	case c == '!' && (next == '=' || next == '~'), (c == '<' || c == '>') && next == '=':
		l.operator(2, sBeg, space)
		return
	}
	l.assigns(n, space)
}

// barsBegin says whether | begins the parameters of a block.
func (l *lexer) barsBegin() bool {
	n := len(l.tokens)
	if n == 0 {
		return false
	}
	t := &l.tokens[n-1]
	return t.kind == tKey && string(l.src[t.start:t.end]) == "do" ||
		t.kind == tOperator && t.lit == '{' && len(l.open) > 0 && (l.open[len(l.open)-1] == 'b' || l.state.begins())
}

// assigns reads an operator of some bytes, which may assign.
func (l *lexer) assigns(n int, space bool) {
	if l.at(l.i+n) == '=' && l.at(l.i+n+1) != '=' && l.at(l.i+n+1) != '~' && l.src[l.i] != '~' && l.src[l.i] != '!' &&
		l.src[l.i] != '?' && l.src[l.i] != ':' {
		l.assigned(len(l.tokens) - 1)
		n++
	} else if l.src[l.i] == '|' && n == 2 && l.at(l.i+1) == '=' {
		l.assigned(len(l.tokens) - 1)
	}
	l.operator(n, sBeg, space)
}

// assigned notes the variables that get a value: those before an operator that assigns.
func (l *lexer) assigned(k int) {
	for ; k >= 0; k-- {
		t := &l.tokens[k]
		switch {
		case t.kind == tName:
			if k > 0 && l.tokens[k-1].kind == tOperator && (l.tokens[k-1].lit == '.' || l.tokens[k-1].end-l.tokens[k-1].start == 2) {
				return
			}
			l.declare(l.src[t.start:t.end])
		case t.kind == tOperator && (t.lit == ',' || t.lit == '*' || t.lit == '(' && t.value || t.lit == ')'):
		default:
			return
		}
		if t.kind == tName && (k == 0 || l.tokens[k-1].kind != tOperator || l.tokens[k-1].lit != ',' && l.tokens[k-1].lit != '*' &&
			l.tokens[k-1].lit != '(') {
			return
		}
	}
}

// variable reads @a, @@a and $a.
func (l *lexer) variable(space bool) {
	src, start := l.src, l.i
	i := start + 1
	if src[start] == '@' && l.at(i) == '@' {
		i++
	}
	switch {
	case ofName[l.at(i)]:
		for ofName[l.at(i)] {
			i++
		}
	case src[start] == '$' && l.at(i) == '-':
		i += 2
	case src[start] == '$' && i < len(src):
		i++
	}
	l.i = i
	next := sEnd
	if l.state == sFname {
		next = sEndName
		if l.def == 1 {
			l.def = 2
		}
	}
	l.add(start, i, tVar, 0, space, next)
}

// character gives the end of ?a; 0 where ? is an operator.
func (l *lexer) character() int {
	i := l.i + 1
	c := l.at(i)
	if l.state.ends() || i >= len(l.src) || text.Space(c) {
		return 0
	}
	switch {
	case c == '\\':
		return l.escape(i)
	case c >= 0x80:
		for i++; l.at(i)&0xC0 == 0x80; i++ {
		}
		return i
	case ofName[c] && ofName[l.at(i+1)]:
		return 0
	}
	return i + 1
}

// escape gives the end of an escape: \n, \C-a, \M-\C-a, \u{41}, \x41, \101.
func (l *lexer) escape(i int) int {
	switch c := l.at(i + 1); {
	case c == 'u' && l.at(i+2) == '{':
		if n := bytes.IndexByte(l.src[i:], '}'); n > 0 {
			return i + n + 1
		}
	case c == 'u' || c == 'x':
		k := i + 2
		for most := map[byte]int{'u': 4, 'x': 2}[c]; most > 0 && (digit(l.at(k)) || l.at(k)|0x20 >= 'a' && l.at(k)|0x20 <= 'f'); most-- {
			k++
		}
		return k
	case (c == 'C' || c == 'M') && l.at(i+2) == '-', c == 'c':
		k := i + 3
		if c == 'c' {
			k = i + 2
		}
		if l.at(k) == '\\' {
			return l.escape(k)
		}
		return k + 1
	case digit(c):
		k := i + 2
		for n := 0; n < 2 && digit(l.at(k)); n++ {
			k++
		}
		return k
	}
	return min(i+2, len(l.src))
}

// number gives the end of a number.
func number(src []byte, i int) int {
	point := false
	for i++; i < len(src); i++ {
		switch c := src[i]; {
		case digit(c) || c == '_' || c|0x20 >= 'a' && c|0x20 <= 'z':
		case c == '.' && !point && i+1 < len(src) && digit(src[i+1]):
			point = true
		case (c == '+' || c == '-') && src[i-1]|0x20 == 'e' && i+1 < len(src) && digit(src[i+1]):
		default:
			return i
		}
	}
	return i
}

// symbol reads :a, :"a" and :+.
func (l *lexer) symbol(space bool) bool {
	i := l.i
	next := sEnd
	if l.state == sFname {
		next = sEndName
	}
	switch c := l.at(i + 1); {
	case c == '"' || c == '\'':
		return l.quoted(i, i+2, c, c, c == '"', litSymbol, space, false)
	case letter(c):
		k := i + 1
		for ofName[l.at(k)] {
			k++
		}
		switch n := l.at(k + 1); {
		case (l.at(k) == '?' || l.at(k) == '!') && n != '=':
			k++
		case l.at(k) == '=' && n != '~' && n != '>' && (n != '=' || l.at(k+2) == '>'):
			k++
		}
		l.i = k
		l.add(i, k, tSymbol, litSymbol, space, next)
	case c == '@' || c == '$':
		l.i = i + 1
		at := len(l.tokens)
		l.variable(space)
		l.tokens[at].start, l.tokens[at].kind, l.tokens[at].lit = int32(i), tSymbol, litSymbol
		l.state = next
	default:
		n := methodSign(l.src[i+1:])
		if n == 0 {
			l.operator(1, sBeg, space)
			return true
		}
		l.i = i + 1 + n
		l.add(i, l.i, tSymbol, litSymbol, space, next)
	}
	return true
}
