package csharp

import (
	"path"
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
	own    map[string][]project.FileID // the files of a namespace
	spaces map[string]bool             // all namespaces, with those that stand around others
	named  map[string]bool             // the names of types, without what stands before
	nested map[string]bool             // the names of those that stand in others
	parts  map[string]bool             // the names of namespaces, without what stands before
	values map[string]bool             // the names of fields, properties and methods
	extend map[string][]declared       // the types that have a method that extends others, by its name
	supers sync.Map                    // of a type: the types that it is built on
}

// declared is a type of a file.
type declared struct {
	file project.FileID
	at   int
}

// entry is what a file says of names, with those that it has once it has come to its place: a namespace that agreed
// with its folder follows the folder, before the text is edited too.
type entry struct {
	*file
	path   string
	units  []*unit
	sight  string   // the projects, for what all of their files see alike
	spaces []string // the namespaces in full
	follow []bool   // that one agreed with the folder
	wants  string   // the namespace that its folder has; empty where nothing is known
	inner  map[inside][]int
	values map[inside]bool
	brings []bring // what its usings bring
	cond   [][2]int
}

// inside is a name in a type.
type inside struct {
	owner int
	name  string
}

// bring is what a using brings: a namespace, or a type.
type bring struct {
	space  string // in full; empty for a type
	types  []declared
	alias  string
	static bool
	level  int  // the namespace of the file in which it stands
	known  bool // it is one of the tree
}

// index reads all files of C# of the tree when the first name is asked for.
func (r *Resolver) index() *index {
	r.ix.once.Do(func() {
		ix := &r.ix
		ids, files, errs := lang.Indexes[*file](r.tree, isSource)
		ix.ids = ids
		ix.files, ix.broken = map[project.FileID]*entry{}, map[project.FileID]error{}
		ix.types, ix.own = map[string][]declared{}, map[string][]project.FileID{}
		ix.spaces, ix.named, ix.values = map[string]bool{}, map[string]bool{}, map[string]bool{}
		ix.parts, ix.nested, ix.extend = map[string]bool{}, map[string]bool{}, map[string][]declared{}
		r.readUnits()
		r.guessSpaces(ix.ids, files)
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
		parallel.Do(len(ix.ids), func(i int) {
			if entries[i] != nil {
				r.readUsings(ix.ids[i], entries[i])
			}
		})
		r.readGlobals()
	})
	return &r.ix
}

// add notes what a file declares.
func (ix *index) add(id project.FileID, e *entry) {
	ix.files[id] = e
	seen := map[string]bool{}
	for _, name := range e.spaces {
		if seen[name] {
			continue
		}
		seen[name] = true
		for around := name; around != ""; around = parent(around) {
			ix.spaces[around] = true
			ix.parts[last(around)] = true
		}
	}
	spaces := map[string]bool{}
	for k := range e.types {
		d := &e.types[k]
		if d.owner < 0 && !spaces[e.spaces[d.space]] {
			spaces[e.spaces[d.space]] = true
			ix.own[e.spaces[d.space]] = append(ix.own[e.spaces[d.space]], id)
		}
		name := e.nameOf(k)
		ix.types[name] = append(ix.types[name], declared{id, k})
		ix.named[d.name] = true
		if d.owner >= 0 {
			ix.nested[d.name] = true
		}
		if short, is := strings.CutSuffix(d.name, "Attribute"); is {
			ix.named[short] = true
		}
	}
	for k := range e.members {
		m := &e.members[k]
		ix.values[m.name] = true
		if m.extends {
			d := declared{id, m.owner}
			if !slices.Contains(ix.extend[m.name], d) {
				ix.extend[m.name] = append(ix.extend[m.name], d)
			}
		}
	}
}

