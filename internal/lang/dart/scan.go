package dart

import (
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
)

// scanner reads a file.
type scanner struct {
	src  []byte
	tok  []token
	out  lang.Scanned
	code int // the first token behind the directives
}

// own is what only Dart knows of a mention.
type own struct {
	names  []string // of show
	parted bool     // the address is written in several strings
}

var pool = sync.Pool{New: func() any { return new([]token) }}

// scan finds the directives of a file, the addresses in its code, and what it declares.
func scan(q lang.Source) (lang.Scanned, error) {
	buf := pool.Get().(*[]token)
	tokens, err := lex(q.Content, (*buf)[:0])
	defer func() { *buf = tokens[:0]; pool.Put(buf) }()
	if err != nil {
		return lang.Scanned{}, err
	}
	s := &scanner{src: q.Content, tok: tokens}
	s.directives()
	if !q.Imports {
		s.texts()
		if q.Declared.WantsOutlines() {
			s.outline()
		}
	}
	return s.out, nil
}

// directives reads what stands before all declarations: library, import, export, part, with their metadata.
func (s *scanner) directives() {
	for i := 0; i < len(s.tok); {
		start := i
		i = s.metadata(i)
		word := s.word(i)
		at := i + 1
		if word == "augment" || word == "import" && s.word(at) == "augment" {
			if word == "augment" {
				word, at = s.word(at), at+1
			} else {
				at++
			}
		}
		switch {
		case word == "library" && (s.is(at, ';') || at < len(s.tok) && s.tok[at].kind != tSign):
		case (word == "import" || word == "export") && at < len(s.tok) && s.tok[at].kind == tString:
			kind := Import
			if word == "export" {
				kind = Export
			}
			at = s.address(at, kind, i)
			for at < len(s.tok) && !s.is(at, ';') {
				if s.word(at) == "if" && s.is(at+1, '(') { // if (dart.library.io) 'x.dart'
					for at < len(s.tok) && !s.is(at, ')') {
						at++
					}
					if at+1 < len(s.tok) && s.tok[at+1].kind == tString {
						at = s.address(at+1, kind, i)
						continue
					}
				}
				at++
			}
			s.shown(i, at)
		case word == "part" && s.word(at) == "of":
			if at+1 < len(s.tok) && s.tok[at+1].kind == tString {
				at = s.address(at+1, PartOf, i)
			}
		case word == "part" && at < len(s.tok) && s.tok[at].kind == tString:
			at = s.address(at, Part, i)
		default:
			s.code = start
			return
		}
		for at < len(s.tok) && !s.is(at, ';') {
			at++
		}
		i = at + 1
		s.code = i
	}
}

// metadata gives the token behind annotations: @a, @a.b(c).
func (s *scanner) metadata(i int) int {
	for s.is(i, '@') {
		for i++; s.word(i) != "" && s.is(i+1, '.'); i += 2 {
		}
		i++
		if s.is(i, '<') {
			i = s.closing(i, '<', '>') + 1
		}
		if s.is(i, '(') {
			i = s.closing(i, '(', ')') + 1
		}
	}
	return i
}

