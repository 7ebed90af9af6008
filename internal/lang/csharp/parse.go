package csharp

import (
	"bytes"
	"fmt"
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads a unit of compilation: its namespaces, usings and the heads of its types (language specification,
// Namespaces and Classes). body.go reads what stands in types, code.go what stands in methods.

type parser struct {
	src    []byte
	t      []token
	i      int
	f      *file
	same   *text.Same
	owner  int // the type whose body is read; -1 for none
	space  int
	known  *names.Scopes
	depth  int
	called string // the method or attribute whose arguments are read
	mark   bool   // it is an attribute
	typeOf string // the type of a typeof among the arguments
	from   int    // the token with which a declaration begins
	list   int    // how deep the code is in which variables are declared in brackets: for (…), using (…), fixed (…)
	err    error
}

// tooDeep is how deep types and brackets may be nested: a text with more is made to do harm.
const tooDeep = 2_000

// parse reads what a text says of names. The text is not kept.
func parse(src []byte, with *scratch) (*file, error) {
	tokens := with.tokens
	p := &parser{src: src, t: tokens, same: with.same, known: &with.known, owner: -1,
		f: &file{spaces: []space{{owner: -1}}}}
	p.f.uses, p.f.ends, p.f.selects = with.uses[:0], with.ends[:0], with.selects[:0]
	for _, t := range tokens {
		if t.kind == tUnfinished {
			return nil, p.fail(t, "what begins here has no end")
		}
	}
	p.f.first = -1
	p.unit(tEnd)
	if p.err != nil {
		return nil, p.err
	}
	if p.f.first < 0 {
		p.f.first = len(src)
	}
	p.f.spaces[0].first = p.f.first
	p.documents(with.docs)
	with.uses, with.ends, with.selects = p.f.uses, p.f.ends, p.f.selects
	p.f.uses, p.f.ends, p.f.selects = slices.Clone(p.f.uses), slices.Clone(p.f.ends), slices.Clone(p.f.selects)
	return p.f, nil
}

func (p *parser) fail(t token, why string) error {
	line := bytes.Count(p.src[:t.start], []byte("\n")) + 1
	column := int(t.start) - text.LineStart(p.src, int(t.start)) + 1
	return &lang.ScanError{Message: fmt.Sprintf("line %d, column %d: %s", line, column, why)}
}

func (p *parser) kind(i int) kind {
	if uint(i) < uint(len(p.t)) {
		return p.t[i].kind
	}
	return tEnd
}

func (p *parser) raw(i int) []byte { return p.src[p.t[i].start:p.t[i].end] }

// here is the token at hand: the last one behind the end of the text.
func (p *parser) here() token { return p.t[min(p.i, len(p.t)-1)] }

// is says whether a token is a word.
func (p *parser) is(i int, word string) bool { return p.kind(i) == tWord && string(p.raw(i)) == word }

// name gives the text of a word.
func (p *parser) name(i int) string {
	raw := p.raw(i)
	if raw[0] == '@' || bytes.IndexByte(raw, '\\') >= 0 {
		return decodedName(raw)
	}
	return p.same.Of(raw)
}

func span(t token) source.Span { return source.Span{Start: int(t.start), End: int(t.end)} }

// isName says whether a token is a name: a word that the language has not for itself.
func (p *parser) isName(i int) bool { return p.kind(i) == tWord && !p.t[i].key }

// expect passes a token, or says what is missing.
func (p *parser) expect(k kind, why string) bool {
	if p.kind(p.i) == k {
		p.i++
		return true
	}
	if p.err == nil {
		p.err = p.fail(p.here(), why)
	}
	return false
}

// unit reads a file or the inside of a namespace.
func (p *parser) unit(until kind) {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "namespaces are nested too deep")
		return
	}
	defer func() { p.depth-- }()
	for p.kind(p.i) != tEnd && p.kind(p.i) != until && p.err == nil {
		start := p.i
		switch {
		case p.kind(p.i) == ';':
			p.i++
			continue
		case p.is(p.i, "extern") && p.is(p.i+1, "alias"):
			for p.kind(p.i) != ';' && p.kind(p.i) != tEnd {
				p.i++
			}
			p.i++
			p.first(p.i)
			continue
		case p.is(p.i, "using") && p.usingDirective(p.i+1), p.is(p.i, "global") && p.is(p.i+1, "using"):
			p.first(start)
			p.using()
			continue
		}
		p.first(start)
		if p.is(p.i, "namespace") && p.isName(p.i+1) {
			p.namespace()
			continue
		}
		p.from = p.i
		m := p.modifiers() // attributes of the assembly too
		switch {
		case p.typeBegins():
			p.typeDeclaration(m)
		case p.err != nil, p.is(p.i, "namespace") && p.i > start: // attributes of the assembly stand before it
		case p.kind(p.i) == '}':
			p.err = p.fail(p.here(), "there is no { that this } closes")
		case p.kind(p.i) == tEnd || p.kind(p.i) == until:
		case p.space == 0 || p.f.spaces[p.space].scoped: // a statement of the program
			if p.i == start || m.empty() || p.kind(p.i) != tEnd {
				p.f.top = true
				p.statement()
			}
		default:
			p.err = p.fail(p.here(), "a type is expected here")
		}
		if p.i == start && p.err == nil {
			p.err = p.fail(p.here(), "a type, a using or a namespace is expected here")
		}
	}
}

