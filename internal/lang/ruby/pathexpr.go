package ruby

import (
	"bytes"
	"path"
	"regexp"
	"strings"

	"crookedshelf/internal/source"
)

// This file folds expressions that are paths: File.expand_path('../x', __FILE__), File.join(__dir__, 'a', 'b'),
// Rails.root.join('a'), "#{ROOT}/x".

// baseKind is what a path counts from.
type baseKind uint8

const (
	fromOwn  baseKind = iota // the folder of the file
	fromFile                 // the file itself: the first .. takes its name away
	fromRoot                 // the folder of the application
	fromName                 // a constant or a variable that holds a path
)

// place is a base with a text behind it.
type place struct {
	base baseKind
	name string // of the constant or the variable
	text string
}

// role is what a path says of a program's loader.
type role uint8

const (
	forUse      role = iota // nothing
	forRequire              // required files are looked for there
	forAutoload             // constants are found there by their paths
	forCollapse             // the folder adds nothing to a name
	forIgnore               // nothing is found there
)

// pathExpr is an expression that is a path.
type pathExpr struct {
	place                // with the literal
	before place         // without it
	at     source.Span   // of the expression
	texts  []source.Span // the texts at its end, inside of their quotes; none for a path that no text ends
	quote  byte
	join   string // what stands between the texts
	slash  bool   // the text begins with the slash that parts it from what stands before
	open   bool   // something unknown follows
	set    bool   // files are looked for by a pattern
	load   string // the method that loads the file; empty for none
	role   role
	// namespace is what the constants stand in that are found below it
	namespace string
	asked     bool   // it is only asked whether it is there
	name      string // the constant or the variable that stands for it; empty for none
	space     int32
	late      bool
}

// folded is an expression while it is read.
type folded struct {
	pathExpr
	end   int // the token behind it
	terms int
	parts bool // it is an object to which + adds a part of a path
}

// folds reads an expression that is a path at the token at hand, if one begins here.
func (p *parser) folds() {
	if int(p.t[p.i].start) < p.folded {
		return
	}
	switch p.kind(p.i) {
	case tName, tKey, tConst:
		if !p.mayBegin() {
			return
		}
	case tOpen:
		if p.t[p.i].lit == litWords {
			p.foldWords()
		}
		if p.t[p.i].lit != litText || p.kind(p.i+1) != tHole {
			return
		}
	default:
		return
	}
	f, ok := p.foldPath(p.i, 0)
	if !ok || f.terms == 0 {
		return
	}
	f.at = source.Span{Start: int(p.t[p.i].start), End: int(p.t[f.end-1].end)}
	if f.at.End < f.at.Start { // a here document stands in it
		return
	}
	f.space, f.late = int32(p.space), p.late > 0
	p.purpose(&f)
	if f.base == fromName && len(f.texts) == 0 && f.role == forUse && f.name == "" {
		return
	}
	p.f.paths = append(p.f.paths, f.pathExpr)
	p.folded = f.at.End
}

// foldWords folds the paths of a list of words: %W(#{config.root}/lib).
func (p *parser) foldWords() {
	for k := p.i + 1; p.kind(k) != tClose && p.kind(k) != tEnd; k++ {
		if p.kind(k) != tHole {
			continue
		}
		f, ok := p.foldPath(k+1, 0)
		if !ok || p.kind(f.end) != tHoleEnd || p.kind(f.end+1) != tPart {
			continue
		}
		part := p.t[f.end+1]
		text := p.src[part.start:part.end]
		if n := bytes.IndexAny(text, " \t\n"); n >= 0 {
			text = text[:n]
		} else if p.kind(f.end+2) == tHole {
			continue
		}
		if len(text) < 2 || text[0] != '/' {
			continue
		}
		f.before, f.slash, f.quote = f.place, true, ' '
		f.texts = []source.Span{{Start: int(part.start), End: int(part.start) + len(text)}}
		f.text += string(text)
		f.at = source.Span{Start: int(p.t[k].start), End: int(part.start) + len(text)}
		f.space, f.late = int32(p.space), p.late > 0
		p.purpose(&f)
		p.f.paths = append(p.f.paths, f.pathExpr)
	}
}

