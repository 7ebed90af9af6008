package java

import (
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// index is what the files of a tree declare.
type index struct {
	once   sync.Once
	ids    []project.FileID // in their order
	files  map[project.FileID]*entry
	broken map[project.FileID]error
	types  map[string][]declared       // by their names in full
	within map[string][]project.FileID // the files of a package and of those below it
	own    map[string][]project.FileID // the files of a package
	named  map[string]bool             // the names of types, without what stands before
	top    map[string]bool             // of those outside of others
	fields map[string]bool             // the names of fields
	supers sync.Map                    // of a type: the types that it is built on
}

// declared is a type of a file.
type declared struct {
	file project.FileID
	at   int
}

// index reads all Java files of the tree when the first name is asked for.
func (r *Resolver) index() *index {
	r.ix.once.Do(func() {
		ix := &r.ix
		ids, files, errs := lang.Indexes[*file](r.tree, isJava)
		ix.ids = ids
		ix.files, ix.broken = map[project.FileID]*entry{}, map[project.FileID]error{}
		ix.types, ix.own = map[string][]declared{}, map[string][]project.FileID{}
		ix.within = map[string][]project.FileID{}
		ix.named, ix.top, ix.fields = map[string]bool{}, map[string]bool{}, map[string]bool{}
		r.roots = findRoots(r.places(ix.ids, files))
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
			e := entries[i]
			if e.module {
				continue
			}
			ix.files[id] = e
			ix.own[e.pkg] = append(ix.own[e.pkg], id)
			for around := e.pkg; around != ""; around = parent(around) {
				ix.within[around] = append(ix.within[around], id)
			}
			for k := range e.types {
				if e.isSeen(k) {
					name := e.nameOf(k)
					ix.types[name] = append(ix.types[name], declared{id, k})
					ix.named[last(name)] = true
					if e.types[k].owner < 0 {
						ix.top[last(name)] = true
					}
				}
			}
			for k := range e.members {
				if m := &e.members[k]; !m.method {
					ix.fields[m.name] = true
				}
			}
		}
	})
	return &r.ix
}

// places gives the folder and the package of each file: where it came from, if it agreed with that.
func (r *Resolver) places(ids []project.FileID, files []*file) func(func(dir, pkg string) bool) {
	return func(yield func(dir, pkg string) bool) {
		for i, id := range ids {
			f := files[i]
			if f == nil || f.module {
				continue
			}
			dir := project.Dir(r.tree.Path(id))
			if _, fits := rootBy(dir, f.pkg); !fits || f.pkg == "" {
				dir = project.Dir(r.tree.Before(id))
			}
			if !yield(dir, f.pkg) {
				return
			}
		}
	}
}

// origin is how a name comes to mean what it means.
type origin uint8

const (
	byNothing   origin = iota // it is none of the tree
	byType                    // the file declares it, in a type around or beside
	byHeritage                // a type around inherits it
	byImport                  // an import names it
	byNeighbour               // another file of the package declares it
	byStar                    // an import of all of a package or a type has it
	byFullName
)

// found is what a name means.
type found struct {
	all   []declared // several where the tree has several types of a name
	by    origin
	via   int // the import
	parts int // of the chain, which name it
}

// lookup says what a simple name means in the body of a type (JLS 6.4, 6.5.5).
func (r *Resolver) lookup(id project.FileID, e *entry, owner int, name string) found {
	for at := owner; at >= 0; at = e.types[at].owner {
		d := &e.types[at]
		switch {
		case slices.Contains(d.params, name):
			return found{}
		case d.name == name:
			return found{all: []declared{{id, at}}, by: byType}
		}
		if inner, has := e.inner[inside{at, name}]; has {
			return found{all: []declared{{id, inner}}, by: byType}
		}
		if r.ix.named[name] {
			if all := r.inherited(declared{id, at}, name, 0); len(all) > 0 {
				return found{all: all, by: byHeritage}
			}
		}
	}
	for i := range e.imports {
		if one := &e.imports[i]; !one.star && last(one.name) == name {
			// an import of a static member may be one of a type too
			if all := r.declares(id, one.name); len(all) > 0 || !one.static {
				return found{all: all, by: byImport, via: i}
			}
		}
	}
	if at, has := e.inner[inside{-1, name}]; has {
		return found{all: []declared{{id, at}}, by: byType}
	}
	if !r.ix.named[name] {
		return found{}
	}
	if all := r.declares(id, join(e.pkg, name)); len(all) > 0 {
		return found{all: all, by: byNeighbour}
	}
	for i := range e.imports {
		one := &e.imports[i]
		if !one.star {
			continue
		}
		if all := r.declares(id, one.name+"."+name); len(all) > 0 {
			return found{all: all, by: byStar, via: i}
		}
		if base := r.declares(id, one.name); len(base) > 0 {
			if all := r.inherited(base[0], name, 0); len(all) > 0 {
				return found{all: all, by: byStar, via: i}
			}
		}
	}
	return found{}
}