// first notes where a using may stand: before a token, unless one is known already.
func (p *parser) first(i int) {
	if s := &p.f.spaces[p.space]; p.space > 0 {
		if s.first == 0 {
			s.first = p.lineOf(i)
		}
	} else if p.f.first < 0 {
		p.f.first = p.lineOf(i)
	}
}

// lineOf is the beginning of the line of a token, or of the comment for documents above it.
func (p *parser) lineOf(i int) int {
	at := text.LineStart(p.src, int(p.t[min(i, len(p.t)-1)].start))
	for at > 0 {
		above := text.LineStart(p.src, at-1)
		if line := bytes.TrimSpace(p.src[above:at]); !bytes.HasPrefix(line, []byte("///")) {
			break
		}
		at = above
	}
	if at == 0 && bytes.HasPrefix(p.src, []byte("\xEF\xBB\xBF")) {
		at = 3
	}
	return at
}

// usingDirective says whether a directive stands behind using, and no statement: using (…), using var a = …, using A a =
// ….
func (p *parser) usingDirective(i int) bool {
	switch {
	case p.is(i, "static"), p.is(i, "unsafe"):
		return true
	case !p.isName(i):
		return false
	case p.kind(i+1) == '=', p.kind(i+1) == ';':
		return true
	}
	for p.isName(i) && (p.kind(i+1) == '.' || p.kind(i+1) == tColons) {
		i += 2
	}
	return p.isName(i) && (p.kind(i+1) == ';' || p.kind(i+1) == '<')
}

// using reads a directive that brings names.
func (p *parser) using() {
	one := using{whole: span(p.t[p.i]), space: p.space, use: -1}
	if one.global = p.is(p.i, "global"); one.global {
		p.i++
	}
	p.i++
	for p.is(p.i, "static") || p.is(p.i, "unsafe") {
		one.static = one.static || p.is(p.i, "static")
		p.i++
	}
	if p.isName(p.i) && p.kind(p.i+1) == '=' {
		one.alias = p.name(p.i)
		p.i += 2
	}
	at := len(p.f.uses)
	if !p.isName(p.i) { // using A = (int, B); using A = int;
		p.typeUse()
	} else {
		p.chain(true)
		u := &p.f.uses[at]
		u.named = true
		one.name, one.at, one.rooted, one.use = u.text, u.at, u.rooted, at
		if p.kind(p.i) == '<' {
			one.typed = true
			p.typeArguments(at)
			p.nested()
		}
		p.dimensions()
	}
	if p.kind(p.i) == ';' {
		one.whole.End = int(p.t[p.i].end)
		p.i++
	} else if p.err == nil {
		p.err = p.fail(p.here(), "a using ends with ;")
	}
	p.f.usings = append(p.f.usings, one)
}

