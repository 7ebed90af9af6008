package csharp

// This file reads the bodies of types: fields, properties, methods, constructors and what is nested (language
// specification, Classes, Structs, Interfaces, Enums).

// body reads from { to } what a type declares.
func (p *parser) body(at int) {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "types are nested too deep")
		return
	}
	defer func() { p.depth-- }()
	p.i++
	if p.f.types[at].kind == "enum" {
		p.enumMembers(at)
		return
	}
	for p.err == nil {
		switch p.kind(p.i) {
		case tEnd:
			p.err = p.fail(p.here(), "a } is missing")
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

// enumMembers reads [A] B = 1, C }.
func (p *parser) enumMembers(at int) {
	for p.err == nil {
		for p.kind(p.i) == '[' {
			p.attributes()
		}
		switch {
		case p.kind(p.i) == '}':
			p.i++
			return
		case !p.isName(p.i):
			p.err = p.fail(p.here(), "a member of "+p.f.types[at].name+" is expected here")
			return
		}
		p.f.members = append(p.f.members, member{name: p.name(p.i), owner: at, at: int(p.t[p.i].start)})
		p.i++
		if p.kind(p.i) == '=' {
			p.i++
			p.expression()
		}
		if p.kind(p.i) == ',' {
			p.i++
		} else if p.kind(p.i) != '}' && p.err == nil {
			p.err = p.fail(p.here(), "a } or a , is expected here")
		}
	}
}

// member reads one member of a type.
func (p *parser) member(at int) {
	p.from = p.i
	m := p.modifiers()
	if !m.given && p.f.types[at].kind == "interface" {
		m.sees = public
	}
	for _, mark := range m.marks {
		p.f.types[at].route = p.f.types[at].route || routes[last(mark)]
	}
	if p.typeBegins() {
		p.typeDeclaration(m)
		return
	}
	defer p.known.Leave(p.known.Enter())
	switch {
	case p.kind(p.i) == '~':
		p.i += 2
		p.methodRest()
		return
	case p.is(p.i, "implicit"), p.is(p.i, "explicit"):
		p.i++
		p.explicitInterface()
		p.i++ // operator
		if p.is(p.i, "checked") {
			p.i++
		}
		p.typeUse()
		p.methodRest()
		return
	case p.is(p.i, "event"):
		p.i++
		p.typeUse()
		p.named(at, m)
		return
	case p.isName(p.i) && p.kind(p.i+1) == '(': // a constructor
		p.i++
		p.methodRest()
		return
	}
	for p.is(p.i, "ref") || p.is(p.i, "readonly") || p.is(p.i, "const") || p.is(p.i, "scoped") && p.kind(p.i+1) == tWord {
		p.i++
	}
	p.methodTypes()
	p.typeUse()
	p.named(at, m)
}

// methodTypes looks ahead for the type parameters of a method: what it returns stands before them.
func (p *parser) methodTypes() {
	depth := 0
	for k := p.i; k < p.i+400; k++ {
		switch p.kind(k) {
		case '(':
			// a tuple may stand in what it returns
			if depth == 0 && k > p.i && p.kind(k-1) != ',' && p.kind(k-1) != '<' {
				return
			}
			depth++
		case ')':
			depth--
		case ';', '{', '=', '}', tArrow, tEnd:
			return
		case '<':
			end := p.closes(k)
			if end < 0 {
				return
			}
			if p.isName(k-1) && p.kind(end) == '(' {
				for n := k + 1; n < end; n++ {
					if p.isName(n) && (p.kind(n+1) == ',' || p.kind(n+1) == '>') {
						p.known.Type(p.name(n))
					}
				}
				return
			}
		}
	}
}

// explicitInterface passes A.B<C>. before the name of a member, whose type is noted.
func (p *parser) explicitInterface() {
	k := p.i
	dot := -1
	for p.isName(k) {
		next := k + 1
		if p.kind(next) == '<' {
			if end := p.closes(next); end > 0 {
				next = end
			}
		}
		if p.kind(next) == tColons { // an alias
			k = next + 1
			continue
		}
		if p.kind(next) != '.' {
			break
		}
		dot, k = next, next+1
	}
	if dot < 0 {
		return
	}
	for p.i < dot && p.err == nil {
		before := p.i
		p.chainTo(dot)
		if p.kind(p.i) == '<' {
			p.typeArguments(len(p.f.uses) - 1)
		}
		if p.kind(p.i) == '.' && p.i < dot { // A<B>.C
			p.selects(p.i + 1)
			if p.i += 2; p.kind(p.i) == '<' {
				p.typeArguments(-1)
			}
		}
		if p.i == before {
			break
		}
	}
	p.i = dot + 1
}

// named reads a member from its name on: a method, a property, an indexer, an operator, fields or events.
func (p *parser) named(at int, m modifiers) {
	p.explicitInterface()
	switch {
	case p.is(p.i, "operator"):
		p.i++
		for p.kind(p.i) != '(' && p.kind(p.i) != tEnd {
			p.i++
		}
		p.methodRest()
		return
	case p.is(p.i, "this"):
		p.i++
		if p.kind(p.i) == '[' {
			p.parametersTo(']')
		}
		p.property()
		return
	case !p.isName(p.i):
		if p.err == nil {
			p.err = p.fail(p.here(), "a member of "+p.f.types[at].name+" is expected here")
		}
		return
	}
	one := member{name: p.name(p.i), owner: at, sees: m.sees, at: int(p.t[p.i].start)}
	switch p.kind(p.i + 1) {
	case '(', '<':
		one.method = true
		p.i++
		if p.kind(p.i) == '<' {
			var none []string
			p.typeParameters(&none)
		}
		one.extends = p.kind(p.i) == '(' && p.extending()
		one.args = p.methodRest()
		p.f.members = append(p.f.members, one)
		return
	case '{', tArrow:
		p.f.members = append(p.f.members, one)
		p.i++
		p.property()
		return
	}
	for p.err == nil { // fields
		p.f.members = append(p.f.members, member{name: p.name(p.i), owner: at, sees: m.sees, at: int(p.t[p.i].start)})
		p.i++
		if p.kind(p.i) == '[' { // of a fixed size
			p.i++
			p.expression()
			p.expect(']', "a ] is expected here")
		}
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
	p.expect(';', "a field ends with ;")
}

// extending says whether the first parameter has this before it.
func (p *parser) extending() bool {
	k := p.i + 1
	for p.kind(k) == '[' {
		depth := 0
		for ; p.kind(k) != tEnd; k++ {
			if p.kind(k) == '[' {
				depth++
			} else if p.kind(k) == ']' {
				if depth--; depth == 0 {
					break
				}
			}
		}
		k++
	}
	for p.is(k, "ref") || p.is(k, "in") || p.is(k, "scoped") || p.is(k, "params") {
		k++
	}
	return p.is(k, "this")
}

// methodRest reads the parameters of a method and its body, and gives how many parameters it has.
func (p *parser) methodRest() (count int) {
	if p.kind(p.i) != '(' {
		if p.err == nil {
			p.err = p.fail(p.here(), "a ( is expected here")
		}
		return 0
	}
	count = p.parameters()
	if p.kind(p.i) == ':' { // another constructor
		p.i++
		if p.is(p.i, "base") || p.is(p.i, "this") {
			p.i++
		}
		if p.kind(p.i) == '(' {
			p.arguments()
		}
	}
	p.constraints()
	p.methodBody()
	return count
}

// methodBody reads { … }, => …; or ;
func (p *parser) methodBody() {
	switch p.kind(p.i) {
	case '{':
		p.block()
	case tArrow:
		p.i++
		p.expression()
		p.expect(';', "a method ends with ;")
	case ';':
		p.i++
	default:
		if p.err == nil {
			p.err = p.fail(p.here(), "the body of a method or ; is expected here")
		}
	}
}

// property reads { get; set { … } } = …; or => …;
func (p *parser) property() {
	if p.kind(p.i) != '{' {
		p.methodBody()
		return
	}
	for p.i++; p.kind(p.i) != '}' && p.kind(p.i) != tEnd && p.err == nil; {
		p.modifiers()
		if p.kind(p.i) != tWord {
			p.err = p.fail(p.here(), "get, set, init, add or remove is expected here")
			return
		}
		p.i++
		around := p.known.Enter()
		p.known.Variable("value")
		p.methodBody()
		p.known.Leave(around)
	}
	p.expect('}', "the } of a property is missing")
	if p.kind(p.i) == '=' {
		p.i++
		p.expression()
		p.expect(';', "the value of a property ends with ;")
	}
}

// parameters reads the parameters of a method with the brackets around them.
func (p *parser) parameters() int { return p.parametersTo(')') }

func (p *parser) parametersTo(end kind) (count int) {
	for p.i++; p.kind(p.i) != end && p.kind(p.i) != tEnd && p.err == nil; {
		for p.kind(p.i) == '[' {
			p.attributes()
		}
		for p.kind(p.i) == tWord && passing(p.raw(p.i)) || p.is(p.i, "scoped") && p.kind(p.i+1) == tWord {
			p.i++
		}
		if p.is(p.i, "__arglist") {
			p.i++
		} else {
			p.typeUse()
			if p.isName(p.i) {
				p.known.Variable(p.name(p.i))
				p.i++
			} else if p.err == nil && end != '>' {
				p.err = p.fail(p.here(), "a parameter is expected here")
				return count
			}
		}
		count++
		p.dimensions() // as C has it; none in fact
		if p.kind(p.i) == '=' {
			p.i++
			p.expression()
		}
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	if p.kind(p.i) == end {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "the end of the parameters is expected here")
	}
	return count
}

// passing says whether a word stands before the type of a parameter.
func passing(word []byte) bool {
	switch string(word) {
	case "ref", "out", "in", "params", "this", "readonly":
		return true
	}
	return false
}
