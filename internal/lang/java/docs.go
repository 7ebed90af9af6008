package java

import (
	"bytes"

	"crookedshelf/internal/source"
)

// This file reads names in the comments that documents are made of
// (docs.oracle.com/en/java/javase/17/docs/specs/javadoc/doc-comment-spec.html): {@link a.B#c(D, E)}, @see B, @throws B.

// inline are the tags in braces behind which a name stands, and others those that begin a line.
var (
	inline = map[string]bool{"link": true, "linkplain": true, "value": true}
	others = map[string]bool{"see": true, "throws": true, "exception": true, "uses": true, "provides": true}
)

// documents reads all such comments of the file.
func (p *parser) documents(docs []comment) {
	types, start := around{types: p.f.types}, 0
	for k, doc := range docs {
		for ; start < len(p.starts) && p.starts[start] < doc.next; start++ {
		}
		// of several before a declaration the last counts, and one before anything else is no document
		if start == len(p.starts) || p.starts[start] != doc.next || k+1 < len(docs) && docs[k+1].next == doc.next {
			continue
		}
		p.owner = types.at(doc.next)
		text := p.src[doc.at.Start:doc.at.End]
		for i := 0; ; {
			n := bytes.IndexByte(text[i:], '@')
			if n < 0 {
				break
			}
			i += n + 1
			end := i
			for end < len(text) && text[end] >= 'a' && text[end] <= 'z' {
				end++
			}
			braced := i > 1 && text[i-2] == '{'
			if braced && !inline[string(text[i:end])] ||
				!braced && (!others[string(text[i:end])] || !beginsLine(text, i-1)) {
				continue
			}
			if i = end; i < len(text) && (text[i] == ' ' || text[i] == '\t' || text[i] == '\n' || text[i] == '\r') {
				i = p.reference(doc.at.Start, text, i)
			}
			if braced { // the text of a link is text
				i = closing(text, i)
			}
		}
	}
}

// longestLink is how long a link may be, in bytes: one without an end is not looked for any further.
const longestLink = 4000

// closing is the place of the brace that ends what a place stands in; the place itself where there is none.
func closing(text []byte, i int) int {
	depth := 0
	for at := i; at < min(len(text), i+longestLink); at++ {
		switch text[at] {
		case '{':
			depth++
		case '}':
			if depth--; depth < 0 {
				return at
			}
		}
	}
	return i
}

// around follows the types of a file by their braces.
type around struct {
	types []typeDecl
	next  int   // the first type that has not begun
	open  []int // those that have and have not ended, the innermost last
}

// at gives the type in whose body a token stands; else the next one of the file. Tokens come in their order.
func (a *around) at(token int) int {
	for ; a.next < len(a.types) && a.types[a.next].open <= token; a.next++ {
		a.open = append(a.open, a.next)
	}
	for len(a.open) > 0 && a.types[a.open[len(a.open)-1]].close <= token {
		a.open = a.open[:len(a.open)-1]
	}
	switch {
	case len(a.open) > 0:
		return a.open[len(a.open)-1]
	case a.next < len(a.types):
		return a.next
	}
	return -1
}

// beginsLine says whether nothing but stars and blanks stands before a place in its line.
func beginsLine(text []byte, at int) bool {
	for at--; at >= 0 && text[at] != '\n' && text[at] != '\r'; at-- {
		if c := text[at]; c != ' ' && c != '\t' && c != '*' && c != '/' {
			return false
		}
	}
	return true
}

// reference reads what stands behind a tag: a name of a type, with a member and the types of its parameters behind it.
// It gives the place behind.
func (p *parser) reference(base int, text []byte, i int) int {
	i = blanks(text, i)
	i = p.docName(base, text, i)
	if i < len(text) && text[i] == '#' {
		for i++; i < len(text) && ofName[text[i]]; i++ {
		}
	}
	if i >= len(text) || text[i] != '(' {
		return i
	}
	for i++; i < len(text) && text[i] != ')'; {
		if i = blanks(text, i); i < len(text) && ofName[text[i]] && !digit(text[i]) {
			i = p.docName(base, text, i)
			for i < len(text) && text[i] != ',' && text[i] != ')' && text[i] != '}' && text[i] != '<' { // a parameter's name
				i++
			}
			if i < len(text) && text[i] == '}' {
				return i
			}
			continue
		}
		if i < len(text) && (text[i] == '}' || text[i] == '{') {
			return i
		}
		i++
	}
	return i
}

// blanks passes blanks, and the stars that lines begin with.
func blanks(text []byte, i int) int {
	line := false
	for i < len(text) {
		switch c := text[i]; {
		case c == '\n' || c == '\r':
			line = true
		case c == '*' && line:
		case c != ' ' && c != '\t':
			return i
		}
		i++
	}
	return i
}

// docName reads a name with dots in a comment, and gives the place behind it.
func (p *parser) docName(base int, text []byte, i int) int {
	start := i
	u := use{ends: int32(len(p.f.ends)), owner: int32(p.owner), sure: true, doc: true}
	for i < len(text) && ofName[text[i]] && !digit(text[i]) {
		for i++; i < len(text) && ofName[text[i]]; i++ {
		}
		u.parts++
		p.f.ends = append(p.f.ends, int32(base+i))
		if i+1 < len(text) && text[i] == '.' && ofName[text[i+1]] && !digit(text[i+1]) {
			i++
			continue
		}
		break
	}
	if u.parts == 0 {
		return i
	}
	if i < len(text) && text[i] == '/' { // a module
		for i++; i < len(text) && (ofName[text[i]] || text[i] == '.'); i++ {
		}
		p.f.ends = p.f.ends[:u.ends]
		return i
	}
	name := string(text[start:i])
	// an address, or a word of the language
	if i < len(text) && text[i] == ':' || primitive(text[start:i]) || reserved(text[start:i]) {
		p.f.ends = p.f.ends[:u.ends]
		return i
	}
	u.text, u.at = name, source.Span{Start: base + start, End: base + i}
	p.f.uses = append(p.f.uses, u)
	return i
}
