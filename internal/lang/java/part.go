package java

import (
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file says which modules a build of Maven is parted into, and who needs whom. poms.go writes their builds, and
// artifacts.go says which artifact a package is of.

// splitting is modules in the making.
type splitting struct {
	*Resolver
	lang.Splitter
	poms  map[string]*pom // by their folders; nil for what can't be read
	edits map[*pom]*manifest.XML
	own   map[string]bool                                         // the packages of the tree
	all   func(id project.FileID) ([]lang.Mention, []lang.Target) // builds too
}

// Part writes the modules that the convention wants: what each asks for follows from the names that its files use.
// Builds that are programs of their own are left to their writers.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	p := &splitting{Resolver: r, Splitter: lang.NewSplitter(r.tree, q), poms: map[string]*pom{},
		edits: map[*pom]*manifest.XML{}}
	packages := p.packages()
	if len(packages) == 0 {
		return nil
	}
	p.all = p.Q.Mentions
	p.Q.Mentions = func(id project.FileID) ([]lang.Mention, []lang.Target) {
		if path.Base(r.tree.Path(id)) == manifestName { // what it names goes where it is needed
			return nil, nil
		}
		return p.all(id)
	}
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " says what its files are of",
		Packages: packages, Counts: isJava, Tests: q.IsTest, More: p.inFull,
		Names: func(m *lang.Mention) bool {
			return m.Kind == Import || m.Kind == StarImport || m.Kind == Name || m.Kind == ClassText || m.Kind == ClassWord
		},
		Library: func(m *lang.Mention) string {
			if m.Kind != Import && m.Kind != StarImport || ofJava(m.Text+".") || p.inTree(m.Text) {
				return ""
			}
			return m.Text
		},
		NoCircles: true,
	}, p.look, p.testsOfOthers, p.write)
}

// pom is a build as it is written.
type pom struct {
	id      project.FileID
	dir     string
	src     []byte
	project manifest.Member
}

// pomOf reads the build in a folder; nil for none.
func (p *splitting) pomOf(dir string) *pom {
	if one, known := p.poms[dir]; known {
		return one
	}
	p.poms[dir] = nil
	id, there := p.tree.Lookup(path.Join(dir, manifestName))
	if !there {
		return nil
	}
	content, err := p.tree.Content(id)
	if err != nil {
		return nil
	}
	if root, err := manifest.ParseXML(content); err == nil {
		for _, m := range root.Members {
			if m.Key == "project" {
				p.poms[dir] = &pom{id, dir, content, m}
			}
		}
	}
	return p.poms[dir]
}

// text is what an element of a build says, without the blanks.
func (b *pom) text(keys ...string) string { return b.project.Value.At(keys...).String() }

// Packages are the modules of the tree.
func (r *Resolver) Packages() []lang.Package {
	p := splitting{Resolver: r, poms: map[string]*pom{}}
	return p.packages()
}

// packages are the builds of the tree.
func (p *splitting) packages() (out []lang.Package) {
	for id, f := range p.tree.Files {
		if path.Base(f.Path) != manifestName || f.Link {
			continue
		}
		if b := p.pomOf(project.Dir(f.Path)); b != nil && b.text("artifactId") != "" {
			out = append(out, lang.Package{Manifest: project.FileID(id), Dir: b.dir, Name: b.text("artifactId")})
		}
	}
	return out
}

// artifactName is what an artifact may be called.
var artifactName = regexp.MustCompile(`^[A-Za-z0-9_.-]+$`)

// look says what stands against a module.
func (p *splitting) look(one *lang.Parcel) {
	if p.Keeps(one, "module", one.Asked.Name) {
		return
	}
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
	}
	if !artifactName.MatchString(one.Name) {
		p.Refuse(one.Dir, "%q is no name of an artifact: letters, digits, - _ and .", one.Name)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
	for id, f := range p.tree.Files {
		if path.Base(f.Path) != "module-info.java" {
			continue
		}
		if above := p.Above(project.Dir(f.Path)); len(above) > 0 && above[0] == one.From {
			p.Refuse(one.Dir,
				"%s says which packages the module has for the compiler: write one for each module first, or take it out",
				p.tree.Path(project.FileID(id)))
		}
	}
	if parent := p.parentOf(one); parent.dir == one.From.Dir && !p.isParent(parent) {
		if left := p.left(one.From); left != "" {
			p.Refuse(one.Dir,
				"%s would have modules, and a build with modules has no sources of its own: let %s go to a module too",
				path.Join(one.From.Dir, manifestName), left)
		}
	}
}

