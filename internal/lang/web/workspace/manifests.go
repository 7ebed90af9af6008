package workspace

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// manager is a manager of packages, as the files at the root show it.
type manager struct {
	name   string
	lock   string // its lock file
	member string // the version by which one member asks for another; empty for any
	ours   bool   // members are listed in pnpm-workspace.yaml
}

var npm = manager{"npm", "package-lock.json", "", false}

const membersFile = "pnpm-workspace.yaml"

// managerOf finds the manager of a folder.
func (p *parting) managerOf(dir string) *manager {
	asked := p.top.Root.Get("packageManager").String()
	has := func(name string) bool { return p.lookup(dir, name) }
	switch {
	case strings.HasPrefix(asked, "pnpm@") || has(membersFile) || has("pnpm-lock.yaml"):
		return &manager{"pnpm", "pnpm-lock.yaml", "workspace:*", true}
	case strings.HasPrefix(asked, "yarn@") && !strings.HasPrefix(asked, "yarn@1.") || has(".yarnrc.yml"):
		return &manager{"yarn", "yarn.lock", "workspace:*", false}
	case strings.HasPrefix(asked, "bun@") || has("bun.lock") || has("bun.lockb"):
		return &manager{"bun", "bun.lock", "workspace:*", false}
	case has("yarn.lock"):
		return &manager{"yarn", "yarn.lock", "", false}
	}
	return &npm
}

// write makes the manifests.
func (p *parting) write() {
	if p.top != nil {
		p.members()
	}
	given := map[string][]string{} // packages that are given out, by the manifests that say so
	for _, one := range p.All {
		switch {
		case one.Written():
			if one.Asked.Template == nil && p.original(one.From.Dir).Value.Get("private") == nil {
				from := path.Join(one.From.Dir, manifestName)
				given[from] = append(given[from], one.Name)
			}
			p.Out.Writes[path.Join(one.Dir, manifestName)] = p.manifest(one)
		case one.Was != nil:
			p.extend(one)
		}
	}
	for _, from := range slices.Sorted(maps.Keys(given)) {
		p.Remark(from, 0, "it does not say that it is private, and so neither do %s: they could be published",
			strings.Join(given[from], ", "))
	}
	p.writeCompilers()
	if p.top != nil {
		if p.manager.name == "yarn" && p.manager.member == "" && p.top.Root.Get("private") == nil {
			p.top.Set("true", "private") // it takes no other for a workspace
		}
		p.lock()
	}
	if len(p.Out.Writes) > 0 {
		p.images()
	}
	p.sheets.Put(p.Out, func(file string, err error) { p.Refuse("", "%s can't be written anew: %s", file, err) })
}

// lock says that the lock file is out of date, if what packages ask for changes.
func (p *parting) lock() {
	if dir := project.Dir(p.top.File); (len(p.Out.Writes) > 0 || p.sheets.Changed()) && p.lookup(dir, p.manager.lock) {
		p.Remark(path.Join(dir, p.manager.lock), 0, "it is out of date then: %s install writes it anew", p.manager.name)
	}
}

// membersSheet is the list of members, where it is a file of its own.
func (p *parting) membersSheet() *lang.Sheet {
	if file := path.Join(project.Dir(p.tree.Path(p.top.ID)), membersFile); p.lookup(project.Dir(file), membersFile) {
		if s := p.sheets.Of(file, yamlStyle); s != nil {
			return s
		}
		p.Refuse("", "%s can't be read", file)
	}
	return p.sheets.New(path.Join(project.Dir(p.top.File), membersFile), yamlStyle)
}

// members enters the packages in the list of the workspace.
func (p *parting) members() {
	dir := project.Dir(p.top.File)
	s, key := p.top, []string{"workspaces"}
	if s.Root.At("workspaces", "packages") != nil {
		key = append(key, "packages")
	}
	if p.manager.ours {
		s, key = p.membersSheet(), []string{"packages"}
	}
	takes := config.PackageFile{Dir: dir}
	s.Root.At(key...).Strings(func(v *manifest.Value) { takes.Members = append(takes.Members, v.Text) })
	listed := len(takes.Members) > 0
	var added []string
	for _, one := range p.All {
		if !one.Written() || one.Dir == dir || takes.Takes()(one.Dir) {
			continue
		}
		entry := strings.TrimPrefix(lang.Relative(dir, one.Dir), "./")
		for _, pattern := range p.Q.Members {
			if fits := (&config.PackageFile{Dir: dir, Members: []string{pattern}}).Takes(); fits(one.Dir) {
				entry = pattern
				break
			}
		}
		added, takes.Members = append(added, entry), append(takes.Members, entry)
	}
	if len(added) == 0 {
		return
	}
	slices.Sort(added)
	switch {
	case listed:
		for _, entry := range added {
			s.AddItem(entry, key...)
		}
	case p.manager.ours && s.ID == project.None:
		text := "packages:\n"
		for _, entry := range added {
			text += fmt.Sprintf("  - %q\n", entry)
		}
		s.Text = []byte(text)
		s.Root, s.Err = manifest.ParseYAML(s.Text)
	default:
		for i, entry := range added {
			added[i] = fmt.Sprintf("%q", entry)
		}
		s.Set("["+strings.Join(added, ", ")+"]", key...)
	}
}

