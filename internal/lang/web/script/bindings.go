package script

import (
	"strings"

	"crookedshelf/internal/lang"
)

// names reads the list of an import or export: a, b as c, type d, default as e.
func names(list []byte) []lang.Binding {
	var out []lang.Binding
	s := scanner{input: input{src: list}}
	for i := s.skipTrivia(0); i < len(list); {
		var words []string
		for i < len(list) && list[i] != ',' {
			end := s.wordEnd(i)
			if c := list[i]; c == '\'' || c == '"' {
				end = s.stringEnd(i)
				words = append(words, strings.Trim(string(list[i:end]), `'"`))
			} else if end > i {
				words = append(words, string(list[i:end]))
			} else {
				end = i + 1
			}
			i = s.skipTrivia(end)
		}
		if len(words) == 2 && words[0] == "type" || len(words) == 4 && words[0] == "type" {
			words = words[1:]
		}
		switch {
		case len(words) == 1:
			out = append(out, lang.Binding{Name: words[0], Local: words[0]})
		case len(words) == 3 && words[1] == "as":
			out = append(out, lang.Binding{Name: words[0], Local: words[2]})
		}
		i = s.skipTrivia(i + 1)
	}
	return out
}

// Bindings gives the names that an import or export from another file brings: lang.Everything where it brings the whole
// or where that is not known, none for an import without names.
func Bindings(content []byte, m *lang.Mention) []lang.Binding {
	all := []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
	if m.Kind != Import && m.Kind != ExportFrom {
		return all
	}
	if m.Clause == 0 {
		return nil
	}
	clause := content[m.Span.Start-int(m.Clause) : m.Span.Start]
	s := scanner{input: input{src: clause}}
	var out []lang.Binding
	for i := 0; i < len(clause); {
		switch c := clause[i]; {
		case c == '{':
			end, ok := s.namesEnd(i)
			if !ok {
				return all
			}
			out = append(out, names(clause[i+1:end-1])...)
			i = end
		case c == '*':
			b := all[0]
			i = s.skipTrivia(i + 1)
			if end := s.wordEnd(i); string(clause[i:end]) == "as" {
				i = s.skipTrivia(end)
				end = s.wordEnd(i)
				b.Local = string(clause[i:end])
				i = end
			}
			out = append(out, b)
		case classes[c] == cWord:
			end := s.wordEnd(i)
			word, next := string(clause[i:end]), s.skipTrivia(end)
			if end == i {
				return all
			}
			modifier := (word == "type" || word == "defer" || word == "source") && next < len(clause) &&
				clause[next] != ',' &&
				string(clause[next:s.wordEnd(next)]) != "from"
			if word != "from" && !modifier {
				out = append(out, lang.Binding{Name: lang.DefaultName, Local: word})
			}
			i = end
		default:
			i++
		}
		i = s.skipTrivia(i)
	}
	return out
}
