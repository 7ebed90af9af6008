package csharp

import "strings"

// This file walks over code: the bodies of methods, and the expressions of fields and attributes. It builds no tree.
// What a name is follows from the tokens around it, and which variables there are from the braces (language
// specification, Statements, Expressions and Patterns).

// block reads code from { to }.
func (p *parser) block() {
	around := p.known.Enter()
	p.i++
	p.walk('}')
	p.expect('}', "a } is missing")
	p.known.Leave(around)
}

// statement reads one statement outside of all types.
func (p *parser) statement() {
	switch {
	case p.kind(p.i) == '{':
		p.block()
	default:
		p.walk(';')
		if p.kind(p.i) == ';' {
			p.i++
		} else if p.kind(p.i) == '}' && p.err == nil {
			p.err = p.fail(p.here(), "there is no { that this } closes")
		}
	}
}

// arguments reads from ( to ), and gives how many expressions stand there.
func (p *parser) arguments() (count int) { return p.argumentsTo(')') }

func (p *parser) argumentsTo(end kind) (count int) {
	open := p.i
	for p.i++; p.err == nil && p.kind(p.i) != end && p.kind(p.i) != tEnd; {
		if p.mark && p.isName(p.i) && p.kind(p.i+1) == '=' { // a property of an attribute
			p.i += 2
		}
		p.expression()
		count++
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	if p.kind(p.i) == end {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.t[open], "the bracket that begins here has no end")
	}
	return count
}

// expression reads an expression, up to a , ; or a bracket that closes.
func (p *parser) expression() { p.walk(',') }

// walk reads code up to the brace that closes it, a statement, or an expression up to what ends one.
func (p *parser) walk(until kind) {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "brackets are nested too deep")
	}
	defer func() { p.depth-- }()
	query, ordered := false, false
	start := true // of a statement
	for p.err == nil {
		begins := start && until != ','
		start = false
		switch k := p.kind(p.i); k {
		case tEnd, ')', ']', '}', tHoleEnd:
			return
		case ';':
			if until == ',' || until == ';' {
				return
			}
			query, start = false, true
			p.i++
		case ',':
			if until == ',' && !ordered {
				return
			}
			p.i++
		case '{':
			p.block()
			if start = true; until == ';' {
				if !p.goesOn() {
					return
				}
			}
		case '(':
			heads := p.head(p.i - 1)
			p.round(heads)
			start = heads && until != 0 // a statement follows
		case '[':
			if begins && p.kind(p.i-1) != ')' {
				p.attributes()
				start = true
				continue
			}
			p.argumentsTo(']')
		case tString, tPlain:
			p.text()
		case tHole:
			p.i++
			p.walk(0)
			p.expect(tHoleEnd, "the } of a hole is missing")
		case '.', tPointer:
			p.behindDot()
		case tOperator:
			p.i++
		case tWord:
			if query && p.queryWord(&ordered) {
				continue
			}
			switch {
			case p.t[p.i].key:
				start = p.keyWord(begins)
			case p.is(p.i, "from") && p.fromClause():
				query = true
				p.queryVariable()
			case begins && p.kind(p.i+1) == ':' && until != 0: // a label
				p.i += 2
				start = true
			default:
				p.word(begins)
			}
		default:
			p.i++
		}
	}
}

// keyWord reads a word that the language has for itself, and says whether a statement follows.
func (p *parser) keyWord(begins bool) bool {
	switch string(p.raw(p.i)) {
	case "do", "else", "try", "finally":
		p.i++
		return true
	case "default":
		if p.kind(p.i+1) == ':' {
			p.i += 2
			return true
		}
	case "case":
		p.i++
		p.pattern()
		if p.is(p.i, "when") {
			p.i++
		} else if p.kind(p.i) == ':' {
			p.i++
			return true
		}
		return false
	}
	p.word(begins)
	return false
}

// head says whether a word has brackets behind it that belong to a statement.
func (p *parser) head(i int) bool {
	if p.kind(i) != tWord || !p.t[i].key {
		return false
	}
	switch string(p.raw(i)) {
	case "if", "while", "for", "foreach", "using", "lock", "fixed", "switch":
		return true
	}
	return false
}

// goesOn says whether a statement goes on behind a block: do { } while, if { } else, try { } catch.
func (p *parser) goesOn() bool {
	switch {
	case p.is(p.i, "else"), p.is(p.i, "catch"), p.is(p.i, "finally"), p.is(p.i, "while") && p.doWhile():
		return true
	}
	return false
}

// doWhile says whether the while at hand ends a do.
func (p *parser) doWhile() bool {
	depth := 0
	for k := p.i + 1; p.kind(k) != tEnd; k++ {
		switch p.kind(k) {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				return p.kind(k+1) == ';'
			}
		}
	}
	return false
}

