package syntax

import (
	"crookedshelf/internal/source"
)

// scope is a region in which names are given values: the module, a class, a function, a lambda, a comprehension
// (docs.python.org/3/reference/executionmodel.html, resolution of names).
type scope struct {
	parent *scope
	kind   scopeKind
	names  map[string]*Binding
	global map[string]bool // names that are declared to be the module's
}

type scopeKind uint8

const (
	moduleScope scopeKind = iota
	classScope
	functionScope
	comprehensionScope
)

// Binding is how a scope gives a value to a name. Imports come first: a name that is imported and also given another
// value, as by try and except, counts as imported.
type Binding struct {
	From   string // what an import makes the name stand for: a module, or something in one; empty if none does
	Module string // of from a import b, the module
}

// use is a name with what is taken from it by dots, where an import gives the name its value.
type use struct {
	Parts   []source.Span // the name, and each name behind a dot
	Binding *Binding
}

// chain is a name with what is behind it, and the scope in which it is read.
type chain struct {
	scope *scope
	parts []source.Span
}

// Reader reads the names of a text in their scopes.
type Reader struct {
	Src    []byte
	Tokens []token
	Match  []int // beside the tokens: of a bracket that opens, the place of the one that closes it, or of the end
	chains []chain
	wanted map[string]bool // names that some import brings; others are passed over
	depth  int             // of what is being read in one another
}

// mostDepth bounds how deep groups, lambdas and functions on one line are read in one another.
const mostDepth = 120

// Brackets pairs the brackets, in one pass.
func (r *Reader) Brackets() {
	r.Match = make([]int, len(r.Tokens))
	var open []int
	for i, t := range r.Tokens {
		r.Match[i] = len(r.Tokens)
		if t.Kind != opToken {
			continue
		}
		switch t.op {
		case '(', '[', '{':
			open = append(open, i)
		case ')', ']', '}':
			if n := len(open); n > 0 {
				r.Match[open[n-1]] = i
				open = open[:n-1]
			}
		}
	}
}

// Opens says whether a bracket opens here.
func (r *Reader) Opens(i int) bool { return r.Is(i, '(') || r.Is(i, '[') || r.Is(i, '{') }

// UsesIn lists where a text uses what it imports.
func UsesIn(src []byte) []use {
	r := &Reader{Src: src, Tokens: Tokenize(src), wanted: map[string]bool{}}
	s := &Scanner{Src: src}
	for i, t := range r.Tokens { // which names can matter
		if t.Kind != nameToken || !r.starts(i) {
			continue
		}
		s.Pos = t.End
		switch string(src[t.Start:t.End]) {
		case "import":
			s.ImportNames(func(i Item) { r.wanted[i.local()] = true })
		case "from":
			s.FromImport(func(FromClause) {}, func(i Item) { r.wanted[i.local()] = true })
		}
	}
	r.Brackets()
	r.module()
	var out []use
	for _, c := range r.chains {
		if b := c.scope.lookup(r.text(c.parts[0])); b != nil && b.From != "" {
			out = append(out, use{c.parts, b})
		}
	}
	return out
}

// starts says whether a statement begins with a token.
func (r *Reader) starts(i int) bool {
	if i == 0 {
		return true
	}
	before := r.Tokens[i-1]
	return before.Kind == lineToken || before.Kind == opToken && (before.op == ';' || before.op == ':')
}

// lookup gives the binding of a name: that of the scope, or of one around it that is no class, or of the module.
func (s *scope) lookup(name string) *Binding {
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
func (r *Reader) bind(s *scope, name string, to Binding) {
	if !r.wanted[name] {
		return
	}
	for declared := s.global[name]; declared && s.parent != nil; {
		s = s.parent
	}
	if s.names == nil {
		s.names = map[string]*Binding{}
	}
	if b := s.names[name]; b == nil || b.From == "" {
		s.names[name] = &to
	}
}

func (r *Reader) text(s source.Span) string { return string(r.Src[s.Start:s.End]) }

func (r *Reader) Word(i int) string {
	if i < 0 || i >= len(r.Tokens) || r.Tokens[i].Kind != nameToken {
		return ""
	}
	return string(r.Src[r.Tokens[i].Start:r.Tokens[i].End])
}

func (r *Reader) Is(i int, op byte) bool {
	return i >= 0 && i < len(r.Tokens) && r.Tokens[i].Kind == opToken && r.Tokens[i].op == op
}
