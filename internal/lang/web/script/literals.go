package script

import "bytes"

func (s *scanner) skipShebang() {
	if bytes.HasPrefix(s.src, []byte("\xEF\xBB\xBF")) {
		s.pos = 3
	}
	if bytes.HasPrefix(s.src[s.pos:], []byte("#!")) {
		s.pos = s.lineEnd(s.pos)
	}
}

// lineEnd gives the place of the line end at or after i: \n, \r, U+2028 or U+2029, or the end of the file.
func (s *scanner) lineEnd(i int) int {
	end := len(s.src)
	if n := bytes.IndexByte(s.src[i:], '\n'); n >= 0 {
		end = i + n
	}
	if n := bytes.IndexByte(s.src[i:end], '\r'); n >= 0 {
		end = i + n
	}
	for at := i; at < end; {
		n := bytes.IndexByte(s.src[at:end], 0xE2)
		if n < 0 {
			break
		}
		at += n
		if _, line := unicodeSpace(s.src, at); line {
			return at
		}
		at++
	}
	return end
}

// commentEnd gives the end of the comment that begins at i; of a block comment that never ends, the end of the file.
func (s *scanner) commentEnd(i int) int {
	if s.src[i+1] == '/' {
		return s.lineEnd(i)
	}
	if n := bytes.Index(s.src[i+2:], []byte("*/")); n >= 0 {
		return i + 2 + n + 2
	}
	return len(s.src)
}

// skipTrivia gives the place of the next token at or after i.
func (s *scanner) skipTrivia(i int) int {
	for i < len(s.src) {
		switch c := s.src[i]; {
		case classes[c] == cSpace || classes[c] == cNewline:
			i++
		case c == '/' && (s.at(i+1) == '/' || s.at(i+1) == '*'):
			end := s.commentEnd(i)
			s.budget -= end - i
			i = end
		case c >= 0x80:
			n, _ := unicodeSpace(s.src, i)
			if n == 0 {
				return i
			}
			i += n
		default:
			return i
		}
	}
	return i
}

// stringEnd gives the end of the string that begins at i. A string that is not closed ends with its line.
func (s *scanner) stringEnd(i int) int {
	quote := s.src[i]
	for i++; i < len(s.src); i++ {
		c := s.src[i]
		if !stringStops[c] {
			continue
		}
		switch c {
		case quote:
			return i + 1
		case '\\':
			i++
			if s.at(i) == '\r' && s.at(i+1) == '\n' {
				i++
			}
		case '\n', '\r':
			return i
		}
	}
	return len(s.src)
}

// template reads one piece of a template from the ` or } at start up to the closing ` or the next ${.
func (s *scanner) template(start int) {
	i := start + 1
	for i < len(s.src) {
		c := s.src[i]
		if !tmplStops[c] {
			i++
			continue
		}
		switch {
		case c == '`':
			s.report(TemplatePiece, start, i+1)
			s.set(pOperand, i+1-s.pos)
			return
		case c == '\\':
			i += 2
		case s.at(i+1) == '{' && s.ablation&NoTemplateNesting == 0:
			s.report(TemplatePiece, start, i+2)
			s.set(pOperator, i+2-s.pos)
			s.push(fTemplate)
			return
		default:
			i++
		}
	}
	s.set(pOperand, len(s.src)-s.pos)
}

// number reads a numeric literal. A dot belongs to it once, unless the number is in another base or has an exponent.
func (s *scanner) number() {
	i := s.pos
	dotted := s.src[i] == '0' && word[s.at(i+1)] && classes[s.at(i+1)] == cWord && s.at(i+1)|0x20 != 'e'
	hex := dotted
	for i < len(s.src) {
		c := s.src[i]
		switch {
		case c == '.' && !dotted:
			dotted = true
		case (c == '+' || c == '-') && !hex && s.src[i-1]|0x20 == 'e' && i > s.pos:
		case word[c] && c < 0x80:
			if c|0x20 == 'e' && !hex {
				dotted = true
			}
		default:
			s.set(pOperand, i-s.pos)
			return
		}
		i++
	}
	s.set(pOperand, i-s.pos)
}

// slash is a comment, a regular expression or a division.
func (s *scanner) slash() {
	switch s.at(s.pos + 1) {
	case '/', '*':
		end := s.commentEnd(s.pos)
		if !s.began {
			s.tripleSlash(s.pos, end)
			s.moduleTag(s.pos, end)
		}
		if s.texts && s.at(s.pos+1) == '*' && s.at(s.pos+2) == '*' {
			s.documentedTypes(s.pos, end)
		}
		if !s.newline && s.src[s.pos+1] == '*' {
			s.newline = bytes.IndexByte(s.src[s.pos:end], '\n') >= 0
		}
		s.pos = end
		return
	}
	if s.prev.operandExpected() && s.ablation&NoRegularExpressions == 0 {
		if end := s.regexpEnd(s.pos); end > 0 {
			s.report(RegularExpression, s.pos, end)
			s.set(pOperand, end-s.pos)
			return
		}
	}
	s.set(pOperator, 1)
}

// regexpEnd gives the end of the regular expression with its flags that begins at i, or 0 if its line has no closing /.
func (s *scanner) regexpEnd(i int) int {
	set := false
	for i++; i < len(s.src); i++ {
		switch c := s.src[i]; c {
		case '\n', '\r':
			return 0
		case '\\':
			i++
			if c := s.at(i); c == '\n' || c == '\r' {
				return 0
			}
		case '[':
			set = true
		case ']':
			set = false
		case '/':
			if set {
				continue
			}
			i++
			for i < len(s.src) && word[s.src[i]] {
				i++
			}
			return i
		case 0xE2:
			if _, line := unicodeSpace(s.src, i); line {
				return 0
			}
		}
	}
	return 0
}
