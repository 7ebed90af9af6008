package java

import (
	"bytes"
	"fmt"
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// This file reads a unit of compilation: its package, its imports and the heads of its types
// (docs.oracle.com/javase/specs/jls/se17/html/jls-7.html). body.go reads what stands in types, code.go what stands in
// methods.

type parser struct {
	src    []byte
	t      []token
	i      int
	f      *file
	same   *text.Same
	owner  int // the type whose body is read; -1 for none
	known  *names.Scopes
	before string // what a member was selected on last: the call f(), or class
	starts []int  // where declarations begin: what stands before may be a document of theirs
	depth  int
	err    error
}

// tooDeep is how deep types and brackets may be nested: a text with more is made to do harm.
const tooDeep = 2_000

// parse reads what a text says of names. The text is not kept.
func parse(src []byte, with *scratch) (*file, error) {
	tokens := with.tokens
	p := &parser{src: src, t: tokens, same: with.same, known: &with.known, owner: -1,
		f: &file{vars: map[string][]string{}}}
	p.f.uses, p.f.ends, p.f.selects = with.uses[:0], with.ends[:0], with.selects[:0]
	for _, t := range tokens {
		switch t.kind {
		case tUnfinished:
			return nil, p.fail(t, "what begins here has no end")
		case tEscape:
			return nil, p.fail(t, "an escape stands for a character of the language here, and that is not read")
		}
	}
	p.unit()
	if p.err != nil {
		return nil, p.err
	}
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
	if i < 0 || i >= len(p.t) {
		return tEnd
	}
	return p.t[i].kind
}

func (p *parser) raw(i int) []byte { return p.src[p.t[i].start:p.t[i].end] }

// here is the token at hand: the last one behind the end of the text.
func (p *parser) here() token { return p.t[min(p.i, len(p.t)-1)] }

// is says whether a token is a word.
func (p *parser) is(i int, word string) bool { return p.kind(i) == tWord && string(p.raw(i)) == word }

// name gives the text of a word.
func (p *parser) name(i int) string {
	raw := p.raw(i)
	if bytes.IndexByte(raw, '\\') >= 0 {
		return decodedName(raw)
	}
	return p.same.Of(raw)
}

func span(t token) source.Span { return source.Span{Start: int(t.start), End: int(t.end)} }

// isName says whether a token is a name: a word that the language has not for itself.
func (p *parser) isName(i int) bool { return p.kind(i) == tWord && !p.t[i].key }

// unit reads all of a file.
func (p *parser) unit() {
	p.f.first = 0
	if p.kind(0) != tEnd && p.is(0, "package") || p.is(0, "import") {
		p.f.first = int(p.t[0].start)
	}
	for p.kind(p.i) != tEnd && p.err == nil {
		start := p.i
		p.starts = append(p.starts, p.i)
		switch {
		case p.kind(p.i) == ';':
			p.i++
		case p.is(p.i, "package") && p.f.pkg == "" && p.isName(p.i+1):
			p.i++
			p.f.pkg, p.f.pkgAt = p.dotted()
			p.f.first = p.lineBehind()
		case p.is(p.i, "import"):
			p.importLine()
		case p.is(p.i, "open") && p.is(p.i+1, "module"), p.is(p.i, "module") && p.isName(p.i+1):
			p.f.module = true
			return
		default:
			m := p.modifiers()
			switch {
			case p.typeBegins():
				p.typeDeclaration(m, false)
			case p.is(p.i, "package") && p.f.pkg == "" && p.i > start && p.isName(p.i+1): // annotations stand before it
			case p.err == nil && p.i == start:
				p.err = p.fail(p.here(), "a class, an interface, an enum, a record or an import is expected here")
			}
		}
	}
}

// lineBehind passes a ; and gives the beginning of the line behind it.
func (p *parser) lineBehind() int {
	if p.kind(p.i) == ';' {
		p.i++
	}
	return min(text.LineEnd(p.src, int(p.t[p.i-1].end))+1, len(p.src))
}

// dotted reads a name with dots, up to what is none.
func (p *parser) dotted() (name string, at source.Span) {
	at = span(p.t[p.i])
	start, length := p.i, at.Len()
	for p.i++; p.kind(p.i) == '.' && p.kind(p.i+1) == tWord; p.i += 2 {
		at.End = int(p.t[p.i+1].end)
		length += 1 + len(p.raw(p.i+1))
	}
	return p.chained(start, at, length), at
}

func (p *parser) importLine() {
	one := item{whole: span(p.t[p.i])}
	p.i++
	if one.static = p.is(p.i, "static"); one.static {
		p.i++
	}
	if p.kind(p.i) != tWord {
		p.err = p.fail(p.here(), "import wants a name behind it")
		return
	}
	one.name, one.at = p.dotted()
	if p.kind(p.i) == '.' && p.kind(p.i+1) == '*' {
		one.star = true
		p.i += 2
	}
	if p.kind(p.i) != ';' {
		p.err = p.fail(p.here(), "an import ends with ;")
		return
	}
	one.whole.End = int(p.t[p.i].end)
	p.i++
	p.f.imports = append(p.f.imports, one)
}

// modifiers are the words and annotations before a declaration.
type modifiers struct {
	sees   visibility
	static bool
	marks  []string
}

// modifiers reads what stands before a declaration.
func (p *parser) modifiers() modifiers {
	m := modifiers{sees: packaged}
	for {
		switch {
		case p.kind(p.i) == '@' && !p.is(p.i+1, "interface"):
			m.marks = append(m.marks, p.annotation())
			continue
		case p.kind(p.i) != tWord:
			return m
		}
		switch string(p.raw(p.i)) {
		case "public":
			m.sees = public
		case "protected":
			m.sees = protected
		case "private":
			m.sees = private
		case "static":
			m.static = true
		case "abstract", "final", "native", "synchronized", "transient", "volatile", "strictfp":
		case "default":
			if p.kind(p.i+1) == ':' || p.kind(p.i+1) == tArrow {
				return m
			}
		case "sealed":
			if p.kind(p.i+1) != tWord {
				return m
			}
		case "non":
			if p.kind(p.i+1) != '-' || !p.is(p.i+2, "sealed") {
				return m
			}
			p.i += 2
		default:
			return m
		}
		p.i++
	}
}

// typeBegins says whether a type is declared here.
func (p *parser) typeBegins() bool {
	switch {
	case p.kind(p.i) == '@':
		return p.is(p.i+1, "interface")
	case p.is(p.i, "class"), p.is(p.i, "interface"), p.is(p.i, "enum"):
		return p.isName(p.i + 1)
	case p.is(p.i, "record"):
		return p.isName(p.i+1) && (p.kind(p.i+2) == '(' || p.kind(p.i+2) == '<')
	}
	return false
}

// typeDeclaration reads a type, from class or the like to its last brace.
func (p *parser) typeDeclaration(m modifiers, local bool) {
	d := typeDecl{owner: p.owner, sees: m.sees, marks: m.marks, local: local}
	if p.kind(p.i) == '@' {
		p.i++
		d.kind = "annotation"
	} else {
		d.kind = string(p.raw(p.i))
	}
	p.i++
	d.name, d.at = p.name(p.i), span(p.t[p.i])
	if p.owner >= 0 && isInterface(p.f.types[p.owner].kind) {
		d.sees = public
	}
	for _, mark := range m.marks {
		d.route = d.route || routes[last(mark)]
	}
	if local {
		p.known.Type(d.name)
	}
	p.i++
	at := len(p.f.types)
	p.f.types = append(p.f.types, d)
	// its parameters are known in its head too, and its own members in its body alone
	outer, around := p.owner, p.known.Enter()
	if p.kind(p.i) == '<' {
		p.typeParameters(&p.f.types[at].params)
	}
	if d.kind == "record" && p.kind(p.i) == '(' {
		p.components(at)
	}
	for p.kind(p.i) == tWord {
		switch string(p.raw(p.i)) {
		case "extends", "implements":
			p.i++
			list := p.typeList()
			p.f.types[at].supers = append(p.f.types[at].supers, list...)
		case "permits":
			p.i++
			p.f.types[at].permits = p.typeList()
		default:
			p.err = p.fail(p.here(), "the body of "+d.name+" is expected here")
			return
		}
	}
	if p.kind(p.i) != '{' {
		p.err = p.fail(p.here(), "the body of "+d.name+" is expected here")
		return
	}
	p.owner = at
	p.body(at)
	p.owner = outer
	p.known.Leave(around)
}

func isInterface(kind string) bool { return kind == "interface" || kind == "annotation" }

// typeList reads types with commas between them, and gives where their names stand among the uses.
func (p *parser) typeList() (out []int) {
	for {
		at := len(p.f.uses)
		if p.typeUse(); len(p.f.uses) > at {
			out = append(out, at)
			// an annotation before it is no part of the list
			for k := at; k < len(p.f.uses) && p.f.uses[k].mark; k++ {
				out[len(out)-1] = k + 1
			}
		}
		if p.kind(p.i) != ',' {
			return out
		}
		p.i++
	}
}

// typeParameters reads <T extends A & B, U>.
func (p *parser) typeParameters(into *[]string) {
	depth := 0
	for ; p.kind(p.i) != tEnd && p.err == nil; p.i++ {
		switch k := p.kind(p.i); {
		case k == '<':
			if depth++; depth == 1 {
				continue
			}
		case k == '>':
			if depth--; depth == 0 {
				p.i++
				return
			}
		case k == '@':
			p.annotation()
			p.i--
		case k == tWord && depth == 1 && (p.kind(p.i-1) == '<' || p.kind(p.i-1) == ','):
			*into = append(*into, p.name(p.i))
			p.known.Type(p.name(p.i))
		case p.isName(p.i):
			p.chain(true)
			p.i--
		case k == ';' || k == '{':
			return
		}
	}
}

// typeUse reads a type: int, a.B<C>[], with annotations.
func (p *parser) typeUse() {
	for p.kind(p.i) == '@' {
		p.annotation()
	}
	switch {
	case p.kind(p.i) == '?':
		p.i++
		if p.is(p.i, "extends") || p.is(p.i, "super") {
			p.i++
			p.typeUse()
		}
		return
	case p.kind(p.i) == tWord && primitive(p.raw(p.i)):
		p.i++
	case p.isName(p.i):
		p.chain(true)
		if p.kind(p.i) == '<' {
			p.typeArguments()
		}
		p.nested()
	default:
		return
	}
	p.dimensions()
}

// dimensions passes [] and @A [].
func (p *parser) dimensions() {
	for {
		at := p.i
		for p.kind(p.i) == '@' && !p.is(p.i+1, "interface") {
			p.annotation()
		}
		if p.kind(p.i) == '[' && p.kind(p.i+1) == ']' {
			p.i += 2
			continue
		}
		if p.kind(p.i) != tEllipsis {
			p.i = max(at, p.i)
		}
		return
	}
}

// typeArguments reads <A, ? extends B>.
func (p *parser) typeArguments() {
	if p.depth++; p.depth > tooDeep {
		p.err = p.fail(p.here(), "types are nested too deep")
	}
	defer func() { p.depth-- }()
	for p.i++; p.err == nil; {
		p.typeUse()
		for p.kind(p.i) == '&' { // of a bound
			p.i++
			p.typeUse()
		}
		switch p.kind(p.i) {
		case ',':
			p.i++
		case '>':
			p.i++
			return
		default:
			return
		}
	}
}

// routes are annotations of what answers an address.
var routes = lang.Words(`RequestMapping GetMapping PostMapping PutMapping DeleteMapping PatchMapping Path WebServlet
	MessageMapping`)

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
	if head == "" {
		return name
	}
	return head + "." + name
}
