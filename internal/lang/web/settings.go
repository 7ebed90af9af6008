package web

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// packageFile is what a package.json says of where imports lead.
type packageFile struct {
	packageText
	dir     string   // "." for the root
	members []string // workspaces: patterns of folders, relative to dir
}

// packageText is what the text of a package.json says.
type packageText struct {
	name    string
	module  bool // type: module
	main    string
	types   string
	exports *manifest.Value
	imports *manifest.Value
	takesIn []string // workspaces: patterns of folders

	listed   map[string]bool   // the packages that it lists
	versions map[string]string // of some of them
}

// compilerFile is what a tsconfig.json or jsconfig.json says, with all that it extends.
type compilerFile struct {
	path       string
	dir        string
	baseURL    string // from the root; empty for none
	paths      []pathAlias
	rootDirs   []string
	outDir     string
	rootDir    string
	resolution string // moduleResolution, lower case; worked out from module if absent
	module     string
	endings    bool     // allowImportingTsExtensions
	files      []string // nil: not given
	include    []string
	exclude    []string
	references []string
}

// pathAlias is one entry of paths. Targets are paths from the root; a single * in the pattern and the target stand for
// the same text.
type pathAlias struct {
	pattern string
	targets []string
	scope   string // the folder in whose files it is known, with a slash at its end; empty for all
}

// IsPackageFile says whether a path is that of a package's manifest.
func IsPackageFile(p string) bool { return path.Base(p) == "package.json" }

// readPackage reads a package.json; what is not there stays empty.
func readPackage(content []byte) (packageText, error) {
	root, err := manifest.ParseJSON(content)
	if err != nil {
		return packageText{}, err
	}
	f := packageText{
		name: root.Get("name").String(), module: root.Get("type").String() == "module",
		main: root.Get("main").String(), types: root.Get("types").String(),
		exports: root.Get("exports"), imports: root.Get("imports"),
	}
	if f.types == "" {
		f.types = root.Get("typings").String()
	}
	members := root.Get("workspaces")
	if m := members.Get("packages"); m != nil {
		members = m
	}
	members.Strings(func(v *manifest.Value) { f.takesIn = append(f.takesIn, v.Text) })
	f.listed, f.versions = dependencies(root), map[string]string{"nuxt": root.At("dependencies", "nuxt").String() + root.At("devDependencies", "nuxt").String()}
	return f, nil
}

// settingsReader reads compiler files with what they extend.
type settingsReader struct {
	tree     *project.Project
	cache    map[string]*compilerFile
	bases    map[[2]string]*compilerFile // what a file and all that it extends say, by its path and that of the leaf
	warnings []string
	warned   map[string]bool
}

func (r *settingsReader) warn(format string, args ...any) {
	if w := fmt.Sprintf(format, args...); !r.warned[w] {
		r.warned[w] = true
		r.warnings = append(r.warnings, w)
	}
}

// compiler reads the compiler file at a path; nil if it can't be read.
func (r *settingsReader) compiler(p string) *compilerFile {
	if c, known := r.cache[p]; known {
		return c
	}
	r.cache[p] = nil
	c := r.extended(p, path.Dir(p), nil)
	if c != nil {
		own := *c // what others extend stays as it was read
		c = &own
		c.path, c.dir = p, path.Dir(p)
		c.settle()
	}
	r.cache[p] = c
	return c
}

// settle works out the resolution that the compiler takes when none is given.
func (c *compilerFile) settle() {
	if c.resolution != "" {
		return
	}
	switch c.module {
	case "node16", "node18", "node20", "nodenext":
		c.resolution = c.module
	case "preserve":
		c.resolution = "bundler"
	case "commonjs", "":
		c.resolution = "node10"
	}
}

// extended reads one file and lays it over what it extends. leaf is the folder that ${configDir} stands for; chain has
// the files that led here.
func (r *settingsReader) extended(p, leaf string, chain []string) *compilerFile {
	if slices.Contains(chain, p) {
		r.warn("%s extends itself, by way of %s", p, chain[len(chain)-1])
		return nil
	}
	if c, known := r.bases[[2]string{p, leaf}]; known {
		return c
	}
	if len(chain) == longestChain {
		r.warn("%s is extended by way of %d files; what it extends itself is not read", p, longestChain)
		return nil
	}
	c := r.lay(p, leaf, chain)
	if r.bases == nil {
		r.bases = map[[2]string]*compilerFile{}
	}
	r.bases[[2]string{p, leaf}] = c
	return c
}

// longestChain is through how many files one may extend another.
const longestChain = 100

// lay lays a file over what it extends.
func (r *settingsReader) lay(p, leaf string, chain []string) *compilerFile {
	content, err := r.tree.ReadOutside(p)
	if err != nil {
		return nil
	}
	root, err := manifest.ParseJSON(content)
	if err != nil {
		r.warn("%s: %s; it is passed over", p, err)
		return nil
	}
	c := &compilerFile{}
	root.Get("extends").Strings(func(v *manifest.Value) {
		base := r.findExtended(path.Dir(p), v.Text)
		if base == "" {
			return
		}
		if b := r.extended(base, leaf, append(chain, p)); b != nil {
			c.inherit(b)
		}
	})
	r.own(c, root, path.Dir(p), leaf)
	return c
}

