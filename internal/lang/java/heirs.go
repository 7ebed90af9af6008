package java

import (
	"slices"

	"crookedshelf/internal/project"
)

// This file looks at types that are built on others: what they inherit and override once they are of other packages.

// extends says whether a type is another, or is built on it.
func (o *owing) extends(d, base declared) bool { return d == base || o.bases(d).has[base] }

// ancestry are the types that a type is built on, in an order and as a set.
type ancestry struct {
	all []declared
	has map[declared]bool
}

// bases are the types that a type is built on, all of them.
func (o *owing) bases(d declared) ancestry {
	if known, there := o.above[d]; there {
		return known
	}
	out := ancestry{has: map[declared]bool{}}
	open := slices.Clone(o.old.supersOf(d, 0))
	for len(open) > 0 {
		one := open[len(open)-1]
		open = open[:len(open)-1]
		if !out.has[one] {
			out.has[one] = true
			out.all = append(out.all, one)
			open = append(open, o.old.supersOf(one, 0)...)
		}
	}
	o.above[d] = out
	return out
}

// inheritsThen says whether a type has what a package-private member of another is in the end: all between them must be
// of one package (JLS 8.4.8).
func (o *owing) inheritsThen(d, base declared) bool {
	pkg := o.then(base.file)
	seen := map[declared]bool{}
	open := []declared{d}
	for len(open) > 0 {
		one := open[len(open)-1]
		open = open[:len(open)-1]
		if o.then(one.file) != pkg || seen[one] {
			continue
		}
		if one == base {
			return true
		}
		seen[one] = true
		open = append(open, o.old.supersOf(one, 0)...)
	}
	return false
}

// subclass says whether a file has a type that is built on another, which lets it use what is protected there.
func (p *parting) subclass(id project.FileID, base declared, m *member) bool {
	if m.sees != protected {
		return false
	}
	e := p.old.ix.files[id]
	for i := range e.types {
		if p.extends(declared{id, i}, base) {
			return true
		}
	}
	return false
}

// inherits says whether a type around a place is built on another.
func (p *parting) inherits(id project.FileID, e *entry, owner int, base declared) bool {
	for at := owner; at >= 0; at = e.types[at].owner {
		if p.extends(declared{id, at}, base) {
			return true
		}
	}
	return false
}

// holdBetween blocks the moves of the types by which one is built on another.
func (p *parting) holdBetween(d, base declared) {
	for _, one := range p.bases(d).all {
		if p.bases(one).has[base] && p.part(one.file, base.file) {
			p.lost([]project.FileID{one.file}, "%s inherits from %s by way of it what is package-private there",
				p.old.ix.files[d.file].nameOf(d.at), p.old.ix.files[base.file].nameOf(base.at))
		}
	}
}

// heir looks at a type that is built on one that would be of another package: what it overrides, and which constructor
// it needs.
func (p *parting) heir(id project.FileID, e *entry, at int) {
	d := declared{id, at}
	for _, base := range p.old.supersOf(d, 0) {
		be := p.old.ix.files[base.file]
		if be.types[base.at].kind == "class" && !e.chains[at] {
			p.chained(id, base, 0, e.types[at].at.Start)
		}
	}
	for _, i := range e.owned[at] {
		m := &e.members[i]
		if !m.method || m.name == "" || m.static || m.sees == private {
			continue
		}
		for _, one := range p.members[m.name] {
			if one.member.sees == packaged && one.member.method && !one.member.static && one.member.args == m.args &&
				p.part(id, one.file) && one.declared != d && p.extends(d, one.declared) {
				p.hold(id, one.file, m.at, "overrides %s, which is package-private in %s: it would not override it any more",
					m.name, p.old.ix.files[one.file].path)
				return
			}
		}
	}
}

// joined looks at types that come to the package of one that they are built on: what is package-private there would be
// overridden then.
func (o *owing) joined() {
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		for i := range e.members {
			m := &e.members[i]
			if !m.method || m.name == "" || m.static || m.sees == private || len(e.types[m.owner].supers) == 0 {
				continue
			}
			o.overrides(id, e, m)
		}
	}
}

func (o *owing) overrides(id project.FileID, e *entry, m *member) {
	for _, base := range o.bases(declared{id, m.owner}).all {
		be := o.old.ix.files[base.file]
		if be.pkg == e.pkg || o.then(base.file) != o.then(id) {
			continue
		}
		for _, i := range be.owned[base.at] {
			bm := &be.members[i]
			if bm.method && !bm.static && bm.sees == packaged && bm.name == m.name && bm.args == m.args {
				o.lost([]project.FileID{id, base.file}, "%s in %s would override the one in %s, which is package-private",
					m.name, e.path, be.path)
				return
			}
		}
	}
}

// sealed keeps what may extend a sealed type in its package (JLS 8.1.1.2): without modules it must be there.
func (o *owing) sealed() {
	for _, id := range o.old.ix.ids {
		e := o.old.ix.files[id]
		if e == nil {
			continue
		}
		for i := range e.types {
			for _, at := range e.types[i].permits {
				u := &e.uses[at]
				if f := o.old.means(id, e, u, e.types[i].owner); len(f.all) > 0 && o.part(id, f.all[0].file) {
					o.lost([]project.FileID{id, f.all[0].file}, "%s:%d permits %s, which must be of the same package",
						e.path, o.line(id, u.at.Start), u.text)
				}
			}
		}
	}
}
