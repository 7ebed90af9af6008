package csharp

import (
	"slices"
	"strings"

	"crookedshelf/internal/project"
)

// This file says what a name means (language specification, Namespace and type names, Simple names).

// origin is how a name comes to mean what it means.
type origin uint8

const (
	byNothing   origin = iota // it is none of the tree
	byType                    // a type around declares it, or inherits it
	byNeighbour               // a namespace around has it
	byUsing                   // a using brings it
	byAlias                   // a using calls it so
	byFullName                // it begins with a namespace
)

// found is what a name means.
type found struct {
	all   []declared // several where the tree has several types of a name, or parts of one
	space string     // a namespace, where the name means no type
	by    origin
	parts int  // of the chain, which name it
	soft  bool // it may be a value too: its text is not changed
	twice bool // two usings bring different types
}

// fresh are usings that are about to be written into a file.
type fresh struct {
	level  int
	spaces []string
	also   []string // what usings of the whole project bring then
	brings []bring  // what the usings of the file bring then; nil for what they bring now
}

// bringsWith are the usings of a file, once those that are about to be written are there.
func (e *entry) bringsWith(with *fresh) []bring {
	if with != nil && with.brings != nil {
		return with.brings
	}
	return e.brings
}

// lookup says what a simple name means in the body of a type and a namespace.
func (r *Resolver) lookup(id project.FileID, e *entry, u *use, name string, arity int, with *fresh) found {
	for at := int(u.owner); at >= 0; at = e.types[at].owner {
		d := &e.types[at]
		if slices.Contains(d.params, name) {
			return found{}
		}
		if !r.ix.nested[name] {
			continue
		}
		if all := r.innerOf(declared{id, at}, name, arity, 0); len(all) > 0 {
			return found{all: all, by: byType, parts: 1}
		}
	}
	brings := e.bringsWith(with)
	for level := int(u.space); level >= 0; level = e.file.spaces[level].owner {
		to := ""
		if owner := e.file.spaces[level].owner; owner >= 0 {
			to = e.spaces[owner]
		}
		first := true
		for space := e.spaces[level]; first || space != to; space = parent(space) {
			if f := r.inSpace(id, space, name, arity, u); f.by != byNothing {
				return f
			}
			if first {
				if f := r.byUsings(id, e, level, name, arity, u, brings, with); f.by != byNothing {
					return f
				}
			}
			first = false
			if space == "" {
				break
			}
		}
	}
	return found{}
}

// inSpace looks for a name in a namespace: a type, or a namespace in it.
func (r *Resolver) inSpace(id project.FileID, space, name string, arity int, u *use) found {
	full := join(space, name)
	if all := r.typeNamed(id, full, arity, u); len(all) > 0 {
		return found{all: all, by: byNeighbour, parts: 1}
	}
	if (arity == 0 || arity == anyArity) && !u.mark && r.ix.spaces[full] && r.seesSpace(id, full) {
		return found{space: full, by: byNeighbour, parts: 1}
	}
	return found{}
}

// seesSpace says whether a namespace is one of the file's project, or of those that it builds on.
func (r *Resolver) seesSpace(id project.FileID, space string) bool {
	e := r.ix.files[id]
	if e == nil || len(e.units) == 0 {
		return true
	}
	for _, u := range e.units {
		if r.spacesOf(u)[space] {
			return true
		}
		for v := range u.sees {
			if r.spacesOf(v)[space] {
				return true
			}
		}
	}
	return false
}

// spacesOf are the namespaces of a project.
func (r *Resolver) spacesOf(u *unit) map[string]bool {
	r.unitSpacesOnce.Do(func() {
		r.unitSpaces = map[*unit]map[string]bool{}
		for _, e := range r.ix.files {
			for _, v := range e.units {
				if r.unitSpaces[v] == nil {
					r.unitSpaces[v] = map[string]bool{}
				}
				for _, name := range e.spaces {
					for ; name != ""; name = parent(name) {
						r.unitSpaces[v][name] = true
					}
				}
			}
		}
	})
	return r.unitSpaces[u]
}

// typeNamed gives who declares a type; an attribute may leave its ending out.
func (r *Resolver) typeNamed(id project.FileID, full string, arity int, u *use) []declared {
	if u.doc {
		if all := r.declares(id, full, arity); len(all) > 0 {
			return all
		}
		arity = anyArity
	}
	all := r.declares(id, full, arity)
	if u.mark {
		if long := r.declares(id, full+"Attribute", arity); len(long) > 0 {
			return long
		}
	}
	return all
}

