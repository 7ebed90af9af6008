package java

// This file reads the bodies of types: fields, methods, constructors and what is nested
// (docs.oracle.com/javase/specs/jls/se17/html/jls-8.html).

// body reads from { to } what a type declares.
func (p *parser) body(at int) {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "types are nested too deep")
		return
	}
	defer func() { p.depth-- }()
	p.f.types[at].open = p.i
	defer func() { p.f.types[at].close = p.i }()
	p.i++
	if p.f.types[at].kind == "enum" {
		p.enumConstants(at)
	}
	for p.err == nil {
		switch p.kind(p.i) {
		case tEnd:
			p.err = p.fail(p.here(), "a } is missing")
			return
		case '}':
			p.i++
			return
		case ';':
			p.i++
		default:
			p.member(at)
		}
	}
}

// enumConstants reads A(1) { … }, B;
func (p *parser) enumConstants(at int) {
	for p.err == nil {
		p.starts = append(p.starts, p.i)
		for p.kind(p.i) == '@' {
			p.annotation()
		}
		if !p.isName(p.i) {
			return
		}
		p.f.members = append(p.f.members, member{name: p.name(p.i), owner: at, static: true, at: int(p.t[p.i].start),
			gives: p.f.types[at].name})
		p.i++
		if p.kind(p.i) == '(' {
			p.arguments()
		}
		if p.kind(p.i) == '{' {
			p.anonymous(nil)
		}
		if p.kind(p.i) != ',' {
			return
		}
		p.i++
	}
}

// anonymous reads the body of a class without a name that is built on types.
func (p *parser) anonymous(supers []int) {
	at := len(p.f.types)
	p.f.types = append(p.f.types, typeDecl{owner: p.owner, kind: "class", local: true, sees: private, supers: supers})
	outer, around := p.owner, p.known.Enter()
	p.owner = at
	p.body(at)
	p.owner = outer
	p.known.Leave(around)
}

// member reads one member of a type.
func (p *parser) member(at int) {
	p.starts = append(p.starts, p.i)
	m := p.modifiers()
	if isInterface(p.f.types[at].kind) && m.sees == packaged {
		m.sees = public
	}
	for _, mark := range m.marks {
		p.f.types[at].route = p.f.types[at].route || routes[last(mark)]
	}
	switch {
	case p.typeBegins():
		p.typeDeclaration(m, false)
		return
	case p.kind(p.i) == '{': // an initializer
		p.block()
		return
	}
	defer p.known.Leave(p.known.Enter())
	if p.kind(p.i) == '<' {
		var none []string
		p.typeParameters(&none)
	}
	for p.kind(p.i) == '@' {
		p.annotation()
	}
	if p.isName(p.i) && p.name(p.i) == p.f.types[at].name && (p.kind(p.i+1) == '(' || p.kind(p.i+1) == '{') {
		d := &p.f.types[at]
		d.makes = append(d.makes, span(p.t[p.i]))
		made := member{owner: at, sees: m.sees, method: true, at: int(p.t[p.i].start)}
		if d.kind == "enum" {
			made.sees = private
		}
		p.i++
		if p.kind(p.i) == '(' {
			made.args, made.most = p.parameters()
			p.f.members = append(p.f.members, made)
		}
		p.rest()
		return
	}
	from := p.i
	p.typeUse()
	gives := p.written(from, p.i)
	if !p.isName(p.i) {
		if p.err == nil {
			p.err = p.fail(p.here(), "a member of "+p.f.types[at].name+" is expected here")
		}
		return
	}
	if p.kind(p.i+1) == '(' {
		one := member{name: p.name(p.i), owner: at, sees: m.sees, static: m.static, method: true, gives: gives,
			at: int(p.t[p.i].start)}
		p.i++
		one.args, one.most = p.parameters()
		p.f.members = append(p.f.members, one)
		p.rest()
		return
	}
	for p.err == nil { // fields
		one := member{name: p.name(p.i), owner: at, sees: m.sees, static: m.static, gives: gives, at: int(p.t[p.i].start)}
		p.f.members = append(p.f.members, one)
		p.typed(one.name, gives)
		p.i++
		p.dimensions()
		if p.kind(p.i) == '=' {
			p.i++
			p.expression()
		}
		if p.kind(p.i) != ',' {
			break
		}
		if p.i++; !p.isName(p.i) {
			break
		}
	}
	if p.kind(p.i) == ';' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a field ends with ;")
	}
}

