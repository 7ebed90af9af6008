package php

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/source"
)

// This file folds expressions that are paths: __DIR__ . '/x', dirname(__FILE__, 2), ROOT . "/$name.php".

// baseKind is what a path counts from.
type baseKind uint8

const (
	fromNothing baseKind = iota // a bare text: from the folder in which the program runs, or the include path
	fromOwn                     // the file's own folder, or one above it
	fromConst                   // a constant that holds a folder
	fromPackage                 // the folder of the package, as frameworks' helpers know it
)

// place is the value of an expression: a base, and a text that is put behind it.
type place struct {
	base baseKind
	up   int    // how far above the file's own folder
	name string // of a constant, as it is written; of a constant of a class with ::
	text string
	open bool   // something unknown follows
	tail string // a text behind that
}

// purpose is what an expression is for.
type purpose uint8

const (
	forUse     purpose = iota // it is given to something
	forInclude                // its file is loaded
	forName                   // it is what a constant or a variable stands for
	forSet                    // files are looked for by a pattern
	forAsking                 // it is only asked whether something is there
)

// pathExpr is an expression that is a path.
type pathExpr struct {
	place
	inside  string // the text that the base itself holds: of realpath(__DIR__ . '/..')
	before  place  // what its first term stands for, where that is a variable
	term    string
	at      source.Span // of the expression
	anchor  source.Span // of what the base is
	literal source.Span // of the texts behind it, with their quotes; empty for none
	quote   byte        // of the texts; 0 where they stand in a string with other things
	purpose purpose
	block   int
	scope   int
	late    bool
	// unslashed: the text behind the base has no slash in front, since a call puts it there: base_path('a')
	unslashed bool
	source    string // the expression as it is written, to write the file's own folder anew; empty for a long one
}

// longestFolder is how long an expression of the file's own folder may be, in bytes, to be written anew.
const longestFolder = 40

// variable is what a scope knows of a variable.
type variable struct {
	assigned int
	place    place
	known    bool
}

// scopeOf is a function's variables.
type scopeOf struct {
	variables map[string]variable
	parent    int // of a closure; -1 for none
	// what got a value before the token start; before that is asked for, start is the token with which the scope begins
	assigned map[string]bool
	start    int
}

// folded is a chain while it is read.
type folded struct {
	pathExpr
	end   int // the token behind it
	terms int
}

// paths reads an expression at the token at hand, if one begins here.
func (p *parser) paths() {
	if p.i < p.folded {
		return
	}
	k := p.kind(p.i)
	switch before := p.previous(p.i); p.kind(before) {
	case tColons, tArrow:
		return
	case '.': // 'sqlite:' . ROOT . '/x'
		if scheme := p.previous(before); p.kind(scheme) != tString || !bytes.HasSuffix(p.text(scheme), []byte(":'")) {
			return
		}
	}
	switch {
	case k == tWord && (p.is(p.i, "include") || p.is(p.i, "include_once") || p.is(p.i, "require") ||
		p.is(p.i, "require_once")):
		if f, ok := p.chain(p.next(p.i), true); ok {
			f.purpose = forInclude
			p.addPath(f)
		}
	case k == tVariable:
		p.assignment()
		if !p.standsForPath(p.i) {
			return
		}
		if p.kind(p.next(p.i)) == '.' {
			p.tryPath()
		} else if p.passedOn() {
			p.addVariable(p.i)
		}
	case k == tQuote && p.kind(p.i+1) == tVariable, isName(k) && p.mayBegin(), k == '(' && p.anchored():
		p.tryPath()
	case k == tString && p.kind(p.previous(p.i)) == '(' && p.list() != nil && fileCalls.has([]byte(p.callOf(p.list()))):
		p.tryPath()
	}
}

// mayBegin says whether a path can begin with the name at hand: nearly all names are none, and this is asked of each.
func (p *parser) mayBegin() bool {
	text := p.text(p.i)
	switch p.kind(p.i + 1) {
	case '.', tColons:
		return true
	case '(':
		last := text[len(text)-1] | 0x20
		return last == 'e' && p.calls(p.i, "dirname") ||
			last == 'h' && (p.calls(p.i, "realpath") || bytes.HasSuffix(text, []byte("_path")))
	case ')', ',', ';': // the file's own folder, or a constant
		return text[0] == '_' || text[len(text)-1] >= 'A' && text[len(text)-1] <= 'Z'
	}
	return false
}

