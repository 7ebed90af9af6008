package ruby

import (
	"bytes"

	"crookedshelf/internal/text"
)

// This file cuts literals into tokens: strings, regular expressions, lists of words, here documents.

// quoted reads a literal up to the mark that ends it: start is where it begins, i the first byte inside. holes: code may
// stand in it. label: a colon may follow that makes a key of it. It reports false where nothing more can be read.
func (l *lexer) quoted(start, i int, opening, closing byte, holes bool, lit byte, space, label bool) bool {
	src := l.src
	raw := i
	nested := 0
	parts := false // tokens were written for a part of it
	begun := i     // of the part at hand
	open := func() {
		if !parts {
			l.add(start, raw, tOpen, lit, space, sBeg)
			parts = true
		}
	}
	for i < len(src) {
		switch c := src[i]; {
		case c == '\\':
			if i++; l.at(i) == '\n' && l.here > 0 {
				continue
			}
			i++
		case c == '\n' && l.here > i:
			open()
			l.part(begun, i, lit)
			i = l.nextLine(i)
			begun = i
		case c == '#' && holes && l.at(i+1) == '{':
			open()
			l.part(begun, i, lit)
			if i = l.hole(i); i < 0 {
				return false
			}
			begun = i
		case c == closing && nested == 0:
			end := i + 1
			if lit == litRegexp {
				for l.at(end)|0x20 >= 'a' && l.at(end)|0x20 <= 'z' {
					end++
				}
			}
			if label && l.at(end) == ':' && l.at(end+1) != ':' {
				open()
				l.part(begun, i, lit)
				l.i = end + 1
				l.add(i, l.i, tClose, lit, false, sBegName)
				return true
			}
			l.i = end
			if !parts && (lit == litText || lit == litRaw) {
				l.add(start, end, tString, lit, space, sEnd)
				return true
			}
			open()
			l.part(begun, i, lit)
			l.add(i, end, tClose, lit, false, sEnd)
			return true
		case c == closing:
			nested--
			i++
		case c == opening && opening != closing:
			nested++
			i++
		default:
			i++
		}
	}
	l.unfinished(start)
	return false
}

// part adds a text of a literal.
func (l *lexer) part(start, end int, lit byte) {
	if end > start {
		l.add(start, end, tPart, lit, false, sBeg)
	}
}

// hole reads #{ … }, and gives the place behind it; -1 where it has no end.
func (l *lexer) hole(i int) int {
	if l.depth++; l.depth > deepest {
		l.unfinished(i)
		return -1
	}
	l.depth--
	l.add(i, i+2, tHole, 0, false, sBeg)
	l.depth++
	state, params, loops, caught, def := l.state, l.params, l.loops, l.caught, l.def
	l.params, l.loops, l.def = noParams, nil, 0
	l.open = append(l.open, '#')
	base := len(l.open)
	l.i = i + 2
	l.code(base)
	if l.at(l.i) != '}' || l.i >= len(l.src) {
		l.unfinished(i)
		return -1
	}
	l.open = l.open[:base-1]
	l.state, l.params, l.loops, l.caught, l.def = state, params, loops, caught, def
	l.depth--
	l.add(l.i, l.i+1, tHoleEnd, 0, false, sBeg)
	return l.i + 1
}

// percent reads a literal that begins with %. done: it was one, or has no end.
func (l *lexer) percent(space bool) (done, ok bool) {
	start := l.i
	i := start + 1
	sort, mark := byte('Q'), l.at(i)
	if mark|0x20 >= 'a' && mark|0x20 <= 'z' {
		sort = mark
		i++
		mark = l.at(i)
	}
	if i >= len(l.src) || ofName[mark] || l.state != sBeg && l.state != sBegName && text.Space(mark) {
		return false, true
	}
	closing := mark
	switch mark {
	case '(':
		closing = ')'
	case '[':
		closing = ']'
	case '{':
		closing = '}'
	case '<':
		closing = '>'
	}
	holes, lit := true, byte(litText)
	switch sort {
	case 'q':
		holes, lit = false, litRaw
	case 'Q':
	case 'w':
		holes, lit = false, litWords
	case 'W':
		lit = litWords
	case 'i':
		holes, lit = false, litNames
	case 'I':
		lit = litNames
	case 'r':
		lit = litRegexp
	case 's':
		holes, lit = false, litSymbol
	case 'x':
		lit = litShell
	default:
		return false, true
	}
	return true, l.quoted(start, i+1, mark, closing, holes, lit, space, false)
}

// hereDocument reads a here document with its body. done: it was one.
func (l *lexer) hereDocument(space bool) (done, ok bool) {
	src, start := l.src, l.i
	i := start + 2
	indented := l.at(i) == '-' || l.at(i) == '~'
	if indented {
		i++
	}
	var tag []byte
	holes, lit := true, byte(litHere)
	switch q := l.at(i); {
	case q == '"' || q == '\'' || q == '`':
		end := i + 1
		for end < len(src) && src[end] != q && src[end] != '\n' {
			end++
		}
		if l.at(end) != q {
			return false, true
		}
		tag, holes = src[i+1:end], q != '\''
		i = end + 1
	case letter(q):
		end := i
		for ofName[l.at(end)] {
			end++
		}
		tag = src[i:end]
		i = end
	default:
		return false, true
	}
	body := l.here
	if body == 0 {
		body = text.LineEnd(src, i) + 1
	}
	last := hereEnd(src, body, tag, indented)
	if last < 0 {
		return false, true
	}
	l.add(start, i, tOpen, lit, space, sBeg)
	outer := l.here
	l.here = 0
	// the body, up to the line of the tag
	begun := body
	for k := body; k < last; {
		switch c := src[k]; {
		case c == '\\' && holes:
			k += 2
		case c == '\n' && l.here > k:
			l.part(begun, k, lit)
			k = l.nextLine(k)
			begun = k
			last = max(last, hereEnd(src, k, tag, indented))
		case c == '#' && holes && l.at(k+1) == '{':
			l.part(begun, k, lit)
			if k = l.hole(k); k < 0 {
				return true, false
			}
			begun = k
			if k > last { // the tag stood in the hole
				if last = hereEnd(src, text.LineEnd(src, k)+1, tag, indented); last < 0 {
					l.unfinished(start)
					return true, false
				}
			}
		default:
			k++
		}
	}
	l.part(begun, last, lit)
	end := text.LineEnd(src, last)
	l.add(last, end, tClose, lit, false, sEnd)
	l.here = max(end+1, outer)
	l.i = i
	return true, true
}

// hereEnd gives the line of the tag that ends a here document, from the beginning of a line on; -1 for none.
func hereEnd(src []byte, from int, tag []byte, indented bool) int {
	for at := from; at < len(src); {
		end := text.LineEnd(src, at)
		line := bytes.TrimSuffix(src[at:end], []byte("\r"))
		if indented {
			line = bytes.TrimLeft(line, " \t\v\f\r")
		}
		if bytes.Equal(line, tag) {
			return at
		}
		at = end + 1
	}
	return -1
}
