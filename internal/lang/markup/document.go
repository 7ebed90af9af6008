package markup

import (
	"bytes"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

var (
	fence      = regexp.MustCompile("^ {0,3}(`{3,}|~{3,})[ \t]*([\\w+-]*)")
	definition = regexp.MustCompile(`^ {0,3}\[[^\]^][^\]]*\]:[ \t]*(<[^>\n]*>|[^\s<][^\s]*)`)
)

// document reads Markdown (CommonMark): the destinations of links, images and definitions, outside of code; the tags of
// HTML in it; the values of its front matter; the imports of MDX.
func (s *scanner) document() {
	at := s.frontMatter()
	component := strings.HasSuffix(s.path, ".mdx")
	prose := append([]byte(nil), s.src...) // code is blanked out here, so that it holds no links
	fenced, language := "", ""
	var code []source.Span
	for at < len(prose) {
		end := bytes.IndexByte(prose[at:], '\n')
		if end < 0 {
			end = len(prose) - at
		}
		line := prose[at : at+end]
		switch m := fence.FindSubmatch(line); {
		case m != nil && fenced == "":
			fenced, language = string(m[1]), strings.ToLower(string(m[2]))
			text.Blank(line)
		case m != nil && strings.HasPrefix(string(m[1]), fenced) && len(bytes.TrimSpace(line)) == len(m[1]):
			fenced = ""
			text.Blank(line)
			s.fenced(code, language)
			code = code[:0]
		case fenced != "":
			code = append(code, source.Span{Start: at, End: at + end})
			text.Blank(line)
		case component && (bytes.HasPrefix(line, []byte("import ")) || bytes.HasPrefix(line, []byte("export "))):
			s.embed(source.Span{Start: at, End: at + end}, "x.tsx").Imports = true
			text.Blank(line)
		}
		at += end + 1
	}
	s.fenced(code, language) // of a fence that nothing closes
	blankSpans(prose, s.codeSpan)
	s.definitions(prose)
	s.links(prose)
	inner := &scanner{path: s.path, src: prose, dialect: document, declared: s.declared, tags: s.tags}
	t := tokenizer{src: prose, dialect: document, onTag: inner.tag, onRaw: func(*tag, source.Span) {}}
	t.run()
	s.mentions, s.inside = append(s.mentions, inner.mentions...), append(s.inside, inner.inside...)
}

// fenced leaves the code between two fences to its language.
func (s *scanner) fenced(code []source.Span, language string) {
	if len(code) > 0 {
		s.inside = append(s.inside, lang.Embedded{Lines: slices.Clone(code), Called: language, Imports: true,
			Example: true})
	}
}

// codeSpan records the words of a code span that are paths: of two segments or more, or a folder with its slash. What a
// change log says was so at its time.
func (s *scanner) codeSpan(at source.Span) {
	if lang.IsHistory(s.path) {
		return
	}
	for span := range text.Words(s.src, at, " \n") {
		if word := string(s.src[span.Start:span.End]); wholePath.MatchString(word) {
			trimmed := strings.TrimSuffix(word, "/")
			span.End = span.Start + len(trimmed)
			s.mentions = append(s.mentions, lang.Mention{Span: span, Text: trimmed, Kind: paths.CodeSpan, Form: lang.Plain,
				Likely: true, Evident: true, Deferred: true})
		}
	}
}

// wholePath is a path of two segments or more, or a folder with a slash at its end.
var wholePath = regexp.MustCompile(`^(?:\.{1,2}/)*[\w@.-]+(?:/[\w@.-]+)*(?:/[\w@.-]+|/)$`)

// blankSpans blanks code spans: a run of backticks up to the next run of the same length. each is called with what
// stands in one, before it is blanked.
func blankSpans(text []byte, each func(inside source.Span)) {
	for i := 0; i < len(text); {
		if text[i] != '`' {
			i++
			continue
		}
		n := 0
		for i+n < len(text) && text[i+n] == '`' {
			n++
		}
		end := i + n
		for end < len(text) {
			next := bytes.IndexByte(text[end:], '`')
			if next < 0 {
				return
			}
			end += next
			m := 0
			for end+m < len(text) && text[end+m] == '`' {
				m++
			}
			end += m
			if m == n {
				each(source.Span{Start: i + n, End: end - n})
				for j := i; j < end; j++ {
					if text[j] != '\n' {
						text[j] = ' '
					}
				}
				break
			}
		}
		i = end
	}
}

func (s *scanner) definitions(text []byte) {
	for at := 0; at < len(text); {
		end := bytes.IndexByte(text[at:], '\n')
		if end < 0 {
			end = len(text) - at
		}
		if m := definition.FindSubmatchIndex(text[at : at+end]); m != nil {
			s.destination(source.Span{Start: at + m[2], End: at + m[3]})
		}
		at += end + 1
	}
}

// mostParentheses is how deep those in a destination are nested: CommonMark wants 32 at the least.
const mostParentheses = 32

// links finds ]( and reads the destination behind it (CommonMark, section 6.3).
func (s *scanner) links(text []byte) {
	for at := 0; ; {
		next := bytes.Index(text[at:], []byte("]("))
		if next < 0 {
			return
		}
		i := at + next + 2
		at = i
		for i < len(text) && (text[i] == ' ' || text[i] == '\n') {
			i++
		}
		end := i
		if i < len(text) && text[i] == '<' {
			for end++; end < len(text) && text[end] != '>' && text[end] != '\n' && text[end] != '<'; end++ {
			}
			if end < len(text) && text[end] != '>' { // nothing but this one may open it
				continue
			}
			end++
		} else {
			for depth := 0; end < len(text) && text[end] > ' '; end++ {
				if text[end] == '\\' {
					end++
					continue
				}
				if text[end] == '(' {
					if depth++; depth > mostParentheses {
						end = i
						break
					}
				} else if text[end] == ')' {
					if depth == 0 {
						break
					}
					depth--
				}
			}
		}
		if end < len(text) && end > i {
			s.destination(source.Span{Start: i, End: end})
		}
	}
}

func (s *scanner) destination(span source.Span) {
	var quote byte
	if s.src[span.Start] == '<' {
		quote = '<'
		span.Start++
		span.End--
	}
	if span.End <= span.Start {
		return
	}
	if text := string(s.src[span.Start:span.End]); local(text) && !strings.ContainsAny(text, `\`) {
		s.mentions = append(s.mentions, lang.Mention{Span: span, Text: text, Kind: paths.Link, Form: lang.InDocument,
			Quote: quote})
	}
}

// frontMatter reads the YAML between lines of --- at the start, and gives the place behind it.
func (s *scanner) frontMatter() int {
	if !bytes.HasPrefix(s.src, []byte("---\n")) && !bytes.HasPrefix(s.src, []byte("---\r\n")) {
		return 0
	}
	start := bytes.IndexByte(s.src, '\n') + 1
	end := bytes.Index(s.src[start:], []byte("\n---"))
	if end < 0 {
		return 0
	}
	root, err := manifest.ParseYAML(s.src[start : start+end+1])
	if err == nil {
		var found []lang.Mention
		root.Walk(func(key []string, v *manifest.Value) {
			if v.Kind != manifest.String || len(key) == 0 {
				return
			}
			rule := s.declared.Key(s.path, key)
			m := lang.Mention{Span: v.Span, Text: v.Text, Form: lang.InYAML, Quote: v.Quote, Likely: true,
				Kind: paths.Setting}
			if rule != 0 {
				if s.declared.Entry(rule).NoPath {
					return
				}
				m.Kind, m.Likely, m.Detail = stated.Stated, false, stated.By(rule)
			} else if kind, ok := paths.SettingKind(v.Text, key[len(key)-1]); !ok || kind != paths.Setting {
				return
			}
			found = append(found, m)
		})
		s.within(start, found)
	}
	return start + end + 4
}
