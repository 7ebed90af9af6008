package java

import (
	"bytes"

	"crookedshelf/internal/source"
)

// This file walks over code: the bodies of methods, and the expressions of fields and annotations. It builds no tree.
// What a name is follows from the tokens around it, and which variables there are from the braces.

// block reads code from { to }.
func (p *parser) block() {
	around := p.known.Enter()
	p.i++
	p.walk('}')
	if p.kind(p.i) == '}' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a } is missing")
	}
	p.known.Leave(around)
}

// anyArgs stands for a number of arguments that is not seen: of a method behind ::.
const anyArgs = -2

// arguments reads from ( to ) and gives how many expressions stand there.
func (p *parser) arguments() (count int8) {
	p.i++
	if p.kind(p.i) == ')' {
		p.i++
		return 0
	}
	for p.err == nil {
		p.expression()
		if count < 100 {
			count++
		}
		if p.kind(p.i) != ',' {
			break
		}
		p.i++
	}
	if p.kind(p.i) == ')' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a ) is missing")
	}
	return count
}

// expression reads an expression, up to a , ; or a bracket that closes.
func (p *parser) expression() { p.walk(',') }

// walk reads code up to the brace that closes it, or an expression up to what ends one.
func (p *parser) walk(until kind) {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "brackets are nested too deep")
	}
	defer func() { p.depth-- }()
	for p.err == nil {
		switch k := p.kind(p.i); k {
		case tEnd, ')', ']', '}':
			return
		case ';':
			if until == ',' {
				return
			}
			p.i++
		case ',':
			if until == ',' {
				return
			}
			p.i++
		case '{':
			p.block()
		case '(':
			p.round()
		case '[':
			p.i++
			p.walk(0)
			if p.kind(p.i) == ']' {
				p.i++
			}
		case '@':
			if p.is(p.i+1, "interface") {
				p.i++
				continue
			}
			p.annotation()
		case tString, tText:
			p.text("", "", "", -1)
		case tWord:
			p.word()
		case '.', tColons:
			p.behindDot("")
		case tArrow:
			p.i++
		default:
			p.i++
		}
	}
}

// round reads what stands in ( ), and the parameters of a lambda.
func (p *parser) round() {
	if p.lambda() {
		return
	}
	open := p.i
	p.i++
	p.walk(0)
	if p.kind(p.i) == ')' {
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.t[open], "the ( has no )")
	}
}

// lambda reads parameters without types, as (a, b) ->. It reports false for all else.
func (p *parser) lambda() bool {
	i := p.i + 1
	for p.isName(i) && p.kind(i+1) == ',' {
		i += 2
	}
	if !p.isName(i) || p.kind(i+1) != ')' || p.kind(i+2) != tArrow {
		return false
	}
	for at := p.i + 1; at <= i; at += 2 {
		p.known.Variable(p.name(at))
	}
	p.i = i + 2
	return true
}

// word reads a word of code.
func (p *parser) word() {
	switch w := p.same.Of(p.raw(p.i)); w {
	case "new":
		p.creation()
	case "class", "interface", "enum":
		if p.typeBegins() {
			p.typeDeclaration(modifiers{sees: private}, true)
			return
		}
		p.i++
	case "instanceof", "throws", "extends", "implements":
		p.i++
		for p.is(p.i, "final") || p.kind(p.i) == '@' {
			p.modifiers()
		}
		p.pattern(true)
	case "catch":
		if p.i++; p.kind(p.i) == '(' {
			p.caught()
		}
	case "break", "continue": // to a label
		if p.i++; p.isName(p.i) {
			p.i++
		}
	case "this", "super":
		on := w
		if p.kind(p.i+1) == '(' { // another constructor
			p.i++
			at := p.i
			args := p.arguments()
			p.f.calls = append(p.f.calls, call{name: w, at: int(p.t[at].start), owner: int32(p.owner), args: args})
			return
		}
		p.i++
		p.behind(on)
	case "case":
		p.i++
		p.pattern(false)
		for p.kind(p.i) == ',' && p.isName(p.i+1) {
			p.i++
			p.pattern(false)
		}
	case "boolean", "byte", "short", "int", "long", "char", "float", "double", "void", "var":
		if w == "var" && p.kind(p.i+1) != tWord {
			p.nameInCode()
			return
		}
		p.i++
		p.dimensions()
		p.variables("")
	case "record":
		if p.typeBegins() {
			p.typeDeclaration(modifiers{sees: private}, true)
			return
		}
		p.nameInCode()
	case "yield":
		if p.yields() {
			p.i++
			return
		}
		p.nameInCode()
	default:
		if p.t[p.i].key {
			p.i++
			return
		}
		p.nameInCode()
	}
}

