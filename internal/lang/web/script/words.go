package script

import (
	"encoding/binary"
	"math/bits"
	"strings"
)

// plainEnd gives the end of the letters, digits, _ and $ that begin at i. It looks at eight bytes at a time, since
// where a word ends is what a processor can foretell least.
func plainEnd(src []byte, i int) int {
	const each, high = 0x0101010101010101, 0x8080808080808080
	for ; i+8 <= len(src); i += 8 {
		v := binary.LittleEndian.Uint64(src[i:])
		low := v &^ high
		small := low | 0x20*each
		letter := (small + (0x80-'a')*each) &^ (small + (0x7f-'z')*each)
		digit := (low + (0x80-'0')*each) &^ (low + (0x7f-'9')*each)
		// the high bit of each byte that is neither
		other := (low ^ '_'*each + 0x7f*each) & (low ^ '$'*each + 0x7f*each)
		if stop := ^((letter | digit | ^other) &^ v) & high; stop != 0 {
			return i + bits.TrailingZeros64(stop)/8
		}
	}
	for i < len(src) && plainWord[src[i]] {
		i++
	}
	return i
}

// wordEnd gives the end of the identifier that begins at i.
func (s *scanner) wordEnd(i int) int {
	i = plainEnd(s.src, i)
	for i < len(s.src) && word[s.src[i]] {
		if s.src[i] >= 0x80 {
			if n, _ := unicodeSpace(s.src, i); n > 0 {
				break
			}
		} else if s.src[i] == '\\' && s.at(i+1) == 'u' && s.at(i+2) == '{' { // \u{61}
			i += 2
			for i < len(s.src) && (plainWord[s.src[i]] || s.src[i] == '{') {
				i++
			}
			if s.at(i) != '}' {
				break
			}
		}
		i++
	}
	return i
}

// keywords are the words that identifier asks for.
var keywords = []string{
	"import", "export", "require", "module", "return", "break", "continue", "typeof", "delete", "throw", "yield",
	"instanceof", "in", "let", "var",
	"extends", "void", "const", "await", "case", "default", "new", "of", "as", "satisfies", "else", "do", "try",
	"finally", "if", "while", "for",
	"with", "switch", "async", "function", "class", "jest", "vi", "define", "process", "path", "fs", "dirname",
	"importScripts",
}

// capitals are further words that identifier asks for, none of which begins with a small letter.
var capitals = map[string]bool{"URL": true, "Worker": true, "SharedWorker": true, "__dirname": true}

// memberWord says whether a word is a property that it looks at.
func memberWord(text []byte) bool {
	return len(text) == len("serviceWorker") && string(text) == "serviceWorker"
}

// firstLetters and lastLetters have, for each length, the letters of the keywords of that length, as bits. They turn
// down most names without a comparison.
var firstLetters, lastLetters = func() (first, last [14]uint32) {
	for _, k := range keywords {
		first[len(k)] |= 1 << (k[0] - 'a')
		last[len(k)] |= 1 << (k[len(k)-1] - 'a')
	}
	return first, last
}()

func mayBeKeyword(text []byte) bool {
	n := len(text)
	first, last := text[0]-'a', text[n-1]-'a'
	return n < len(firstLetters) && first < 26 && last < 26 && firstLetters[n]>>first&1 != 0 &&
		lastLetters[n]>>last&1 != 0
}

// identifier reads a word and says what it means here.
func (s *scanner) identifier() {
	src, start := s.src, s.pos
	end := plainEnd(src, start)
	if end < len(src) && word[src[end]] {
		end = s.wordEnd(end)
	}
	text := src[start:end]
	if len(text) == 0 {
		s.pos++
		return
	}
	if s.prev == pDot || start > 0 && src[start-1] == '#' {
		s.memberName(text, start, end)
		return
	}
	if s.outline != nil && len(s.frames) == 1 && s.beginsStatement(text) {
		s.outlined(text, start)
	}
	if s.folders != nil && s.folders[string(text)] {
		s.ownFolder(start, end)
	}
	if s.helpers != nil {
		s.helped(text, end)
	}
	if mayBeKeyword(text) {
		s.keyword(text, start, end)
		return
	}
	if c := text[0]; c <= '_' && (c == 'U' || c == 'W' || c == 'S' || c == '_') && capitals[string(text)] {
		s.pathWord(text, start)
	}
	if s.calls {
		s.called(start, end)
	}
	s.operand(text, s.prev)
}

// memberName reads a word behind a dot or a #: whatever it is, it is the name of a member.
func (s *scanner) memberName(text []byte, start, end int) {
	if s.calls {
		s.called(start, end)
	}
	if memberWord(text) {
		s.pathWord(text, start)
	}
	s.set(pOperand, len(text))
}

