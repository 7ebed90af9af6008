// Package config reads the settings that say where imports lead: manifests of packages, the compiler's files with all
// that they extend, and the aliases of bundlers and test runners.
package config

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

// CompilerFile is what a tsconfig.json or jsconfig.json says, with all that it extends.
type CompilerFile struct {
	path       string
	Dir        string
	BaseURL    string // from the root; empty for none
	Paths      []PathAlias
	rootDirs   []string
	OutDir     string
	RootDir    string
	Resolution string // moduleResolution, lower case; worked out from module if absent
	module     string
	Endings    bool // allowImportingTsExtensions
	noEmit     bool // it writes nothing
	typesOnly  bool // emitDeclarationOnly: it writes no scripts
	Composite  bool
	Declares   bool     // declaration: it writes types beside the scripts
	JSX        string   // jsxImportSource
	files      []string // nil: not given
	include    []string
	exclude    []string
	References []string
}

// SettingsReader reads compiler files with what they extend.
type SettingsReader struct {
	Warnings []string
	tree     *project.Project
	cache    map[string]*CompilerFile
	bases    map[[2]string]*CompilerFile // what a file and all that it extends say, by its path and that of the leaf
	warned   map[string]bool
}

// NewReader makes the reader of a tree's settings.
func NewReader(tree *project.Project) *SettingsReader {
	return &SettingsReader{tree: tree, cache: map[string]*CompilerFile{}, warned: map[string]bool{}}
}

// All are the compiler files that were read, by their paths; nil for one that can't be.
func (r *SettingsReader) All() map[string]*CompilerFile { return r.cache }

// Warn notes what can't be read, once.
func (r *SettingsReader) Warn(format string, args ...any) {
	if w := fmt.Sprintf(format, args...); !r.warned[w] {
		r.warned[w] = true
		r.Warnings = append(r.Warnings, w)
	}
}

// Compiler reads the compiler file at a path; nil if it can't be read.
func (r *SettingsReader) Compiler(p string) *CompilerFile {
	if c, known := r.cache[p]; known {
		return c
	}
	r.cache[p] = nil
	c := r.extended(p, path.Dir(p), nil)
	if c != nil {
		own := *c // what others extend stays as it was read
		c = &own
		c.path, c.Dir = p, path.Dir(p)
		c.settle()
	}
	r.cache[p] = c
	return c
}

// settle works out the resolution that the compiler takes when none is given.
func (c *CompilerFile) settle() {
	if c.Resolution != "" {
		return
	}
	switch c.module {
	case "node16", "node18", "node20", "nodenext":
		c.Resolution = c.module
	case "preserve":
		c.Resolution = "bundler"
	case "commonjs", "":
		c.Resolution = "node10"
	}
}

// extended reads one file and lays it over what it extends. leaf is the folder that ${configDir} stands for; chain has
// the files that led here.
func (r *SettingsReader) extended(p, leaf string, chain []string) *CompilerFile {
	if slices.Contains(chain, p) {
		r.Warn("%s extends itself, by way of %s", p, chain[len(chain)-1])
		return nil
	}
	if c, known := r.bases[[2]string{p, leaf}]; known {
		return c
	}
	if len(chain) == longestChain {
		r.Warn("%s is extended by way of %d files; what it extends itself is not read", p, longestChain)
		return nil
	}
	c := r.lay(p, leaf, chain)
	if r.bases == nil {
		r.bases = map[[2]string]*CompilerFile{}
	}
	r.bases[[2]string{p, leaf}] = c
	return c
}

// longestChain is through how many files one may extend another.
const longestChain = 100

