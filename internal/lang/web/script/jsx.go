package script

import "bytes"

// openElement enters <name or <>. The state before the outermost element is kept: if the element never ends, it was no
// element.
func (s *scanner) openElement() {
	if !s.insideElement() {
		s.saved = append(s.saved[:0], s.frames...)
		s.elements = append(s.elements[:0], retreat{pos: s.pos, frames: s.saved, mentions: len(s.mentions),
			traced: s.traced()})
	}
	s.report(ElementOpen, s.pos, s.pos+1)
	if s.outline != nil {
		s.outline.elements = true
		if s.seeks {
			s.end = s.pos
			return
		}
	}
	i := s.skipTrivia(s.pos + 1)
	s.set(pOperand, i-s.pos)
	if s.at(i) == '>' { // a fragment
		s.pos++
		s.push(fChildren)
		return
	}
	s.pos = s.tagNameEnd(i)
	s.push(fTag)
	if s.dialect&TypeScript != 0 {
		if j := s.skipTrivia(s.pos); s.at(j) == '<' {
			s.pos = s.typeArgumentsEnd(j)
		}
	}
}

func (s *scanner) traced() int {
	if s.trace == nil {
		return 0
	}
	return len(*s.trace)
}

func (s *scanner) insideElement() bool {
	for _, f := range s.frames {
		if f.kind == fTag || f.kind == fChildren {
			return true
		}
	}
	return false
}

// goBack returns to the last outermost < whose element has not ended and reads it as an operator. After a few of
// these the rest of the file is read without elements, so that hostile input stays linear.
func (s *scanner) goBack() {
	r := s.elements[0]
	s.elements = s.elements[:0]
	s.retreats++
	if s.retreats >= maxRetreats {
		s.dialect &^= JSX
	}
	s.frames = append(s.frames[:0], r.frames...)
	s.mentions = s.mentions[:r.mentions]
	if s.trace != nil {
		*s.trace = (*s.trace)[:r.traced]
	}
	s.pos = r.pos
	s.set(pOperator, 1)
}

// tag reads attributes up to > or />, or up to the brace of a value.
func (s *scanner) tag() {
	for s.pos < len(s.src) {
		c := s.src[s.pos]
		switch {
		case c == '/' && (s.at(s.pos+1) == '/' || s.at(s.pos+1) == '*'):
			s.pos = s.commentEnd(s.pos)
		case c == '/' && s.at(s.skipTrivia(s.pos+1)) == '>':
			s.pop()
			s.set(pOperand, s.skipTrivia(s.pos+1)+1-s.pos)
			s.elementEnded()
			return
		case c == '>':
			s.pos++
			s.top().kind = fChildren
			return
		case c == '"' || c == '\'': // attribute strings have no escapes and may hold line ends
			end := bytes.IndexByte(s.src[s.pos+1:], c)
			if end < 0 {
				s.pos = len(s.src)
				return
			}
			s.pos += end + 2
		case c == '{':
			s.set(pOperator, 1)
			s.push(fAttr)
			return
		case c == '<':
			s.openElement()
			return
		default:
			s.pos++
		}
	}
}

// children reads text up to a brace or a tag.
func (s *scanner) children() {
	for s.pos < len(s.src) && !textStops[s.src[s.pos]] {
		s.pos++
	}
	if s.pos >= len(s.src) {
		return
	}
	if s.src[s.pos] == '{' {
		s.set(pOperator, 1)
		s.push(fChild)
		return
	}
	i := s.skipTrivia(s.pos + 1)
	if s.at(i) != '/' {
		s.openElement()
		return
	}
	end := bytes.IndexByte(s.src[i:], '>')
	if end < 0 {
		s.pos = len(s.src)
		return
	}
	s.pop()
	s.set(pOperand, i+end+1-s.pos)
	s.elementEnded()
}

// elementEnded forgets the way back once the outermost element is whole.
func (s *scanner) elementEnded() {
	if !s.insideElement() {
		s.elements = s.elements[:0]
	}
}

func (s *scanner) tagNameEnd(i int) int {
	for i < len(s.src) {
		c := s.src[i]
		if !word[c] && c != '-' && c != '.' && c != ':' {
			break
		}
		if c >= 0x80 {
			if n, _ := unicodeSpace(s.src, i); n > 0 {
				break
			}
		}
		i++
	}
	return i
}

// typeArgumentsEnd gives the end of <...> that begins at i, or i if it does not end within the budget.
func (s *scanner) typeArgumentsEnd(i int) int {
	depth := 0
	for j := i; j < len(s.src) && s.budget > 0; s.budget-- {
		switch c := s.src[j]; {
		case c == '<':
			depth++
		case c == '>' && s.src[j-1] != '=':
			if depth--; depth == 0 {
				return j + 1
			}
		case c == '\'' || c == '"':
			j = s.stringEnd(j)
			continue
		case c == '/' && (s.at(j+1) == '/' || s.at(j+1) == '*'):
			j = s.commentEnd(j)
			continue
		}
		j++
	}
	return i
}