// namespace reads namespace A.B { … } or namespace A.B;
func (p *parser) namespace() {
	line := text.LineStart(p.src, int(p.t[p.i].start))
	p.i++
	one := space{at: span(p.t[p.i]), owner: p.space, name: p.name(p.i)}
	blanks, _ := text.Indent(p.src, line)
	for p.i++; p.kind(p.i) == '.' && p.isName(p.i+1); p.i += 2 {
		one.name += "." + p.name(p.i+1)
		one.at.End = int(p.t[p.i+1].end)
	}
	outer, at := p.space, len(p.f.spaces)
	switch p.kind(p.i) {
	case ';':
		one.scoped = true
		one.indent = blanks
		p.i++
		p.f.spaces = append(p.f.spaces, one)
		p.f.spaces[at].from, p.f.spaces[at].to = int(p.here().start), len(p.src)+1
		p.space = at // to the end of the file
		return
	case '{':
		one.indent = blanks + "    "
		open := p.i
		p.i++
		if k := p.kind(p.i); k != '}' && k != tEnd && p.t[p.i].start > p.t[open].end {
			start := text.LineStart(p.src, int(p.t[p.i].start))
			if inner, alone := text.Indent(p.src, int(p.t[p.i].start)); alone && start > int(p.t[open].start) {
				one.indent = inner
			}
		}
		one.from = int(p.t[open].end)
		p.f.spaces = append(p.f.spaces, one)
		p.space = at
		p.unit('}')
		p.space = outer
		p.expect('}', "the } of namespace "+one.name+" is missing")
		if p.f.spaces[at].first == 0 {
			p.f.spaces[at].first = int(p.t[open].end)
		}
		p.f.spaces[at].to = int(p.here().start)
	default:
		p.err = p.fail(p.here(), "{ or ; is expected behind the name of a namespace")
	}
}

// modifiers are the words and attributes before a declaration.
type modifiers struct {
	sees    visibility
	given   bool // who sees it is written
	partial bool
	any     bool
	marks   []string
}

func (m modifiers) empty() bool { return !m.any }

// modifiers reads what stands before a declaration.
func (p *parser) modifiers() modifiers {
	m := modifiers{sees: private}
	var pub, prot, intern, priv, local bool
	for {
		if p.kind(p.i) == '[' {
			m.marks = append(m.marks, p.attributes()...)
			continue
		}
		if p.kind(p.i) != tWord {
			break
		}
		switch string(p.raw(p.i)) {
		case "public":
			pub = true
		case "protected":
			prot = true
		case "internal":
			intern = true
		case "private":
			priv = true
		case "static", "abstract", "sealed", "virtual", "override", "extern", "unsafe", "volatile", "const":
		case "new":
			if k := p.kind(p.i + 1); k != tWord {
				goto done
			}
		case "readonly":
		case "fixed":
		case "ref":
			if p.is(p.i+1, "partial") || p.is(p.i+1, "struct") {
				break
			}
			goto done
		case "file":
			if !p.typeWord(p.i+1) && !p.isModifier(p.i+1) {
				goto done
			}
			local = true
		case "partial":
			if !p.typeWord(p.i+1) && p.kind(p.i+1) != tWord {
				goto done
			}
			m.partial = true
		case "async", "required":
			if p.kind(p.i+1) != tWord && p.kind(p.i+1) != '(' || p.kind(p.i+1) == '(' && !p.is(p.i, "async") {
				goto done
			}
			if p.kind(p.i+1) == '(' { // a method of that name, or a tuple
				goto done
			}
		default:
			goto done
		}
		m.any = true
		p.i++
	}
done:
	m.given = pub || prot || intern || priv || local
	switch {
	case local:
		m.sees = ofFile
	case pub:
		m.sees = public
	case prot && intern:
		m.sees = protectedInternal
	case prot && priv:
		m.sees = privateProtected
	case prot:
		m.sees = protected
	case intern:
		m.sees = internal
	}
	m.any = m.any || len(m.marks) > 0
	return m
}

func (p *parser) isModifier(i int) bool {
	if p.kind(i) != tWord {
		return false
	}
	switch string(p.raw(i)) {
	case "public", "protected", "internal", "private", "static", "abstract", "sealed", "unsafe", "readonly", "partial",
		"ref", "file":
		return true
	}
	return false
}

