// Package workspace parts a project of Python into distributions: it writes their pyproject.toml, and enters them in
// the workspace if there is one. part.go says what can be a distribution and who needs whom, manifests.go writes the
// files, builders.go tells what builds a distribution where its packages lie, and names.go which distribution a module
// is of.
package workspace

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

const manifestName = "pyproject.toml"

var style = manifest.Style{Format: "TOML", Quote: '"'}

// Part makes what parts a tree.
func Part(tree *lang.Tree) func(q lang.Parting) *lang.Parted {
	return func(q lang.Parting) *lang.Parted {
		p := &parting{tree: tree, Splitter: lang.NewSplitter(tree, q), sheets: lang.NewSheets(tree, q.Then)}
		return p.work()
	}
}

// parting is distributions in the making.
type parting struct {
	tree *lang.Tree
	lang.Splitter
	sheets  *lang.Sheets
	top     *lang.Sheet // the manifest of the workspace
	manager *manager
}

// ours says whether a file is one of Python.
func ours(p string) bool { return strings.HasSuffix(p, ".py") || strings.HasSuffix(p, ".pyi") }

func (p *parting) work() *lang.Parted {
	all, packages := p.Q.Mentions, p.packages()
	p.Q.Mentions = func(id project.FileID) ([]lang.Mention, []lang.Target) { return named(all(id)) }
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " with a name says what its files are of: write one first, with what they need",
		Packages: packages, Counts: ours, Tests: p.uninstalled(packages),
		Names: func(m *lang.Mention) bool {
			return slices.Contains(syntax.Kinds, m.Kind) && m.Kind != syntax.ModuleSetting && m.Kind != syntax.Program &&
				m.Kind != syntax.ModuleUse
		},
		Library: func(m *lang.Mention) string {
			if m.Kind == syntax.ModuleText || m.Kind == syntax.FromName || strings.HasPrefix(m.Text, ".") {
				return ""
			}
			return m.Text
		},
	}, p.look, func() {
		p.hidden()
		p.data()
		if !p.Refused() {
			p.findTop()
		}
	}, p.write)
}

// apart are folders of a distribution that are for working on it.
var apart = lang.Words("tests test testing docs doc examples example samples scripts tools benchmarks benchmark bench ci")

// uninstalled says of a file whether it is there for tests and for those who work on a distribution: what is installed
// lies in src, if there is one, and not in folders that are for the work.
func (p *parting) uninstalled(packages []lang.Package) func(file string) bool {
	inSrc := map[string]*bool{}
	note := func(dir string) {
		is := false
		inSrc[dir] = &is
	}
	for _, k := range packages {
		note(k.Dir)
	}
	for _, one := range p.Q.Packages {
		note(one.Dir)
	}
	rest := func(file string) (string, *bool) {
		for dir := project.Dir(file); ; dir = path.Dir(dir) {
			if is := inSrc[dir]; is != nil {
				return strings.TrimPrefix(strings.TrimPrefix(file, dir), "/"), is
			}
			if dir == "." {
				return file, nil
			}
		}
	}
	for id := range p.tree.Files {
		for _, file := range []string{p.tree.Path(project.FileID(id)), p.Q.Then(project.FileID(id))} {
			if below, is := rest(file); is != nil && ours(file) && strings.HasPrefix(below, "src/") {
				*is = true
			}
		}
	}
	return func(file string) bool {
		below, is := rest(file)
		top, _, deeper := strings.Cut(below, "/")
		return p.Q.IsTest(file) || is != nil && *is && top != "src" || deeper && apart[top]
	}
}

// named leaves out the modules from which names are imported, where the names lead elsewhere: they say what is needed.
func named(mentions []lang.Mention, targets []lang.Target) (out []lang.Mention, to []lang.Target) {
	said := map[string]bool{}
	for i := range mentions {
		if mentions[i].Kind == syntax.FromName && targets[i].Kind.Inside() {
			said[syntax.DetailOf(&mentions[i]).From] = true
		}
	}
	for i := range mentions {
		if mentions[i].Kind == syntax.FromModule && targets[i].Kind.Inside() && said[mentions[i].Text] {
			continue
		}
		out, to = append(out, mentions[i]), append(to, targets[i])
	}
	return out, to
}

// Packages gives the distributions of a tree.
func Packages(tree *lang.Tree) func() []lang.Package {
	return func() []lang.Package {
		p := parting{tree: tree, sheets: lang.NewSheets(tree, tree.Path)}
		return p.packages()
	}
}

// packages are the distributions of the tree that have a manifest with a name.
func (p *parting) packages() (out []lang.Package) {
	for id, f := range p.tree.Files {
		if path.Base(f.Path) != manifestName || f.Link {
			continue
		}
		o := p.sheets.Old(f.Path, style)
		if name := nameOf(o.Value); name != "" {
			out = append(out, lang.Package{Manifest: project.FileID(id), Dir: project.Dir(f.Path), Name: normal(name)})
		}
	}
	return out
}

// nameOf is the name of a distribution; empty where settings of tools alone are written.
func nameOf(root *manifest.Value) string {
	if name := root.At("project", "name").String(); name != "" {
		return name
	}
	return root.At("tool", "poetry", "name").String()
}

// original is the manifest in a folder of the old tree, and sheetOf how it is written anew; nil for none that can be
// read.
func (p *parting) original(dir string) *lang.OldFile {
	return p.sheets.Old(path.Join(dir, manifestName), style)
}

func (p *parting) sheetOf(dir string) *lang.Sheet {
	return p.sheets.Of(path.Join(dir, manifestName), style)
}

