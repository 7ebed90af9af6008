package python

import (
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

// binding is how a scope gives a value to a name. Imports come first: a name that is imported and also given another
// value, as by try and except, counts as imported.
type binding struct {
	from   string // what an import makes the name stand for: a module, or something in one; empty if none does
	module string // of from a import b, the module
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