// byUsings looks for a name among what the usings at a level bring.
func (r *Resolver) byUsings(id project.FileID, e *entry, level int, name string, arity int, u *use, brings []bring, with *fresh) found {
	each := func(yield func(b *bring) bool) {
		for i := range brings {
			if brings[i].level == level && !yield(&brings[i]) {
				return
			}
		}
		if level != 0 {
			return
		}
		units := e.units
		if len(units) == 0 {
			units = []*unit{nil}
		}
		for _, v := range units {
			for i := range r.globals[v] {
				if !yield(&r.globals[v][i]) {
					return
				}
			}
		}
	}
	for b := range each {
		if b.alias == "" || b.alias != name && !(u.mark && b.alias == name+"Attribute") {
			continue
		}
		switch {
		case len(b.types) > 0:
			return found{all: b.types, by: byAlias, parts: 1}
		case b.known:
			return found{space: b.space, by: byAlias, parts: 1}
		}
		return found{by: byAlias, parts: 1}
	}
	if !r.ix.named[name] {
		return found{}
	}
	var out found
	take := func(all []declared) {
		switch {
		case len(all) == 0:
		case len(out.all) == 0:
			out = found{all: all, by: byUsing, parts: 1}
		case !slices.Equal(all, out.all):
			out.twice = true
		}
	}
	for b := range each {
		switch {
		case b.alias != "":
		case b.static && len(b.types) > 0:
			take(r.innerOf(b.types[0], name, arity, 0))
		case b.space != "" && b.known && !b.static:
			take(r.typeNamed(id, b.space+"."+name, arity, u))
		}
	}
	if with != nil && with.level == level {
		for _, space := range with.spaces {
			take(r.typeNamed(id, space+"."+name, arity, u))
		}
	}
	if with != nil && level == 0 {
		for _, space := range with.also {
			take(r.typeNamed(id, space+"."+name, arity, u))
		}
	}
	return out
}

// innerOf gives the types of a name that a type has in it, or inherits.
func (r *Resolver) innerOf(d declared, name string, arity, depth int) []declared {
	if depth > mostBases {
		return nil
	}
	for _, part := range r.partsOfType(d) {
		e := r.ix.files[part.file]
		var out []declared
		for _, at := range e.inner[inside{part.at, name}] {
			if arity == anyArity || e.types[at].arity == arity {
				out = append(out, r.partsOfType(declared{part.file, at})...)
			}
		}
		if len(out) > 0 {
			return out
		}
	}
	for _, base := range r.supersOf(d, depth) {
		if base == d {
			continue
		}
		if all := r.innerOf(base, name, arity, depth+1); len(all) > 0 {
			return all
		}
	}
	return nil
}

// partsOfType are the parts of a type that is declared in several places.
func (r *Resolver) partsOfType(d declared) []declared {
	e := r.ix.files[d.file]
	if !e.types[d.at].partial {
		return []declared{d}
	}
	var out []declared
	for _, other := range r.declares(d.file, e.nameOf(d.at), e.types[d.at].arity) {
		if o := r.ix.files[other.file]; o.types[other.at].partial && sameUnit(e, o) {
			out = append(out, other)
		}
	}
	if len(out) == 0 {
		return []declared{d}
	}
	return out
}

// sameUnit says whether two files are of one project.
func sameUnit(a, b *entry) bool {
	if len(a.units) == 0 || len(b.units) == 0 {
		return len(a.units) == len(b.units)
	}
	return slices.ContainsFunc(a.units, func(u *unit) bool { return slices.Contains(b.units, u) })
}

// mostBases is how far types are followed that are built on others.
const mostBases = 60

// supersOf are the types of the tree that a type is built on.
func (r *Resolver) supersOf(d declared, depth int) []declared {
	if known, there := r.ix.supers.Load(d); there {
		return known.([]declared)
	}
	if depth > mostBases {
		return nil
	}
	var out []declared
	for _, part := range r.partsOfType(d) {
		e := r.ix.files[part.file]
		for _, i := range e.types[part.at].supers {
			// what it is built on is looked up around it: its own types are not known there yet
			u := e.uses[i]
			u.owner, u.hidden = int32(e.types[part.at].owner), false
			if f := r.means(part.file, e, &u, nil); len(f.all) > 0 {
				if base := r.deep(f, &u); base != part {
					out = append(out, base)
				}
			}
		}
	}
	r.ix.supers.Store(d, out)
	return out
}