// mayBegin says whether a path can begin with the name at hand: nearly all are none, and this is asked of each.
func (p *parser) mayBegin() bool {
	switch string(p.raw(p.i)) {
	case "File", "Pathname", "Rails", "__dir__", "__FILE__", "config", "Dir":
	default:
		if len(p.holds) == 0 || !p.holds[string(p.raw(p.i))] {
			return false
		}
	}
	return p.i == 0 || p.sign(p.i-1) != '.' && !(p.op(p.i-1, "::") && !p.t[p.i-1].value) && !p.op(p.i-1, "&.")
}

// namespaced is what stands behind the folder of a loader (loader.push_dir(dir, namespace: A)).
var namespaced = regexp.MustCompile(`^\s*,\s*namespace:\s*((?:::)?[A-Z][\w:]*)`)

// purpose says what an expression is for.
func (p *parser) purpose(f *folded) {
	k := p.i - 1
	for p.sign(k) == '(' || p.sign(k) == '[' {
		k--
	}
	if p.kind(k) == tKey || k < 0 {
		k++
	}
	word := ""
	if k >= 0 && (p.kind(k) == tName || p.kind(k) == tConst) {
		word = string(p.raw(k))
	}
	switch word {
	case "require", "load", "require_dependency", "require_relative":
		f.load = word
	case "Dir", "glob":
		f.set = true
	case "exist?", "file?", "directory?", "exists?":
		f.asked = true
	}
	if p.insideCall() {
		return
	}
	line := p.src[bytes.LastIndexByte(p.src[:f.at.Start], '\n')+1 : f.at.Start]
	has := func(word string) bool { return bytes.Contains(line, []byte(word)) }
	switch {
	case has("load_paths"), has("push_dir"):
		f.role = forAutoload
		rest := p.src[f.at.End:]
		if m := namespaced.FindSubmatch(rest[:min(len(rest), 80)]); m != nil {
			f.namespace = strings.TrimPrefix(string(m[1]), "::")
		}
	case has("$LOAD_PATH"), has("$:"), has(".libs"):
		f.role = forRequire
	case has(".collapse"):
		f.role = forCollapse
	case has(".ignore"):
		f.role = forIgnore
	}
	if k = p.i - 1; p.sign(k) == '=' && (p.kind(k-1) == tConst || p.kind(k-1) == tName || p.kind(k-1) == tVar) && !f.open {
		f.name = string(p.raw(k - 1))
		p.holds[f.name] = true
	}
}

// insideCall says whether the expression at hand is an argument of a call that makes a path and is not understood: then it
// is not the path itself.
func (p *parser) insideCall() bool {
	depth := 0
	for k := p.i - 1; k > 1 && p.kind(k) != tNewline; k-- {
		switch p.sign(k) {
		case ')', ']', '}':
			depth++
		case '[', '{':
			depth--
		case '(':
			if depth == 0 && p.kind(k-1) == tName {
				switch string(p.raw(k - 1)) {
				case "expand_path", "join", "absolute_path", "dirname":
					return true
				}
			}
			depth--
		}
		if depth < 0 {
			depth = 0
		}
	}
	return false
}