// declares gives who declares a type, as a file sees it: itself, else what lies below the same root.
func (r *Resolver) declares(from project.FileID, name string) []declared {
	all := r.ix.types[name]
	if len(all) < 2 {
		return all
	}
	root := r.rootOf(r.ix.files[from])
	var near []declared
	for _, d := range all {
		if d.file == from {
			return []declared{d}
		}
		if r.rootOf(r.ix.files[d.file]) == root {
			near = append(near, d)
		}
	}
	if len(near) > 0 {
		return near
	}
	// a module's tests see what the module has
	module := func(root string) string {
		before, _, _ := strings.Cut(root+"/", "src/")
		return before
	}
	for _, d := range all {
		if module(r.rootOf(r.ix.files[d.file])) == module(root) {
			near = append(near, d)
		}
	}
	if len(near) > 0 {
		return near
	}
	return all
}

// rootOf is the root of a file.
func (r *Resolver) rootOf(e *entry) string {
	if e == nil {
		return ""
	}
	dir := project.Dir(e.path)
	if root, ok := rootBy(dir, e.pkg); ok {
		return root
	}
	root, _ := r.roots.of(dir)
	return root
}

// deepest is how far types are followed that are built on others.
const deepest = 60

// inherited gives the type of a name that a type inherits, by what it is built on.
func (r *Resolver) inherited(d declared, name string, depth int) []declared {
	if depth > deepest {
		return nil
	}
	for _, base := range r.supersOf(d, depth) {
		e := r.ix.files[base.file]
		if at, has := e.inner[inside{base.at, name}]; has {
			if e.types[at].sees == private {
				continue
			}
			return []declared{{base.file, at}}
		}
		if all := r.inherited(base, name, depth+1); len(all) > 0 {
			return all
		}
	}
	return nil
}

// supersOf are the types of the tree that a type is built on.
func (r *Resolver) supersOf(d declared, depth int) []declared {
	if known, there := r.ix.supers.Load(d); there {
		return known.([]declared)
	}
	if depth > deepest {
		return nil
	}
	e := r.ix.files[d.file]
	var out []declared
	for _, i := range e.types[d.at].supers {
		u := &e.uses[i]
		// what it is built on is looked up around it: its own types are not known there yet
		if f := r.means(d.file, e, u, e.types[d.at].owner); len(f.all) > 0 {
			if base := r.deep(f, u); base != d {
				out = append(out, base)
			}
		}
	}
	r.ix.supers.Store(d, out)
	return out
}

// means says what the first part of a use means, or the longest beginning of it that is a name in full.
func (r *Resolver) means(id project.FileID, e *entry, u *use, owner int) found {
	if u.hidden {
		return found{}
	}
	first := partsOf(u.text, 1)
	f := r.lookup(id, e, owner, first)
	if f.by != byNothing {
		if f.parts = 1; !u.sure && r.isField(id, e, owner, first) {
			return found{}
		}
		return f
	}
	if u.parts == 1 || !u.sure && r.isField(id, e, owner, first) {
		return found{}
	}
	if _, known := r.ix.within[first]; !known {
		return found{}
	}
	for k := 2; k <= int(u.parts); k++ {
		name := partsOf(u.text, k)
		if all := r.declares(id, name); len(all) > 0 {
			return found{all: all, by: byFullName, parts: k}
		}
	}
	return found{}
}

// deep gives the type that all of a chain names: the one that was found, or one in it.
func (r *Resolver) deep(f found, u *use) declared {
	d := f.all[0]
	for k := f.parts; k < int(u.parts); k++ {
		e := r.ix.files[d.file]
		name := last(partsOf(u.text, k+1))
		if at, has := e.inner[inside{d.at, name}]; has {
			d = declared{d.file, at}
			continue
		}
		all := r.inherited(d, name, 0)
		if len(all) == 0 {
			return d
		}
		d = all[0]
	}
	return d
}

// isField says whether a name is that of a field, in a type around or in one that it is built on.
func (r *Resolver) isField(id project.FileID, e *entry, owner int, name string) bool {
	if !r.ix.fields[name] {
		return false
	}
	for at := owner; at >= 0; at = e.types[at].owner {
		if r.hasField(declared{id, at}, name, 0) {
			return true
		}
	}
	return false
}

func (r *Resolver) hasField(d declared, name string, depth int) bool {
	e := r.ix.files[d.file]
	if sees, has := e.fields[inside{d.at, name}]; has && (depth == 0 || sees != private) {
		return true
	}
	return depth < deepest && slices.ContainsFunc(r.supersOf(d, depth), func(base declared) bool {
		return r.hasField(base, name, depth+1)
	})
}