// copied are the keys of a manifest that hold for what becomes of its package too (docs.npmjs.com, package.json).
var copied = []string{"version", "private", "license", "author", "type", "engines", "os", "cpu", "browserslist", "sideEffects"}

// manifest writes the manifest of a package that has none.
func (p *parting) manifest(one *lang.Parcel) []byte {
	old := p.original(one.From.Dir)
	text := nothing
	if one.Asked.Template != nil {
		text = one.Asked.Template
	}
	s := begin(text)
	if s.Err != nil || s.Root.Kind != manifest.Object {
		p.Refuse(one.Dir, "the text that its %s begins with is not valid JSON: %v", manifestName, s.Err)
		return nil
	}
	set := func(raw string, key ...string) {
		if s.Root.At(key...) == nil {
			s.Set(raw, key...)
		}
	}
	set(fmt.Sprintf("%q", one.Name), "name")
	for _, key := range slices.Concat(copied, p.Q.Inherit) {
		v := old.Value.Get(key)
		if v == nil || one.Asked.Template != nil && !slices.Contains(p.Q.Inherit, key) || key == "sideEffects" &&
			v.Kind == manifest.List {
			continue
		}
		set(old.Plain(v), key)
	}
	p.programs(one, old, s)
	for _, e := range p.entries(one) {
		set(e.raw, e.key...)
	}
	for _, w := range p.wants(one) {
		set(w.raw, w.table, w.name)
	}
	if s.Err != nil {
		p.Refuse(one.Dir, "%s can't be written: %s", path.Join(one.Dir, manifestName), s.Err)
	}
	if one.Asked.Template != nil {
		return s.Text
	}
	return old.Like(s.Text)
}

// nothing is what a new file begins with.
var nothing = []byte("{}\n")

// programs gives a package those of the old one whose files come to it.
func (p *parting) programs(one *lang.Parcel, old *lang.OldFile, s *manifest.Sheet) {
	from := p.sheetOf(one.From.Dir)
	goes := func(text string) (string, bool) {
		id, there := p.tree.Lookup(path.Join(one.From.Dir, text))
		if !there || p.Home(id) != one {
			return "", false
		}
		return "./" + strings.TrimPrefix(p.Q.Then(id), one.Dir+"/"), true
	}
	bin := old.Value.Get("bin")
	if place, is := goes(bin.String()); is && bin.String() != "" {
		s.Set(fmt.Sprintf("%q", place), "bin", path.Base(one.From.Name))
		from.Drop("bin")
	}
	for _, m := range bin.Fields() {
		if place, is := goes(m.Value.String()); is && m.Value.String() != "" {
			s.Set(fmt.Sprintf("%q", place), "bin", m.Key)
			if from.Drop("bin", m.Key); len(from.Root.Get("bin").Fields()) == 0 {
				from.Drop("bin")
			}
		}
	}
}

// wanted is what a package asks for.
type wanted struct{ table, name, raw string }

// wants is what a package asks for: what its files use, as the old manifest asked for it.
func (p *parting) wants(one *lang.Parcel) (out []wanted) {
	put := func(table, name, raw string) {
		if !slices.ContainsFunc(out, func(w wanted) bool { return w.table == table && w.name == name }) {
			out = append(out, wanted{table, name, raw})
		}
	}
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.Of == nil || !n.New || p.settings.Platform(name) {
			continue
		}
		for _, name := range p.behind(n, name, put) {
			if !p.library(one, name, n, put) && one.Written() {
				p.Remark(p.tree.Path(n.By), n.At, "it uses %s, which no %s asks for", name, manifestName)
			}
		}
	}
	for _, other := range p.All {
		if n := one.Inside[other]; n != nil && n.New && other.Name != "" {
			table := "dependencies"
			if !n.Normal {
				table = "devDependencies"
			}
			put(table, other.Name, fmt.Sprintf("%q", p.versionOf(other)))
		}
	}
	slices.SortStableFunc(out, func(a, b wanted) int {
		if a.table != b.table {
			return slices.Index(config.Tables, a.table) - slices.Index(config.Tables, b.table)
		}
		return strings.Compare(a.name, b.name)
	})
	return out
}

// asks finds what a manifest asks for under a name, and under that of its types. It reports whether it does. Where its
// package lies around the new one still, nothing need be written.
func (p *parting) asks(one *lang.Parcel, k *lang.Package, name string, n *lang.Need, write bool, put func(table, name, raw string)) (found bool) {
	old := p.original(k.Dir)
	for _, table := range config.Tables {
		for _, asked := range []string{name, config.TypesOf(name)} {
			v := old.Value.At(table, asked)
			if v == nil {
				continue
			}
			if found = true; !write {
				continue
			}
			raw := p.version(one, k, asked, v)
			switch {
			case table == "peerDependenciesMeta" && n.Normal, table == "devDependencies", n.Normal:
				put(table, asked, raw)
			case table != "peerDependenciesMeta":
				put("devDependencies", asked, raw)
			}
		}
	}
	return found
}

