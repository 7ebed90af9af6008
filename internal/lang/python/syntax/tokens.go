package syntax

// tokenKind says what a token is.
type tokenKind uint8

const (
	nameToken  tokenKind = iota
	opToken              // an operator or a bracket
	OtherToken           // a string or a number
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
	Kind       tokenKind
	op         byte
	Start, End int // of a lineToken, end is the column
}

// Tokenize gives the tokens of a text, those within formatted strings too.
func Tokenize(src []byte) []token {
	s := &Scanner{
		Src: src, wishes: wishes{tokenize: true}, position: position{deferred: -1},
		results: results{tokens: make([]token, 0, len(src)/5)},
	}
	if len(src) >= 3 && string(src[:3]) == "\xef\xbb\xbf" {
		s.Pos = 3
	}
	depth, begins := 0, true
	for s.Pos < len(s.Src) {
		if begins {
			start, column := s.Pos, s.column()
			if c := s.at(s.Pos); c != '\n' && c != '\r' && c != '#' && c != 0 {
				s.tokens = append(s.tokens, token{lineToken, 0, start, column})
			}
			begins = false
			continue
		}
		switch c := s.Src[s.Pos]; {
		case c == ' ' || c == '\t' || c == '\f':
			s.Pos++
		case c == '\n' || c == '\r':
			s.newline()
			begins = depth == 0
		case c == '#':
			s.comment()
		case c == '\\' && (s.at(s.Pos+1) == '\n' || s.at(s.Pos+1) == '\r'):
			s.Pos++
			s.newline()
		case c == '\'' || c == '"':
			s.quoted(nil)
		case nameStart(c):
			start := s.Pos
			word := s.word()
			if quote := s.at(s.Pos); (quote == '\'' || quote == '"') && prefixed(word) {
				s.quoted(word)
				break
			}
			s.token(nameToken, start)
		case c >= '0' && c <= '9' || c == '.' && s.at(s.Pos+1) >= '0' && s.at(s.Pos+1) <= '9':
			start := s.Pos
			s.number()
			s.token(OtherToken, start)
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
func (s *Scanner) column() int {
	column := 0
	for ; s.Pos < len(s.Src); s.Pos++ {
		switch s.Src[s.Pos] {
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
func (s *Scanner) quoted(prefix []byte) {
	start, at := s.Pos, len(s.tokens)
	s.tokens = append(s.tokens, token{Kind: OtherToken, Start: start - len(prefix)})
	s.text(prefix)
	s.tokens[at].End = s.Pos
}

func (s *Scanner) token(kind tokenKind, start int) {
	if s.tokenize {
		s.tokens = append(s.tokens, token{kind, 0, start, s.Pos})
	}
}

// op passes over an operator.
func (s *Scanner) op() {
	start, c := s.Pos, s.Src[s.Pos]
	s.Pos++
	if !s.tokenize {
		return
	}
	next := s.at(s.Pos)
	switch {
	case next == '=' && (c == '=' || c == '!' || c == '<' || c == '>'):
		c = opEqual
		s.Pos++
	case next == '=' && c == ':':
		c = opWalrus
		s.Pos++
	case c == '-' && next == '>':
		c = opArrow
		s.Pos++
	case next == c && (c == '*' || c == '/' || c == '<' || c == '>'):
		if s.Pos++; s.at(s.Pos) == '=' {
			c = opAssign
			s.Pos++
		}
	case next == '=' && (c == '+' || c == '-' || c == '*' || c == '/' || c == '%' || c == '@' || c == '&' || c == '|' ||
		c == '^'):
		c = opAssign
		s.Pos++
	}
	s.tokens = append(s.tokens, token{opToken, c, start, s.Pos})
}
