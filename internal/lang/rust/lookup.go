package rust

import (
	"slices"

	"crookedshelf/internal/project"
)

// howFound says how a part of a path leads on.
type howFound uint8

const (
	byKeyword howFound = iota // crate, self, super
	byKid                     // a module that a module holds
	byItem                    // something that a scope declares
	byUse                     // a use brings it
	byGlob                    // a use of all that is somewhere brings it
	byCrate                   // the name of a crate
)

// thing is what a name stands for.
type thing struct {
	mod     *module // a module
	item    *item   // or an item,
	owner   *module // of this module
	variant bool    // or a variant of the enum that the item is
	library bool    // or something that lies elsewhere
	made    bool    // or something of the owner that no text declares: a macro may
}

// file is the file that a thing is declared in.
func (t *thing) file() project.FileID {
	if t.mod != nil {
		return t.mod.file
	}
	if t.owner != nil {
		return t.owner.file
	}
	return project.None
}

func (t *thing) same(other *thing) bool {
	return t.mod == other.mod && t.item == other.item && t.variant == other.variant && t.library == other.library &&
		t.made == other.made && (!t.made || t.owner == other.owner)
}

// found is a thing, how it was found and how far it is seen there.
type found struct {
	thing
	how   howFound
	reach *module // nil for all
	glob  *use    // the use that brings it, of a glob
	by    *module // the module that the use stands in
}

// where is the file that a thing is declared in, or brought by.
func (f *found) where() project.FileID {
	if id := f.file(); id != project.None || f.by == nil {
		return id
	}
	return f.by.file
}

// seenFrom says whether it is seen from a module.
func (f *found) seenFrom(from *module) bool {
	return f.reach == nil || from != nil && from.within(f.reach)
}

// query is a question that is asked. What was asked in it before is known; what is being asked has no answer.
type query struct {
	known map[asking][]found
}

func newQuery() *query { return &query{known: map[asking][]found{}} }

type asking struct {
	m    *module
	use  int32
	name string // of a use of all that is somewhere: what is looked for
}

// once asks once.
func (q *query) once(key asking, ask func() []found) []found {
	if all, asked := q.known[key]; asked {
		return all
	}
	q.known[key] = nil
	all := ask()
	q.known[key] = all
	return all
}

// reachOf is the module in which something is seen that a module declares; nil for all.
func (r *Resolver) reachOf(v visibility, in *module) *module {
	switch v.reach {
	case public:
		return nil
	case inCrate:
		return in.crate.root
	case inSuper:
		if in.parent != nil {
			return in.parent
		}
		return in
	case inModule:
		at := in
		for i, part := range splitPath(v.path) {
			switch {
			case part == "crate":
				at = in.crate.root
			case part == "self":
			case part == "super" && at.parent != nil:
				at = at.parent
			default:
				from := at
				if i == 0 {
					from = in.crate.root
				}
				if at = from.kid(part); at == nil {
					return in
				}
			}
		}
		return at
	}
	return in
}

// member gives what a module has under a name.
func (r *Resolver) member(m *module, name string, q *query) []found {
	return r.declared(m, m.scope, name, q)
}