// anchored says whether a bracket opens an expression that begins at the file's own folder.
func (p *parser) anchored() bool {
	switch before := p.kind(p.previous(p.i)); {
	case isName(before) && !p.is(p.previous(p.i), "return"), before == ')', before == ']', before == tVariable:
		return false // the arguments of a call
	}
	i := p.next(p.i)
	return p.is(i, "__dir__") || p.calls(i, "dirname")
}

// calls says whether a token is the name of a function of the language, in full or not.
func (p *parser) calls(i int, lower string) bool {
	return p.is(i, lower) || p.kind(i) == tFull && sameWord(p.text(i)[1:], lower)
}

func (p *parser) tryPath() {
	if f, ok := p.chain(p.i, false); ok {
		p.addPath(f)
	}
}

// addPath notes an expression that was folded.
func (p *parser) addPath(f folded) {
	f.block, f.scope, f.late = p.block, p.scope(), p.functions > 0
	if l := p.list(); f.purpose == forUse && l != nil && f.end < len(p.t) {
		switch {
		case p.callOf(l) == "glob":
			f.purpose = forSet
		case asking.has([]byte(p.callOf(l))):
			f.purpose = forAsking
		case p.callOf(l) == "define" && l.items == 1:
			f.purpose = forName
			if n := len(p.f.declared); n > 0 && p.f.declared[n-1].full {
				p.f.declared[n-1].path = len(p.f.paths) + 1
			}
		case p.callOf(l) == "set_include_path", p.callOf(l) == "ini_set":
			p.f.includes = append(p.f.includes, len(p.f.paths))
		}
	}
	if p.assigns >= 0 && f.purpose == forUse && p.kind(f.end) == ';' {
		f.purpose = forName
	}
	if f.at.Len() <= longestFolder {
		f.source = string(p.src[f.at.Start:f.at.End])
	}
	p.f.paths = append(p.f.paths, f.pathExpr)
	p.folded = f.end
}

// fileCalls are functions whose first argument is the path of a file (php.net/manual/en/ref.filesystem.php).
var fileCalls = words(`file fopen readfile file_get_contents file_put_contents parse_ini_file glob scandir is_file
	is_dir file_exists opendir copy rename unlink mkdir highlight_file fileperms`)

// asking are those that only say whether something is there.
var asking = words(`is_file is_dir file_exists is_readable is_writable is_link`)

// chain folds terms with . between them, from a token on. bare: a text alone is a path too.
func (p *parser) chain(i int, bare bool) (folded, bool) {
	f := folded{}
	f.at.Start = int(p.t[min(i, len(p.t)-1)].start)
	start := i
	for p.kind(i) == '(' && bare { // include ('x')
		i = p.next(i)
	}
	for {
		next, ok := p.foldTerm(&f, i)
		if !ok {
			return f, false
		}
		f.terms++
		f.at.End = int(p.t[next-1].end)
		i = next
		for p.kind(i) == tDoc {
			i++
		}
		if p.kind(i) != '.' {
			break
		}
		i = p.next(i)
	}
	f.end = i
	if bare && p.kind(start) == '(' {
		f.at.Start = int(p.t[start].start)
		for depth := start; p.kind(depth) == '('; depth = p.next(depth) {
			if p.kind(i) != ')' {
				return f, false // include ('a') . 'b'
			}
			f.at.End = int(p.t[i].end)
			i = p.next(i)
		}
		f.end = i
		if p.kind(i) == '.' || p.kind(i) == '?' {
			return f, false
		}
	}
	if f.base == fromNothing && f.term == "" {
		return f, f.text != "" && !strings.Contains(f.text, "://") && (bare || f.terms == 1)
	}
	if f.base == fromConst && f.literal.Len() == 0 && !f.open && !bare { // a name like any other, until it is known
		return f, p.passedOnAt(start, f.end)
	}
	return f, true
}

// passedOnAt is passedOn for the terms between two tokens.
func (p *parser) passedOnAt(start, end int) bool {
	before, after := p.previous(start), p.kind(end)
	if after != ',' && after != ')' && after != ';' {
		return false
	}
	switch p.kind(before) {
	case '(', ',':
		return p.list() != nil && p.list().list == anyList
	case tWord:
		return p.is(before, "return")
	case '=':
		return true
	}
	return false
}

