package engine

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file compares the packages that manifests ask for with those that the code of each package names.

// asker is a package with what its code names.
type asker struct {
	lang.Package
	uses map[string]packageUse // by their names
	code bool                  // it has programs of its own
}

// packageUse is a name of a package in code: where it stands first, and whether tests alone have it.
type packageUse struct {
	ref  graph.Reference
	test bool
}

func (a *asker) note(name string, ref graph.Reference, test bool) {
	if known, noted := a.uses[name]; !noted || known.test && !test {
		a.uses[name] = packageUse{ref, test}
	}
}

// packages are the packages of one language.
type packages struct {
	unnamed bool // by which code does not ask for them
	all     []*asker
	by      map[string]*asker // by their folders
}

// packagesOf gives the packages of a tree, of each language that knows some, with what their code names. Those that code
// does not name are left out unless they are wanted.
func packagesOf(g *graph.Graph, unnamed bool) (out []packages) {
	for _, rules := range g.Rules() {
		if rules.Packages == nil || rules.Unnamed && !unnamed {
			continue
		}
		one := packages{unnamed: rules.Unnamed, by: map[string]*asker{}}
		for _, pack := range rules.Packages() {
			a := &asker{Package: pack, uses: map[string]packageUse{}}
			one.all, one.by[pack.Dir] = append(one.all, a), a
		}
		if len(one.all) > 0 {
			one.gather(g, &rules)
			out = append(out, one)
		}
	}
	return out
}

// findDependencies adds the packages that a manifest asks for and nothing uses, and those that code uses and no manifest
// asks for.
func (p *Project) findDependencies(c *Check, placed *placement.Result) {
	for _, of := range packagesOf(p.graph, false) {
		for _, a := range of.all {
			if !placed.Homes[a.Manifest].Leave.Silent() {
				p.findSpare(c, placed, a, of.all)
			}
			p.findBorrowed(c, placed, a, of.all)
		}
	}
}

// owner gives the package that a path lies in: the deepest; nil for none.
func (ps *packages) owner(p string) *asker { return project.Nearest(ps.by, p) }

// gather notes which packages the files of each name.
func (ps *packages) gather(g *graph.Graph, rules *lang.Rules) {
	for _, a := range ps.all {
		for i := range a.Uses {
			a.note(a.Uses[i].Name, graph.Reference{From: a.Uses[i].From}, a.Uses[i].Test)
		}
	}
	for id := range g.Files {
		id := project.FileID(id)
		file := g.Tree.Path(id)
		a := ps.owner(file)
		if a == nil {
			continue
		}
		a.code = a.code || g.Languages.IsProgram(file)
		n := &g.Files[id]
		for i, t := range n.Targets {
			m := &n.Mentions[i]
			if m.Likely || !m.Kind.Is(lang.Imports) || !slices.Contains(rules.Kinds, m.Kind) {
				continue
			}
			name := lang.LibraryOf(m)
			if name == "" {
				continue
			}
			if t.Kind.Inside() { // another package of the tree, by its name
				to := ps.owner(pathOf(g, t))
				if to == nil || to == a || to.Name == "" || !ps.unnamed && !strings.HasPrefix(name, to.Name) {
					continue
				}
				name = to.Name
			} else if t.Kind != lang.ToPackage {
				continue
			}
			a.note(name, graph.Reference{From: id, Mention: i}, g.Languages.IsTest(file))
		}
	}
}

// pathOf is the path of what a mention leads to; of several files that of the first.
func pathOf(g *graph.Graph, t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		return g.Tree.Path(t.File)
	case lang.ToSet:
		return g.Tree.Path(t.Set()[0])
	case lang.ToFolder:
		return t.Folder()
	}
	return ""
}

// below says whether a package lies in a folder, or is it.
func (a *asker) below(dir string) bool { return dir == "." || strings.HasPrefix(a.Dir+"/", dir+"/") }

func (a *asker) usesAny(covers func(name string) bool) bool {
	for name := range a.uses {
		if covers(name) {
			return true
		}
	}
	return false
}

