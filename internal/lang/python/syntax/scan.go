// Package syntax reads the text of Python: which modules a file imports and uses, which strings name modules, where
// code finds its own folder, and what a file declares.
//
// The scanner makes one pass over tokens and builds no syntax tree. What a token means is known from where its
// statement begins: imports, classes and functions stand at the beginning of one. oracle/python compares it with
// CPython's own parser.
//
// scan.go reads statements, imports.go those that import, literals.go strings and names, strings.go what strings name,
// anchors.go paths from a file's own folder, data.go those from a package's, setup.go what a setup.py lists, outline.go
// declarations, given.go what a file gives values to, notebook.go the cells of a notebook, skip.go how far a file must
// be read. tokens.go, scopes.go, statements.go and names.go read names in their scopes.
package syntax

import (
	"bytes"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
)

// File finds what is asked for in a file.
func File(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
	texts := textsOf(p, declared)
	return scanFile(p, content, texts, declared, texts.skips(declared))
}

// ScanWhole is what File gives for outlines and mentions of all kinds, by reading all that there is:
// comparisons hold that against it.
func ScanWhole(p string, content []byte, declared *lang.Declared) (lang.Scanned, error) {
	return scanFile(p, content, textsOf(p, declared), declared, false)
}

// scanFile reads a file; early, it passes over what can't hold anything that is asked for.
func scanFile(p string, content []byte, texts texts, declared *lang.Declared, early bool) (lang.Scanned, error) {
	buf := rooms.Get().(*[]lang.Mention)
	s := &Scanner{Src: content, wishes: wishes{texts: texts}, results: results{mentions: (*buf)[:0]}}
	defer func() {
		clear(s.mentions)
		*buf = s.mentions
		rooms.Put(buf)
	}()
	var found lang.Scanned
	const none = lang.IsComponent | lang.IsHook // kinds of declaration that Python does not have
	if early && declared.WantsOutlines() && declared.Certain && declared.Asked(p)&^none == 0 {
		found.Early = &lang.Early{Known: none}
	}
	last := 0
	if early {
		last = lastMention(content, declared.Certain)
	}
	switch {
	case declared.WantsOutlines() && found.Early == nil:
		s.outline = &lang.Outline{}
		s.passes, s.wanted = early, last
	case early && last == 0:
		return found, nil
	default:
		s.until = last
	}
	s.scan()
	found.Mentions, found.Outline = slices.Clone(s.mentions), s.outline
	if found.Early != nil {
		found.Early.ReExports = slices.ContainsFunc(s.mentions,
			func(m lang.Mention) bool { return m.Text == lang.Everything })
	}
	if slices.ContainsFunc(s.mentions, func(m lang.Mention) bool { return m.Text == "sys" }) &&
		bytes.Contains(content, []byte("sys.path.")) {
		searched(found.Mentions)
	}
	if s.old != "" {
		return found, &lang.ScanError{Message: "it is Python 2, which is not read (" + s.old + ")"}
	}
	return found, nil
}

// rooms are what mentions are gathered in.
var rooms = sync.Pool{New: func() any { return new([]lang.Mention) }}

// searched marks the imports of a file that changes where modules are looked for: which of them it brings can't be
// told.
func searched(mentions []lang.Mention) {
	for i := range mentions {
		if m := &mentions[i]; m.Kind == ModuleImport || m.Kind == FromModule {
			m.Detail = &lang.Detail{Must: true}
		}
	}
}

// Scanner reads one text. What is wanted of it, where it stands and what it found are apart.
type Scanner struct {
	Src []byte
	Pos int
	wishes
	position
	results
}

// wishes are what is wanted of the text.
type wishes struct {
	until    int  // where reading may stop, since the rest holds nothing that is wanted; 0 for the end
	passes   bool // behind wanted only what stands at the top level counts
	wanted   int
	texts    texts
	tokenize bool // tokens of the whole text
}

// position is where the scanner stands, and what stood before.
type position struct {
	line     int            // where the logical line begins
	deferred int            // the column of the block that is met later or by type checkers alone; -1 for none
	called   []byte         // the last word, which may be the name of a call
	marks    []string       // decorators of the declaration to come
	anchors  map[string]int // names that stand for a folder, with how far up it is
}