// foldTerm folds one term, and gives the token behind it.
func (p *parser) foldTerm(f *folded, i int) (next int, ok bool) {
	tok := p.t[min(i, len(p.t)-1)]
	first := f.terms == 0
	switch {
	case tok.kind == tString:
		s := p.src[tok.start+1 : tok.end-1]
		text, plain := plainText(s)
		if !plain {
			return p.unknown(f, i)
		}
		if f.open {
			f.tail = text
			return i + 1, true
		}
		f.tail = ""
		p.putText(f, text, span(tok), p.src[tok.start])
		return i + 1, true
	case p.is(i, "directory_separator"):
		if f.open {
			f.tail = ""
		} else {
			p.putText(f, "/", span(tok), f.quote)
		}
		return i + 1, true
	case !first && tok.kind != tQuote:
		return p.unknown(f, i)
	case tok.kind == tQuote:
		return p.foldString(f, i)
	case p.is(i, "__dir__"):
		f.base, f.anchor = fromOwn, span(tok)
		return i + 1, true
	case p.is(i, "__file__"):
		f.base, f.anchor, f.text = fromOwn, span(tok), ownFile
		return i + 1, true
	case (p.calls(i, "dirname") || p.calls(i, "realpath")) && p.kind(p.next(i)) == '(':
		return p.foldCall(f, i)
	case tok.kind == '(':
		end, ok := p.foldInner(f, p.next(i))
		if !ok || p.kind(end) != ')' {
			return 0, false
		}
		f.anchor = source.Span{Start: int(tok.start), End: int(p.t[end].end)}
		f.literal, f.inside = source.Span{}, f.text
		return end + 1, true
	case tok.kind == tVariable:
		if p.kind(p.next(i)) != '.' && p.kind(p.next(i)) != ')' && p.kind(p.next(i)) != ',' && p.kind(p.next(i)) != ';' {
			return 0, false
		}
		f.term, f.anchor = p.named(i), span(tok)
		return i + 1, true
	case isName(tok.kind):
		return p.foldName(f, i)
	}
	return 0, false
}

// ownFile stands for the name of the file itself in a text: it goes with the .. behind it.
const ownFile = "/\x00"

// putText puts a text behind what was folded.
func (p *parser) putText(f *folded, text string, at source.Span, quote byte) {
	if f.literal.Len() == 0 {
		f.literal, f.quote = at, quote
	}
	f.literal.End = at.End
	if f.quote == 0 {
		f.quote = quote
	}
	f.text += text
}

// plainText is a string without escapes that mean anything but themselves.
func plainText(s []byte) (string, bool) {
	if bytes.IndexByte(s, '\\') >= 0 || bytes.IndexByte(s, '\n') >= 0 || bytes.IndexByte(s, 0) >= 0 {
		return "", false
	}
	return string(s), true
}

// unknown passes over a term of which nothing is known.
func (p *parser) unknown(f *folded, i int) (int, bool) {
	if f.terms == 0 {
		return 0, false
	}
	f.open, f.tail = true, ""
	for depth := 0; ; i++ {
		switch k := p.kind(i); {
		case k == '(' || k == '[' || k == '{' || k == tPutIn:
			depth++
		case k == ')' || k == ']' || k == '}':
			if depth == 0 {
				return i, true
			}
			depth--
		case k == tEnd:
			return i, true
		case depth > 0 || isName(k) || k == tVariable || k == tArrow || k == tColons || k == tNumber || k == tString ||
			k == tQuote || k == tPart || k == tCast || k == '$' || k == tHereStart || k == tHereEnd:
		default:
			return i, true
		}
	}
}

// foldString folds "$dir/x": a variable with a text behind it.
func (p *parser) foldString(f *folded, i int) (int, bool) {
	first := f.terms == 0
	start := i
	i++
	if p.t[start].kind != tQuote || p.src[p.t[start].start] != '"' {
		return p.unknown(f, start)
	}
	if first {
		at := i
		braced := p.kind(at) == tPutIn
		if braced {
			at++
		}
		if p.kind(at) != tVariable {
			return 0, false
		}
		f.term, f.anchor = p.named(at), span(p.t[at])
		at++
		if braced {
			if p.kind(at) != '}' {
				return 0, false
			}
			at++
		}
		if int(p.t[at].start) != int(p.t[at-1].end) { // "$a[0]/x": a step that is passed over
			return 0, false
		}
		i = at
	}
	for ; p.kind(i) != tQuote && p.kind(i) != tEnd; i++ {
		if p.kind(i) == tPart && !f.open {
			text, plain := plainText(p.text(i))
			if !plain {
				return 0, false
			}
			if f.literal.Len() == 0 {
				f.literal = span(p.t[i])
			}
			f.text += text
			continue
		}
		if p.kind(i) == tPart {
			f.tail = string(p.text(i))
			continue
		}
		f.open, f.tail = true, ""
	}
	return i + 1, true
}