// nameInCode reads a name: of a variable, a type, a package or a method.
func (p *parser) nameInCode() {
	start := p.i
	switch next := p.kind(start + 1); {
	case next == '(': // a method
		name, at := p.name(start), int(p.t[start].start)
		p.i++
		args := p.callArguments(name, "")
		p.f.calls = append(p.f.calls, call{name: name, at: at, owner: int32(p.owner), args: args})
		p.behind(name + "()")
		return
	case next == tArrow: // the parameter of a lambda, or a constant behind case
		p.known.Variable(p.name(start))
		p.i++
		return
	case next == ':' && p.labelled(start):
		p.i++
		return
	}
	p.chain(false)
	at := len(p.f.uses) - 1
	end := p.i
	// a type has arguments, brackets without an index, or a name behind it
	typed := false
	if p.kind(p.i) == '<' {
		if close := p.closes(p.i); close > 0 {
			if behind := p.kind(close); p.isName(close) || behind == '[' || behind == tColons || behind == tEllipsis ||
				behind == '.' || behind == '@' || behind == ')' || behind == '&' && p.kind(start-1) == '(' {
				p.typeArguments()
				typed = true
				for p.kind(p.i) == '&' { // (A<B> & C) d
					p.i++
					p.typeUse()
				}
				p.nested()
			}
		}
	}
	if p.kind(p.i) == '[' && p.kind(p.i+1) == ']' {
		typed = true
		p.dimensions()
	}
	if p.kind(p.i) == '@' && !p.is(p.i+1, "interface") { // A @B [] c
		p.dimensions()
	}
	if p.kind(p.i) == tEllipsis {
		typed = true
		p.i++
	}
	if p.isName(p.i) {
		before := p.i
		p.variables(p.written(start, p.i))
		typed = typed || p.i > before
	}
	if p.i == end && p.kind(start-1) == '(' && p.kind(p.i) == ')' && casts(p.kind(p.i+1)) {
		// a cast, or a condition: which of them is not seen here, and a name too many does no harm
		p.f.uses[at].hidden = p.known.Hides(partsOf(p.f.uses[at].text, 1), true)
	}
	p.f.uses[at].sure = p.f.uses[at].sure || typed
	if p.i == end { // an expression
		if p.kind(p.i) == tColons && p.is(p.i+1, "new") {
			p.f.uses[at].sure, p.f.uses[at].made, p.f.uses[at].args = true, true, anyArgs
		}
		p.behindChain(at)
	}
}

// chain reads a name with dots, and notes it: each part but the first is selected on those before it.
func (p *parser) chain(sure bool) {
	u := use{at: span(p.t[p.i]), text: p.name(p.i), ends: int32(len(p.f.ends)), parts: 1, owner: int32(p.owner),
		sure: sure, hidden: p.known.Hides(p.name(p.i), sure)}
	p.f.ends = append(p.f.ends, p.t[p.i].end)
	start, length := p.i, u.at.Len()
	for p.i++; p.kind(p.i) == '.' && p.isName(p.i+1) && p.kind(p.i+2) != '('; p.i += 2 {
		u.at.End = int(p.t[p.i+1].end)
		length += 1 + len(p.raw(p.i+1))
		u.parts++
		p.f.ends = append(p.f.ends, p.t[p.i+1].end)
	}
	if u.parts > 1 {
		u.text = p.chained(start, u.at, length)
	}
	p.f.uses = append(p.f.uses, u)
}

// chained gives the text of a chain that begins with a token, without what may stand between its parts.
func (p *parser) chained(start int, at source.Span, length int) string {
	raw := p.src[at.Start:at.End]
	if len(raw) == length && bytes.IndexByte(raw, '\\') < 0 {
		return p.same.Of(raw)
	}
	out := ""
	for i := start; i < p.i; i += 2 {
		out = join(out, p.name(i))
	}
	return out
}

