package markup

import (
	"bytes"
	"regexp"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/source"
)

// Includes by path in the template languages. The convention may state further tags and calls under `call`.

var (
	// tagName is the word that a piece of template code begins with, and the string behind it.
	tagString   = regexp.MustCompile(`^[-~=#_\s]*([A-Za-z_]+)\s*\(?\s*(["'])([^"'\n{}]+)["']`)
	partialName = regexp.MustCompile(`^~?\s*>\s*(["']?)([A-Za-z0-9_./@-]+)`)
	// a directive of a server page (Jakarta Server Pages 1.10.3)
	serverPage = regexp.MustCompile(`^@\s*include\s+file\s*=\s*(["'])([^"'\n<>]+)["']`)
	pugInclude = regexp.MustCompile(`^[ \t]*(include|extends)(:[\w-]+)?[ \t]+(["']?)([^\s"'(]+)`)
	pugAddress = regexp.MustCompile(`\b(src|href|poster)\s*=\s*(["'])([^"'\n]*)(["'])`)
)

// includes are the words whose string is a template.
var includes = map[string]bool{"include": true, "extends": true, "import": true, "from": true, "layout": true,
	"embed": true, "render": true, "includes": true}

// code reads a piece of template code.
func (s *scanner) code(span source.Span) {
	if s.dialect == vue {
		return
	}
	text := s.src[span.Start:span.End]
	if s.dialect == handlebars {
		if m := partialName.FindSubmatchIndex(text); m != nil {
			s.include(source.Span{Start: span.Start + m[4], End: span.Start + m[5]}, 0)
		}
		return
	}
	if m := serverPage.FindSubmatchIndex(text); m != nil {
		s.include(source.Span{Start: span.Start + m[4], End: span.Start + m[5]}, text[m[2]])
		return
	}
	m := tagString.FindSubmatchIndex(text)
	if m == nil {
		return
	}
	word := string(text[m[2]:m[3]])
	value := source.Span{Start: span.Start + m[6], End: span.Start + m[7]}
	quote := text[m[4]]
	if rule := s.declared.Call(s.path, word, string(s.src[value.Start:value.End])); rule != 0 {
		if !s.declared.Entry(rule).NoPath {
			s.mentions = append(s.mentions, lang.Mention{
				Span: value, Text: string(s.src[value.Start:value.End]), Kind: stated.Stated, Form: lang.InScript,
				Quote: quote, Detail: stated.By(rule),
			})
		}
		return
	}
	if includes[word] {
		s.include(value, quote)
	}
}

// include records the name of a template; one that the convention knows by its name is stated.
func (s *scanner) include(span source.Span, quote byte) {
	text := string(s.src[span.Start:span.End])
	m := lang.Mention{Span: span, Text: text, Kind: paths.Include, Form: lang.Plain, Quote: quote}
	if rule := s.declared.Call(s.path, "include", text); rule != 0 {
		m.Kind, m.Detail = stated.Stated, stated.By(rule)
	}
	s.mentions = append(s.mentions, m)
}

// pug reads include and extends lines, and addresses in attributes.
func (s *scanner) pug() {
	for at := 0; at < len(s.src); {
		end := bytes.IndexByte(s.src[at:], '\n')
		if end < 0 {
			end = len(s.src) - at
		}
		line := s.src[at : at+end]
		trimmed := bytes.TrimSpace(line)
		switch {
		case bytes.HasPrefix(trimmed, []byte("//")):
		case pugInclude.Match(line):
			m := pugInclude.FindSubmatchIndex(line)
			var quote byte
			if m[7] > m[6] {
				quote = line[m[6]]
			}
			s.include(source.Span{Start: at + m[8], End: at + m[9]}, quote)
		default:
			for _, m := range pugAddress.FindAllSubmatchIndex(line, -1) {
				text := string(line[m[6]:m[7]])
				if line[m[4]] == line[m[8]] && local(text) && !strings.Contains(text, "#{") {
					s.add(source.Span{Start: at + m[6], End: at + m[7]}, text, paths.Asset, line[m[4]], false)
				}
			}
		}
		at += end + 1
	}
}