// guessSpaces gives projects that do not say so the namespace that most of their files begin with, where that is not
// the one that the builder takes.
func (r *Resolver) guessSpaces(ids []project.FileID, files []*file) {
	type tally struct {
		fits, all int
		other     map[string]int
	}
	tallies := map[*unit]*tally{}
	for i, id := range ids {
		f := files[i]
		if f == nil {
			continue
		}
		now := r.tree.Path(id)
		origin := r.tree.Before(id)
		u := nearest(r.table.was, path.Dir(origin))
		if u == nil || nearest(r.table.at, path.Dir(now)) != u {
			continue // one that has come from another project says nothing of this one, nor one that has gone of that
		}
		before, _ := tailOf(path.Dir(u.was), path.Dir(origin))
		tails := []string{before}
		if tail, is := tailOf(u.dir, path.Dir(now)); is && tail != before { // the text may be written already
			tails = append(tails, tail)
		}
		t := tallies[u]
		if t == nil {
			t = &tally{other: map[string]int{}}
			tallies[u] = t
		}
		for k := range f.spaces[1:] {
			name := f.spaceName(k + 1)
			t.all++
			fits := false
			for _, tail := range tails {
				fits = fits || name == join(u.space, tail)
			}
			if fits {
				t.fits++
				continue
			}
			for _, tail := range tails {
				if head, is := strings.CutSuffix("."+name, "."+tail); tail == "" {
					t.other[name]++
				} else if is && head != "" {
					t.other[head[1:]]++
				}
			}
		}
	}
	for u, t := range tallies {
		best, most := "", 0
		for name, n := range t.other {
			if n > most || n == most && name < best {
				best, most = name, n
			}
		}
		if most > t.fits && most*2 > t.all {
			u.space = best
			u.stated = false
		}
	}
}

// tailOf gives the part of a namespace that a folder below a project's has.
func tailOf(top, dir string) (tail string, below bool) {
	rest, below := dir, true
	if dir == top {
		return "", true
	}
	if top != "." {
		rest, below = strings.CutPrefix(dir, top+"/")
	}
	for part := range strings.SplitSeq(rest, "/") {
		tail = join(tail, legal(part))
	}
	return tail, below
}

// entryOf works out which names a file has at its place.
func (r *Resolver) entryOf(id project.FileID, f *file) *entry {
	p := r.tree.Path(id)
	origin := r.tree.Before(id)
	e := &entry{file: f, path: p, units: r.unitsOf(p, origin), inner: map[inside][]int{}, values: map[inside]bool{}}
	for _, u := range e.units {
		e.sight += u.path + "\n"
	}
	if content, err := r.tree.Content(id); err == nil {
		e.cond = conditional(content)
	}
	for i := range f.types {
		d := &f.types[i]
		e.inner[inside{d.owner, d.name}] = append(e.inner[inside{d.owner, d.name}], i)
	}
	for i := range f.members {
		e.values[inside{f.members[i].owner, f.members[i].name}] = true
	}
	if len(e.units) > 0 {
		e.wants, _ = e.units[0].expected(path.Dir(p))
	}
	was, known := r.expectedBefore(origin)
	for i := range f.spaces {
		name := f.spaceName(i)
		follows := false
		if i > 0 && e.wants != "" {
			follows = name == e.wants || known && name == was
			if known && name == was && path.Dir(p) != path.Dir(origin) {
				name = e.wants
			}
		}
		e.spaces, e.follow = append(e.spaces, name), append(e.follow, follows)
	}
	// what stands in a namespace that follows goes with it
	for i := range f.spaces {
		if s := &f.spaces[i]; i > 0 && s.owner > 0 && !e.follow[i] && e.spaces[s.owner] != f.spaceName(s.owner) {
			e.spaces[i] = join(e.spaces[s.owner], s.name)
		}
	}
	return e
}

// expectedBefore is the namespace that a file had to have where it came from.
func (r *Resolver) expectedBefore(origin string) (string, bool) {
	dir := path.Dir(origin)
	best := nearest(r.table.was, dir)
	if best == nil {
		return "", false
	}
	there := *best
	there.dir = path.Dir(best.was)
	return there.expected(dir)
}

// spaceOf is the namespace of a type, once its file has come to its place.
func (ix *index) spaceOf(d declared) string {
	e := ix.files[d.file]
	return e.spaces[e.types[d.at].space]
}

// nameOf is the name of a type in full, once the file has come to its place.
func (e *entry) nameOf(at int) string { return join(e.spaces[e.types[at].space], e.file.path(at)) }

// sees says whether what a file declares can be named in another: it is of the same project, or of one that it builds
// on. A file of no project sees all, and is seen by its like alone.
func (e *entry) sees(other *entry) bool {
	if len(e.units) == 0 {
		return true
	}
	for _, u := range e.units {
		for _, v := range other.units {
			if u == v || u.sees[v] {
				return true
			}
		}
	}
	return false
}