// round reads what stands in ( ), and the parameters of a lambda. heads: it belongs to a statement.
func (p *parser) round(heads bool) {
	end := p.closing(p.i)
	if end > 0 && p.kind(end) == tArrow {
		p.lambdaParameters()
		return
	}
	open := p.i
	commas := false
	first, list := len(p.f.uses), p.list
	defer func() { p.list = list }()
	if p.list = 0; heads {
		p.list = p.depth + 1
	}
	for p.i++; p.err == nil && p.kind(p.i) != ')' && p.kind(p.i) != tEnd; {
		p.expression()
		switch p.kind(p.i) {
		case ',', ';':
			commas = commas || p.kind(p.i) == ','
			p.i++
			continue
		}
		break
	}
	if p.kind(p.i) != ')' {
		if p.err == nil {
			p.err = p.fail(p.t[open], "the ( has no )")
		}
		return
	}
	p.i++
	if commas && !heads {
		k := p.i
		for p.kind(k) == '?' || p.kind(k) == '[' && p.emptyBrackets(k) > 0 {
			if p.kind(k) == '[' {
				k = p.emptyBrackets(k)
			} else {
				k++
			}
		}
		if p.isName(k) && !p.contextual(k) { // (A, B) c = …
			for at := first; at < len(p.f.uses); at++ {
				u := &p.f.uses[at]
				u.sure = true
				u.hidden = !u.rooted && !u.alias && p.known.Hides(partsOf(u.text, 1), true)
			}
			p.i = k
			p.variables()
		}
	}
}

// closing gives the token behind the bracket that closes the one at a place; -1 for none.
func (p *parser) closing(i int) int {
	depth := 0
	for ; p.kind(i) != tEnd; i++ {
		switch p.kind(i) {
		case '(', '[', '{', tHole:
			depth++
		case ')', ']', '}', tHoleEnd:
			if depth--; depth == 0 {
				return i + 1
			}
		}
	}
	return -1
}

// contextual says whether a word may be one of the language where it stands between others: a is B or C.
func (p *parser) contextual(i int) bool {
	switch string(p.raw(i)) {
	case "and", "or", "when", "with", "equals", "into", "on", "by", "where", "select", "orderby", "group", "join", "let",
		"ascending", "descending", "from":
		return true
	}
	return false
}

// word reads a word of code. begins: it is the first of a statement.
func (p *parser) word(begins bool) {
	switch w := p.raw(p.i); string(w) {
	case "new":
		p.creation()
	case "is":
		p.i++
		p.pattern()
	case "as":
		p.i++
		p.typeBehindAs()
	case "switch":
		p.i++
		if p.kind(p.i) == '{' {
			p.arms()
		}
	case "typeof", "sizeof", "default":
		p.i++
		if p.kind(p.i) == '(' {
			p.i++
			at := len(p.f.uses)
			p.typeUse()
			if string(w) == "typeof" && len(p.f.uses) > at {
				p.typeOf = p.f.uses[at].text
			}
			p.expect(')', "a ) is expected here")
		}
	case "stackalloc":
		p.i++
		p.newType()
	case "catch":
		if p.i++; p.kind(p.i) == '(' {
			p.i++
			p.typeUse()
			if p.isName(p.i) {
				p.known.Variable(p.name(p.i))
				p.i++
			}
			p.expect(')', "a ) is expected here")
		}
		if p.is(p.i, "when") {
			p.i++
		}
	case "delegate":
		switch p.i++; p.kind(p.i) {
		case '(':
			p.parameters()
		case '*':
			p.i--
			p.typeUse()
			p.variables()
		}
	case "goto":
		if p.i++; p.isName(p.i) {
			p.i++
		}
	case "foreach":
		p.i++
	case "ref", "out", "in", "params", "const", "readonly", "fixed", "using", "static", "extern", "unsafe", "lock":
		p.i++
		if begins && p.kind(p.i) == tWord && !p.t[p.i].key {
			p.typedOrName()
		}
	case "this", "base":
		p.i++
	case "await", "yield", "async", "scoped":
		// words of the language where a word stands behind
		if k := p.kind(p.i + 1); k == tWord && !p.is(p.i+1, "is") && !p.is(p.i+1, "as") && !p.is(p.i+1, "in") ||
			string(w) == "await" && (k == '(' && !begins || k == '(' && p.kind(p.closing(p.i+1)) != '{' || k == tString || k == tPart || k == tNumber) ||
			string(w) == "async" && k == '(' {
			p.i++
			if string(w) == "async" && p.isName(p.i) && p.kind(p.i+1) != tArrow {
				p.typedOrName()
			}
			return
		}
		p.nameInCode(begins)
	case "not":
		if p.kind(p.i+1) == tWord {
			p.i++
			return
		}
		p.nameInCode(begins)
	case "with":
		if p.kind(p.i+1) == '{' {
			p.i++
			p.initializer(false)
			return
		}
		p.nameInCode(begins)
	case "__arglist", "__makeref", "__refvalue", "__reftype":
		p.i++
	default:
		switch {
		case primitive(p.raw(p.i)):
			p.i++
			p.primitiveInCode()
		case p.t[p.i].key:
			p.i++
		default:
			p.nameInCode(begins)
		}
	}
}

