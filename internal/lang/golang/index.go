package golang

import (
	"cmp"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
)

// index is what the files of a tree declare, by their packages.
type index struct {
	once     sync.Once
	files    map[project.FileID]*file
	broken   map[project.FileID]error
	packages names.Index[place]
	mixed    map[string]bool // folders with files of a program and of another package
}

// place is where a package is: a folder has one package, and another of tests from outside. A program beside a package
// is one by itself, by the name of its file: it is run by that, and left out by a constraint else.
type place struct {
	dir      string
	external bool
	alone    string
}

func comparePlaces(a, b place) int {
	return cmp.Or(strings.Compare(a.dir, b.dir), strings.Compare(external(a), external(b)),
		strings.Compare(a.alone, b.alone))
}

// index reads all Go files of the tree, which costs more than their imports do: it is done when the first name is asked
// for.
func (r *Resolver) index() *index {
	r.ix.once.Do(func() {
		ids, files, errs := lang.Indexes[*file](r.tree, func(p string) bool { return strings.HasSuffix(p, ".go") })
		r.ix.files, r.ix.broken = map[project.FileID]*file{}, map[project.FileID]error{}
		programs, others := map[string]bool{}, map[string]bool{} // a program of several files is none by itself
		for i, id := range ids {
			switch dir := path.Dir(r.tree.Path(id)); {
			case errs[i] != nil:
			case files[i].clause == "main":
				whole, seen := programs[dir]
				programs[dir] = (whole || !seen) &&
					slices.ContainsFunc(files[i].declared, func(d declaration) bool { return d.name == "main" })
			case !files[i].external(r.tree.Path(id)):
				others[dir] = true
			}
		}
		r.ix.mixed = map[string]bool{}
		for dir, whole := range programs {
			r.ix.mixed[dir] = whole && others[dir]
		}
		for i, id := range ids {
			if errs[i] != nil {
				r.ix.broken[id] = errs[i]
				continue
			}
			r.ix.files[id] = files[i]
			r.ix.packages.Add(r.placeOf(id, files[i]), id, files[i].names())
		}
	})
	return &r.ix
}

func (r *Resolver) placeOf(id project.FileID, f *file) place {
	p := r.tree.Path(id)
	at := place{dir: path.Dir(p), external: f.external(p)}
	if f.clause == "main" && r.ix.mixed[at.dir] {
		at.alone = path.Base(p)
	}
	return at
}

// clause is the name of the package in a folder, by most of its files; empty for none.
func (ix *index) clause(at place) string {
	p := ix.packages.Space(at)
	if p == nil {
		return ""
	}
	for _, id := range p.Files { // in the order of their paths
		if name := ix.files[id].clause; name != "main" || len(p.Files) == 1 {
			return name
		}
	}
	return ix.files[p.Files[0]].clause
}

// target gives the files that declare a name of a package, as a file sees it.
func (r *Resolver) target(from project.FileID, at place, name string) lang.Target {
	p := r.index().packages.Space(at)
	if p == nil {
		return lang.No(lang.ToOutside)
	}
	ids := p.Declare(name)
	user := r.tree.Path(from)
	if !isTest(user) || path.Dir(user) != at.dir { // tests declare for tests alone
		ids = slices.DeleteFunc(slices.Clone(ids), func(id project.FileID) bool { return isTest(r.tree.Path(id)) })
	}
	if slices.Contains(ids, from) {
		return lang.File(from)
	}
	switch len(ids) {
	case 0:
		return lang.No(lang.ToOutside)
	case 1:
		return lang.File(ids[0])
	}
	return lang.Set(at.dir, slices.Clone(ids))
}

// Name is what a use of a package's name knows: the import path by which it is had, empty for a name of the file's own
// package, and what stands before the dot.
type Name struct{ Path, Qualifier string }

