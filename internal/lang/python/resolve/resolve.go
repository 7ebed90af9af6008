// Package resolve says where the imports of Python lead, as the import system does, and writes them anew.
//
// roots.go says from which folders imports start, resolve.go where they lead, bound.go what a package holds under a
// name, uses.go where a file uses modules, resources.go and ownpath.go what paths from code lead to; packages.go says
// which files make a folder a package, packaging.go and setuptools.go how a distribution is built, places.go what a
// framework looks for. spell.go writes single names, settle.go the imports of a file, split.go those that become
// several, settleuses.go uses by dots, settlebook.go those in notebooks.
package resolve

import (
	"fmt"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
)

// Resolver answers for one tree, as the import system does (docs.python.org/3/reference/import.html): a package is a
// folder, with an __init__.py or without one; a module is a file; a stub stands beside it.
type Resolver struct {
	tree    *lang.Tree
	roots   []string
	modules map[string]bool     // names of all modules and packages, wherever they lie
	stubs   bool                // there are some
	from    map[string][]string // where absolute imports of the modules in a folder start
	// around are the files of the packages that the folder of a module is and that are around it.
	around       map[string][]project.FileID
	asked        sync.Once // works out applications
	applications []application
	dists        sync.Once // works out built
	built        []*distribution
	values       []map[string]nameValue // what each __init__.py gives a value to, by FileID; nil for all else
}

// New finds the folders from which imports start.
func New(tree *lang.Tree) *Resolver {
	r := &Resolver{tree: tree}
	if slices.ContainsFunc(tree.Files, func(f project.File) bool { return strings.HasSuffix(f.Path, ".py") }) {
		r.roots = findRoots(tree.Project, tree.Declared)
		r.stubs = slices.ContainsFunc(tree.Files,
			func(f project.File) bool { return strings.HasSuffix(f.Path, ".pyi") })
		r.readPackages()
		r.modules, r.from, r.around = map[string]bool{}, map[string][]string{}, map[string][]project.FileID{}
		for _, f := range tree.Files {
			if strings.HasSuffix(f.Path, ".py") {
				r.modules[strings.TrimSuffix(path.Base(f.Path), ".py")] = true
				dir := project.Dir(f.Path)
				if _, known := r.from[dir]; !known {
					r.modules[path.Base(dir)] = true
					r.from[dir] = r.startsBelow(dir)
					r.around[dir] = r.packagesAround(dir)
				}
			}
		}
	}
	return r
}

// Resolve says what an import leads to: a module's file, a folder that is a package without a file, or something that
// is no part of the project.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	p := r.tree.Path(from)
	switch m.Kind {
	case syntax.FromName:
		return r.name(p, m)
	case syntax.ModuleUse:
		_, rest, deeper := strings.Cut(m.Text, ".")
		if deeper {
			rest = "." + rest
		}
		return r.module(p, syntax.Appended(syntax.DetailOf(m).From, rest))
	case syntax.ModuleText:
		t, _ := r.text(p, m)
		return t
	case syntax.ModuleSetting, syntax.Program:
		if t, _ := r.text(p, m); t.Kind.Inside() {
			return t
		}
		return r.tree.Resolver(paths.Setting).Resolve(from, asPath(m)) // it names no module, and may be a path
	case syntax.AnchorFolder:
		return r.anchored(p, m, "")
	case syntax.AnchorPath:
		return r.anchored(p, m, m.Text)
	case syntax.PackagePath:
		return r.packaged(p, m)
	}
	if m.Kind == syntax.ModuleCall && strings.HasPrefix(m.Text, ".") {
		return lang.No(lang.ToOutside) // relative to a package that the call names
	}
	t := r.module(p, m.Text)
	if t.Kind == lang.ToPackage && m.Must() {
		if first, _, _ := strings.Cut(m.Text, "."); r.modules[first] {
			return lang.No(lang.ToNothing) // a module of the project that is found only where the file says to look
		}
	}
	return t
}

// Tried gives the files that an import is looked for in.
func (r *Resolver) Tried(from project.FileID, m *lang.Mention) []string {
	p, rest := r.tree.Path(from), strings.TrimLeft(m.Text, ".")
	starts := r.starts(p)
	if dots := len(m.Text) - len(rest); dots > 0 {
		starts = []string{above(p, dots)}
	}
	var out []string
	for _, root := range starts {
		place := inside(root, rest)
		out = append(out, place+".py", place+"/__init__.py")
	}
	return out
}

