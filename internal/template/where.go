package template

import "slices"

// Where says which values a placeholder may take. All are known by their words.
type Where struct {
	Only, Except map[string]bool
	Now          map[string]string // today's names for a value: what is called models or store today shall be core
}

// allows says whether a placeholder may take a value that is written in a case, and gives the value that it stands for.
// Where the case says how many there are, the value is known as one and as several.
func (w *Where) allows(value, filter string) (string, bool) {
	if w == nil {
		return value, true
	}
	forms := []string{WordsKey(value)}
	if counts(filter) {
		forms = append(forms, WordsKey(InCase(value, "singular")), WordsKey(InCase(value, "plural")))
	}
	allowed := len(w.Only) == 0
	for _, words := range forms {
		if name, ok := w.Now[words]; ok {
			return name, true
		}
		allowed = allowed || w.Only[words]
		if w.Except[words] {
			return value, false
		}
	}
	return value, allowed
}

// Refuses says whether a path would fit the template if its placeholders could take any value, and gives the first
// value that is refused, with the name of its placeholder.
func (t *Template) Refuses(path string) (name, value string, ok bool) {
	free := *t
	free.Tokens = slices.Clone(t.Tokens)
	for i := range free.Tokens {
		free.Tokens[i].Where = nil
	}
	captures, fits := free.Match(path)
	if !fits {
		return "", "", false
	}
	for _, tok := range t.Tokens {
		if tok.kind != placeholder {
			continue
		}
		if _, allowed := tok.Where.allows(captures.Values[tok.Text], tok.filter); !allowed {
			return tok.Text, captures.Values[tok.Text], true
		}
	}
	return "", "", false
}
