package csharp

// This file reads what stands behind is, case and switch (language specification, Patterns).

// pattern reads what stands behind is and case: A a, B { C: d } e, (f, g), > 1 and not null.
func (p *parser) pattern() {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "patterns are nested too deep")
		return
	}
	defer func() { p.depth-- }()
	for p.err == nil {
		for p.is(p.i, "not") && p.kind(p.i+1) != tEnd {
			if k := p.kind(p.i + 1); k == ';' || k == ')' || k == ',' || k == tArrow || k == '.' {
				break
			}
			p.i++
		}
		p.onePattern()
		if !p.is(p.i, "and") && !p.is(p.i, "or") {
			return
		}
		p.i++
	}
}

// onePattern reads a pattern without and, or and not.
func (p *parser) onePattern() {
	switch k := p.kind(p.i); {
	case k == tWord && primitive(p.raw(p.i)):
		p.i++
		if p.kind(p.i) == '.' { // int.MaxValue
			p.operandRest()
			return
		}
		p.patternDimensions()
		p.patternRest()
	case p.is(p.i, "var"):
		at := len(p.f.uses)
		p.chain(true)
		p.f.uses[at].hidden = true
		if p.kind(p.i) == '(' {
			p.designations()
		} else if p.isName(p.i) {
			p.known.Variable(p.name(p.i))
			p.i++
		}
	case p.is(p.i, "typeof"), p.is(p.i, "default"), p.is(p.i, "new"), p.is(p.i, "sizeof"), p.is(p.i, "checked"):
		p.operand()
	case p.isName(p.i) && p.kind(p.i+1) == '(' && p.is(p.i, "nameof"):
		p.operand()
	case p.isName(p.i):
		at := len(p.f.uses)
		p.chain(false)
		end := p.i
		if p.kind(p.i) == '<' && p.closes(p.i) > 0 {
			p.typeArguments(at)
			p.nested()
		}
		p.patternDimensions()
		if p.patternRest(); p.i > end {
			u := &p.f.uses[at]
			u.sure = true
			u.hidden = !u.rooted && !u.alias && p.known.Hides(partsOf(u.text, 1), true)
		} else {
			// whether it is a type or a constant is not seen here; a type comes before a variable
			u := &p.f.uses[at]
			u.hidden = !u.rooted && !u.alias && p.known.Hides(partsOf(u.text, 1), true)
			p.operandRest()
		}
	case k == '(' && p.castAhead():
		p.operand()
	case k == '{' || k == '(' || k == '[':
		p.patternRest()
	case k == tOperator && (string(p.raw(p.i)) == "<=" || string(p.raw(p.i)) == "==" || string(p.raw(p.i)) == "!="), k == '<', k == '>':
		if p.i++; k == '>' && p.kind(p.i) == '=' {
			p.i++
		}
		p.operand()
	case k == tOperator && string(p.raw(p.i)) == "..":
		p.i++
		if p.kind(p.i) != ',' && p.kind(p.i) != ']' {
			p.onePattern()
		}
	default:
		p.operand()
	}
}

// castAhead says whether (A) stands here with an operand behind it, and no list of patterns.
func (p *parser) castAhead() bool {
	end := p.closing(p.i)
	if end < 0 || !p.casts(end) || p.isName(end) && p.contextual(end) {
		return false
	}
	for k, depth := p.i, 0; k < end; k++ {
		switch p.kind(k) {
		case '(', '<':
			depth++
		case ')', '>':
			depth--
		case ',', ':', '{':
			if depth == 1 {
				return false
			}
		}
	}
	return true
}

// patternDimensions passes [] behind the type of a pattern, and a ? that is none of a condition.
func (p *parser) patternDimensions() {
	for {
		switch {
		case p.kind(p.i) == '[' && p.emptyBrackets(p.i) > 0:
			p.i = p.emptyBrackets(p.i)
		case p.kind(p.i) == '?' && p.kind(p.i+1) == '[' && p.emptyBrackets(p.i+1) > 0:
			p.i++
		case p.kind(p.i) == '*' && (p.kind(p.i+1) == ')' || p.kind(p.i+1) == '*'):
			p.i++
		default:
			return
		}
	}
}

