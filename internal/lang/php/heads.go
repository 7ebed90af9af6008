package php

import (
	"bytes"
	"slices"
	"strings"

	"crookedshelf/internal/text"
)

// This file reads the heads of classes, functions, constants and namespaces.

// classBehind reads the class behind new or instanceof.
func (p *parser) classBehind() {
	i := p.next(p.i)
	for p.kind(i) == tAttribute || p.is(i, "readonly") { // new #[A] class, new readonly class
		if p.kind(i) != tAttribute {
			i = p.next(i)
			continue
		}
		return // the walk reads the attribute, and then class
	}
	if k := p.kind(i); k == tVariable || k == '(' {
		p.note(fromData)
	}
	if !isName(p.kind(i)) || p.is(i, "class") {
		return
	}
	p.i = i
	if p.kind(i) != tWord || !pseudoTypes.has(p.text(i)) && !p.is(i, "static") {
		p.use(i, class)
	}
}

// classList reads the classes behind extends or implements.
func (p *parser) classList() {
	var list []string
	i := p.next(p.i)
	for ; isName(p.kind(i)); i = p.next(i) {
		p.use(i, class)
		list = append(list, p.named(i))
		p.i = i
		if p.kind(p.next(i)) != ',' {
			break
		}
		i = p.next(i)
	}
	if p.heading >= 0 {
		d := &p.f.declared[p.heading]
		d.extends = append(d.extends, list...)
	}
}

// classLike reads the head of a class, interface, trait or enum up to its name. It reports false for the word as a
// name.
func (p *parser) classLike(w []byte, before int) bool {
	after := p.next(p.i)
	enum := sameWord(w, "enum")
	switch {
	case enum && (p.kind(after) != tWord || p.is(after, "extends") || p.is(after, "implements")):
		return false
	case sameWord(w, "class") && p.anonymous(before):
		p.expects(inClass)
		p.marks, p.heading = nil, -1
		return true
	case p.kind(after) != tWord:
		return true
	}
	p.expects(inClass)
	if enum {
		p.expects(inEnum)
	}
	p.heading = len(p.f.declared)
	p.f.declared = append(p.f.declared, declaration{space: class, name: p.named(after), block: p.block,
		at: span(p.t[after]), kind: strings.ToLower(string(w)), marks: p.marks,
		route: slices.ContainsFunc(p.marks, func(mark string) bool { return short(mark) == "Route" })})
	p.marks = nil
	p.i = after
	if i := p.next(after); enum && p.kind(i) == ':' {
		p.i = p.next(i)
		p.types()
	}
	return true
}

// anonymous says whether class stands behind new, with attributes between.
func (p *parser) anonymous(before int) bool {
	for p.is(before, "readonly") || p.is(before, "final") {
		before = p.previous(before)
	}
	if p.kind(before) == ']' {
		for depth := 0; before >= 0; before-- {
			switch p.t[before].kind {
			case ']':
				depth++
			case '[', tAttribute:
				if depth--; depth == 0 {
					return p.anonymous(p.previous(before))
				}
			}
		}
	}
	return p.is(before, "new")
}

// function reads the head of a function up to the bracket of its parameters.
func (p *parser) function() {
	i := p.next(p.i)
	if p.kind(i) == '&' {
		i = p.next(i)
	}
	anonymous := p.kind(i) == '('
	switch {
	case anonymous:
	case p.kind(i) == tWord && p.kind(p.next(i)) == '(':
		if !p.inMembers() {
			p.f.declared = append(p.f.declared, declaration{space: function, name: p.named(i), block: p.block,
				at: span(p.t[i]), kind: "function"})
		}
		i = p.next(i)
	default:
		return // use function a\b
	}
	p.marks, p.params = nil, nil
	if sameWord(p.text(p.i), "function") {
		p.closure = anonymous
		p.expects(inFunction)
	}
	p.i = i
	p.brackets = append(p.brackets, bracket{closes: ')', list: parameters, expect: true})
}

// constants reads the type and the first name behind const. The others of its list are found at their commas.
func (p *parser) constants() {
	p.consts = true
	first, name := p.next(p.i), p.next(p.i)
	for p.kind(name) != '=' && p.kind(name) != ';' && p.kind(name) != tEnd {
		name = p.next(name)
	}
	name = p.previous(name)
	for i := first; i < name; i++ {
		if isName(p.kind(i)) && !(p.kind(i) == tWord && pseudoTypes.has(p.text(i))) {
			p.use(i, class)
		}
	}
	p.constant(name)
}

// constant declares the name before a =, if it is one of the file and not of a class.
func (p *parser) constant(i int) {
	if p.kind(i) != tWord || p.kind(p.next(i)) != '=' {
		return
	}
	d := declaration{space: constant, name: p.named(i), block: p.block, at: span(p.t[i]), kind: "constant"}
	value, known := p.chain(p.next(p.next(i)), false)
	known = known && value.base != fromNothing && !value.open
	if known {
		value.purpose, value.block = forName, p.block
	}
	switch {
	case p.atTop():
		if known {
			p.f.paths = append(p.f.paths, value.pathExpr)
			p.folded, d.path = value.end, len(p.f.paths)
		}
		p.f.declared = append(p.f.declared, d)
	case known && len(p.f.declared) > 0:
		p.f.paths = append(p.f.paths, value.pathExpr)
		p.folded, d.path = value.end, len(p.f.paths)
		for k := len(p.f.declared) - 1; k >= 0; k-- { // the class that it stands in
			if p.f.declared[k].space == class && !p.f.declared[k].alias {
				d.class = p.f.declared[k].name
				break
			}
		}
		p.f.members = append(p.f.members, d)
	}
	p.i = i
}

// namespace reads the line of a namespace.
func (p *parser) namespace() {
	i := p.next(p.i)
	if !p.atTop() || !isName(p.kind(i)) && p.kind(i) != '{' {
		return
	}
	b := block{}
	if isName(p.kind(i)) {
		b.name, b.at = p.named(i), span(p.t[i])
		i = p.next(i)
	}
	switch p.kind(i) {
	case ';':
		b.after = lineBehind(p.src, int(p.t[i].end))
		p.i = i
	case '{':
		b.braced = true
		b.after = lineBehind(p.src, int(p.t[i].end))
		p.expects(inNamespace)
		p.i = i - 1
	default:
		return
	}
	p.f.blocks = append(p.f.blocks, b)
	p.block = len(p.f.blocks) - 1
}

// lineBehind is the beginning of the line behind a place, where nothing but a comment stands between; else the place.
func lineBehind(src []byte, at int) int {
	end := text.LineEnd(src, at)
	rest := bytes.TrimSpace(src[at:end])
	if len(rest) > 0 && !bytes.HasPrefix(rest, []byte("//")) && !bytes.HasPrefix(rest, []byte("#")) {
		return at
	}
	return min(end+1, len(src))
}