// lay lays a file over what it extends.
func (r *SettingsReader) lay(p, leaf string, chain []string) *CompilerFile {
	content, err := r.tree.ReadOutside(p)
	if err != nil {
		return nil
	}
	root, err := manifest.ParseJSON(content)
	if err != nil {
		r.Warn("%s: %s; it is passed over", p, err)
		return nil
	}
	c := &CompilerFile{}
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
func (c *CompilerFile) inherit(b *CompilerFile) {
	set := func(to *string, from string) {
		if from != "" {
			*to = from
		}
	}
	set(&c.BaseURL, b.BaseURL)
	set(&c.OutDir, b.OutDir)
	set(&c.RootDir, b.RootDir)
	set(&c.Resolution, b.Resolution)
	set(&c.module, b.module)
	set(&c.JSX, b.JSX)
	c.Endings = c.Endings || b.Endings
	c.noEmit, c.typesOnly = c.noEmit || b.noEmit, c.typesOnly || b.typesOnly
	c.Composite, c.Declares = c.Composite || b.Composite, c.Declares || b.Declares
	if b.Paths != nil {
		c.Paths = b.Paths
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
func (r *SettingsReader) own(c *CompilerFile, root *manifest.Value, dir, leaf string) {
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
	for key, to := range map[string]*bool{"allowImportingTsExtensions": &c.Endings, "composite": &c.Composite, "declaration": &c.Declares,
		"noEmit": &c.noEmit, "emitDeclarationOnly": &c.typesOnly} {
		if v := options.Get(key); v != nil {
			*to = v.Text == "true"
		}
	}
	for key, to := range map[string]*string{"baseUrl": &c.BaseURL, "outDir": &c.OutDir, "rootDir": &c.RootDir} {
		if text := options.Get(key).String(); text != "" {
			*to = place(text)
		}
	}
	for key, to := range map[string]*string{"moduleResolution": &c.Resolution, "module": &c.module} {
		if text := options.Get(key).String(); text != "" {
			*to = strings.ToLower(text)
		}
	}
	if text := options.Get("jsxImportSource").String(); text != "" {
		c.JSX = text
	}
	if c.Resolution == "node" {
		c.Resolution = "node10"
	}
	if paths := options.Get("paths"); paths != nil {
		c.Paths = nil
		base := place
		if c.BaseURL != "" {
			base = func(text string) string {
				if strings.HasPrefix(text, "${configDir}") {
					return place(text)
				}
				return path.Join(c.BaseURL, text)
			}
		}
		for _, m := range paths.Members {
			alias := PathAlias{Pattern: m.Key}
			m.Value.Strings(func(v *manifest.Value) { alias.Targets = append(alias.Targets, base(v.Text)) })
			c.Paths = append(c.Paths, alias)
		}
	}
	for _, from := range []struct {
		v  *manifest.Value
		to *[]string
	}{{options.Get("rootDirs"), &c.rootDirs}, {root.Get("files"), &c.files}, {root.Get("include"), &c.include},
		{root.Get("exclude"), &c.exclude}} {
		if l := list(from.v); l != nil {
			*from.to = l
		}
	}
	if refs := root.Get("references"); refs != nil {
		for _, item := range refs.Items {
			if text := item.Get("path").String(); text != "" {
				c.References = append(c.References, place(text))
			}
		}
	}
}

// findExtended gives the path of the file that an extends value names, or "" where there is none below the root.
func (r *SettingsReader) findExtended(dir, text string) string {
	if strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../") || text == "." || text == ".." {
		p := path.Join(dir, text)
		if lang.Leaves(p) {
			r.Warn("%s extends %s, which is outside of the project and is not read", dir, text)
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

func (r *SettingsReader) readable(p string) bool {
	if !strings.HasSuffix(p, ".json") {
		return false
	}
	_, err := r.tree.ReadOutside(p)
	return err == nil
}

// Path is where the compiler file lies.
func (c *CompilerFile) Path() string { return c.path }

// Writes says whether the compiler writes scripts into a folder. Nil does not.
func (c *CompilerFile) Writes() bool { return c != nil && c.OutDir != "" && !c.noEmit && !c.typesOnly }

// Lists says whether the compiler file, or one that it extends, lists files.
func (c *CompilerFile) Lists() bool { return c.files != nil }

// Includes says whether the compiler file speaks of a path, by files, include and exclude.
func (c *CompilerFile) Includes(p string) bool {
	if slices.Contains(c.files, p) {
		return true
	}
	include := c.include
	if include == nil {
		if c.files != nil {
			return false
		}
		include = []string{path.Join(c.Dir, "**/*")}
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

// OtherRoots gives where a path would lie below the other rootDirs; the longest one that it lies in counts as its own.
func (c *CompilerFile) OtherRoots(p string) []string {
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