// behindChain reads what is selected on a name, and notes what the parts of the name select.
func (p *parser) behindChain(at int) {
	u := p.f.uses[at]
	for k := int32(1); k < u.parts; k++ {
		on := partsOf(u.text, int(k))
		name := last(partsOf(u.text, int(k)+1))
		p.f.selects = append(p.f.selects, selected{name: name, on: on, args: -1, ofChain: true,
			at: int(p.f.ends[u.ends+k]) - len(name), owner: u.owner, further: k+1 < u.parts || p.kind(p.i) == '.'})
	}
	p.behind(u.text)
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

// behind reads what is selected on something.
func (p *parser) behind(on string) {
	for p.err == nil && (p.kind(p.i) == '.' || p.kind(p.i) == tColons) {
		if !p.behindDot(on) {
			return
		}
		on = p.before
	}
}

// behindDot reads . or :: and the name behind it. It reports whether more may follow.
func (p *parser) behindDot(on string) bool {
	reference := p.kind(p.i) == tColons
	p.before = ""
	p.i++
	if p.kind(p.i) == '<' { // a.<B>c()
		p.typeArguments()
	}
	for p.kind(p.i) == '@' {
		p.annotation()
	}
	switch {
	case p.kind(p.i) != tWord:
		return false
	case p.is(p.i, "new") && !reference: // outer.new Inner()
		p.creation()
		return true
	case p.is(p.i, "new"), p.is(p.i, "class"):
		p.before = string(p.raw(p.i))
		p.i++
		return true
	case p.is(p.i, "this"), p.is(p.i, "super"):
		what := string(p.raw(p.i))
		p.i++
		if p.kind(p.i) == '(' {
			p.arguments()
			return false
		}
		p.behind(what)
		return false
	}
	one := selected{name: p.name(p.i), at: int(p.t[p.i].start), on: on, args: -1, owner: int32(p.owner)}
	p.i++
	switch {
	case reference:
		one.args = anyArgs
	case p.kind(p.i) == '(':
		one.args = p.callArguments(one.name, on)
	}
	if p.before = ""; one.args >= 0 {
		p.before = one.name + "()"
	}
	one.further = p.kind(p.i) == '.' || p.kind(p.i) == tColons
	p.f.selects = append(p.f.selects, one)
	return true
}

// callArguments reads the arguments of a method, and notes the texts among them.
func (p *parser) callArguments(name, on string) int8 {
	if (p.kind(p.i+1) == tString || p.kind(p.i+1) == tText) && (p.kind(p.i+2) == ')' || p.kind(p.i+2) == ',') {
		at := p.i
		p.i++
		p.text(name, on, "", -1)
		p.i = at
		return p.argumentsBehindText()
	}
	return p.arguments()
}

// argumentsBehindText reads arguments of which the first is a text that is noted already.
func (p *parser) argumentsBehindText() (count int8) {
	p.i += 2
	if p.kind(p.i) == ')' {
		p.i++
		return 1
	}
	return p.arguments() + 1 // from the comma on
}

// creation reads new A(…) { … }, new A[…] and new A<>(…).
func (p *parser) creation() {
	p.i++
	for p.kind(p.i) == '@' {
		p.annotation()
	}
	if p.kind(p.i) == '<' {
		p.typeArguments()
	}
	at := len(p.f.uses)
	switch {
	case p.kind(p.i) == tWord && primitive(p.raw(p.i)) && !p.is(p.i, "var"):
		p.i++
	case p.isName(p.i):
		p.newType()
	default:
		return
	}
	if p.kind(p.i) != '(' {
		return // an array
	}
	args := p.arguments()
	var supers []int
	if at < len(p.f.uses) && p.f.uses[at].sure {
		p.f.uses[at].made, p.f.uses[at].args = true, args
		supers = []int{at}
	}
	if p.kind(p.i) == '{' {
		p.anonymous(supers)
	}
	p.behind("")
}

// newChain reads a name behind new or @: there a bracket does not make a method of its last part.
func (p *parser) newChain() {
	u := use{at: span(p.t[p.i]), text: p.name(p.i), ends: int32(len(p.f.ends)), parts: 1, owner: int32(p.owner),
		sure: true, hidden: p.known.Hides(p.name(p.i), true)}
	p.f.ends = append(p.f.ends, p.t[p.i].end)
	for p.i++; p.kind(p.i) == '.' && p.isName(p.i+1); p.i += 2 {
		u.text += "." + p.name(p.i+1)
		u.at.End = int(p.t[p.i+1].end)
		u.parts++
		p.f.ends = append(p.f.ends, p.t[p.i+1].end)
	}
	p.f.uses = append(p.f.uses, u)
}

// newType reads the type behind new, with its arguments.
func (p *parser) newType() {
	p.newChain()
	for p.kind(p.i) == '<' && p.err == nil { // new A<B>.C<>()
		p.typeArguments()
		p.nested()
	}
}

// nested reads the types behind one with arguments: A<B>.C<D>.
func (p *parser) nested() {
	for p.kind(p.i) == '.' && p.err == nil {
		at := p.i
		for p.i++; p.kind(p.i) == '@'; {
			p.annotation()
		}
		if !p.isName(p.i) || p.kind(p.i+1) == '(' && p.kind(at-1) != '>' {
			p.i = at
			return
		}
		p.f.selects = append(p.f.selects, selected{name: p.name(p.i), args: -1, at: int(p.t[p.i].start),
			owner: int32(p.owner)})
		if p.i++; p.kind(p.i) == '<' {
			p.typeArguments()
		}
	}
}