// typeWord says whether a word begins the declaration of a type.
func (p *parser) typeWord(i int) bool {
	if p.kind(i) != tWord {
		return false
	}
	switch string(p.raw(i)) {
	case "class", "struct", "interface", "enum", "delegate":
		return true
	case "record":
		return p.is(i+1, "struct") || p.is(i+1, "class") || p.isName(i+1) &&
			(p.kind(i+2) == '(' || p.kind(i+2) == '{' || p.kind(i+2) == ':' || p.kind(i+2) == ';' || p.kind(i+2) == '<')
	}
	return false
}

// typeBegins says whether a type is declared here.
func (p *parser) typeBegins() bool {
	if !p.typeWord(p.i) {
		return false
	}
	if p.is(p.i, "delegate") {
		return p.kind(p.i+1) != '*' && p.kind(p.i+1) != '(' && p.kind(p.i+1) != '{'
	}
	return true
}

// typeDeclaration reads a type, from class or the like to its end.
func (p *parser) typeDeclaration(m modifiers) {
	d := typeDecl{owner: p.owner, space: p.space, sees: m.sees, marks: m.marks, kind: string(p.raw(p.i)),
		partial: m.partial, from: int(p.t[p.from].start)}
	if !m.given {
		d.sees = internal
		if p.owner >= 0 {
			d.sees = private
			if p.f.types[p.owner].kind == "interface" {
				d.sees = public
			}
		}
	}
	p.i++
	for _, mark := range m.marks {
		d.route = d.route || routes[last(mark)]
	}
	if d.kind == "delegate" {
		p.delegate(d)
		return
	}
	defer func(at int) {
		if at < len(p.f.types) {
			p.f.types[at].to = int(p.here().start)
		}
	}(len(p.f.types))
	if d.kind == "record" && (p.is(p.i, "struct") || p.is(p.i, "class")) {
		p.i++
	}
	if !p.isName(p.i) {
		p.err = p.fail(p.here(), "the name of a type is expected here")
		return
	}
	d.name, d.at = p.name(p.i), span(p.t[p.i])
	p.i++
	at := len(p.f.types)
	p.f.types = append(p.f.types, d)
	outer, around := p.owner, p.known.Enter()
	defer func() { p.owner = outer; p.known.Leave(around) }()
	if p.kind(p.i) == '<' {
		p.typeParameters(&p.f.types[at].params)
		p.f.types[at].arity = len(p.f.types[at].params)
	}
	if p.kind(p.i) == '(' {
		p.owner = at
		p.parameters()
		p.owner = outer
	}
	if p.kind(p.i) == ':' {
		p.i++
		p.bases(at)
	}
	p.constraints()
	switch {
	case p.kind(p.i) == ';':
		p.i++
		return
	case p.kind(p.i) != '{':
		if p.err == nil {
			p.err = p.fail(p.here(), "the body of "+d.name+" is expected here")
		}
		return
	}
	p.owner = at
	p.body(at)
	if p.kind(p.i) == ';' {
		p.i++
	}
}

// bases reads what a type is built on.
func (p *parser) bases(owner int) {
	for p.err == nil {
		at := len(p.f.uses)
		if p.typeUse(); len(p.f.uses) > at {
			p.f.types[owner].supers = append(p.f.types[owner].supers, at)
		}
		if p.kind(p.i) == '(' { // of a record: what its base is made with
			outer := p.owner
			p.owner = owner
			p.arguments()
			p.owner = outer
		}
		if p.kind(p.i) != ',' {
			return
		}
		p.i++
	}
}

