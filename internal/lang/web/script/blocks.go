package script

// passing is the reading of a block in which nothing is wanted: only its end, and whether it has elements. It goes from
// one quote, slash, bracket or < to the next. What stands before one of these is looked up where that matters: at a
// slash, which may begin a regular expression, and at a <, which may begin an element. Where that is not known with
// ease, the block is read token by token after all.
type passing struct {
	base     int       // how many frames there are in the block; 0 while tokens are read
	start    int       // behind its brace
	prev     prevClass // there
	budget   int
	elements bool

	operand  int    // the end of the last regular expression or element
	closed   closed // the parenthesis or bracket that ended last
	comments closed // the comments that were read last, with the white space around them
}

// closed is what lies between two places.
type closed struct{ from, to int }

// passes says whether the block that begins here can be passed over: behind the last mention nothing is wanted but
// declarations, which stand at the top level.
func (s *scanner) passes() bool {
	if s.outline == nil || s.pos < s.wanted || s.block.base > 0 || s.folders != nil || len(s.elements) > 0 {
		return false
	}
	s.block = passing{base: len(s.frames), start: s.pos, prev: s.prev, budget: s.budget, elements: s.outline.elements}
	return true
}

// giveUp goes back to where the block begins, because of what stands at a place; no block around that is tried again.
func (s *scanner) giveUp(at int) {
	b := &s.block
	s.frames, s.elements = s.frames[:b.base], s.elements[:0]
	s.pos, s.prev, s.budget, s.outline.elements = b.start, b.prev, b.budget, b.elements
	s.newline, s.word, s.labelled = false, noWord, false
	s.wanted, b.base = at+1, 0
}

// inBlocks marks the bytes at which a passing stops.
var inBlocks = makeStops("'\"`/<()[]{}")

// pass reads on in a block until the top frame is one of markup, or the block ends or is given up.
func (s *scanner) pass() {
	b := &s.block
	if s.src[s.pos-1] == '>' {
		b.operand = s.pos
	}
	for s.pos < len(s.src) {
		at := s.pos
		for at < len(s.src) && !inBlocks[s.src[at]] {
			at++
		}
		if s.pos = at; at == len(s.src) {
			return
		}
		switch c := s.src[at]; c {
		case '\'', '"':
			s.pos = s.stringEnd(at)
		case '`':
			s.template(at)
		case '/':
			if next := s.at(at + 1); next == '/' || next == '*' {
				b.comments.from = s.tokenEnd(at)
				s.pos = s.commentEnd(at)
				b.comments.to = s.pos
				continue
			}
			if s.prev = s.before(at); s.prev == pUnclear {
				s.giveUp(at)
				return
			}
			if s.slash(); s.prev == pOperand {
				b.operand = s.pos
			}
		case '<':
			if s.dialect&JSX != 0 {
				if s.prev = s.before(at); s.prev == pUnclear {
					s.giveUp(at)
					return
				}
			}
			if s.less() {
				return
			}
		case '(', '[':
			s.push(fParen)
			s.pos++
		case ')', ']':
			if f := s.top(); f.kind == fParen {
				b.closed = closed{int(f.at), at}
				s.pop()
			}
			s.pos++
		case '{':
			s.push(fBlock)
			s.pos++
		case '}':
			switch {
			case len(s.frames) == b.base:
				b.base = 0
				return
			case s.top().kind == fParen:
				s.giveUp(at)
				return
			case s.braceClose():
				return
			}
		}
	}
}

// tokenEnd gives the end of the last token of the block before a place; where the block begins if there is none.
func (s *scanner) tokenEnd(i int) int {
	for i > s.block.start {
		switch c := classes[s.src[i-1]]; {
		case i == s.block.comments.to:
			return s.block.comments.from
		case c == cSpace || c == cNewline:
			i--
		default:
			return i
		}
	}
	return i
}

// before says what stands before a place in the block, as far as a slash or a < there cares: an operator, an operand or
// >. Where that would take more than a look it is unclear.
func (s *scanner) before(place int) prevClass {
	src, start, end := s.src, s.block.start, s.tokenEnd(place)
	if end == start {
		return pOperator
	}
	if end == s.block.operand {
		return pOperand
	}
	switch c := src[end-1]; c {
	case ']', '\'', '"', '`':
		return pOperand
	case '=', ',', ';', '(', '[', '{', '&', '|', '*', '%', '^', '~', '?', ':', '<', '/':
		return pOperator
	case '>':
		if src[end-2] == '=' {
			return pArrow
		}
		return pGreater
	case '+', '-':
		n := 1
		for end-n > start && src[end-n-1] == c {
			n++
		}
		if n%2 == 0 {
			return pOperand
		}
		return pOperator
	case '!':
		if at := s.tokenEnd(end - 1); at == start || negatedBehind[src[at-1]] {
			return pOperator
		}
		return pUnclear
	case ')':
		if s.block.closed.to != end-1 {
			return pUnclear
		}
		switch word := s.wordBefore(s.tokenEnd(s.block.closed.from)); word {
		case "if", "while", "for", "with", "switch":
			return pStart
		case "await", "?":
			return pUnclear
		}
		return pOperand
	}
	switch s.wordBefore(end) {
	case "", "?", "const", "new", "of", "as", "satisfies", "import", "export", "require", "module":
		return pUnclear
	case "return", "break", "continue", "typeof", "delete", "throw", "yield", "instanceof", "in", "let", "var",
		"extends", "void", "await", "case",
		"default", "else", "do", "try", "finally", "if", "while", "for", "with", "switch":
		return pOperator
	}
	return pOperand
}

// negatedBehind marks the bytes behind which ! negates, whatever they are the end of.
var negatedBehind = makeStops("=,;([{&|?:!")

// wordBefore gives the word that ends at a place: a keyword, or a name that stands for all that are none and for
// numbers; empty if none does, ? where that is unclear.
func (s *scanner) wordBefore(end int) string {
	src, from := s.src, end
	for from > s.block.start && plainWord[src[from-1]] {
		from--
	}
	switch {
	case from > s.block.start && (src[from-1] >= 0x80 || src[from-1] == '\\'):
		return "?"
	case from == end:
		return ""
	case !mayBeKeyword(src[from:end]), src[from-1] == '#':
		return "name"
	}
	if at := s.tokenEnd(from); at > s.block.start && src[at-1] == '.' {
		if src[at-2] == '.' {
			return "?"
		}
		return "name"
	}
	return string(src[from:end])
}
