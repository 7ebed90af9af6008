package python

// tokenKind says what a token is.
type tokenKind uint8

const (
	nameToken  tokenKind = iota
	opToken              // an operator or a bracket
	otherToken           // a string or a number
	lineToken            // the beginning of a logical line, with its column
)

// Operators of more than one character.
const (
	opEqual  = 'e' // ==, !=, <=, >=
	opWalrus = 'w' // :=
	opAssign = 'a' // += and its kin
	opArrow  = 'r' // ->
)

// token is a piece of a text. op is the character of an operator, or one of the names above.
type token struct {
	kind       tokenKind
	op         byte
	start, end int // of a lineToken, end is the column
}

// tokenize gives the tokens of a text, those within formatted strings too.
func tokenize(src []byte) []token {
	s := &scanner{src: src, tokenize: true, deferred: -1, tokens: make([]token, 0, len(src)/5)}
	if len(src) >= 3 && string(src[:3]) == "\xef\xbb\xbf" {
		s.pos = 3
	}
	depth, begins := 0, true
	for s.pos < len(s.src) {
		if begins {
			start, column := s.pos, s.column()
			if c := s.at(s.pos); c != '\n' && c != '\r' && c != '#' && c != 0 {
				s.tokens = append(s.tokens, token{lineToken, 0, start, column})
			}
			begins = false
			continue
		}
		switch c := s.src[s.pos]; {
		case c == ' ' || c == '\t' || c == '\f':
			s.pos++
		case c == '\n' || c == '\r':
			s.newline()
			begins = depth == 0
		case c == '#':
			s.comment()
		case c == '\\' && (s.at(s.pos+1) == '\n' || s.at(s.pos+1) == '\r'):
			s.pos++
			s.newline()
		case c == '\'' || c == '"':
			s.quoted(nil)
		case nameStart(c):
			start := s.pos
			word := s.word()
			if quote := s.at(s.pos); (quote == '\'' || quote == '"') && prefixed(word) {
				s.quoted(word)
				break
			}
			s.token(nameToken, start)
		case c >= '0' && c <= '9' || c == '.' && s.at(s.pos+1) >= '0' && s.at(s.pos+1) <= '9':
			start := s.pos
			s.number()
			s.token(otherToken, start)
		default:
			switch c {
			case '(', '[', '{':
				depth++
			case ')', ']', '}':
				depth = max(0, depth-1)
			}
			s.op()
		}
	}
	return s.tokens
}

// column passes over the blanks at the beginning of a line and gives the column behind them, a tab being up to the next
// eighth one.
func (s *scanner) column() int {
	column := 0
	for ; s.pos < len(s.src); s.pos++ {
		switch s.src[s.pos] {
		case ' ':
			column++
		case '\t':
			column = column/8*8 + 8
		case '\f':
			column = 0
		default:
			return column
		}
	}
	return column
}

// quoted notes a string, in front of the fields that stand in it.
func (s *scanner) quoted(prefix []byte) {
	start, at := s.pos, len(s.tokens)
	s.tokens = append(s.tokens, token{kind: otherToken, start: start - len(prefix)})
	s.text(prefix)
	s.tokens[at].end = s.pos
}

func (s *scanner) token(kind tokenKind, start int) {
	if s.tokenize {
		s.tokens = append(s.tokens, token{kind, 0, start, s.pos})
	}
}

// op passes over an operator.
func (s *scanner) op() {
	start, c := s.pos, s.src[s.pos]
	s.pos++
	if !s.tokenize {
		return
	}
	next := s.at(s.pos)
	switch {
	case next == '=' && (c == '=' || c == '!' || c == '<' || c == '>'):
		c = opEqual
		s.pos++
	case next == '=' && c == ':':
		c = opWalrus
		s.pos++
	case c == '-' && next == '>':
		c = opArrow
		s.pos++
	case next == c && (c == '*' || c == '/' || c == '<' || c == '>'):
		if s.pos++; s.at(s.pos) == '=' {
			c = opAssign
			s.pos++
		}
	case next == '=' && (c == '+' || c == '-' || c == '*' || c == '/' || c == '%' || c == '@' || c == '&' || c == '|' || c == '^'):
		c = opAssign
		s.pos++
	}
	s.tokens = append(s.tokens, token{opToken, c, start, s.pos})
}
