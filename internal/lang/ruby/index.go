package ruby

import (
	"bytes"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/text"
)

// index is what the files of a tree declare.
type index struct {
	once   sync.Once
	ids    []project.FileID // in their order
	files  map[project.FileID]*entry
	broken map[project.FileID]error
	consts map[string][]declared // by their names in full
	autos  map[string]bool       // modules that folders make
	folded map[string]string     // the names as they are written, by themselves in small letters
	lasts  map[string]bool       // the last parts of all names
	above  sync.Map              // what a constant is built on, in the order in which it is asked
	leads  sync.Map              // the files that a constant leads to
}

// declared is a place where a constant is declared: the body of a module or a class, or a value.
type declared struct {
	file project.FileID
	at   int // in spaces, or below 0 for a value: -1 for the first
}

// entry is what a file says of names, with those that it has once it has come to its place.
type entry struct {
	*file
	id     project.FileID
	path   string
	was    string    // the constant that it had to define where it was; empty for none
	wants  string    // the one that it must define where it is
	looked string    // as the project's inflections have that
	label  *declared // where it does; nil where it defines another
	shape  shape     // what becomes of the modules around it
	spaces []string  // the names of the modules in full, then
	values []string
	around [][]string // of each module: what is put around it, from the inside out
	gone   []bool     // it is taken away
}

// index reads all files of Ruby of the tree when the first name is asked for.
func (r *Resolver) index() *index {
	r.ix.once.Do(func() {
		ix := &r.ix
		ids, files, errs := lang.Indexes[*file](r.tree, isRuby)
		ix.ids = ids
		ix.files, ix.broken = map[project.FileID]*entry{}, map[project.FileID]error{}
		ix.consts, ix.autos = map[string][]declared{}, map[string]bool{}
		ix.folded, ix.lasts = map[string]string{}, map[string]bool{}
		r.inflect = readInflections(r.tree.Project)
		r.readTable()
		r.readLoaders(ix.ids, files)
		for _, f := range files {
			if f != nil {
				for i := 1; i < len(f.spaces); i++ {
					if name := f.written(i); name != "" {
						ix.folded[strings.ToLower(name)] = name
					}
				}
			}
		}
		entries := make([]*entry, len(ix.ids))
		parallel.Do(len(ix.ids), func(i int) {
			if errs[i] == nil {
				entries[i] = r.entryOf(ix.ids[i], files[i])
			}
		})
		for i, id := range ix.ids {
			if errs[i] != nil {
				ix.broken[id] = errs[i]
				continue
			}
			ix.add(id, entries[i])
		}
		for _, e := range entries { // folders are modules, though no file says so
			if e == nil || e.wants == "" {
				continue
			}
			for head := parent(e.wants); head != "" && !ix.autos[head]; head = parent(head) {
				ix.autos[head], ix.lasts[last(head)] = true, true
			}
		}
	})
	return &r.ix
}

// add notes what a file declares.
func (ix *index) add(id project.FileID, e *entry) {
	ix.files[id] = e
	for i := 1; i < len(e.spaces); i++ {
		if name := e.spaces[i]; name != "" && !e.gone[i] {
			ix.consts[name] = append(ix.consts[name], declared{id, i})
			ix.lasts[last(name)] = true
		}
		for _, name := range e.around[i] {
			ix.autos[name] = true
			ix.lasts[last(name)] = true
		}
	}
	for i, name := range e.values {
		if name != "" {
			ix.consts[name] = append(ix.consts[name], declared{id, -1 - i})
			ix.lasts[last(name)] = true
		}
	}
}

// written is the name of a module in full as the text has it; empty where it can't be known.
func (f *file) written(at int) string {
	name := f.spaces[at].name
	if name == "" {
		return ""
	}
	if strings.HasPrefix(name, "::") {
		return name[2:]
	}
	// class A::B in a module C may be C::A::B or A::B: the text alone does not say. It is taken for the first.
	if owner := f.spaces[at].owner; owner > 0 {
		around := f.written(owner)
		if around == "" {
			return ""
		}
		return join(around, name)
	}
	return name
}

// writtenValue is the name of a constant in full that gets a value.
func (f *file) writtenValue(at int) string {
	v := &f.values[at]
	if strings.HasPrefix(v.name, "::") {
		return v.name[2:]
	}
	if v.space > 0 {
		around := f.written(v.space)
		if around == "" {
			return ""
		}
		return join(around, v.name)
	}
	return v.name
}