// patternRest reads what may stand behind the type of a pattern: (…), { … }, a name.
func (p *parser) patternRest() {
	if p.kind(p.i) == '(' {
		for p.i++; p.err == nil && p.kind(p.i) != ')' && p.kind(p.i) != tEnd; {
			if p.isName(p.i) && p.kind(p.i+1) == ':' {
				p.i += 2
			}
			p.pattern()
			if p.kind(p.i) == ',' {
				p.i++
			} else if p.kind(p.i) != ')' {
				p.expression()
				if p.kind(p.i) != ',' {
					break
				}
			}
		}
		p.expect(')', "a ) is expected here")
	}
	if p.kind(p.i) == '{' {
		for p.i++; p.err == nil && p.kind(p.i) != '}' && p.kind(p.i) != tEnd; {
			for p.isName(p.i) && p.kind(p.i+1) == '.' { // A.B: c
				p.i += 2
				p.selects(p.i)
			}
			if p.isName(p.i) && p.kind(p.i+1) == ':' {
				p.i += 2
			}
			p.pattern()
			if p.kind(p.i) == ',' {
				p.i++
			} else {
				break
			}
		}
		p.expect('}', "the } of a pattern is missing")
	}
	if p.kind(p.i) == '[' {
		for p.i++; p.err == nil && p.kind(p.i) != ']' && p.kind(p.i) != tEnd; {
			p.pattern()
			if p.kind(p.i) == ',' {
				p.i++
			} else {
				break
			}
		}
		p.expect(']', "the ] of a pattern is missing")
	}
	if p.isName(p.i) && !p.contextual(p.i) {
		p.known.Variable(p.name(p.i))
		p.i++
	}
}

// operand reads a constant in a pattern: one operand, with what is selected on it and sums.
func (p *parser) operand() {
	for p.kind(p.i) == '-' || p.kind(p.i) == '+' || p.kind(p.i) == '~' || p.kind(p.i) == '!' {
		p.i++
	}
	switch p.kind(p.i) {
	case tString, tPlain:
		p.text()
	case '(':
		p.round(false)
		if p.kind(p.i) == tNumber || p.isName(p.i) && !p.contextual(p.i) { // a cast
			p.operand()
		}
	case tWord:
		if p.isName(p.i) {
			at := len(p.f.uses)
			p.chain(false)
			if p.kind(p.i) == '(' {
				p.methodNamed(at)
			} else if p.kind(p.i) == '<' && p.closes(p.i) > 0 && p.kind(p.closes(p.i)) == '.' {
				p.typeArguments(at)
			}
		} else {
			p.word(false)
		}
	case ')', ']', '}', ';', ',', tEnd, tHoleEnd, ':', tArrow:
		return
	default:
		p.i++
	}
	p.operandRest()
}

// operandRest reads what follows an operand and belongs to it.
func (p *parser) operandRest() {
	for p.err == nil {
		switch k := p.kind(p.i); {
		case k == '.':
			p.behindDot()
		case k == '|' || k == '&' || k == '^' || k == '+' || k == '-' || k == '*' || k == '/' || k == '%':
			p.i++
			p.operand()
		case k == tOperator && (string(p.raw(p.i)) == "<<"):
			p.i++
			p.operand()
		default:
			return
		}
	}
}

// arms reads { pattern when a => b, … } behind switch.
func (p *parser) arms() {
	for p.i++; p.err == nil && p.kind(p.i) != '}' && p.kind(p.i) != tEnd; {
		around := p.known.Enter()
		p.pattern()
		if p.is(p.i, "when") {
			p.i++
			p.untilArrow()
		}
		p.expect(tArrow, "a => is expected here")
		p.expression()
		p.known.Leave(around)
		if p.kind(p.i) == ',' {
			p.i++
		} else {
			break
		}
	}
	p.expect('}', "the } of a switch is missing")
}

// untilArrow reads the condition of an arm.
func (p *parser) untilArrow() {
	for p.err == nil && p.kind(p.i) != tArrow {
		switch k := p.kind(p.i); {
		case k == tEnd || k == '}' || k == ')' || k == ';':
			return
		case k == tWord:
			if p.isName(p.i) && p.kind(p.i+1) == tArrow { // the last name of the condition
				p.chain(false)
				return
			}
			p.word(false)
		case k == '(':
			// its arrow is that of the arm
			p.argumentsTo(')')
		case k == '[':
			p.argumentsTo(']')
		case k == tString || k == tPlain:
			p.text()
		case k == '.':
			p.behindDot()
		case k == '{':
			p.initializer(false)
		default:
			p.i++
		}
	}
}
