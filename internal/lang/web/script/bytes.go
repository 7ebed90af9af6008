package script

// class of a byte, as far as the scanner's main switch cares.
type class uint8

const (
	cOther class = iota
	cSpace
	cNewline
	cWord // starts an identifier or keyword
	cDigit
	cQuote
	cBacktick
	cSlash
	cOpen  // ( [
	cClose // ) ]
	cBraceOpen
	cBraceClose
	cLess
	cGreater
	cEqual
	cDot
	cColon
	cQuestion
	cSemicolon
	cPlusMinus
	cBang
	cHash
	cOperator
)

// classes has the class of every byte; word is true where a byte may go on in an identifier, plainWord where it does so
// without a second look. Bytes from 0x80 up count as letters; the white space among them is sorted out by unicodeSpace.
var (
	classes   = makeClasses()
	word      = makeWord(0x100)
	plainWord = makeWord(0x80)
	// stops end the fast inner loops over strings and over JSX text.
	stringStops = makeStops("'\"\\\n\r")
	tmplStops   = makeStops("`\\$")
	textStops   = makeStops("{<")
	quotes      = makeStops("'\"`")
	// noPath are the bytes that turn down a text as a path: blanks, and those of addresses, markup, patterns.
	noPath = makeStops(" \n\t<>\"'\\|;,(){}*?#%&=^$`:")
)

func makeClasses() (t [256]class) {
	for c := range t {
		switch {
		case c == ' ' || c == '\t' || c == '\v' || c == '\f':
			t[c] = cSpace
		case c == '\n' || c == '\r':
			t[c] = cNewline
		case c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_' || c == '$' || c == '\\' || c >= 0x80:
			t[c] = cWord
		case c >= '0' && c <= '9':
			t[c] = cDigit
		}
	}
	for c, k := range map[byte]class{
		'\'': cQuote, '"': cQuote, '`': cBacktick, '/': cSlash, '(': cOpen, '[': cOpen, ')': cClose, ']': cClose,
		'{': cBraceOpen, '}': cBraceClose, '<': cLess, '>': cGreater, '=': cEqual, '.': cDot, ':': cColon,
		'?': cQuestion,
		';': cSemicolon, '+': cPlusMinus, '-': cPlusMinus, '!': cBang, '#': cHash,
		',': cOperator, '*': cOperator, '%': cOperator, '&': cOperator, '|': cOperator, '^': cOperator, '~': cOperator,
		'@': cOperator,
	} {
		t[c] = k
	}
	return t
}

func makeWord(below int) (t [256]bool) {
	for c := range below {
		t[c] = (classes[c] == cWord || classes[c] == cDigit) && (c != '\\' || below > 0x80)
	}
	return t
}

func makeStops(set string) (t [256]bool) {
	for i := range len(set) {
		t[set[i]] = true
	}
	return t
}

// unicodeSpace gives the length of the white space character beyond ASCII that begins at src[i] (0 if there is none)
// and whether it ends a line. The list is ECMAScript's WhiteSpace and LineTerminator.
func unicodeSpace(src []byte, i int) (length int, newline bool) {
	if i+1 >= len(src) {
		return 0, false
	}
	switch src[i] {
	case 0xC2: // U+00A0, and U+0085, which the compiler skips as well
		if src[i+1] == 0xA0 || src[i+1] == 0x85 {
			return 2, false
		}
	case 0xE1, 0xE2, 0xE3, 0xEF:
		if i+2 >= len(src) {
			return 0, false
		}
		r := rune(src[i]&0x0F)<<12 | rune(src[i+1]&0x3F)<<6 | rune(src[i+2]&0x3F)
		switch {
		case r == 0x2028 || r == 0x2029:
			return 3, true
		case r == 0x1680 || r >= 0x2000 && r <= 0x200B || r == 0x202F || r == 0x205F || r == 0x3000 || r == 0xFEFF:
			return 3, false
		}
	}
	return 0, false
}
