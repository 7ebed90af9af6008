package golang

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"golang.org/x/mod/modfile"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Resolver answers for one tree: it knows the tree's modules (go.dev/ref/mod).
type Resolver struct {
	tree    *lang.Tree
	modules []module // the deepest folder first
	// packages are the files of the package in each folder: all Go files directly in it, whatever they are built for,
	// but tests.
	packages map[string][]project.FileID
	targets  map[string]lang.Target // the same, one for all who import it
	joined   map[string]bool        // the folders of modules that a go.work joins
	warnings []string
	certain  bool  // names are not asked for
	ix       index // of names
	moved    shift // of the files before, where this is the tree after moves
}

// module is a go.mod of the tree.
type module struct {
	dir, path string
	replaced  map[string]string // import path of another module -> its folder in the tree
	id        project.FileID    // of its go.mod
	asks      []lang.Dependency
}

// New reads the modules of a tree.
func New(tree *lang.Tree) *Resolver {
	declared := tree.Declared
	r := &Resolver{tree: tree, packages: map[string][]project.FileID{}, targets: map[string]lang.Target{},
		joined: map[string]bool{}, certain: declared != nil && declared.Certain}
	for id, f := range tree.Files {
		if strings.HasSuffix(f.Path, ".go") && !strings.HasSuffix(f.Path, "_test.go") {
			r.packages[path.Dir(f.Path)] = append(r.packages[path.Dir(f.Path)], project.FileID(id))
		}
		base := path.Base(f.Path)
		if base != manifestName && base != "go.work" || f.Link {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil {
			r.warnings = append(r.warnings, err.Error())
			continue
		}
		if base == "go.work" {
			r.join(f.Path, content)
			continue
		}
		parsed, err := modfile.Parse(f.Path, content, nil)
		if err != nil { // it may say what is not known yet; so much is
			parsed, err = modfile.ParseLax(f.Path, content, nil)
		}
		if err != nil || parsed.Module == nil {
			r.warnings = append(r.warnings,
				fmt.Sprintf("%s can't be read: where the imports of its module lead is not known", f.Path))
			continue
		}
		m := module{dir: path.Dir(f.Path), path: parsed.Module.Mod.Path, replaced: map[string]string{}}
		for _, rep := range parsed.Replace {
			if modfile.IsDirectoryPath(rep.New.Path) {
				if dir := path.Join(m.dir, rep.New.Path); !lang.Leaves(dir) {
					m.replaced[rep.Old.Path] = dir
				}
			}
		}
		m.id = project.FileID(id)
		for _, req := range parsed.Require {
			name := req.Mod.Path
			m.asks = append(m.asks, lang.Dependency{Name: name, At: req.Syntax.Start.Byte, Code: !req.Indirect,
				Covers: func(used string) bool { return used == name || strings.HasPrefix(used, name+"/") }})
		}
		r.modules = append(r.modules, m)
	}
	for dir, files := range r.packages {
		r.targets[dir] = lang.Set(dir, files)
	}
	slices.SortStableFunc(r.modules, func(a, b module) int { return cmp.Compare(depth(b.dir), depth(a.dir)) })
	return r
}

// join reads which modules a go.work joins. One that can't be read joins none.
func (r *Resolver) join(file string, content []byte) {
	work, err := modfile.ParseWork(file, content, nil)
	if err != nil {
		return
	}
	for _, use := range work.Use {
		r.joined[path.Join(path.Dir(file), use.Path)] = true
	}
}

// hasFrom says whether what is of one module may import packages of another by their path: it asks for that, or one
// go.work joins the two.
func (r *Resolver) hasFrom(m *module, importPath string) bool {
	if importPath == m.path || strings.HasPrefix(importPath, m.path+"/") || ofPlatform(importPath) {
		return true
	}
	if slices.ContainsFunc(m.asks, func(d lang.Dependency) bool { return d.Covers(importPath) }) {
		return true
	}
	return r.joined[m.dir] && slices.ContainsFunc(r.modules, func(other module) bool {
		return r.joined[other.dir] && (importPath == other.path || strings.HasPrefix(importPath, other.path+"/"))
	})
}

// Packages are the modules of the tree with what they ask for. What they use unasked the go command tells.
func (r *Resolver) Packages() (out []lang.Package) {
	for i := range r.modules {
		m := &r.modules[i]
		out = append(out, lang.Package{Manifest: m.id, Dir: m.dir, Name: m.path, Asks: m.asks})
	}
	return out
}

// depth is how many folders a folder lies below the root.
func depth(dir string) int {
	if dir == "." {
		return 0
	}
	return strings.Count(dir, "/") + 1
}

// Resolve says where an import or an embedded pattern leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	dir := path.Dir(r.tree.Path(from))
	switch m.Kind {
	case Embed:
		return r.embedded(dir, strings.TrimPrefix(m.Text, "all:"))
	case NameUse, DocLink:
		return r.resolveName(from, m)
	case PackageText:
		return r.resolveText(from, m)
	case ModuleFolder:
		return r.resolveModule(r.tree.Path(from), m)
	}
	below, ok := r.folder(dir, m.Text)
	if !ok {
		return lang.No(lang.ToPackage)
	}
	if t, known := r.targets[below]; known {
		return t
	}
	return lang.No(lang.ToNothing)
}

