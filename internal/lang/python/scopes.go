package python

import (
	"strings"

	"crookedshelf/internal/source"
)

// scope is a region in which names are given values: the module, a class, a function, a lambda, a comprehension
// (docs.python.org/3/reference/executionmodel.html, resolution of names).
type scope struct {
	parent *scope
	kind   scopeKind
	names  map[string]*binding
	global map[string]bool // names that are declared to be the module's
}

type scopeKind uint8

const (
	moduleScope scopeKind = iota
	classScope
	functionScope
	comprehensionScope
)

// binding is how a scope gives a value to a name. Imports come first: a name that is imported and also given another value, as by
// try and except, counts as imported.
type binding struct {
	from   string // what an import makes the name stand for: a module, or something in one; empty if none does
	module string // of from a import b, the module
	dotted bool   // by import a.b, which brings a
}

// use is a name with what is taken from it by dots, where an import gives the name its value.
type use struct {
	parts   []source.Span // the name, and each name behind a dot
	binding *binding
}

// chain is a name with what is behind it, and the scope in which it is read.
type chain struct {
	scope *scope
	parts []source.Span
}

// reader reads the names of a text in their scopes.
type reader struct {
	src    []byte
	tokens []token
	match  []int // beside the tokens: of a bracket that opens, the place of the one that closes it, or of the end
	chains []chain
	wanted map[string]bool // names that some import brings; others are passed over
	depth  int             // of what is being read in one another
}

// mostDepth bounds how deep groups, lambdas and functions on one line are read in one another.
const mostDepth = 120

// brackets pairs the brackets, in one pass.
func (r *reader) brackets() {
	r.match = make([]int, len(r.tokens))
	var open []int
	for i, t := range r.tokens {
		r.match[i] = len(r.tokens)
		if t.kind != opToken {
			continue
		}
		switch t.op {
		case '(', '[', '{':
			open = append(open, i)
		case ')', ']', '}':
			if n := len(open); n > 0 {
				r.match[open[n-1]] = i
				open = open[:n-1]
			}
		}
	}
}

// opens says whether a bracket opens here.
func (r *reader) opens(i int) bool { return r.is(i, '(') || r.is(i, '[') || r.is(i, '{') }

// uses lists where a text uses what it imports.
func uses(src []byte) []use {
	r := &reader{src: src, tokens: tokenize(src), wanted: map[string]bool{}}
	s := &scanner{src: src}
	for i, t := range r.tokens { // which names can matter
		if t.kind != nameToken || !r.starts(i) {
			continue
		}
		s.pos = t.end
		switch string(src[t.start:t.end]) {
		case "import":
			s.importNames(func(i item) { r.wanted[i.local()] = true })
		case "from":
			s.fromImport(func(from) {}, func(i item) { r.wanted[i.local()] = true })
		}
	}
	r.brackets()
	r.module()
	var out []use
	for _, c := range r.chains {
		if b := c.scope.lookup(r.text(c.parts[0])); b != nil && b.from != "" {
			out = append(out, use{c.parts, b})
		}
	}
	return out
}

// starts says whether a statement begins with a token.
func (r *reader) starts(i int) bool {
	if i == 0 {
		return true
	}
	before := r.tokens[i-1]
	return before.kind == lineToken || before.kind == opToken && (before.op == ';' || before.op == ':')
}

// lookup gives the binding of a name: that of the scope, or of one around it that is no class, or of the module.
func (s *scope) lookup(name string) *binding {
	for at := s; at != nil; at = at.parent {
		if at != s && at.kind == classScope {
			continue
		}
		if at.global[name] {
			for at.parent != nil {
				at = at.parent
			}
			return at.names[name]
		}
		if b := at.names[name]; b != nil {
			return b
		}
	}
	return nil
}

// bind gives a name a value in a scope.
func (r *reader) bind(s *scope, name string, to binding) {
	if !r.wanted[name] {
		return
	}
	for declared := s.global[name]; declared && s.parent != nil; {
		s = s.parent
	}
	if s.names == nil {
		s.names = map[string]*binding{}
	}
	if b := s.names[name]; b == nil || b.from == "" {
		s.names[name] = &to
	}
}

func (r *reader) text(s source.Span) string { return string(r.src[s.Start:s.End]) }

func (r *reader) word(i int) string {
	if i < 0 || i >= len(r.tokens) || r.tokens[i].kind != nameToken {
		return ""
	}
	return string(r.src[r.tokens[i].start:r.tokens[i].end])
}

