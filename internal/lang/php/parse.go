package php

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file walks over the tokens of a file and says what each name is, by what stands before and behind it: PHP needs
// no more than that, the namespace in force and how deep the braces are.

// scope is what an open brace belongs to.
type scope uint8

const (
	inCode     scope = iota
	inString         // code in braces in a string
	inFunction       // the body of a function
	inNamespace
	inClass
	inEnum
)

// brace is an open brace: what it belongs to, and how many brackets are open around it.
type brace struct {
	scope
	brackets int
}

// bracket is what an open bracket belongs to.
type bracket struct {
	closes kind
	list   listKind
	expect bool   // a type or an attribute may begin here
	callee int    // the token before it, where that is a name; 0 for none
	calls  string // its name, once somebody has asked
	items  int
}

type listKind uint8

const (
	anyList    listKind = iota
	parameters          // of a function
	attributes          // #[ ]
)

// parser walks over one file.
type parser struct {
	src       []byte
	t         []token
	i         int
	f         *file
	block     int
	braces    []brace
	brackets  []bracket
	pending   []brace // what the next brace belongs to, by how many brackets are open around it
	names     map[string]string
	number    int  // of use statements
	heading   int  // the declaration whose head is read; -1 for a class without a name
	value     bool // the place lies behind the = of a member
	consts    bool // it lies in a list of constants
	folded    int  // the token behind the last path
	assigns   int  // the variable that the statement gives a value; -1 for none
	inScope   []int
	params    map[string]variable // of the function whose head is read
	closure   bool                // the function whose head is read has no name
	marks     []string
	functions int // braces that are open inside of functions
}

// tooDeep is how many brackets may be open: a text with more is made to do harm.
const tooDeep = 10_000

// parse reads what a text says of names. The text is not kept.
func parse(src []byte, tokens []token) (*file, error) {
	p := &parser{src: src, t: tokens, f: &file{}, names: map[string]string{}, heading: -1, assigns: -1,
		inScope: []int{0}}
	p.f.scopes = []scopeOf{{nil, -1, 0}}
	p.f.blocks = append(p.f.blocks, block{span: source.Span{Start: 0, End: len(src)}})
	p.f.after, p.f.blocks[0].after = -1, -1
	for p.kind(p.i) != tEnd {
		switch tok := p.t[p.i]; tok.kind {
		case tUnfinished:
			return nil, p.fail(tok, "what begins here has no end")
		case tShortOpen:
			return nil, p.fail(tok, "<? without php begins here: not every machine reads that as PHP, so write <?php")
		}
		if len(p.brackets)+len(p.braces) > tooDeep {
			return nil, p.fail(p.t[p.i], "brackets are nested too deep")
		}
		p.paths()
		p.step()
		p.i++
	}
	p.f.settlePaths()
	if p.f.after < 0 {
		p.f.after = 0
	}
	for i := range p.f.blocks {
		if b := &p.f.blocks[i]; b.after < 0 {
			b.after = p.f.after
		}
	}
	return p.f, nil
}

func (p *parser) fail(tok token, why string) error {
	line := bytes.Count(p.src[:tok.start], []byte("\n")) + 1
	column := int(tok.start) - text.LineStart(p.src, int(tok.start)) + 1
	return &lang.ScanError{Message: fmt.Sprintf("line %d, column %d: %s", line, column, why)}
}

// text gives the text of a token.
func (p *parser) text(i int) []byte { return p.src[p.t[i].start:p.t[i].end] }

// named gives the text of a token as a string, one for all that are alike.
func (p *parser) named(i int) string {
	raw := p.text(i)
	if s, known := p.names[string(raw)]; known {
		return s
	}
	s := string(raw)
	p.names[s] = s
	return s
}

func (p *parser) kind(i int) kind {
	if i < 0 || i >= len(p.t) {
		return tEnd
	}
	return p.t[i].kind
}

// is says whether a token is a word, whatever its case.
func (p *parser) is(i int, lower string) bool {
	return p.kind(i) == tWord && sameWord(p.text(i), lower)
}

func span(t token) source.Span { return source.Span{Start: int(t.start), End: int(t.end)} }

func isName(k kind) bool { return k == tWord || k == tQualified || k == tFull || k == tRelative }

// previous gives the index of the token before one, without comments; -1 for none.
func (p *parser) previous(i int) int {
	for i--; i >= 0 && p.t[i].kind == tDoc; i-- {
	}
	return i
}

