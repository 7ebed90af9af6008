package web

import (
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Family is JavaScript, TypeScript, their JSX forms, and the settings files that say where their imports lead.
func Family() lang.Family {
	return lang.Family{
		Name: "JavaScript and TypeScript",
		Reads: func(p string) bool {
			_, known := DialectOf(p)
			return known || isPackageFile(p) || isCompilerFile(p)
		},
		Scan: func(p string, content []byte) ([]lang.Mention, error) {
			if d, known := DialectOf(p); known {
				return Scan(content, d), nil
			}
			return scanSettings(p, content)
		},
		Resolver: func(tree *project.Project) lang.Resolver { return newResolver(tree) },
		Encode:   encode,
	}
}

// encode writes a specifier's value as the text between quotes.
func encode(text string, quote byte) string {
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