// means says what the first part of a use means, or the longest beginning of it that is a name in full.
func (r *Resolver) means(id project.FileID, e *entry, u *use, with *fresh) found {
	if u.hidden || u.called && u.parts == 1 {
		return found{}
	}
	first := partsOf(u.text, 1)
	most := int(u.parts)
	if u.called {
		most--
	}
	arity := func(parts int) int {
		if parts == int(u.parts) {
			return int(u.arity)
		}
		return 0
	}
	var f found
	switch {
	case u.rooted:
		f = r.inSpace(id, "", first, arity(1), u)
	case u.alias:
		f = r.aliased(id, e, u, first, with)
	default:
		if !r.ix.named[first] && !r.ix.parts[first] && !e.aliases(first) && len(r.globals) == 0 {
			return found{}
		}
		mark := u.mark
		look := *u
		look.mark = mark && u.parts == 1
		f = r.lookup(id, e, &look, first, arity(1), with)
		if f.by != byNothing && !u.sure && !u.doc && r.isValue(id, e, int(u.owner), first) {
			if f.space != "" {
				return found{}
			}
			f.soft = true
		}
	}
	if f.space == "" {
		return f
	}
	space := f.space
	for k := 2; k <= most; k++ {
		name := last(partsOf(u.text, k))
		look := *u
		look.mark = u.mark && k == int(u.parts)
		if all := r.typeNamed(id, join(space, name), arity(k), &look); len(all) > 0 {
			by := byFullName
			if f.by == byAlias {
				by = byAlias
			}
			return found{all: all, by: by, parts: k}
		}
		if space = join(space, name); !r.ix.spaces[space] {
			break
		}
	}
	return found{by: f.by, parts: 0, space: f.space}
}

// aliased says what a name with :: behind it means.
func (r *Resolver) aliased(id project.FileID, e *entry, u *use, first string, with *fresh) found {
	brings := e.bringsWith(with)
	for level := int(u.space); level >= 0; level = e.file.spaces[level].owner {
		if f := r.byUsings(id, e, level, first, 0, u, brings, nil); f.by == byAlias {
			return f
		}
	}
	return found{}
}

// aliases says whether a using of the file calls something by a name.
func (e *entry) aliases(name string) bool {
	return slices.ContainsFunc(e.usings, func(one using) bool { return one.alias == name })
}

// deep gives the type that all of a chain names: the one that was found, or one in it.
func (r *Resolver) deep(f found, u *use) declared {
	d := f.all[0]
	for k := f.parts; k < int(u.parts); k++ {
		arity := 0
		if k+1 == int(u.parts) {
			arity = int(u.arity)
		}
		all := r.innerOf(d, last(partsOf(u.text, k+1)), arity, 0)
		if len(all) == 0 {
			return d
		}
		d = all[0]
	}
	return d
}

// isValue says whether a name is that of a field, a property or a method, in a type around or in one that it is built on.
func (r *Resolver) isValue(id project.FileID, e *entry, owner int, name string) bool {
	if !r.ix.values[name] {
		return false
	}
	for at := owner; at >= 0; at = e.types[at].owner {
		if r.hasValue(declared{id, at}, name, 0) {
			return true
		}
	}
	return false
}

func (r *Resolver) hasValue(d declared, name string, depth int) bool {
	for _, part := range r.partsOfType(d) {
		if r.ix.files[part.file].values[inside{part.at, name}] {
			return true
		}
	}
	return depth < mostBases && slices.ContainsFunc(r.supersOf(d, depth), func(base declared) bool {
		return base != d && r.hasValue(base, name, depth+1)
	})
}

// extended are the types visible at a place that have a method of a name that extends others.
func (r *Resolver) extended(e *entry, level int, name string, with *fresh) (out []declared) {
	if len(r.ix.extend[name]) == 0 {
		return nil
	}
	return r.extendedIn(e, r.visible(e, level, with), name)
}

// extendedIn are those in some namespaces.
func (r *Resolver) extendedIn(e *entry, spaces map[string]bool, name string) (out []declared) {
	for _, d := range r.ix.extend[name] {
		other := r.ix.files[d.file]
		if other.types[d.at].owner < 0 && e.sees(other) && spaces[other.spaces[other.types[d.at].space]] {
			out = append(out, d)
		}
	}
	return out
}

// visible are the namespaces whose methods that extend others are seen at a place.
func (r *Resolver) visible(e *entry, level int, with *fresh) map[string]bool {
	out := map[string]bool{"": true}
	brings := e.bringsWith(with)
	add := func(b *bring) {
		switch {
		case b.alias != "":
		case b.static:
			for _, d := range b.types {
				other := r.ix.files[d.file]
				out[other.spaces[other.types[d.at].space]] = true
			}
		default:
			out[b.space] = true
		}
	}
	for at := level; at >= 0; at = e.file.spaces[at].owner {
		for name := e.spaces[at]; name != ""; name = parent(name) {
			out[name] = true
		}
		for i := range brings {
			if brings[i].level == at {
				add(&brings[i])
			}
		}
		if with != nil && with.level == at {
			for _, space := range with.spaces {
				out[space] = true
			}
		}
	}
	if with != nil {
		for _, space := range with.also {
			out[space] = true
		}
	}
	units := e.units
	if len(units) == 0 {
		units = []*unit{nil}
	}
	for _, u := range units {
		for i := range r.globals[u] {
			add(&r.globals[u][i])
		}
	}
	return out
}

// within says whether a name is a namespace, or one below it.
func within(name, space string) bool { return name == space || strings.HasPrefix(name, space+".") }