// findSpare adds the packages that a manifest asks for and that neither code nor a text beside it names.
func (p *Project) findSpare(c *Check, placed *placement.Result, a *asker, askers []*asker) {
	if !slices.ContainsFunc(askers, func(b *asker) bool { return b.code && b.below(a.Dir) }) {
		return // a list of tools, or of what others use
	}
	var names []lang.Dependency
	for _, d := range a.Asks {
		if d.Code && !slices.ContainsFunc(askers, func(b *asker) bool { return b.below(a.Dir) && b.usesAny(d.Covers) }) {
			names = append(names, d)
		}
	}
	if len(names) == 0 {
		return
	}
	texts := make([]string, len(names))
	for i, d := range names {
		texts[i] = d.Name
	}
	named := p.graph.NamedInTexts(a.Manifest, texts, func(id project.FileID) bool { return a.Dir == "." || strings.HasPrefix(p.Tree.Path(id), a.Dir+"/") })
	file := p.Tree.Path(a.Manifest)
	content, err := p.Tree.Content(a.Manifest)
	if err != nil {
		return
	}
	for i, d := range names {
		if named[i] || p.Convention.For(file).Excuse(finding.Spare, file, placed.Homes[a.Manifest].Shelf) != nil {
			continue
		}
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Spare, Path: file, At: source.PositionAt(content, d.At).String(),
			Reason: fmt.Sprintf("it asks for %s, and no code of the package names that", d.Name)})
	}
}

// findBorrowed adds the packages that code uses and that neither its own manifest asks for nor one above.
func (p *Project) findBorrowed(c *Check, placed *placement.Result, a *asker, askers []*asker) {
	if a.Free == nil {
		return
	}
	for _, name := range slices.Sorted(maps.Keys(a.uses)) {
		use := a.uses[name].ref
		if a.Free(name) || placed.Homes[use.From].Leave.Silent() {
			continue
		}
		asked := slices.ContainsFunc(askers, func(other *asker) bool {
			return a.below(other.Dir) && (other.Name == name ||
				slices.ContainsFunc(other.Asks, func(d lang.Dependency) bool { return d.Covers(name) }))
		})
		file := p.Tree.Path(use.From)
		if asked || p.Convention.For(file).Excuse(finding.Borrowed, file, placed.Homes[use.From].Shelf) != nil {
			continue
		}
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Borrowed, Path: file, At: p.graph.Position(use).String(),
			Reason: fmt.Sprintf("it uses the package %s, and %s does not ask for that", name, p.Tree.Path(a.Manifest))})
	}
}

// PackageTour is a package of a survey.
type PackageTour struct {
	Name     string   `json:"name"`
	Manifest string   `json:"manifest"`
	Files    int      `json:"files"`
	Asks     int      `json:"asks"`   // packages that its manifest asks for; -1 where that is not read
	Uses     []string `json:"uses"`   // other packages of the project that its code names
	Circle   bool     `json:"circle"` // it uses itself by way of others
}

// findPackages lists the packages of the project, and who depends on whom.
func (s *survey) findPackages() {
	s.Packages = []PackageTour{}
	for _, of := range packagesOf(s.graph, true) {
		numbers := map[string]int{}
		for i, a := range of.all {
			if a.Name != "" {
				numbers[a.Name] = i
			}
		}
		files := map[*asker]int{}
		for id := range s.tree.Files {
			if a := of.owner(s.tree.Path(project.FileID(id))); a != nil {
				files[a]++
			}
		}
		next := make([][]int, len(of.all))
		first := len(s.Packages)
		for i, a := range of.all {
			tour := PackageTour{Name: cmp.Or(a.Name, a.Dir), Manifest: s.tree.Path(a.Manifest), Files: files[a], Asks: len(a.Asks), Uses: []string{}}
			if of.unnamed {
				tour.Asks = -1
			}
			for _, name := range slices.Sorted(maps.Keys(a.uses)) {
				to, known := numbers[name]
				if !known || to == i {
					continue
				}
				if tour.Uses = append(tour.Uses, name); !a.uses[name].test { // a circle by way of tests is none
					next[i] = append(next[i], to)
				}
			}
			s.Packages = append(s.Packages, tour)
		}
		for _, component := range graph.Components(len(of.all), func(n int) []int { return next[n] }) {
			for _, n := range component {
				s.Packages[first+n].Circle = len(component) > 1
			}
		}
	}
	slices.SortFunc(s.Packages, func(a, b PackageTour) int { return strings.Compare(a.Manifest, b.Manifest) })
}