// typedOrName reads what may be a declaration behind a word that can begin one.
func (p *parser) typedOrName() { p.nameInCode(true) }

// primitiveInCode reads what stands behind the word of a type: dimensions and a variable, or what is selected.
func (p *parser) primitiveInCode() {
	if p.kind(p.i) == '?' && !p.isName(p.i+1) && p.kind(p.i+1) != '[' && p.kind(p.i+1) != '>' && p.kind(p.i+1) != ')' {
		return
	}
	p.dimensions()
	if p.isName(p.i) && (!p.contextual(p.i) || p.variableBehind(p.i+1)) {
		p.variables()
	}
}

// typeBehindAs reads the type behind as: a ? behind it may be that of a condition.
func (p *parser) typeBehindAs() {
	if p.kind(p.i) == tWord && primitive(p.raw(p.i)) {
		p.i++
	} else if p.isName(p.i) {
		at := len(p.f.uses)
		p.chain(true)
		if p.kind(p.i) == '<' && p.closes(p.i) > 0 {
			p.typeArguments(at)
			p.nested()
		}
	} else if p.kind(p.i) == '(' {
		p.typeUse()
		return
	}
	for p.kind(p.i) == '[' && p.emptyBrackets(p.i) > 0 || p.kind(p.i) == '*' && (p.kind(p.i+1) == ')' || p.kind(p.i+1) == ';') {
		if p.kind(p.i) == '*' {
			p.i++
		} else {
			p.i = p.emptyBrackets(p.i)
		}
	}
}

// nameInCode reads a name: of a variable, a type, a namespace or a method. begins: a declaration may begin here.
func (p *parser) nameInCode(begins bool) {
	start := p.i
	before := p.kind(start - 1)
	switch next := p.kind(start + 1); {
	case next == tArrow: // the parameter of a lambda
		if before != tWord || !p.is(start-1, "when") {
			p.known.Variable(p.name(start))
			p.i++
			return
		}
	case next == ':' && (before == '(' || before == ',' || before == '[' || before == '{'): // the name of an argument
		p.i += 2
		return
	}
	at := len(p.f.uses)
	p.chain(false)
	end := p.i
	typed := false
	if p.kind(p.i) == '<' {
		if close := p.closes(p.i); close > 0 && p.typesEnd(close) &&
			(!p.isName(close) || begins || p.t[max(start-1, 0)].key && before == tWord || p.kind(close+1) == '=' || p.is(close+1, "in") ||
				p.contextual(close) || p.deconstructed(start)) {
			p.typeArguments(at)
			if p.kind(p.i) == '(' && p.t[p.i-1].kind == '>' { // a method with types
				p.methodNamed(at)
				return
			}
			// what nothing follows may be a method
			typed = p.kind(p.i) == '.' || p.kind(p.i) == '{' ||
				p.kind(p.i) == ')' && before == '(' && p.casts(p.i+1) || p.isName(p.i) && !p.contextual(p.i)
			p.nested()
		}
	}
	switch k := p.kind(p.i); {
	case k == '[' && p.emptyBrackets(p.i) > 0:
		typed = true
		p.dimensions()
	case k == '?' && p.declaredBehind(p.i+1):
		typed = true
		p.dimensions()
	case k == '?' && p.kind(p.i+1) == '[' && p.emptyBrackets(p.i+1) > 0:
		typed = true
		p.dimensions()
	case k == '?' && (p.kind(p.i+1) == ')' || p.kind(p.i+1) == '>' || p.kind(p.i+1) == ',' && before == '('): // (A?)b
		typed = true
		p.i++
	case k == '*' && p.pointer(begins, before):
		typed = true
		p.dimensions()
	}
	if p.isName(p.i) && !p.contextual(p.i) || p.isName(p.i) && typed && (p.kind(p.i+1) == '=' || p.kind(p.i+1) == ';') ||
		p.isName(p.i) && p.contextual(p.i) && (p.kind(p.i+1) == '=' || p.is(p.i+1, "in") ||
			begins && (p.kind(p.i+1) == ';' || p.kind(p.i+1) == ',') ||
			p.is(start-1, "out") && (p.kind(p.i+1) == ')' || p.kind(p.i+1) == ',')) {
		typed = true
		p.variables()
	} else if p.kind(p.i) == '(' && !typed {
		if p.f.uses[at].text == "var" && p.deconstructs() { // var (a, b) = …
			p.designations()
			return
		}
		p.methodNamed(at)
		return
	}
	p.f.uses[at].sure = p.f.uses[at].sure || typed
	if typed {
		p.f.uses[at].hidden = !p.f.uses[at].rooted && !p.f.uses[at].alias && p.known.Hides(partsOf(p.f.uses[at].text, 1), true)
	}
	if p.i == end && before == '(' && p.kind(p.i) == ')' && p.casts(p.i+1) {
		// a cast, or a condition: which of them is not seen here, and a name too many does no harm
		p.f.uses[at].hidden = !p.f.uses[at].rooted && p.known.Hides(partsOf(p.f.uses[at].text, 1), true)
	}
}

