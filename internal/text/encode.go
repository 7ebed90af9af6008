package text

import (
	"strings"
)

// Script writes a value as the text between the quotes of a script.
func Script(text string, quote byte) string {
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

// Style escapes what may not stand in a string, or in a url without quotes (CSS Syntax, section 4.3.6).
func Style(text string, quote byte) string {
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

// Markup writes an attribute's value (HTML, section 13.1.2.3). An ampersand is only escaped where it would begin a
// character reference.
func Markup(text string, quote byte) string {
	if quote == '"' {
		return strings.ReplaceAll(text, `"`, "&quot;")
	}
	if quote == '\'' {
		return strings.ReplaceAll(text, "'", "&#39;")
	}
	return text
}

// Document writes the destination of a link (CommonMark, section 6.3): blanks and unbalanced parentheses of one that
// is not in angle brackets become percent escapes.
func Document(text string, quote byte) string {
	if quote == '<' {
		return strings.NewReplacer("<", "%3C", ">", "%3E").Replace(text)
	}
	return strings.NewReplacer(" ", "%20", "(", "%28", ")", "%29").Replace(text)
}

// YAML writes a scalar in the style that it had (YAML 1.2, section 7.3).
func YAML(text string, quote byte) (string, bool) {
	switch quote {
	case '\'':
		return strings.ReplaceAll(text, "'", "''"), !strings.Contains(text, "\n")
	case '"':
		return Script(text, '"'), true
	}
	plain := text != "" && !strings.ContainsAny(text[:1], "!&*-?|>@`\"'%#{}[],: ") && !strings.Contains(text, ": ") &&
		!strings.Contains(text, " #") &&
		!strings.ContainsAny(text, "\n\t{}[],") && !strings.HasSuffix(text, ":") && !strings.HasSuffix(text, " ")
	return text, plain || strings.HasPrefix(text, "-") && len(text) > 1 && text[1] != ' '
}
