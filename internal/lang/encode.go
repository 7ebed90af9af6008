package lang

import (
	"strings"
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
func Encode(text string, m *Mention) (encoded string, ok bool) {
	if m.Detail != nil {
		if m.Detail.Slash {
			text = "/" + strings.TrimPrefix(text, "./")
		}
		if m.Detail.Join != "" {
			pieces := strings.Split(text, "/")
			for i, p := range pieces {
				pieces[i] = encodeScript(p, m.Quote)
			}
			return strings.Join(pieces, m.Detail.Join), true
		}
	}
	switch m.Form {
	case InScript:
		return encodeScript(text, m.Quote), true
	case InStyle:
		return encodeStyle(text, m.Quote), true
	case InMarkup:
		return encodeMarkup(text, m.Quote), m.Quote != 0 || !strings.ContainsAny(text, " \t\n\r\"'=<>`")
	case InDocument:
		return encodeDocument(text, m.Quote), true
	case InJSON:
		return encodeScript(text, '"'), true
	case InYAML:
		return encodeYAML(text, m.Quote)
	case InTOML:
		if m.Quote == '\'' {
			return text, !strings.ContainsAny(text, "'\n")
		}
		return encodeScript(text, '"'), true
	}
	return text, !strings.ContainsAny(text, "\n\r") && (m.Quote == 0 || strings.IndexByte(text, m.Quote) < 0)
}

// encodeScript writes a value as the text between the quotes of a script.
func encodeScript(text string, quote byte) string {
	if quote == 0 || !strings.ContainsAny(text, "\\\n\r`'\"$\u2028\u2029") {
		return text
	}
	var out strings.Builder
	for i := 0; i < len(text); i++ {
		switch c := text[i]; {
		case c == '\n':
			out.WriteString(`\n`)
		case c == '\r':
			out.WriteString(`\r`)
		case c == '\\' || c == quote || quote == '`' && c == '$':
			out.WriteByte('\\')
			out.WriteByte(c)
		default:
			out.WriteByte(c)
		}
	}
	return out.String()
}

// encodeStyle escapes what may not stand in a string, or in a url without quotes (CSS Syntax, section 4.3.6).
func encodeStyle(text string, quote byte) string {
	special := "\\\n\"'() \t"
	if quote != 0 {
		special = "\\\n" + string(quote)
	}
	if !strings.ContainsAny(text, special) {
		return text
	}
	var out strings.Builder
	for _, r := range text {
		switch {
		case r == '\n':
			out.WriteString(`\a `)
		case strings.ContainsRune(special, r):
			out.WriteRune('\\')
			out.WriteRune(r)
		default:
			out.WriteRune(r)
		}
	}
	return out.String()
}

// encodeMarkup writes an attribute's value (HTML, section 13.1.2.3). An ampersand is only escaped where it would begin a
// character reference.
func encodeMarkup(text string, quote byte) string {
	if quote == '"' {
		return strings.ReplaceAll(text, `"`, "&quot;")
	}
	if quote == '\'' {
		return strings.ReplaceAll(text, "'", "&#39;")
	}
	return text
}

// encodeDocument writes the destination of a link (CommonMark, section 6.3): blanks and unbalanced parentheses of one that
// is not in angle brackets become percent escapes.
func encodeDocument(text string, quote byte) string {
	if quote == '<' {
		return strings.NewReplacer("<", "%3C", ">", "%3E").Replace(text)
	}
	return strings.NewReplacer(" ", "%20", "(", "%28", ")", "%29").Replace(text)
}

// encodeYAML writes a scalar in the style that it had (YAML 1.2, section 7.3).
func encodeYAML(text string, quote byte) (string, bool) {
	switch quote {
	case '\'':
		return strings.ReplaceAll(text, "'", "''"), !strings.Contains(text, "\n")
	case '"':
		return encodeScript(text, '"'), true
	}
	plain := text != "" && !strings.ContainsAny(text[:1], "!&*-?|>@`\"'%#{}[],: ") && !strings.Contains(text, ": ") && !strings.Contains(text, " #") &&
		!strings.ContainsAny(text, "\n\t{}[],") && !strings.HasSuffix(text, ":") && !strings.HasSuffix(text, " ")
	return text, plain || strings.HasPrefix(text, "-") && len(text) > 1 && text[1] != ' '
}
