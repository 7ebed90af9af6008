package php

import (
	"strings"

	"crookedshelf/internal/source"
)

// This file reads use statements. A use stands in three places: at the top it imports, in a class it takes traits in,
// behind a closure's parameters it takes variables in (php.net/manual/en/language.namespaces.importing.php).

func (p *parser) useStatement(before int) {
	switch {
	case p.kind(before) == ')': // of a closure
	case p.inMembers():
		p.traits()
	case p.atTop():
		p.imports()
	}
}

// traits reads use A, B { A::f insteadof B; }.
func (p *parser) traits() {
	i := p.next(p.i)
	for ; p.kind(i) != ';' && p.kind(i) != '{' && p.kind(i) != tEnd; i = p.next(i) {
		if isName(p.kind(i)) {
			p.use(i, class)
		}
		p.i = i
	}
	if p.kind(i) != '{' {
		p.i = i
		return
	}
	instead := false
	for ; p.kind(i) != '}' && p.kind(i) != tEnd; i = p.next(i) {
		switch {
		case p.is(i, "insteadof"):
			instead = true
		case p.kind(i) == ';':
			instead = false
		case isName(p.kind(i)) && (instead || p.kind(p.next(i)) == tColons) && p.kind(p.previous(i)) != tColons:
			p.use(i, class)
		}
		p.i = i
	}
	if p.kind(i) == '}' {
		p.i = i
	}
}

// imports reads a statement that imports, up to its end.
func (p *parser) imports() {
	start := p.i
	b := &p.f.blocks[p.block]
	first := len(b.imports)
	i := p.next(p.i)
	all := p.spaceOf(&i)
	group, groupSpace := "", all
	itemStart := i
	p.number++
	for ; p.kind(i) != ';' && p.kind(i) != tEnd && p.kind(i) != tClose; i = p.next(i) {
		switch k := p.kind(i); {
		case k == '{':
			itemStart = p.next(i)
		case k == '}':
		case k == ',':
			itemStart = p.next(i)
		case isName(k):
			if p.kind(p.next(i)) == '\\' && p.kind(p.next(p.next(i))) == '{' {
				group = strings.TrimPrefix(p.named(i), `\`) + `\`
				groupSpace = all
				i = p.next(i)
				continue
			}
			s, at := groupSpace, i
			if (p.is(i, "function") || p.is(i, "const")) && isName(p.kind(p.next(i))) {
				s = p.spaceOf(&at)
				i = at
			}
			one := item{space: s, name: group + strings.TrimPrefix(p.named(i), `\`), at: span(p.t[i]), group: group,
				statement: p.number}
			one.alias = one.name[strings.LastIndexByte(one.name, '\\')+1:]
			if p.is(p.next(i), "as") && p.kind(p.next(p.next(i))) == tWord {
				i = p.next(p.next(i))
				one.alias, one.explicit = p.named(i), true
			}
			one.whole = source.Span{Start: int(p.t[itemStart].start), End: int(p.t[i].end)}
			b.imports = append(b.imports, one)
		}
	}
	end := int(p.t[i].end)
	if p.kind(i) == tClose {
		end = int(p.t[i].start)
	}
	for k := first; k < len(b.imports); k++ {
		b.imports[k].stands = source.Span{Start: int(p.t[start].start), End: end}
		b.imports[k].only = len(b.imports)-first == 1
	}
	p.i = i
	if p.kind(i) == tEnd {
		p.i = i - 1
	}
}

// spaceOf reads function or const before a name, if one stands there.
func (p *parser) spaceOf(i *int) space {
	for s, w := range map[space]string{function: "function", constant: "const"} {
		if p.is(*i, w) && (isName(p.kind(p.next(*i)))) {
			*i = p.next(*i)
			return s
		}
	}
	return class
}
