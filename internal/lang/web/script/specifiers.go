package script

import (
	"bytes"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/label"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// candidate is called on the words that may lead to a specifier. A look-ahead from the word reads the clause or the
// first argument. It moves nothing, so where it fails the main loop just goes on; behind a clause that was read whole
// it goes on after the specifier.
func (s *scanner) candidate(text []byte, start int, before prevClass) {
	next := s.skipTrivia(start + len(text))
	switch text[0] {
	case 'i':
		end := s.importFrom(next)
		s.set(pOperand, max(len(text), end-start))
	case 'e':
		end := s.exportFrom(next)
		s.set(pOperand, max(len(text), end-start))
	case 'r':
		if before != pFunction {
			s.require(next)
		}
		s.operand(text, before)
	case 'm':
		if s.dialect&TypeScript != 0 && !s.endsLine(start+len(text), next) {
			s.declaredModule(next)
		}
		s.operand(text, before)
	}
}

// importFrom gives the place after the clause that it reads; 0 if it reads none.
func (s *scanner) importFrom(i int) int {
	switch c := s.at(i); {
	case c == '(':
		s.firstArgument(i, DynamicImport)
	case c == '\'' || c == '"':
		s.mention(i, Import)
	case c == '.':
		j := s.skipTrivia(i + 1)
		end := s.wordEnd(j)
		switch w := string(s.src[j:end]); w {
		case "defer", "source": // import.defer( and import.source(
			if k := s.skipTrivia(end); s.at(k) == '(' {
				s.firstArgument(k, DynamicImport)
			}
		case "meta":
			s.importMeta(i, end)
		}
	case c == '{' || c == '*' || classes[c] == cWord:
		return s.clause(i, Import)
	}
	return 0
}

// exportFrom gives the place after the clause that it reads; 0 if it reads none.
func (s *scanner) exportFrom(i int) int {
	first := i
	if classes[s.at(i)] == cWord {
		end := s.wordEnd(i)
		if string(s.src[i:end]) != "type" {
			return 0
		}
		first = s.skipTrivia(end)
	}
	if c := s.at(first); c == '{' || c == '*' {
		return s.clause(first, ExportFrom)
	}
	return 0
}

func (s *scanner) require(i int) {
	kind := Require
	if s.at(i) == '.' {
		j := s.skipTrivia(i + 1)
		end := s.wordEnd(j)
		switch string(s.src[j:end]) {
		case "resolve":
			kind = RequireResolve
		case "context":
			if s.texts {
				kind = paths.ImportFolder
				break
			}
			return
		default:
			return
		}
		i = s.skipTrivia(end)
	}
	if s.at(i) == '<' { // a type argument
		i = s.skipTrivia(s.typeArgumentsEnd(i))
	}
	if s.at(i) == '(' {
		s.firstArgument(i, kind)
	}
}

// declaredModule reads the name after the word module, which must stand on the same line.
func (s *scanner) declaredModule(i int) {
	if c := s.at(i); c != '\'' && c != '"' {
		return
	}
	end := s.stringEnd(i)
	j := s.skipTrivia(end)
	if c := s.at(j); c == '{' || c == ';' || j >= len(s.src) || s.endsLine(end, j) {
		s.mention(i, DeclareModule)
	}
}

// endsLine says whether a line ends between two places.
func (s *scanner) endsLine(from, to int) bool { return bytes.ContainsAny(s.src[from:to], "\n\r") }

// firstArgument records the literal that is the whole first argument of the call whose parenthesis is at i; the comma
// or parenthesis after it turns down 'a' + b.
func (s *scanner) firstArgument(i int, kind *lang.Kind) {
	j := s.skipTrivia(i + 1)
	_, end, ok := s.literal(j)
	if !ok {
		s.head(j, kind)
		return
	}
	switch c := s.at(s.skipTrivia(end)); c {
	case ')', ',':
		s.mention(j, kind)
	case '+':
		s.head(j, kind)
	}
}

// clause reads from the first binding of an import or export up to from and its string. It gives the place after that;
// 0 if it is another thing.
func (s *scanner) clause(i int, kind *lang.Kind) int {
	var last []byte // the previous word
	from := i
	defer func() { s.budget -= i - from }()
	for i < len(s.src) && s.budget > i-from {
		c := s.src[i]
		switch {
		case c == '{':
			end, ok := s.namesEnd(i)
			i = s.skipTrivia(end)
			if from := s.wordEnd(i); !ok || string(s.src[i:from]) != "from" { // export { a } alone
				return 0
			}
			last = nil
		case c == '*' || c == ',':
			i++
			last = nil
		case c == '\'' || c == '"':
			if string(last) == "from" {
				n := len(s.mentions)
				if !s.mention(i, kind) {
					return 0
				}
				if s.mentions[n].Span.Start-from < 1<<31 {
					s.mentions[n].Clause = int32(s.mentions[n].Span.Start - from)
				}
				return s.mentions[n].Span.End + 1
			}
			if string(last) != "as" {
				return 0
			}
			i = s.stringEnd(i)
			last = nil
		case classes[c] == cWord:
			end := s.wordEnd(i)
			if end == i {
				return 0
			}
			last = s.src[i:end]
			i = end
		default:
			return 0
		}
		i = s.skipTrivia(i)
	}
	return 0
}

// namesEnd gives the place after the } of the names that open at i; false if anything but names stands between.
func (s *scanner) namesEnd(i int) (int, bool) {
	for i++; i < len(s.src); {
		c := s.src[i]
		switch {
		case c == '}':
			return i + 1, true
		case c == ',' || word[c]:
			i++
		case c == '\'' || c == '"':
			i = s.stringEnd(i)
		default:
			next := s.skipTrivia(i)
			if next == i {
				return i, false
			}
			i = next
		}
	}
	return i, false
}

// literal gives the text span of the closed string, or template without pieces, at i, and the place after it.
func (s *scanner) literal(i int) (span source.Span, end int, ok bool) {
	switch quote := s.at(i); quote {
	case '\'', '"':
		end = s.stringEnd(i)
		if end < i+2 || s.src[end-1] != quote {
			return span, end, false
		}
	case '`':
		n := bytes.IndexByte(s.src[i+1:], '`')
		if n < 0 || bytes.IndexByte(s.src[i+1:i+1+n], '\\') >= 0 || bytes.Contains(s.src[i+1:i+1+n], []byte("${")) {
			return span, i, false
		}
		end = i + n + 2
	default:
		return span, i, false
	}
	return source.Span{Start: i + 1, End: end - 1}, end, true
}

// mention records the literal at i. It reports whether it was one, and new.
func (s *scanner) mention(i int, kind *lang.Kind) bool {
	span, _, ok := s.literal(i)
	if n := len(s.mentions); !ok || n > 0 && s.mentions[n-1].Span == span { // import import {} from 'x' is read twice
		return false
	}
	s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text.DecodeScript(s.src[span.Start:span.End]),
		Kind: kind, Form: lang.InScript, Quote: s.src[i]})
	return true
}

