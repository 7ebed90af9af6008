package resolve

import (
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// load finds the file for a path whose ending may be left out or may be that of the compiled file, or the folder's
// entry file. The order is the compiler's (tryAddingExtensions and its callers in its moduleNameResolver).
func (q *query) load(p string, asFile bool) (lang.Target, bool) {
	if q.script && asFile { // Node takes the exact file first
		if t, ok := q.file(p); ok {
			return t, true
		}
	}
	passes := []extensions{allExtensions}
	if q.options != nil && q.options.Resolution == "node10" {
		passes = []extensions{typed, scripts}
	}
	for _, pass := range passes {
		if asFile {
			if t, ok := q.loadFile(p, pass); ok {
				return t, true
			}
		}
		if !q.tree.IsDir(project.Dir(p)) { // nor anything below it
			return lang.Target{}, false
		}
		if q.tree.IsDir(p) {
			if t, ok := q.loadFolder(p, pass); ok {
				return t, true
			}
		}
	}
	if asFile && !q.script {
		if t, ok := q.file(p); ok {
			return t, true
		}
	}
	return q.loadComponent(p, asFile)
}

// loadComponent finds a component whose ending is left out, where nothing else is found: bundlers are often set up so,
// by settings that are not always a part of the tree.
func (q *query) loadComponent(p string, asFile bool) (lang.Target, bool) {
	if asFile {
		if t, ok := q.file(p + componentEnding); ok {
			return t, true
		}
	}
	return q.file(lang.Join(p, "./index"+componentEnding))
}

// componentEnding may be left out in imports.
const componentEnding = ".vue"

// extensions is a set of the kinds of ending that one pass tries.
type extensions uint8

const (
	implementations extensions = 1 << iota
	declarations
	scripts
	typed         = implementations | declarations
	allExtensions = typed | scripts
)

func (q *query) loadFile(p string, pass extensions) (lang.Target, bool) {
	if t, ok := q.replaced(p, pass); ok {
		return t, true
	}
	return q.tryEndings(p, "", pass)
}

// replaced tries the endings that a written ending may stand for: .js for .ts and so on.
func (q *query) replaced(p string, pass extensions) (lang.Target, bool) {
	base := p[strings.LastIndexByte(p, '/')+1:]
	dot := strings.LastIndexByte(base, '.')
	if dot < 0 {
		return lang.Target{}, false
	}
	ext := script.Extension(p)
	switch ext {
	case ".d.ts", ".d.mts", ".d.cts":
	default:
		ext = base[dot:]
	}
	return q.tryEndings(strings.TrimSuffix(p, ext), ext, pass)
}

// ending is one that a written ending, or none, may stand for.
type ending struct {
	ext  string
	pass extensions
}

var (
	moduleEndings = []ending{{".mts", implementations}, {".d.mts", declarations}, {".mjs", scripts}}
	commonEndings = []ending{{".cts", implementations}, {".d.cts", declarations}, {".cjs", scripts}}
	dataEndings   = []ending{{".d.json.ts", declarations}, {".json", scripts}}
	markupEndings = []ending{{".tsx", implementations}, {".ts", implementations}, {".d.ts", declarations},
		{".jsx", scripts}, {".js", scripts}}
	plainEndings = []ending{{".ts", implementations}, {".tsx", implementations}, {".d.ts", declarations},
		{".js", scripts}, {".jsx", scripts}}
)

// endingsOf gives what a written ending may stand for, in order; nil for one that stands for itself.
func endingsOf(ext string) []ending {
	switch ext {
	case ".mjs", ".mts", ".d.mts":
		return moduleEndings
	case ".cjs", ".cts", ".d.cts":
		return commonEndings
	case ".json":
		return dataEndings
	case ".tsx", ".jsx":
		return markupEndings
	case ".ts", ".d.ts", ".js", "":
		return plainEndings
	}
	return nil
}

func (q *query) tryEndings(stem, written string, pass extensions) (lang.Target, bool) {
	row := endingsOf(written)
	if row == nil { // style.css may be described by style.d.css.ts
		if pass&declarations != 0 {
			return q.file(stem + ".d" + written + ".ts")
		}
		return lang.Target{}, false
	}
	for _, e := range row {
		if e.pass&pass != 0 {
			if t, ok := q.fileWith(stem, e.ext); ok {
				return t, true
			}
		}
	}
	return lang.Target{}, false
}

// loadFolder finds a folder's entry: what its package.json says, or index.
func (q *query) loadFolder(dir string, pass extensions) (lang.Target, bool) {
	if pkg := q.packages[dir]; pkg != nil {
		entry := pkg.Main
		if pass&declarations != 0 && pkg.Types != "" {
			entry = pkg.Types
		}
		if entry != "" && !lang.Leaves(path.Join(dir, entry)) {
			p := path.Join(dir, entry)
			if t, ok := q.file(p); ok && pass&passOf(p) != 0 {
				return t, true
			}
			if t, ok := q.loadFile(p, pass); ok {
				return t, true
			}
			if t, ok := q.tryEndings(path.Join(p, "index"), "", pass); ok {
				return t, true
			}
			if t, ok := q.loadInput(p); ok {
				return t, true
			}
		}
	}
	return q.tryEndings(path.Join(dir, "index"), "", pass)
}

func passOf(p string) extensions {
	switch script.Extension(p) {
	case ".ts", ".tsx", ".mts", ".cts":
		return implementations
	case ".d.ts", ".d.mts", ".d.cts":
		return declarations
	}
	return scripts
}

// loadInput finds the source of a compiled file: what lies in outDir comes from rootDir.
func (q *query) loadInput(p string) (lang.Target, bool) {
	c := q.resolver.Compiler(p)
	if c == nil || c.OutDir == "" || !strings.HasPrefix(p, c.OutDir+"/") {
		return lang.Target{}, false
	}
	roots := []string{c.RootDir}
	if c.RootDir == "" {
		roots = []string{c.Dir, path.Join(c.Dir, "src")}
	}
	for _, root := range roots {
		if t, ok := q.replaced(path.Join(root, strings.TrimPrefix(p, c.OutDir+"/")), typed); ok {
			return t, true
		}
	}
	return lang.Target{}, false
}

// Made gives the paths of the script and of the types that the compiler makes of a file; none where it makes nothing.
func (r *resolver) Made(id project.FileID) []string {
	c := r.askers[id].options
	p := r.tree.Path(id)
	if !c.Writes() || !IsSource(p) || !c.Includes(p) {
		return nil
	}
	rest, ok := below(r.root(c), p)
	if !ok {
		return nil
	}
	ext := script.Extension(p)
	stem := path.Join(c.OutDir, strings.TrimSuffix(rest, ext))
	made := CompiledEnding(ext, "")
	return []string{stem + made, stem + ".d" + strings.Replace(made, "js", "ts", 1), stem + made + ".map"}
}

// IsSource says whether the compiler makes a script of a file.
func IsSource(p string) bool { return isTypeScript(script.Extension(p)) }

// root is the folder from which the places of what is made are counted: rootDir, or what all sources have in common
// (typescriptlang.org, rootDir).
func (r *resolver) root(c *config.CompilerFile) string {
	switch {
	case c.RootDir != "":
		return c.RootDir
	case c.Composite:
		return c.Dir
	}
	if known, is := r.roots.Load(c); is {
		return known.(string)
	}
	common := ""
	for i := range r.tree.Files {
		p := r.tree.Path(project.FileID(i))
		if !IsSource(p) || r.askers[i].options != c || !c.Includes(p) {
			continue
		}
		if dir := project.Dir(p); common == "" {
			common = dir
		}
		for common != "." && !strings.HasPrefix(p, common+"/") {
			common = project.Dir(common)
		}
	}
	known, _ := r.roots.LoadOrStore(c, common)
	return known.(string)
}

// packaged resolves the name of a package of this project: the file's own package by its exports, or a member of the
// workspaces.
func (q *query) packaged(text string) (lang.Target, bool) {
	name, sub := packageName(text)
	pkg := q.member(q.dir, name)
	if own := project.Nearest(q.packages, q.dir); own != nil && own.Name == name && own.Exports != nil {
		pkg = own
	}
	if pkg == nil {
		return lang.Target{}, false
	}
	q.via = via{kind: viaPackage, pkg: pkg}
	if pkg.Exports != nil {
		target, ok := exported(pkg.Exports, "."+sub, q.conditions())
		if !ok {
			return lang.No(lang.ToNothing), true
		}
		return q.packageTarget(pkg, target), true
	}
	if t, ok := q.load(path.Join(pkg.Dir, sub), sub != ""); ok {
		return t, true
	}
	return lang.No(lang.ToOutside), true
}

// packageTarget loads what exports or imports name: an exact file, its TypeScript form, or the source of a compiled
// file.
func (q *query) packageTarget(pkg *config.PackageFile, target string) lang.Target {
	p := path.Join(pkg.Dir, target)
	if lang.Leaves(p) {
		return lang.No(lang.ToOutside)
	}
	if q.script || passOf(p) != scripts {
		if t, ok := q.file(p); ok {
			return t
		}
	}
	if t, ok := q.replaced(p, allExtensions); ok {
		return t
	}
	if t, ok := q.file(p); ok {
		return t
	}
	if t, ok := q.loadInput(p); ok {
		return t
	}
	return lang.No(lang.ToOutside)
}

// imports resolves a name that begins with # by the nearest package's imports, if they know it.
func (q *query) imports(text string) (t lang.Target, known bool) {
	pkg := project.Nearest(q.packages, q.dir)
	if pkg == nil || pkg.Imports == nil {
		return t, false
	}
	key, target, ok := matchKey(pkg.Imports, text, q.conditions())
	if !ok {
		return t, false
	}
	if !lang.IsRelative(target) {
		return lang.No(lang.ToPackage), true
	}
	q.via = via{kind: viaImports, alias: key, pkg: pkg}
	return q.packageTarget(pkg, target), true
}

// packageName splits @scope/name/sub/path into the package's name and the rest with its slash.
func packageName(text string) (name, sub string) {
	end := strings.IndexByte(text, '/')
	if strings.HasPrefix(text, "@") && end >= 0 {
		if next := strings.IndexByte(text[end+1:], '/'); next >= 0 {
			end += next + 1
		} else {
			end = -1
		}
	}
	if end < 0 {
		return text, ""
	}
	return text[:end], text[end:]
}

// commonJS says whether Node would take a file's imports for require: under its own resolution, a TypeScript file that
// is no module by its ending or its package's type.
func (r *resolver) commonJS(a *asker, ext string) bool {
	if !strings.HasPrefix(a.options.Resolution, "node") || a.options.Resolution == "node10" {
		return false
	}
	switch ext {
	case ".mts", ".mjs", ".d.mts":
		return false
	case ".cts", ".cjs", ".d.cts":
		return true
	}
	pkg := project.Nearest(r.packages, a.dir)
	return pkg == nil || !pkg.Module
}

// conditions are those under which exports and imports are read.
func (q *query) conditions() []string {
	out := []string{"import", "types", "default"}
	if q.require {
		out[0] = "require"
	}
	if q.script || q.options != nil && strings.HasPrefix(q.options.Resolution, "node") {
		out = append(out, "node")
	}
	return out
}

// exported resolves a subpath ("." or "./x") by the exports of a package (Node's documentation, Packages: subpath
// exports and conditional exports).
func exported(exports *manifest.Value, sub string, conditions []string) (string, bool) {
	subpaths := exports.Kind == manifest.Object && len(exports.Members) > 0 && strings.HasPrefix(exports.Members[0].Key,
		".")
	if !subpaths {
		if sub != "." {
			return "", false
		}
		return condition(exports, "", conditions)
	}
	_, target, ok := matchKey(exports, sub, conditions)
	return target, ok
}

// matchKey finds the key of exports or imports that is text, or the pattern with the longest beginning that matches it.
func matchKey(table *manifest.Value, text string, conditions []string) (key, target string, ok bool) {
	best, star := -1, ""
	for i, m := range table.Members {
		if m.Key == text {
			best, star = i, ""
			break
		}
		s, matches := config.StarMatch(m.Key, text)
		if strings.HasSuffix(m.Key, "/") && strings.HasPrefix(text, m.Key) {
			s, matches = text[len(m.Key):], true
		}
		if matches && (best < 0 || config.StarHead(m.Key) > config.StarHead(table.Members[best].Key)) {
			best, star = i, s
		}
	}
	if best < 0 {
		return "", "", false
	}
	key = table.Members[best].Key
	target, ok = condition(table.Members[best].Value, star, conditions)
	if strings.HasSuffix(target, "/") {
		target += star
	}
	return key, target, ok
}

// condition picks a target from nested conditions: the first that holds, in the order of the file.
func condition(v *manifest.Value, star string, conditions []string) (string, bool) {
	switch v.Kind {
	case manifest.String:
		return strings.ReplaceAll(v.Text, "*", star), true
	case manifest.Object:
		for _, m := range v.Members {
			for _, c := range conditions {
				if m.Key == c {
					if target, ok := condition(m.Value, star, conditions); ok {
						return target, true
					}
				}
			}
		}
	case manifest.List:
		for _, item := range v.Items {
			if target, ok := condition(item, star, conditions); ok {
				return target, true
			}
		}
	}
	return "", false
}