// delegate reads delegate A B<T>(…) where …;
func (p *parser) delegate(d typeDecl) {
	at := len(p.f.types)
	p.f.types = append(p.f.types, d)
	around := p.known.Enter()
	defer func() { p.known.Leave(around) }()
	// its type parameters are known in what it returns, which stands before them
	for k := p.i; p.kind(k) != '(' && p.kind(k) != ';' && p.kind(k) != tEnd; k++ {
		if p.kind(k) == '<' && p.isName(k-1) {
			if end := p.closes(k); end > 0 && p.kind(end) == '(' {
				for n := k + 1; n < end; n++ {
					if p.isName(n) && (p.kind(n+1) == ',' || p.kind(n+1) == '>') {
						p.known.Type(p.name(n))
					}
				}
				break
			}
		}
	}
	for p.is(p.i, "ref") || p.is(p.i, "readonly") {
		p.i++
	}
	p.typeUse()
	if !p.isName(p.i) {
		if p.err == nil {
			p.err = p.fail(p.here(), "the name of a delegate is expected here")
		}
		return
	}
	p.f.types[at].name, p.f.types[at].at = p.name(p.i), span(p.t[p.i])
	p.i++
	if p.kind(p.i) == '<' {
		p.typeParameters(&p.f.types[at].params)
		p.f.types[at].arity = len(p.f.types[at].params)
	}
	if p.kind(p.i) == '(' {
		p.parameters()
	}
	p.constraints()
	p.expect(';', "a delegate ends with ;")
	p.f.types[at].to = int(p.here().start)
}

// typeParameters reads <in T, out U>.
func (p *parser) typeParameters(into *[]string) {
	for p.i++; p.kind(p.i) != '>' && p.kind(p.i) != tEnd && p.err == nil; {
		switch {
		case p.kind(p.i) == '[':
			p.attributes()
		case p.isName(p.i):
			*into = append(*into, p.name(p.i))
			p.known.Type(p.name(p.i))
			p.i++
		default: // in, out and commas
			p.i++
		}
	}
	p.i++
}

// constraints reads where T : A, new() where U : class.
func (p *parser) constraints() {
	for p.is(p.i, "where") && p.isName(p.i+1) && p.kind(p.i+2) == ':' {
		p.constrained(p.i + 1)
		p.i += 2
		for p.err == nil {
			p.i++
			switch {
			case p.is(p.i, "class"), p.is(p.i, "struct"), p.is(p.i, "default"):
				if p.i++; p.kind(p.i) == '?' {
					p.i++
				}
			case p.is(p.i, "new"):
				p.i += 3
			default:
				p.typeUse()
			}
			if p.kind(p.i) != ',' {
				break
			}
		}
	}
}

// constrained notes the name of a type parameter of which something is asked: it is a name in code.
func (p *parser) constrained(i int) {
	at := p.i
	p.i = i
	if p.chain(true); p.i > i+1 {
		p.err = p.fail(p.t[i], "the name of a type parameter is expected here")
	}
	p.i = at
}

// attributes reads [A, B(1)] and gives the names.
func (p *parser) attributes() (marks []string) {
	p.i++
	if p.kind(p.i) == tWord && p.kind(p.i+1) == ':' { // assembly: and the like
		p.i += 2
	}
	for p.err == nil && p.kind(p.i) != ']' && p.kind(p.i) != tEnd {
		if !p.isName(p.i) {
			p.i++
			continue
		}
		at := len(p.f.uses)
		p.chain(true)
		p.f.uses[at].mark = true
		name := p.f.uses[at].text
		marks = append(marks, name)
		if p.kind(p.i) == '<' {
			p.typeArguments(at)
		}
		if p.kind(p.i) == '(' {
			called, mark, of := p.called, p.mark, p.typeOf
			p.called, p.mark, p.typeOf = last(name), true, ""
			p.arguments()
			p.called, p.mark, p.typeOf = called, mark, of
		}
		if p.kind(p.i) == ',' {
			p.i++
		} else if p.kind(p.i) != ']' {
			p.err = p.fail(p.here(), "a ] is expected here")
		}
	}
	p.i++
	return marks
}

// routes are attributes of what answers an address.
var routes = lang.Words(`Route HttpGet HttpPost HttpPut HttpDelete HttpPatch HttpHead HttpOptions ApiController
	RouteAttribute WebMethod`)

// last is the last part of a name with dots.
func last(name string) string {
	for i := len(name) - 1; i >= 0; i-- {
		if name[i] == '.' {
			return name[i+1:]
		}
	}
	return name
}

// parent is a name without its last part; empty for one of one part.
func parent(name string) string {
	if n := len(name) - len(last(name)); n > 0 {
		return name[:n-1]
	}
	return ""
}

// join puts a name behind another with a dot.
func join(head, name string) string {
	if head == "" || name == "" {
		return head + name
	}
	return head + "." + name
}