// name resolves a name of a from-import: a module of the package, or else what the module itself holds.
func (r *Resolver) name(p string, m *lang.Mention) lang.Target {
	module := r.module(p, syntax.DetailOf(m).From)
	folder, ok := r.folderOf(module)
	if !ok {
		return module
	}
	// the package itself asks before it has given the value
	if r.hides(module, m.Text) && r.tree.Path(module.File) != p {
		return module
	}
	if t, ok := r.load(path.Join(folder, m.Text)); ok {
		return t
	}
	return module
}

// anchored gives what lies at a path from a folder above the file, or the folder itself.
func (r *Resolver) anchored(p string, m *lang.Mention, rest string) lang.Target {
	dir := p
	for range syntax.DetailOf(m).Up {
		if dir == "." {
			return lang.No(lang.ToOutside)
		}
		dir = path.Dir(dir)
	}
	place := path.Join(dir, rest)
	if lang.Leaves(place) {
		return lang.No(lang.ToOutside)
	}
	if id, ok := r.tree.Lookup(place); ok && rest != "" {
		return lang.File(id)
	}
	if r.tree.IsDir(place) {
		return lang.Folder(place)
	}
	return lang.No(lang.ToOutside)
}

// asPath is a value of settings read as a path.
func asPath(m *lang.Mention) *lang.Mention {
	path := *m
	path.Kind = paths.Setting
	return &path
}

// text resolves a string that names a module, or something in one: what it is there must be found in it. place is how
// much of the text names the module.
func (r *Resolver) text(p string, m *lang.Mention) (t lang.Target, place int) {
	if syntax.Exported(m) {
		if h, ok := r.valuesOf(p)[m.Text]; ok && !h.module {
			name := lang.Mention{Text: h.name, Kind: syntax.FromName,
				Detail: &lang.Detail{Own: syntax.Detail{From: h.from}}}
			if t := r.name(p, &name); h.from != "" && r.isModule(p, &name, t) {
				return t, len(m.Text)
			}
			return lang.No(lang.ToOutside), 0
		}
		if t, ok := r.load(path.Join(path.Dir(p), m.Text)); ok {
			return t, len(m.Text)
		}
		return lang.No(lang.ToOutside), 0
	}
	module, attribute, colon := strings.Cut(m.Text, ":")
	for end := len(module); end > 0; end = strings.LastIndexByte(module[:end], '.') {
		t := r.module(p, module[:end])
		switch {
		case !t.Kind.Inside():
			continue
		case end < len(module):
			attribute, _, _ = strings.Cut(module[end+1:], ".")
		case !colon:
			if t.Kind == lang.ToFolder && !strings.Contains(module, ".") && m.Likely {
				return lang.No(lang.ToOutside), 0 // a word that is a folder's name too
			}
			return t, end
		}
		attribute, _, _ = strings.Cut(attribute, ".")
		if t.Kind == lang.ToFile && r.speaksOf(t.File, attribute) {
			return t, end
		}
		break
	}
	return lang.No(lang.ToOutside), 0
}

// folderOf gives the folder of a package.
func (r *Resolver) folderOf(t lang.Target) (string, bool) {
	switch t.Kind {
	case lang.ToFolder:
		return t.Folder(), true
	case lang.ToFile:
		p := r.tree.Path(t.File)
		if base := path.Base(p); base == "__init__.py" || base == "__init__.pyi" {
			return path.Dir(p), true
		}
	}
	return "", false
}

// module resolves a dotted name, with dots before it for one that is relative to the file's package.
func (r *Resolver) module(p, text string) lang.Target {
	rest := strings.TrimLeft(text, ".")
	if dots := len(text) - len(rest); dots > 0 {
		dir := project.Dir(p)
		for range dots - 1 {
			if dir == "." {
				return lang.No(lang.ToNothing)
			}
			dir = project.Dir(dir)
		}
		if t, ok := r.load(inside(dir, rest)); ok && r.inPackage(p, dir) {
			return t
		}
		return lang.No(lang.ToNothing)
	}
	lacking := false        // a package of the project has no such module
	var portion lang.Target // a folder that is a package without a file: it counts where no other is found
	for _, root := range r.starts(p) {
		if t, ok := r.load(inside(root, rest)); ok && t.Kind == lang.ToFile {
			return t
		} else if ok && !portion.Kind.Inside() {
			portion = t
		}
		if first, _, deeper := strings.Cut(rest, "."); deeper {
			t, ok := r.load(inside(root, first))
			lacking = lacking || ok && t.Kind == lang.ToFile
		}
	}
	switch {
	case portion.Kind.Inside():
		return portion
	case lacking:
		return lang.No(lang.ToNothing)
	}
	return lang.No(lang.ToPackage)
}