// results are what was found.
type results struct {
	mentions []lang.Mention
	outline  *lang.Outline // nil if nobody asks for it
	tokens   []token
	old      string // what shows that the file is Python 2
}

// Scan finds the imports of a text.
func Scan(src []byte) []lang.Mention {
	s := &Scanner{Src: src}
	s.scan()
	return s.mentions
}

func (s *Scanner) scan() {
	s.deferred = -1
	if strings.HasPrefix(string(s.Src[:min(3, len(s.Src))]), "\xef\xbb\xbf") {
		s.Pos = 3
	}
	if s.until == 0 {
		s.until = len(s.Src)
	}
	// a name that stands for a folder may be used anywhere
	for s.Pos < s.until || s.Pos < len(s.Src) && s.anchors != nil {
		start := s.Pos
		for s.Pos < len(s.Src) && (s.Src[s.Pos] == ' ' || s.Src[s.Pos] == '\t' || s.Src[s.Pos] == '\f') {
			s.Pos++
		}
		top := s.Pos == start || s.Src[s.Pos-1] == '\f'
		if s.passes && start >= s.wanted && !top && s.anchors == nil {
			s.passLine()
			continue
		}
		if c := s.at(s.Pos); c != '\n' && c != '\r' && c != '#' {
			if s.line = start; s.Pos-start <= s.deferred {
				s.deferred = -1
			}
		}
		s.logicalLine(top)
	}
}

// defers says that the block which begins here is not met when the file is loaded.
func (s *Scanner) defers() {
	if s.deferred >= 0 {
		return
	}
	s.deferred = 0
	for c := s.at(s.line); c == ' ' || c == '\t' || c == '\f'; c = s.at(s.line + s.deferred) {
		s.deferred++
	}
}

func (s *Scanner) at(i int) byte {
	if i >= 0 && i < len(s.Src) {
		return s.Src[i]
	}
	return 0
}

// logicalLine reads up to the end of a logical line: brackets and backslashes join lines. Statements begin at its
// start, behind a semicolon, and behind the colon of a compound statement.
func (s *Scanner) logicalLine(top bool) {
	depth := 0
	begins := true // a statement begins here
	previous := byte(0)
	for s.Pos < len(s.Src) {
		c := s.Src[s.Pos]
		switch {
		case c == ' ' || c == '\t' || c == '\f':
			s.Pos++
			continue
		case c == '\n' || c == '\r':
			s.newline()
			if depth == 0 {
				return
			}
			continue
		case c == '#':
			s.comment()
			continue
		case c == '\\' && (s.at(s.Pos+1) == '\n' || s.at(s.Pos+1) == '\r'):
			s.Pos++
			s.newline()
			continue
		case c == '\'' || c == '"':
			s.stringToken(nil, previous)
			begins = false
		case c == '(' || c == '[' || c == '{':
			if depth++; !nameStart(previous) && previous != '@' { // nothing is called by its name
				s.called = nil
			}
			s.Pos++
			begins = false
		case c == ')' || c == ']' || c == '}':
			depth = max(0, depth-1)
			s.Pos++
			begins = false
		case c == ';' && depth == 0, c == ':' && depth == 0:
			s.Pos++
			begins = true
			if c == ':' { // what stands behind it is of a block, or an annotation
				top = false
				begins = s.at(s.Pos) != '='
			}
		case c == '@' && begins && depth == 0:
			s.decorator(top)
			begins = false
		case nameStart(c):
			start := s.Pos
			word := s.word()
			if quote := s.at(s.Pos); (quote == '\'' || quote == '"') && prefixed(word) {
				s.stringToken(word, previous)
				begins = false
				break
			}
			if previous == '(' && ownPackage(word) && resources[string(s.called)] {
				s.resource(".")
			}
			s.called = word
			if begins && depth == 0 {
				begins = s.statement(word, start, top)
				break
			}
			s.named(word, start, previous)
			begins = false
		case c >= '0' && c <= '9':
			s.number()
			begins = false
		default:
			s.Pos++
			begins = false
		}
		previous = c
	}
}