// methodNamed reads the arguments of a method that a chain names, or of a method in code that is declared.
func (p *parser) methodNamed(at int) {
	u := &p.f.uses[at]
	u.called = true
	name := last(u.text)
	if u.parts > 1 {
		p.f.selects = append(p.f.selects, selected{name: name, at: int(p.f.ends[int(u.ends)+int(u.parts)-1]) - len(name),
			space: int32(p.space), chain: true})
	}
	called, mark, of := p.called, p.mark, p.typeOf
	p.called, p.mark, p.typeOf = name, false, ""
	p.arguments()
	p.called, p.mark, p.typeOf = called, mark, of
}

// typesEnd says whether a list of types may end before a token (language specification, Grammar ambiguities).
func (p *parser) typesEnd(i int) bool {
	if p.kind(i) == '=' && p.t[i-1].end == p.t[i].start { // >=
		return false
	}
	switch p.kind(i) {
	case '(', ')', ']', '}', ':', ';', ',', '.', '?', '|', '^', '&', '[', '>', '{', tHoleEnd, tEnd, '*', '=', tArrow:
		return true
	case tOperator:
		switch string(p.raw(i)) {
		case "==", "!=", "&&", "||", "??":
			return true
		}
		return false
	case tWord:
		return p.isName(i) || p.is(i, "is") || p.is(i, "as") || p.is(i, "in")
	}
	return false
}

// pointer says whether * behind a name makes a type of it.
func (p *parser) pointer(begins bool, before kind) bool {
	k := p.i
	for p.kind(k) == '*' {
		k++
	}
	switch {
	case p.kind(k) == ')' || p.kind(k) == '>' || p.kind(k) == ',' && before == '<', p.kind(k) == '[' && p.emptyBrackets(k) > 0:
		return true
	case !p.isName(k):
		return false
	}
	if begins {
		return p.kind(k+1) == '=' || p.kind(k+1) == ';' || p.kind(k+1) == ',' || p.kind(k+1) == '['
	}
	// fixed (A* b = …)
	return before == '(' && p.kind(k+1) == '='
}

// casts says whether a token may begin what is cast.
func (p *parser) casts(i int) bool {
	switch p.kind(i) {
	case tWord:
		return !p.is(i, "is") && !p.is(i, "as")
	case tNumber, tString, tPlain, tPart, tChar, '(', '~', '!':
		return true
	}
	return false
}

// behindDot reads . or -> and the name behind it.
func (p *parser) behindDot() {
	p.i++
	if !p.isName(p.i) {
		return
	}
	name := p.name(p.i)
	p.selects(p.i)
	p.i++
	if p.kind(p.i) == '<' {
		if close := p.closes(p.i); close > 0 && p.typesEnd(close) {
			p.typeArguments(-1)
		}
	}
	if p.kind(p.i) == '(' {
		called, mark, of := p.called, p.mark, p.typeOf
		p.called, p.mark, p.typeOf = name, false, ""
		p.arguments()
		p.called, p.mark, p.typeOf = called, mark, of
	}
}

// text reads a string.
func (p *parser) text() {
	t := p.t[p.i]
	one := csText{from: int(t.start), at: span(t), call: p.called, mark: p.mark, types: p.typeOf}
	raw := p.raw(p.i)
	n := 0
	for n < len(raw) && (raw[n] == '@' || raw[n] == '"') {
		n++
	}
	if n < len(raw) || len(raw) > 2 {
		quotes := n
		if raw[0] == '@' {
			quotes--
		}
		if quotes != 3 || t.kind != tPlain {
			n, quotes = n-quotes+1, 1
		}
		one.at.Start += n
		one.at.End = max(one.at.Start, one.at.End-quotes)
	}
	one.joins = p.kind(p.i-1) == '+' || p.kind(p.i+1) == '+'
	p.i++
	if p.mark && strings.TrimSuffix(p.called, "Attribute") == "InternalsVisibleTo" {
		name, _, _ := strings.Cut(string(p.src[one.at.Start:one.at.End]), ",")
		p.f.friends = append(p.f.friends, strings.TrimSpace(name))
	}
	p.f.texts = append(p.f.texts, one)
}