// next gives the index of the token behind one, without comments.
func (p *parser) next(i int) int {
	for i++; i < len(p.t)-1 && p.t[i].kind == tDoc; i++ {
	}
	return min(i, len(p.t)-1)
}

// atTop says whether a statement here is one of the file or of its namespace.
func (p *parser) atTop() bool {
	return len(p.brackets) == 0 && (len(p.braces) == 0 || len(p.braces) == 1 && p.braces[0].scope == inNamespace)
}

// inMembers says whether a member of a class may stand here.
func (p *parser) inMembers() bool {
	n := len(p.braces)
	return n > 0 && p.braces[n-1].scope >= inClass && p.braces[n-1].brackets == len(p.brackets)
}

// list is the innermost open bracket; nil for none.
func (p *parser) list() *bracket {
	if len(p.brackets) == 0 {
		return nil
	}
	return &p.brackets[len(p.brackets)-1]
}

// step reads one token, and those that belong to it.
func (p *parser) step() {
	tok := p.t[p.i]
	switch tok.kind {
	case tOpen:
		if p.f.after < 0 {
			p.f.after = p.first()
		}
	case tHTML:
		p.f.html = append(p.f.html, span(tok))
		p.blade(span(tok))
		p.within(span(tok), true)
	case tDoc:
		p.doc(tok)
	case tPutIn:
		p.braces = append(p.braces, brace{inString, len(p.brackets)})
	case '{':
		p.openBrace()
	case '}':
		p.closeBrace()
	case '(', '[', tAttribute:
		if tok.kind == '(' && p.typeBegins() && !isName(p.kind(p.previous(p.i))) || p.afterModifier() { // (A&B)|null $x
			p.types()
			return
		}
		p.open(tok.kind)
	case ')', ']':
		p.shut(tok.kind)
	case ',':
		if l := p.list(); l != nil {
			l.expect = l.list != anyList
			l.items++
		} else if p.consts {
			p.constant(p.next(p.i))
		}
	case '=':
		p.value = p.value || p.inMembers()
	case ';':
		p.value, p.consts, p.marks, p.assigns = false, false, nil, -1
		if n := len(p.pending) - 1; n >= 0 && p.pending[n] == (brace{inFunction, len(p.brackets)}) { // it has no body
			p.pending = p.pending[:n]
		}
	case tVariable:
		if l := p.list(); l != nil && l.list == parameters {
			l.expect = false
			if p.params == nil {
				p.params = map[string]variable{}
			}
			p.params[p.named(p.i)] = variable{assigned: 2} // its value comes from elsewhere
		}
	case tString:
		p.string(tok)
	case tPart:
		p.part(tok)
	case tWord:
		p.word()
	case tQualified, tFull, tRelative:
		p.name()
	case '?':
		if p.typeBegins() {
			p.types()
		}
	}
}

// typeBegins says whether a type may stand here: of a parameter or of a property.
func (p *parser) typeBegins() bool {
	if p.inMembers() {
		return !p.value
	}
	l := p.list()
	return l != nil && l.list == parameters && l.expect
}

// afterModifier says whether a bracket follows public and the like.
func (p *parser) afterModifier() bool {
	before := p.previous(p.i)
	return p.kind(p.i) == '(' && p.typeBegins() && p.kind(before) == tWord && modifiers.has(p.text(before))
}

// first is the place behind <?php and declare(…); where a namespace or imports may stand.
func (p *parser) first() int {
	at := int(p.t[p.i].end)
	i := p.i + 1
	for p.kind(i) == tDoc { // the comment of the file
		if blankLine(p.src, int(p.t[i].end)) {
			at = text.LineEnd(p.src, int(p.t[i].end)) + 1
		}
		i++
	}
	for p.is(i, "declare") {
		for p.kind(i) != ';' && p.kind(i) != tEnd && p.kind(i) != '{' {
			i++
		}
		if p.kind(i) != ';' {
			break
		}
		at = min(text.LineEnd(p.src, int(p.t[i].end))+1, len(p.src))
		i++
	}
	return min(at, len(p.src))
}

// blankLine says whether a blank line follows the one of a place.
func blankLine(src []byte, at int) bool {
	next := text.LineEnd(src, at) + 1
	return next < len(src) && len(bytes.TrimSpace(src[next:text.LineEnd(src, next)])) == 0
}

