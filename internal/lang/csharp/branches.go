package csharp

import (
	"bytes"
	"maps"
	"strings"

	"crookedshelf/internal/text"
)

// This file reads directives (Lexical structure, Pre-processing directives). Which branches of #if a compiler reads
// follows from symbols that a project defines. A file is read with several sets of symbols, until each branch was read
// that some set brings in: what stands in one that is not compiled today is written anew too.

// branches are the branches of a file under one set of symbols.
type branches struct {
	symbols map[string]bool // the ones that are defined
	open    []group         // the groups around the place
	seen    []part          // all that there are, in their order
}

// group is #if … #elif … #else … #endif.
type group struct {
	outer bool // what is around is read
	taken bool // a branch of it was
	reads bool // this one is
}

// part is a branch: where it begins, and whether it was read.
type part struct {
	at   int
	read bool
}

// mostSymbols is how many symbols of a file are tried in all ways.
const mostSymbols = 8

// choices are sets of symbols that bring in all branches that any brings in: the first one is empty. unread are where
// the other branches begin.
func choices(src []byte) (sets []map[string]bool, unread []int) {
	sets = []map[string]bool{nil}
	lines := directives(src)
	var names []string
	known := map[string]bool{}
	for _, one := range lines {
		if one.word == "if" || one.word == "elif" {
			for _, name := range namesIn(one.rest) {
				if !known[name] {
					known[name] = true
					names = append(names, name)
				}
			}
		}
	}
	var tried []map[string]bool
	if len(names) <= mostSymbols {
		for bits := range 1 << len(names) {
			one := map[string]bool{}
			for i, name := range names {
				one[name] = bits&(1<<i) != 0
			}
			tried = append(tried, one)
		}
	} else {
		for i := range names {
			one, but := map[string]bool{names[i]: true}, map[string]bool{}
			for k, name := range names {
				but[name] = k != i
			}
			tried = append(tried, one, but)
		}
	}
	read := coverage(lines, nil)
	reads := make([][]bool, len(tried))
	for i, one := range tried {
		reads[i] = coverage(lines, one)
	}
	for {
		best, most := -1, 0
		for i := range tried {
			n := 0
			for k, r := range reads[i] {
				if r && !read[k] {
					n++
				}
			}
			if n > most {
				best, most = i, n
			}
		}
		if best < 0 {
			break
		}
		sets = append(sets, tried[best])
		for k, r := range reads[best] {
			read[k] = read[k] || r
		}
	}
	at := 0
	for _, one := range lines {
		if one.begins() {
			if !read[at] {
				unread = append(unread, one.at)
			}
			at++
		}
	}
	return sets, unread
}

// directiveLine is a line that looks like a directive: it may stand in a string or a comment as well.
type directiveLine struct {
	at         int // where the line begins
	word, rest string
}

// directives are all of them; none for a text without #if.
func directives(src []byte) (out []directiveLine) {
	if !bytes.Contains(src, []byte("#if")) && !bytes.Contains(src, []byte("# if")) {
		return nil
	}
	for i := 0; ; i++ {
		n := bytes.IndexByte(src[i:], '#')
		if n < 0 {
			return out
		}
		i += n
		if start := text.LineStart(src, i); len(bytes.TrimLeft(src[start:i], " \t\xEF\xBB\xBF")) == 0 {
			end := lineEnd(src, i)
			word, rest := directiveOf(src[i:end])
			out = append(out, directiveLine{start, word, rest})
			i = end - 1
		}
	}
}

func (d directiveLine) begins() bool { return d.word == "if" || d.word == "elif" || d.word == "else" }

// coverage says which branches are read under a set of symbols.
func coverage(lines []directiveLine, symbols map[string]bool) (out []bool) {
	b := branches{symbols: maps.Clone(symbols)}
	for _, one := range lines {
		b.line(one.at, one.word, one.rest)
	}
	for _, one := range b.seen {
		out = append(out, one.read)
	}
	return out
}

// directive reads a line that begins with #. Behind one that begins a branch which is not read it passes that.
func (l *lexer) directive() {
	src, start := l.src, l.i
	if before := src[bytes.LastIndexAny(src[:start], "\n\r")+1 : start]; len(bytes.TrimLeft(before, " \t\f\v\xEF\xBB\xBF")) > 0 {
		l.add(start, start+1, tOperator)
		l.i++
		return
	}
	for {
		end := lineEnd(src, l.i)
		word, rest := directiveOf(src[l.i:end])
		l.i = end
		l.branches.line(start, word, rest)
		if l.branches.reads() {
			return
		}
		// to the next line with a directive
		for {
			for l.i < len(src) && (src[l.i] == '\n' || src[l.i] == '\r') {
				l.i++
			}
			if l.i >= len(src) {
				return
			}
			at := l.i
			for at < len(src) && (src[at] == ' ' || src[at] == '\t') {
				at++
			}
			if at < len(src) && src[at] == '#' {
				start, l.i = at, at
				break
			}
			l.i = lineEnd(src, l.i)
		}
	}
}

