package python

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// held is what a package gives a value to: module, if that is its own module of that name; from and name, if it is
// imported.
type held struct {
	module     bool
	from, name string
}

func (r *Resolver) content(id project.FileID) []byte {
	content, _ := r.tree.Content(id)
	return content
}

// given is what a file gives values to at its top level, and when it is loaded: what it declares, and what it imports,
// in the order of its statements.
type given struct {
	declared []string
	imports  []brought
	listed   map[string]bool // what the file lists as exported; nil where it has no list
}

// brought is a module or a name that a file imports, and what it is called there.
type brought struct {
	lang.Mention
	local string
}

// indexOf reads what a file gives values to.
func indexOf(content []byte) *given {
	s := &scanner{src: content, outline: &lang.Outline{}, texts: texts{exports: true}}
	s.scan()
	g := &given{}
	for _, d := range s.outline.Declarations {
		g.declared = append(g.declared, d.Name)
	}
	for i := range s.mentions {
		m := &s.mentions[i]
		switch {
		case m.Kind == ModuleText && exported(m):
			if g.listed == nil {
				g.listed = map[string]bool{}
			}
			g.listed[m.Text] = true
		case m.Deferred:
		case m.Kind == FromModule, m.Kind == FromName && m.Text == lang.Everything:
			g.imports = append(g.imports, brought{Mention: *m})
		case m.Kind == ModuleImport, m.Kind == FromName:
			g.imports = append(g.imports, brought{*m, localOf(content, m)})
		}
	}
	return g
}

// readPackages works out what every __init__.py gives a value to, in the order of its statements. A name that it imports
// from elsewhere hides a module of the same name in its folder, and a module that it loads becomes a name of it
// (docs.python.org/3/reference/import.html, submodules).
func (r *Resolver) readPackages() {
	r.held = make([]map[string]held, len(r.tree.Files))
	b := &bound{Resolver: r, names: map[project.FileID]map[string]held{}}
	var ids []project.FileID
	for id, f := range r.tree.Files {
		if isInit(f.Path) && !f.Link {
			ids = append(ids, project.FileID(id))
		}
	}
	parallel.Do(len(ids), func(i int) { b.given(ids[i]) })
	for _, id := range ids {
		r.held[id] = b.of(id)
	}
}

func isInit(p string) bool { return path.Base(p) == "__init__.py" }

// bound works out what files give values to.
type bound struct {
	*Resolver
	names map[project.FileID]map[string]held // nil while it is being worked out: of a circle of stars
}

// given gives what a file says; nothing, if it can't be read.
func (b *bound) given(id project.FileID) *given {
	g, err := lang.Index[*given](b.tree, id)
	if err != nil {
		return &given{}
	}
	return g
}

// of gives the names of a file.
func (b *bound) of(id project.FileID) map[string]held {
	if names, known := b.names[id]; known {
		return names
	}
	b.names[id] = nil
	g, p := b.given(id), b.tree.Path(id)
	names := map[string]held{}
	for _, name := range g.declared {
		names[name] = held{}
	}
	for i := range g.imports {
		m := &g.imports[i]
		switch m.Kind {
		case ModuleImport, FromModule:
			t := b.module(p, m.Text)
			if t.Kind.Inside() && isInit(p) {
				b.loaded(names, path.Dir(p), b.place(t))
			}
			if m.Kind == ModuleImport {
				names[m.local] = held{module: t.Kind.Inside() && b.place(t) == path.Join(path.Dir(p), m.local)}
			}
		case FromName:
			if m.Text == lang.Everything {
				b.star(names, p, &m.Mention)
				continue
			}
			names[m.local] = held{isInit(p) && b.isOwn(p, p, &m.Mention, m.local), detail(&m.Mention).From, m.Text}
		}
	}
	b.names[id] = names
	return names
}

// loaded notes the module of a package that is loaded by an import of it, or of something below it.
func (b *bound) loaded(names map[string]held, dir, place string) {
	rest, below := strings.CutPrefix(place, dir+"/")
	if !below {
		return
	}
	name, _, _ := strings.Cut(rest, "/")
	if _, known := names[name]; !known {
		names[name] = held{module: true}
	}
}

// star adds what a star brings: what the module lists as exported, or all of its names but those with an underscore in
// front.
func (b *bound) star(names map[string]held, p string, m *lang.Mention) {
	from := b.module(p, detail(m).From)
	if from.Kind != lang.ToFile || b.tree.Path(from.File) == p {
		return
	}
	listed := b.given(from.File).listed
	for name, h := range b.of(from.File) {
		if listed != nil && !listed[name] || listed == nil && strings.HasPrefix(name, "_") {
			continue
		}
		if h.from == "" { // it is the module's own
			names[name] = held{from: detail(m).From, name: name}
			continue
		}
		brought := lang.Mention{Text: h.name, Kind: FromName, Detail: &lang.Detail{Own: Detail{From: h.from}}}
		names[name] = held{isInit(p) && b.isOwn(p, b.tree.Path(from.File), &brought, name), detail(m).From, name}
	}
}

// isOwn says whether what a file imports is the package's own module of the name that it gets. One that is imported
// from a module which is not there counts as such: its statement is still to be written.
func (r *Resolver) isOwn(p, importer string, m *lang.Mention, local string) bool {
	module := r.module(importer, detail(m).From)
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
	h, ok := r.held[t.File][name]
	return ok && !h.module
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

// aliasOf is the alias of an imported name or module; empty for none.
func aliasOf(src []byte, m *lang.Mention) string {
	s := &scanner{src: src, pos: m.Span.End}
	return s.as(true)
}

// localOf is what an imported name or module is called in its file: of import a.b that is a.
func localOf(src []byte, m *lang.Mention) string {
	i := item{text: m.Text, alias: aliasOf(src, m)}
	return i.local()
}

// Bindings are the names that a mention brings into its file.
func (r *Resolver) Bindings(content []byte, m *lang.Mention) []lang.Binding {
	switch {
	case m.Kind == FromName && m.Text != lang.Everything:
		return []lang.Binding{{Name: m.Text, Local: localOf(content, m)}}
	case m.Kind == ModuleImport:
		return []lang.Binding{{Name: lang.Everything, Local: localOf(content, m)}}
	case m.Kind == FromModule: // its names say it
		return nil
	}
	return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
}