func (p *parser) openBrace() {
	s := inCode
	p.value, p.marks = false, nil
	if n := len(p.pending) - 1; n >= 0 && p.pending[n].brackets == len(p.brackets) {
		s, p.pending = p.pending[n].scope, p.pending[:n]
	}
	if s == inFunction {
		p.functions++
		around := -1
		if p.closure {
			around = p.scope()
		}
		p.f.scopes = append(p.f.scopes, scopeOf{p.params, around, p.i})
		p.params = nil
		p.inScope = append(p.inScope, len(p.f.scopes)-1)
	}
	p.assigns = -1
	p.braces = append(p.braces, brace{s, len(p.brackets)})
}

// expects notes what the next brace at this depth of brackets belongs to.
func (p *parser) expects(s scope) {
	at := brace{s, len(p.brackets)}
	for n := len(p.pending); n > 0 && p.pending[n-1].brackets >= at.brackets; n-- {
		p.pending = p.pending[:n-1]
	}
	p.pending = append(p.pending, at)
}

func (p *parser) closeBrace() {
	p.value, p.marks = false, nil
	if len(p.braces) == 0 {
		return
	}
	last := p.braces[len(p.braces)-1]
	p.braces = p.braces[:len(p.braces)-1]
	switch last.scope {
	case inFunction:
		p.functions--
		p.inScope = p.inScope[:len(p.inScope)-1]
	case inNamespace:
		p.f.blocks[p.block].span.End = int(p.t[p.i].end)
	}
}

func (p *parser) open(k kind) {
	b := bracket{closes: ')'}
	switch k {
	case '[':
		b.closes = ']'
	case tAttribute:
		b = bracket{closes: ']', list: attributes, expect: true}
	default:
		if before := p.previous(p.i); isName(p.kind(before)) {
			b.callee = before
		}
	}
	p.brackets = append(p.brackets, b)
}

