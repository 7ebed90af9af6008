// Package script reads JavaScript, TypeScript and their JSX forms: which modules and paths a text names, what it
// declares, and which values stand in a script that is configuration.
//
// The scanner makes one pass over tokens and builds no syntax tree, so it is fast enough to need no cache. Its price is
// that what a token means must be known from what stands before it. Two things carry that knowledge: the class of the
// previous token (prev) and a stack of frames, one for each open bracket, template, or element. oracle/web holds both
// against the TypeScript compiler.
//
// The pieces: scan.go the main loop, brackets.go what opens and closes, words.go what words mean, jsx.go tags and text,
// literals.go strings, templates, numbers, regular expressions and comments, specifiers.go the look-ahead that finds
// mentions, outline.go what is declared, bytes.go tables, trace.go what comparisons see; skip.go and declaring.go tell
// how far a file must be read, blocks.go passes over blocks.
package script

import (
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
)

// Dialect is a set of the things in which the languages of the family differ.
type Dialect uint8

// The dialects. Plain JavaScript is JSX alone, since elements are read in every .js file.
const (
	TypeScript Dialect = 1 << iota
	JSX
)

// DialectOf gives the dialect by the file's name, and whether the file is one of the family.
func DialectOf(path string) (Dialect, bool) {
	return DialectOfEnding(Extension(path))
}

func DialectOfEnding(extension string) (Dialect, bool) {
	switch extension {
	case ".ts", ".mts", ".cts", ".d.ts", ".d.mts", ".d.cts":
		return TypeScript, true
	case ".tsx":
		return TypeScript | JSX, true
	case ".js", ".jsx", ".mjs", ".cjs":
		return JSX, true
	}
	return 0, false
}

// Extension is the file's ending as the compiler counts it: .d.ts is one ending.
func Extension(path string) string {
	base := path[strings.LastIndexByte(path, '/')+1:]
	dot := strings.LastIndexByte(base, '.')
	if dot <= 0 {
		return ""
	}
	ext := base[dot:]
	if (ext == ".ts" || ext == ".mts" || ext == ".cts") && strings.HasSuffix(base[:dot], ".d") {
		return ".d" + ext
	}
	return ext
}

// prev classes: what the previous token was, as far as the next one cares.
type prevClass uint8

const (
	pStart    prevClass = iota // a statement may begin here
	pOperator                  // an operand must follow
	pOperand                   // an operand has ended
	pDot                       // a property name must follow
	pWord                      // an operator in the form of a word: return, typeof
	pHead                      // if, while, for, with: the parenthesis that follows is a head
	pNew                       // new
	pParen                     // ) that closes an operand or a parameter list
	pArrow                     // =>
	pColon                     // a colon after which an operand or a type follows
	pGreater                   // >
	pFunction                  // the word function: a name or parameters must follow
	pUnclear                   // it would take more than a look to tell; no token is that
)

// operandExpected says whether a `/` or `<` here would begin an operand.
func (p prevClass) operandExpected() bool {
	switch p {
	case pOperand, pParen, pDot, pFunction:
		return false
	}
	return true
}

// wordKind names the words that the next token wants to know of.
type wordKind uint8

const (
	noWord wordKind = iota
	wordDefault
	wordVoid
	wordAs
)

type frameKind uint8

const (
	fParen frameKind = iota
	fHeadParen
	fBracket
	fBlock
	fObject
	fBody     // the body of a function or class that is an operand
	fTemplate // ${ }
	fChild    // { } among an element's children
	fAttr     // { } in a tag
	fTag      // inside <name ... >
	fChildren // between an opening and a closing tag
)

type frame struct {
	kind    frameKind
	pending bool   // an operand's function or class has begun here and its body has not
	cases   uint8  // case and default words whose colon has not come
	ternary uint16 // ? whose : has not come
	at      int    // where it begins
}

// scanner reads one text. What it is given, what is wanted of it, where it stands, and what it found are apart, so that
// a rule shows which of them it depends on.
type scanner struct {
	input
	wishes
	position
	results
}

