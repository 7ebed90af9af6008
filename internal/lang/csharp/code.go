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

// variableBehind says whether a token follows the name of a variable that is declared.
func (p *parser) variableBehind(i int) bool {
	switch p.kind(i) {
	case '=', ';', ',', ')':
		return true
	}
	return p.is(i, "in")
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

// methodNamed reads the arguments of a method that a chain names, or of a method in code that is declared.
func (p *parser) methodNamed(at int) {
	u := &p.f.uses[at]
	u.called = true
	name := last(u.text)
	if u.parts > 1 {
		p.f.selects = append(p.f.selects, selected{name: name, at: int(p.f.ends[int(u.ends)+int(u.parts)-1]) - len(name),
			call: true, owner: int32(p.owner), space: int32(p.space), chain: true})
	}
	called, mark, of := p.called, p.mark, p.typeOf
	p.called, p.mark, p.typeOf = name, false, ""
	p.arguments()
	p.called, p.mark, p.typeOf = called, mark, of
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

// behindDot reads . or -> and the name behind it.
func (p *parser) behindDot() {
	p.i++
	if !p.isName(p.i) {
		return
	}
	name, at := p.name(p.i), len(p.f.selects)
	p.selects(p.i)
	p.i++
	if p.kind(p.i) == '<' {
		if close := p.closes(p.i); close > 0 && p.typesEnd(close) {
			p.typeArguments(-1)
		}
	}
	if p.kind(p.i) == '(' {
		p.f.selects[at].call = true
		called, mark, of := p.called, p.mark, p.typeOf
		p.called, p.mark, p.typeOf = name, false, ""
		p.arguments()
		p.called, p.mark, p.typeOf = called, mark, of
	}
}

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
		if p.kind(p.i) == ',' {
			p.i++
		} else if p.kind(p.i) == ';' {
			p.err = p.fail(p.here(), "a } is missing")
		}
	}
	p.expect('}', "a } is missing")
}

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

// fromClause says whether a query begins here: from a in, from A a in.
func (p *parser) fromClause() bool {
	k := p.i + 1
	if !p.isName(k) && !(p.kind(k) == tWord && primitive(p.raw(k))) {
		return false
	}
	if p.isName(k) && p.is(k+1, "in") {
		return true
	}
	return p.is(p.typeAhead(k)+1, "in")
}

// typeAhead gives the token behind a type.
func (p *parser) typeAhead(k int) int {
	k++
	for p.kind(k) == '.' || p.kind(k) == tColons {
		k += 2
	}
	if p.kind(k) == '<' {
		if end := p.closes(k); end > 0 {
			k = end
		}
	}
	for {
		switch {
		case p.kind(k) == '?' || p.kind(k) == '*':
			k++
		case p.kind(k) == '[' && p.emptyBrackets(k) > 0:
			k = p.emptyBrackets(k)
		case p.kind(k) == '.' && p.isName(k+1):
			k += 2
		default:
			return k
		}
	}
}

// queryVariable reads from A a, join B b.
func (p *parser) queryVariable() {
	p.i++
	if !(p.isName(p.i) && p.is(p.i+1, "in")) {
		p.typeUse()
	}
	if p.isName(p.i) {
		p.known.Variable(p.name(p.i))
		p.i++
	}
}

// queryWord reads a word that a query has for itself. It reports false for all else.
// ordered says then whether commas part what is ordered by.
func (p *parser) queryWord(ordered *bool) bool {
	word := p.same.Of(p.raw(p.i))
	switch word {
	case "from":
		if !p.fromClause() {
			return false
		}
		p.queryVariable()
	case "join":
		p.queryVariable()
	case "let":
		if p.i++; p.isName(p.i) && p.kind(p.i+1) == '=' {
			p.known.Variable(p.name(p.i))
			p.i++
		}
	case "into":
		if p.i++; p.isName(p.i) {
			p.known.Variable(p.name(p.i))
			p.i++
		}
	case "where", "select", "orderby", "group", "by", "on", "equals", "ascending", "descending":
		p.i++
	default:
		return false
	}
	if word != "ascending" && word != "descending" {
		*ordered = word == "orderby"
	}
	return true
}

// text reads a string.
func (p *parser) text() {
	t := p.t[p.i]
	one := csText{from: int(t.start), at: span(t), plain: t.kind == tPlain, call: p.called, mark: p.mark, types: p.typeOf}
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
