package ruby

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file walks over tokens and says what a text declares and uses (docs.ruby-lang.org/en/3.1/syntax/
// modules_and_classes_rdoc.html). It builds no tree: which module a place is in follows from the words that an end
// belongs to.

type parser struct {
	src     []byte
	t       []token
	i       int
	f       *file
	same    *text.Same
	stack   []frame
	space   int
	late    int // how many methods the place is in
	pending int // the class whose head is read; -1 for none
	depth   int // how many frames are open at its head
	super   bool
	pattern bool // in a, of a case
	args    []argument
	heres   []bool          // the here documents that are open: they are indented
	open    bool            // what is open need not be closed
	under   string          // of routes: the modules that the controllers stand in
	endless string          // the method that ends with its statement
	ends    int             // how many frames are open around that
	methods []string        // the methods that the place is in
	closed  argument        // the list of arguments that was closed last
	folded  int             // where the last path ends, in bytes
	holds   map[string]bool // the constants and variables that stand for a path
}

// frame is something that is open: a word with its end, or a bracket.
type frame struct {
	what  byte // e for a word, c for a module or a class, d for a method, else the bracket
	space int
	at    int
	under string
}

// argument is a list of arguments that is open.
type argument struct {
	method string
	depth  int // how many frames are open in it
	number int32
	key    string
	text   source.Span // its first string; empty for none, as are these two
	first  source.Span // its first argument, if it is a text
	module source.Span // the text behind module:
	round  bool        // it stands in brackets
}

func (p *parser) kind(i int) kind {
	if uint(i) < uint(len(p.t)) {
		return p.t[i].kind
	}
	return tEnd
}

func (p *parser) raw(i int) []byte { return p.src[p.t[i].start:p.t[i].end] }

func (p *parser) text(at source.Span) string { return string(p.src[at.Start:at.End]) }

// is says whether a token is a name or a word of the language.
func (p *parser) is(i int, word string) bool {
	k := p.kind(i)
	return (k == tName || k == tKey) && string(p.raw(i)) == word
}

// sign gives the byte of an operator of one byte; 0 for all else.
func (p *parser) sign(i int) byte {
	if p.kind(i) == tOperator {
		return p.t[i].lit
	}
	return 0
}

// op says whether a token is an operator.
func (p *parser) op(i int, sign string) bool {
	return p.kind(i) == tOperator && string(p.raw(i)) == sign
}

func span(t token) source.Span { return source.Span{Start: int(t.start), End: int(t.end)} }

// parse reads what a text says.
func parse(src []byte, tokens []token, end int, with *scratch, open bool) (*file, error) {
	p := &parser{src: src, args: with.args[:0], stack: with.stack[:0], t: tokens, same: with.same, pending: -1, holds: map[string]bool{}, open: open,
		f: &file{spaces: append(with.spaces[:0], space{owner: -1, super: -1, tail: end}), first: end, end: end}}
	if len(tokens) > 0 && tokens[0].kind != tEnd {
		p.f.first = int(tokens[0].start)
	}
	p.f.uses, p.f.texts = with.uses[:0], with.texts[:0]
	for p.kind(p.i) != tEnd {
		if err := p.token(); err != nil {
			return nil, err
		}
	}
	with.spaces, with.uses, with.texts, with.args, with.stack = p.f.spaces, p.f.uses, p.f.texts, p.args, p.stack
	p.f.spaces, p.f.uses, p.f.texts = slices.Clone(p.f.spaces), slices.Clone(p.f.uses), slices.Clone(p.f.texts)
	for i := range p.f.spaces[1:] {
		if s := &p.f.spaces[i+1]; s.tail < s.from {
			s.tail = len(src)
			s.head = min(max(s.head, s.at.End), len(src))
		}
	}
	if n := len(p.stack); n > 0 && !open {
		return nil, p.fail(p.stack[n-1].at, "what begins here has no end")
	}
	return p.f, nil
}

func (p *parser) fail(at int, why string) error {
	pos := source.PositionAt(p.src, at)
	return &lang.ScanError{Message: fmt.Sprintf("line %d, column %d: %s", pos.Line, at-text.LineStart(p.src, at)+1, why)}
}

func (p *parser) push(what byte, at int) {
	p.stack = append(p.stack, frame{what, p.space, at, p.under})
}

// pop closes what is open.
func (p *parser) pop(what byte) error {
	n := len(p.stack)
	at := int(p.t[p.i].start)
	if p.open && (n == 0 || p.stack[n-1].what == 'e' != (what == 'e')) {
		return nil
	}
	if n == 0 {
		return p.fail(at, "nothing is open that this closes")
	}
	f := p.stack[n-1]
	if words := f.what == 'e' || f.what == 'c' || f.what == 'd'; words != (what == 'e') || !words && f.what != what {
		return p.fail(f.at, "what begins here is closed by something else")
	}
	p.stack = p.stack[:n-1]
	if f.what == 'c' && f.space != p.space {
		p.f.spaces[p.space].tail = at
	}
	if f.what == 'd' {
		p.late--
		p.methods = p.methods[:len(p.methods)-1]
	}
	p.space, p.under = f.space, f.under
	for k := len(p.args); k > 0 && p.args[k-1].depth > n-1; k-- {
		p.closed = p.args[k-1]
		p.args = p.args[:k-1]
	}
	return nil
}

// token reads one token, or what begins with it.
func (p *parser) token() error {
	i := p.i
	t := &p.t[i]
	p.folds()
	switch t.kind {
	case tNewline:
		p.statementEnds()
	case tKey:
		return p.word()
	case tConst:
		p.constant()
		return nil
	case tLabel:
		if n := len(p.args); n > 0 && p.args[n-1].depth >= len(p.stack) {
			p.args[n-1].key = p.same.Of(p.src[t.start : t.end-1])
		}
	case tName:
		p.name()
	case tString:
		p.string()
	case tSymbol:
		p.symbol()
	case tUnfinished:
		return p.fail(int(t.start), "what begins here has no end")
	case tHole:
		p.push('#', int(t.start))
	case tHoleEnd:
		return p.closes('#')
	case tOpen, tPart, tClose:
		p.literal(t)
		if t.kind == tPart && t.lit == litText && p.kind(i-1) == tOpen && p.kind(i+1) == tHole {
			p.head(t)
		}
	case tOperator:
		switch t.lit {
		case '(', '[', '{':
			p.push(t.lit, int(t.start))
			if t.lit == '{' && i > 0 && p.sign(i-1) == ')' {
				p.scoped()
			}
		case ')':
			return p.closes('(')
		case ']':
			return p.closes('[')
		case '}':
			return p.closes('{')
		case ',':
			if n := len(p.args); n > 0 && p.args[n-1].depth == len(p.stack) {
				p.args[n-1].number++
				p.args[n-1].key = ""
			}
		}
	}
	if t.kind != tNewline && p.pending < 0 {
		p.fills()
	}
	p.i++
	return nil
}

// literal notes the lines of a text of several lines. Those of a here document that is indented may be moved.
func (p *parser) literal(t *token) {
	if t.lit == litHere && t.kind == tOpen {
		p.heres = append(p.heres, p.src[t.start+2] == '~')
	} else if n := len(p.heres); t.lit == litHere && t.kind == tClose && n > 0 {
		p.heres = p.heres[:n-1]
	}
	if t.kind == tOpen || t.lit == litWords || t.lit == litNames || bytes.IndexByte(p.src[t.start:t.end], '\n') < 0 {
		return
	}
	if t.lit == litHere && len(p.heres) > 0 && p.heres[len(p.heres)-1] {
		return
	}
	p.f.lines = append(p.f.lines, span(*t))
}

// fills notes that something else than modules stands in the module at hand.
func (p *parser) fills() { p.f.spaces[p.space].more = true }

func (p *parser) closes(what byte) error {
	err := p.pop(what)
	p.i++
	return err
}

func (p *parser) statementEnds() {
	p.pattern = false
	if p.endless != "" && len(p.stack) <= p.ends {
		p.endless = ""
	}
	for n := len(p.args); n > 0 && p.args[n-1].depth == len(p.stack) && !p.args[n-1].round; n-- {
		p.args = p.args[:n-1]
	}
	if p.pending >= 0 && len(p.stack) == p.depth {
		p.enter()
	}
}

// enter goes into the module or class whose head was read.
func (p *parser) enter() {
	s := &p.f.spaces[p.pending]
	s.head = int(p.t[max(p.i-1, 0)].end)
	p.push('c', s.from)
	p.space, p.pending = p.pending, -1
}

// word reads a word of the language.
func (p *parser) word() error {
	i := p.i
	at := int(p.t[i].start)
	switch string(p.raw(i)) {
	case "end":
		if err := p.pop('e'); err != nil {
			return err
		}
	case "class", "module":
		if p.t[i].opens {
			p.module()
			return nil
		}
	case "def":
		p.fills()
		p.method()
		return nil
	case "in":
		p.pattern = p.t[i].value
		p.fills()
	case "then":
		p.pattern = false
	default:
		if p.t[i].opens {
			p.push('e', at)
			if p.is(i, "do") {
				p.scoped()
			}
		}
		p.fills()
	}
	p.i++
	return nil
}

// module reads the head of a module or a class.
func (p *parser) module() {
	i := p.i
	from := int(p.t[i].start)
	class := p.is(i, "class")
	p.i++
	if class && p.op(p.i, "<<") {
		p.fills()
		p.push('e', from)
		p.i++
		return
	}
	s := space{owner: p.space, class: class, super: -1, from: from, late: p.late > 0}
	start := p.i
	if p.op(p.i, "::") {
		p.i++
	}
	if p.kind(p.i) == tConst {
		p.i++
		for p.op(p.i, "::") && p.kind(p.i+1) == tConst {
			p.i += 2
		}
		s.at = source.Span{Start: int(p.t[start].start), End: int(p.t[p.i-1].end)}
		s.name = p.chain(start, p.i)
		if at := strings.LastIndex(s.name, "::"); at > 0 { // what it stands in
			end := int(p.t[p.i-3].end)
			p.f.uses = append(p.f.uses, use{at: source.Span{Start: s.at.Start, End: end}, text: s.name[:at], space: int32(p.space),
				late: p.late > 0, opens: int32(len(p.f.spaces))})
		}
	} else {
		s.at = source.Span{Start: from, End: from}
	}
	p.f.spaces = append(p.f.spaces, s)
	p.pending, p.depth, p.super = len(p.f.spaces)-1, len(p.stack), false
	if s.name == "" { // class a::B: up to the end of the head
		p.f.spaces[p.pending].other = true
		return
	}
	if !p.op(p.i, "<") {
		p.enter()
		return
	}
	p.i++
	p.super = true
	if k := p.kind(p.i); k != tConst && !p.op(p.i, "::") {
		p.f.spaces[p.pending].other = true
		p.super = false
	}
}

// chain is the text of a chain of constants between two tokens, without blanks.
func (p *parser) chain(from, to int) string {
	if to-from == 1 {
		return p.same.Of(p.raw(from))
	}
	raw := p.src[p.t[from].start:p.t[to-1].end]
	if !bytes.ContainsAny(raw, " \t\n\r#\\") {
		return p.same.Of(raw)
	}
	var out strings.Builder
	for i := from; i < to; i++ {
		out.Write(p.raw(i))
	}
	return out.String()
}

// method reads the head of a method: def a, def self.a, def a = 1.
func (p *parser) method() {
	at := int(p.t[p.i].start)
	k := p.i + 1
	if p.kind(k) == tConst && (p.sign(k+1) == '.' || p.op(k+1, "::")) { // def A.b
		p.f.uses = append(p.f.uses, use{at: span(p.t[k]), text: p.same.Of(p.raw(k)), space: int32(p.space), late: p.late > 0})
	}
	if p.sign(k) == '(' { // def (a).b
		k = p.closing(k)
	} else {
		k++
	}
	if p.sign(k) == '.' || p.op(k, "::") {
		k += 2
	}
	name := k
	if p.sign(k) == '(' {
		k = p.closing(k)
	}
	p.i = name
	if p.sign(k) == '=' && p.t[k].kind == tOperator { // without an end
		p.endless, p.ends = string(p.raw(name-1)), len(p.stack)
		return
	}
	p.push('d', at)
	p.late++
	p.methods = append(p.methods, p.same.Of(p.raw(name-1)))
}

// scoped notes the modules that the block of a route gives to the controllers in it.
func (p *parser) scoped() {
	a := p.closed
	if n := len(p.args); n > 0 && p.args[n-1].depth == len(p.stack)-1 {
		a = p.args[n-1]
	}
	at := a.module
	if a.method == "namespace" && at.Len() == 0 {
		at = a.first
	}
	switch a.method {
	case "namespace", "scope", "resources", "resource", "constraints", "defaults":
		if at.Len() > 0 {
			p.under = strings.TrimPrefix(p.under+"/"+p.text(at), "/")
		}
	}
}

// closing gives the token behind the bracket that closes the one at a place.
func (p *parser) closing(i int) int {
	depth := 0
	for ; p.kind(i) != tEnd; i++ {
		switch p.sign(i) {
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			if depth--; depth == 0 {
				return i + 1
			}
		}
	}
	return i
}

// constant reads a chain of constants.
func (p *parser) constant() {
	i := p.i
	from, rooted := i, false
	if i > 0 && p.t[i-1].kind == tOperator {
		switch {
		case p.t[i-1].lit == '.' || p.op(i-1, "&."):
			p.methodCalled(i)
			return
		case p.op(i-1, "::"):
			if !p.t[i-1].value { // of something that is no constant
				if p.callsAt(i) {
					p.methodCalled(i)
					return
				}
				p.i++
				p.fills()
				return
			}
			rooted, from = true, i-1
		}
	}
	if !rooted && p.callsAt(i) {
		p.methodCalled(i)
		return
	}
	p.i++
	for p.op(p.i, "::") && !p.t[p.i].value && p.kind(p.i+1) == tConst && !p.callsAt(p.i+1) {
		p.i += 2
	}
	at := source.Span{Start: int(p.t[from].start), End: int(p.t[p.i-1].end)}
	name := p.chain(from, p.i)
	if p.assigned(from) {
		p.f.values = append(p.f.values, value{name: name, at: at, space: p.space, made: -1, late: p.late > 0})
		if k := p.kind(p.i + 1); k == tConst && p.sign(p.i) == '=' {
			p.f.values[len(p.f.values)-1].made = len(p.f.uses)
		}
		if p.sign(p.i) == 0 { // A ||= 1
			p.f.uses = append(p.f.uses, use{at: at, text: name, space: int32(p.space), late: p.late > 0, asked: true})
		}
		if head := strings.LastIndex(name, "::"); head > 0 { // what it is given to
			p.f.uses = append(p.f.uses, use{at: source.Span{Start: at.Start, End: at.Start + head}, text: name[:head],
				space: int32(p.space), late: p.late > 0})
			if p.f.values[len(p.f.values)-1].made >= 0 {
				p.f.values[len(p.f.values)-1].made++
			}
		}
		p.fills()
		return
	}
	if p.super && p.pending >= 0 {
		p.f.spaces[p.pending].super = len(p.f.uses)
		if k := p.kind(p.i); k != tNewline && k != tEnd {
			p.f.spaces[p.pending].other = p.sign(p.i) == '.' || p.sign(p.i) == '('
		}
		p.super = false
	} else if n := len(p.args); n > 0 && p.late == 0 {
		switch a := &p.args[n-1]; a.method {
		case "include", "prepend":
			if a.depth == len(p.stack) {
				p.f.spaces[p.space].mixes = append(p.f.spaces[p.space].mixes, len(p.f.uses))
			}
		}
	}
	if p.pending < 0 {
		p.fills()
	}
	p.f.uses = append(p.f.uses, use{at: at, text: name, space: int32(p.space), late: p.late > 0,
		asked: from > 0 && p.is(from-1, "defined?") || from > 1 && p.sign(from-1) == '(' && p.is(from-2, "defined?")})
}

// assigned says whether the chain at hand gets a value: A = 1, A ||= 1, A, B = 1, 2.
func (p *parser) assigned(from int) bool {
	if p.kind(p.i) != tOperator {
		return false
	}
	raw := p.raw(p.i)
	switch {
	case p.t[p.i].lit == '=':
		return true
	case p.t[p.i].lit == ',' && (from == 0 || p.kind(from-1) == tNewline || p.sign(from-1) == ','):
		if p.sign(from-1) == ',' && from > 0 {
			k := from
			for k > 0 && (p.kind(k-1) == tConst || p.kind(k-1) == tName || p.kind(k-1) == tVar || p.sign(k-1) == ',' || p.sign(k-1) == '*' || p.op(k-1, "::")) {
				k--
			}
			if k > 0 && p.kind(k-1) != tNewline {
				return false
			}
		}
		for k := p.i; ; k++ {
			switch {
			case p.sign(k) == '=':
				return true
			case p.kind(k) == tConst, p.kind(k) == tName, p.kind(k) == tVar, p.sign(k) == ',', p.sign(k) == '*', p.op(k, "::"):
			default:
				return false
			}
		}
	}
	return len(raw) > 1 && raw[len(raw)-1] == '=' && raw[0] != '=' && raw[0] != '!' && string(raw) != ">=" && string(raw) != "<="
}

// callsAt says whether a name with a capital is that of a method: A(1), A "b", A { }.
func (p *parser) callsAt(i int) bool {
	if p.kind(i+1) == tEnd {
		return false
	}
	n := &p.t[i+1]
	switch n.kind {
	case tString, tOpen, tNumber, tName, tConst, tVar, tChar, tSymbol, tLabel:
		return true
	case tKey:
		switch string(p.raw(i + 1)) {
		case "do": // that of a call around it, if there is one
			a := len(p.args)
			return n.opens && (a == 0 || p.args[a-1].depth < len(p.stack) || p.args[a-1].round)
		case "self", "nil", "true", "false", "not", "defined?", "__FILE__", "__LINE__", "lambda", "proc", "super":
			return true
		}
	case tOperator:
		tight := i+2 < len(p.t) && !p.t[i+2].space && p.t[i+2].start == n.end
		switch n.lit {
		case '(':
			return !n.space && !p.pattern
		case '{':
			return !p.pattern
		case '[', '-', '*', '&':
			return n.space && tight && !p.pattern && n.lit != '-' || n.lit == '-' && n.space && tight
		}
		return string(p.raw(i+1)) == "::" && n.value || string(p.raw(i+1)) == "->"
	}
	return false
}

// methodCalled reads a name with a capital that is that of a method.
func (p *parser) methodCalled(i int) {
	p.i = i
	p.name()
	p.fills()
	p.i++
}

// name reads the name of a method or a variable: what follows may be arguments.
func (p *parser) name() {
	i := p.i
	next := i + 1
	switch {
	case p.sign(next) == '(' && !p.t[next].space:
		p.args = append(p.args, argument{method: p.same.Of(p.raw(i)), depth: len(p.stack) + 1, round: true})
	case p.kind(next) == tEnd || p.kind(next) == tNewline || p.kind(next) == tOperator && !p.valueSign(next),
		p.kind(next) == tKey && !p.t[next].value && !p.valueWord(next):
	default:
		p.args = append(p.args, argument{method: p.same.Of(p.raw(i)), depth: len(p.stack)})
	}
	p.calls(i)
}

// calls notes the methods that say something of other files, or of a loader.
func (p *parser) calls(i int) {
	switch string(p.raw(i)) {
	case "require", "require_relative", "load", "autoload", "require_dependency", "import":
		p.loads(i)
	case "push_dir":
		p.f.loaders = append(p.f.loaders, int(p.t[i].start))
	case "ignore", "collapse":
		if i > 1 && p.sign(i-1) == '.' && bytes.HasSuffix(p.raw(i-2), []byte("loader")) {
			p.f.loaders = append(p.f.loaders, int(p.t[i].start))
		}
	case "autoload_paths", "eager_load_paths", "autoload_once_paths":
		if i > 0 && p.sign(i-1) == '.' && (p.op(i+1, "<<") || p.op(i+1, "+=") || p.sign(i+1) == '.') {
			p.f.loaders = append(p.f.loaders, int(p.t[i].start))
		}
	case "for_gem", "for_gem_extension":
		p.f.gem = true
	case "tests":
		p.f.tests = true
	case "isolate_namespace":
		k := i + 1
		if p.sign(k) == '(' || p.op(k, "::") {
			k++
		}
		if from := k; p.kind(k) == tConst {
			for k++; p.op(k, "::") && p.kind(k+1) == tConst; k += 2 {
			}
			p.f.isolates = p.chain(from, k)
		}
	case "draw":
		if i > 3 && p.sign(i-1) == '.' && p.is(i-2, "routes") && p.kind(i-4) == tConst {
			k := i - 4
			for k > 1 && p.op(k-1, "::") && p.kind(k-2) == tConst {
				k -= 2
			}
			p.f.draws = p.chain(k, i-3)
		}
	case "autoload_lib":
		p.f.autoLib = true
		for k := i + 1; p.kind(k) != tNewline && p.kind(k) != tEnd; k++ {
			if p.kind(k) == tPart && p.t[k].lit == litWords || p.kind(k) == tString {
				p.f.autoLibBut = append(p.f.autoLibBut, strings.Fields(strings.Trim(string(p.raw(k)), `"'`))...)
			}
		}
	}
}

// valueSign says whether an operator begins a value behind the name of a method.
func (p *parser) valueSign(i int) bool {
	t := &p.t[i]
	tight := i+1 < len(p.t) && !p.t[i+1].space && p.t[i+1].start == t.end
	switch t.lit {
	case '[', '*', '&', '-', ':', '!', '(':
		return t.space && tight
	}
	return string(p.raw(i)) == "::" && t.value || string(p.raw(i)) == "->" || string(p.raw(i)) == "**" && t.space && tight
}

func (p *parser) valueWord(i int) bool {
	switch string(p.raw(i)) {
	case "self", "nil", "true", "false", "not", "defined?", "__FILE__", "__LINE__", "__dir__", "super", "yield", "case", "begin", "if":
		return string(p.raw(i)) != "if" || p.t[i].opens
	}
	return false
}

// string reads a string.
func (p *parser) string() {
	t := &p.t[p.i]
	p.literal(t)
	inside := source.Span{Start: int(t.start) + 1, End: int(t.end) - 1}
	if p.src[t.start] == '%' {
		inside.Start = int(t.start) + 2
		if letter(p.src[t.start+1]) {
			inside.Start++
		}
	}
	p.addText(inside, p.src[inside.Start-1])
}

// head notes a text that names of constants begin with: "A::B::#{c}".
func (p *parser) head(t *token) {
	if name, is := strings.CutSuffix(string(p.src[t.start:t.end]), "::"); is && isConstant(strings.TrimPrefix(name, "::")) {
		p.f.heads = append(p.f.heads, head{at: source.Span{Start: int(t.start), End: int(t.start) + len(name)}, space: int32(p.space)})
	}
}

// symbol reads a symbol: some names of constants are written as such.
func (p *parser) symbol() {
	t := &p.t[p.i]
	if c := p.src[t.start+1]; capital(c) || len(p.args) > 0 {
		p.addText(source.Span{Start: int(t.start) + 1, End: int(t.end)}, 0)
	}
}

// within says whether the place is in a list of arguments that so many frames are open around: by itself, or in a list or
// a hash among them.
func (p *parser) within(depth int) bool {
	if depth > len(p.stack) {
		return false
	}
	for _, f := range p.stack[depth:] {
		if f.what != '[' && f.what != '{' {
			return false
		}
	}
	return true
}

func (p *parser) addText(at source.Span, quote byte) {
	if at.Start < p.folded { // a part of a path
		return
	}
	one := rbText{at: at, quote: quote, space: int32(p.space), late: p.late > 0, whole: true, under: p.under}
	if n := len(p.methods); n > 0 {
		one.method = p.methods[n-1]
	}
	if p.endless != "" {
		one.method = p.endless
	}
	if n := len(p.args); n > 0 && p.within(p.args[n-1].depth) {
		a := &p.args[n-1]
		one.call, one.key, one.number = a.method, a.key, a.number
		if a.text.Len() == 0 && quote != 0 {
			a.text = at
		}
		switch {
		case a.key == "module":
			a.module = at
		case a.number == 0 && a.key == "" && a.first.Len() == 0:
			a.first = at
		}
	}
	switch i := p.i; {
	case p.kind(i-1) == tLabel:
		one.key = p.same.Of(p.src[p.t[i-1].start : p.t[i-1].end-1])
	case p.op(i-1, "=>") && p.kind(i-2) == tSymbol:
		one.key = p.same.Of(p.src[p.t[i-2].start+1 : p.t[i-2].end])
	}
	for _, k := range []int{p.i - 1, p.i + 1} {
		switch p.kind(k) {
		case tOperator:
			s := p.raw(k)
			one.whole = one.whole && (s[0] != '+' && s[0] != '%' && s[0] != '*' && string(s) != "<<")
		case tString, tOpen:
			one.whole = false
		}
	}
	p.f.texts = append(p.f.texts, one)
}

// loads notes a call that loads a file by a text.
func (p *parser) loads(i int) {
	method := string(p.raw(i))
	if i > 0 && ((p.sign(i-1) == '.' || p.op(i-1, "::") || p.op(i-1, "&.")) && string(p.raw(i-2)) != "Kernel" || p.is(i-1, "def")) {
		return
	}
	k := i + 1
	round := p.sign(k) == '('
	if round {
		k++
	}
	one := call{method: method, space: int32(p.space), late: p.late > 0}
	if method == "autoload" {
		switch {
		case p.kind(k) == tSymbol:
			one.name = string(p.src[p.t[k].start+1 : p.t[k].end])
			one.at = source.Span{Start: int(p.t[k].start) + 1, End: int(p.t[k].end)}
		case p.kind(k) == tString:
			one.name = string(p.src[p.t[k].start+1 : p.t[k].end-1])
			one.at = source.Span{Start: int(p.t[k].start) + 1, End: int(p.t[k].end) - 1}
		default:
			return
		}
		one.named = one.at.Start
		if p.sign(k+1) != ',' {
			one.bare = true
			for n := len(p.args) - 1; n >= 0; n-- {
				if m := p.args[n].method; m == "autoload_under" || m == "autoload_at" {
					one.under, one.whole = p.text(p.args[n].text), m == "autoload_at"
					break
				}
			}
			p.f.calls = append(p.f.calls, one)
			return
		}
		k += 2
	}
	if p.kind(k) != tString {
		return
	}
	switch e := k + 1; {
	case p.kind(e) == tNewline, p.kind(e) == tEnd, p.sign(e) == ')', p.sign(e) == '}', p.sign(e) == ',', p.kind(e) == tKey:
	default:
		return
	}
	t := p.t[k]
	one.quote = p.src[t.start]
	one.at = source.Span{Start: int(t.start) + 1, End: int(t.end) - 1}
	if one.quote == '%' {
		return
	}
	p.f.calls = append(p.f.calls, one)
}