// foldPath folds an expression from a token on.
func (p *parser) foldPath(i, depth int) (f folded, ok bool) {
	if depth > 20 {
		return f, false
	}
	if p.op(i, "::") && p.t[i].value {
		i++
	}
	switch word := string(p.raw(min(i, len(p.t)-1))); {
	case p.kind(i) == tOpen && p.t[i].lit == litText:
		if f, ok = p.foldString(i, depth); !ok {
			return f, false
		}
	case word == "__dir__" && p.kind(i) == tName:
		f.base, f.end, f.terms = fromOwn, i+1, 1
	case word == "__FILE__" && p.kind(i) == tKey:
		f.base, f.end = fromFile, i+1
	case word == "File" && p.sign(i+1) == '.' && p.kind(i+2) == tName:
		if f, ok = p.foldCall(i+2, depth); !ok {
			return f, false
		}
	case word == "Dir" && (p.sign(i+1) == '[' && !p.t[i+1].space || p.sign(i+1) == '.' && p.is(i+2, "glob")):
		k := i + 2
		if p.sign(i+1) == '.' {
			k = i + 3
			if p.sign(k) == '(' {
				k++
			}
		}
		if f, ok = p.foldPath(k, depth+1); !ok {
			return f, false
		}
		f.set = true
		return f, true
	case word == "Pathname" && p.sign(i+1) == '(':
		if f, ok = p.foldRound(i+1, depth); !ok {
			return f, false
		}
		f.terms, f.parts = f.terms+1, true
	case word == "Pathname" && p.sign(i+1) == '.' && p.is(i+2, "new"):
		if f, ok = p.foldRound(i+3, depth); !ok {
			return f, false
		}
		f.terms, f.parts = f.terms+1, true
	case word == "Rails" && p.sign(i+1) == '.' && p.is(i+2, "root"):
		f.base, f.end, f.terms, f.parts = fromRoot, i+3, 1, true
	case word == "config" && p.sign(i+1) == '.' && p.is(i+2, "root"):
		f.base, f.end, f.terms, f.parts = fromRoot, i+3, 1, true
	case (p.kind(i) == tConst || p.kind(i) == tName || p.kind(i) == tVar) && p.holds[word]:
		f.base, f.name, f.end = fromName, word, i+1
		f.place.name = word
		f.pathExpr.name = ""
		f.terms = 1
	default:
		return f, false
	}
	for { // .join('a'), + '/a', / 'a', .dirname
		switch {
		case p.sign(f.end) == '.' && p.kind(f.end+1) == tName:
			switch string(p.raw(f.end + 1)) {
			case "join":
				if f, ok = p.foldItems(f, f.end+2); !ok {
					return f, false
				}
			case "dirname", "parent":
				f.up()
				f.end += 2
			case "to_s", "to_path", "to_str":
				f.end, f.parts = f.end+2, false
			case "freeze", "realpath", "expand_path", "cleanpath":
				f.end += 2
				if p.sign(f.end) == '(' && p.sign(f.end+1) == ')' {
					f.end += 2
				}
			default:
				return f, true
			}
			f.terms++
		case (p.sign(f.end) == '+' || p.sign(f.end) == '/') && p.kind(f.end+1) == tString && !f.open:
			joined := p.sign(f.end) == '/'
			if !f.put(p, f.end+1, joined || f.parts) {
				return f, false
			}
			f.end += 2
			f.terms++
		default:
			return f, true
		}
	}
}

// up goes to the folder around.
func (f *folded) up() {
	switch {
	case f.base == fromFile && f.text == "":
		f.base = fromOwn
	case f.text == "":
		f.text = ".."
	default:
		f.text = path.Join(f.text, "..")
	}
	f.before, f.texts = f.place, nil
	f.terms++
}

// put puts a string behind what was folded. part: a slash parts them. It reports false where the string stands for itself.
func (f *folded) put(p *parser, i int, part bool) bool {
	t := p.t[i]
	inside := source.Span{Start: int(t.start) + 1, End: int(t.end) - 1}
	text := string(p.src[inside.Start:inside.End])
	slashed := strings.HasPrefix(text, "/")
	if slashed && part && f.parts { // Pathname takes no notice of what stands before then
		return false
	}
	if len(f.texts) == 0 {
		f.before, f.quote = f.place, p.src[t.start]
		f.slash = slashed
	} else {
		f.join = string(p.src[f.texts[len(f.texts)-1].End:inside.Start])
	}
	f.texts = append(f.texts, inside)
	if part && !slashed {
		f.text += "/"
	}
	f.text += text
	return true
}