// declared gives what a scope of a module has under a name.
func (r *Resolver) declared(m *module, sc int32, name string, q *query) (out []found) {
	if sc == m.scope {
		if k := m.kid(name); k != nil {
			out = append(out, found{thing: thing{mod: k}, how: byKid, reach: r.reachOf(k.sees, m)})
		}
	}
	for _, ref := range m.text.decls[nameIn{name, sc}] {
		switch ref.of {
		case ofItem:
			one := &m.text.items[ref.at]
			if one.kind == isExternCrate {
				out = append(out, r.crateNamed(m, one.original, found{how: byItem, reach: r.reachOf(one.sees, m)})...)
				continue
			}
			reach := r.reachOf(one.sees, m)
			if one.kind == isMacro { // how far it is seen is another question
				reach = nil
			}
			out = append(out, found{thing: thing{item: one, owner: m}, how: byItem, reach: reach})
		case ofUse:
			u := &m.text.uses[ref.at]
			reach := r.reachOf(m.text.stmts[u.stmt].sees, m)
			out = append(out, q.once(asking{m.holder(), ref.at, ""}, func() (all []found) {
				for _, t := range r.leads(m, u, q) {
					all = append(all, found{thing: t, how: byUse, reach: reach, by: m})
				}
				return all
			})...)
		}
	}
	if m.parent == nil && sc == 0 {
		for _, one := range r.exported[m.crate] {
			if one.item.name == name {
				out = append(out, found{thing: one, how: byItem})
			}
		}
	}
	if len(out) == 0 || len(m.text.globs[sc]) == 0 {
		return append(out, r.byGlobs(m, sc, name, q)...)
	}
	// what is declared hides what comes by a use of all that is somewhere, of its own kind alone: a function hides no module
	types := slices.ContainsFunc(out, func(f found) bool { return f.isType() })
	modules := !slices.ContainsFunc(out, func(f found) bool { return f.mod == nil })
	if types && !modules {
		return out
	}
	for _, f := range r.byGlobs(m, sc, name, q) {
		if f.isType() && !types || !f.isType() && modules {
			out = append(out, f)
		}
	}
	return out
}

// isType says whether it is known among types and modules, and not among values or macros.
func (f *found) isType() bool {
	if f.item == nil {
		return true
	}
	switch f.item.kind {
	case isFn, isConst, isStatic, isMacro:
		return false
	}
	return !f.variant
}

// byGlobs gives what the uses of all that is somewhere bring into a scope.
func (r *Resolver) byGlobs(m *module, sc int32, name string, q *query) (out []found) {
	for _, at := range m.text.globs[sc] {
		u := &m.text.uses[at]
		reach := r.reachOf(m.text.stmts[u.stmt].sees, m)
		out = append(out, q.once(asking{m.holder(), at, name}, func() (all []found) {
			for _, t := range r.leads(m, u, q) {
				switch {
				case t.mod != nil:
					for _, f := range r.member(t.mod, name, q) {
						if f.seenFrom(m) {
							all = append(all, found{thing: f.thing, how: byGlob, reach: narrower(reach, f.reach), glob: u, by: m})
						}
					}
				case t.item != nil && t.item.kind == isEnum && !t.variant && slices.Contains(t.item.variants, name):
					all = append(all, found{thing: thing{item: t.item, owner: t.owner, variant: true}, how: byGlob, reach: reach,
						glob: u, by: m})
				}
			}
			return all
		})...)
	}
	return distinct(out)
}

// narrower gives the narrower of two reaches of which one lies in the other.
func narrower(a, b *module) *module {
	switch {
	case a == nil:
		return b
	case b == nil || a.within(b):
		return a
	}
	return b
}

// distinct are things that several uses bring, each once.
func distinct(all []found) []found {
	if len(all) < 2 {
		return all
	}
	out := all[:1]
	for _, f := range all[1:] {
		if !slices.ContainsFunc(out, func(o found) bool { return o.same(&f.thing) }) {
			out = append(out, f)
		}
	}
	return out
}

// leads gives what a use leads to.
func (r *Resolver) leads(m *module, u *use, q *query) (out []thing) {
	s := &m.text.stmts[u.stmt]
	w := r.walk(m, s.scope, u.path, s.global, true, q)
	if w.rest && !u.glob {
		return []thing{{owner: w.last[0].mod, made: true}}
	}
	for i := range w.last {
		if u.self && w.last[i].mod == nil && w.last[i].item != nil && w.other() != nil && w.hops[len(w.hops)-1].mod != nil {
			continue // self brings the module alone
		}
		out = append(out, w.last[i].thing)
	}
	return out
}

// walked is what a path leads to.
type walked struct {
	hops   []found // what each part leads to, up to a thing that is no module: the first of several
	last   []found // all that the last of these parts leads to
	hidden *found  // what a part would lead to, if it were seen
	rest   bool    // the last part is of a module, and no text declares it: a macro may
}

// whole says whether all of a path is known: the rest of one is of a type.
func (w *walked) whole() bool { return len(w.last) > 0 }

