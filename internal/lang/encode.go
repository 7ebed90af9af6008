package lang

import (
	"strings"

	"crookedshelf/internal/text"
)

// Form says what kind of text a mention stands in, so how its characters are written there.
type Form uint8

// The forms.
const (
	InScript   Form = iota // a string or template of JavaScript
	InStyle                // a string or url() of CSS
	InMarkup               // an attribute of HTML or XML
	InDocument             // a link of Markdown
	InJSON
	InYAML
	InTOML
	Plain // nothing is escaped
)

// Encode writes a mention's decoded text as it must stand in its place. ok is false where the place can't hold the
// text.
func Encode(value string, m *Mention) (encoded string, ok bool) {
	if m.Detail != nil {
		if m.Detail.Slash {
			value = "/" + strings.TrimPrefix(value, "./")
		}
		if m.Detail.Join != "" {
			pieces := strings.Split(value, "/")
			for i, p := range pieces {
				pieces[i] = text.Script(p, m.Quote)
			}
			return strings.Join(pieces, m.Detail.Join), true
		}
	}
	switch m.Form {
	case InScript:
		return text.Script(value, m.Quote), true
	case InStyle:
		return text.Style(value, m.Quote), true
	case InMarkup:
		return text.Markup(value, m.Quote), m.Quote != 0 || !strings.ContainsAny(value, " \t\n\r\"'=<>`")
	case InDocument:
		return text.Document(value, m.Quote), true
	case InJSON:
		return text.Script(value, '"'), true
	case InYAML:
		return text.YAML(value, m.Quote)
	case InTOML:
		if m.Quote == '\'' {
			return value, !strings.ContainsAny(value, "'\n")
		}
		return text.Script(value, '"'), true
	}
	if m.Kind != nil && m.Kind.Is(Configures) && m.Quote == 0 && value != "" && (value[0] == '\'' || value[0] == '"') {
		return value, false // it would be read as quoted
	}
	return value, !strings.ContainsAny(value, "\n\r") && (m.Quote == 0 || strings.IndexByte(value, m.Quote) < 0)
}