// foldCall folds File.join(…), File.expand_path(…), File.dirname(…); i is the name of the method.
func (p *parser) foldCall(i, depth int) (f folded, ok bool) {
	switch string(p.raw(i)) {
	case "dirname":
		if f, ok = p.foldRound(i+1, depth); ok {
			f.up()
		}
		return f, ok
	case "realpath", "absolute_path":
		f, ok = p.foldRound(i+1, depth)
		f.terms++
		return f, ok
	case "join":
		k := i + 1
		round := p.sign(k) == '('
		if round {
			k++
		}
		if f, ok = p.foldPath(k, depth+1); !ok {
			return f, false
		}
		f.terms++
		if p.sign(f.end) != ',' {
			if round && p.sign(f.end) == ')' {
				f.end++
			}
			return f, true
		}
		return p.foldList(f, f.end+1, round)
	case "expand_path":
		k := i + 1
		round := p.sign(k) == '('
		if round {
			k++
		}
		if p.kind(k) == tString && p.sign(k+1) == ',' {
			base, ok := p.foldPath(k+2, depth+1)
			if !ok {
				return f, false
			}
			f = base
			f.texts = nil
			f.parts = true
			if !f.put(p, k, true) {
				return f, false
			}
			f.terms, f.parts = f.terms+1, false
			if round {
				if p.sign(f.end) != ')' {
					return f, false
				}
				f.end++
			}
			return f, true
		}
		if f, ok = p.foldPath(k, depth+1); !ok {
			return f, false
		}
		f.terms++
		if round {
			if p.sign(f.end) != ')' {
				return f, false
			}
			f.end++
		}
		return f, true
	}
	return f, false
}

// foldRound folds ( … ).
func (p *parser) foldRound(i, depth int) (f folded, ok bool) {
	round := p.sign(i) == '('
	if round {
		i++
	}
	if f, ok = p.foldPath(i, depth+1); !ok {
		return f, false
	}
	if round {
		if p.sign(f.end) != ')' {
			return f, false
		}
		f.end++
	}
	return f, true
}

// foldItems folds the arguments of .join.
func (p *parser) foldItems(f folded, i int) (folded, bool) {
	round := p.sign(i) == '('
	if round {
		i++
	}
	return p.foldList(f, i, round)
}

// foldList folds strings with commas between. What is no string leaves the end open.
func (p *parser) foldList(f folded, i int, round bool) (folded, bool) {
	f.texts = nil
	for {
		switch {
		case p.kind(i) == tString && !f.open:
			if !f.put(p, i, true) {
				return f, false
			}
			i++
		case !round:
			return f, false
		case p.kind(i) == tEnd || p.kind(i) == tNewline:
			return f, false
		default: // of which nothing is known
			f.open = true
			for depth := 0; ; i++ {
				s := p.sign(i)
				if p.kind(i) == tEnd || depth == 0 && (s == ',' || s == ')') {
					break
				}
				switch s {
				case '(', '[', '{':
					depth++
				case ')', ']', '}':
					depth--
				}
			}
		}
		switch {
		case p.sign(i) == ',':
			i++
			continue
		case round && p.sign(i) == ')':
			i++
		case round:
			return f, false
		}
		f.end = i
		return f, true
	}
}

// foldString folds "#{…}/x".
func (p *parser) foldString(i, depth int) (f folded, ok bool) {
	if p.kind(i+1) != tHole {
		return f, false
	}
	if f, ok = p.foldPath(i+2, depth+1); !ok || p.kind(f.end) != tHoleEnd {
		return f, false
	}
	k := f.end + 1
	f.texts = nil
	quote := p.src[p.t[i].start]
	if p.kind(k) == tPart && p.src[p.t[k].start] == '/' && bytes.IndexByte(p.src[p.t[k].start:p.t[k].end], '\\') < 0 {
		f.before, f.quote, f.slash = f.place, quote, true
		f.texts = []source.Span{span(p.t[k])}
		f.text += string(p.raw(k))
		k++
	} else if p.kind(k) != tClose {
		return f, false
	}
	for ; p.kind(k) != tClose; k++ {
		if p.kind(k) == tEnd {
			return f, false
		}
		if p.kind(k) == tHole {
			f.open = true
			for d := 0; ; k++ {
				if p.kind(k) == tHole {
					d++
				} else if p.kind(k) == tHoleEnd {
					if d--; d == 0 {
						break
					}
				} else if p.kind(k) == tEnd {
					return f, false
				}
			}
		}
	}
	f.end = k + 1
	f.terms++
	return f, true
}