// closing gives the token that closes a bracket; the last one, where none does.
func (s *scanner) closing(i int, open, close byte) int {
	depth := 0
	for ; i < len(s.tok); i++ {
		switch {
		case s.is(i, open):
			depth++
		case s.is(i, close):
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return max(len(s.tok)-1, 0)
}

// address records an address, which may be written in several strings, and gives the token behind it.
func (s *scanner) address(i int, kind *lang.Kind, statement int) int {
	value, at := s.value(i)
	first := s.tok[i]
	quote := s.src[at.Start-1]
	next := i + 1
	parted := false
	for next < len(s.tok) && s.tok[next].kind == tString {
		more, behind := s.value(next)
		value, at.End = value+more, behind.End
		parted = parted || s.src[behind.Start-1] != quote || s.tok[next].raw != first.raw || s.tok[next].last != first.last
		next++
	}
	if first.holes || value == "" {
		return next
	}
	s.add(at, value, kind, own{parted: parted}, int32(at.Start)-s.tok[statement].start)
	return next
}

func (s *scanner) add(at source.Span, value string, kind *lang.Kind, o own, clause int32) {
	m := lang.Mention{Span: at, Text: value, Kind: kind, Form: lang.InScript, Quote: s.src[at.Start-1], Clause: clause,
		Detail: &lang.Detail{Own: &o, Must: kind != Address && !strings.HasPrefix(value, "dart:")}}
	s.out.Mentions = append(s.out.Mentions, m)
}

// shown notes the names that an import brings.
func (s *scanner) shown(from, to int) {
	var names []string
	shows := false
	for i := from; i < to; i++ {
		switch s.word(i) {
		case "show":
			shows = true
		case "hide":
			shows = false
		default:
			if shows && s.word(i) != "" {
				names = append(names, s.word(i))
			}
		}
	}
	for i := len(s.out.Mentions) - 1; i >= 0 && len(names) > 0; i-- {
		m := &s.out.Mentions[i]
		if m.Span.Start < int(s.tok[from].start) {
			break
		}
		lang.Own[*own](m).names = names
	}
}

// takers are calls that take the address of a library or of a file of a package.
var takers = map[string]bool{"parse": true, "resolve": true, "resolvePackageUri": true, "spawnUri": true, "tryParse": true}

// texts finds addresses and paths in the strings of code.
func (s *scanner) texts() {
	for i := s.code; i < len(s.tok); i++ {
		t := &s.tok[i]
		if t.kind != tString || t.holes || t.last == 3 {
			continue
		}
		value, at := s.value(i)
		switch {
		case strings.HasPrefix(value, "package:") && strings.Contains(value, "/"):
			s.add(at, value, Address, own{}, 0)
		case strings.HasSuffix(value, ".dart") && s.is(i-1, '(') && takers[s.word(i-2)]:
			s.add(at, value, Address, own{}, 0)
		case paths.Segments(value) && !strings.ContainsAny(value, " \n:<>"):
			s.out.Mentions = append(s.out.Mentions, lang.Mention{Span: at, Text: value, Kind: paths.Text, Form: lang.InScript,
				Quote: s.src[at.Start-1], Likely: true})
		}
	}
}

// kindsOf are the kinds of declaration, by the words that declare.
var kindsOf = map[string]lang.DeclarationKinds{"class": lang.IsClass, "mixin": lang.IsClass, "enum": lang.IsClass,
	"extension": lang.IsType, "typedef": lang.IsType}

// outline says what the file declares at its top.
func (s *scanner) outline() {
	out := &lang.Outline{Own: s.code < len(s.tok)}
	s.out.Outline = out
	for i := s.code; i < len(s.tok); {
		var marks []string
		for s.is(i, '@') {
			if name := s.word(i + 1); name != "" {
				marks = append(marks, name)
			}
			i = s.metadata(i)
		}
		end := s.declarationEnd(i)
		if d := s.declaration(i, end); d.Name != "" {
			d.Marks, d.Exported = marks, d.Name[0] != '_'
			out.Declarations = append(out.Declarations, d)
		}
		i = max(end, i+1)
	}
}

// declarationEnd gives the token behind a declaration.
func (s *scanner) declarationEnd(i int) int {
	for ; i < len(s.tok); i++ {
		switch {
		case s.is(i, ';'):
			return i + 1
		case s.is(i, '{'):
			end := s.closing(i, '{', '}')
			if s.is(end+1, ';') || s.is(end+1, ',') || s.is(end+1, ')') || s.is(end+1, '.') { // it is a value
				i = end
				continue
			}
			return end + 1
		case s.is(i, '('):
			i = s.closing(i, '(', ')')
		}
	}
	return i
}

// declaration reads one.
func (s *scanner) declaration(i, end int) (d lang.Declaration) {
	kind := lang.DeclarationKinds(0)
	for k := i; k < end; k++ {
		if s.is(k, '<') { // the arguments of a type
			k = s.closing(k, '<', '>')
			continue
		}
		word := s.word(k)
		if of, is := kindsOf[word]; is && s.word(k+1) != "" && !(word == "mixin" && s.word(k+1) == "class") {
			name := k + 1
			if word == "extension" && s.word(name) == "type" && s.word(name+1) != "" {
				name++
			}
			if s.word(name) == "const" {
				name++
			}
			d.Name, d.Offset, kind = s.word(name), int(s.tok[name].start), of
			if k = name; s.is(k+1, '<') { // its parameters
				k = s.closing(k+1, '<', '>')
			}
			for ; k < end && !s.is(k, '{'); k++ {
				switch s.word(k) {
				case "extends", "implements", "with", "on":
					for k++; k < end && !s.is(k, '{') && s.word(k) != "implements" && s.word(k) != "with"; k++ {
						if name := s.word(k); name != "" && !s.is(k+1, '.') && !s.is(k-1, '<') {
							d.Extends = append(d.Extends, name)
						}
						if s.is(k, '<') {
							k = s.closing(k, '<', '>')
						}
					}
					k--
				}
			}
			d.Kinds = kind
			return d
		}
		switch {
		case word == "get" && s.word(k+1) != "" || word == "set" && s.word(k+1) != "":
			return lang.Declaration{Name: s.word(k + 1), Offset: int(s.tok[k+1].start), Kinds: lang.IsFunction}
		case word != "" && (s.is(k+1, '(') || s.is(k+1, '<') && s.is(s.closing(k+1, '<', '>')+1, '(')) && word != "Function":
			return lang.Declaration{Name: word, Offset: int(s.tok[k].start), Kinds: lang.IsFunction}
		case word != "" && (s.is(k+1, '=') || s.is(k+1, ';') || s.is(k+1, ',')):
			return lang.Declaration{Name: word, Offset: int(s.tok[k].start), Kinds: lang.IsConstant}
		}
	}
	return d
}