// foldInner folds an expression inside of brackets into the same value, and gives the token behind it.
func (p *parser) foldInner(f *folded, i int) (int, bool) {
	inner := folded{}
	for {
		next, ok := p.foldTerm(&inner, i)
		if !ok || inner.open {
			return 0, false
		}
		inner.terms++
		i = next
		if p.kind(i) != '.' {
			break
		}
		i = p.next(i)
	}
	if inner.base == fromNothing {
		return 0, false
	}
	f.place = inner.place
	return i, true
}

// foldCall folds dirname(x), dirname(x, 2) and realpath(x).
func (p *parser) foldCall(f *folded, i int) (int, bool) {
	start, up := int(p.t[i].start), 0
	if p.calls(i, "dirname") {
		up = 1
	}
	end, ok := p.foldInner(f, p.next(p.next(i)))
	if !ok {
		return 0, false
	}
	if p.kind(end) == ',' && up > 0 && p.kind(p.next(end)) == tNumber {
		up = 0
		for _, c := range p.text(p.next(end)) {
			if c < '0' || c > '9' || up > 100 {
				return 0, false
			}
			up = up*10 + int(c-'0')
		}
		end = p.next(p.next(end))
	}
	if p.kind(end) != ')' {
		return 0, false
	}
	for range up {
		f.place = f.place.dirname()
	}
	f.anchor, f.literal = source.Span{Start: start, End: int(p.t[end].end)}, source.Span{}
	f.inside = f.text
	return end + 1, true
}

// dirname cuts the last part off, as dirname does: by the text alone.
func (v place) dirname() place {
	at := strings.LastIndexByte(strings.TrimRight(v.text, "/"), '/')
	switch {
	case at >= 0:
		v.text = v.text[:at]
	case v.base == fromOwn && v.text == "":
		v.up++
	default:
		v.text = path.Clean(v.text + "/..")
	}
	return v
}

// helpers are functions of frameworks that give a folder of the package, and those folders.
var helpers = map[string]string{"base_path": "", "app_path": "/app", "config_path": "/config",
	"resource_path": "/resources", "storage_path": "/storage", "public_path": "/public", "database_path": "/database",
	"lang_path": "/lang"}

// foldName folds a constant, one of a class, and the calls of helpers.
func (p *parser) foldName(f *folded, i int) (int, bool) {
	name, after := p.named(i), p.next(i)
	if folder, helps := helpers[strings.ToLower(name)]; helps && p.kind(after) == '(' {
		f.base, f.place.text = fromPackage, folder
		arg := p.next(after)
		if p.kind(arg) == ')' {
			f.anchor = source.Span{Start: int(p.t[i].start), End: int(p.t[arg].end)}
			return arg + 1, true
		}
		if p.kind(arg) != tString || p.kind(p.next(arg)) != ')' {
			return 0, false
		}
		inside := p.text(arg)
		text, plain := plainText(inside[1 : len(inside)-1])
		if !plain {
			return 0, false
		}
		f.anchor = span(p.t[i])
		p.putText(f, "/"+strings.TrimPrefix(text, "/"), span(p.t[arg]), inside[0])
		f.unslashed = !strings.HasPrefix(text, "/")
		return p.next(arg) + 1, true
	}
	switch {
	case p.kind(i) == tWord && reserved.has(p.text(i)) && !p.is(i, "self") && !p.is(i, "static"):
		return 0, false
	case p.kind(after) == '(':
		return 0, false
	case p.kind(after) == tColons && p.kind(p.next(after)) == tWord && p.kind(p.next(p.next(after))) != '(' &&
		!p.is(p.next(after), "class"):
		member := p.next(after)
		f.base, f.name = fromConst, name+"::"+p.named(member)
		f.anchor = source.Span{Start: int(p.t[i].start), End: int(p.t[member].end)}
		return member + 1, true
	case p.kind(after) == tColons, p.is(i, "self"), p.is(i, "static"):
		return 0, false
	}
	f.base, f.name, f.anchor = fromConst, name, span(p.t[i])
	return i + 1, true
}