// inside is the place of a dotted name in a folder.
func inside(dir, name string) string {
	if name == "" {
		return dir
	}
	var buf [256]byte
	out := buf[:0]
	if dir != "." {
		out = append(append(out, dir...), '/')
	}
	below := len(out)
	for out = append(out, name...); below < len(out); below++ {
		if out[below] == '.' {
			out[below] = '/'
		}
	}
	return lang.Clean(string(out))
}

// starts are the folders from which a file's absolute imports start: the roots, the nearest that it lies in first, and
// the folder around its own outermost package.
func (r *Resolver) starts(p string) []string {
	dir := project.Dir(p)
	if from, known := r.from[dir]; known {
		return from
	}
	return r.startsBelow(dir)
}

func (r *Resolver) startsBelow(dir string) []string {
	for dir != "." {
		if _, is := r.tree.LookupParts(dir, "/__init__.py"); !is {
			break
		}
		dir = project.Dir(dir)
	}
	own := slices.Contains(r.roots, dir)
	rank := func(root string) int {
		switch {
		case own && root == dir:
			return -1 - len(dir)
		case root != "." && strings.HasPrefix(dir+"/", root+"/"):
			return -len(root)
		}
		return 0
	}
	starts := slices.Clone(r.roots)
	slices.SortStableFunc(starts, func(a, b string) int { return rank(a) - rank(b) })
	if !own {
		starts = append(starts, dir)
	}
	return starts
}

// load finds a package or a module at a place: a package with a file is asked before a module, and a folder without one
// last.
func (r *Resolver) load(place string) (lang.Target, bool) {
	isFolder := r.tree.IsDir(place)
	if isFolder {
		if t, ok := r.withStub(place, "/__init__.py", "/__init__.pyi"); ok {
			return t, true
		}
	}
	if t, ok := r.withStub(place, ".py", ".pyi"); ok {
		return t, true
	}
	if isFolder && place != "." && r.holdsModules(place) {
		return lang.Folder(place), true
	}
	return lang.Target{}, false
}

// withStub gives a file with the stub beside it, or the stub alone.
func (r *Resolver) withStub(place, ending, stubEnding string) (lang.Target, bool) {
	id, ok := r.tree.LookupParts(place, ending)
	t := lang.File(id)
	if !r.stubs {
		return t, ok
	}
	stub, stubbed := r.tree.LookupParts(place, stubEnding)
	switch {
	case ok && stubbed:
		t.Twin = stub
	case stubbed:
		return lang.File(stub), true
	}
	return t, ok
}

// holdsModules says whether a Python file lies below a folder.
func (r *Resolver) holdsModules(dir string) bool {
	from, to := r.tree.Below(dir)
	for id := from; id < to; id++ {
		if strings.HasSuffix(r.tree.Path(id), ".py") {
			return true
		}
	}
	return false
}

// warnings tell of module names that two roots hold.
func (r *Resolver) warnings() []string {
	seen := map[string]string{}
	var out []string
	for _, root := range r.roots {
		prefix := root + "/"
		if root == "." {
			prefix = ""
		}
		told := map[string]bool{}
		for _, f := range r.tree.Files {
			rest, ok := strings.CutPrefix(f.Path, prefix)
			if !ok || !strings.HasSuffix(rest, ".py") {
				continue
			}
			name, _, deeper := strings.Cut(rest, "/")
			if !deeper {
				name = strings.TrimSuffix(rest, ".py")
			} else if _, is := r.tree.Lookup(prefix + name + "/__init__.py"); !is {
				continue
			}
			if other, twice := seen[name]; twice && other != prefix && !told[name] &&
				!strings.Contains(" setup manage conftest __init__ ", " "+name+" ") {
				out = append(out,
					fmt.Sprintf("the module %s is in %s and in %s: an import of it from elsewhere leads to the first",
						name, shown(other), shown(prefix)))
			}
			told[name] = true
			if _, known := seen[name]; !known {
				seen[name] = prefix
			}
		}
	}
	return out
}

func shown(prefix string) string {
	if prefix == "" {
		return "the root"
	}
	return strings.TrimSuffix(prefix, "/")
}