// input is the text, and what is known of it.
type input struct {
	src      []byte
	dialect  Dialect
	path     string // of the file, for what the convention says of it
	declared *lang.Declared
}

// wishes are what is wanted of the text.
type wishes struct {
	end      int      // where reading may stop; the rest holds nothing that is wanted
	wanted   int      // from here on nothing is wanted but what stands at the top level
	texts    bool     // paths in strings are wanted
	certain  bool     // but for those that only look like paths
	calls    bool     // the convention states something of calls
	settings bool     // the file holds settings written as code
	seeks    bool     // reading ends where an element begins
	ablation Ablation // rules that are switched off
}

// position is where the scanner stands, and what stood before: what a token means depends on it.
type position struct {
	pos      int
	prev     prevClass
	newline  bool     // a line ended between the previous token and this one
	began    bool     // a token has been read: triple-slash references are over
	word     wordKind // the previous token, if it was one of a few words
	labelled bool     // the previous token is an identifier at the start of a statement
	frames   []frame
	elements []retreat
	saved    []frame // of the retreat; there is one at a time
	retreats int
	budget   int     // bytes that look-aheads may still read; keeps hostile input linear
	block    passing // which of these is passed over
	// folders are names that hold the script's own folder, helpers functions that put paths together.
	folders map[string]bool
	helpers map[string]pathHelper
}

// results are what was found.
type results struct {
	mentions []lang.Mention
	outline  *outliner    // nil if nobody asks what the file declares
	trace    *[]Structure // nil if nobody compares
}

// retreat is the state before the outermost open element, to go back to when that element never ends.
type retreat struct {
	pos      int
	frames   []frame
	mentions int
	traced   int
}

const maxRetreats = 8

// Scan finds every mention in src, by what the language itself defines. It never fails: what it cannot make sense of it
// passes over.
func Scan(src []byte, dialect Dialect) []lang.Mention {
	s := scanner{input: input{src: src, dialect: dialect}, wishes: wishes{wanted: len(src)}}
	return s.scan()
}

// File finds what is asked for in a file, or in a part of one.
func File(s lang.Source) (lang.Scanned, error) {
	d, _ := DialectOf(s.As)
	switch {
	case s.Imports:
		return lang.Scanned{Mentions: Scan(s.Content, d)}, nil
	case s.Declared.WantsOutlines() && s.Declared.Certain && !s.IsPart() && skips(s.Path, s.Declared):
		if kinds := s.Declared.Asked(s.Path); kinds&^knownEarly == 0 {
			return scanAsked(s.Path, s.Content, d, s.Declared, kinds), nil
		}
	}
	return ScanText(s.Path, s.Content, d, s.Declared), nil
}

// ScanText is Scan with the strings that look like paths or that the convention states to be mentions, and with the
// outline where it is wanted. path is the file that the text is of or stands in.
func ScanText(path string, src []byte, dialect Dialect, declared *lang.Declared) lang.Scanned {
	return scanText(path, src, dialect, declared, skips(path, declared))
}

// ScanWhole is ScanText by reading all that there is: comparisons hold that against it.
func ScanWhole(path string, src []byte, dialect Dialect, declared *lang.Declared) lang.Scanned {
	return scanText(path, src, dialect, declared, false)
}

// scanText reads a text; early, it passes over what can't hold anything that is asked for.
func scanText(path string, src []byte, dialect Dialect, declared *lang.Declared, early bool) lang.Scanned {
	s := newScanner(path, src, dialect, declared)
	defer s.leave()
	if early {
		s.certain, s.wanted = declared.Certain, lastMention(src, declared.Certain)
	}
	switch {
	case declared.WantsOutlines():
		s.outline = &outliner{}
	case s.wanted == 0:
		return lang.Scanned{}
	default:
		s.end = s.wanted
	}
	s.scan()
	found := lang.Scanned{Mentions: s.found()}
	if s.outline != nil {
		found.Outline = s.outline.finish(path)
	}
	return found
}

