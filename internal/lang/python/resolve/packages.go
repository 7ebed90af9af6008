package resolve

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// made says which folders need a file that makes them packages, after files of packages have moved to them: each
// between a moved module and the folder where its imports start, if it held no modules before.
func (r *Resolver) made(old *Resolver, moves []lang.Moved) (out []lang.Duty) {
	seen := map[string]bool{}
	for _, m := range moves {
		if path.Ext(m.To) != ".py" || !old.regular(path.Dir(m.From)) {
			continue
		}
		from, alike := path.Dir(m.From), true // the folder that the new one was, as long as they bear the same names
		for dir := path.Dir(m.To); dir != "." && !seen[dir] && !r.isRoot(dir); dir = path.Dir(dir) {
			seen[dir] = true
			if alike = alike && from != "." && path.Base(from) == path.Base(dir); !r.regular(dir) &&
				!old.hasModules(dir) &&
				!(alike && !old.regular(from)) {
				out = append(out, lang.Duty{Path: dir + "/__init__.py", New: []byte{}})
			}
			from = path.Dir(from)
		}
	}
	return out
}

// emptied says which files only marked folders from which all else has gone.
func (r *Resolver) emptied(old *Resolver, moves []lang.Moved) (out []lang.Duty) {
	left, come := map[string]bool{}, map[string]bool{}
	for _, m := range moves {
		come[m.To] = true
		for dir := project.Dir(m.From); dir != "." && !left[dir]; dir = project.Dir(dir) {
			left[dir] = true
		}
	}
	stayed := func(id project.FileID) bool {
		p := r.tree.Path(id)
		_, was := old.tree.Lookup(p)
		return was && !come[p]
	}
	bare := func(dir string) bool {
		from, to := r.tree.Below(dir)
		for id := from; id < to; id++ {
			if p := r.tree.Path(id); !marks[path.Base(p)] || !stayed(id) && !come[p] {
				return false
			}
		}
		return true
	}
	for id, f := range r.tree.Files {
		id, dir := project.FileID(id), project.Dir(f.Path)
		if !marks[path.Base(f.Path)] || !left[dir] || !stayed(id) || !bare(dir) {
			continue
		}
		if content, err := r.tree.Content(id); err == nil && blank(content) {
			out = append(out, lang.Duty{Path: f.Path, Remove: true})
		}
	}
	return out
}

// marks are files that are there to be there: an empty one is of no use in a folder without other files.
var marks = map[string]bool{"__init__.py": true, "__init__.pyi": true, "py.typed": true}

// blank says whether a text holds nothing but comments.
func blank(content []byte) bool {
	for line := range bytes.Lines(content) {
		if line = bytes.TrimSpace(line); len(line) > 0 && line[0] != '#' {
			return false
		}
	}
	return true
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

// hasModules says whether modules lie directly in a folder.
func (r *Resolver) hasModules(dir string) bool {
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