// resolveName says which file declares a name.
func (r *Resolver) resolveName(from project.FileID, m *lang.Mention) lang.Target {
	f := r.index().files[from]
	if f == nil {
		return lang.No(lang.ToOutside)
	}
	at := r.placeOf(from, f)
	if by := lang.Own[Name](m).Path; by != "" {
		dir, ok := r.folder(path.Dir(r.tree.Path(from)), by)
		if !ok {
			return lang.No(lang.ToOutside)
		}
		at = place{dir: dir}
	}
	return r.target(from, at, m.Text)
}

// qualifiers gives the imports of a file that lead to packages of the tree, by what stands before the dot of their
// names.
func (r *Resolver) qualifiers(from project.FileID, f *file) map[string]*spec {
	out := map[string]*spec{}
	dir := path.Dir(r.tree.Path(from))
	for i := range f.imports {
		s := &f.imports[i]
		below, ok := r.folder(dir, s.path)
		if !ok || s.name == "_" || s.name == "." {
			continue
		}
		name := s.name
		if name == "" {
			name = r.index().clause(place{dir: below})
		}
		if name != "" && out[name] == nil {
			out[name] = s
		}
	}
	return out
}

// Asks says whether a file is read for the names that it uses, or for the paths of packages: where the tree has
// modules.
func (r *Resolver) Asks(_ project.FileID, mentions []lang.Mention, _ []lang.Target) bool {
	return !r.certain && len(r.modules) > 0 && !slices.ContainsFunc(mentions, func(m lang.Mention) bool {
		return m.Kind == NameUse || m.Kind == DocLink || m.Kind == PackageText
	})
}

// Second finds the names of the project's packages that a Go file uses and another declares, and the paths of packages
// in a file of any kind.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	if !strings.HasSuffix(r.tree.Path(from), ".go") {
		return r.pathsIn(from, content)
	}
	f := r.index().files[from]
	if f == nil {
		return nil
	}
	out := r.namesIn(from, f)
	return append(out, inGo(f, content, r.pathsIn(from, content))...)
}

// namesIn finds the names of the project's packages that a Go file uses and another declares.
func (r *Resolver) namesIn(from project.FileID, f *file) []lang.Mention {
	own, brought := r.placeOf(from, f), r.qualifiers(from, f)
	type dot struct{ path, dir string }
	var dots []dot // imports whose names stand without a qualifier
	for _, s := range f.imports {
		if dir, ok := r.folder(own.dir, s.path); ok && s.name == "." {
			dots = append(dots, dot{s.path, dir})
		}
	}
	var out []lang.Mention
	for _, u := range f.uses {
		m := lang.Mention{Span: u.at, Text: u.name, Kind: NameUse, Form: lang.Plain, Deferred: true}
		if u.qualifier != "" {
			if s := brought[u.qualifier]; s != nil {
				m.Detail = &lang.Detail{Own: Name{s.path, u.qualifier}}
				out = append(out, m)
				continue
			}
			m.Text, m.Span.End = u.qualifier, m.Span.Start+len(u.qualifier)
		}
		if r.target(from, own, m.Text).Kind.Inside() {
			out = append(out, m)
			continue
		}
		for _, d := range dots {
			if r.target(from, place{dir: d.dir}, m.Text).Kind.Inside() {
				m.Detail = &lang.Detail{Own: Name{Path: d.path}}
				out = append(out, m)
				break
			}
		}
	}
	for _, l := range f.links {
		m := lang.Mention{Span: l.at, Text: l.name, Kind: DocLink, Form: lang.Plain, Likely: true, Evident: true,
			Deferred: true}
		switch s := brought[l.qualifier]; {
		case l.qualifier == "":
		case s != nil:
			m.Detail = &lang.Detail{Own: Name{s.path, l.qualifier}}
		case strings.Contains(l.qualifier, "/"):
			m.Detail = &lang.Detail{Own: Name{l.qualifier, l.qualifier}}
		default:
			continue
		}
		if r.resolveName(from, &m).Kind.Inside() {
			out = append(out, m)
		}
	}
	return lang.InOrder(out)
}
