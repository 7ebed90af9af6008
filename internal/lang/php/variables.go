package php

import (
	"crookedshelf/internal/source"
)

// This file knows which variables stand for a path: those that get one value in their function, and no other.

// passedOn says whether a variable is given to something as it is: it is an argument, or what is returned.
func (p *parser) passedOn() bool {
	before, after := p.previous(p.i), p.kind(p.next(p.i))
	if after != ',' && after != ')' && after != ';' && after != ']' {
		return false
	}
	switch p.kind(before) {
	case '(', ',', tFatArrow, '[':
		return p.list() != nil && p.list().list != parameters
	case tWord:
		return p.is(before, "return")
	}
	return false
}

// addVariable notes that a variable is given to something, in case it stands for a folder.
func (p *parser) addVariable(i int) {
	at := span(p.t[i])
	p.f.paths = append(p.f.paths, pathExpr{term: p.named(i), at: at, anchor: at, block: p.block,
		scope: p.scope(), late: p.functions > 0})
}

// standsForPath says whether a variable has got a path so far.
func (p *parser) standsForPath(i int) bool {
	name := p.text(i)
	for scope := p.scope(); scope >= 0; scope = p.f.scopes[scope].parent {
		if len(p.f.scopes[scope].variables) == 0 {
			continue
		}
		if v, is := p.f.scopes[scope].variables[string(name)]; is {
			return v.known
		}
	}
	return false
}

// assignment notes that a variable gets a value, and which if that is a path.
func (p *parser) assignment() {
	after, before := p.next(p.i), p.previous(p.i)
	l := p.list()
	switch k := p.kind(before); {
	case p.kind(after) == '=', p.kind(after) == tAssigns, k == '&', l != nil && l.list == parameters:
	case k == tWord && (p.is(before, "as") || p.is(before, "global")):
	default:
		return // it is read
	}
	p.assigns = p.i
	variables := p.f.scopes[p.scope()].variables
	name := p.text(p.i)
	v, seen := variables[string(name)]
	if seen {
		v.assigned++
		variables[string(name)] = v
	}
	if p.kind(after) != '=' || p.kind(before) == '&' { // whatever it gets, it is not known
		return
	}
	if k := p.kind(p.next(after)); seen || k != '(' && k != tQuote && k != tVariable && !isName(k) {
		return
	}
	f, ok := p.chain(p.next(after), false)
	if ok && p.kind(f.end) == ';' && f.base != fromNothing && !f.open && !p.assignedBefore(name) {
		if variables == nil {
			variables = map[string]variable{}
			p.f.scopes[p.scope()].variables = variables
		}
		variables[p.named(p.i)] = variable{assigned: 1, place: f.place, known: f.term == ""}
	}
}

// assignedBefore says whether a variable got a value in the function before. Few variables get a path, so what was
// given a value is gathered only where one does, and from where the last one did.
func (p *parser) assignedBefore(name []byte) bool {
	s := &p.f.scopes[p.scope()]
	if s.assigned == nil {
		s.assigned = map[string]bool{}
	}
	for ; s.start < p.i; s.start++ {
		if p.kind(s.start) == tVariable {
			if k := p.kind(p.next(s.start)); k == '=' || k == tAssigns {
				s.assigned[string(p.text(s.start))] = true
			}
		}
	}
	return s.assigned[string(name)]
}

// scope is the number of the function that the place lies in; 0 for none.
func (p *parser) scope() int { return p.inScope[len(p.inScope)-1] }

// known says what a variable stands for in a scope.
func (f *file) known(scope int, name string) (place, bool) {
	for scope >= 0 {
		s := &f.scopes[scope]
		if v, is := s.variables[name]; is {
			return v.place, v.known && v.assigned == 1
		}
		scope = s.parent
	}
	return place{}, false
}

// settlePaths puts in what variables stand for, and drops what is no path then.
func (f *file) settlePaths() {
	kept := f.paths[:0]
	renumber := make([]int, len(f.paths))
	for i := range f.paths {
		e := f.paths[i]
		if e.term != "" {
			v, known := f.known(e.scope, e.term)
			if !known {
				continue
			}
			e.before = v
			text, open, tail := e.text, e.open, e.tail
			e.place = v
			e.text, e.open, e.tail = v.text+text, open, tail
		}
		if e.term != "" || e.base == fromConst { // the base is a name of its own, and only the text behind it is written
			if e.at = e.literal; e.at.Len() == 0 && e.term == "" {
				e.at = source.Span{Start: e.anchor.End, End: e.anchor.End}
			} else if e.at.Len() == 0 {
				e.at = e.anchor
			}
		}
		kept = append(kept, e)
		renumber[i] = len(kept)
	}
	for i := range f.declared {
		if d := &f.declared[i]; d.path > 0 {
			d.path = renumber[d.path-1]
		}
	}
	for i := range f.members {
		if d := &f.members[i]; d.path > 0 {
			d.path = renumber[d.path-1]
		}
	}
	for i, n := range f.includes {
		f.includes[i] = renumber[n] - 1
	}
	f.paths = kept
}