// newScanner gives a scanner of texts, for one that leaves when it is done.
func newScanner(path string, src []byte, dialect Dialect, declared *lang.Declared) *scanner {
	s := scanners.Get().(*scanner)
	*s = scanner{
		input: input{src: src, dialect: dialect, path: path, declared: declared},
		wishes: wishes{wanted: len(src), texts: true, calls: declared != nil &&
			len(declared.Convention.Mentions) > 0},
		position: position{frames: s.frames[:0], saved: s.saved[:0]},
		results:  results{mentions: s.mentions[:0]},
	}
	if s.settings = IsConfiguration(path) || declared.SpeaksOfSettings(path); s.settings {
		s.helpers = pathHelpers(src)
	}
	return s
}

var scanners = sync.Pool{New: func() any { return &scanner{position: position{frames: make([]frame, 0, 32)}} }}

// leave lets another work with the memory of a scanner.
func (s *scanner) leave() {
	const most = 1 << 10
	if cap(s.mentions) > most || cap(s.frames) > most {
		return
	}
	clear(s.mentions[:cap(s.mentions)])
	*s = scanner{position: position{frames: s.frames, saved: s.saved}, results: results{mentions: s.mentions}}
	scanners.Put(s)
}

// found gives the mentions in their order, for others to keep.
func (s *scanner) found() []lang.Mention {
	s.order()
	if s.settings {
		s.configure()
	}
	if len(s.mentions) == 0 {
		return nil
	}
	return slices.Clone(s.mentions)
}