// folder gives the folder of the tree that an import path leads to from a folder; false for a package of another
// module.
func (r *Resolver) folder(dir, importPath string) (string, bool) {
	own := r.moduleOf(dir)
	best, below := "", ""
	consider := func(modulePath, moduleDir string) {
		rest, ok := strings.CutPrefix(importPath, modulePath)
		if ok && (rest == "" || rest[0] == '/') && len(modulePath) > len(best) {
			best, below = modulePath, path.Join(moduleDir, rest)
		}
	}
	for _, other := range r.modules { // a workspace joins the modules of a tree
		consider(other.path, other.dir)
	}
	if own != nil {
		for old, dir := range own.replaced {
			consider(old, dir)
		}
	}
	return below, best != ""
}

// importPath is how the package in a folder is imported; false for a folder of no module.
func (r *Resolver) importPath(dir string) (string, bool) {
	m := r.moduleOf(dir)
	if m == nil {
		return "", false
	}
	if dir == m.dir {
		return m.path, true
	}
	if m.dir != "." {
		dir = strings.TrimPrefix(dir, m.dir+"/")
	}
	return m.path + "/" + dir, true
}

// importPathFrom is how a package is imported from a folder: where the module of that lets another one be replaced by
// the package's, by the name of the other.
func (r *Resolver) importPathFrom(from, dir string) (string, bool) {
	own, other := r.moduleOf(from), r.moduleOf(dir)
	if own != nil && other != nil && own.dir != other.dir {
		for _, name := range slices.Sorted(maps.Keys(own.replaced)) {
			if own.replaced[name] == other.dir && name != other.path && own.replaced[other.path] == "" {
				rest := strings.TrimPrefix(strings.TrimPrefix(dir, other.dir), "/")
				return strings.TrimSuffix(name+"/"+rest, "/"), true
			}
		}
	}
	return r.importPath(dir)
}

// byPath is the name that the path of the package in a folder says; empty for none. The folder of a module itself may
// be called anything: there the module's path says it.
func (r *Resolver) byPath(dir string) string {
	if p, ok := r.importPath(dir); ok {
		return lastElement(p)
	}
	return lastElement(dir)
}

// moduleOf gives the module that a folder is of; nil for none.
func (r *Resolver) moduleOf(dir string) *module {
	for i := range r.modules {
		if m := &r.modules[i]; m.dir == "." || strings.HasPrefix(dir, m.dir) && (len(dir) == len(m.dir) ||
			dir[len(m.dir)] == '/') {
			return m
		}
	}
	return nil
}

// embedded gives the files that a pattern embeds: by path.Match, and all of a folder that it names.
func (r *Resolver) embedded(dir, pattern string) lang.Target {
	place := path.Join(dir, pattern)
	if lang.Leaves(place) {
		return lang.No(lang.ToOutside)
	}
	if id, ok := r.tree.Lookup(place); ok {
		return lang.File(id)
	}
	if r.tree.IsDir(place) {
		return lang.Folder(place)
	}
	var out []project.FileID
	from, to := r.tree.Below(dir)
	if dir == "." {
		from, to = 0, project.FileID(len(r.tree.Files))
	}
	segments := strings.Count(place, "/") + 1
	for id := from; id < to; id++ {
		parts := strings.Split(r.tree.Path(id), "/")
		if len(parts) < segments {
			continue
		}
		if ok, err := path.Match(place, strings.Join(parts[:segments], "/")); err == nil && ok {
			out = append(out, id)
		}
	}
	if len(out) == 0 {
		return lang.No(lang.ToNothing)
	}
	return lang.Set(dir, out)
}
