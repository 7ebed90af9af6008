package csharp

// This file reads what stands behind new and with: types, arguments, and what is set in braces (language specification,
// Object creation expressions).

// creation reads new A(…) { … }, new A[…], new[] { … }, new { … } and new(…).
func (p *parser) creation() {
	p.i++
	switch p.kind(p.i) {
	case '{':
		p.initializer(true)
		return
	case '[':
		if end := p.emptyBrackets(p.i); end > 0 {
			p.i = end
		}
		if p.kind(p.i) == '{' {
			p.initializer(false)
		}
		return
	case '(':
		// a tuple is a type, and arguments are none
		if end := p.closing(p.i); end > 0 && p.kind(end) == '[' && p.tuple(p.i, end) {
			p.newType()
		} else {
			p.argumentsOf("")
		}
	default:
		p.newType()
	}
	if p.kind(p.i) == '{' {
		p.initializer(false)
	}
}

// tuple says whether types with commas stand in brackets.
func (p *parser) tuple(i, end int) bool {
	commas := false
	for i++; i < end-1; i++ {
		switch k := p.kind(i); {
		case k == ',':
			commas = true
		case k == tWord, k == '.', k == '<', k == '>', k == '?', k == '[', k == ']':
		default:
			return false
		}
	}
	return commas
}

// newType reads the type behind new, with its arguments or dimensions.
func (p *parser) newType() {
	name := ""
	switch {
	case p.kind(p.i) == tWord && primitive(p.raw(p.i)):
		p.i++
	case p.isName(p.i):
		at := len(p.f.uses)
		p.chain(true)
		name = last(p.f.uses[at].text)
		if p.kind(p.i) == '<' {
			p.typeArguments(at)
		}
		p.nested()
	case p.kind(p.i) == '(':
		p.typeUse()
	case p.is(p.i, "delegate"):
		p.functionPointer()
	}
	for p.kind(p.i) == '?' && (p.kind(p.i+1) == '[' || p.kind(p.i+1) == '(') || p.kind(p.i) == '*' {
		p.i++
	}
	for p.kind(p.i) == '[' {
		if end := p.emptyBrackets(p.i); end > 0 {
			p.i = end
			continue
		}
		p.argumentsTo(']')
	}
	if p.kind(p.i) == '(' {
		p.argumentsOf(name)
	}
}

// argumentsOf reads the arguments of something with a name.
func (p *parser) argumentsOf(name string) {
	called, mark, of := p.called, p.mark, p.typeOf
	p.called, p.mark, p.typeOf = name, false, ""
	p.arguments()
	p.called, p.mark, p.typeOf = called, mark, of
}

// initializer reads { A = b, [c] = d, { e, f } }: what stands before = is no name in code. nameless: of a
// type without a name, which has no other members.
func (p *parser) initializer(nameless bool) {
	for p.i++; p.err == nil && p.kind(p.i) != '}' && p.kind(p.i) != tEnd; {
		switch {
		case p.isName(p.i) && p.kind(p.i+1) == '=':
			if !nameless {
				p.selects(p.i)
			}
			p.i += 2
		case p.kind(p.i) == '[':
			if p.argumentsTo(']'); p.kind(p.i) == '=' {
				p.i++
			}
		}
		if p.kind(p.i) == '{' {
			p.initializer(false)
		} else {
			p.expression()
		}
		switch p.kind(p.i) {
		case ',':
			p.i++
		case ';', ')', ']', tHoleEnd: // an expression does not go beyond these
			p.err = p.fail(p.here(), "a } is missing")
		}
	}
	p.expect('}', "a } is missing")
}
