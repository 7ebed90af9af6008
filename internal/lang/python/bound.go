package python

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// held is what a package gives a value to: module, if that is its own module of that name; from and name, if it is imported.
type held struct {
	module     bool
	from, name string
}

func (r *Resolver) content(id project.FileID) []byte {
	content, _ := r.tree.Content(id)
	return content
}

// readPackages reads what every __init__.py gives a value to. A name that it imports from another module of the project hides a
// module of the same name in its folder (docs.python.org/3/reference/import.html, submodules).
func (r *Resolver) readPackages() {
	r.held = make([]map[string]held, len(r.tree.Files))
	var ids []project.FileID
	for id, f := range r.tree.Files {
		if path.Base(f.Path) == "__init__.py" && !f.Link {
			ids = append(ids, project.FileID(id))
		}
	}
	stars := make([][]lang.Mention, len(ids))
	parallel.Do(len(ids), func(i int) {
		s := &scanner{src: r.content(ids[i]), outline: &lang.Outline{}, texts: texts{}}
		s.scan()
		names := map[string]held{}
		for _, d := range s.outline.Declarations {
			names[d.Name] = held{}
		}
		for k := range s.mentions {
			m := &s.mentions[k]
			if m.Kind != lang.FromName || m.Deferred {
				continue
			}
			if m.Text == lang.Everything {
				stars[i] = append(stars[i], *m)
				continue
			}
			local := aliasOf(s.src, m)
			names[local] = held{local == m.Text && r.isOwn(ids[i], m), m.More.From, m.Text}
		}
		r.held[ids[i]] = names
	})
	for i, id := range ids {
		for k := range stars[i] {
			r.star(id, &stars[i][k])
		}
	}
}

// isOwn says whether a name that a package imports is its own module of that name.
func (r *Resolver) isOwn(id project.FileID, m *lang.Mention) bool {
	p := r.tree.Path(id)
	module := r.module(p, m.More.From)
	folder, ok := r.folderOf(module)
	return ok && folder == path.Dir(p)
}

// star adds what a package imports by a star from one of its modules, where it hides a module's name.
func (r *Resolver) star(id project.FileID, m *lang.Mention) {
	from := r.module(r.tree.Path(id), m.More.From)
	if from.Kind != lang.ToFile || from.File == id {
		return
	}
	name := strings.TrimSuffix(path.Base(r.tree.Path(from.File)), path.Ext(r.tree.Path(from.File)))
	if _, known := r.held[id][name]; known || name == "__init__" {
		return
	}
	s := &scanner{src: r.content(from.File), outline: &lang.Outline{}}
	s.scan()
	for _, d := range s.outline.Declarations {
		if d.Name == name {
			r.held[id][name] = held{}
		}
	}
}

func (r *Resolver) heldBy(p string) map[string]held {
	if id, ok := r.tree.Lookup(p); ok {
		return r.held[id]
	}
	return nil
}

// speaksOf says whether a file has a word, as one that declares or imports it must.
func (r *Resolver) speaksOf(id project.FileID, word string) bool {
	content := r.content(id)
	for at := 0; word != ""; {
		i := bytes.Index(content[at:], []byte(word))
		if i < 0 {
			return bytes.Contains(content, []byte("def __getattr__"))
		}
		i += at
		if (i == 0 || !namePart(content[i-1])) && (i+len(word) == len(content) || !namePart(content[i+len(word)])) {
			return true
		}
		at = i + 1
	}
	return false
}

// aliasOf is what an imported name is called in its file.
func aliasOf(src []byte, m *lang.Mention) string {
	s := &scanner{src: src, pos: m.Span.End}
	if alias := s.as(true); alias != "" {
		return alias
	}
	return m.Text
}

// Bindings implements lang.Binder.
func (r *Resolver) Bindings(content []byte, m *lang.Mention) []lang.Binding {
	switch {
	case m.Kind == lang.FromName && m.Text != lang.Everything:
		return []lang.Binding{{Name: m.Text, Local: aliasOf(content, m)}}
	case m.Kind == lang.ModuleImport:
		s := &scanner{src: content, pos: m.Span.End}
		local := s.as(false)
		if local == "" {
			local, _, _ = strings.Cut(m.Text, ".")
		}
		return []lang.Binding{{Name: lang.Everything, Local: local}}
	case m.Kind == lang.FromModule: // its names say it
		return nil
	}
	return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
}
