package php

import (
	"bytes"
	"fmt"
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
	typed     bool                // a type of a comment is read
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
	p.f.scopes = []scopeOf{{parent: -1}}
	p.f.blocks = append(p.f.blocks, block{})
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
		// paths come first: they look ahead over tokens that the walk then reads for the names in them
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
	return p.shared(p.text(i))
}

// shared is a name as text: one text for all places of the file that write it.
func (p *parser) shared(raw []byte) string {
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
		p.f.scopes = append(p.f.scopes, scopeOf{variables: p.params, parent: around, start: p.i})
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
	if l == nil {
		return ""
	}
	if l.callee == 0 || l.calls != "" {
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
