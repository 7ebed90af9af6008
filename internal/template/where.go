package template

// Where says which values a placeholder may take. All are known by their words.
type Where struct {
	Only, Except map[string]bool
	Now          map[string]string // today's names for a value: what is called models or store today shall be core
}

// allows says whether a placeholder may take a value, and gives the value that it stands for.
func (w *Where) allows(value string) (string, bool) {
	if w == nil {
		return value, true
	}
	words := WordsKey(value)
	if name, ok := w.Now[words]; ok {
		return name, true
	}
	return value, (len(w.Only) == 0 || w.Only[words]) && !w.Except[words]
}
