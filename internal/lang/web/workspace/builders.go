package workspace

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
)

// How the files of a package are built: by the compiler, by what reads sources, or in a way that is not known. Some builders
// compile the files of their own package alone, and take those of others as they are.

// builders refuses packages whose files a builder would not compile.
func (p *parting) builders() {
	for _, one := range p.All {
		for _, other := range p.All {
			n := one.Inside[other]
			if n == nil || !n.Normal || !other.Written() || p.compiler(other) != nil {
				continue
			}
			id := p.uncompiled(other)
			if id == project.None {
				continue
			}
			switch {
			case one.Was != nil && asksFor(one.Was, "react-scripts"):
				p.Refuse(other.Dir, "react-scripts compiles nothing outside of src, and %s must be compiled", p.tree.Path(id))
			case (one.Libraries["next"] != nil || one.Was != nil && asksFor(one.Was, "next")) && !inside(other.Dir, one.Dir) && !p.transpiles(one, other.Name):
				p.Refuse(other.Dir,
					"%s must have transpilePackages: ['%s'] first: it takes what lies outside of %s for compiled, and %s is not",
					path.Join(one.Dir, "next.config"), other.Name, one.Dir, p.tree.Path(id))
			}
		}
	}
}

func asksFor(k *lang.Package, name string) bool {
	return slices.ContainsFunc(k.Asks, func(d lang.Dependency) bool { return d.Name == name })
}

// uncompiled is a file of a package that does not run as it is.
func (p *parting) uncompiled(one *lang.Parcel) project.FileID {
	for _, id := range one.Files {
		if file := p.tree.Path(id); resolve.IsSource(file) || path.Ext(file) == ".jsx" || compiled[path.Ext(file)] != "" {
			return id
		}
	}
	return project.None
}

// transpiles says whether the settings of a package name another as one to be compiled.
func (p *parting) transpiles(one *lang.Parcel, name string) (found bool) {
	for id := range p.tree.Files {
		file := p.Q.Then(project.FileID(id))
		if _, is := script.DialectOf(file); !is || project.Dir(file) != one.Dir || !strings.HasPrefix(path.Base(file), "next.config.") {
			continue
		}
		p.tree.Peek(project.FileID(id), func(content []byte, err error) {
			_, list, is := bytes.Cut(content, []byte("transpilePackages"))
			found = found || is && (bytes.Contains(list, []byte(fmt.Sprintf("'%s'", name))) || bytes.Contains(list, []byte(fmt.Sprintf("%q", name))))
		})
	}
	return found
}

// build says how scripts are made of the files of a package.
type build struct {
	how     building
	project string // the compiler file that a script names; empty for that of the folder
	script  string
}

type building uint8

const (
	unknownBuild building = iota
	byCompiler            // a script calls it, and it writes them
	fromSources           // what runs them, or puts them together, reads the sources
)

var (
	// namedProject is the compiler file that a call names.
	namedProject = regexp.MustCompile(` (?:-p|--project) *=? *(\S+)`)
	// runners read sources, and find packages by their exports.
	runners = regexp.MustCompile(`\b(?:tsx|ts-node|ts-node-dev|bun|deno|vite|vitest|next|nuxt|astro|webpack|parcel|esbuild|rspack|rsbuild)\b`)
	// compilers have ways of their own to compile a project.
	compilers = regexp.MustCompile(`\b(?:nest|ng|swc|tsup|unbuild|rollup|babel|gulp|grunt|react-native|electron-builder)\b`)
)

// buildOf finds how a package of the old tree is built, by its scripts, by those above it, and by files beside them that
// hold commands.
func (p *parting) buildOf(dir string) (out build) {
	if known, is := p.builds[dir]; is {
		return known
	}
	defer func() { p.builds[dir] = out }()
	sources, other := false, false
	look := func(script, text string) bool {
		for _, found := range calls.FindAllStringSubmatch(text, -1) {
			arguments := " " + found[1] + " "
			if strings.Contains(arguments, " --noEmit ") {
				continue
			}
			out = build{byCompiler, "", script}
			if named := namedProject.FindStringSubmatch(arguments); named != nil {
				out.project = named[1]
			}
			return true
		}
		sources, other = sources || runners.MatchString(text), other || compilers.MatchString(text)
		return false
	}
	for at := dir; ; at = project.Dir(at) {
		for _, m := range p.original(at).Value.Get("scripts").Fields() {
			if look(m.Key, m.Value.String()) {
				return out
			}
		}
		if at == "." {
			break
		}
	}
	if sources && !other {
		return build{how: fromSources}
	}
	if other {
		return build{}
	}
	for id := range p.tree.Files {
		file := p.tree.Path(project.FileID(id))
		if base := path.Base(file); base != "Makefile" && !strings.HasPrefix(base, "Dockerfile") && path.Ext(base) != ".sh" && path.Ext(base) != ".yml" {
			continue
		}
		found := false
		p.tree.Peek(project.FileID(id), func(content []byte, err error) { found = err == nil && look(file, string(content)) })
		if found {
			return out
		}
	}
	return out
}

// unbuilt refuses packages that are compiled in a way that is not known.
func (p *parting) unbuilt() {
	for _, one := range p.All {
		c := p.compiler(one)
		if c == nil || p.has(one, compilerName) {
			continue
		}
		b := p.buildOf(one.From.Dir)
		switch named := path.Join(one.From.Dir, b.project); {
		case b.how == unknownBuild:
			p.Refuse(one.Dir,
				"%s writes scripts into %s, and no script calls the compiler (tsc): what builds the packages is not known; a %s that goes to the package says it",
				c.Path(), c.OutDir, compilerName)
		case b.project != "" && named != c.Path() && path.Join(named, compilerName) != c.Path():
			p.Refuse(one.Dir,
				"the script %s compiles by %s, and the files of the package are of %s: call tsc without it first, or let a %s go to the package",
				b.script, named, c.Path(), compilerName)
		}
	}
}

// What the lines of an image do: bring the manifest, and install what manifests ask for.
var (
	oneFile  = regexp.MustCompile(`(?i)^\s*(?:COPY|ADD)\s.*\bpackage\S*\.json`)
	installs = regexp.MustCompile(`(?i)^\s*RUN\s.*\b(?:npm (?:ci|i|install)|pnpm (?:i|install)|bun install|yarn(?: install)?)\b`)
)

// images says where an image installs what the manifest asks for before the manifests of the packages are there.
func (p *parting) images() {
	p.Images(oneFile, installs, func(file string, at int) bool {
		p.Remark(file, at,
			"the manifests of the packages are not there yet when this line installs what they ask for: copy them before it")
		return true
	})
}
