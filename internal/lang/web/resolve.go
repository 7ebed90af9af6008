package web

import (
	"maps"
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/seek"
)

// resolver answers where specifiers lead in one tree, as the TypeScript compiler and Node do it. Where the two differ
// the importing file decides: a script prefers the exact file, a TypeScript file what the compiler would take.
type resolver struct {
	tree      *lang.Tree
	packages  map[string]*packageFile            // by folder
	compilers map[string]*compilerFile           // by folder: the tsconfig.json, or else jsconfig.json, in it
	all       map[string]*compilerFile           // by path, with those that are referred to
	members   map[string]map[string]*packageFile // workspaces' packages by name, by the folder of the workspace and of those that lie elsewhere
	askers    []asker                            // of each file of the tree
	stated    []pathAlias                        // aliases of the convention
	statedFor sync.Map                           // by folder: those of them that are known there, where that differs
	indexes   sync.Map                           // by the first alias of a table: *aliasIndex
	bundlers  map[string][]pathAlias             // aliases of bundlers and test runners, by folder
	warnings  []string

	names      map[string]bool        // of all packages in the tree
	frameworks map[string]*framework  // by the folder of the package that lists one
	builtin    map[string][]pathAlias // aliases that these define, by folder
	ambient    ambientModules
	places     []place         // that frameworks fix
	seen       *sync.Mutex     // for there
	there      map[string]bool // places of packages that were looked at, and whether one is there
}

// base is the folder that the targets of a compiler file's paths are read from.
func (r *resolver) base(from string, m *lang.Mention) (string, bool) {
	c := r.all[from]
	if m.Kind != paths.AliasTarget || c == nil || c.baseURL == "" {
		return "", false
	}
	return c.baseURL, true
}

// newResolver reads the settings of a tree.
func newResolver(tree *lang.Tree) *resolver {
	r := &resolver{tree: tree, packages: map[string]*packageFile{}, compilers: map[string]*compilerFile{}, members: map[string]map[string]*packageFile{}, names: map[string]bool{}, seen: &sync.Mutex{}, there: map[string]bool{}}
	reader := &settingsReader{tree: tree.Project, cache: map[string]*compilerFile{}, warned: map[string]bool{}}
	workspaces := map[string][]string{} // beside package.json, by folder
	others := map[string][]string{}     // compiler files of other names, by folder
	for id, f := range tree.Files {
		dir := project.Dir(f.Path)
		switch base := path.Base(f.Path); {
		case IsPackageFile(f.Path):
			if _, err := tree.Content(project.FileID(id)); err != nil {
				reader.warn("%s", err)
				continue
			}
			text, err := project.Says(tree.Project, project.FileID(id), readPackage)
			if err != nil {
				reader.warn("%s: %s; it is passed over", f.Path, err)
				continue
			}
			r.packages[dir] = &packageFile{packageText: text, dir: dir, members: slices.Clone(text.takesIn)}
			r.names[text.name] = true
		case base == "pnpm-workspace.yaml" || base == "lerna.json":
			workspaces[dir] = append(workspaces[dir], membersOf(tree.Project, project.FileID(id), f.Path)...)
		case strings.HasPrefix(base, "tsconfig.") && strings.HasSuffix(base, ".json") && base != "tsconfig.json":
			others[dir] = append(others[dir], f.Path)
		case base == "tsconfig.json", base == "jsconfig.json" && r.compilers[dir] == nil:
			if c := reader.compiler(f.Path); c != nil {
				r.compilers[dir] = c
				r.readReferences(reader, c)
			}
		}
	}
	for dir, files := range others { // where nothing refers to them, a bundler does
		for _, p := range files {
			if c := reader.compiler(p); r.compilers[dir] == nil && c != nil && len(c.paths) > 0 {
				r.compilers[dir] = c
			}
		}
	}
	r.all = reader.cache
	for dir, members := range workspaces {
		if p := r.packages[dir]; p != nil {
			p.members = append(p.members, members...)
		}
	}
	r.findMembers(reader)
	r.findFrameworks()
	r.findPlaces()
	r.findAskers()
	r.bundlers = bundlerAliases(tree.Project)
	r.stated = conventionAliases(tree.Declared, r.defines)
	r.forgetStated()
	r.warnings = reader.warnings
	slices.Sort(r.warnings)
	return r
}