// other is what the last name stands for beside a module; nil for nothing.
func (w *walked) other() *found {
	for i := range w.last {
		if w.last[i].mod == nil && !w.last[i].library {
			return &w.last[i]
		}
	}
	return nil
}

// walk goes along a path that stands in a scope of a module.
func (r *Resolver) walk(m *module, sc int32, path []string, global, isUse bool, q *query) (w walked) {
	var now []found
	m = m.holder().in(sc)
	old := m.crate.pack.edition == "" || m.crate.pack.edition == "2015"
	for i, part := range path {
		switch {
		case i == 0:
			now = r.head(m, sc, part, global, isUse, old, q)
			if len(path) > 1 && len(now) > 0 && !slices.ContainsFunc(now, func(f found) bool { return f.isType() }) {
				if named := r.crateNamed(m, part, found{how: byCrate}); len(named) > 0 {
					now = named // a function of that name leads nowhere
				}
			}
		case part == "super" && len(now) > 0 && now[0].mod != nil && now[0].how == byKeyword:
			up := now[0].mod.parent
			if up == nil {
				return walked{}
			}
			now = []found{{thing: thing{mod: up}, how: byKeyword}}
		case part == "self" && len(now) > 0 && now[0].mod != nil && now[0].how == byKeyword: // super::self is not written
		default:
			now = r.next(now, part, m, q, &w)
		}
		if len(now) == 0 {
			if i > 0 && w.hidden == nil && len(w.hops) > 0 && w.hops[len(w.hops)-1].mod != nil {
				w.rest = true
				return w
			}
			return walked{hidden: w.hidden}
		}
		if i < len(path)-1 { // what leads on is a module, or has members
			at := slices.IndexFunc(now, func(f found) bool { return f.mod != nil })
			if at < 0 {
				at = slices.IndexFunc(now, func(f found) bool { return f.isType() })
			}
			if at > 0 {
				now[0], now[at] = now[at], now[0]
			}
		}
		w.hops, w.last = append(w.hops, now[0]), now
		if now[0].mod == nil {
			return w // the rest is of a type, or of a library
		}
	}
	return w
}

// next gives what a part of a path leads to behind another.
func (r *Resolver) next(now []found, part string, m *module, q *query, w *walked) (out []found) {
	for i := range now {
		if now[i].mod == nil {
			continue
		}
		for _, f := range r.member(now[i].mod, part, q) {
			if !f.seenFrom(m) {
				if !f.made {
					w.hidden = &f
				}
				continue
			}
			out = append(out, f)
		}
	}
	return out
}

// head gives what the first part of a path leads to.
func (r *Resolver) head(m *module, sc int32, name string, global, isUse, old bool, q *query) []found {
	mod := func(to *module) []found { return []found{{thing: thing{mod: to}, how: byKeyword}} }
	switch name {
	case "crate", "$crate":
		return mod(m.crate.root)
	case "self":
		return mod(m)
	case "super":
		if m.parent == nil {
			return nil
		}
		return mod(m.parent)
	case "Self":
		return nil
	}
	if old && (isUse || global) { // paths of uses begin at the root
		if all := r.member(m.crate.root, name, q); len(all) > 0 {
			return all
		}
		return r.crateNamed(m, name, found{how: byCrate})
	}
	if !global {
		for at := sc; ; at = m.text.scopes[at].parent {
			if all := r.declared(m, at, name, q); len(all) > 0 {
				return all
			}
			if m.text.scopes[at].module {
				break
			}
		}
	}
	return r.crateNamed(m, name, found{how: byCrate})
}

