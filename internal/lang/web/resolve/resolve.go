// Package resolve says where module specifiers lead, as the TypeScript compiler and Node do it, and writes them anew.
//
// resolve.go begins with the settings that govern a file and load.go finds what is there; aliases.go has the names that
// stand for folders, packages.go those of packages, frameworks.go and places.go what frameworks define; spell.go
// writes.
package resolve

import (
	"maps"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// resolver answers where specifiers lead in one tree, as the TypeScript compiler and Node do it. Where the two differ
// the importing file decides: a script prefers the exact file, a TypeScript file what the compiler would take.
type resolver struct {
	tree      *lang.Tree
	packages  map[string]*config.PackageFile  // by folder
	compilers map[string]*config.CompilerFile // by folder: the tsconfig.json, or else jsconfig.json, in it
	all       map[string]*config.CompilerFile // by path, with those that are referred to
	// workspaces' packages by name, by the folder of the workspace and of those that lie elsewhere
	members      map[string]map[string]*config.PackageFile
	askers       []asker                       // of each file of the tree
	roots        sync.Map                      // by compiler file: the folder that all of its sources have in common
	ofConvention []config.PathAlias            // aliases of the convention
	statedFor    sync.Map                      // by folder: those of them that are known there, where that differs
	indexes      sync.Map                      // by the first alias of a table: *aliasIndex
	bundlers     map[string][]config.PathAlias // aliases of bundlers and test runners, by folder
	warnings     []string

	names      map[string]bool               // of all packages in the tree
	frameworks map[string]*framework         // by the folder of the package that lists one
	builtin    map[string][]config.PathAlias // aliases that these define, by folder
	ambient    ambientModules
	places     []place         // that frameworks fix
	seen       *sync.Mutex     // for there
	there      map[string]bool // places of packages that were looked at, and whether one is there
}

// base is the folder that the targets of a compiler file's paths are read from.
func (r *resolver) base(from string, m *lang.Mention) (string, bool) {
	c := r.all[from]
	if m.Kind != paths.AliasTarget || c == nil || c.BaseURL == "" {
		return "", false
	}
	return c.BaseURL, true
}

// newResolver reads the settings of a tree.
func newResolver(tree *lang.Tree) *resolver {
	r := &resolver{tree: tree, packages: map[string]*config.PackageFile{}, compilers: map[string]*config.CompilerFile{},
		members: map[string]map[string]*config.PackageFile{}, names: map[string]bool{}, seen: &sync.Mutex{},
		there: map[string]bool{}}
	reader := config.NewReader(tree.Project)
	workspaces := map[string][]string{} // beside package.json, by folder
	others := map[string][]string{}     // compiler files of other names, by folder
	for id, f := range tree.Files {
		dir := project.Dir(f.Path)
		switch base := path.Base(f.Path); {
		case config.IsPackageFile(f.Path):
			if _, err := tree.Content(project.FileID(id)); err != nil {
				reader.Warn("%s", err)
				continue
			}
			pkg, err := config.ReadPackage(tree.Project, project.FileID(id))
			if err != nil {
				reader.Warn("%s: %s; it is passed over", f.Path, err)
				continue
			}
			r.packages[dir], r.names[pkg.Name] = pkg, true
		case base == "pnpm-workspace.yaml" || base == "lerna.json":
			workspaces[dir] = append(workspaces[dir], config.MembersOf(tree.Project, project.FileID(id), f.Path)...)
		case strings.HasPrefix(base, "tsconfig.") && strings.HasSuffix(base, ".json") && base != "tsconfig.json":
			others[dir] = append(others[dir], f.Path)
		case base == "tsconfig.json", base == "jsconfig.json" && r.compilers[dir] == nil:
			if c := reader.Compiler(f.Path); c != nil {
				r.compilers[dir] = c
				r.readReferences(reader, c)
			}
		}
	}
	for dir, files := range others { // where nothing refers to them, a bundler does
		for _, p := range files {
			if c := reader.Compiler(p); r.compilers[dir] == nil && c != nil && len(c.Paths) > 0 {
				r.compilers[dir] = c
			}
		}
	}
	r.all = reader.All()
	for dir, members := range workspaces {
		if p := r.packages[dir]; p != nil {
			p.Members = append(p.Members, members...)
		}
	}
	r.findMembers(reader)
	r.findFrameworks()
	r.findPlaces()
	r.findAskers()
	r.bundlers = config.BundlerAliases(tree.Project, func(id project.FileID) *config.Definitions {
		if known, err := lang.Index[*index](tree, id); err == nil {
			return known.aliases
		}
		return nil
	})
	r.ofConvention = conventionAliases(tree.Declared, r.defines)
	r.forgetStated()
	r.warnings = reader.Warnings
	slices.Sort(r.warnings)
	return r
}

// forgetStated drops what settings say of the aliases that the convention states: some of it is generated, and old.
func (r *resolver) forgetStated() {
	if len(r.ofConvention) == 0 {
		return
	}
	known := func(a config.PathAlias) bool {
		return slices.ContainsFunc(r.ofConvention, func(b config.PathAlias) bool { return a.Pattern == b.Pattern })
	}
	for _, c := range r.all {
		if c != nil {
			c.Paths = slices.DeleteFunc(slices.Clone(c.Paths), known)
		}
	}
	for _, tables := range []map[string][]config.PathAlias{r.bundlers, r.builtin} {
		for dir, t := range tables {
			tables[dir] = slices.DeleteFunc(t, known)
		}
	}
}

// defines says whether settings define an alias.
func (r *resolver) defines(pattern string) bool {
	is := func(a config.PathAlias) bool { return a.Pattern == pattern }
	for _, c := range r.all {
		if c != nil && slices.ContainsFunc(c.Paths, is) {
			return true
		}
	}
	for _, t := range r.bundlers {
		if slices.ContainsFunc(t, is) {
			return true
		}
	}
	return false
}

// readReferences reads the compiler files that one refers to, which may have any name.
func (r *resolver) readReferences(reader *config.SettingsReader, c *config.CompilerFile) {
	for i, ref := range c.References {
		if !strings.HasSuffix(ref, ".json") {
			ref = path.Join(ref, "tsconfig.json")
			c.References[i] = ref
		}
		if _, known := reader.All()[ref]; known || lang.Leaves(ref) {
			continue
		}
		if next := reader.Compiler(ref); next != nil {
			r.readReferences(reader, next)
		}
	}
}

// findMembers lists, for each folder with a workspaces key, the packages that it takes in. Of two that are called
// alike, which package managers refuse, an import means neither.
func (r *resolver) findMembers(reader *config.SettingsReader) {
	dirs := slices.Sorted(maps.Keys(r.packages))
	for _, root := range dirs {
		if len(r.packages[root].Members) == 0 {
			continue
		}
		takes := r.packages[root].Takes()
		found := map[string]*config.PackageFile{}
		for _, dir := range dirs {
			p := r.packages[dir]
			if p.Name == "" || dir == root || !takes(dir) {
				continue
			}
			if other, twice := found[p.Name]; twice {
				if other != nil {
					reader.Warn("%s and %s are both called %s; an import of that name means neither",
						path.Join(other.Dir, "package.json"), path.Join(dir, "package.json"), p.Name)
				}
				p = nil
			}
			found[r.packages[dir].Name] = p
		}
		for _, p := range found {
			if p == nil || r.members[p.Dir] != nil {
				continue
			}
			if _, inside := below(root, p.Dir); !inside {
				r.members[p.Dir] = found // it sees its neighbours, though the workspace's folder is not above it
			}
		}
		r.members[root] = found
	}
}

// member gives the package of a name in the workspace of a folder; nil for none.
func (r *resolver) member(dir, name string) *config.PackageFile {
	for ; ; dir = path.Dir(dir) {
		if p := r.members[dir][name]; p != nil || dir == "." || lang.Leaves(dir) {
			return p
		}
	}
}

// Compiler gives the compiler file that governs a path: the nearest, or the one of those it refers to that includes the
// path.
func (r *resolver) Compiler(p string) *config.CompilerFile {
	return r.including(project.Nearest(r.compilers, project.Dir(p)), p)
}

// including gives a compiler file, or the one of those it refers to that includes a path.
func (r *resolver) including(c *config.CompilerFile, p string) *config.CompilerFile {
	if c == nil || len(c.References) == 0 || c.Includes(p) {
		return c
	}
	for _, ref := range c.References {
		if other := r.all[ref]; other != nil && other.Includes(p) {
			return other
		}
	}
	return c
}

// asker is a file that asks where names lead, with what decides that for all of its names.
type asker struct {
	dir     string
	options *config.CompilerFile // the compiler file that governs it
	script  bool                 // it is JavaScript
	require bool                 // its imports are taken for require
}

func (r *resolver) findAskers() {
	r.askers = make([]asker, len(r.tree.Files))
	parallel.Do(len(r.askers), func(i int) {
		p := r.tree.Path(project.FileID(i))
		a := &r.askers[i]
		a.dir = project.Dir(p)
		if len(r.compilers) > 0 {
			a.options = r.Compiler(p)
		}
		ext := script.Extension(p)
		d, _ := script.DialectOfEnding(ext)
		a.script = d&script.TypeScript == 0
		a.require = a.options != nil && r.commonJS(a, ext)
	})
}

// query is one resolution.
type query struct {
	*resolver
	asker
	// via is how the name was found; spelling keeps to it.
	via via
}

// via says by what a specifier led to its file.
type via struct {
	kind  viaKind
	alias string // the pattern of paths or imports
	pkg   *config.PackageFile
}

type viaKind uint8

const (
	viaNone viaKind = iota
	viaRelative
	viaPaths
	viaBase
	viaImports
	viaPackage
)

// Resolve implements lang.Resolver.
func (r *resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	target, _ := r.resolveVia(from, m)
	return target
}

func (r *resolver) resolveVia(from project.FileID, m *lang.Mention) (lang.Target, via) {
	q := query{resolver: r, asker: r.askers[from]}
	q.require = q.require || m.Kind == script.Require || m.Kind == script.RequireResolve
	text := m.Text
	for {
		target := q.mention(m.Kind, text)
		if target.Kind == lang.ToFile {
			return target, q.via
		}
		_, core, _ := affixes(text)
		if core == text {
			return target, q.via
		}
		text = core
	}
}

// affixes splits a specifier into a loader's prefix (all up to the last !), the path, and a query or fragment.
func affixes(text string) (prefix, core, suffix string) {
	core = text
	if i := strings.LastIndexByte(core, '!'); i >= 0 {
		prefix, core = core[:i+1], core[i+1:]
	}
	if i := strings.IndexAny(core, "?#"); i > 0 {
		core, suffix = core[:i], core[i:]
	}
	return prefix, core, suffix
}

func (q *query) mention(kind *lang.Kind, text string) lang.Target {
	switch kind {
	case script.ReferencePath:
		q.via.kind = viaRelative
		for _, ext := range []string{"", ".ts", ".tsx", ".d.ts"} {
			if t, ok := q.file(path.Join(q.dir, text) + ext); ok {
				return t
			}
		}
		return lang.No(lang.ToNothing)
	case script.ReferenceTypes:
		if !lang.IsRelative(text) {
			return lang.No(lang.ToPackage)
		}
	case script.DeclareModule:
		if t := q.module(text); t.Kind == lang.ToFile {
			return t
		}
		return lang.No(lang.ToPackage) // it declares what it does not find
	}
	return q.module(text)
}

// module resolves a module name.
func (q *query) module(text string) lang.Target {
	if lang.IsRelative(text) {
		return q.relative(text)
	}
	if text == "" || strings.HasPrefix(text, "/") {
		return lang.No(lang.ToOutside)
	}
	t, dangling := q.aliased(text)
	if t.Kind == lang.ToFile {
		return t
	}
	if q.options != nil && q.options.BaseURL != "" {
		if t, ok := q.load(path.Join(q.options.BaseURL, text), true); ok {
			q.via = via{kind: viaBase}
			return t
		}
	}
	if strings.HasPrefix(text, "#") {
		if t, ok := q.imports(text); ok {
			return t
		}
	}
	if t, ok := q.packaged(text); ok {
		return t
	}
	if dangling {
		if name, _ := packageName(text); !possibleName(name) || !q.listedAbove(name) {
			return lang.No(lang.ToNothing)
		}
	}
	return q.foreign(text)
}

func (q *query) relative(text string) lang.Target {
	q.via = via{kind: viaRelative}
	p := lang.Join(q.dir, text)
	if lang.Leaves(p) {
		return lang.No(lang.ToOutside)
	}
	asFile := !strings.HasSuffix(text, "/") && !strings.HasSuffix(text, "/.") && !strings.HasSuffix(text, "/..") &&
		text != "." && text != ".."
	if t, ok := q.load(p, asFile); ok {
		return t
	}
	if q.options != nil {
		for _, other := range q.options.OtherRoots(p) {
			if t, ok := q.load(other, asFile); ok {
				return t
			}
		}
	}
	if q.framework().gives(text) {
		return lang.No(lang.ToPackage) // it is written when the framework runs
	}
	return lang.No(lang.ToNothing)
}

// aliased tries the tables of aliases. matched is true for a pattern that says more than *.
func (q *query) aliased(text string) (t lang.Target, matched bool) {
	for _, table := range q.tables(q.options, q.dir) {
		alias, star, ok := q.bestAlias(table, text)
		if !ok {
			continue
		}
		for _, target := range alias.Targets {
			p := target
			if head, tail, has := strings.Cut(target, "*"); has {
				p = head + star + tail
			}
			if lang.Leaves(p) {
				continue
			}
			if t, ok := q.exactOrLoad(lang.Clean(p)); ok {
				q.via = via{kind: viaPaths, alias: alias.Pattern}
				return t, true
			}
		}
		matched = matched || alias.Pattern != "*"
	}
	return lang.No(lang.ToNothing), matched
}

func (q *query) exactOrLoad(p string) (lang.Target, bool) {
	if _, known := script.DialectOf(p); known {
		if t, ok := q.file(p); ok {
			return t, true
		}
	}
	return q.load(p, true)
}

// file is the exact file, with the file that stands for the same thing beside it.
func (q *query) file(p string) (lang.Target, bool) {
	return q.fileWith(p, "")
}

// fileWith is file for a path that is written in two parts.
func (q *query) fileWith(stem, ending string) (lang.Target, bool) {
	id, ok := q.tree.LookupParts(stem, ending)
	if !ok {
		return lang.Target{}, false
	}
	p := q.tree.Path(id)
	t := lang.File(id)
	if twin := twinOf(p); twin != "" {
		if id, ok := q.tree.Lookup(twin); ok {
			t.Twin = id
		}
	}
	return t, true
}

// twinOf gives the script of a declaration file, and the declaration file of a script; "" for all else.
func twinOf(p string) string {
	ext := script.Extension(p)
	stem := strings.TrimSuffix(p, ext)
	switch ext {
	case ".d.ts":
		return stem + ".js"
	case ".d.mts":
		return stem + ".mjs"
	case ".d.cts":
		return stem + ".cjs"
	case ".js":
		return stem + ".d.ts"
	case ".mjs":
		return stem + ".d.mts"
	case ".cjs":
		return stem + ".d.cts"
	}
	return ""
}

// Rules are what answers for a tree.
func Rules(t *lang.Tree) lang.Rules {
	r := newResolver(t)
	return lang.Rules{Kinds: script.Kinds, Resolver: r, Warnings: r.warnings, Place: r.Place, Places: r.Places,
		Bindings: script.Bindings, Aliases: r, Base: r.base, Packages: r.Packages, Parts: r.Parts, Made: r.Made}
}