// passLine passes over a logical line as logicalLine does, and looks for nothing in it.
func (s *Scanner) passLine() {
	for depth := 0; s.Pos < len(s.Src); {
		at := s.Pos
		for at < len(s.Src) && !inLines[s.Src[at]] {
			at++
		}
		if s.Pos = at; at == len(s.Src) {
			return
		}
		switch s.Src[at] {
		case '\n', '\r':
			if s.newline(); depth == 0 {
				return
			}
		case '#':
			s.comment()
		case '\\':
			if s.Pos++; s.at(s.Pos) == '\n' || s.at(s.Pos) == '\r' {
				s.newline()
			}
		case '(', '[', '{':
			depth++
			s.Pos++
		case ')', ']', '}':
			depth = max(0, depth-1)
			s.Pos++
		default: // a quote
			start := at
			for start > 0 && nameParts[s.Src[start-1]] {
				start--
			}
			if prefix := s.Src[start:at]; prefixed(prefix) {
				s.text(prefix)
			} else {
				s.stringBody(false, false, 0)
			}
		}
	}
}

// newline passes over the end of a line.
func (s *Scanner) newline() {
	if s.Src[s.Pos] == '\r' && s.at(s.Pos+1) == '\n' {
		s.Pos++
	}
	s.Pos++
}

func (s *Scanner) comment() {
	rest := s.Src[s.Pos:]
	if end := bytes.IndexByte(rest, '\n'); end >= 0 {
		rest = rest[:end]
	}
	if end := bytes.IndexByte(rest, '\r'); end >= 0 {
		rest = rest[:end]
	}
	s.Pos += len(rest)
	if len(rest) > 10 && rest[2] == 't' && rest[6] == ':' {
		s.typed(s.Pos-len(rest), s.Pos)
	}
}

// blank passes over white space and joined lines within a statement; inside parentheses over comments and line ends
// too.
func (s *Scanner) blank(inside bool) {
	for s.Pos < len(s.Src) {
		switch c := s.Src[s.Pos]; {
		case c == ' ' || c == '\t' || c == '\f':
			s.Pos++
		case c == '\\' && (s.at(s.Pos+1) == '\n' || s.at(s.Pos+1) == '\r'):
			s.Pos++
			s.newline()
		case inside && (c == '\n' || c == '\r'):
			s.newline()
		case inside && c == '#':
			s.comment()
		default:
			return
		}
	}
}

// statement reads what the first word of a statement says. It reports whether another statement begins right behind.
func (s *Scanner) statement(word []byte, start int, top bool) bool {
	s.texts.begins(word)
	switch string(word) {
	case "import":
		s.imported(start)
	case "from":
		s.importedFrom(start, top)
	case "def":
		s.defers()
		s.declare(string(word), top)
	case "class":
		s.declare(string(word), top)
	case "if":
		at := s.Pos
		s.blank(false)
		if _, text := s.dotted(false); text == "TYPE_CHECKING" || text == "typing.TYPE_CHECKING" {
			s.defers()
		}
		s.Pos = at
	case "async":
		return true
	case "print", "exec":
		s.printed(string(word))
	case "except":
		s.caught()
	case "else", "try", "finally", "elif", "while", "for", "with", "match", "case", "return", "lambda":
	default:
		s.assigned(word, start, top)
		s.named(word, start, 0)
	}
	return false
}

// printed notices a statement of Python 2 that has become a function.
func (s *Scanner) printed(word string) {
	at := s.Pos
	s.blank(false)
	switch c := s.at(s.Pos); {
	case s.Pos > at && (c == '\'' || c == '"' || nameStart(c) && !s.wordIs("in") && !s.wordIs("is") &&
		!s.wordIs("and") && !s.wordIs("or") && !s.wordIs("if") && !s.wordIs("not")),
		c == '>' && s.at(s.Pos+1) == '>' && word == "print":
		if s.old == "" {
			s.old = word + " is a statement"
		}
	}
}

// caught notices except A, b: of Python 2. From 3.14 on except A, B: catches both (PEP 758), so a name that begins like
// a class is no sign.
func (s *Scanner) caught() {
	at := s.Pos
	s.blank(false)
	if _, text := s.dotted(false); text != "" {
		s.blank(false)
		if s.at(s.Pos) == ',' {
			s.Pos++
			s.blank(false)
			_, name := s.name()
			s.blank(false)
			if name != "" && strings.ToLower(name[:1]) == name[:1] && s.at(s.Pos) == ':' && s.old == "" {
				s.old = "except with a comma"
			}
		}
	}
	s.Pos = at
}
