package php

import (
	"bytes"

	"crookedshelf/internal/source"
)

// This file reads types and names in comments that documents are written in.

// typed are tags behind which a type stands; referring are those behind which a name stands that may have a member;
// templated are those behind which a parameter of a type stands.
var (
	typed = words(`var param return throws property property-read property-write extends implements template-extends
		template-implements template-use use mixin psalm-param psalm-return psalm-var phpstan-param phpstan-return
		phpstan-var method`)
	referring = words(`see link covers uses usedby coversdefaultclass dataprovider`)
	templated = words(`template template-covariant psalm-template phpstan-template`)
)

// docTypes are words in the types of comments that are no classes.
var docTypes = words(`self static parent int float bool string array callable iterable object mixed void null never
	false true resource integer boolean double numeric scalar list key-of value-of class-string array-key
	positive-int negative-int non-empty-string non-empty-array non-empty-list callable-string numeric-string
	literal-string number is not this of`)

// doc reads one comment.
func (p *parser) doc(tok token) {
	src := p.src[:tok.end]
	for at := int(tok.start); ; {
		next := bytes.IndexByte(src[at:], '@')
		if next < 0 {
			return
		}
		at += next
		before := src[at-1]
		at++
		if begins(before) || before == '.' { // an address for mail
			continue
		}
		end := at
		for end < len(src) && (continues(src[end]) || src[end] == '-') {
			end++
		}
		tag := src[at:end]
		at = end
		switch {
		case len(tag) > 0 && end < len(src) && src[end] == '\\' && begins(tag[0]): // @ORM\Column: an annotation
			at = p.annotation(at-len(tag), len(src))
		case typed.has(tag) && beginsLine(src[tok.start:], at-len(tag)-1-int(tok.start)):
			at = skipBlanks(src, at)
			if sameWord(tag, "method") && bytes.HasPrefix(src[at:], []byte("static ")) {
				at = skipBlanks(src, at+len("static"))
			}
			if name := p.nameEnd(at, len(src)); sameWord(tag, "method") && byteAt(src, name) == '(' { // it says no type
				at = name
			}
			p.typed = !bytes.Contains(tag, []byte("psalm")) && !bytes.Contains(tag, []byte("phpstan"))
			at = p.docType(at, len(src))
			if sameWord(tag, "method") { // and the types of its parameters
				if name := p.nameEnd(skipBlanks(src, at), len(src)); name < len(src) && src[name] == '(' {
					at = p.docType(name, len(src))
				}
			}
			p.typed = false
		case templated.has(tag):
			at = p.docTemplate(skipBlanks(src, at), len(src))
		case referring.has(tag):
			at = p.docName(skipBlanks(src, at), len(src))
		case len(tag) > 0 && tag[0] >= 'A' && tag[0] <= 'Z':
			at = p.annotation(at-len(tag), len(src))
		}
	}
}

// beginsLine says whether nothing but the border of the comment stands before a place on its line.
func beginsLine(src []byte, at int) bool {
	for at--; at >= 0 && src[at] != '\n'; at-- {
		if c := src[at]; c != ' ' && c != '\t' && c != '*' && c != '/' {
			return false
		}
	}
	return true
}

func skipBlanks(src []byte, at int) int {
	for at < len(src) && (src[at] == ' ' || src[at] == '\t') {
		at++
	}
	return at
}

// nameEnd gives the end of a name with parts that begins at a place; the place itself where none does.
func (p *parser) nameEnd(at, end int) int {
	start := at
	if at < end && p.src[at] == '\\' {
		at++
	}
	for at < end && begins(p.src[at]) {
		for at < end && continues(p.src[at]) {
			at++
		}
		if at+1 < end && p.src[at] == '\\' && begins(p.src[at+1]) {
			at++
			continue
		}
		return at
	}
	return start
}

func (p *parser) docUse(start, end int) {
	p.f.uses = append(p.f.uses, use{at: source.Span{Start: start, End: end}, text: p.shared(p.src[start:end]),
		block: p.block, doc: true, late: true, typed: p.typed})
}