// written is a type as it is written, without what stands in <> and []; empty for one that is worked out.
func (p *parser) written(from, to int) string {
	out, depth := "", 0
	for i := from; i < to; i++ {
		switch k := p.kind(i); {
		case k == '@': // an annotation is no part of it
			for i++; p.kind(i+1) == '.'; i += 2 {
			}
			if p.kind(i+1) == '(' {
				for i++; i < to && p.kind(i) != ')'; i++ {
				}
			}
		case k == '<':
			depth++
		case k == '>':
			depth--
		case depth == 0 && k == tWord:
			out += p.name(i)
		case depth == 0 && k == '.':
			out += "."
		}
	}
	if out == "var" {
		return ""
	}
	return out
}

// parameters reads the parameters of a method with the brackets around them.
func (p *parser) parameters() (count int, most bool) {
	for p.i++; p.kind(p.i) != ')' && p.kind(p.i) != tEnd && p.err == nil; {
		p.modifiers()
		from := p.i
		p.typeUse()
		gives := p.written(from, p.i)
		if p.kind(p.i) == tEllipsis {
			most = true
			p.i++
		}
		switch {
		case p.is(p.i, "this"), p.isName(p.i) && p.kind(p.i+1) == '.': // the receiver: A this, B A.this
			for p.i++; p.kind(p.i) == '.'; p.i += 2 {
			}
			count--
		case p.isName(p.i):
			p.known.Variable(p.name(p.i))
			p.typed(p.name(p.i), gives)
			p.i++
		default:
			p.err = p.fail(p.here(), "a parameter is expected here")
			return count, most
		}
		count++
		p.dimensions()
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	if p.kind(p.i) == ')' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a ) is expected here")
	}
	return count, most
}

// components reads the components of a record: each is a private field with a public method.
func (p *parser) components(at int) {
	first := len(p.f.members)
	for p.i++; p.kind(p.i) != ')' && p.kind(p.i) != tEnd && p.err == nil; {
		p.modifiers()
		from := p.i
		p.typeUse()
		gives := p.written(from, p.i)
		if p.kind(p.i) == tEllipsis {
			p.i++
		}
		if !p.isName(p.i) {
			p.err = p.fail(p.here(), "a component of a record is expected here")
			return
		}
		name := p.name(p.i)
		p.f.members = append(p.f.members, member{name: name, owner: at, sees: public, method: true, gives: gives,
			component: true, at: int(p.t[p.i].start)})
		p.known.Variable(name)
		p.typed(name, gives)
		p.i++
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	p.f.members = append(p.f.members, member{owner: at, sees: p.f.types[at].sees, method: true,
		args: len(p.f.members) - first, at: p.f.types[at].at.Start})
	if p.kind(p.i) == ')' {
		p.i++
	}
}

// rest reads what follows the parameters of a method: throws, default, and its body.
func (p *parser) rest() {
	p.dimensions()
	if p.is(p.i, "throws") {
		p.i++
		p.typeList()
	}
	if p.is(p.i, "default") { // of an element of an annotation
		p.i++
		p.expression()
	}
	switch p.kind(p.i) {
	case '{':
		p.block()
	case ';':
		p.i++
	default:
		if p.err == nil {
			p.err = p.fail(p.here(), "the body of a method or ; is expected here")
		}
	}
}

// typed notes the type of a variable or a field, by its name.
func (p *parser) typed(name, gives string) {
	for _, known := range p.f.vars[name] {
		if known == gives {
			return
		}
	}
	p.f.vars[name] = append(p.f.vars[name], gives)
}
