package rust

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// crate is what is compiled from one target.
type crate struct {
	pack   *pack
	kind   targetKind
	target target
	name   string // by which others know it
	root   *module
	all    []*module // of files, in the order in which they are found
}

// module is a module of a crate: a file, or a part of one.
type module struct {
	crate   *crate
	parent  *module
	name    string
	file    project.FileID
	text    *file
	scope   int32    // of the file; 0 for the file itself
	line    *modLine // that says that the file is a module; nil for a root, and for one in braces
	dir     string   // where the files of modules below it are looked for
	pathed  bool     // its file is named by #[path]
	sees    visibility
	at      int32 // of its name, in the file of the parent
	kids    []*module
	named   map[string]*module // the same by their names
	giving  []*module          // those of them whose macros are known behind them
	byScope map[int32]*module  // of a file: the modules in it
}

// path is the name of a module from the root of its crate.
func (m *module) path() []string {
	if m.parent == nil {
		return nil
	}
	return append(m.parent.path(), m.name)
}

// written is the path with a root before it.
func (m *module) written(root string) string {
	return strings.Join(append([]string{root}, m.path()...), "::")
}

// within says whether a module is another or lies in it.
func (m *module) within(other *module) bool {
	for ; m != nil; m = m.parent {
		if m == other {
			return true
		}
	}
	return false
}

// holder is the module of the file that a module stands in.
func (m *module) holder() *module {
	for m.scope != 0 {
		m = m.parent
	}
	return m
}

// in gives the module of a scope of the file that a module is.
func (m *module) in(sc int32) *module {
	if one := m.byScope[m.text.moduleOf(sc)]; one != nil {
		return one
	}
	return m
}

// kid gives the module of a name below another; the first one, where several stand under conditions.
func (m *module) kid(name string) *module { return m.named[name] }

// sort puts the modules below one in the order of its text, and notes them by their names.
func (m *module) sort() {
	slices.SortStableFunc(m.kids, func(a, b *module) int { return cmp.Compare(a.at, b.at) })
	m.named = make(map[string]*module, len(m.kids))
	for _, k := range m.kids {
		if m.named[k.name] == nil {
			m.named[k.name] = k
		}
		if k.usesMacros() {
			m.giving = append(m.giving, k)
		}
	}
}

// deepestModule keeps files that name one another from being read for ever.
const deepestModule = 100

// forest is the modules of all crates of a tree.
type forest struct {
	packs  []*pack
	crates []*crate
	libs   map[string]*crate  // by the folders of their packages
	roots  map[string]*module // of the libraries and programs that texts may name, by their names
	of     map[project.FileID][]*module
	names  map[string]bool // of all modules
	twice  []twin          // modules of which there are two files
}

// twin is a module of which there are two files.
type twin struct{ one, other project.FileID }

// grow finds the modules of a tree.
func grow(t *lang.Tree) *forest {
	f := &forest{libs: map[string]*crate{}, roots: map[string]*module{}, of: map[project.FileID][]*module{},
		names: map[string]bool{}}
	f.packs = packages(t.Project)
	for _, p := range f.packs {
		for _, tg := range p.targets {
			id, there := t.Lookup(tg.file)
			if !there {
				continue
			}
			c := &crate{pack: p, kind: tg.kind, target: tg, name: under(tg.name)}
			root := &module{crate: c, file: id, dir: path.Dir(tg.file)}
			c.root = root
			f.crates = append(f.crates, c)
			f.fill(t, root, 0)
			if tg.kind == aLibrary {
				f.libs[p.dir] = c
				f.roots[p.lib] = root
			} else if tg.kind == aProgram && f.roots[c.name] == nil {
				f.roots[c.name] = root
			}
		}
	}
	return f
}

// fill reads the file of a module, and finds the modules below it.
func (f *forest) fill(t *lang.Tree, m *module, depth int) {
	m.text = &file{scopes: []scope{{parent: -1, module: true}}}
	if text, err := lang.Index[*file](t, m.file); err == nil {
		m.text = text
	}
	m.crate.all = append(m.crate.all, m)
	f.of[m.file] = append(f.of[m.file], m)
	m.byScope = map[int32]*module{0: m}
	for i := range m.text.scopes {
		s := &m.text.scopes[i]
		if i == 0 || !s.module {
			continue
		}
		parent := m.in(s.parent)
		dir := path.Join(parent.dir, s.name)
		if s.pathed != "" {
			dir = path.Join(parent.dir, s.pathed)
			if parent == m {
				dir = path.Join(path.Dir(t.Path(m.file)), s.pathed)
			}
		}
		one := &module{crate: m.crate, parent: parent, name: s.name, file: m.file, text: m.text, scope: int32(i), dir: dir,
			sees: s.sees, at: s.at}
		m.byScope[int32(i)] = one
		parent.kids = append(parent.kids, one)
		f.names[s.name] = true
	}
	for i := range m.text.mods {
		line := &m.text.mods[i]
		parent := m.in(line.scope)
		f.names[line.name] = true
		var plain *project.FileID // the file in the place that no #[path] gives
		for _, at := range f.places(t, m, parent, line) {
			id, there := t.Lookup(at.path)
			if !there {
				continue
			}
			if plain != nil && !at.pathed {
				f.twice = append(f.twice, twin{*plain, id})
				continue
			}
			if !at.pathed {
				plain = &id
			}
			if depth > deepestModule || above(m, id) {
				continue
			}
			dir := strings.TrimSuffix(at.path, ".rs")
			if at.pathed || path.Base(at.path) == "mod.rs" {
				dir = path.Dir(at.path)
			}
			kid := &module{crate: m.crate, parent: parent, name: line.name, file: id, line: line, dir: dir, pathed: at.pathed,
				sees: line.sees, at: int32(line.at.Start)}
			parent.kids = append(parent.kids, kid)
			f.fill(t, kid, depth+1)
		}
	}
	for _, in := range m.byScope {
		in.sort()
	}
}

func above(m *module, id project.FileID) bool {
	for ; m != nil; m = m.parent {
		if m.file == id {
			return true
		}
	}
	return false
}

// place is where the file of a module is looked for.
type place struct {
	path   string
	pathed bool
}

// places are where the file of a module is looked for (the reference, "Module Source Filenames" and "The path
// attribute").
func (f *forest) places(t *lang.Tree, m, parent *module, line *modLine) (out []place) {
	base := parent.dir
	for _, one := range line.paths {
		at := path.Join(base, one.text)
		if parent == m {
			at = path.Join(path.Dir(t.Path(m.file)), one.text)
		}
		out = append(out, place{at, true})
	}
	if line.always {
		return out
	}
	return append(out, place{path.Join(base, line.name+".rs"), false}, place{path.Join(base, line.name, "mod.rs"), false})
}