// docType reads a type: names with | & ? < > [] { } ( ) and commas between, up to a blank outside of brackets.
func (p *parser) docType(at, end int) int {
	depth := 0
	for at < end {
		switch c := p.src[at]; {
		case begins(c) || c == '\\':
			stop := p.nameEnd(at, end)
			if stop == at {
				return at + 1
			}
			dashed := stop // class-string and its like
			for dashed < end && (p.src[dashed] == '-' || continues(p.src[dashed])) {
				dashed++
			}
			key := depth > 0 && dashed < end && (p.src[dashed] == ':' && !bytes.HasPrefix(p.src[dashed:], []byte("::")) ||
				p.src[dashed] == '?') // of array{a: int}
			if dashed == stop && !key && !docTypes.has(p.src[at:stop]) {
				p.docUse(at, stop)
			}
			at = dashed
			if bytes.HasPrefix(p.src[at:end], []byte("::")) { // a constant of a class
				at += 2
				for at < end && (continues(p.src[at]) || p.src[at] == '*') {
					at++
				}
			}
		case c == '<' || c == '{' || c == '(' || c == '[':
			depth++
			at++
		case c == '>' || c == '}' || c == ')' || c == ']':
			if depth--; depth < 0 {
				return at
			}
			at++
		case bytes.HasPrefix(p.src[at:end], []byte("$this")) && !continues(byteAt(p.src, at+5)):
			at += len("$this")
		case c == '|' || c == '&' || c == '?' || c == '-' || c >= '0' && c <= '9':
			at++
		case c == '=' && depth > 0 && byteAt(p.src, at+1) != '>': // a value, up to the next parameter
			for at < end && p.src[at] != ',' && p.src[at] != ')' && p.src[at] != '\n' {
				at++
			}
		case depth > 0 && (c == ',' || c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '*' || c == ':' ||
			c == '=' || c == '.' || c == '\'' || c == '"' || c == '$'):
			if c == '$' {
				at++
				for at < end && continues(p.src[at]) {
					at++
				}
				continue
			}
			if c == '\'' || c == '"' {
				if close := bytes.IndexByte(p.src[at+1:end], c); close >= 0 {
					at += close + 1
				}
			}
			at++
		case c == ':' && at > 0 && p.src[at-1] == ')': // what a callable returns
			at = skipBlanks(p.src, at+1)
		default:
			return at
		}
	}
	return at
}

// byteAt is a byte of a text; 0 behind its end.
func byteAt(src []byte, at int) byte {
	if at < len(src) {
		return src[at]
	}
	return 0
}

// docTemplate reads T of A: a name that the comment declares, and the type that bounds it.
func (p *parser) docTemplate(at, end int) int {
	at = p.nameEnd(at, end)
	of := skipBlanks(p.src, at)
	if bytes.HasPrefix(p.src[of:end], []byte("of ")) || bytes.HasPrefix(p.src[of:end], []byte("as ")) {
		return p.docType(skipBlanks(p.src, of+2), end)
	}
	return at
}

// docName reads a name that something is said of: a class, or one of its members.
func (p *parser) docName(at, end int) int {
	stop := p.nameEnd(at, end)
	if stop == at {
		return at
	}
	if stop < end && (p.src[stop] == ':' && !bytes.HasPrefix(p.src[stop:], []byte("::")) || p.src[stop] == '/' ||
		p.src[stop] == '(' || p.src[stop] == '.' && stop+1 < end && continues(p.src[stop+1])) {
		return stop // an address, a function
	}
	if bytes.ContainsRune(p.src[at:stop], '\\') || p.src[at] >= 'A' && p.src[at] <= 'Z' {
		p.docUse(at, stop)
	}
	return stop
}

// annotation reads the class of an annotation that tools run: @ORM\Column(…).
func (p *parser) annotation(at, end int) int {
	stop := p.nameEnd(at, end)
	if stop > at {
		p.docUse(at, stop)
	}
	return stop
}