// entryOf works out which names a file has at its place.
func (r *Resolver) entryOf(id project.FileID, f *file) *entry {
	p := r.tree.Path(id)
	e := &entry{file: f, id: id, path: p, wants: r.wants(p)}
	e.looked = e.wants
	e.spaces, e.values = make([]string, len(f.spaces)), make([]string, len(f.values))
	e.around, e.gone = make([][]string, len(f.spaces)), make([]bool, len(f.spaces))
	for i := 1; i < len(f.spaces); i++ {
		e.spaces[i] = f.written(i)
	}
	for i := range f.values {
		e.values[i] = f.writtenValue(i)
	}
	if e.wants == "" {
		return e
	}
	if e.label = e.defines(e.wants); e.label != nil {
		e.wants = e.definedName() // a project may spell acronyms as it likes
		return e
	}
	origin := r.tree.Before(id)
	if origin == p {
		return e
	}
	if e.was = r.wantedBefore(origin); e.was == "" || e.was == e.wants {
		return e
	}
	if e.label = e.defines(e.was); e.label != nil {
		if stem(origin) == stem(p) {
			e.wants = join(parent(e.wants), last(e.definedName()))
		}
		e.reshape(r.wasClass)
	}
	return e
}

// defines gives the place where a file defines a constant; nil for none.
func (e *entry) defines(name string) *declared {
	best := (*declared)(nil)
	for i := 1; i < len(e.spaces); i++ {
		if strings.EqualFold(e.spaces[i], name) && (best == nil || e.file.spaces[i].more && !e.file.spaces[best.at].more) {
			best = &declared{e.id, i}
		}
	}
	if best != nil {
		return best
	}
	for i := range e.values {
		if strings.EqualFold(e.values[i], name) {
			return &declared{e.id, -1 - i}
		}
	}
	return nil
}

// before answers for the tree before all moves; nil for that tree itself.
func (r *Resolver) before() *Resolver {
	r.underOnce.Do(func() {
		tree := r.tree.Project
		for tree.IsOverlay() && len(tree.Files) > 0 {
			under, _ := tree.Origin(0)
			if under == nil {
				break
			}
			tree = under
		}
		if tree != r.tree.Project {
			r.under = New(lang.NewTree(tree, r.tree.Declared, Family()))
			r.under.index()
		}
	})
	return r.under
}

// wasClass says whether a constant was a class before the moves.
func (r *Resolver) wasClass(full string) bool {
	under := r.before()
	return under != nil && slices.ContainsFunc(under.ix.consts[full], func(d declared) bool {
		return d.at > 0 && under.ix.files[d.file].file.spaces[d.at].class
	})
}

// wantedBefore is the constant that a file had to define where it was before the moves.
func (r *Resolver) wantedBefore(origin string) string {
	if under := r.before(); under != nil {
		return under.wants(origin)
	}
	return ""
}

// unknownLoader is a place that gives a loader a folder of which nothing is known.
type unknownLoader struct {
	path string
	at   int
}

// readLoaders reads where programs say that files and constants are looked for: $LOAD_PATH, autoload_paths, the loaders
// of libraries.
func (r *Resolver) readLoaders(ids []project.FileID, files []*file) {
	for i, id := range ids {
		f := files[i]
		if f == nil {
			continue
		}
		from := r.tree.Path(id)
		for k := range f.paths {
			x := &f.paths[k]
			if x.role == forUse || x.open {
				continue
			}
			dir, ok := r.placeOf(from, f, &x.place, 0)
			if !ok {
				continue
			}
			switch x.role {
			case forAutoload:
				r.addRoot(root{dir: dir, space: x.namespace})
				fallthrough
			case forRequire:
				if r.tree.IsDir(dir) && !slices.Contains(r.extra, dir) {
					r.extra = append(r.extra, dir)
				}
			case forCollapse:
				r.table.collapse = append(r.table.collapse, dir)
			case forIgnore:
				r.table.ignore = append(r.table.ignore, dir)
			}
		}
		for _, at := range f.loaders {
			if !r.understood(id, f, at) {
				r.unknown = append(r.unknown, unknownLoader{from, at})
			}
		}
		if f.gem {
			r.addRoot(root{dir: path.Dir(from), gem: true})
		}
		if u := r.table.unitOf(from); f.autoLib && u != nil {
			r.addRoot(root{dir: path.Join(u.dir, "lib")})
			for _, name := range f.autoLibBut {
				r.table.ignore = append(r.table.ignore, path.Join(u.dir, "lib", name))
			}
		}
	}
	for _, dir := range r.table.ignore {
		r.table.autoBy[dir] = nil
	}
}

// understood says whether the folder is known that a line gives to a loader: the lines of a list go on up to the end of
// the statement.
func (r *Resolver) understood(id project.FileID, f *file, at int) bool {
	content, err := r.tree.Content(id)
	if err != nil {
		return false
	}
	end := text.LineEnd(content, at)
	if n := bytes.IndexByte(content[at:end], '['); n >= 0 && bytes.IndexByte(content[at+n:end], ']') < 0 {
		if n := bytes.IndexByte(content[at:], ']'); n >= 0 {
			end = at + n
		}
	}
	for i := range f.paths {
		x := &f.paths[i]
		if x.at.Start < at || x.at.Start >= end || x.open || x.role == forUse {
			continue
		}
		if _, ok := r.placeOf(r.tree.Path(id), f, &x.place, 0); ok {
			return true
		}
	}
	return false
}