// directiveOf gives the word of a directive and what stands behind it, without a comment.
func directiveOf(line []byte) (word, rest string) {
	body := strings.TrimSpace(string(line[1:]))
	n := 0
	for n < len(body) && body[n] >= 'a' && body[n] <= 'z' {
		n++
	}
	rest, _, _ = strings.Cut(body[n:], "//")
	return body[:n], strings.TrimSpace(rest)
}

// reads says whether the place is read.
func (b *branches) reads() bool {
	return len(b.open) == 0 || b.open[len(b.open)-1].reads
}

// line reads a directive.
func (b *branches) line(at int, word, rest string) {
	switch word {
	case "define", "undef":
		if b.reads() {
			if b.symbols == nil {
				b.symbols = map[string]bool{}
			}
			b.symbols[rest] = word == "define"
		}
	case "if":
		b.open = append(b.open, group{outer: b.reads()})
		b.begin(at, rest)
	case "elif", "else":
		if word == "else" {
			rest = "true"
		}
		if len(b.open) > 0 {
			b.begin(at, rest)
		} else { // of no group
			b.seen = append(b.seen, part{at: at, read: true})
		}
	case "endif":
		if len(b.open) > 0 {
			b.open = b.open[:len(b.open)-1]
		}
	}
}

// begin begins a branch of the innermost group.
func (b *branches) begin(at int, condition string) {
	g := &b.open[len(b.open)-1]
	g.reads = g.outer && !g.taken && holds(condition, b.symbols)
	g.taken = g.taken || g.reads
	b.seen = append(b.seen, part{at: at, read: g.reads})
}

// holds says whether a condition is true: names, true, false, !, &&, ||, == and !=, in brackets.
func holds(condition string, symbols map[string]bool) bool {
	c := asking{text: condition, symbols: symbols}
	return c.or()
}

type asking struct {
	text    string
	i       int
	depth   int
	symbols map[string]bool
}

func (c *asking) takes(op string) bool {
	for c.i < len(c.text) && (c.text[c.i] == ' ' || c.text[c.i] == '\t') {
		c.i++
	}
	if strings.HasPrefix(c.text[c.i:], op) {
		c.i += len(op)
		return true
	}
	return false
}

func (c *asking) or() bool {
	out := c.and()
	for c.takes("||") {
		out = c.and() || out
	}
	return out
}

func (c *asking) and() bool {
	out := c.equal()
	for c.takes("&&") {
		out = c.equal() && out
	}
	return out
}

func (c *asking) equal() bool {
	out := c.one()
	for {
		switch {
		case c.takes("=="):
			out = out == c.one()
		case c.takes("!="):
			out = out != c.one()
		default:
			return out
		}
	}
}

func (c *asking) one() bool {
	if c.depth++; c.depth > deepest {
		return false
	}
	defer func() { c.depth-- }()
	switch {
	case c.takes("!="):
		c.i -= 2
		return false
	case c.takes("!"):
		return !c.one()
	case c.takes("("):
		out := c.or()
		c.takes(")")
		return out
	}
	start := c.i
	for c.i < len(c.text) && ofName[c.text[c.i]] {
		c.i++
	}
	name := c.text[start:c.i]
	switch { // the compiler takes these in any case
	case strings.EqualFold(name, "true"):
		return true
	case strings.EqualFold(name, "false"):
		return false
	}
	return c.symbols[name]
}

// namesIn are the symbols that a condition asks for.
func namesIn(condition string) (out []string) {
	for _, name := range strings.FieldsFunc(condition, func(r rune) bool { return r < 0x80 && !ofName[r] }) {
		if !strings.EqualFold(name, "true") && !strings.EqualFold(name, "false") {
			out = append(out, name)
		}
	}
	return out
}

// conditional are the parts of a text that stand between #if and #endif.
func conditional(src []byte) (out [][2]int) {
	depth := 0
	for _, one := range directives(src) {
		switch one.word {
		case "if":
			if depth++; depth == 1 {
				out = append(out, [2]int{one.at, len(src)})
			}
		case "endif":
			if depth--; depth == 0 {
				out[len(out)-1][1] = min(lineEnd(src, one.at)+1, len(src))
			}
		}
	}
	return out
}