// inherit takes over what a base sets; files, include, exclude and references are inherited save references.
func (c *compilerFile) inherit(b *compilerFile) {
	set := func(to *string, from string) {
		if from != "" {
			*to = from
		}
	}
	set(&c.baseURL, b.baseURL)
	set(&c.outDir, b.outDir)
	set(&c.rootDir, b.rootDir)
	set(&c.resolution, b.resolution)
	set(&c.module, b.module)
	c.endings = c.endings || b.endings
	if b.paths != nil {
		c.paths = b.paths
	}
	if b.rootDirs != nil {
		c.rootDirs = b.rootDirs
	}
	if b.files != nil {
		c.files = b.files
	}
	if b.include != nil {
		c.include = b.include
	}
	if b.exclude != nil {
		c.exclude = b.exclude
	}
}

// own takes what the file itself sets.
func (r *settingsReader) own(c *compilerFile, root *manifest.Value, dir, leaf string) {
	place := func(text string) string {
		if rest, ok := strings.CutPrefix(text, "${configDir}"); ok {
			return path.Join(leaf, rest)
		}
		return path.Join(dir, text)
	}
	list := func(v *manifest.Value) []string {
		if v == nil || v.Kind != manifest.List {
			return nil
		}
		out := []string{}
		for _, item := range v.Items {
			if item.Kind == manifest.String {
				out = append(out, place(item.Text))
			}
		}
		return out
	}
	options := root.Get("compilerOptions")
	if v := options.Get("allowImportingTsExtensions"); v != nil {
		c.endings = v.Text == "true"
	}
	for key, to := range map[string]*string{"baseUrl": &c.baseURL, "outDir": &c.outDir, "rootDir": &c.rootDir} {
		if text := options.Get(key).String(); text != "" {
			*to = place(text)
		}
	}
	for key, to := range map[string]*string{"moduleResolution": &c.resolution, "module": &c.module} {
		if text := options.Get(key).String(); text != "" {
			*to = strings.ToLower(text)
		}
	}
	if c.resolution == "node" {
		c.resolution = "node10"
	}
	if paths := options.Get("paths"); paths != nil {
		c.paths = nil
		base := place
		if c.baseURL != "" {
			base = func(text string) string {
				if strings.HasPrefix(text, "${configDir}") {
					return place(text)
				}
				return path.Join(c.baseURL, text)
			}
		}
		for _, m := range paths.Members {
			alias := pathAlias{pattern: m.Key}
			m.Value.Strings(func(v *manifest.Value) { alias.targets = append(alias.targets, base(v.Text)) })
			c.paths = append(c.paths, alias)
		}
	}
	for _, from := range []struct {
		v  *manifest.Value
		to *[]string
	}{{options.Get("rootDirs"), &c.rootDirs}, {root.Get("files"), &c.files}, {root.Get("include"), &c.include}, {root.Get("exclude"), &c.exclude}} {
		if l := list(from.v); l != nil {
			*from.to = l
		}
	}
	if refs := root.Get("references"); refs != nil {
		for _, item := range refs.Items {
			if text := item.Get("path").String(); text != "" {
				c.references = append(c.references, place(text))
			}
		}
	}
}

// findExtended gives the path of the file that an extends value names, or "" where there is none below the root.
func (r *settingsReader) findExtended(dir, text string) string {
	if strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../") || text == "." || text == ".." {
		p := path.Join(dir, text)
		if lang.Leaves(p) {
			r.warn("%s extends %s, which is outside of the project and is not read", dir, text)
			return ""
		}
		for _, candidate := range []string{p, p + ".json", path.Join(p, "tsconfig.json")} {
			if r.readable(candidate) {
				return candidate
			}
		}
		return ""
	}
	if strings.HasPrefix(text, "/") {
		return ""
	}
	for d := dir; ; d = path.Dir(d) {
		p := path.Join(d, "node_modules", text)
		for _, candidate := range []string{p, p + ".json", path.Join(p, "tsconfig.json")} {
			if r.readable(candidate) {
				return candidate
			}
		}
		if d == "." {
			return ""
		}
	}
}

func (r *settingsReader) readable(p string) bool {
	if !strings.HasSuffix(p, ".json") {
		return false
	}
	_, err := r.tree.ReadOutside(p)
	return err == nil
}

// includes says whether the compiler file speaks of a path, by files, include and exclude.
func (c *compilerFile) includes(p string) bool {
	if slices.Contains(c.files, p) {
		return true
	}
	include := c.include
	if include == nil {
		if c.files != nil {
			return false
		}
		include = []string{path.Join(c.dir, "**/*")}
	}
	return matchesAny(include, p) && !matchesAny(c.exclude, p)
}

// matchesAny matches the compiler's globs, in which the name of a folder stands for all below it.
func matchesAny(globs []string, p string) bool {
	for _, g := range globs {
		if g == "." || g == p || strings.HasPrefix(p, g+"/") {
			return true
		}
		if ok, err := doublestar.Match(g, p); ok && err == nil {
			return true
		}
		if ok, err := doublestar.Match(g+"/**", p); ok && err == nil {
			return true
		}
	}
	return false
}
