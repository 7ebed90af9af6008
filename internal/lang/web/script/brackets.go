package script

import "bytes"

func (s *scanner) open(c byte) {
	kind := fBracket
	if c == '(' {
		kind = fParen
		if s.prev == pHead {
			kind = fHeadParen
		}
	}
	s.set(pOperator, 1)
	s.push(kind)
}

func (s *scanner) close() {
	switch s.top().kind {
	case fHeadParen:
		s.pop()
		s.set(pStart, 1)
	case fParen, fBracket:
		s.pop()
		s.set(pParen, 1)
	default: // it closes nothing that is open
		s.set(pParen, 1)
	}
}

// braceOpen decides between a block, whose end lets a statement begin, and an object (or a type, or a body that is an
// operand), whose end is the end of an operand.
func (s *scanner) braceOpen() {
	kind := fBlock
	operator := false
	switch s.prev {
	case pOperator, pColon, pNew:
		operator = true
	case pWord:
		operator = s.word != wordVoid // function f(): void {
	}
	f := s.top()
	switch {
	case operator:
		kind = fObject
	case f.pending && s.prev != pArrow:
		f.pending = false
		kind = fBody
	}
	s.set(pStart, 1)
	if kind == fObject {
		s.prev = pOperator
	}
	s.push(kind)
}

// braceClose reports whether the frame below is one of markup.
func (s *scanner) braceClose() bool {
	switch s.top().kind {
	case fTemplate:
		s.pop()
		s.template(s.pos)
		return false
	case fChild, fAttr:
		s.pop()
		s.set(pOperand, 1)
		return true
	case fObject, fBody:
		s.pop()
		s.set(pOperand, 1)
	case fBlock:
		s.pop()
		s.set(pStart, 1)
	default: // an open parenthesis is missing its end: take the brace for the end of the nearest block
		s.unwind()
		s.set(pStart, 1)
	}
	return s.markup()
}

// unwind drops open parentheses down to the nearest brace, and that brace; it stops at markup and templates.
func (s *scanner) unwind() {
	for i := len(s.frames) - 1; i > 0; i-- {
		switch s.frames[i].kind {
		case fParen, fHeadParen, fBracket:
		case fBlock, fObject, fBody:
			s.frames = s.frames[:i]
			return
		default:
			return
		}
	}
}

func (s *scanner) markup() bool {
	kind := s.top().kind
	return kind == fTag || kind == fChildren
}

// less tells an element from a comparison or a type argument list. It reports whether markup begins.
func (s *scanner) less() bool {
	next := s.at(s.pos + 1)
	switch {
	case next == '<': // a shift: its second < must not open an element
		s.set(pOperator, 2)
		return false
	case next == '=':
		s.set(pOperator, 2)
		return false
	case s.dialect&JSX == 0 || !s.prev.operandExpected() || s.prev == pGreater || s.prev == pNew || !s.elementFollows():
		s.set(pOperator, 1)
		return false
	}
	s.openElement()
	return true
}

// elementFollows judges what stands after a < where an operand is expected: a name or > opens an element, unless in
// TypeScript what follows can only be type parameters.
func (s *scanner) elementFollows() bool {
	i := s.skipTrivia(s.pos + 1)
	if s.at(i) == '>' {
		return true
	}
	if classes[s.at(i)] != cWord {
		return false
	}
	if s.dialect&TypeScript == 0 {
		return true
	}
	end := s.wordEnd(i)
	name := s.src[i:end]
	j := s.skipTrivia(end)
	switch c := s.at(j); {
	case string(name) == "const" && classes[c] == cWord:
		return false
	case c == ',':
		return false
	case c == '=':
		return false
	case classes[c] == cWord && string(s.src[j:s.wordEnd(j)]) == "extends":
		k := s.skipTrivia(s.wordEnd(j))
		return s.at(k) == '=' || s.at(k) == '>' || s.at(k) == '/'
	case c == '>' && s.at(s.skipTrivia(j+1)) == '(':
		return s.closingTagAhead(name, j)
	}
	return true
}

// closingTagAhead looks for </name within the look-ahead budget.
func (s *scanner) closingTagAhead(name []byte, from int) bool {
	const window = 1 << 16
	until := min(len(s.src), from+min(window, s.budget))
	at := bytes.Index(s.src[from:until], append([]byte("</"), name...))
	if at < 0 {
		s.budget -= until - from
		return false
	}
	s.budget -= at
	return true
}
