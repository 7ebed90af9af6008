package csharp

// This file reads variables, the parameters of lambdas, and methods in code (language specification, Declaration
// statements).

// lambdaParameters reads (a, b) and (A a, ref B b) before =>.
func (p *parser) lambdaParameters() {
	i := p.i + 1
	for p.isName(i) && p.kind(i+1) == ',' {
		i += 2
	}
	if p.isName(i) && p.kind(i+1) == ')' {
		for at := p.i + 1; at <= i; at += 2 {
			p.known.Variable(p.name(at))
		}
		p.i = i + 2
		return
	}
	p.parameters()
}

// variableBehind says whether a token follows the name of a variable that is declared.
func (p *parser) variableBehind(i int) bool {
	switch p.kind(i) {
	case '=', ';', ',', ')':
		return true
	}
	return p.is(i, "in")
}

// deconstructed says whether a name stands in brackets that something is taken apart into: (A<B> c, d) = …
func (p *parser) deconstructed(i int) bool {
	if k := p.kind(i - 1); k != '(' && k != ',' {
		return false
	}
	depth := 0
	for ; p.kind(i) != tEnd; i++ {
		switch p.kind(i) {
		case '(', '[', '{':
			depth++
		case ')', ']', '}':
			if depth--; depth < 0 {
				return p.kind(i) == ')' && (p.kind(i+1) == '=' || p.kind(i+1) == tArrow)
			}
		case ';':
			return false
		}
	}
	return false
}

// deconstructs says whether var ( … ) takes something apart.
func (p *parser) deconstructs() bool {
	end := p.closing(p.i)
	return end > 0 && (p.kind(end) == '=' || p.is(end, "in"))
}

// designations reads (a, (b, _)).
func (p *parser) designations() {
	depth := 0
	for p.kind(p.i) != tEnd {
		switch {
		case p.kind(p.i) == '(':
			depth++
		case p.kind(p.i) == ')':
			if depth--; depth == 0 {
				p.i++
				return
			}
		case p.isName(p.i):
			p.known.Variable(p.name(p.i))
		}
		p.i++
	}
}

// declaredBehind says whether a variable is declared here, behind A?: the middle of a condition is none.
func (p *parser) declaredBehind(i int) bool {
	if !p.isName(i) {
		return false
	}
	switch p.kind(i + 1) {
	case '=':
		for depth := 0; ; i++ { // of a condition the other half follows
			switch p.kind(i) {
			case '(', '[', '{', tHole:
				depth++
			case ')', ']', '}', tHoleEnd:
				if depth--; depth < 0 {
					return true
				}
			case ':':
				if depth == 0 {
					return false
				}
			case '?':
				if depth == 0 {
					return true
				}
			case ';', tEnd:
				return true
			}
		}
	case ';', ',', ')':
		return true
	case '(', '<': // a method in code
		if end := i + 1; p.kind(end) == '(' {
			end = p.closing(end)
			return end > 0 && (p.kind(end) == '{' || p.kind(end) == tArrow)
		}
	}
	return p.is(i+1, "in")
}

// variables reads the names of variables behind their type, and a method that is declared in code.
func (p *parser) variables() {
	for p.err == nil && p.isName(p.i) {
		p.known.Variable(p.name(p.i))
		switch p.kind(p.i + 1) {
		case '(', '<':
			k := p.i + 1
			if p.kind(k) == '<' {
				if k = p.closes(k); k < 0 || p.kind(k) != '(' {
					p.i++
					return
				}
			}
			end := p.closing(k)
			if end < 0 || p.kind(end) != '{' && p.kind(end) != tArrow && !p.is(end, "where") && p.kind(end) != ';' {
				p.i++
				return
			}
			p.localMethod(k)
			return
		}
		p.i++
		if p.kind(p.i) == '[' { // of a fixed size
			p.argumentsTo(']')
		}
		if p.kind(p.i) == '=' {
			p.i++
			p.expression()
		}
		if p.kind(p.i) != ',' || !p.isName(p.i+1) ||
			p.kind(p.i+2) != '=' && p.kind(p.i+2) != ',' && p.kind(p.i+2) != ';' {
			return
		}
		if p.list != p.depth && !p.declaresOn(p.i+1) {
			return
		}
		p.i++
	}
}

// declaresOn says whether the list of variables goes on, and no argument follows: f(out A a, b) has a ) behind it.
func (p *parser) declaresOn(i int) bool {
	depth := 0
	for ; p.kind(i) != tEnd; i++ {
		switch p.kind(i) {
		case '(', '[', '{', tHole:
			depth++
		case ')', ']', '}', tHoleEnd:
			if depth--; depth < 0 {
				return false
			}
		case ';':
			if depth == 0 {
				return true
			}
		}
	}
	return false
}

// localMethod reads a method in code from its name on.
func (p *parser) localMethod(open int) {
	defer p.known.Leave(p.known.Enter())
	p.i++
	if p.kind(p.i) == '<' {
		var none []string
		p.typeParameters(&none)
	}
	p.i = open
	p.parameters()
	p.constraints()
	p.methodBody()
}