// keyword reads a word that may be one of the language, or one that paths stand behind. What a / or a < behind it means
// depends on what it is: behind an operand they divide and compare.
func (s *scanner) keyword(text []byte, start, end int) {
	before, newline := s.prev, s.newline
	switch string(text) {
	case "import", "export", "require", "module":
		s.candidate(text, start, before)
	case "jest", "vi", "define", "process", "path", "fs", "dirname", "importScripts":
		s.pathWord(text, start)
		s.operand(text, before)
	case "return", "break", "continue":
		s.set(pWord, len(text))
		if s.lineEnds() { // the statement ends here: what follows begins another
			s.prev = pStart
		}
	case "typeof", "delete", "throw", "yield", "instanceof", "in", "let", "var", "extends":
		s.set(pWord, len(text))
	case "void":
		s.set(pWord, len(text))
		s.word = wordVoid
	case "const": // as const is an operand
		s.orOperand(text, before, before != pWord || s.word != wordAs)
	case "await":
		s.set(pWord, len(text))
		if before == pHead { // for await (
			s.prev = pHead
		}
	case "case":
		s.set(pWord, len(text))
		s.openCase(before)
	case "default":
		s.set(pWord, len(text))
		s.word = wordDefault
		if s.at(s.skipTrivia(s.pos)) == ':' {
			s.openCase(before)
		}
	case "new":
		s.set(pNew, len(text))
	case "of":
		s.orOperand(text, before, s.top().kind == fHeadParen && !before.operandExpected())
	case "as", "satisfies":
		s.orOperand(text, before, s.dialect&TypeScript != 0 && !newline && !before.operandExpected())
	case "else", "do", "try", "finally":
		s.set(pStart, len(text))
	case "if", "while", "for", "with", "switch":
		s.set(pHead, len(text))
	case "async":
		if s.functionFollows() { // what stands before async decides what the function is
			word := s.word
			s.set(before, len(text))
			s.word = word
			return
		}
		s.operand(text, before)
	case "function":
		s.body(text, before, "(*<")
	case "class":
		s.body(text, before, "{<")
	default:
		s.called(start, end)
		s.operand(text, before)
	}
}

// beginsStatement says whether the word here begins a statement: nothing else can follow an operand on a new line but
// the operators that are words, which declare nothing.
func (s *scanner) beginsStatement(text []byte) bool {
	return s.prev == pStart || s.newline && string(text) == "export" || (s.prev == pOperand || s.prev == pParen) &&
		(s.newline || len(s.outline.marks) > 0)
}

// operand ends an ordinary identifier.
func (s *scanner) operand(text []byte, before prevClass) {
	s.set(pOperand, len(text))
	s.labelled = before == pStart
}

func (s *scanner) orOperand(text []byte, before prevClass, operator bool) {
	if !operator {
		s.operand(text, before)
		return
	}
	s.set(pWord, len(text))
	if string(text) == "as" {
		s.word = wordAs
	}
}

// openCase notes a case whose colon is to come; a property of that name has its colon at once and is none.
func (s *scanner) openCase(before prevClass) {
	if f := s.top(); before == pStart && f.kind != fObject && f.cases < 255 {
		f.cases++
	}
}

// lineEnds says whether the rest of this line holds nothing more.
func (s *scanner) lineEnds() bool {
	for i := s.pos; i < len(s.src); i++ {
		switch c := s.src[i]; {
		case classes[c] == cSpace:
		case classes[c] == cNewline:
			return true
		case c == '/' && s.at(i+1) == '/':
			return true
		case c == '/' && s.at(i+1) == '*':
			end := s.commentEnd(i)
			for ; i < end; i++ {
				if s.src[i] == '\n' || s.src[i] == '\r' {
					return true
				}
			}
			i--
		default:
			_, line := unicodeSpace(s.src, i)
			return line
		}
	}
	return true
}

func (s *scanner) functionFollows() bool {
	i := s.skipTrivia(s.pos + len("async"))
	return string(s.src[i:s.wordEnd(i)]) == "function"
}

// body reads the word function or class. After the body of a declaration a statement begins; the body of an expression
// ends an operand, so the next brace at this depth is noted as such a body. In other places the word is a name.
func (s *scanner) body(text []byte, before prevClass, follow string) {
	next := s.at(s.skipTrivia(s.pos + len(text)))
	if strings.IndexByte(follow, next) < 0 && classes[next] != cWord {
		s.operand(text, before)
		return
	}
	exported := before == pWord && s.word == wordDefault
	if before.operandExpected() && before != pStart && !exported {
		s.top().pending = true
	}
	s.set(pFunction, len(text))
}
