package php

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file knows who declares which name.

// entry is what a file says of names, with those that it has once it has come to its place: the namespace and the class
// of a file that was found by its path follow the path, before the text is edited too.
type entry struct {
	*file
	label  int      // the declaration by whose name the file is found, or was; -1 for none
	spaces []string // of the blocks
	class  string   // the last part of the label's name
	fits   bool     // the file is found by the path
	loose  bool     // it would be found by the path no more, and by nothing else
}

// index is what the files of a tree declare.
type index struct {
	once   sync.Once
	files  map[project.FileID]*entry
	broken map[project.FileID]error
	names  [spaces]map[string][]declared // by the keys of names in full
	// within are the files that declare something in a namespace or below it, by its name in lower case.
	within map[string][]project.FileID
}

// declared is a declaration of a file.
type declared struct {
	file project.FileID
	at   int
}

// isPHP says whether a file is read as PHP, by its ending.
func isPHP(p string) bool {
	switch strings.ToLower(path.Ext(p)) {
	case ".php", ".phtml", ".inc", ".module", ".install", ".theme", ".php5", ".php7", ".phps":
		return true
	}
	return false
}

// index reads all PHP files of the tree when the first name is asked for.
func (r *Resolver) index() *index {
	r.ix.once.Do(func() {
		ids, files, errs := lang.Indexes[*file](r.tree, isPHP)
		ix := &r.ix
		ix.files, ix.broken = map[project.FileID]*entry{}, map[project.FileID]error{}
		ix.within = map[string][]project.FileID{}
		for s := range ix.names {
			ix.names[s] = map[string][]declared{}
		}
		for i, id := range ids {
			if errs[i] != nil {
				ix.broken[id] = errs[i]
				continue
			}
			e := r.entryOf(id, files[i])
			ix.files[id] = e
			for k := range e.declared {
				d := &e.declared[k]
				name := e.nameOf(k)
				key := d.space.key(name)
				if all := ix.names[d.space][key]; len(all) == 0 || all[len(all)-1].file != id {
					ix.names[d.space][key] = append(all, declared{id, k})
				}
				for around := parent(strings.ToLower(name)); around != ""; around = parent(around) {
					if all := ix.within[around]; len(all) == 0 || all[len(all)-1] != id {
						ix.within[around] = append(all, id)
					}
				}
			}
		}
	})
	return &r.ix
}

// entryOf works out which names a file has at its path.
func (r *Resolver) entryOf(id project.FileID, f *file) *entry {
	e := &entry{file: f, label: -1, spaces: make([]string, len(f.blocks))}
	for i := range f.blocks {
		e.spaces[i] = f.blocks[i].name
	}
	p := r.tree.Path(id)
	// The text decides while it fits its place. Where it does not, and did before the file came here, it has not been
	// written anew yet: then the place says what the names will be, so that who uses them can be written first.
	if e.label = r.load.label(p, f); e.label >= 0 {
		e.fits, e.class = true, f.declared[e.label].name
		return e
	}
	before, origin := r.before(id)
	if origin == "" {
		return e
	}
	if e.label = before.label(origin, f); e.label < 0 {
		return e
	}
	d := &f.declared[e.label]
	e.class = d.name
	name, known := r.load.expected(p, f.name(d))
	if !known { // it stays as it is, if a list has it
		e.loose = !r.load.lists(p)
		return e
	}
	e.spaces[d.block], e.class = parent(name), short(name)
	return e
}

// before gives how classes were found in the tree that this one is laid over, and the path that a file had there; empty
// for a file that is new.
func (r *Resolver) before(id project.FileID) (*autoload, string) {
	under, old := r.tree.Origin(id)
	if under == nil {
		return &r.load, r.tree.Path(id)
	}
	if old == project.None {
		return nil, ""
	}
	r.underOnce.Do(func() { r.under, _ = readAutoload(under) })
	return &r.under, under.Path(old)
}

// label gives the class of a file by whose name it is found; -1 for none.
func (a *autoload) label(p string, f *file) int {
	for i := range f.declared {
		d := &f.declared[i]
		if d.space == class && !d.full && a.finds(p, f.name(d)) {
			return i
		}
	}
	return -1
}

// rooted says whether a path lies below a root of names.
func (a *autoload) rooted(p string) bool {
	return slices.ContainsFunc(a.roots, func(r root) bool { _, in := below(r.dir, p); return in })
}

// nameOf is the name of a declaration in full, once the file has come to its place.
func (e *entry) nameOf(i int) string {
	d := &e.declared[i]
	switch {
	case d.full:
		return d.name
	case i == e.label:
		return join(e.spaces[d.block], e.class)
	}
	return join(e.spaces[d.block], d.name)
}

// blockOf is a block of the file in the namespace that it has once it has come to its place.
func (e *entry) blockOf(i int) *block {
	b := e.blocks[i]
	b.name = e.spaces[i]
	return &b
}

// declares gives who declares a name in full, as a file sees it: itself, else the file that is found by its path.
func (ix *index) declares(from project.FileID, s space, name string) []declared {
	all := ix.names[s][s.key(name)]
	if len(all) < 2 {
		return all
	}
	// several files that declare one class are mostly fixtures of tests, each loaded by its own test
	var found []declared
	for _, d := range all {
		if d.file == from {
			return []declared{d}
		}
		if ix.files[d.file].fits {
			found = append(found, d)
		}
	}
	if len(found) == 1 {
		return found
	}
	return all
}

// find gives who declares what a name means, and under which name.
func (ix *index) find(from project.FileID, s space, m meaning) ([]declared, string) {
	if all := ix.declares(from, s, m.name); len(all) > 0 {
		return all, m.name
	}
	if m.global != "" {
		if all := ix.declares(from, s, m.global); len(all) > 0 {
			return all, m.global
		}
	}
	if s == class { // f::class is the name of a function too
		if all := ix.declares(from, function, m.name); len(all) > 0 {
			return all, m.name
		}
	}
	return nil, m.name
}

// target is where declarations are.
func (r *Resolver) target(all []declared) lang.Target {
	switch len(all) {
	case 0:
		return lang.No(lang.ToPackage)
	case 1:
		return lang.File(all[0].file)
	}
	ids := make([]project.FileID, len(all))
	for i, d := range all {
		ids[i] = d.file
	}
	return lang.Set(path.Dir(r.tree.Path(ids[0])), ids)
}
