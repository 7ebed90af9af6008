package workspace

import (
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Where the compiler writes scripts into a folder, each package is compiled by itself, in the order in which they need one
// another (typescriptlang.org, Project References).

const compilerName = "tsconfig.json"

// compiler is the compiler file that wrote scripts of the files of a package; nil where nothing did.
func (p *parting) compiler(one *lang.Parcel) *config.CompilerFile {
	if !one.Written() {
		return nil
	}
	if c, known := p.compilers[one]; known {
		return c
	}
	p.compilers[one] = nil
	for _, id := range one.Files {
		if file := p.tree.Path(id); resolve.IsSource(file) {
			if c := p.settings.Compiler(file); c.Writes() && c.Includes(file) && p.buildOf(one.From.Dir).how != fromSources {
				p.compilers[one] = c
				break
			}
		}
	}
	return p.compilers[one]
}

// compiled says whether packages are compiled by themselves.
func (p *parting) compiled() bool {
	return slices.ContainsFunc(p.All, func(one *lang.Parcel) bool { return p.compiler(one) != nil })
}

// outDir is where the compiler puts scripts, below the folder of a package; empty where it writes none.
func (p *parting) outDir(one *lang.Parcel) string {
	c := p.compiler(one)
	if c == nil {
		return ""
	}
	return path.Base(c.OutDir)
}

// rootDir is the folder of a package from which the places of what is made are counted.
func (p *parting) rootDir(one *lang.Parcel) string {
	for _, id := range one.Files {
		if file := p.Q.Then(id); resolve.IsSource(file) && !strings.HasPrefix(file, one.Dir+"/src/") {
			return "."
		}
	}
	return "src"
}

// writeCompilers writes the compiler files of packages, and lets the old one build them.
func (p *parting) writeCompilers() {
	made := map[string][]*lang.Parcel{} // by the compiler file of the old tree
	for _, one := range p.All {
		if c := p.compiler(one); c != nil && !p.has(one, compilerName) {
			made[c.Path()] = append(made[c.Path()], one)
			p.Out.Writes[path.Join(one.Dir, compilerName)] = p.compilerFile(one, c)
		}
	}
	for _, file := range slices.Sorted(maps.Keys(made)) {
		p.oldCompiler(file, made[file])
	}
	if len(made) > 0 {
		p.scripts()
	}
}

// has says whether a package will have a file of a name without our doing.
func (p *parting) has(one *lang.Parcel, name string) bool {
	for id := range p.tree.Files {
		if p.Q.Then(project.FileID(id)) == path.Join(one.Dir, name) {
			return true
		}
	}
	return false
}

// compilerFile writes the compiler file of a package.
func (p *parting) compilerFile(one *lang.Parcel, c *config.CompilerFile) []byte {
	base := c.Path()
	if id, there := p.tree.Lookup(base); there {
		base = p.Q.Then(id)
	}
	s := begin(nothing)
	s.Set(fmt.Sprintf("%q", lang.Relative(one.Dir, base)), "extends")
	root, out := p.rootDir(one), p.outDir(one)
	s.Set("true", "compilerOptions", "composite")
	s.Set(fmt.Sprintf("%q", root), "compilerOptions", "rootDir")
	s.Set(fmt.Sprintf("%q", out), "compilerOptions", "outDir")
	s.Set(fmt.Sprintf("%q", path.Join(out, ".tsbuildinfo")), "compilerOptions", "tsBuildInfoFile")
	if root == "." {
		s.Set(`["**/*"]`, "include")
		s.Set(fmt.Sprintf(`["node_modules", %q]`, out), "exclude")
	} else {
		s.Set(fmt.Sprintf("[%q]", root), "include")
	}
	if c.Lists() {
		s.Set("[]", "files")
	}
	var refs []string
	for _, other := range p.All {
		if one.Inside[other] != nil && p.compiler(other) != nil {
			refs = append(refs, fmt.Sprintf("{ \"path\": %q }", lang.Relative(one.Dir, other.Dir)))
		}
	}
	if len(refs) > 0 {
		s.Set("["+strings.Join(refs, ", ")+"]", "references")
	}
	return p.sheets.Old(c.Path(), jsonStyle).Like(s.Text)
}

// oldCompiler lets a compiler file refer to packages that were parts of it.
func (p *parting) oldCompiler(file string, parts []*lang.Parcel) {
	s := p.sheets.Of(file, jsonStyle)
	if s == nil {
		return
	}
	c := p.settings.Compiler(file)
	if c != nil && !c.Declares && !c.Composite {
		p.Remark(file, 0,
			"the compiler writes types too then, for the packages that need one another: what they export must have types that can be named")
	}
	left := false
	for id := range p.tree.Files {
		f := p.tree.Path(project.FileID(id))
		one := p.Home(project.FileID(id))
		left = left || resolve.IsSource(f) && !p.Q.IsTest(f) && c != nil && c.Includes(f) && (one == nil || !one.Written())
	}
	dir := project.Dir(s.File)
	var refs []string
	for _, one := range parts {
		refs = append(refs, fmt.Sprintf("{ \"path\": %q }", lang.Relative(dir, one.Dir)))
	}
	if left { // what goes has a compiler file of its own there, so these stay as they are
		for _, key := range [][]string{{"include"}, {"compilerOptions", "rootDir"}} {
			if v := s.Root.At(key...); v != nil {
				at := manifest.Whole(v)
				s.Change(source.Edit{Span: at, New: string(s.Text[at.Start:at.End])})
			}
		}
		if s.Root.Get("include") == nil {
			p.exclude(s, dir, c, parts)
		}
	} else {
		s.Set("[]", "files")
		s.Drop("include")
		s.Drop("compilerOptions", "rootDir")
	}
	text := strings.Join(refs, ", ")
	if there := s.Root.Get("references"); there != nil && there.Kind == manifest.List {
		if len(there.Items) > 0 {
			text += ", "
		}
		s.Change(source.Edit{Span: source.Span{Start: there.Span.Start + 1, End: there.Span.Start + 1}, New: text})
	} else {
		s.Set("["+text+"]", "references")
	}
}

// exclude keeps packages out of what a compiler file takes that has no list.
func (p *parting) exclude(s *lang.Sheet, dir string, c *config.CompilerFile, parts []*lang.Parcel) {
	if s.Root.Get("exclude") == nil {
		s.Set(fmt.Sprintf(`["node_modules", %q]`, strings.TrimPrefix(lang.Relative(dir, c.OutDir), "./")), "exclude")
	}
	for _, one := range parts {
		s.AddItem(strings.TrimPrefix(lang.Relative(dir, one.Dir), "./"), "exclude")
	}
}

// calls finds the compiler in a script of a manifest.
var calls = regexp.MustCompile(`\btsc\b((?: +[^&|;"]+)?)`)

// scripts lets the scripts of the workspace build all packages.
func (p *parting) scripts() {
	for _, m := range p.top.Root.Get("scripts").Fields() {
		v := p.top.Root.At("scripts", m.Key)
		text := string(p.top.Text[v.Span.Start:v.Span.End])
		for _, found := range slices.Backward(calls.FindAllStringSubmatchIndex(text, -1)) {
			arguments := " " + text[found[2]:found[3]] + " "
			if at := v.Span.Start + found[2]; !strings.Contains(arguments, " -b ") && !strings.Contains(arguments, " --build ") && namedProject.FindString(arguments) == "" {
				p.top.Change(source.Edit{Span: source.Span{Start: at, End: at}, New: " -b"})
			}
		}
	}
}
