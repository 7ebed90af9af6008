package rust

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Part works out which packages files are parted into: what each needs of others and of libraries follows from the paths
// of its modules, and manifests from that. split.go has who needs what, manifests.go the texts, lock.go the lock file.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	if !r.any {
		return nil
	}
	p := &parting{Resolver: r, q: q, byDir: map[string]*parcel{}, of: map[*pack]*parcel{},
		homes: map[project.FileID]*parcel{}, sheets: lang.NewSheets(r.tree, q.Then), shared: map[string]string{},
		out: &lang.Parted{Writes: map[string][]byte{}, Edits: map[project.FileID][]source.Edit{}}}
	p.gather()
	for _, l := range p.links {
		if l.one.inside[l.other] == nil {
			p.out.Remarks = append(p.out.Remarks, lang.Duty{Path: p.tree.Path(l.from), At: l.at, Why: fmt.Sprintf(
				"a comment links to %s, which its package does not need: the link is written, and documents can't follow it", l.other.name)})
		}
	}
	p.unknown()
	for _, one := range p.all {
		if one.asked != nil && len(one.files) > 0 {
			p.out.Taken = append(p.out.Taken, one.dir)
		}
	}
	if len(p.out.Taken) == 0 && len(p.out.Refused) == 0 {
		return nil
	}
	p.features()
	p.write()
	return p.out
}

// parting is packages in the making.
type parting struct {
	*Resolver
	q     lang.Parting
	all   []*parcel
	byDir map[string]*parcel
	of    map[*pack]*parcel // that have the manifests of packages before
	homes map[project.FileID]*parcel
	out   *lang.Parted
	links []docLink
	// the manifests as they become, those of the old tree, and the dependencies of the workspace
	sheets *lang.Sheets
	shared map[string]string
}

// parcel is a package after the moves.
type parcel struct {
	dir, name string
	asked     *lang.NewPackage  // nil for one that the convention does not speak of
	was       *pack             // whose manifest it has; nil for one whose manifest is written
	from      *pack             // of which most of its files were
	files     []project.FileID  // its files
	targets   []target          // whose roots are in it, by their places after the moves
	needs     map[string]*need  // libraries, by the names by which code knows them
	had       map[string]bool   // the libraries that files of its manifest needed before
	inside    map[*parcel]*need // other packages of the tree
	hadInside map[*pack]bool    // those that files of its manifest needed before
	features  map[string]bool   // of the old manifest, that it has too
	tested    map[string]bool   // features that its texts ask for
	count     map[*pack]int     // of its modules, by their packages before
}

// need says what for something is needed.
type need struct {
	normal, test, build bool
	of                  *pack // whose manifest says what it is
}

// gather finds the packages after the moves, and what their files need.
func (p *parting) gather() {
	f := p.modules()
	add := func(one *parcel) *parcel {
		one.needs, one.inside, one.count = map[string]*need{}, map[*parcel]*need{}, map[*pack]int{}
		one.had, one.hadInside, one.tested = map[string]bool{}, map[*pack]bool{}, map[string]bool{}
		p.all = append(p.all, one)
		p.byDir[one.dir] = one
		return one
	}
	for i := range p.q.Packages {
		asked := &p.q.Packages[i]
		add(&parcel{dir: asked.Dir, name: asked.Name, asked: asked})
	}
	for _, k := range f.packs {
		dir := k.dir
		if id, there := p.tree.Lookup(path.Join(k.dir, manifestName)); there {
			dir = project.Dir(p.q.Then(id))
		}
		one := p.byDir[dir]
		if one == nil {
			one = add(&parcel{dir: dir, name: k.name})
		}
		if one.was == nil {
			one.was, p.of[k] = k, one
		}
		if one.name == "" {
			one.name = k.name
		}
	}
	for _, one := range p.all {
		if one.name == "" {
			one.name = path.Base(one.dir)
		}
	}
	for _, c := range f.crates {
		for _, m := range c.all {
			p.file(c, m)
		}
		p.root(c)
	}
	for _, one := range p.all {
		most := 0
		for _, k := range f.packs { // in their order
			if n := one.count[k]; n > most {
				one.from, most = k, n
			}
		}
		if one.was != nil {
			one.from = one.was
		}
		p.look(one)
		p.built(one)
	}
	for _, c := range f.crates {
		for _, m := range c.all {
			p.uses(c, m)
		}
	}
}

