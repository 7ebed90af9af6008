package java

// This file tells apart what looks alike: a type with arguments from a comparison, a label from a choice, a pattern
// from a constant, a cast from a condition. It looks at the tokens around, and builds no tree.

// caught reads what stands behind catch: (A | B e).
func (p *parser) caught() {
	p.i++
	p.modifiers()
	from := p.i
	p.typeUse()
	gives := p.written(from, p.i)
	for p.kind(p.i) == '|' {
		p.i++
		p.typeUse()
		gives = "" // of several
	}
	p.variables(gives)
	if p.kind(p.i) == ')' {
		p.i++
	}
}

// pattern reads what stands behind case or instanceof: a constant, a type with or without a variable, and the parts of
// a record: A(B b, var c).
func (p *parser) pattern(sure bool) {
	from := p.i
	if p.kind(p.i) == tWord && primitive(p.raw(p.i)) {
		p.typeUse()
		p.variables("")
		return
	}
	if !p.isName(p.i) {
		return
	}
	if next := p.kind(p.i + 1); !sure && (next == tArrow || next == ':' || next == ',') { // a constant of an enum
		p.i++
		return
	}
	at := len(p.f.uses)
	p.chain(sure)
	if p.kind(p.i) == '<' && p.closes(p.i) > 0 {
		p.typeArguments()
		p.f.uses[at].sure = true
	}
	p.dimensions()
	if p.kind(p.i) == '(' {
		p.f.uses[at].sure = true
		for p.i++; p.err == nil && p.kind(p.i) != ')' && p.kind(p.i) != tEnd; {
			p.modifiers()
			p.pattern(true)
			if p.kind(p.i) != ',' {
				break
			}
			p.i++
		}
		if p.kind(p.i) == ')' {
			p.i++
		}
	}
	if p.isName(p.i) {
		p.f.uses[at].sure = true
		p.variables(p.written(from, p.i))
	}
	if !p.f.uses[at].sure {
		p.behindChain(at)
	}
}

// variables declares the variable that stands behind a type, and those behind it in the list.
func (p *parser) variables(gives string) {
	if !p.isName(p.i) {
		return
	}
	switch p.kind(p.i + 1) {
	case '=', ';', ',', ':', ')', '[', tArrow, '&', '|', '?', '}', ']', tEnd:
	default:
		if !p.is(p.i+1, "when") {
			return
		}
	}
	for p.isName(p.i) {
		p.known.Variable(p.name(p.i))
		p.typed(p.name(p.i), gives)
		p.i++
		p.dimensions()
		if p.kind(p.i) == '=' {
			p.i++
			p.expression()
		}
		// a list goes on with a name and what ends one; in an argument or a parameter it does not
		if p.kind(p.i) != ',' || !p.isName(p.i+1) ||
			p.kind(p.i+2) != '=' && p.kind(p.i+2) != ';' && p.kind(p.i+2) != ',' && p.kind(p.i+2) != '[' {
			return
		}
		p.i++
	}
}

// casts says whether what begins with a token may be cast by what stands before it.
func casts(k kind) bool {
	return k == tWord || k == tString || k == tText || k == tNumber || k == tChar || k == '(' || k == '!' || k == '~'
}

// closes gives the place behind the > that closes a <, if types alone stand between; 0 for a comparison.
func (p *parser) closes(i int) int {
	depth := 0
	for ; ; i++ {
		switch k := p.kind(i); k {
		case '<':
			depth++
		case '>':
			if depth--; depth == 0 {
				return i + 1
			}
		case '&':
			if p.kind(i+1) == '&' {
				return 0
			}
		case ',', '.', '?', '[', ']':
		case '@', '(', ')', tString, '=':
			if k != '@' && !p.inMark(i) {
				return 0
			}
		case tWord:
			if p.t[i].key && !primitive(p.raw(i)) && !p.is(i, "extends") && !p.is(i, "super") {
				return 0
			}
		default:
			return 0
		}
	}
}

// inMark says whether a token is a part of an annotation: @A("x") in a list of types.
func (p *parser) inMark(i int) bool {
	for back := i; back > i-12 && back > 0; back-- {
		switch p.kind(back) {
		case '@':
			return true
		case '<', ';', '{', '}':
			return false
		}
	}
	return false
}

// labelled says whether a name with a : behind it is a label: it begins a statement.
func (p *parser) labelled(i int) bool {
	switch p.kind(i - 1) {
	case ';', '{', '}', ':':
		return p.kind(i-1) != ':' || !p.ternary(i-1)
	case ')':
		return !p.ternary(i)
	}
	return p.is(i-1, "else") || p.is(i-1, "do")
}

// ternary says whether a : belongs to a ? before it.
func (p *parser) ternary(colon int) bool {
	for i := colon - 1; i >= 0; i-- {
		switch p.kind(i) {
		case '?':
			return true
		case ';', '{', '}':
			return false
		}
	}
	return false
}

// yields says whether yield is the word of a statement here (JLS 14.21).
func (p *parser) yields() bool {
	switch p.kind(p.i - 1) {
	case ';', '{', '}', ':', ')':
	default:
		return false
	}
	switch next := p.kind(p.i + 1); next {
	case tWord, tString, tText, tNumber, tChar, '(', '!', '~':
		return true
	case '-', '+':
		return p.kind(p.i+2) != next
	}
	return false
}