// forgetStated drops what settings say of the aliases that the convention states: some of it is generated, and old.
func (r *resolver) forgetStated() {
	if len(r.stated) == 0 {
		return
	}
	known := func(a pathAlias) bool {
		return slices.ContainsFunc(r.stated, func(b pathAlias) bool { return a.pattern == b.pattern })
	}
	for _, c := range r.all {
		if c != nil {
			c.paths = slices.DeleteFunc(slices.Clone(c.paths), known)
		}
	}
	for _, tables := range []map[string][]pathAlias{r.bundlers, r.builtin} {
		for dir, t := range tables {
			tables[dir] = slices.DeleteFunc(t, known)
		}
	}
}

// defines says whether settings define an alias.
func (r *resolver) defines(pattern string) bool {
	is := func(a pathAlias) bool { return a.pattern == pattern }
	for _, c := range r.all {
		if c != nil && slices.ContainsFunc(c.paths, is) {
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
func (r *resolver) readReferences(reader *settingsReader, c *compilerFile) {
	for i, ref := range c.references {
		if !strings.HasSuffix(ref, ".json") {
			ref = path.Join(ref, "tsconfig.json")
			c.references[i] = ref
		}
		if _, known := reader.cache[ref]; known || lang.Leaves(ref) {
			continue
		}
		if next := reader.compiler(ref); next != nil {
			r.readReferences(reader, next)
		}
	}
}

// findMembers lists, for each folder with a workspaces key, the packages that it takes in. Of two that are called
// alike, which package managers refuse, an import means neither.
func (r *resolver) findMembers(reader *settingsReader) {
	dirs := slices.Sorted(maps.Keys(r.packages))
	for _, root := range dirs {
		if len(r.packages[root].members) == 0 {
			continue
		}
		takes := r.packages[root].takes()
		found := map[string]*packageFile{}
		for _, dir := range dirs {
			p := r.packages[dir]
			if p.name == "" || dir == root || !takes(dir) {
				continue
			}
			if other, twice := found[p.name]; twice {
				if other != nil {
					reader.warn("%s and %s are both called %s; an import of that name means neither", path.Join(other.dir, "package.json"), path.Join(dir, "package.json"), p.name)
				}
				p = nil
			}
			found[r.packages[dir].name] = p
		}
		for _, p := range found {
			if p == nil || r.members[p.dir] != nil {
				continue
			}
			if _, inside := below(root, p.dir); !inside {
				r.members[p.dir] = found // it sees its neighbours, though the workspace's folder is not above it
			}
		}
		r.members[root] = found
	}
}

// member gives the package of a name in the workspace of a folder; nil for none.
func (r *resolver) member(dir, name string) *packageFile {
	for ; ; dir = path.Dir(dir) {
		if p := r.members[dir][name]; p != nil || dir == "." || lang.Leaves(dir) {
			return p
		}
	}
}

// takes says which folders the patterns of a workspace take in: the last that matches counts.
func (p *packageFile) takes() func(dir string) bool {
	var heads seek.Pieces // what each pattern begins with
	for i, pattern := range p.members {
		whole := path.Join(p.dir, strings.TrimPrefix(pattern, "!"))
		if meta := strings.IndexAny(whole, "*?[{\\"); meta >= 0 {
			whole = whole[:meta]
		}
		heads.Add(whole, i)
	}
	return func(dir string) bool {
		found := false
		for _, i := range inOrder(heads.Beginning(dir, nil)) {
			pattern := p.members[i]
			negated := strings.HasPrefix(pattern, "!")
			if ok, err := doublestar.Match(path.Join(p.dir, strings.TrimPrefix(pattern, "!")), dir); ok && err == nil {
				found = !negated
			}
		}
		return found
	}
}

// nearest walks up from a folder to the first that has an entry.
func nearest[T any](entries map[string]*T, dir string) *T {
	for ; ; dir = path.Dir(dir) {
		if e := entries[dir]; e != nil {
			return e
		}
		if dir == "." || dir == "/" || lang.Leaves(dir) {
			return nil
		}
	}
}

// compiler gives the compiler file that governs a path: the nearest, or the one of those it refers to that includes the
// path.
func (r *resolver) compiler(p string) *compilerFile {
	return r.including(nearest(r.compilers, project.Dir(p)), p)
}

// including gives a compiler file, or the one of those it refers to that includes a path.
func (r *resolver) including(c *compilerFile, p string) *compilerFile {
	if c == nil || len(c.references) == 0 || c.includes(p) {
		return c
	}
	for _, ref := range c.references {
		if other := r.all[ref]; other != nil && other.includes(p) {
			return other
		}
	}
	return c
}

// asker is a file that asks where names lead, with what decides that for all of its names.
type asker struct {
	dir     string
	options *compilerFile // the compiler file that governs it
	script  bool          // it is JavaScript
	require bool          // its imports are taken for require
}

func (r *resolver) findAskers() {
	r.askers = make([]asker, len(r.tree.Files))
	parallel.Do(len(r.askers), func(i int) {
		p := r.tree.Path(project.FileID(i))
		a := &r.askers[i]
		a.dir = project.Dir(p)
		if len(r.compilers) > 0 {
			a.options = r.compiler(p)
		}
		ext := extension(p)
		d, _ := dialectOf(ext)
		a.script = d&TypeScript == 0
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
	pkg   *packageFile
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
	q.require = q.require || m.Kind == Require || m.Kind == RequireResolve
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
	case ReferencePath:
		q.via.kind = viaRelative
		for _, ext := range []string{"", ".ts", ".tsx", ".d.ts"} {
			if t, ok := q.file(path.Join(q.dir, text) + ext); ok {
				return t
			}
		}
		return lang.No(lang.ToNothing)
	case ReferenceTypes:
		if !lang.IsRelative(text) {
			return lang.No(lang.ToPackage)
		}
	case DeclareModule:
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
	if q.options != nil && q.options.baseURL != "" {
		if t, ok := q.load(path.Join(q.options.baseURL, text), true); ok {
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
	asFile := !strings.HasSuffix(text, "/") && !strings.HasSuffix(text, "/.") && !strings.HasSuffix(text, "/..") && text != "." && text != ".."
	if t, ok := q.load(p, asFile); ok {
		return t
	}
	if q.options != nil {
		for _, other := range q.options.otherRoots(p) {
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

// otherRoots gives where a path would lie below the other rootDirs; the longest one that it lies in counts as its own.
func (c *compilerFile) otherRoots(p string) []string {
	own := ""
	for _, root := range c.rootDirs {
		if strings.HasPrefix(p, root+"/") && len(root) > len(own) {
			own = root
		}
	}
	if own == "" {
		return nil
	}
	var out []string
	for _, root := range c.rootDirs {
		if root != own {
			out = append(out, root+strings.TrimPrefix(p, own))
		}
	}
	return out
}

// aliased tries the tables of aliases. matched is true for a pattern that says more than *.
func (q *query) aliased(text string) (t lang.Target, matched bool) {
	for _, table := range q.tables(q.options, q.dir) {
		alias, star, ok := q.bestAlias(table, text)
		if !ok {
			continue
		}
		for _, target := range alias.targets {
			p := target
			if head, tail, has := strings.Cut(target, "*"); has {
				p = head + star + tail
			}
			if lang.Leaves(p) {
				continue
			}
			if t, ok := q.exactOrLoad(lang.Clean(p)); ok {
				q.via = via{kind: viaPaths, alias: alias.pattern}
				return t, true
			}
		}
		matched = matched || alias.pattern != "*"
	}
	return lang.No(lang.ToNothing), matched
}

func (q *query) exactOrLoad(p string) (lang.Target, bool) {
	if _, known := DialectOf(p); known {
		if t, ok := q.file(p); ok {
			return t, true
		}
	}
	return q.load(p, true)
}

// starMatch gives what * stands for when pattern matches text.
func starMatch(pattern, text string) (string, bool) {
	head, tail, has := strings.Cut(pattern, "*")
	if !has || len(text) < len(head)+len(tail) || !strings.HasPrefix(text, head) || !strings.HasSuffix(text, tail) {
		return "", false
	}
	return text[len(head) : len(text)-len(tail)], true
}

func starHead(pattern string) int {
	if i := strings.IndexByte(pattern, '*'); i >= 0 {
		return i
	}
	return len(pattern) + 1
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
			t.Also = id
		}
	}
	return t, true
}

// twinOf gives the script of a declaration file, and the declaration file of a script; "" for all else.
func twinOf(p string) string {
	ext := extension(p)
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