// unknown refuses packages whose files are of the language, and of no crate that a manifest tells.
func (p *parting) unknown() {
	for id := range p.tree.Files {
		if !isRust(p.tree.Files[id].Path) {
			continue
		}
		one := p.home(project.FileID(id))
		if one != nil && one.asked != nil && len(one.files) == 0 && !slices.ContainsFunc(p.out.Refused, func(u lang.Unparted) bool { return u.Dir == one.dir }) {
			p.out.Refused = append(p.out.Refused, lang.Unparted{Dir: one.dir, Why: "no manifest says what its files are of"})
			p.out.Taken = append(p.out.Taken, one.dir)
		}
	}
}

// home is the package that a file of the old tree comes to; nil for none.
func (p *parting) home(id project.FileID) *parcel {
	one, known := p.homes[id]
	if !known {
		one = project.Nearest(p.byDir, project.Dir(p.q.Then(id)))
		p.homes[id] = one
	}
	return one
}

// file notes a module in the package that it comes to.
func (p *parting) file(c *crate, m *module) {
	one := p.home(m.file)
	if one == nil {
		return
	}
	if one.count[c.pack]++; m == p.modules().of[m.file][0] { // a file may be a module of several crates
		one.files = append(one.files, m.file)
	}
	for _, cond := range conds(m) { // its line goes along
		one.asks([]byte(cond))
	}
	if m.parent == nil {
		t := c.target
		t.file = p.q.Then(m.file)
		one.targets = append(one.targets, t)
	}
}

// root notes for packages that get modules of a crate without its root what that says of all of the crate: they get it too.
func (p *parting) root(c *crate) {
	parts := map[*parcel][]*module{}
	for _, m := range c.all {
		if one := p.home(m.file); one != nil && one != p.home(c.root.file) {
			parts[one] = append(parts[one], m)
		}
	}
	if len(parts) == 0 {
		return
	}
	content, _ := p.tree.Content(c.root.file)
	for one, of := range parts {
		for _, text := range innerAttributes(content, c.root.text.first) {
			one.asks([]byte(text))
		}
		for _, line := range p.externs(c, of) {
			if one.asks([]byte(line.text)); line.macros {
				p.library(one, line.crate, need{of: c.pack, normal: true})
			}
		}
	}
}

// featureText is where a text asks for a feature (the Cargo book, "Features").
var featureText = regexp.MustCompile(`\bfeature\s*=\s*"([^"]+)"`)

// asks notes the features that a text asks for.
func (one *parcel) asks(text []byte) {
	for _, found := range featureText.FindAllSubmatch(text, -1) {
		one.tested[string(found[1])] = true
	}
}

// look says what stands against a package, and reads which features its texts ask for.
func (p *parting) look(one *parcel) {
	if one.asked == nil || len(one.files) == 0 {
		return
	}
	refuse := func(format string, args ...any) {
		p.out.Refused = append(p.out.Refused, lang.Unparted{Dir: one.dir, Why: fmt.Sprintf(format, args...)})
	}
	if one.from == nil {
		refuse("no manifest says what its files are of")
		return
	}
	if !isPackageName(one.name) {
		refuse("%q is no name of a package: letters, digits, - and _", one.name)
	}
	for _, other := range p.all {
		if other != one && other.name == one.name && (other.asked == nil || other.dir < one.dir) && !other.empties() {
			refuse("%s has the name %s already", path.Join(other.dir, manifestName), one.name)
		}
	}
	if len(one.from.features) > 0 {
		root := p.original(one.from.dir)
		for _, t := range one.targets { // what a target must have is a feature of its package
			for _, f := range folderOf {
				for _, v := range root.Value.Get(f.table).Elements() {
					if t.kind == f.kind && t.name == textOf(v, "name") {
						for _, item := range v.Get("required-features").Elements() {
							one.tested[item.Text] = true
						}
					}
				}
			}
		}
		for _, id := range one.files {
			p.tree.Peek(id, func(content []byte, err error) { one.asks(content) })
		}
	}
	for k := range one.count {
		if k.edition == "" || k.edition == "2015" {
			refuse("%s is of the edition 2015, whose packages are named by extern crate lines: write edition = \"2018\" or later first",
				path.Join(k.dir, manifestName))
		}
	}
}

