package rust

import (
	"bytes"
	"cmp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// deepest is how deep braces may nest; the compiler gives up long before.
const deepest = 4000

// parser reads what a text says of names.
type parser struct {
	src   []byte
	tok   []token
	f     *file
	names *names
	types map[nameIn]int // structs and enums, by their places among the items
	where placeKind
	paths bool // nothing but paths and uses is wanted
	depth int
	// what stands in blocks with items of their own is of a scope that is found when these are known
	blocks   bool
	order    []int32 // the scopes, by where they begin
	docs     []comment
	examples *exampleRoom
	attrs    []attribute // of the items that are read
	around   []byte      // the brackets that are open, within the innermost braces
}

type nameIn struct {
	name  string
	scope int32
}

// context says what may stand in a part of a text.
type context uint8

const (
	ofItems context = iota // a module, or a block of foreign functions
	ofType                 // an implementation
	ofTrait                // a trait, or the implementation of one
	ofCode
)

// parse reads a text.
func parse(src []byte, s *scratch) (*file, error) {
	p := &parser{src: src, tok: s.tokens, docs: s.docs, f: &file{}, names: s.names, examples: &s.examples}
	f := p.f
	f.items, f.paths, f.singles, f.selects = s.items[:0], s.paths[:0], s.singles[:0], s.selects[:0]
	f.uses, f.members, f.attrs, f.impls = s.uses[:0], s.members[:0], s.attrs[:0], s.impls[:0]
	defer func() {
		f.items, s.items = kept(f.items)
		f.paths, s.paths = kept(f.paths)
		f.singles, s.singles = kept(f.singles)
		f.selects, s.selects = kept(f.selects)
		f.uses, s.uses = kept(f.uses)
		f.members, s.members = kept(f.members)
		f.impls, s.impls = kept(f.impls)
		f.attrs, s.attrs = kept(f.attrs)
	}()
	p.f.scopes = append(p.f.scopes, scope{parent: -1, end: int32(len(src)), module: true})
	p.f.first = p.behindInner()
	if p.block(0, len(p.tok), 0, ofItems, ""); p.depth > deepest {
		return nil, &lang.ScanError{Message: "braces nest too deep"}
	}
	p.assign()
	p.readDocs()
	p.f.declare()
	return p.f, nil
}

// kept gives a list of its own length, and the room that it was made in.
func kept[T any](made []T) (own, room []T) {
	if len(made) == 0 {
		return nil, made
	}
	return slices.Clone(made), made
}

// behindInner is the place behind the attributes and comments that speak of the whole file.
func (p *parser) behindInner() int {
	at, i := 0, 0
	for i+2 < len(p.tok) && p.is(i, '#') && p.is(i+1, '!') && p.is(i+2, '[') {
		i = int(p.tok[i+2].pair) + 1
		at = int(p.tok[i-1].end)
	}
	for _, d := range p.docs {
		if d.inner && int(d.next) <= i {
			at = max(at, int(d.end))
		}
	}
	if i == 0 && at == 0 && bytes.HasPrefix(p.src, []byte("#!")) {
		return min(text.LineEnd(p.src, 0)+1, len(p.src))
	}
	if at == 0 {
		if i < len(p.tok) {
			return text.LineStart(p.src, p.itemStart(i))
		}
		return 0
	}
	return min(text.LineEnd(p.src, at)+1, len(p.src))
}

// itemStart is where an item begins, with the comments of its own.
func (p *parser) itemStart(i int) int {
	at := int(p.tok[i].start)
	behind, _ := slices.BinarySearchFunc(p.docs, i+1, func(d comment, i int) int { return cmp.Compare(int(d.next), i) })
	for k := behind - 1; k >= 0 && int(p.docs[k].next) == i; k-- {
		if !p.docs[k].inner {
			at = int(p.docs[k].start)
		}
	}
	return at
}

// is says whether a token is a character.
func (p *parser) is(i int, c byte) bool {
	return uint(i) < uint(len(p.tok)) && p.tok[i].first == c && p.tok[i].kind >= tOpen
}

// word is the word of the language that a token is; empty for other names, also for one that is a name by its r#.
func (p *parser) word(i int) string {
	if i < 0 || i >= len(p.tok) || p.tok[i].kind != tName || p.tok[i].last == 0 {
		return ""
	}
	return words[p.tok[i].last-1]
}

// name is the text of a name, without r# before it.
func (p *parser) name(i int) string {
	return p.names.texts[p.tok[i].pair]
}

// named says whether a token is a name that declares something.
func (p *parser) named(i int) bool {
	return i < len(p.tok) && p.tok[i].kind == tName && !p.keyword(i)
}

func (p *parser) raw(i int) bool {
	return p.tok[i].end-p.tok[i].start > 2 && p.src[p.tok[i].start+1] == '#'
}

func (p *parser) span(i int) source.Span {
	at := source.Span{Start: int(p.tok[i].start), End: int(p.tok[i].end)}
	if p.raw(i) {
		at.Start += 2
	}
	return at
}

// words are those that the language has, the ones that are no names first (the reference, "Keywords").
var words = strings.Fields("as async await break const continue crate dyn else enum extern false fn for if impl in let loop match mod move mut " +
	"pub ref return self Self static struct super trait true type unsafe use where while abstract become box do final macro override priv " +
	"typeof unsized virtual yield try _ " + weak)

// weak are words that are names too.
const weak = "auto concat default env gen macro_rules safe union"

var strong = byte(len(words) - len(strings.Fields(weak)))

var keywords = lang.Words(strings.Join(words[:strong], " "))

// isKeyword says whether a text is no name.
func isKeyword(name string) bool {
	return keywords[name]
}

// keyword says whether a token is a word that is no name.
func (p *parser) keyword(i int) bool { return p.tok[i].last > 0 && p.tok[i].last <= strong }

// block reads the tokens from i up to j.
func (p *parser) block(i, j int, sc int32, ctx context, owner string) {
	if p.depth++; p.depth > deepest {
		return
	}
	b := &body{scope: sc, ctx: ctx, owner: owner, from: i, to: j}
	around := len(p.around)
	p.around = append(p.around, '{')
	for starts := true; i < j && p.depth <= deepest; {
		if starts {
			if next := p.item(i, j, b); next > i {
				i = next
				continue
			}
		}
		starts = p.is(i, ';') || p.is(i, '}') || p.is(i, '{') && p.tok[i].pair < 0
		i = p.step(i, j, b)
	}
	p.around = p.around[:around]
	if p.depth <= deepest {
		p.depth--
	}
}

// body is what is read.
type body struct {
	scope    int32
	ctx      context
	owner    string // of an implementation: the name of the type
	from, to int
	own      bool // the block has a scope of its own
	head     bool // it is what stands before the body of an item
}

// step reads one token of code, with what belongs to it, and gives the next.
func (p *parser) step(i, j int, b *body) int {
	switch t := &p.tok[i]; t.kind {
	case tName, tPath:
		return p.path(i, j, b)
	case tOpen:
		if t.first == '{' && p.where != inRule {
			p.block(i+1, int(t.pair), b.scope, ofCode, "")
			return int(t.pair) // the brace ends a statement
		}
		p.around = append(p.around, t.first)
	case tNumber:
		if p.is(i-1, '.') {
			p.numbered(i, b.scope)
		}
	case tClose:
		if n := len(p.around); n > 1 && p.around[n-1] == opening(t.first) && t.first != '}' {
			p.around = p.around[:n-1]
		}
	case tSign:
		switch t.first {
		case '#':
			if next := p.attribute(i, b.scope, nil); next > i {
				return next
			}
		case '$':
			if p.word(i+1) == "crate" && i+2 < j && p.tok[i+2].kind == tPath {
				return p.path(i, j, b)
			}
			return i + 2 // the name of a fragment, or a repetition
		}
	}
	return i + 1
}

// opening is the bracket that another closes.
func opening(close byte) byte {
	if close == ')' {
		return '('
	}
	return '['
}

// walk reads code that has no items.
func (p *parser) walk(i, j int, b *body) {
	for i < j {
		i = p.step(i, j, b)
	}
}

// path reads a name or a path, and what is called by it.
func (p *parser) path(i, j int, b *body) int {
	start, at := i, i
	global, dollar := false, false
	if p.tok[i].kind == tPath {
		if i > 0 && (p.tok[i-1].kind == tName && !p.keyword(i-1) ||
			p.is(i-1, '>') && (p.tok[i-1].end == p.tok[i].start ||
				bytes.IndexByte(p.src[p.tok[i-1].end:p.tok[i].start], '\n') >= 0)) || i+1 >= j ||
			p.tok[i+1].kind != tName {
			return i + 1 // behind arguments, or before them
		}
		global, i = true, i+1
	} else if p.is(i, '$') {
		dollar, i = true, i+1
	}
	first := i
	if p.keyword(i) {
		switch p.word(i) {
		case "crate", "self", "super", "Self":
		case "try": // a macro of that name is older than the word
			if !p.is(i+1, '!') {
				return i + 1
			}
		default:
			return i + 1
		}
	}
	name := p.name(i)
	for i+2 < j && p.tok[i+1].kind == tPath && p.tok[i+2].kind == tName {
		i += 2
	}
	next := i + 1
	behindDot := start > 0 && p.tok[start-1].kind == tSign && p.tok[start-1].first == '.'
	behindPath := start > 0 && p.tok[start-1].kind == tPath
	macro := next < j && p.is(next, '!') && next+1 < j && !p.is(next+1, '=') && !behindDot
	switch {
	case behindDot:
		p.selected(first, b.scope, false)
		return next
	case behindPath:
		return next // of what stands before it
	case i > first || global:
		p.addPath(at, i, b.scope, global, dollar, macro)
	case !macro && p.is(next, ':') && !b.head:
		if p.is(start-1, '{') || p.is(start-1, ',') {
			p.selected(first, b.scope, false) // a field of a struct that is made, or taken apart
		}
		return next // a field, or a variable with its type
	case name == "self" || name == "Self" || name == "crate" || name == "super" || name == "_":
	default:
		p.addSingle(first, b.scope, macro)
		if n := len(p.around); n > 0 && p.around[n-1] == '{' && (p.is(start-1, '{') || p.is(start-1, ',')) &&
			(p.is(next, ',') || p.is(next, '}')) {
			p.selected(first, b.scope, false)
		}
		if p.is(next, '(') {
			p.selected(first, b.scope, true)
		}
	}
	if !macro {
		return next
	}
	if p.where == inAttr { // the other strings of an attribute are noted wherever they stand in it
		if name = p.name(i); strings.HasPrefix(name, "include") && p.tok[next+1].kind == tOpen && p.tok[next+2].kind == tString {
			p.fileOf(name, next+1)
			return int(p.tok[next+1].pair)
		}
		return next
	}
	return p.call(i, j, b)
}

// addPath notes a path.
func (p *parser) addPath(from, to int, sc int32, global, dollar, macro bool) {
	at := source.Span{Start: int(p.tok[from].start), End: int(p.tok[to].end)}
	raw := p.src[at.Start:at.End]
	var whole string
	if plainPath(raw) {
		whole = p.names.string(raw)
	} else {
		var b strings.Builder
		for i := from; i <= to; i++ {
			switch {
			case p.tok[i].kind == tPath:
				b.WriteString("::")
			case p.tok[i].kind == tName:
				b.WriteString(p.name(i))
			case p.is(i, '$'):
				b.WriteByte('$')
			}
		}
		whole = b.String()
	}
	if global {
		whole = whole[2:]
	}
	p.f.paths = append(p.f.paths, pathUse{at: at, text: whole, scope: sc, global: global, macro: macro, where: p.where})
}

// plainPath says whether a path is written without blanks, comments and r#.
func plainPath(raw []byte) bool {
	for _, c := range raw {
		if classes[c] < cLetter && c != ':' {
			return false
		}
	}
	return true
}

func (p *parser) addSingle(i int, sc int32, macro bool) {
	as := uint64(0)
	if macro {
		as |= asMacro
	}
	if p.where == inRule {
		if macro && p.names.note(p.tok[i].pair, sc, as|inRules) { // it is known where the rule is used
			p.f.calls = append(p.f.calls, p.name(i))
		}
		return
	}
	if !p.paths && p.names.note(p.tok[i].pair, sc, as) {
		p.f.singles = append(p.f.singles, single{name: p.name(i), at: p.tok[i].start, scope: sc, macro: macro, where: p.where})
	}
}

// numbered notes the parts of tuples behind a dot: two of them in x.0.1, which is one number to the lexer.
func (p *parser) numbered(i int, sc int32) {
	raw := p.src[p.tok[i].start:p.tok[i].end]
	for part := range bytes.SplitSeq(raw, []byte(".")) {
		h := uint32(0)
		for _, c := range part {
			if classes[c] != cDigit {
				return
			}
			h = hashed(h, c)
		}
		if number := p.names.number(part, h); len(part) > 0 && !p.paths && p.names.note(number, sc, p.ruled(asMember)) {
			p.f.selects = append(p.f.selects, single{name: p.names.texts[number], at: p.tok[i].start, scope: sc, where: p.where})
		}
	}
}

// selected notes a name behind a dot, or one that may be a field or a function of a type.
func (p *parser) selected(i int, sc int32, called bool) {
	as, more := uint64(asMember), ""
	if called {
		as, more = asCalled, "("
	}
	if name := p.name(i); !p.paths && name != "await" && p.names.note(p.tok[i].pair, sc, p.ruled(as)) {
		p.f.selects = append(p.f.selects, single{name: name + more, at: p.tok[i].start, scope: sc, where: p.where})
	}
}

// ruled is what a name is noted as, apart in the rules of macros.
func (p *parser) ruled(as uint64) uint64 {
	if p.where == inRule {
		return as | inRules
	}
	return as
}

// templates are macros whose arguments are code that stands elsewhere in the end.
var templates = map[string]bool{"quote": true, "quote_spanned": true, "parse_quote": true, "parse_quote_spanned": true}

// call reads the call of a macro whose name ends at a token.
func (p *parser) call(i, j int, b *body) int {
	name := p.name(i)
	open := i + 2
	if p.tok[open].kind == tName && open+1 < j { // macro_rules! x, or a macro that declares one
		open++
	}
	if open >= j || p.tok[open].kind != tOpen || p.tok[open].pair < 0 {
		return i + 1
	}
	end := int(p.tok[open].pair)
	p.fileOf(name, open)
	was := p.where
	switch {
	case was == inRule:
	case templates[name]:
		p.where = inRule
	default:
		p.where = inMacro
	}
	inside := &body{scope: b.scope, ctx: ofCode, from: open + 1, to: end, own: true}
	if b.ctx == ofCode {
		inside.own = b.own
	}
	p.arguments(open+1, end, inside)
	p.where = was
	return end
}

// arguments reads what a macro is given: items may stand there, and anything else.
func (p *parser) arguments(i, j int, b *body) {
	if p.depth++; p.depth > deepest {
		return
	}
	for starts := true; i < j && p.depth <= deepest; {
		if starts && p.where != inRule {
			if next := p.item(i, j, b); next > i {
				i = next
				continue
			}
		}
		starts = p.is(i, ';') || p.is(i, '}') || p.is(i, '{')
		if p.is(i, '{') && p.where != inRule {
			p.arguments(i+1, int(p.tok[i].pair), b)
			i = int(p.tok[i].pair)
			continue
		}
		i = p.step(i, j, b)
	}
	if p.depth <= deepest {
		p.depth--
	}
}

// fileOf notes the file that a macro reads, and code that asks for its own name.
func (p *parser) fileOf(name string, open int) {
	switch name {
	case "include", "include_str", "include_bytes":
		p.literals(name, open)
	case "module_path", "file", "type_name":
		p.f.speaks = append(p.f.speaks, speech{p.tok[open].start, name + "!"})
	case "concat":
		p.manifest(open)
	}
}

// literals notes the path in the brackets of a macro that reads a file.
func (p *parser) literals(name string, open int) {
	first := open + 1
	if p.tok[first].kind == tString {
		p.f.texts = append(p.f.texts, p.textAt(first, name))
		return
	}
	if p.word(first) == "concat" && p.is(first+1, '!') && p.tok[first+2].kind == tOpen {
		p.manifest(first + 2)
	}
}

// manifest notes the path in concat!(env!("CARGO_MANIFEST_DIR"), "/a/b").
func (p *parser) manifest(open int) {
	i := open + 1
	end := int(p.tok[open].pair)
	if p.word(i) != "env" || !p.is(i+1, '!') || i+4 >= end || p.tok[i+3].kind != tString ||
		p.textAt(i+3, "").text != "CARGO_MANIFEST_DIR" {
		return
	}
	if i = int(p.tok[i+2].pair) + 1; p.is(i, ',') && i+1 < end && p.tok[i+1].kind == tString {
		if next := i + 2; next == end || p.is(next, ',') && next+1 == end {
			one := p.textAt(i+1, "manifest")
			if strings.HasPrefix(one.text, "/") {
				one.at.Start, one.text = one.at.Start+1, one.text[1:]
				p.f.texts = append(p.f.texts, one)
			}
		}
	}
}

// textAt is the text of a string.
func (p *parser) textAt(i int, form string) textUse {
	t := p.tok[i]
	at := source.Span{Start: int(t.start) + int(t.first), End: int(t.end) - int(t.last)}
	raw := strings.ReplaceAll(string(p.src[at.Start:at.End]), "\r\n", "\n")
	if bytes.IndexByte(p.src[t.start:at.Start], 'r') < 0 && strings.Contains(raw, `\`) {
		raw = decode(raw)
	}
	return textUse{at: at, text: raw, form: form, from: int(t.start), to: int(t.end), inMacro: p.where == inMacro || p.where == inRule}
}

// decode is the text of a string with escapes (the reference, "Tokens"): a line end behind a backslash is left out with
// the blanks behind it.
func decode(raw string) string {
	var b strings.Builder
	for i := 0; i < len(raw); i++ {
		if raw[i] == '\\' && i+1 < len(raw) && (raw[i+1] == '\n' || raw[i+1] == '\r') {
			for i++; i+1 < len(raw) && classes[raw[i+1]] == cSpace; i++ {
			}
			continue
		}
		if raw[i] == '\\' && i+1 < len(raw) {
			b.WriteByte(raw[i])
			i++
		}
		b.WriteByte(raw[i])
	}
	return text.DecodeScript([]byte(b.String()))
}

// assign gives what stands in blocks with items of their own to those: that they have some is known only behind them.
func (p *parser) assign() {
	scopes := p.f.scopes
	if len(scopes) == 1 {
		return
	}
	p.order = make([]int32, len(scopes))
	for i := range p.order {
		p.order[i] = int32(i)
	}
	slices.SortStableFunc(p.order, func(a, b int32) int {
		return cmp.Or(cmp.Compare(scopes[a].start, scopes[b].start), cmp.Compare(scopes[b].end, scopes[a].end), cmp.Compare(a, b))
	})
	var open []int32
	for _, k := range p.order {
		for len(open) > 0 && scopes[open[len(open)-1]].end <= scopes[k].start {
			open = open[:len(open)-1]
		}
		if k != 0 && len(open) > 0 {
			scopes[k].parent = open[len(open)-1]
		}
		open = append(open, k)
	}
	if !p.blocks {
		return
	}
	for i := range p.f.paths {
		p.f.paths[i].scope = p.inner(int32(p.f.paths[i].at.Start))
	}
	for i := range p.f.singles {
		p.f.singles[i].scope = p.inner(p.f.singles[i].at)
	}
	for i := range p.f.attrs {
		p.f.attrs[i].scope = p.inner(int32(p.f.attrs[i].at.Start))
	}
}

// inner is the innermost scope that a place lies in.
func (p *parser) inner(at int32) int32 {
	scopes := p.f.scopes
	if len(p.order) == 0 {
		return 0
	}
	n, exact := slices.BinarySearchFunc(p.order, at, func(k, at int32) int { return cmp.Compare(scopes[k].start, at) })
	if !exact {
		n--
	}
	for n+1 < len(p.order) && scopes[p.order[n+1]].start == at {
		n++
	}
	sc := p.order[max(0, n)]
	for sc > 0 && scopes[sc].end <= at {
		sc = scopes[sc].parent
	}
	return max(sc, 0)
}

// scopeOf gives the scope of a block that has an item.
func (p *parser) scopeOf(b *body) int32 {
	if b.ctx == ofCode && !b.own && b.from > 0 && p.where != inMacro {
		p.f.scopes = append(p.f.scopes, scope{parent: b.scope, start: p.tok[b.from-1].end, end: p.tok[b.to].start})
		b.scope, b.own, p.blocks = int32(len(p.f.scopes)-1), true, true
	}
	return b.scope
}

// moduleOf is the module that a scope is in: itself, if it is one.
func (f *file) moduleOf(sc int32) int32 {
	for !f.scopes[sc].module {
		sc = f.scopes[sc].parent
	}
	return sc
}

// declare notes what the scopes declare, by names.
func (f *file) declare() {
	most := len(f.items) + len(f.uses)
	f.decls, f.globs = make(map[nameIn][]declRef, most), map[int32][]int32{}
	refs := make([]declRef, 0, most) // most names are declared once
	add := func(name string, sc int32, ref declRef) {
		key := nameIn{name, sc}
		if others := f.decls[key]; others != nil {
			f.decls[key] = append(others, ref)
			return
		}
		refs = append(refs, ref)
		f.decls[key] = refs[len(refs)-1 : len(refs) : len(refs)]
	}
	for i := range f.items {
		add(f.items[i].name, f.items[i].scope, declRef{ofItem, int32(i)})
	}
	for i := range f.uses {
		u := &f.uses[i]
		s := &f.stmts[u.stmt]
		switch {
		case s.inDoc:
		case u.glob:
			f.globs[s.scope] = append(f.globs[s.scope], int32(i))
		case u.bound != "":
			add(u.bound, s.scope, declRef{ofUse, int32(i)})
		}
	}
}

// namesAt are the names of a list, each once.
func namesAt(list []string, name string) []string {
	if name != "" && !slices.Contains(list, name) {
		list = append(list, name)
	}
	return list
}