// The attributes of a triple-slash reference, by the compiler's own reading of them.
var (
	referenceTag  = regexp.MustCompile(`(?i)^///\s*<reference\s[^>]*/>`)
	referencePath = regexp.MustCompile(`(?i)\s(path|types)\s*=\s*(?:"([^"]*)"|'([^']*)')`)
)

func (s *scanner) tripleSlash(start, end int) {
	comment := s.src[start:end]
	if !bytes.HasPrefix(comment, []byte("///")) || !referenceTag.Match(comment) {
		return
	}
	m := referencePath.FindSubmatchIndex(comment)
	if m == nil {
		return
	}
	kind := ReferencePath
	if comment[m[2]]|0x20 == 't' {
		kind = ReferenceTypes
	}
	from, to := m[4], m[5]
	if from < 0 {
		from, to = m[6], m[7]
	}
	s.mentions = append(s.mentions, lang.Mention{
		Span: source.Span{Start: start + from, End: start + to}, Text: string(comment[from:to]), Kind: kind,
		Quote: comment[from-1],
	})
}

// The tags by which a comment at the beginning of a file names the module that the file is: @module of documentation,
// and amd-module of the compiler.
var (
	moduleTag = regexp.MustCompile(`(?m)^[ \t/]*\*+[ \t]*@module[ \t]+(?:\{[^}\n]*\}[ \t]+)?` +
		`([\w@$.-]+(?:/[\w@$.-]+)+)[ \t]*(?:\r?$|\*/)`)
	amdModule = regexp.MustCompile(`^///\s*<amd-module\s+name\s*=\s*["']([^"'\n]+)["']\s*/>`)
)

func (s *scanner) moduleTag(start, end int) {
	comment := s.src[start:end]
	if !s.texts || !bytes.Contains(comment, []byte("module")) {
		return
	}
	for _, tag := range []*regexp.Regexp{moduleTag, amdModule} {
		if m := tag.FindSubmatchIndex(comment); m != nil {
			s.label(source.Span{Start: start + m[2], End: start + m[3]})
			return
		}
	}
}

// What a comment of documentation names modules by: the types of what follows it, and names that it brings (TypeScript
// documentation, JSDoc Reference: import types, @import).
var (
	importedType = regexp.MustCompile(`^import\(\s*(?:'([^'\n]+)'|"([^"\n]+)")\s*\)`)
	importTag    = regexp.MustCompile(`^@import\s[^'"@]*?\bfrom\s+(?:'([^'\n]+)'|"([^"\n]+)")`)
)

func (s *scanner) documentedTypes(start, end int) {
	comment := s.src[start:end]
	for at := 0; ; {
		i := bytes.Index(comment[at:], []byte("import"))
		if i < 0 {
			return
		}
		at += i + len("import")
		from, form := at-len("import"), importedType
		switch {
		case from > 0 && comment[from-1] == '@':
			from, form = from-1, importTag
		case at == len(comment) || comment[at] != '(' || from > 0 && lang.IsWord(comment[from-1]):
			continue
		}
		m := form.FindSubmatchIndex(comment[from:])
		if m == nil {
			continue
		}
		first, last := m[2], m[3]
		if first < 0 {
			first, last = m[4], m[5]
		}
		first, last = from+first, from+last
		s.mentions = append(s.mentions, lang.Mention{
			Span: source.Span{Start: start + first, End: start + last}, Text: text.DecodeScript(comment[first:last]),
			Kind: DynamicImport, Form: lang.InScript, Quote: comment[first-1], Deferred: true,
		})
	}
}

// label records the name of the file's own module. One word alone says nothing of a path.
func (s *scanner) label(span source.Span) {
	if text := string(s.src[span.Start:span.End]); strings.Contains(text, "/") && !strings.HasPrefix(text, ".") {
		s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: label.Label, Form: lang.Plain})
	}
}