// version is the version in which another package asks for the same: paths are seen from its folder.
func (p *parting) version(one *lang.Parcel, k *lang.Package, name string, v *manifest.Value) string {
	for _, scheme := range []string{"file:", "link:", "portal:"} {
		if rest, is := strings.CutPrefix(v.String(), scheme); is && !strings.HasPrefix(rest, "/") {
			return fmt.Sprintf("%q", scheme+lang.Relative(one.Dir, path.Join(k.Dir, rest)))
		}
	}
	if p.Q.Shared && p.manager.ours && v.Kind == manifest.String && !strings.Contains(v.Text, ":") {
		s := p.membersSheet()
		if there := s.Root.At("catalog", name); there == nil || there.String() == v.Text {
			if there == nil {
				s.Set(fmt.Sprintf("%q", v.Text), "catalog", name)
			}
			return `"catalog:"`
		}
	}
	return p.original(k.Dir).Raw(v)
}

// behind gives the libraries that a name stands for: one with a # is defined in the old manifest, and that is copied.
func (p *parting) behind(n *lang.Need, name string, put func(table, name, raw string)) (out []string) {
	if !strings.HasPrefix(name, "#") {
		return []string{name}
	}
	old := p.original(n.Of.Dir)
	v := old.Value.At("imports", n.What)
	if v == nil {
		return nil
	}
	put("imports", n.What, old.Raw(v))
	v.Walk(func(_ []string, v *manifest.Value) {
		if text := v.String(); text != "" && !strings.HasPrefix(text, ".") && !p.settings.Platform(text) {
			out = append(out, paths.Library(text))
		}
	})
	return out
}

// library puts what a package asks for under a name. It reports whether the old manifest, or one above, asks for that.
func (p *parting) library(one *lang.Parcel, name string, n *lang.Need, put func(table, name, raw string)) bool {
	for i, k := range p.Above(n.Of.Dir) {
		if p.asks(one, k, name, n, i == 0 || !inside(one.Dir, k.Dir), put) {
			return true // those above are not asked
		}
	}
	return false
}

// versionOf is the version in which members ask for a package of the tree.
func (p *parting) versionOf(other *lang.Parcel) string {
	if p.manager.member != "" {
		return p.manager.member
	}
	if other.From != nil {
		if version := p.original(other.From.Dir).Value.Get("version").String(); strings.Contains(version, "-") {
			return version // * means none that is still to be finished
		}
	}
	return "*"
}

// extend writes into a manifest that is there what its package needs besides, and takes out what only files have used that
// are of other packages now.
func (p *parting) extend(one *lang.Parcel) {
	s := p.sheetOf(one.Was.Dir)
	if s == nil {
		return
	}
	for _, w := range p.wants(one) {
		if slices.ContainsFunc(config.Tables, func(table string) bool { return s.Root.At(table, w.name) != nil }) || w.table == "imports" {
			continue
		}
		s.Set(w.raw, w.table, w.name)
	}
	for _, e := range p.entries(one) {
		if s.Root.At(e.key...) == nil {
			s.Set(e.raw, e.key...)
		}
	}
	for _, name := range p.Gone(one, slices.Sorted(maps.Keys(one.Had))) {
		if name == platformTypes && !p.compiled() {
			continue
		}
		for _, table := range config.Tables {
			for _, asked := range []string{name, config.TypesOf(name)} {
				if s.Root.At(table, asked) != nil {
					s.Drop(table, asked)
				}
			}
			if left := s.Root.Get(table); left != nil && len(left.Fields()) == 0 {
				s.Drop(table)
			}
		}
	}
	if len(one.Files) == 0 && slices.ContainsFunc(p.All, func(other *lang.Parcel) bool { return other.Written() && other.From == one.Was }) {
		p.unused(one, s)
	}
}

// unused says which libraries of a manifest no package names any more, where it has parts in others.
func (p *parting) unused(one *lang.Parcel, s *lang.Sheet) {
	var names []string
	for _, m := range s.Root.Get("dependencies").Fields() {
		used := slices.ContainsFunc(p.All, func(other *lang.Parcel) bool {
			return other.Libraries[m.Key] != nil || other.Name == m.Key || slices.ContainsFunc(other.Sorted(), func(name string) bool { return config.TypesOf(name) == m.Key })
		})
		if !used {
			names = append(names, m.Key)
		}
	}
	for i, named := range p.Q.Named(one.Was.Manifest, names, func(project.FileID) bool { return true }) {
		if !named {
			at := 0
			for _, m := range p.original(one.Was.Dir).Value.Get("dependencies").Fields() {
				if m.Key == names[i] {
					at = m.Start
				}
			}
			p.Remark(path.Join(one.Was.Dir, manifestName), at, "no code names %s, so no package asks for it", names[i])
		}
	}
}
