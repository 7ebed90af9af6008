package leftover

import (
	"strings"

	"crookedshelf/internal/source"
)

// judgeDotted says what a name with dots names: a.b.C, or a/b written so. In code it must stand in a string or a
// comment, since everywhere else it is code, which the language reads.
func (p *pass) judgeDotted(span source.Span, text string) (named, bool) {
	body := strings.TrimLeft(text, "~!")
	lead := len(text) - len(body)
	for end := len(body); end > 0; end = strings.LastIndexByte(body[:end], '.') {
		old, ok := p.names.dotted[body[:end]]
		if !ok {
			continue
		}
		if !strings.Contains(body[:end], ".") && end < len(body) || p.search.dottedToday()[body[:end]] ||
			!p.inText(span.Start) {
			return named{}, false
		}
		return named{path: old, certain: true, text: body[:end], lead: lead,
			name: p.search.Dotted(true, p.names.files[old])}, true
	}
	return named{}, false
}

// inText says whether a place lies in a string, a comment or in what is no code.
func (p *pass) inText(at int) bool {
	f := p.family()
	if f == nil || f.InText == nil {
		return true
	}
	if p.texts == nil {
		p.texts = f.InText(p.content)
	}
	return p.texts(at)
}
