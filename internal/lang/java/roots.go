package java

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
)

// This file knows the folders from which packages are counted. A builder says where they are, mostly by not saying
// anything; else the package lines of the files that lie below show them.

// roots are the folders from which packages are counted, the deepest first.
type roots []string

// usual says which root a path has by the habit of all builders: src/main/java, src/test/java, src/it/java.
func usual(p string) (root string, ok bool) {
	parts := strings.Split(p, "/")
	for i := len(parts) - 3; i >= 0; i-- {
		if parts[i] == "src" && i+2 < len(parts) && (parts[i+2] == "java" || parts[i+2] == "kotlin") {
			return path.Join(parts[:i+3]...), true
		}
	}
	return "", false
}

// folderOf is the folder of a package below its root.
func folderOf(pkg string) string { return strings.ReplaceAll(pkg, ".", "/") }

// rootBy gives the root that a file in a folder has by its package; false where the two do not agree.
func rootBy(dir, pkg string) (root string, ok bool) {
	if pkg == "" {
		return dir, true
	}
	below := folderOf(pkg)
	switch {
	case dir == below:
		return ".", true
	case strings.HasSuffix(dir, "/"+below):
		return strings.TrimSuffix(dir, "/"+below), true
	}
	return "", false
}

// findRoots finds the roots of files, given by their folders and packages.
func findRoots(files func(yield func(dir, pkg string) bool)) (out roots) {
	sure, bare := map[string]bool{}, map[string]bool{}
	for dir, pkg := range files {
		if root, is := usual(dir + "/x"); is {
			sure[root] = true
		}
		if root, ok := rootBy(dir, pkg); ok && pkg != "" {
			sure[root] = true
		} else if pkg == "" {
			bare[dir] = true
		}
	}
	for root := range sure {
		out = append(out, root)
	}
	out.sort()
	for dir := range bare { // a file without a package that lies below a root has lost its package line
		if _, below := out.of(dir); !below {
			out = append(out, dir)
		}
	}
	out.sort()
	return out
}

func (r roots) sort() {
	slices.SortFunc(r, func(a, b string) int {
		if len(a) != len(b) {
			return len(b) - len(a)
		}
		return strings.Compare(a, b)
	})
}

// of gives the root below which a folder lies.
func (r roots) of(dir string) (string, bool) {
	if root, is := usual(dir + "/x"); is {
		return root, true
	}
	for _, root := range r {
		if root == "." || dir == root || strings.HasPrefix(dir, root+"/") {
			return root, true
		}
	}
	return "", false
}

// expected is the package that a file has in a folder, given the folder and the package that it had; false where no
// root holds it.
func (r roots) expected(dir, before, pkg string) (string, bool) {
	root, held := r.of(dir)
	was, _ := rootBy(before, pkg)
	_, sure := usual(dir + "/x")
	// all of a root may go somewhere else
	if _, fits := rootBy(dir, pkg); fits && pkg != "" && !(held && (sure || root == was)) {
		return pkg, true
	}
	if !held {
		return pkg, false
	}
	name, below := names.Qualified(root, dir, ".")
	if !below {
		name = ""
	}
	return name, true
}

// isPackage says whether each part of a package is a name; the default package is none.
func isPackage(pkg string) bool {
	for part := range strings.SplitSeq(pkg, ".") {
		if !isName(part) {
			return false
		}
	}
	return true
}

// isName says whether a text may be a name.
func isName(text string) bool {
	for i := range len(text) {
		if !ofName[text[i]] || i == 0 && digit(text[i]) {
			return false
		}
	}
	return text != "" && !reserved([]byte(text)) && text != "_"
}

// isJava says whether a file is read as Java.
func isJava(p string) bool { return strings.HasSuffix(p, ".java") }

// entry is what a file says of names, with those that it has once it has come to its place: the package of a file that
// agreed with its folder follows the folder, before the text is edited too.
type entry struct {
	*file
	path  string
	pkg   string
	label int    // the type that is called as the file; -1 for none
	class string // how that is called
	fits  bool   // the package agrees with the folder
	loose bool   // it did, and no root holds the new place
	inner map[inside]int
	// fields are those of its types.
	fields map[inside]visibility
	// owned are the members of its types, by these.
	owned map[int][]int32
	// chains are the types of which a constructor calls one of what the type is built on.
	chains map[int]bool
	// guesses: the file has a variable whose type is worked out.
	guesses bool
}

// inside is a name in a type.
type inside struct {
	owner int
	name  string
}

// entryOf works out which names a file has at its place.
func (r *Resolver) entryOf(id project.FileID, f *file) *entry {
	p := r.tree.Path(id)
	e := &entry{file: f, path: p, pkg: f.pkg, label: -1, inner: map[inside]int{},
		fields: map[inside]visibility{}, owned: map[int][]int32{},
		chains: map[int]bool{}}
	for _, c := range f.calls {
		if c.name == "super" {
			e.chains[int(c.owner)] = true
		}
	}
	for _, gives := range f.vars {
		e.guesses = e.guesses || slices.Contains(gives, "")
	}
	for i := range f.members {
		e.owned[f.members[i].owner] = append(e.owned[f.members[i].owner], int32(i))
		if m := &f.members[i]; !m.method {
			e.fields[inside{m.owner, m.name}] = m.sees
		}
	}
	stem := strings.TrimSuffix(path.Base(p), ".java")
	origin := r.tree.Before(id)
	was := strings.TrimSuffix(path.Base(origin), ".java")
	for i := range f.types {
		d := &f.types[i]
		if d.name != "" && !d.local {
			e.inner[inside{d.owner, d.name}] = i
		}
		if d.owner < 0 && d.name == stem {
			e.label, e.class = i, stem
		}
	}
	for i := range f.types { // the text is not written yet
		if d := &f.types[i]; e.label < 0 && origin != p && d.owner < 0 && d.name == was {
			e.label, e.class = i, stem
		}
	}
	dir, before := path.Dir(p), path.Dir(origin)
	_, fits := rootBy(dir, f.pkg)
	_, fitted := rootBy(before, f.pkg)
	if f.pkg == "" {
		fits, fitted = r.isRoot(dir), r.isRoot(before)
	}
	e.fits = fits
	if dir != before && fitted {
		pkg, held := r.roots.expected(dir, before, f.pkg)
		e.pkg, e.loose = pkg, !held
		e.fits = held && pkg == f.pkg
	}
	return e
}

func (r *Resolver) isRoot(dir string) bool {
	root, held := r.roots.of(dir)
	return held && root == dir
}

// nameOf is the name of a type in full, once the file has come to its place.
func (e *entry) nameOf(at int) string { return join(e.pkg, e.pathOf(at)) }

// pathOf is the name of a type with those that it stands in.
func (e *entry) pathOf(at int) string {
	name := ""
	for ; at >= 0; at = e.types[at].owner {
		one := e.types[at].name
		if at == e.label {
			one = e.class
		}
		if name != "" {
			one += "." + name
		}
		name = one
	}
	return name
}

// isSeen says whether a type can be named from other files.
func (e *entry) isSeen(at int) bool { return e.types[at].name != "" && !e.inCode(at) }
