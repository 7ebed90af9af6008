package php

import (
	"bytes"
	"strings"

	"crookedshelf/internal/source"
)

// This file reads names in strings: whole ones, and the beginnings of those that are put together.

// string notes a string that may be the name of a class, and declarations that are made by calls.
func (p *parser) string(tok token) {
	inside := source.Span{Start: int(tok.start) + 1, End: int(tok.end) - 1}
	raw := p.src[inside.Start:inside.End]
	call := ""
	if l := p.list(); l != nil && l.closes == ')' && p.kind(p.previous(p.i)) == '(' {
		call = p.callOf(l)
	} else if l != nil && p.callOf(l) == "class_alias" && l.items == 1 && p.kind(p.previous(p.i)) == ',' {
		call = "class_alias 2"
	}
	joined := p.kind(p.next(p.i)) == '.'
	p.behindOwn(raw, joined)
	switch {
	case call == "define":
		p.define(raw, inside)
	case call == "class_alias 2":
		p.alias(raw, inside)
	}
	p.view(raw, inside, p.src[tok.start])
	slash := bytes.IndexByte(raw, '\\')
	if slash < 0 && !loads.has([]byte(call)) || len(raw) > longestName || len(raw) == 0 {
		return
	}
	if joined && slash >= 0 && raw[len(raw)-1] == '\\' && shaped(raw) {
		h := head{at: inside, raw: string(raw), quote: p.src[tok.start], block: p.block}
		if before := p.previous(p.i); p.kind(before) == '.' {
			if !p.is(p.previous(before), "__namespace__") {
				return
			}
			h.own = true
		}
		i := p.next(p.next(p.i))
		if p.kind(i) == tVariable && p.kind(p.next(i)) == '.' && p.kind(p.next(p.next(i))) == tString {
			s := p.text(p.next(p.next(i)))
			h.suffix = string(s[1 : len(s)-1])
		}
		p.f.heads = append(p.f.heads, h)
		return
	}
	alone := !joined && p.kind(p.previous(p.i)) != '.'
	if !shaped(raw) {
		p.within(inside, false)
	} else {
		p.f.texts = append(p.f.texts, classText{at: inside, raw: string(raw), quote: p.src[tok.start], call: call,
			alone: alone})
	}
}

// within notes the names with several parts that stand in a text with other things: code that is written by code,
// messages.
func (p *parser) within(at source.Span, html bool) {
	for i := at.Start; ; {
		next := bytes.IndexByte(p.src[i:at.End], '\\')
		if next < 0 {
			return
		}
		start, end := around(p.src[at.Start:at.End], i+next-at.Start)
		start, end = start+at.Start, end+at.Start
		if raw := p.src[start:end]; len(raw) > 2 && len(raw) <= longestName && bytes.IndexByte(raw[1:], '\\') > 0 {
			p.f.texts = append(p.f.texts, classText{at: source.Span{Start: start, End: end}, raw: string(raw), within: true,
				html: html})
		}
		i = max(end, i+next+1)
	}
}

// longestName is how long a name in a string may be, in bytes.
const longestName = 400

// loads are calls whose first argument is the name of a class, a function or a constant.
var loads = words(`class_exists interface_exists trait_exists enum_exists is_a is_subclass_of is_callable
	function_exists constant defined class_alias call_user_func get_parent_class class_implements class_uses`)

// part notes the beginning of a name in a string into which something is put: "A\B\{$x}".
func (p *parser) part(tok token) {
	raw := p.src[tok.start:tok.end]
	p.within(span(tok), false)
	if p.kind(p.i-1) != tQuote || raw[len(raw)-1] != '\\' || len(raw) > longestName || !shaped(raw) {
		return
	}
	h := head{at: span(tok), raw: string(raw), quote: '"', block: p.block}
	depth := 0
	for i := p.i + 1; p.kind(i) != tEnd; i++ {
		switch p.kind(i) {
		case tPutIn:
			depth++
		case '}':
			depth--
		case tPart:
			if depth == 0 {
				h.suffix = string(p.text(i))
			}
		case tQuote:
			p.f.heads = append(p.f.heads, h)
			return
		}
	}
}

// shaped says whether a text looks like a name with \ between its parts, doubled or not; a method may stand behind it,
// or a \ at its end.
func shaped(raw []byte) bool {
	part := false // a name has begun
	for i := 0; i < len(raw); i++ {
		switch c := raw[i]; {
		case c == '\\':
			if i+1 < len(raw) && raw[i+1] == '\\' {
				i++
			}
			part = false
		case c == ':' && part && i+1 < len(raw) && raw[i+1] == ':':
			return i+2 < len(raw) && wordOnly(raw[i+2:])
		case (c == '@' || c == ':') && part: // a method, as routes write it
			return i+1 < len(raw) && wordOnly(raw[i+1:])
		case !part && begins(c):
			part = true
		case part && continues(c):
		default:
			return false
		}
	}
	return true
}

func wordOnly(text []byte) bool {
	for i, c := range text {
		if i == 0 && !begins(c) || !continues(c) {
			return false
		}
	}
	return true
}

// define notes the constant that define('A\B', …) declares.
func (p *parser) define(raw []byte, at source.Span) {
	if name := unescaped(string(raw)); shaped(raw) && name != "" {
		p.f.declared = append(p.f.declared, declaration{space: constant, name: strings.TrimPrefix(name, `\`),
			block: p.block, at: at, kind: "constant", full: true})
	}
}

// alias notes the second name that class_alias('A', 'B') gives a class.
func (p *parser) alias(raw []byte, at source.Span) {
	if name := unescaped(string(raw)); shaped(raw) && name != "" {
		p.f.declared = append(p.f.declared, declaration{space: class, name: strings.TrimPrefix(name, `\`),
			block: p.block, at: at, kind: "class", full: true, alias: true})
	}
}

// unescaped is a name in a string with each \ once.
func unescaped(raw string) string { return strings.ReplaceAll(raw, `\\`, `\`) }
