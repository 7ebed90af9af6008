package csharp

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
)

// This file reads comments that documents are made of (language specification, Documentation comments): the names in
// cref="…".

// documents reads the comments, each in the type and the namespace that the token behind it stands in. An element may go
// on in the next one, and so may a value: its name stands at its beginning.
func (p *parser) documents(docs []comment) {
	owner, space, at, inTag := -1, 0, -1, false
	quote := byte(0) // of a value that goes on
	for _, c := range docs {
		if at != c.next {
			at, inTag, quote = c.next, false, 0
		}
		content := p.src[c.at.Start:c.at.End]
		if !inTag && bytes.IndexByte(content, '<') < 0 {
			continue
		}
		looked := false
		for k := 3; k < len(content); k++ {
			switch b := content[k]; {
			case quote != 0:
				if b == quote {
					quote = 0
				}
			case b == '<':
				inTag = k+1 < len(content) && (ofName[content[k+1]] || content[k+1] == '/')
			case b == '>':
				inTag = false
			case inTag && (b == '"' || b == '\''):
				end := bytes.IndexByte(content[k+1:], b)
				if end < 0 {
					quote, end = b, len(content)-k-1
				}
				name := bytes.TrimRight(content[:k], " \t\r\n=*/")
				if bytes.HasSuffix(name, []byte("cref")) && !ofName[name[max(0, len(name)-5)]] && bytes.IndexByte(content[len(name):k], '=') >= 0 {
					if !looked {
						owner, space = p.around(int(p.t[min(c.next, len(p.t)-1)].start))
						looked = true
					}
					p.cref(source.Span{Start: c.at.Start + k + 1, End: c.at.Start + k + 1 + end}, owner, space)
				}
				k += 1 + end
			}
		}
	}
}

// around gives the innermost type and namespace at a place.
func (p *parser) around(at int) (owner, space int) {
	owner = -1
	for i := range p.f.types {
		if d := &p.f.types[i]; d.from <= at && at < d.to {
			owner = i
		}
	}
	for i := range p.f.spaces {
		if s := &p.f.spaces[i]; s.from <= at && at < s.to {
			space = i
		}
	}
	return owner, space
}

// cref reads a reference: A.B{T}.C(D, E[]), T:A.B.
func (p *parser) cref(at source.Span, owner, space int) {
	text := string(p.src[at.Start:at.End])
	if len(text) > 2 && text[1] == ':' { // the full name, by what it is
		if text[0] == '!' || text[0] == 'N' {
			return
		}
		p.docName(source.Span{Start: at.Start + 2, End: at.End}, owner, space, true)
		return
	}
	head, rest, has := strings.Cut(text, "(")
	p.docName(source.Span{Start: at.Start, End: at.Start + len(head)}, owner, space, false)
	if !has {
		return
	}
	start := at.Start + len(head) + 1
	depth := 0
	from := 0
	for i := 0; i <= len(rest); i++ {
		c := byte(')')
		if i < len(rest) {
			c = rest[i]
		}
		switch c {
		case '{', '<', '(', '[':
			depth++
		case '}', '>', ']':
			depth--
		case ')', ',':
			if depth > 0 {
				if c == ')' {
					depth--
				}
				continue
			}
			p.docName(source.Span{Start: start + from, End: start + i}, owner, space, false)
			from = i + 1
		}
		if c == ')' {
			return
		}
	}
}

// docName notes the name that a part of a reference begins with, and those in its {…} that are no type parameters.
func (p *parser) docName(at source.Span, owner, space int, rooted bool) {
	text := p.src[at.Start:at.End]
	i := 0
	for i < len(text) && (text[i] == ' ' || text[i] == '\t') {
		i++
	}
	for _, word := range []string{"out ", "ref ", "in ", "params "} {
		if bytes.HasPrefix(text[i:], []byte(word)) {
			i += len(word)
		}
	}
	for bytes.HasPrefix(text[i:], []byte("global::")) {
		rooted = true
		i += len("global::")
	}
	u := use{ends: int32(len(p.f.ends)), owner: int32(owner), space: int32(space), doc: true, sure: true, rooted: rooted}
	start := i
	for i < len(text) && (ofName[text[i]] || text[i] == '@') {
		begin := i
		for i < len(text) && (ofName[text[i]] || text[i] == '@') {
			i++
		}
		if word := text[begin:i]; u.parts == 0 && (reserved(word) || digit(word[0]) || isOperatorWord(word)) {
			return
		}
		u.text = join(u.text, decodedName(text[begin:i]))
		u.parts++
		p.f.ends = append(p.f.ends, int32(at.Start+i))
		u.at = source.Span{Start: at.Start + start, End: at.Start + i}
		if i+1 >= len(text) || text[i] != '.' || !ofName[text[i+1]] && text[i+1] != '@' {
			break
		}
		if next := text[i+1:]; reserved(next[:wordEnd(next)]) { // A.this[int]
			break
		}
		i++
	}
	if u.parts == 0 {
		return
	}
	if i < len(text) && (text[i] == '{' || text[i] == '<' || bytes.HasPrefix(text[i:], []byte("&lt;"))) {
		u.arity = 1 + int16(bytes.Count(text[i:], []byte(",")))
	} else if i < len(text) && text[i] == '`' && i+1 < len(text) {
		u.arity = int16(text[i+1] - '0')
	}
	p.f.uses = append(p.f.uses, u)
}

func wordEnd(text []byte) (n int) {
	for n < len(text) && ofName[text[n]] {
		n++
	}
	return n
}

// isOperatorWord says whether a reference is to a conversion or an operator.
func isOperatorWord(word []byte) bool {
	switch string(word) {
	case "implicit", "explicit", "operator":
		return true
	}
	return false
}