func (r *reader) is(i int, op byte) bool {
	return i >= 0 && i < len(r.tokens) && r.tokens[i].kind == opToken && r.tokens[i].op == op
}

// block is a scope whose lines stand deeper than its head.
type block struct {
	scope  *scope
	column int
}

// module reads line after line: the column of each says which blocks are over.
func (r *reader) module() {
	blocks := []block{{&scope{}, -1}}
	for i := 0; i < len(r.tokens); {
		if r.tokens[i].kind != lineToken {
			i++
			continue
		}
		column := r.tokens[i].end
		for blocks[len(blocks)-1].column >= column {
			blocks = blocks[:len(blocks)-1]
		}
		end := i + 1
		for end < len(r.tokens) && r.tokens[end].kind != lineToken {
			end++
		}
		if inner := r.line(i+1, end, blocks[len(blocks)-1].scope); inner != nil {
			blocks = append(blocks, block{inner, column})
		}
		i = end
	}
}

// line reads the statements of a logical line. It gives the scope that a head of a class or function opens.
func (r *reader) line(i, end int, s *scope) (opened *scope) {
	if r.depth++; r.depth > mostDepth {
		return nil
	}
	defer func() { r.depth-- }()
	for i < end {
		head := i
		if r.word(head) == "async" {
			head++
		}
		switch r.word(head) {
		case "def":
			colon, inner := r.function(head, end, s)
			r.line(colon+1, end, inner)
			return inner
		case "class":
			colon := r.until(head, end, ':')
			inner := &scope{parent: s, kind: classScope}
			r.bind(s, r.word(head+1), binding{})
			r.expression(head+2, colon, s)
			r.line(colon+1, end, inner)
			return inner
		case "if", "elif", "while", "else", "try", "finally", "with", "for", "except", "match", "case":
			if colon := r.until(head, end, ':'); colon < end && r.compound(head, colon, end) {
				r.head(head, colon, s)
				i = colon + 1
				continue
			}
		}
		stop := r.until(i, end, ';')
		r.simple(i, stop, s)
		i = stop + 1
	}
	return nil
}

// compound says whether a line that begins with match or case is such a statement: they are names too.
func (r *reader) compound(head, colon, end int) bool {
	if w := r.word(head); w != "match" && w != "case" {
		return true
	}
	next := head + 1
	return next < colon && (r.tokens[next].kind != opToken || strings.IndexByte("([{-*", r.tokens[next].op) >= 0) && (colon == end-1 || r.word(head) == "case")
}

// until gives the place of an operator outside of brackets, and end if there is none. The colon of a lambda is none.
func (r *reader) until(i, end int, op byte) int {
	for lambdas := 0; i < end; i++ {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && r.word(i) == "lambda" && !r.is(i-1, '.'):
			lambdas++
		case t.kind != opToken:
		case r.opens(i):
			i = r.match[i]
		case t.op == ':' && lambdas > 0:
			lambdas--
		case t.op == op && lambdas == 0: // within its parameters nothing counts
			return i
		}
	}
	return end
}

// function reads the head of a function, whose def is here: what stands for its arguments is evaluated outside.
func (r *reader) function(i, end int, s *scope) (colon int, inner *scope) {
	inner = &scope{parent: s, kind: functionScope}
	r.bind(s, r.word(i+1), binding{})
	open := i + 2
	if r.is(open, '[') {
		open = r.closing(open, end) + 1
	}
	colon = r.until(open, end, ':')
	if !r.is(open, '(') {
		return colon, inner
	}
	shut := r.closing(open, end)
	r.parameters(open+1, shut, s, inner)
	r.expression(shut+1, colon, s)
	return colon, inner
}

// parameters binds the names of arguments in a scope; what they are by default, and their types, are read in the one around it.
func (r *reader) parameters(i, end int, s, inner *scope) {
	for i < end {
		stop := r.until(i, end, ',')
		for r.is(i, '*') || r.is(i, '/') {
			i++
		}
		r.bind(inner, r.word(i), binding{})
		r.expression(i+1, stop, s)
		i = stop + 1
	}
}

// closing gives the place of the bracket that closes the one which is here.
func (r *reader) closing(i, end int) int { return min(r.match[i], end) }

