package markup

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/source"
)

// component records an element whose name the convention may state to stand for a file.
func (s *scanner) component(t *tag) {
	if len(s.tags) == 0 || t.name == strings.ToLower(t.name) && !strings.Contains(t.name, "-") {
		return
	}
	for _, rule := range s.tags {
		s.mentions = append(s.mentions, lang.Mention{
			Span: t.place, Text: t.name, Kind: stated.Component, Form: lang.Plain, Detail: stated.By(rule),
		})
		return
	}
}

// frontScript reads the script between lines of --- at the start of an .astro file, and gives the place behind it.
func (s *scanner) frontScript() int {
	start := len(s.src) - len(bytes.TrimLeft(s.src, " \t\r\n\uFEFF"))
	if !bytes.HasPrefix(s.src[start:], []byte("---")) {
		return 0
	}
	body := start + 3
	end := bytes.Index(s.src[body:], []byte("\n---"))
	if end < 0 {
		return 0
	}
	s.embed(source.Span{Start: body, End: body + end}, "x.ts")
	return body + end + 4
}