// order sorts the mentions, since a look-ahead may have found one behind another that comes first, and drops what was
// found twice: of two at one place the certain one stays.
func (s *scanner) order() {
	inOrder := true // as they mostly are
	for i := 1; i < len(s.mentions) && inOrder; i++ {
		inOrder = s.mentions[i].Span.Start >= s.mentions[i-1].Span.End
	}
	if inOrder {
		return
	}
	slices.SortStableFunc(s.mentions, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	out := s.mentions[:0]
	for _, m := range s.mentions {
		if n := len(out); n > 0 && m.Span.Start < out[n-1].Span.End {
			if out[n-1].Likely && !m.Likely {
				out[n-1] = m
			}
			continue
		}
		out = append(out, m)
	}
	s.mentions = out
}

func (s *scanner) scan() []lang.Mention {
	s.budget = 4*len(s.src) + 1<<16
	s.frames = append(s.frames, frame{kind: fBlock})
	if s.ablation&NoJSX != 0 {
		s.dialect &^= JSX
	}
	s.skipShebang()
	if s.end == 0 {
		s.end = len(s.src)
	}
	return s.read()
}

// findElement goes on to the first element, behind which nothing is wanted any more.
func (s *scanner) findElement() {
	s.seeks, s.end = true, len(s.src)
	s.read()
}

// read reads up to the end.
func (s *scanner) read() []lang.Mention {
	for {
		for s.pos < s.end {
			switch s.top().kind {
			case fTag:
				s.tag()
			case fChildren:
				s.children()
			default:
				if s.block.base > 0 {
					s.pass()
				} else {
					s.script()
				}
			}
		}
		switch {
		case s.block.base > 0:
			s.giveUp(len(s.src))
		case s.end < len(s.src) && s.seeks:
			return s.mentions
		case s.end < len(s.src) && (len(s.elements) > 0 || s.folders != nil): // only the whole can tell
			s.end = len(s.src)
		case len(s.elements) == 0:
			return s.mentions
		default:
			s.goBack()
		}
	}
}

func (s *scanner) top() *frame { return &s.frames[len(s.frames)-1] }

func (s *scanner) push(kind frameKind) { s.frames = append(s.frames, frame{kind: kind, at: s.pos}) }

// pop drops the top frame, unless it is the file itself.
func (s *scanner) pop() frameKind {
	kind := s.top().kind
	if len(s.frames) > 1 {
		s.frames = s.frames[:len(s.frames)-1]
	}
	return kind
}

func (s *scanner) at(i int) byte {
	if i < len(s.src) {
		return s.src[i]
	}
	return 0
}

// set ends a token: what it was is what the next one is judged by.
func (s *scanner) set(p prevClass, width int) {
	s.pos += width
	s.prev = p
	s.newline = false
	s.began = true
	s.word = noWord
	s.labelled = false
}

// script reads tokens until the top frame is one of markup or the file ends.
func (s *scanner) script() {
	for s.pos < s.end {
		at := s.pos
		c := s.src[at]
		for c == ' ' || c == '\n' { // these are most of what stands between tokens
			s.newline = s.newline || c == '\n'
			if at++; at >= s.end {
				s.pos = at
				return
			}
			c = s.src[at]
		}
		s.pos = at
		switch classes[c] {
		case cSpace:
			s.pos++
		case cNewline:
			s.newline = true
			s.pos++
		case cWord:
			if c >= 0x80 {
				if n, line := unicodeSpace(s.src, s.pos); n > 0 {
					s.pos += n
					s.newline = s.newline || line
					continue
				}
			}
			s.identifier()
		case cDigit:
			s.number()
		case cQuote:
			s.quoted()
		case cBacktick:
			s.plainTemplate(s.pos)
			s.template(s.pos)
		case cSlash:
			s.slash()
		case cOpen:
			s.open(c)
		case cClose:
			s.close()
		case cBraceOpen:
			if s.braceOpen(); s.passes() {
				return
			}
		case cBraceClose:
			if s.braceClose() {
				return
			}
		case cLess:
			if s.less() {
				return
			}
		case cGreater:
			s.set(pGreater, 1)
		case cEqual:
			if s.at(s.pos+1) == '>' {
				s.set(pArrow, 2)
			} else {
				s.set(pOperator, 1)
			}
		case cDot:
			s.dot()
		case cColon:
			s.colon()
		case cQuestion:
			s.question()
		case cSemicolon:
			s.set(pStart, 1)
		case cPlusMinus:
			if s.at(s.pos+1) == c { // ++ and -- stand after operands far more often than before a / or <
				s.set(pOperand, 2)
			} else {
				s.set(pOperator, 1)
			}
		case cBang:
			s.bang()
		case cHash: // a private name
			s.pos++
		case cOperator:
			if c == '@' && s.outline != nil && len(s.frames) == 1 {
				s.mark(s.pos + 1)
			}
			s.set(pOperator, 1)
		default:
			s.pos++
		}
	}
}

func (s *scanner) dot() {
	switch {
	case s.at(s.pos+1) == '.' && s.at(s.pos+2) == '.':
		s.set(pOperator, 3)
	case classes[s.at(s.pos+1)] == cDigit:
		s.number()
	default:
		s.set(pDot, 1)
	}
}

// bang: in TypeScript a ! after an operand on the same line asserts that the operand is there, and stays an operand.
func (s *scanner) bang() {
	postfix := !s.prev.operandExpected() && !s.newline && s.dialect&TypeScript != 0 && s.at(s.pos+1) != '='
	if postfix {
		s.set(pOperand, 1)
	} else {
		s.set(pOperator, 1)
	}
}

func (s *scanner) question() {
	switch next := s.at(s.pos + 1); {
	case next == '.' && classes[s.at(s.pos+2)] != cDigit:
		s.set(pDot, 2)
	case next == '?':
		s.set(pOperator, 2)
	default:
		if f := s.top(); f.ternary < 1<<15 {
			f.ternary++
		}
		s.set(pOperator, 1)
	}
}

// colon ends a case, a label, or the middle of a conditional; else a property's value or a type follows.
func (s *scanner) colon() {
	f := s.top()
	switch {
	case f.ternary > 0:
		f.ternary--
		s.set(pColon, 1)
	case f.cases > 0:
		f.cases--
		s.set(pStart, 1)
	case s.labelled && f.kind != fObject:
		s.set(pStart, 1)
	default:
		s.set(pColon, 1)
	}
}