// look says what stands against a distribution.
func (p *parting) look(one *lang.Parcel) {
	if p.Keeps(one, "distribution", normal(one.Asked.Name)) {
		return
	}
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
	}
	if one.Name = normal(one.Name); !validName(one.Name) {
		p.Refuse(one.Dir, "%q is no name of a distribution: letters and digits, with - _ and . between them", one.Name)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
	for _, e := range p.entries(one.From) {
		if normal(e.name) == one.Name {
			p.Refuse(one.Dir, "%s is the name of a library too, which %s asks for", one.Name, path.Join(one.From.Dir,
				manifestName))
		}
	}
	if b := p.backend(one.From); b == "" {
		p.Refuse(one.Dir, "%s builds %s, and it is not known how that is told where packages lie",
			p.original(one.From.Dir).Value.At("build-system", "build-backend").String(), one.From.Name)
	}
}

func validName(name string) bool {
	for i := range len(name) {
		c := name[i]
		if (c < 'a' || c > 'z') && (c < '0' || c > '9') && (c != '-' || i == 0 || i == len(name)-1) {
			return false
		}
	}
	return name != ""
}

// hidden refuses distributions that have packages of one name, if one of these has a file that makes it a package: it
// hides the others (docs.python.org/3/reference/import.html, regular packages).
func (p *parting) hidden() {
	type holder struct {
		one  *lang.Parcel
		file string
	}
	regular, all := map[string]holder{}, map[string][]*lang.Parcel{}
	for id := range p.tree.Files {
		id := project.FileID(id)
		one := p.Home(id)
		if one == nil || !ours(p.tree.Path(id)) {
			continue
		}
		then := p.Q.Then(id)
		top, rest, deeper := strings.Cut(p.below(one, then), "/")
		if !deeper || p.Q.IsTest(then) || top == "tests" {
			continue
		}
		if !slices.Contains(all[top], one) {
			all[top] = append(all[top], one)
		}
		if rest == "__init__.py" {
			regular[top] = holder{one, p.tree.Path(id)}
		}
	}
	for _, top := range slices.Sorted(maps.Keys(all)) {
		h, is := regular[top]
		if !is || len(all[top]) < 2 || !slices.ContainsFunc(all[top], (*lang.Parcel).Wanted) {
			continue
		}
		for _, one := range all[top] {
			if one.Wanted() {
				p.Refuse(one.Dir,
					"it would have modules of the package %s, which %s has too, and an installed %s hides them (%s makes it a package): "+
						"let the folder be called otherwise, %s_%s for one", top, h.one.Name, top, h.file, top, path.Base(one.Dir))
			}
		}
	}
}

// data refuses distributions whose packages hold files that a module asks for by the name of another's package.
func (p *parting) data() {
	for id := range p.tree.Files {
		id := project.FileID(id)
		mentions, targets := p.Q.Mentions(id)
		for i := range mentions {
			m := &mentions[i]
			if m.Kind != syntax.PackagePath && m.Kind != syntax.AnchorPath || targets[i].Kind != lang.ToFile {
				continue
			}
			reader, holder := id, targets[i].File
			if m.Kind == syntax.PackagePath { // the package whose folder it is
				from, there := p.tree.LookupParts(project.Dir(p.tree.Path(holder)), "/__init__.py")
				if !there {
					continue
				}
				reader = from
			}
			one, other := p.Home(reader), p.Home(holder)
			if one == other || one == nil || other == nil || !one.Wanted() && !other.Wanted() {
				continue
			}
			why := fmt.Sprintf("%s reads %s beside its package, and that would be of another distribution: let it go along",
				p.Where(id, m.Span.Start), p.tree.Path(holder))
			switch {
			case p.Q.IsTest(p.Q.Then(id)) || m.Kind == syntax.AnchorPath:
				p.Remark(p.tree.Path(id), m.Span.Start,
					"it reads %s by its path, which is of another distribution then: that works where both lie side by side, and not where they are installed", p.tree.Path(holder))
			case other.Wanted():
				p.Refuse(other.Dir, "%s", why)
			default:
				p.Refuse(one.Dir, "%s", why)
			}
		}
	}
}

// below is a path from the folder in which the packages of a distribution lie.
func (p *parting) below(one *lang.Parcel, file string) string {
	rest := file
	if one.Dir != "." {
		rest = strings.TrimPrefix(file, one.Dir+"/")
	}
	return strings.TrimPrefix(rest, "src/")
}

// findTop finds the manifest of the workspace: the one above all distributions that has a list of members, or that of
// the distribution from which others are made.
func (p *parting) findTop() {
	var from *lang.Package
	for _, one := range p.All {
		if one.Wanted() && (from == nil || len(one.From.Dir) < len(from.Dir)) {
			from = one.From
		}
	}
	dir := from.Dir
	for above := dir; ; above = path.Dir(above) {
		if p.original(above).Value.At("tool", "uv", "workspace") != nil {
			dir = above
		}
		if above == "." {
			break
		}
	}
	if p.top = p.sheetOf(dir); p.top == nil {
		p.Refuse("", "%s can't be read", path.Join(dir, manifestName))
		return
	}
	p.manager = p.managerOf(dir)
	for _, one := range p.All {
		if one.Written() && p.manager.name == "uv" && dir != "." && !strings.HasPrefix(one.Dir, dir+"/") {
			p.Refuse(one.Dir, "%s is the manifest of all members, and this folder does not lie below it", path.Join(dir,
				manifestName))
		}
	}
	p.Nameless(func(other *lang.Parcel) string {
		return fmt.Sprintf("no %s with a name is there: let the file go into a package too", path.Join(other.Dir, manifestName))
	})
}
