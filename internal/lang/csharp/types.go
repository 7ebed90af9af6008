package csharp

import "bytes"

// This file reads types and chains of names (language specification, Types and Namespace and type names).

// typeUse reads a type: int, A.B<C>[], (A a, B), A?, B*, delegate*<C, D>.
func (p *parser) typeUse() {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "types are nested too deep")
		return
	}
	defer func() { p.depth-- }()
	if k := p.kind(p.i + 1); k == tWord || k == '(' { // a type of its own has a name or a sign behind it
		for p.is(p.i, "ref") || p.is(p.i, "readonly") || p.is(p.i, "scoped") && p.kind(p.i+1) == tWord {
			p.i++
		}
	}
	switch {
	case p.kind(p.i) == tWord && p.t[p.i].key && primitive(p.raw(p.i)):
		p.i++
	case p.is(p.i, "delegate") && p.kind(p.i+1) == '*':
		p.functionPointer()
	case p.kind(p.i) == '(':
		for p.i++; p.err == nil; p.i++ {
			p.typeUse()
			if p.isName(p.i) {
				p.i++
			}
			if p.kind(p.i) != ',' {
				break
			}
		}
		p.expect(')', "a ) is expected here")
	case p.isName(p.i):
		at := len(p.f.uses)
		p.chain(true)
		if p.kind(p.i) == '<' {
			p.typeArguments(at)
		}
		p.nested()
	default:
		return
	}
	p.dimensions()
}

// functionPointer reads delegate* unmanaged[Cdecl]<A, B>.
func (p *parser) functionPointer() {
	p.i += 2
	if p.is(p.i, "managed") || p.is(p.i, "unmanaged") {
		p.i++
	}
	if p.kind(p.i) == '[' {
		for p.kind(p.i) != ']' && p.kind(p.i) != tEnd {
			p.i++
		}
		p.i++
	}
	if p.kind(p.i) != '<' {
		return
	}
	for p.i++; p.err == nil; p.i++ {
		for p.is(p.i, "ref") || p.is(p.i, "out") || p.is(p.i, "in") || p.is(p.i, "readonly") {
			p.i++
		}
		p.typeUse()
		if p.kind(p.i) != ',' {
			break
		}
	}
	p.expect('>', "a > is expected here")
}

// nested reads the types behind one with arguments: A<B>.C<D>.
func (p *parser) nested() {
	for p.kind(p.i) == '.' && p.kind(p.i-1) == '>' && p.isName(p.i+1) && p.err == nil {
		p.selects(p.i + 1)
		for p.i += 2; p.kind(p.i) == '.' && p.isName(p.i+1); p.i += 2 {
			p.selects(p.i + 1)
		}
		if p.kind(p.i) == '<' {
			p.typeArguments(-1)
		}
	}
}

// selects notes a name that is selected on something.
func (p *parser) selects(i int) {
	name := p.name(i)
	p.f.selects = append(p.f.selects, selected{name: name, at: int(p.t[i].end) - len(name), space: int32(p.space)})
}

// dimensions passes ?, * and [,] behind a type.
func (p *parser) dimensions() {
	for {
		switch {
		case p.kind(p.i) == '?' || p.kind(p.i) == '*':
			p.i++
		case p.kind(p.i) == '[':
			end := p.emptyBrackets(p.i)
			if end < 0 {
				return
			}
			p.i = end
		default:
			return
		}
	}
}

// emptyBrackets gives the token behind [,,]; -1 where something stands between the brackets.
func (p *parser) emptyBrackets(i int) int {
	for i++; p.kind(i) == ','; i++ {
	}
	if p.kind(i) == ']' {
		return i + 1
	}
	return -1
}

// typeArguments reads <A, B>, <> and <,>, and notes of a use how many there are.
func (p *parser) typeArguments(of int) {
	count := int16(1)
	for p.i++; p.err == nil; p.i++ {
		for p.kind(p.i) == '[' {
			p.attributes()
		}
		for p.is(p.i, "in") || p.is(p.i, "out") {
			p.i++
		}
		p.typeUse()
		if p.kind(p.i) != ',' {
			break
		}
		count++
	}
	p.expect('>', "a > is expected here")
	if of >= 0 && of < len(p.f.uses) {
		p.f.uses[of].arity = count
	}
}

// closes gives the token behind a list of types that begins with <; -1 for none.
func (p *parser) closes(i int) int {
	depth, round := 0, 0
	for ; ; i++ {
		switch k := p.kind(i); k {
		case '<':
			depth++
		case '>':
			if depth--; depth == 0 {
				if round > 0 {
					return -1
				}
				return i + 1
			}
		case '(':
			round++
		case ')':
			if round--; round < 0 {
				return -1
			}
		case ',', '.', '?', '[', ']', '*', tColons:
		case tWord:
			if p.t[i].key && !primitive(p.raw(i)) {
				switch string(p.raw(i)) {
				case "in", "out", "ref", "delegate":
				default:
					return -1
				}
			}
		default:
			return -1
		}
	}
}

// chain reads a name with dots, and notes it.
func (p *parser) chain(sure bool) { p.chainOf(sure, -1) }

// chainTo reads one that ends before a token.
func (p *parser) chainTo(end int) { p.chainOf(true, end) }

func (p *parser) chainOf(sure bool, end int) {
	u := use{ends: int32(len(p.f.ends)), parts: 1, owner: int32(p.owner), space: int32(p.space), sure: sure}
	if p.kind(p.i+1) == tColons && p.isName(p.i+2) {
		if u.rooted = p.is(p.i, "global"); u.rooted {
			p.i += 2
		} else {
			u.alias = true
		}
	}
	u.at, u.text = span(p.t[p.i]), p.name(p.i)
	u.hidden = !u.rooted && !u.alias && p.known.Hides(u.text, sure)
	p.f.ends = append(p.f.ends, p.t[p.i].end)
	start, plain := p.i, true
	for p.i++; (p.kind(p.i) == '.' || p.kind(p.i) == tColons && u.alias && u.parts == 1) && p.isName(p.i+1) && p.i != end; p.i += 2 {
		plain = plain && p.t[p.i-1].end == p.t[p.i].start && p.t[p.i].end == p.t[p.i+1].start
		u.at.End = int(p.t[p.i+1].end)
		u.parts++
		p.f.ends = append(p.f.ends, p.t[p.i+1].end)
	}
	if raw := p.src[u.at.Start:u.at.End]; u.parts > 1 && plain && !u.alias && bytes.IndexByte(raw, '@') < 0 &&
		bytes.IndexByte(raw, '\\') < 0 {
		u.text = p.same.Of(raw)
	} else if u.parts > 1 {
		for i := start + 2; i < p.i; i += 2 {
			u.text = join(u.text, p.name(i))
		}
	}
	p.f.uses = append(p.f.uses, u)
}

// partsOf are the first parts of a name with dots.
func partsOf(name string, n int) string {
	for i := range len(name) {
		if name[i] == '.' {
			if n--; n == 0 {
				return name[:i]
			}
		}
	}
	return name
}
