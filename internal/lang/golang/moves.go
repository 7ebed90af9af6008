package golang

import (
	"cmp"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
)

// shift is how the packages of the tree before the moves become those of the tree after them. The files are those of
// the old tree, since some edits may be made already; IDs are of the new tree, where nothing else is said.
type shift struct {
	once    sync.Once
	old     *Resolver
	now     map[project.FileID]project.FileID // of each file of the old tree that can be read
	was     map[project.FileID]project.FileID // and back
	at      map[project.FileID]place          // the package of each
	packs   names.Index[place]
	goals   sync.Map           // of targets, what settler.goal says
	clauses map[place]string   // of the packages in which something arrives
	clashes map[place][]string // the clauses of what arrives, where they do not agree
}

// shifted works out what becomes of the packages. r is of the tree after the moves.
func (r *Resolver) shifted(old *Resolver, moves []lang.Moved) *shift {
	s := &r.moved
	s.once.Do(func() {
		s.old, s.now, s.was = old, map[project.FileID]project.FileID{}, map[project.FileID]project.FileID{}
		s.at = map[project.FileID]place{}
		s.clauses, s.clashes = map[place]string{}, map[place][]string{}
		to := map[string]string{}
		for _, m := range moves {
			to[m.From] = m.To
		}
		for _, id := range slices.Sorted(maps.Keys(old.index().files)) {
			p := old.tree.Path(id)
			p = cmp.Or(to[p], p)
			if now, there := r.tree.Lookup(p); there {
				f := old.ix.files[id]
				s.now[id], s.was[now] = now, id
				s.at[now] = place{dir: path.Dir(p), external: f.external(p)}
				if old.placeOf(id, f).alone != "" {
					s.at[now] = place{dir: path.Dir(p), alone: path.Base(p)}
				}
				s.packs.Add(s.at[now], now, f.names())
			}
		}
		for _, at := range s.packs.Spaces(comparePlaces) { // tests from outside behind the package that they test
			slices.Sort(s.packs.Space(at).Files)
			s.arrive(r, at, s.packs.Space(at))
		}
	})
	return s
}

// of is what a file of the new tree said in the old one; nil for one that was not there.
func (s *shift) of(id project.FileID) *file {
	was, known := s.was[id]
	if !known {
		return nil
	}
	return s.old.ix.files[was]
}

// before is the package of which a file of the new tree was.
func (s *shift) before(id project.FileID) place { return s.old.placeOf(s.was[id], s.of(id)) }

// arrive works out the clause of a package of the new tree, whose resolver is r.
func (s *shift) arrive(r *Resolver, at place, p *names.Space) {
	var staying, coming []string
	follows := true // each that comes was called as its path says
	for _, id := range p.Files {
		from, name := s.before(id), strings.TrimSuffix(s.of(id).clause, external(at))
		if from == at {
			staying = append(staying, name)
			continue
		}
		coming = append(coming, name)
		follows = follows && name == s.old.byPath(from.dir)
	}
	slices.Sort(coming)
	coming = slices.Compact(coming)
	switch {
	case at.alone != "": // it stays a program
		return
	case len(coming) == 0 && (!at.external || s.clauses[place{dir: at.dir}] == ""):
		return
	case at.external && s.clause(place{dir: at.dir}) != "":
		s.clauses[at] = s.clause(place{dir: at.dir})
	case len(staying) > 0:
		s.clauses[at] = staying[0]
	case follows && r.byPath(at.dir) != "":
		s.clauses[at] = r.byPath(at.dir)
	case len(coming) == 1:
		s.clauses[at] = coming[0]
	default:
		s.clashes[at] = coming
	}
	s.clauses[at] += external(at)
}

// external is what the clause of a package of tests from outside ends with.
func external(at place) string {
	if at.external {
		return "_test"
	}
	return ""
}

// clause is the name of a package of the new tree.
func (s *shift) clause(at place) string {
	if name, known := s.clauses[at]; known {
		return name
	}
	if p := s.packs.Space(at); p != nil {
		return s.of(p.Files[0]).clause
	}
	return ""
}

// Owes writes the package clauses of files that come to another package, and says which moves the language does not
// allow.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !slices.ContainsFunc(moves, func(m lang.Moved) bool { return strings.HasSuffix(m.From, ".go") }) {
		return nil
	}
	j := judge{Resolver: r, shift: r.shifted(old, moves), moves: map[string]string{}}
	for _, m := range moves {
		j.moves[m.From] = m.To
	}
	j.unreadable()
	j.modules()
	j.built()
	j.clauses()
	j.parted()
	j.merged()
	j.examples()
	j.imports()
	j.remark()
	return j.out
}
