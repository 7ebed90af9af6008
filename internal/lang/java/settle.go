package java

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
)

// Settle writes the package of a file, its imports and the names behind them, so that each name stands for the same
// type: what the file used without a word because it was a neighbour gains an import, and so does what would be hidden.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	was, now := old.index().files[q.OldFrom], r.index().files[q.From]
	if was == nil || now == nil || len(was.uses) != len(now.uses) {
		return nil, nil
	}
	s := settler{Resolver: r, Settling: q, old: old, was: was, now: now, Sheet: imports.NewSheet(q, settles), taken: map[string]string{},
		brings: map[string]bool{}}
	s.labels()
	// What is taken is gathered before anything is written: a name that is given away twice would mean another type.
	// Imports come before the names that go through them.
	s.take()
	s.aimImports()
	for i := range was.uses {
		s.write(&was.uses[i])
	}
	s.aimStars()
	s.writeImports()
	return s.Done()
}

// settler settles one file.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	*imports.Sheet
	old      *Resolver
	was, now *entry

	taken   map[string]string // simple names that mean something in the file: what, in full, then; empty for a library's
	brings  map[string]bool   // names in full that an import of their own brings then
	aims    []aim             // what becomes of the imports
	through map[int][]string  // what is had by an import of all of a package, by the import: names in full, then
	added   []imports.New
}

// aim is what becomes of an import.
type aim struct {
	goal    string // what it names then
	removed bool
}

// labels writes the package line, and the name of the type that is called as the file.
func (s *settler) labels() {
	switch pkg := s.now.pkg; {
	case s.now.loose:
		s.Fail(s.was.pkgAt.Start, "no source root holds the new place, so it would not be compiled")
	case pkg == s.was.file.pkg:
	case pkg == "":
		s.Fail(s.was.pkgAt.Start, "it would be of no package, and a type without one can't be imported")
	case !isPackage(pkg):
		s.Fail(s.was.pkgAt.Start, "%s is no name that a package may have", pkg)
	case s.was.pkgAt.Len() == 0:
		s.Edit(source.Span{Start: s.was.first, End: s.was.first}, "package "+pkg+";\n\n")
	default:
		s.Edit(s.was.pkgAt, pkg)
	}
	if s.now.label < 0 || s.now.class == s.was.types[s.now.label].name {
		return
	}
	d := &s.was.types[s.now.label]
	if !isName(s.now.class) {
		s.Fail(d.at.Start, "%s is no name that a class may have", s.now.class)
		return
	}
	s.Edit(d.at, s.now.class)
	for _, at := range d.makes {
		s.Edit(at, s.now.class)
	}
}

// take notes the simple names that mean something in the file already.
func (s *settler) take() {
	for i := range s.now.types {
		if s.now.types[i].owner < 0 {
			s.taken[last(s.now.pathOf(i))] = s.now.nameOf(i)
		}
	}
	for i := range s.was.imports {
		if one := &s.was.imports[i]; !one.star && !one.static {
			name := one.name
			if all := s.old.declares(s.OldFrom, name); len(all) > 0 {
				name = s.goal(all, name)
			}
			s.taken[last(name)] = name
		}
	}
	for i := range s.was.uses {
		u := &s.was.uses[i]
		first := partsOf(u.text, 1)
		if u.hidden || u.doc {
			continue
		}
		if f := s.old.means(s.OldFrom, s.was, u, int(u.owner)); f.by == byNothing {
			if _, known := s.taken[first]; !known {
				s.taken[first] = "" // of a library
			}
		}
	}
}

// aimImports says what the imports of types name then.
func (s *settler) aimImports() {
	s.aims, s.through = make([]aim, len(s.was.imports)), map[int][]string{}
	for i := range s.was.imports {
		one, a := &s.was.imports[i], &s.aims[i]
		a.goal = one.name
		all, name := s.old.imported(s.OldFrom, one.name)
		if len(all) == 0 || one.star && len(name) < len(one.name) {
			continue
		}
		goal := s.goal(all, name)
		a.goal = goal + one.name[len(name):]
		if one.star || one.static {
			continue
		}
		top := s.was.pkg == "" || parent(name) != s.was.pkg
		if parent(goal) == s.now.pkg && top && s.old.ix.files[all[0].file].types[all[0].at].owner < 0 {
			a.removed = true // it is a neighbour now
			continue
		}
		s.brings[goal] = true
	}
}