// What a build script gives to its package (the Cargo book, "Build Scripts"), and where a text asks for it.
var (
	builtGives = regexp.MustCompile(`rustc-(?:cfg|env)=\\?"?([A-Za-z_]\w*)`)
	builtAsked = regexp.MustCompile(`\benv!\s*\(\s*"([^"]+)"`)
)

// built keeps files in the package of the build script that writes for them, and tests in that of the program that they run.
func (p *parting) built(one *parcel) {
	has := func(kind targetKind, name string) bool {
		return slices.ContainsFunc(one.targets, func(t target) bool { return t.kind == kind && (name == "" || t.name == name) })
	}
	gives := map[string]*regexp.Regexp{} // names, with how a condition asks for one
	var scripts []project.FileID         // that have left the package
	for k := range one.count {
		for _, t := range k.targets {
			if id, there := p.tree.Lookup(t.file); there && t.kind == aBuild && !has(aBuild, "") {
				gives["OUT_DIR"] = nil
				scripts = append(scripts, id)
				p.tree.Peek(id, func(content []byte, err error) {
					for _, found := range builtGives.FindAllSubmatch(content, -1) {
						gives[string(found[1])] = regexp.MustCompile(`cfg[^\n]*\b` + string(found[1]) + `\b`)
					}
				})
			}
		}
	}
	for _, id := range one.files {
		refuse := func(content []byte, at int, format string, args ...any) {
			p.out.Refused = append(p.out.Refused, lang.Unparted{Dir: one.dir, Files: scripts, Why: fmt.Sprintf("%s:%d: %s", p.tree.Path(id),
				source.PositionAt(content, at).Line, fmt.Sprintf(format, args...))})
		}
		p.tree.Peek(id, func(content []byte, err error) {
			for _, found := range builtAsked.FindAllSubmatchIndex(content, -1) {
				name := string(content[found[2]:found[3]])
				if program, is := strings.CutPrefix(name, "CARGO_BIN_EXE_"); is && one.asked != nil && !has(aProgram, program) {
					refuse(content, found[0], "it runs the program %s, which would be of another package: let it go there", program)
				}
				if name == "OUT_DIR" {
					p.generated(one)
				}
				if _, is := gives[name]; is {
					refuse(content, found[0], "the build script of its old package gives it %s, and the new one has none: let build.rs go along", name)
				}
			}
			for name, condition := range gives {
				if at := bytes.Index(content, []byte(name)); condition != nil && at >= 0 && condition.Match(content) {
					refuse(content, at, "the build script of its old package sets the condition %s, and the new one has none: let build.rs go along", name)
				}
			}
		})
	}
}

// generated notes the libraries that the text of a build script names: what it writes is a part of its package.
func (p *parting) generated(one *parcel) {
	for k := range one.count {
		for _, t := range k.targets {
			id, there := p.tree.Lookup(t.file)
			if !there || t.kind != aBuild || p.home(id) != one {
				continue
			}
			p.tree.Peek(id, func(content []byte, err error) {
				for name := range k.deps {
					if regexp.MustCompile(`\b` + name + `::`).Match(content) {
						p.library(one, name, need{of: k, normal: true})
					}
				}
			})
		}
	}
}