// readUsings says what the usings of a file bring.
func (r *Resolver) readUsings(id project.FileID, e *entry) {
	for i := range e.usings {
		e.brings = append(e.brings, r.bringOf(id, e, &e.usings[i]))
	}
}

// bringOf says what a using brings.
func (r *Resolver) bringOf(id project.FileID, e *entry, one *using) bring {
	b := bring{alias: one.alias, static: one.static, level: one.space}
	if one.name == "" {
		return b
	}
	arity := 0
	if one.typed && one.use >= 0 {
		arity = int(e.uses[one.use].arity)
	}
	// names are looked up in the namespaces around the using, without what other usings bring
	around := []string{""}
	if !one.rooted {
		around = nil
		for level := one.space; level >= 0; level = e.file.spaces[level].owner {
			from, to := e.spaces[level], ""
			if owner := e.file.spaces[level].owner; owner >= 0 {
				to = e.spaces[owner]
			}
			for name := from; name != to; name = parent(name) {
				around = append(around, name)
			}
		}
		around = append(around, "")
	}
	for _, outer := range around {
		name := join(outer, one.name)
		first := join(outer, partsOf(one.name, 1))
		if b.types = r.declares(id, name, arity); len(b.types) > 0 {
			b.known = true
			return b
		}
		if r.ix.spaces[name] && r.seesSpace(id, name) {
			b.space, b.known = name, true
			return b
		}
		if r.ix.spaces[first] && outer != "" || len(r.ix.types[first]) > 0 {
			// a member of it, or one of a type in it
			if all := r.deepest(id, name, arity); len(all) > 0 {
				b.types, b.known = all, true
			}
			return b
		}
	}
	b.space = one.name
	return b
}

// deepest gives the type that the longest beginning of a name declares.
func (r *Resolver) deepest(id project.FileID, name string, arity int) []declared {
	for ; name != ""; name = parent(name) {
		if all := r.declares(id, name, arity); len(all) > 0 {
			return all
		}
	}
	return nil
}

// readGlobals gathers what counts in all files of a project: usings, and the assemblies that see what is internal.
func (r *Resolver) readGlobals() {
	r.globals = map[*unit][]bring{}
	for _, id := range r.ix.ids {
		e := r.ix.files[id]
		if e == nil {
			continue
		}
		for _, u := range e.units {
			for _, name := range e.friends {
				u.friends[name] = true
			}
		}
		for i := range e.usings {
			if e.usings[i].global {
				b := e.brings[i]
				b.level = 0
				for _, u := range e.units {
					r.globals[u] = append(r.globals[u], b)
				}
				if len(e.units) == 0 {
					r.globals[nil] = append(r.globals[nil], b)
				}
			}
		}
	}
	for _, u := range r.units {
		for _, one := range u.usings {
			b := bring{alias: one.alias, static: one.static, space: one.name}
			if all := r.ix.types[one.name]; len(all) > 0 {
				b.types, b.space, b.known = all, "", true
			} else {
				b.known = r.ix.spaces[one.name]
			}
			r.globals[u] = append(r.globals[u], b)
		}
	}
}

// declares gives who declares a type with so many type parameters, as a file sees it; anyArity asks for none.
func (r *Resolver) declares(from project.FileID, name string, arity int) []declared {
	all := r.ix.types[name]
	if len(all) == 0 {
		return nil
	}
	e := r.ix.files[from]
	var out []declared
	for _, d := range all {
		other := r.ix.files[d.file]
		if (arity == anyArity || other.types[d.at].arity == arity) && (e == nil || e.sees(other)) {
			out = append(out, d)
		}
	}
	if len(out) < 2 || e == nil {
		return out
	}
	// of two with one name the project's own counts
	var near []declared
	for _, d := range out {
		if other := r.ix.files[d.file]; len(e.units) > 0 && len(other.units) > 0 && other.units[0] == e.units[0] {
			near = append(near, d)
		}
	}
	if len(near) > 0 {
		return near
	}
	return out
}

// anyArity asks for types with any number of type parameters.
const anyArity = -1