// crateNamed gives the crate that a name stands for.
func (r *Resolver) crateNamed(m *module, name string, f found) []found {
	p := m.crate.pack
	if name == "self" {
		f.mod = m.crate.root
		return []found{f}
	}
	dir, is := p.deps[name]
	if name == p.lib && m.crate.kind != aLibrary && m.crate.kind != aBuild {
		dir, is = p.dir, true
	}
	if is && dir != "" {
		if lib := r.forest.libs[dir]; lib != nil {
			f.mod = lib.root
			return []found{f}
		}
	}
	if is || libraries[name] {
		f.library = true
		return []found{f}
	}
	// an extern crate of the root is known everywhere
	for _, ref := range m.crate.root.text.decls[nameIn{name, 0}] {
		if ref.of == ofItem && m.crate.root.text.items[ref.at].kind == isExternCrate && f.how == byCrate {
			f.library = true
			if one := m.crate.root.text.items[ref.at].original; one != name {
				return r.crateNamed(m, one, f)
			}
			return []found{f}
		}
	}
	return nil
}

// libraries come with the compiler.
var libraries = map[string]bool{"std": true, "core": true, "alloc": true, "proc_macro": true, "test": true}

// fromCrate is a path in which $crate is crate: what leads to the root of its macro's crate is one thing.
func fromCrate(path []string) []string {
	if path[0] != "$crate" {
		return path
	}
	return append([]string{"crate"}, path[1:]...)
}

// splitPath parts a path.
func splitPath(p string) (out []string) {
	for from := 0; from <= len(p); {
		to := from
		for to < len(p) && (p[to] != ':' || to+1 < len(p) && p[to+1] != ':') {
			to++
		}
		out = append(out, p[from:to])
		from = to + 2
	}
	return out
}

// spelledAt is a module, and the name under which it has something.
type spelledAt struct {
	mod  *module
	name string
}

// chain gives the modules that give something on, from the one that is asked for it down to the one that declares it, or
// has it from a library.
func (r *Resolver) chain(in *module, name string) (out []spelledAt) {
	for at := (spelledAt{in, name}); at.mod != nil && !slices.Contains(out, at); {
		out = append(out, at)
		all := r.member(at.mod, at.name, newQuery())
		if len(all) == 0 {
			break
		}
		switch h := &all[0]; {
		case h.how == byGlob && h.glob != nil:
			by := at
			at = spelledAt{}
			for _, t := range r.leads(h.by, h.glob, newQuery()) {
				if t.mod != nil && t.mod != h.by && len(r.member(t.mod, by.name, newQuery())) > 0 {
					at = spelledAt{t.mod, by.name}
					break
				}
			}
		case h.how == byUse && h.by != nil:
			u := h.by.useOf(at.name)
			at = spelledAt{}
			if u == nil {
				break
			}
			w := r.walk(h.by, h.by.text.stmts[u.stmt].scope, u.path, h.by.text.stmts[u.stmt].global, true, newQuery())
			if n := len(u.path); n > 1 && len(w.hops) >= n-1 && w.hops[n-2].mod != nil {
				at = spelledAt{w.hops[n-2].mod, u.path[n-1]}
			}
		default:
			return out
		}
	}
	return out
}

// useOf gives the use of a module that brings a name; nil for none.
func (m *module) useOf(name string) *use {
	for i := range m.text.uses {
		u := &m.text.uses[i]
		if s := &m.text.stmts[u.stmt]; u.bound == name && !s.inDoc && m.in(s.scope) == m {
			return u
		}
	}
	return nil
}

// direct says by which module something is named then that a path has from one that gives it on, where that one comes into
// another package: by the one of the own package that has it, and if the root of a crate of the own package gave it, by
// the one that declares it. parted is how many parts of the path that name stands for; zero where the path may stay.
func (r *Resolver) direct(w *walked, path []string, from *module, pack func(*module) string) (at spelledAt, parted int) {
	for i := 1; i < len(w.hops); i++ {
		h, in := &w.hops[i], w.hops[i-1].mod
		if h.how != byUse && h.how != byGlob || in == nil {
			continue
		}
		own := pack(from)
		if pack(in) == own {
			return at, 0
		}
		chain := r.chain(in, path[i])
		for _, one := range chain[1:] {
			if pack(one.mod) == own {
				return one, i + 1
			}
		}
		if in.parent == nil && in.crate.pack == from.crate.pack && len(chain) > 1 {
			return chain[len(chain)-1], i + 1
		}
		return at, 0
	}
	return at, 0
}