// write writes one name.
func (s *settler) write(u *use) {
	f := s.old.means(s.OldFrom, s.was, u, int(u.owner))
	text := partsOf(u.text, 1)
	if len(f.all) == 0 {
		if f.by == byNothing && !u.hidden && !u.doc && s.old.ix.top[text] {
			s.keepForeign(u, text)
		}
		return
	}
	name := s.old.ix.files[f.all[0].file].nameOf(f.all[0].at)
	goal := s.goal(f.all, name)
	at := source.Span{Start: u.at.Start, End: int(s.was.ends[int(u.ends)+f.parts-1])}
	switch {
	case f.by == byFullName:
		if goal != name {
			s.Edit(at, goal)
		}
		return
	case f.by == byHeritage:
		return
	case f.by == byType:
		if f.all[0].at == s.now.label && f.all[0].file == s.OldFrom {
			s.Edit(at, s.now.class)
		}
		return
	case s.old.ix.files[f.all[0].file].types[f.all[0].at].owner >= 0 && f.by == byImport:
		return // its name stays
	}
	simple := last(goal)
	switch {
	case f.by == byImport && !s.aims[f.via].removed:
		s.Edit(at, simple)
		return
	case parent(goal) == s.now.pkg && s.free(simple, goal):
		s.Edit(at, simple)
		return
	case f.by == byStar && (s.starStays(f, goal) || s.aims[f.via].goal != s.was.imports[f.via].name):
		s.through[f.via] = append(s.through[f.via], goal)
		s.Edit(at, simple)
		return
	}
	if s.bring(goal, u.doc) {
		s.Edit(at, simple)
		return
	}
	s.Edit(at, goal)
}

// free says whether a simple name may stand for a type of the own package.
func (s *settler) free(simple, goal string) bool {
	other, taken := s.taken[simple]
	return !taken || other == goal
}

// starStays says whether what is had by an import of all of a package is had by it then. Of a type it is.
func (s *settler) starStays(f found, goal string) bool {
	one := &s.was.imports[f.via]
	if len(s.old.ix.own[one.name]) == 0 {
		return true
	}
	if parent(goal) != s.aimOfStar(f.via) {
		return false
	}
	// a neighbour, or what another import of a package has, would come first
	now := s.Resolver.lookup(s.From, s.now, -1, last(goal))
	return now.by == byNothing || now.by == byStar || s.goalOf(now) == goal
}

func (s *settler) goalOf(f found) string {
	if len(f.all) == 0 {
		return ""
	}
	return s.Resolver.ix.files[f.all[0].file].nameOf(f.all[0].at)
}

// aimOfStar is the package that an import of all of one names then: the same while something is left there; where all
// of it went to one package, that.
func (s *settler) aimOfStar(i int) string {
	one := &s.was.imports[i]
	ids := s.old.ix.own[one.name]
	if len(ids) == 0 || len(s.Resolver.ix.own[one.name]) > 0 {
		return one.name
	}
	goal := ""
	for k, id := range ids {
		now, there := s.tree.Came(id)
		if !there || k > 0 && s.Resolver.ix.files[now].pkg != goal {
			return ""
		}
		goal = s.Resolver.ix.files[now].pkg
	}
	if len(s.Resolver.ix.own[goal]) != len(ids) { // what else is there could be meant by a name of a library
		return ""
	}
	return goal
}

// aimStars says what becomes of imports of whole packages.
func (s *settler) aimStars() {
	for i := range s.was.imports {
		one := &s.was.imports[i]
		if !one.star || len(s.old.ix.own[one.name]) == 0 || len(s.old.declares(s.OldFrom, one.name)) > 0 {
			continue
		}
		switch goal := s.aimOfStar(i); goal {
		case "", s.now.pkg:
			// the package is gone, and an import of it would not compile
			s.aims[i].removed = goal != one.name
		default:
			s.aims[i].goal = goal
		}
	}
}

// bring has a type imported, and says whether it can be. For the sake of a comment nothing is imported.
func (s *settler) bring(goal string, doc bool) bool {
	if s.brings[goal] {
		return true
	}
	simple := last(goal)
	if other, taken := s.taken[simple]; doc || taken && other != goal {
		return false
	}
	s.taken[simple], s.brings[goal] = goal, true
	s.added = append(s.added, imports.New{Key: goal, Text: "import " + goal + ";"})
	return true
}

// keepForeign keeps the name of a library from meaning a type of the tree.
func (s *settler) keepForeign(u *use, name string) {
	now := s.Resolver.lookup(s.From, s.now, int(u.owner), name)
	if len(now.all) == 0 || now.by == byType || now.by == byHeritage {
		return
	}
	full := ""
	switch stars := s.libraries(); {
	case languages[name] && len(stars) == 0:
		full = "java.lang." + name
	case !languages[name] && len(stars) == 1:
		full = stars[0] + "." + name
	default:
		s.Fail(u.at.Start, "%s means one of a library, and would mean %s", name, s.goalOf(now))
		return
	}
	if s.brings[full] {
		return
	}
	s.brings[full] = true
	s.added = append(s.added, imports.New{Key: full, Text: "import " + full + ";"})
}

// libraries are the packages of libraries of which the file imports all.
func (s *settler) libraries() (out []string) {
	for i := range s.was.imports {
		one := &s.was.imports[i]
		if one.star && !one.static && len(s.old.ix.own[one.name]) == 0 && len(s.old.declares(s.OldFrom, one.name)) == 0 {
			out = append(out, one.name)
		}
	}
	return out
}