// isPackageName says whether a text may be the name of a package (the Cargo book, "The name field").
func isPackageName(name string) bool {
	return name != "" && !isKeyword(under(name)) && strings.Trim(name, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_") == "" &&
		!(name[0] >= '0' && name[0] <= '9')
}

// empties says whether nothing is left of a package from which others are made, but its manifest.
func (one *parcel) empties() bool { return one.asked == nil && one.was != nil && len(one.files) == 0 }

// uses notes what a module needs.
func (p *parting) uses(c *crate, m *module) {
	one := p.home(m.file)
	if one == nil {
		return
	}
	at := func(sc int32) need {
		n := need{of: c.pack}
		switch {
		case c.kind == aBuild:
			n.build = true
		case c.kind == aTest, c.kind == anExample, c.kind == aBench, underTest(m.in(sc)):
			n.test = true
		default:
			n.normal = true
		}
		return n
	}
	f := m.text
	for i := range f.uses {
		u := &f.uses[i]
		s := &f.stmts[u.stmt]
		o := own{path: fromCrate(u.path), scope: s.scope, global: s.global, use: true, glob: u.glob, doc: s.inDoc}
		n := at(s.scope)
		if s.inDoc {
			n = need{of: c.pack, test: true}
		}
		p.path(one, m, &o, n, u.own.Start)
	}
	for i := range f.paths {
		u := &f.paths[i]
		parts := fromCrate(splitPath(u.text))
		n := at(u.scope)
		switch u.where {
		case inDocLink:
			p.link(one, m, u, parts)
			continue
		case inDocCode:
			n = need{of: c.pack, test: true}
		case inRule:
			if parts[0] != "crate" {
				continue // it is needed where the macro is called
			}
		}
		o := own{path: parts, scope: u.scope, global: u.global, macro: u.macro, where: u.where, doc: u.where == inDocCode}
		p.path(one, m, &o, n, u.at.Start)
		if u.macro && u.where != inRule {
			p.rules(one, m, &o, n)
		}
	}
	for i := range f.singles {
		if s := &f.singles[i]; s.macro && s.where != inRule && s.where != inDocCode && !builtIn[s.name] {
			p.rules(one, m, &own{path: []string{s.name}, scope: s.scope, macro: true, at: s.at}, at(s.scope))
		}
	}
	for i := range f.items {
		if it := &f.items[i]; it.kind == isExternCrate {
			p.library(one, it.original, at(it.scope))
		}
	}
	for i := range f.attrs {
		a := &f.attrs[i]
		if first, _, more := strings.Cut(a.text, "::"); pathKeys[a.key] && isPath(a.text) {
			if more {
				p.path(one, m, &own{path: splitPath(a.text), scope: a.scope, where: inAttr}, at(a.scope), a.at.Start)
			} else if c.pack.knows(first) {
				p.library(one, first, at(a.scope))
			}
		}
	}
}

// link notes a link of documentation that leads to another package: it is no need of it.
func (p *parting) link(one *parcel, m *module, u *pathUse, parts []string) {
	w := p.ask(m, &own{path: parts, scope: u.scope, global: u.global, where: inDocLink})
	if t := leadsTo(&w); t.Kind == lang.ToFile {
		if other := p.home(t.File); other != nil && other != one {
			p.links = append(p.links, docLink{one, other, m.file, u.at.Start})
		}
	}
}

// docLink is a link of documentation to another package.
type docLink struct {
	one, other *parcel
	from       project.FileID
	at         int
}

// rules notes the libraries that the rules of a macro name where it is called.
func (p *parting) rules(one *parcel, m *module, call *own, n need) {
	w := p.ask(m, call)
	t := w.other()
	if t == nil || t.item == nil || t.item.kind != isMacro {
		return
	}
	text := t.owner.text
	for i := range text.paths {
		u := &text.paths[i]
		if u.where != inRule || u.at.Start < int(t.item.at) || u.at.End > int(t.item.end) {
			continue
		}
		if first, _, _ := strings.Cut(u.text, "::"); t.owner.crate.pack.knows(first) {
			p.library(one, first, need{of: t.owner.crate.pack, normal: n.normal, test: n.test, build: n.build})
		}
	}
}

// underTest says whether a module is there for tests alone.
func underTest(m *module) bool {
	for ; m != nil; m = m.parent {
		if slices.Contains(conds(m), "cfg(test)") {
			return true
		}
	}
	return false
}

// knows says whether a package asks for a library of a name.
func (k *pack) knows(name string) bool {
	_, is := k.deps[name]
	return is
}

// path notes the package that a path names. Where a use brings what it begins with, and it leads no further than into the
// package of that, the use does.
func (p *parting) path(one *parcel, m *module, o *own, n need, pos int) {
	w := p.ask(m, o)
	if len(w.hops) == 0 {
		if w.hidden == nil && m.crate.pack.knows(o.path[0]) {
			p.library(one, o.path[0], n)
		}
		return
	}
	first := &w.hops[0]
	switch {
	case first.library && first.how == byCrate:
		p.library(one, o.path[0], n)
		return
	case first.mod == nil:
		return
	}
	in := first.mod
	pack := func(m *module) string {
		if one := p.home(m.file); one != nil {
			return one.dir
		}
		return ""
	}
	if at, parted := p.direct(&w, o.path, m, pack); parted > 0 {
		if other := p.home(at.mod.file); other != nil && other != one {
			p.inside(one, other, n, m.file, pos, strings.Join(o.path, "::"))
		}
		return
	}
	for i := 1; i < len(w.hops); i++ {
		h := &w.hops[i]
		if h.item != nil && h.item.exported && in.parent == nil {
			in = h.owner
		}
		if h.mod == nil || h.how == byUse || h.how == byGlob {
			break
		}
		in = h.mod
	}
	if first.how == byUse && pack(in) == pack(first.mod) {
		return // the use names the package
	}
	if other := p.home(in.file); other != nil && other != one {
		p.inside(one, other, n, m.file, pos, strings.Join(o.path, "::"))
	}
	if in.crate.pack != m.crate.pack {
		if home := p.of[m.crate.pack]; home != nil {
			home.hadInside[in.crate.pack] = true
		}
	}
}

// inside notes that a package needs another of the tree.
func (p *parting) inside(one, other *parcel, n need, by project.FileID, at int, what string) {
	known := one.inside[other]
	if known == nil {
		known = &need{of: n.of}
		one.inside[other] = known
	}
	if n.normal && !known.normal || n.build && !known.build || n.test && *known == (need{of: n.of}) {
		p.out.Needs = append(p.out.Needs, lang.PackageNeed{From: one.dir, To: other.dir, Test: n.test, By: by, At: at, What: what})
	}
	known.normal, known.test, known.build = known.normal || n.normal, known.test || n.test, known.build || n.build
}

// library notes that a package needs one that lies elsewhere, or another of the tree by its name.
func (p *parting) library(one *parcel, name string, n need) {
	if !n.of.knows(name) || n.of.deps[name] != "" && p.modules().libs[n.of.deps[name]] != nil {
		return
	}
	known := one.needs[name]
	if known == nil {
		known = &need{of: n.of}
		one.needs[name] = known
	}
	known.normal, known.test, known.build = known.normal || n.normal, known.test || n.test, known.build || n.build
	if home := p.of[n.of]; home != nil {
		home.had[name] = true
	}
}

// features works out which features of the old manifest a package has: those that its texts ask for, or that speak of what
// it needs; those that lead to these; and those of the packages that it needs, which it hands down.
func (p *parting) features() {
	for _, one := range p.all {
		one.features = map[string]bool{}
		if one.was != nil {
			for name := range one.was.features {
				one.features[name] = true
			}
		}
		if one.asked == nil || one.from == nil || one.was != nil {
			continue
		}
		for name, list := range one.from.features {
			if one.tested[name] || slices.ContainsFunc(list, func(item string) bool { return one.needs[under(one.from.dependencyOf(item))] != nil }) {
				one.features[name] = true
			}
		}
	}
	for again := true; again; {
		again = false
		add := func(one *parcel, name string) {
			if !one.features[name] {
				one.features[name], again = true, true
			}
		}
		for _, one := range p.all {
			if one.from == nil || one.asked == nil || one.was != nil {
				continue
			}
			for name, list := range one.from.features {
				if slices.ContainsFunc(list, func(item string) bool { return one.features[item] }) {
					add(one, name)
				}
			}
			for other := range one.inside {
				for name := range other.features {
					if _, has := one.from.features[name]; has {
						add(one, name)
					}
				}
			}
		}
	}
}

// dependencyOf is the dependency that an item of a feature speaks of; empty for none. One that may be left out is a feature
// by its own name.
func (k *pack) dependencyOf(item string) string {
	if name, is := strings.CutPrefix(item, "dep:"); is {
		return name
	}
	name, _, more := strings.Cut(item, "/")
	if _, is := k.features[item]; !more && (is || !k.knows(under(item))) {
		return ""
	}
	return strings.TrimSuffix(name, "?")
}

// featuresOf reads the features of a manifest.
func featuresOf(v *manifest.Value) map[string][]string {
	out := map[string][]string{}
	for _, m := range v.Get("features").Fields() {
		list := []string{}
		for _, item := range m.Value.Items {
			list = append(list, item.Text)
		}
		out[m.Key] = list
	}
	return out
}
