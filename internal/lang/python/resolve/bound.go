package resolve

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// nameValue is what a package gives a value to: module, if that is its own module of that name; from and name, if it is
// imported.
type nameValue struct {
	module     bool
	from, name string
}

func (r *Resolver) content(id project.FileID) []byte {
	content, _ := r.tree.Content(id)
	return content
}

// readPackages works out what every __init__.py gives a value to, in the order of its statements. A name that it
// imports from elsewhere hides a module of the same name in its folder, and a module that it loads becomes a name of it
// (docs.python.org/3/reference/import.html, submodules).
func (r *Resolver) readPackages() {
	r.values = make([]map[string]nameValue, len(r.tree.Files))
	b := &bound{Resolver: r, names: map[project.FileID]map[string]nameValue{}}
	var ids []project.FileID
	for id, f := range r.tree.Files {
		if isInit(f.Path) && !f.Link {
			ids = append(ids, project.FileID(id))
		}
	}
	parallel.Do(len(ids), func(i int) { b.given(ids[i]) })
	for _, id := range ids {
		r.values[id] = b.of(id)
	}
}

func isInit(p string) bool { return path.Base(p) == "__init__.py" }

// bound works out what files give values to.
type bound struct {
	*Resolver
	names map[project.FileID]map[string]nameValue // nil while it is being worked out: of a circle of stars
}

// given gives what a file says; nothing, if it can't be read.
func (b *bound) given(id project.FileID) *syntax.Given {
	g, err := lang.Index[*syntax.Given](b.tree, id)
	if err != nil {
		return &syntax.Given{}
	}
	return g
}

// of gives the names of a file.
func (b *bound) of(id project.FileID) map[string]nameValue {
	if names, known := b.names[id]; known {
		return names
	}
	b.names[id] = nil
	g, p := b.given(id), b.tree.Path(id)
	names := map[string]nameValue{}
	for _, name := range g.Declared {
		names[name] = nameValue{}
	}
	for i := range g.Imports {
		m := &g.Imports[i]
		switch m.Kind {
		case syntax.ModuleImport, syntax.FromModule:
			t := b.module(p, m.Text)
			if t.Kind.Inside() && isInit(p) {
				b.loaded(names, path.Dir(p), b.place(t))
			}
			if m.Kind == syntax.ModuleImport {
				names[m.Local] = nameValue{module: t.Kind.Inside() && b.place(t) == path.Join(path.Dir(p), m.Local)}
			}
		case syntax.FromName:
			if m.Text == lang.Everything {
				b.star(names, p, &m.Mention)
				continue
			}
			names[m.Local] = nameValue{isInit(p) && b.isOwn(p, p, &m.Mention, m.Local),
				syntax.DetailOf(&m.Mention).From,
				m.Text}
		}
	}
	b.names[id] = names
	return names
}

// loaded notes the module of a package that is loaded by an import of it, or of something below it.
func (b *bound) loaded(names map[string]nameValue, dir, place string) {
	rest, below := strings.CutPrefix(place, dir+"/")
	if !below {
		return
	}
	name, _, _ := strings.Cut(rest, "/")
	if _, known := names[name]; !known {
		names[name] = nameValue{module: true}
	}
}

// star adds what a star brings: what the module lists as exported, or all of its names but those with an underscore in
// front.
func (b *bound) star(names map[string]nameValue, p string, m *lang.Mention) {
	from := b.module(p, syntax.DetailOf(m).From)
	if from.Kind != lang.ToFile || b.tree.Path(from.File) == p {
		return
	}
	listed := b.given(from.File).Listed
	for name, h := range b.of(from.File) {
		if listed != nil && !listed[name] || listed == nil && strings.HasPrefix(name, "_") {
			continue
		}
		if h.from == "" { // it is the module's own
			names[name] = nameValue{from: syntax.DetailOf(m).From, name: name}
			continue
		}
		brought := lang.Mention{Text: h.name, Kind: syntax.FromName,
			Detail: &lang.Detail{Own: syntax.Detail{From: h.from}}}
		names[name] = nameValue{isInit(p) && b.isOwn(p, b.tree.Path(from.File), &brought, name),
			syntax.DetailOf(m).From,
			name}
	}
}

// isOwn says whether what a file imports is the package's own module of the name that it gets. One that is imported
// from a module which is not there counts as such: its statement is still to be written.
func (r *Resolver) isOwn(p, importer string, m *lang.Mention, local string) bool {
	module := r.module(importer, syntax.DetailOf(m).From)
	if !module.Kind.Inside() {
		return module.Kind == lang.ToNothing && local == m.Text
	}
	folder, ok := r.folderOf(module)
	if !ok {
		return false
	}
	t, ok := r.load(path.Join(folder, m.Text))
	return ok && r.place(t) == path.Join(path.Dir(p), local)
}

// hides says whether a package gives a name another value than its own module of that name.
func (r *Resolver) hides(t lang.Target, name string) bool {
	if t.Kind != lang.ToFile {
		return false
	}
	h, ok := r.values[t.File][name]
	return ok && !h.module
}

func (r *Resolver) valuesOf(p string) map[string]nameValue {
	if id, ok := r.tree.Lookup(p); ok {
		return r.values[id]
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
		if (i == 0 || !syntax.NamePart(content[i-1])) &&
			(i+len(word) == len(content) || !syntax.NamePart(content[i+len(word)])) {
			return true
		}
		at = i + 1
	}
	return false
}