// head reads the head of a compound statement, up to its colon.
func (r *reader) head(i, colon int, s *scope) {
	switch r.word(i) {
	case "for":
		in := r.keyword(i, colon, "in")
		r.target(i+1, in, s)
		r.expression(in+1, colon, s)
	case "case":
		guard := r.keyword(i, colon, "if")
		r.pattern(i+1, guard, s)
		r.expression(guard+1, colon, s)
	case "with", "except":
		first := i + 1
		if r.is(first, '(') && r.closing(first, colon) == colon-1 {
			first, colon = first+1, colon-1
		}
		for first < colon {
			stop := r.until(first, colon, ',')
			as := r.keyword(first, stop, "as")
			r.expression(first, as, s)
			r.target(as+1, stop, s)
			first = stop + 1
		}
	default:
		r.expression(i+1, colon, s)
	}
}

// keyword gives the place of a word outside of brackets, and end if there is none.
func (r *reader) keyword(i, end int, word string) int {
	for ; i < end; i++ {
		if r.opens(i) {
			i = r.match[i]
		} else if r.word(i) == word && !r.is(i-1, '.') {
			return i
		}
	}
	return end
}

// pattern reads a pattern of a match: names that stand alone are given values.
func (r *reader) pattern(i, end int, s *scope) {
	for ; i < end; i++ {
		switch {
		case r.word(i) == "" || r.is(i-1, '.'):
		case r.is(i+1, '.') || r.is(i+1, '('):
			i = r.chain(i, end, s) - 1
		case r.is(i+1, '='):
		default:
			r.bind(s, r.word(i), binding{})
		}
	}
}

// simple reads a statement that holds no others.
func (r *reader) simple(i, end int, s *scope) {
	switch r.word(i) {
	case "":
	case "import", "from":
		r.imports(i, s)
		return
	case "global":
		if s.global == nil {
			s.global = map[string]bool{}
		}
		for i++; i < end; i++ {
			s.global[r.word(i)] = true
		}
		return
	case "nonlocal":
		return
	case "del":
		r.target(i+1, end, s)
		return
	case "type":
		if r.word(i+1) != "" {
			r.bind(s, r.word(i+1), binding{})
			i += 2
		}
	}
	if colon := r.until(i, end, ':'); colon < end && !r.is(i, '@') { // a: int = 1
		r.target(i, colon, s)
		r.expression(colon+1, end, s)
		return
	}
	for first := i; ; {
		equals := r.until(first, end, '=')
		if equals == end {
			if augmented := r.until(first, end, opAssign); augmented < end && first == i {
				r.target(first, augmented, s)
				first = augmented + 1
			}
			r.expression(first, end, s)
			return
		}
		r.target(first, equals, s)
		first = equals + 1
	}
}

// imports binds the names of an import.
func (r *reader) imports(i int, s *scope) {
	read := &scanner{src: r.src, pos: r.tokens[i].end}
	if r.word(i) == "import" {
		read.importNames(func(i item) {
			first := i.local()
			if i.alias != "" {
				first = i.text
			}
			r.bind(s, i.local(), binding{from: first, dotted: i.alias == "" && i.text != first})
		})
		return
	}
	module := ""
	read.fromImport(func(f from) { module = f.text }, func(i item) { r.bind(s, i.local(), binding{from: appended(module, "."+i.text), module: module}) })
}

// target reads what a value is given to: names that stand alone are bound, all else is read.
func (r *reader) target(i, end int, s *scope) {
	for i < end {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && (r.is(i+1, '.') || r.is(i+1, '[') || r.is(i+1, '(')) && i+1 < end:
			stop := r.chain(i, end, s)
			for stop < end && (r.is(stop, '[') || r.is(stop, '(') || r.is(stop, '.')) {
				if r.is(stop, '.') {
					stop += 2
					continue
				}
				shut := r.closing(stop, end)
				r.expression(stop+1, shut, s)
				stop = shut + 1
			}
			i = max(stop, i+1)
		case t.kind == nameToken:
			r.bind(s, r.word(i), binding{})
			i++
		default:
			i++
		}
	}
}

