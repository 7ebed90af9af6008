package python

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// fixed says what the names of files mean to the import system, to installers, to test runners and to the habits of web
// applications (docs.python.org/3/reference/import.html; packaging.python.org; docs.pytest.org).
func fixed(p string) lang.Fixture {
	switch path.Base(p) {
	case "__init__.py", "__init__.pyi":
		return lang.Fixture{Why: "makes its folder a package", Follows: true, Marks: true}
	case "__main__.py":
		return lang.Fixture{Why: "is what runs when its package is run", Follows: true}
	case "py.typed":
		return lang.Fixture{Why: "says that its package has types", Follows: true, Marks: true}
	case "conftest.py":
		return lang.Fixture{Why: "holds what the tests below its folder share", Follows: true}
	case "manage.py":
		return lang.Fixture{Why: "is the management script, run from where it stands"}
	case "setup.py":
		return lang.Fixture{Why: "builds the project from where it stands", Builds: true}
	case "hatch_build.py":
		return lang.Fixture{Why: "is run when the project is built", Builds: true}
	}
	return lang.Fixture{}
}

// PackageFiles says which folders need a file that makes them packages, after files of packages have moved to them:
// each between a moved module and the folder where its imports start, if it held no modules before.
func (r *Resolver) PackageFiles(before *lang.Rules, moves []lang.Moved) []string {
	old, ok := before.Resolver.(*Resolver)
	if !ok {
		return nil
	}
	var out []string
	seen := map[string]bool{}
	for _, m := range moves {
		if path.Ext(m.To) != ".py" || !old.regular(path.Dir(m.From)) {
			continue
		}
		from, alike := path.Dir(m.From), true // the folder that the new one was, as long as they bear the same names
		for dir := path.Dir(m.To); dir != "." && !seen[dir] && !r.isRoot(dir); dir = path.Dir(dir) {
			seen[dir] = true
			if alike = alike && from != "." && path.Base(from) == path.Base(dir); !r.regular(dir) && !old.holds(dir) && !(alike && !old.regular(from)) {
				out = append(out, dir+"/__init__.py")
			}
			from = path.Dir(from)
		}
	}
	return out
}

// Loads adds the files that run when a module is imported: its own, and those of the packages around it.
func (r *Resolver) Loads(t lang.Target, out []project.FileID) []project.FileID {
	if !t.Kind.Inside() || t.Kind == lang.ToFile && !strings.HasSuffix(r.tree.Path(t.File), ".py") {
		return out
	}
	own, place := project.None, r.place(t)
	if t.Kind == lang.ToFile {
		own = t.File
		out = append(out, own)
	}
	if id, is := r.tree.LookupParts(place, "/__init__.py"); is && id != own && place != "." {
		out = append(out, id)
	}
	if place != "." {
		out = append(out, r.packagesAround(project.Dir(place))...)
	}
	return out
}

// packagesAround are the files of the packages that are a folder and those around it.
func (r *Resolver) packagesAround(dir string) []project.FileID {
	if known, is := r.around[dir]; is || dir == "." {
		return known
	}
	above := r.packagesAround(project.Dir(dir))
	if id, is := r.tree.LookupParts(dir, "/__init__.py"); is {
		return append([]project.FileID{id}, above...)
	}
	return above
}

// regular says whether a folder is a package with a file.
func (r *Resolver) regular(dir string) bool {
	_, is := r.tree.Lookup(path.Join(dir, "__init__.py"))
	return is
}

// holds says whether modules lie directly in a folder.
func (r *Resolver) holds(dir string) bool {
	if !r.tree.IsDir(dir) {
		return false
	}
	from, to := r.tree.Below(dir)
	for id := from; id < to; id++ {
		if p := r.tree.Path(id); strings.HasSuffix(p, ".py") && path.Dir(p) == dir {
			return true
		}
	}
	return false
}

func (r *Resolver) isRoot(dir string) bool { return slices.Contains(r.roots, dir) }