// parentOf is the build of which a new module is one: that of the old module, if it is one itself, else the old one.
func (p *splitting) parentOf(one *lang.Parcel) *pom {
	b := p.pomOf(one.From.Dir)
	if p.isParent(b) {
		return b
	}
	if parent := b.project.Value.Get("parent"); parent != nil {
		where := "../" + manifestName
		if path := parent.Get("relativePath"); path != nil {
			where = path.String()
		}
		at := path.Join(b.dir, where)
		for _, dir := range []string{project.Dir(at), at} {
			if above := p.pomOf(dir); above != nil && above != b &&
				above.text("artifactId") == parent.Get("artifactId").String() && p.isParent(above) {
				return above
			}
		}
	}
	return b
}

// isParent says whether a build is of others, and has no sources itself.
func (p *splitting) isParent(b *pom) bool { return b.text("packaging") == "pom" }

// left is a source or a resource that a build still has after the moves; empty for none.
func (p *splitting) left(k *lang.Package) string {
	for id, f := range p.tree.Files {
		id := project.FileID(id)
		above := p.Above(project.Dir(f.Path))
		then := p.Q.Then(id)
		src := path.Join(k.Dir, "src") + "/"
		if len(above) > 0 && above[0] == k && strings.HasPrefix(then, src+"main/") || strings.HasPrefix(then, src+"test/") &&
			len(above) > 0 && above[0] == k {
			return f.Path
		}
	}
	return ""
}

// testsOfOthers refuses modules whose files use a test of another: a module gives out none.
func (p *splitting) testsOfOthers() {
	for _, a := range p.Across {
		one := p.Home(a.From)
		if a.New && one != nil && p.Q.IsTest(p.Q.Then(a.To)) && (one.Wanted() || a.Other.Wanted()) {
			dir := a.Other.Dir
			if one.Wanted() {
				dir = one.Dir
			}
			p.Refuse(dir,
				"%s uses %s, a test of another module, which gives out none: let what tests share go to a module of its own",
				p.Where(a.From, a.Mention.Span.Start), p.Q.Then(a.To))
		}
	}
}

// inFull are the names of libraries that a file uses in full, without an import.
func (p *splitting) inFull(id project.FileID, in *lang.Package) (out []string) {
	b := p.pomOf(in.Dir)
	p.tree.Peek(id, func(content []byte, err error) {
		for _, m := range fullName.FindAllSubmatch(content, -1) {
			name := string(m[1])
			if !slices.Contains(out, name) && !p.inTree(name) && len(p.fitting(b, name)) > 0 {
				out = append(out, name)
			}
		}
	})
	return out
}

// fullName is the name of a type in full.
var fullName = regexp.MustCompile(`\b((?:[a-z]\w*\.){2,}[A-Z]\w*)`)

// dependency is what a build asks for.
type dependency struct {
	group, artifact, scope string
	member                 manifest.Member
	of                     *pom
}

// dependencies are what a build asks for.
func (b *pom) dependencies() (out []dependency) {
	if b == nil {
		return nil
	}
	for _, m := range b.project.Value.Get("dependencies").Named("dependency") {
		out = append(out, dependency{m.Value.Get("groupId").String(), m.Value.Get("artifactId").String(),
			m.Value.Get("scope").String(), m, b})
	}
	return out
}

// fitting are the dependencies of a build that fit a name best: several, where it can't be said which.
func (p *splitting) fitting(b *pom, name string) []dependency {
	return lang.Best(b.dependencies(), func(d dependency) int { return fits(d.group, d.artifact, name) })
}