// chain records a name with what follows it by dots, and gives the place behind. What follows may stand behind a parenthesis that
// closes: (a.b).c.
func (r *reader) chain(i, end int, s *scope) int {
	first := i
	c := chain{scope: s, parts: []source.Span{{Start: r.tokens[i].start, End: r.tokens[i].end}}}
	more := func(i, end int) int {
		for ; i+1 < end && r.is(i, '.') && r.word(i+1) != ""; i += 2 {
			c.parts = append(c.parts, source.Span{Start: r.tokens[i+1].start, End: r.tokens[i+1].end})
		}
		return i
	}
	i = more(i+1, end)
	for open, shut := first-1, i; r.is(open, '(') && r.is(shut, ')') && r.is(shut+1, '.') && !r.calls(open); open-- {
		shut = more(shut+1, len(r.tokens))
	}
	if r.wanted[r.word(first)] && !r.is(first-1, '.') {
		r.chains = append(r.chains, c)
	}
	return i
}

// calls says whether a parenthesis opens a call's arguments: behind a name that is no word of the language, or a bracket that closes.
func (r *reader) calls(i int) bool {
	if i == 0 {
		return false
	}
	if w := r.word(i - 1); w != "" {
		return !beforeValue[w] || r.is(i-2, '.')
	}
	return r.is(i-1, ')') || r.is(i-1, ']') || r.is(i-1, '}')
}

// beforeValue are the words of the language behind which a value begins.
var beforeValue = map[string]bool{
	"return": true, "in": true, "and": true, "or": true, "not": true, "if": true, "elif": true, "else": true, "is": true, "await": true, "yield": true, "assert": true,
	"del": true, "from": true, "raise": true, "while": true, "with": true, "for": true, "lambda": true, "except": true, "case": true, "match": true,
}

// expression reads the names of an expression.
func (r *reader) expression(i, end int, s *scope) {
	if r.depth++; r.depth > mostDepth {
		return
	}
	defer func() { r.depth-- }()
	for i < end {
		t := r.tokens[i]
		switch {
		case t.kind == nameToken && r.word(i) == "lambda" && !r.is(i-1, '.'):
			i = r.lambda(i, end, s)
		case t.kind == nameToken && r.is(i+1, opWalrus):
			outer := s
			for outer.kind == comprehensionScope {
				outer = outer.parent
			}
			r.bind(outer, r.word(i), binding{})
			i += 2
		case t.kind == nameToken && r.is(i+1, '=') && (r.is(i-1, '(') || r.is(i-1, ',')): // the name of an argument
			i += 2
		case t.kind == nameToken:
			i = r.chain(i, end, s)
		case t.kind == opToken && (t.op == '(' || t.op == '[' || t.op == '{'):
			shut := r.closing(i, end)
			r.group(i+1, shut, s)
			i = shut + 1
		default:
			i++
		}
	}
}

// lambda reads a lambda, which is here, and gives the place behind it.
func (r *reader) lambda(i, end int, s *scope) int {
	inner := &scope{parent: s, kind: functionScope}
	colon := r.until(i+1, end, ':')
	r.parameters(i+1, colon, s, inner)
	stop, lambdas := colon+1, 0
	for ; stop < end; stop++ {
		if r.opens(stop) {
			stop = r.match[stop]
			continue
		}
		word := r.word(stop)
		if word == "lambda" && !r.is(stop-1, '.') {
			lambdas++
		}
		if r.is(stop, ':') && lambdas > 0 {
			lambdas--
			continue
		}
		if word == "for" || word == "async" || lambdas == 0 && (r.is(stop, ',') || r.is(stop, '=') || r.is(stop, ':')) {
			break
		}
	}
	stop = min(stop, end)
	r.expression(colon+1, stop, inner)
	return stop
}

// group reads what stands in brackets, which may be a comprehension: its first source is evaluated outside.
func (r *reader) group(i, end int, s *scope) {
	loop := r.keyword(i, end, "for")
	if loop == end {
		r.expression(i, end, s)
		return
	}
	inner := &scope{parent: s, kind: comprehensionScope}
	in := r.keyword(loop, end, "in")
	next := min(r.keyword(in+1, end, "for"), r.keyword(in+1, end, "if"), r.keyword(in+1, end, "async"))
	r.expression(in+1, next, s)
	r.target(loop+1, in, inner)
	r.loops(next, end, inner)
	r.expression(i, loop, inner)
}

// loops reads the further loops and conditions of a comprehension.
func (r *reader) loops(i, end int, s *scope) {
	for i < end {
		stop := min(r.keyword(i+1, end, "for"), r.keyword(i+1, end, "async"))
		if r.word(i) == "for" {
			in := r.keyword(i, stop, "in")
			r.target(i+1, in, s)
			r.expression(in+1, stop, s)
		} else {
			r.expression(i, stop, s)
		}
		i = stop
	}
}