// callOf is the name of what is called with a list of arguments, in lower case: f, ->f of a method, new f; empty for
// none.
func (p *parser) callOf(l *bracket) string {
	if l == nil || l.callee == 0 || l.calls != "" {
		if l == nil {
			return ""
		}
		return l.calls
	}
	l.calls = strings.TrimPrefix(strings.ToLower(p.named(l.callee)), `\`)
	if owner := p.previous(l.callee); p.kind(owner) == tColons || p.kind(owner) == tArrow {
		l.calls = "->" + l.calls
	} else if p.is(owner, "new") {
		l.calls = "new " + l.calls
	}
	return l.calls
}

func (p *parser) shut(k kind) {
	if l := p.list(); l != nil && l.closes == k {
		was := *l
		p.brackets = p.brackets[:len(p.brackets)-1]
		if was.list == parameters {
			p.returns()
		}
	}
}

// returns reads what follows the parameters of a function: what a closure takes in, and the type that it returns.
func (p *parser) returns() {
	i := p.next(p.i)
	if p.is(i, "use") && p.kind(p.next(i)) == '(' {
		for p.kind(i) != ')' && p.kind(i) != tEnd {
			i++
		}
		p.i = i
		i = p.next(i)
	}
	if p.kind(i) == ':' {
		p.i = p.next(i)
		p.types()
	}
}

// types reads a type from the token at hand on, and leaves the last token of it at hand.
func (p *parser) types() {
	last, named := p.i-1, false
	for i := p.i; ; i++ {
		k := p.kind(i)
		if isName(k) && named { // a word behind the type
			p.i = last
			return
		}
		named = isName(k)
		switch {
		case isName(k):
			if k != tWord || !pseudoTypes.has(p.text(i)) {
				p.use(i, class)
			}
		case k == '?' || k == '|' || k == '(' || k == tDoc:
		case k == ')' && p.parted(i): // of (A&B)|null
		case k == '&':
			if after := p.kind(p.next(i)); after == tVariable || after == tEllipsis {
				p.i = last
				return
			}
		default:
			p.i = max(last, 0)
			return
		}
		last = i
	}
}

// parted says whether a bracket that closes ends a part of a type, and not the list around it.
func (p *parser) parted(i int) bool {
	open := 0
	for i--; i >= p.i; i-- {
		switch p.t[i].kind {
		case '(':
			open++
		case ')':
			open--
		}
	}
	return open > 0
}

// use notes a name that stands for something.
func (p *parser) use(i int, s space) {
	p.f.uses = append(p.f.uses, use{at: span(p.t[i]), text: p.named(i), space: s, block: p.block, late: p.functions > 0})
}

// pseudoTypes are words in the place of a class that are none.
var pseudoTypes = words(`self static parent int float bool string array callable iterable object mixed void null never
	false true resource integer boolean double`)

// reserved are the words of the language, which are no names (php.net/manual/en/reserved.keywords.php).
var reserved = words(`abstract and array as break callable case catch class clone const continue declare default do
	echo else elseif empty enddeclare endfor endforeach endif endswitch endwhile eval exit die extends final finally fn
	for foreach function global goto if implements include include_once instanceof insteadof interface isset list
	namespace new or print private protected public require require_once return static switch throw trait try unset use
	var while xor yield self parent true false null match __class__ __dir__ __file__ __function__ __line__ __method__
	__namespace__ __trait__ __halt_compiler from`)

// word reads a word: of the language, or a name.
func (p *parser) word() {
	before := p.previous(p.i)
	switch p.kind(before) {
	case tArrow, tColons: // a member, whatever it is called
		return
	}
	if l := p.list(); l != nil && l.list == attributes && l.expect {
		p.attribute()
		return
	}
	if w := p.text(p.i); mayBeReserved(w) && p.keyword(w, before) {
		return
	}
	p.name()
}

// mayBeReserved says whether a word has the length and the first letter of one of the language. Most have not.
func mayBeReserved(w []byte) bool {
	c := w[0] | 0x20
	return len(w) < len(firstLetters) && c >= '_' && c <= 'z' && firstLetters[len(w)]&(1<<(c-'_')) != 0
}

// firstLetters are those of the words of the language, by the length of the words.
var firstLetters = func() (out [20]uint32) {
	for _, set := range []*wordSet{reserved, pseudoTypes, modifiers, words("enum readonly from match")} {
		for length, list := range set.byLength {
			for _, w := range list {
				out[length] |= 1 << ((w[0] | 0x20) - '_')
			}
		}
	}
	return out
}()

// attribute notes the class of an attribute.
func (p *parser) attribute() {
	p.list().expect = false
	p.use(p.i, class)
	p.marks = append(p.marks, p.named(p.i))
	if n := len(p.f.declared); n > 0 && short(p.named(p.i)) == "Route" && p.inClassOf(n-1) {
		p.f.declared[n-1].route = true
	}
}

// inClassOf says whether the place lies in the body of a declared class.
func (p *parser) inClassOf(i int) bool {
	return p.f.declared[i].space == class && len(p.braces) > 0 && p.braces[len(p.braces)-1].scope >= inClass
}

// keyword reads what a word of the language begins. It reports false for a word that may be a name.
func (p *parser) keyword(w []byte, before int) bool {
	switch {
	case sameWord(w, "namespace"):
		p.namespace()
	case sameWord(w, "use"):
		p.useStatement(before)
	case sameWord(w, "class"), sameWord(w, "interface"), sameWord(w, "trait"), sameWord(w, "enum"):
		return p.classLike(w, before)
	case sameWord(w, "function"), sameWord(w, "fn"):
		p.function()
	case sameWord(w, "const"):
		p.constants()
	case sameWord(w, "case"):
		if p.inMembers() && p.braces[len(p.braces)-1].scope == inEnum {
			p.i = p.next(p.i) // its name
		}
	case sameWord(w, "new"), sameWord(w, "instanceof"):
		p.classBehind()
	case sameWord(w, "extends"), sameWord(w, "implements"):
		p.classList()
	case sameWord(w, "catch"):
		if p.kind(p.next(p.i)) == '(' {
			p.i = p.next(p.i)
			p.open('(')
			p.i++
			p.types()
		}
	case sameWord(w, "goto"):
		p.i = p.next(p.i)
	case sameWord(w, "declare"):
		p.declare()
	case sameWord(w, "static"):
		// static $a, static function, static::x, and a type
	case sameWord(w, "from"):
		return p.is(before, "yield")
	case sameWord(w, "match"), sameWord(w, "readonly"):
		return !(sameWord(w, "readonly") && p.kind(p.next(p.i)) == '(')
	case reserved.has(w), pseudoTypes.has(w) && p.typeBegins():
		if p.typeBegins() && !modifiers.has(w) && pseudoTypes.has(w) {
			p.types()
		}
	default:
		return false
	}
	return true
}

// truths are constants that nobody can declare.
var truths = words(`true false null`)

// modifiers are words before a member of a class or a promoted parameter.
var modifiers = words(`public protected private static abstract final readonly var`)

// declare passes over declare(strict_types=1).
func (p *parser) declare() {
	for i := p.i; p.kind(i) != tEnd; i++ {
		if p.kind(i) == ')' {
			p.i = i
			return
		}
	}
}

// name says what a name stands for, and notes it.
func (p *parser) name() {
	i := p.i
	before, after := p.kind(p.previous(i)), p.kind(p.next(i))
	if l := p.list(); l != nil && l.list == attributes && l.expect {
		p.attribute()
		return
	}
	if p.typeBegins() && !modifiers.has(p.text(i)) {
		if p.inMembers() && after != tVariable && after != '|' && after != '&' && after != ')' && after != tWord {
			return // the name of a method in a list of traits, or a mistake
		}
		p.types()
		return
	}
	switch {
	case before == tArrow, before == tColons:
	case after == tColons:
		p.use(i, class)
	case after == '(':
		p.use(i, function)
	case after == ':' && p.kind(i) == tWord && p.isLabel(i):
	case p.kind(i) == tWord && reserved.has(p.text(i)), p.kind(i) == tFull && truths.has(p.text(i)[1:]):
	default:
		p.use(i, constant)
	}
}

// isLabel says whether a word with a colon behind it is the name of an argument or a place to go to.
func (p *parser) isLabel(i int) bool {
	switch before := p.kind(p.previous(i)); before {
	case '(', ',':
		return p.list() != nil && p.list().list != parameters
	case ';', '{', '}', tOpen, tEnd:
		return true
	case ':':
		return !p.isTernary(p.previous(i))
	}
	return false
}

// isTernary says whether a colon belongs to a ? before it.
func (p *parser) isTernary(colon int) bool {
	for i := colon - 1; i >= 0; i-- {
		switch p.t[i].kind {
		case '?':
			return true
		case ';', '{', '}':
			return false
		}
	}
	return false
}

// classBehind reads the class behind new or instanceof.
func (p *parser) classBehind() {
	i := p.next(p.i)
	for p.kind(i) == tAttribute || p.is(i, "readonly") { // new #[A] class, new readonly class
		if p.kind(i) != tAttribute {
			i = p.next(i)
			continue
		}
		return // the walk reads the attribute, and then class
	}
	if !isName(p.kind(i)) || p.is(i, "class") {
		return
	}
	p.i = i
	if p.kind(i) != tWord || !pseudoTypes.has(p.text(i)) && !p.is(i, "static") {
		p.use(i, class)
	}
}

// classList reads the classes behind extends or implements.
func (p *parser) classList() {
	var list []string
	i := p.next(p.i)
	for ; isName(p.kind(i)); i = p.next(i) {
		p.use(i, class)
		list = append(list, p.named(i))
		p.i = i
		if p.kind(p.next(i)) != ',' {
			break
		}
		i = p.next(i)
	}
	if p.heading >= 0 {
		d := &p.f.declared[p.heading]
		d.extends = append(d.extends, list...)
	}
}

// classLike reads the head of a class, interface, trait or enum up to its name. It reports false for the word as a
// name.
func (p *parser) classLike(w []byte, before int) bool {
	after := p.next(p.i)
	enum := sameWord(w, "enum")
	switch {
	case enum && (p.kind(after) != tWord || p.is(after, "extends") || p.is(after, "implements")):
		return false
	case sameWord(w, "class") && p.anonymous(before):
		p.expects(inClass)
		p.marks, p.heading = nil, -1
		return true
	case p.kind(after) != tWord:
		return true
	}
	p.expects(inClass)
	if enum {
		p.expects(inEnum)
	}
	p.heading = len(p.f.declared)
	p.f.declared = append(p.f.declared, declaration{space: class, name: p.named(after), block: p.block,
		at: span(p.t[after]), kind: strings.ToLower(string(w)), marks: p.marks,
		route: slices.ContainsFunc(p.marks, func(mark string) bool { return short(mark) == "Route" })})
	p.marks = nil
	p.i = after
	if i := p.next(after); enum && p.kind(i) == ':' {
		p.i = p.next(i)
		p.types()
	}
	return true
}

// anonymous says whether class stands behind new, with attributes between.
func (p *parser) anonymous(before int) bool {
	for p.is(before, "readonly") || p.is(before, "final") {
		before = p.previous(before)
	}
	if p.kind(before) == ']' {
		for depth := 0; before >= 0; before-- {
			switch p.t[before].kind {
			case ']':
				depth++
			case '[', tAttribute:
				if depth--; depth == 0 {
					return p.anonymous(p.previous(before))
				}
			}
		}
	}
	return p.is(before, "new")
}

// function reads the head of a function up to the bracket of its parameters.
func (p *parser) function() {
	i := p.next(p.i)
	if p.kind(i) == '&' {
		i = p.next(i)
	}
	anonymous := p.kind(i) == '('
	switch {
	case anonymous:
	case p.kind(i) == tWord && p.kind(p.next(i)) == '(':
		if !p.inMembers() {
			p.f.declared = append(p.f.declared, declaration{space: function, name: p.named(i), block: p.block,
				at: span(p.t[i]), kind: "function"})
		}
		i = p.next(i)
	default:
		return // use function a\b
	}
	p.marks, p.params = nil, nil
	if sameWord(p.text(p.i), "function") {
		p.closure = anonymous
		p.expects(inFunction)
	}
	p.i = i
	p.brackets = append(p.brackets, bracket{closes: ')', list: parameters, expect: true})
}

// constants reads the type and the first name behind const. The others of its list are found at their commas.
func (p *parser) constants() {
	p.consts = true
	first, name := p.next(p.i), p.next(p.i)
	for p.kind(name) != '=' && p.kind(name) != ';' && p.kind(name) != tEnd {
		name = p.next(name)
	}
	name = p.previous(name)
	for i := first; i < name; i++ {
		if isName(p.kind(i)) && !(p.kind(i) == tWord && pseudoTypes.has(p.text(i))) {
			p.use(i, class)
		}
	}
	p.constant(name)
}

// constant declares the name before a =, if it is one of the file and not of a class.
func (p *parser) constant(i int) {
	if p.kind(i) != tWord || p.kind(p.next(i)) != '=' {
		return
	}
	d := declaration{space: constant, name: p.named(i), block: p.block, at: span(p.t[i]), kind: "constant"}
	value, known := p.chain(p.next(p.next(i)), false)
	known = known && value.base != fromNothing && !value.open
	if known {
		value.purpose, value.block = forName, p.block
	}
	switch {
	case p.atTop():
		if known {
			p.f.paths = append(p.f.paths, value.pathExpr)
			p.folded, d.path = value.end, len(p.f.paths)
		}
		p.f.declared = append(p.f.declared, d)
	case known && len(p.f.declared) > 0:
		p.f.paths = append(p.f.paths, value.pathExpr)
		p.folded, d.path = value.end, len(p.f.paths)
		for k := len(p.f.declared) - 1; k >= 0; k-- { // the class that it stands in
			if p.f.declared[k].space == class && !p.f.declared[k].alias {
				d.class = p.f.declared[k].name
				break
			}
		}
		p.f.members = append(p.f.members, d)
	}
	p.i = i
}

// namespace reads the line of a namespace.
func (p *parser) namespace() {
	i := p.next(p.i)
	if !p.atTop() || !isName(p.kind(i)) && p.kind(i) != '{' {
		return
	}
	b := block{span: source.Span{Start: int(p.t[p.i].start), End: len(p.src)}}
	if isName(p.kind(i)) {
		b.name, b.at = p.named(i), span(p.t[i])
		i = p.next(i)
	}
	switch p.kind(i) {
	case ';':
		b.after = lineBehind(p.src, int(p.t[i].end))
		p.i = i
	case '{':
		b.braced = true
		b.after = lineBehind(p.src, int(p.t[i].end))
		p.expects(inNamespace)
		p.i = i - 1
	default:
		return
	}
	last := &p.f.blocks[len(p.f.blocks)-1]
	if !last.braced {
		last.span.End = b.span.Start
	}
	p.f.blocks = append(p.f.blocks, b)
	p.block = len(p.f.blocks) - 1
}

// lineBehind is the beginning of the line behind a place, where nothing but a comment stands between; else the place.
func lineBehind(src []byte, at int) int {
	end := text.LineEnd(src, at)
	rest := bytes.TrimSpace(src[at:end])
	if len(rest) > 0 && !bytes.HasPrefix(rest, []byte("//")) && !bytes.HasPrefix(rest, []byte("#")) {
		return at
	}
	return min(end+1, len(src))
}
