package rust

import (
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

var tomlStyle = manifest.Style{Format: "TOML", Quote: '"'}

// sheetOf gives the manifest in a folder of the old tree; nil for none that can be read.
func (p *parting) sheetOf(dir string) *sheet {
	return p.sheets.Of(path.Join(dir, manifestName), tomlStyle)
}

// sheet is a manifest that is written anew in parts.
type sheet = lang.Sheet

// write makes the manifests.
func (p *parting) write() {
	top := p.top()
	if top == nil {
		return
	}
	p.members(top)
	for _, one := range p.all {
		switch {
		case one.empties() && len(one.had)+len(one.hadInside) > 0:
			p.hollow(one, top)
		case one.was != nil:
			p.extend(one, top)
		case one.asked != nil && len(one.files) > 0 && one.from != nil:
			p.out.Writes[path.Join(one.dir, manifestName)] = []byte(p.manifest(one, top))
		}
	}
	p.lock(top)
	p.sheets.Put(p.out, func(file string, err error) {
		p.out.Refused = append(p.out.Refused, lang.Unparted{Why: fmt.Sprintf("%s can't be written anew: %s", file, err)})
	})
}

// top is the manifest of the workspace: the one that is there, or the one of the package from which others are made.
func (p *parting) top() *sheet {
	var from *pack
	for _, one := range p.all {
		if one.asked != nil && one.from != nil && (from == nil || len(one.from.dir) < len(from.dir)) {
			from = one.from
		}
	}
	if from == nil {
		return nil
	}
	dir := from.dir
	if from.ws.v != nil {
		dir = from.ws.dir
	}
	s := p.sheetOf(dir)
	for _, one := range p.all {
		if one.asked != nil && len(one.files) > 0 && (s == nil || !below(one.dir, project.Dir(s.File))) {
			p.out.Refused = append(p.out.Refused, lang.Unparted{Dir: one.dir, Why: fmt.Sprintf(
				"%s is the manifest of all packages, and this folder does not lie below it", path.Join(dir, manifestName))})
			return nil
		}
	}
	return s
}

// resolver is the version of the rules by which features of a package are resolved, where nothing says it (the Cargo book,
// "Feature resolver version").
func (k *pack) resolver() string {
	switch {
	case k.edition >= "2024":
		return "3"
	case k.edition >= "2021":
		return "2"
	}
	return "1"
}

// members enters the packages in the list of the workspace.
func (p *parting) members(top *sheet) {
	dir := project.Dir(top.File)
	var list []string
	for _, item := range top.Root.At("workspace", "members").Elements() {
		list = append(list, item.Text)
	}
	var added []string
	for _, one := range p.all {
		if one.asked == nil || len(one.files) == 0 || one.dir == dir {
			continue
		}
		rel := lang.Relative(dir, one.dir)
		rel = strings.TrimPrefix(rel, "./")
		fits := func(pattern string) bool {
			is, err := path.Match(pattern, rel)
			return err == nil && is
		}
		if slices.ContainsFunc(list, fits) || slices.ContainsFunc(added, fits) {
			continue
		}
		entry := rel
		if at := slices.IndexFunc(p.q.Members, fits); at >= 0 {
			entry = p.q.Members[at]
			p.pattern(dir, entry)
		}
		added = append(added, entry)
	}
	if len(added) == 0 {
		return
	}
	slices.Sort(added)
	if top.Root.Get("workspace") == nil || top.Root.At("workspace", "members") == nil {
		quoted := make([]string, len(added))
		for i, one := range added {
			quoted[i] = fmt.Sprintf("%q", one)
		}
		text := "[" + strings.Join(quoted, ", ") + "]"
		if len(added) > 2 {
			text = "[\n    " + strings.Join(quoted, ",\n    ") + ",\n]"
		}
		fresh := top.Root.Get("workspace") == nil
		top.Set(text, "workspace", "members")
		if said := top.Root.At("package", "resolver"); said != nil { // it may stand in one of both
			top.Set(fmt.Sprintf("%q", cmp.Or(p.q.Resolver, said.Text)), "workspace", "resolver")
			top.Drop("package", "resolver")
		} else if fresh || p.q.Resolver != "" {
			version := p.q.Resolver
			for _, one := range p.all {
				if version == "" && one.asked != nil && one.from != nil {
					version = one.from.resolver()
				}
			}
			top.Set(fmt.Sprintf("%q", version), "workspace", "resolver")
		}
		return
	}
	for _, one := range added {
		top.AddItem(one, "workspace", "members")
	}
}

// pattern says if a pattern of members takes a folder that has no manifest: that is an error of the builder.
func (p *parting) pattern(dir, pattern string) {
	seen := map[string]bool{}
	for id := range p.tree.Files {
		for at := project.Dir(p.q.Then(project.FileID(id))); below(at, dir) && at != dir && !seen[at]; at = path.Dir(at) {
			seen[at] = true
			if is, _ := path.Match(pattern, strings.TrimPrefix(strings.TrimPrefix(at, dir), "/")); is && p.byDir[at] == nil {
				p.out.Refused = append(p.out.Refused, lang.Unparted{Why: fmt.Sprintf(
					"members: %s takes %s too, which would have no %s", pattern, at, manifestName)})
			}
		}
	}
}

// hollow takes out of a manifest what speaks of its package: all of it has gone into others.
func (p *parting) hollow(one *parcel, top *sheet) {
	s := p.sheetOf(one.was.dir)
	if s == nil {
		return
	}
	if s != top {
		p.out.Remarks = append(p.out.Remarks, lang.Duty{Path: path.Join(one.was.dir, manifestName),
			Why: "nothing is left of its package; take it out of the workspace if nobody needs it"})
		return
	}
	p.unused(one, s)
	p.unnamed(one, s)
	kept := map[string]bool{"workspace": true, "profile": true, "patch": true, "replace": true}
	var gone []string
	for _, m := range s.Root.Members {
		if !kept[m.Key] {
			gone = append(gone, m.Key)
		}
	}
	p.inherited(s)
	for _, key := range gone {
		s.Drop(key)
	}
	var above []source.Edit
	behind := ""
	for _, t := range manifest.Tables(s.Text) { // the workspace comes first
		if t.Key[0] == "workspace" {
			break
		}
		behind += "\n" + strings.TrimRight(string(s.Text[t.Span.Start:t.Span.End]), "\r\n") + "\n"
		above = append(above, source.Edit{Span: t.Span})
	}
	s.Change(append(above, source.Edit{Span: source.Span{Start: len(s.Text), End: len(s.Text)}, New: behind})...)
	if text := bytes.TrimLeft(s.Text, "\r\n"); len(text) < len(s.Text) {
		s.Change(source.Edit{Span: source.Span{End: len(s.Text) - len(text)}})
	}
}

// unnamed says where commands name a package that is no more, and what else goes with it.
func (p *parting) unnamed(one *parcel, s *sheet) {
	remark := func(file string, at int, format string, args ...any) {
		p.out.Remarks = append(p.out.Remarks, lang.Duty{Path: file, At: at, Why: fmt.Sprintf(format, args...)})
	}
	file := path.Join(one.was.dir, manifestName)
	programs := 0
	for _, other := range p.all {
		for _, t := range other.targets {
			if t.kind == aProgram {
				programs++
			}
		}
	}
	if run := s.Root.At("package", "default-run"); run != nil && programs > 1 {
		remark(file, run.Span.Start, "cargo run in this folder must say which program then: --bin %s", run.Text)
	}
	if slices.ContainsFunc(p.all, func(other *parcel) bool { return other != one && other.name == one.was.name }) {
		return
	}
	named := regexp.MustCompile(`(?:^|\s)(?:-p|--package|--exclude)[ =]["']?` + regexp.QuoteMeta(one.was.name) + `\b`)
	for id := range p.tree.Files {
		f := &p.tree.Files[id]
		if isRust(f.Path) || f.Link || path.Base(f.Path) == lockName {
			continue
		}
		p.tree.Peek(project.FileID(id), func(content []byte, err error) {
			for _, found := range named.FindAllIndex(content, -1) {
				remark(f.Path, found[1]-1, "it names the package %s, which is no more: say which of its parts", one.was.name)
			}
		})
	}
}

// unused says which libraries of a manifest no package needs.
func (p *parting) unused(one *parcel, s *sheet) {
	for _, table := range dependencyTables(s.Root) {
		for _, m := range table.v.Fields() {
			name := under(m.Key)
			if one.was.deps[name] != "" {
				continue
			}
			if !slices.ContainsFunc(p.all, func(other *parcel) bool { return other.needs[name] != nil }) {
				p.out.Remarks = append(p.out.Remarks, lang.Duty{Path: path.Join(one.was.dir, manifestName), At: startOf(m),
					Why: "no code names " + m.Key + ", so no package asks for it"})
			}
		}
	}
}

// inherited writes into the workspace what the packages have from it.
func (p *parting) inherited(s *sheet) {
	for _, key := range p.q.Inherit {
		if v := s.Root.At("package", key); v != nil && s.Root.At("workspace", "package", key) == nil && v.Kind != manifest.Object {
			raw := string(s.Text[manifest.Whole(v).Start:manifest.Whole(v).End])
			s.Set(raw, "workspace", "package", key)
		}
	}
}

// dependencyTable is a table of dependencies, by its keys.
type dependencyTable struct {
	key  []string
	kind string // normal, dev, build
	v    *manifest.Value
}

// kindsOfTables are the tables of dependencies (the Cargo book, "Specifying Dependencies").
var kindsOfTables = []struct{ name, kind string }{{"dependencies", "normal"}, {"dev-dependencies", "dev"}, {"dev_dependencies", "dev"},
	{"build-dependencies", "build"}, {"build_dependencies", "build"}}

// dependencyTables are those of a manifest.
func dependencyTables(root *manifest.Value) (out []dependencyTable) {
	for _, t := range kindsOfTables {
		if v := root.Get(t.name); v != nil {
			out = append(out, dependencyTable{[]string{t.name}, t.kind, v})
		}
	}
	for _, m := range root.Get("target").Fields() {
		for _, t := range kindsOfTables {
			if v := m.Value.Get(t.name); v != nil {
				out = append(out, dependencyTable{[]string{"target", m.Key, t.name}, t.kind, v})
			}
		}
	}
	return out
}

// notCopied are the keys of a package that speak of it alone.
var notCopied = map[string]bool{"name": true, "default-run": true, "build": true, "links": true, "description": true, "documentation": true,
	"readme": true, "keywords": true, "categories": true, "include": true, "exclude": true, "metadata": true, "workspace": true,
	"autobins": true, "autotests": true, "autoexamples": true, "autobenches": true, "autolib": true, "resolver": true}

// manifest writes the manifest of a package that has none.
func (p *parting) manifest(one *parcel, top *sheet) string {
	root := p.original(one.from.dir)
	var b strings.Builder
	if one.asked.Template != nil {
		b.WriteString(strings.TrimRight(string(one.asked.Template), "\n") + "\n")
	} else {
		fmt.Fprintf(&b, "[package]\nname = %q\n", one.name)
		for _, m := range root.Value.Get("package").Fields() {
			switch {
			case notCopied[m.Key]:
			case slices.Contains(p.q.Inherit, m.Key):
				p.inherited(top)
				fmt.Fprintf(&b, "%s.workspace = true\n", m.Key)
			case m.Key == "license-file":
				fmt.Fprintf(&b, "%s = %q\n", m.Key, lang.Relative(one.dir, path.Join(one.from.dir, m.Value.Text)))
			default:
				fmt.Fprintf(&b, "%s = %s\n", m.Key, root.inline(m.Value, nil))
			}
		}
	}
	p.targetTables(&b, one, root)
	for _, t := range p.wants(one, top) {
		fmt.Fprintf(&b, "\n[%s]\n", tableKey(t.key))
		for _, name := range slices.Sorted(maps.Keys(t.lines)) {
			fmt.Fprintf(&b, "%s = %s\n", name, t.lines[name])
		}
	}
	p.featureTable(&b, one)
	p.lints(&b, one, root, top)
	return b.String()
}

// byTable puts tables of dependencies in their usual order.
func byTable(a, b string) int {
	place := func(key string) int {
		return slices.Index([]string{"dependencies", "dev-dependencies", "build-dependencies"}, key)
	}
	if p, q := place(a), place(b); p != q {
		return cmp.Compare(uint(p), uint(q)) // those of targets come last
	}
	return strings.Compare(a, b)
}

// original is a manifest as it stands in the old tree.
type original struct{ *lang.OldFile }

func (p *parting) original(dir string) original {
	return original{p.sheets.Old(path.Join(dir, manifestName), tomlStyle)}
}

// inline writes a value on one line, with some of its members written otherwise; those that are empty are left out.
func (o original) inline(v *manifest.Value, otherwise map[string]string) string {
	if v.Kind != manifest.Object {
		if v.Kind == manifest.Block {
			return string(o.Src[v.Span.Start-3 : v.Span.End+3])
		}
		return o.Raw(v)
	}
	var parts []string
	for _, m := range v.Members {
		text, given := otherwise[m.Key]
		if !given {
			text = o.inline(m.Value, nil)
		}
		if text != "" {
			parts = append(parts, m.Key+" = "+text)
		}
	}
	return "{ " + strings.Join(parts, ", ") + " }"
}

// wanted is a table of dependencies that a package wants: its lines, by the names of the dependencies.
type wanted struct {
	key   []string
	lines map[string]string
}

// wants are the tables of dependencies of a package, in their order.
func (p *parting) wants(one *parcel, top *sheet) []wanted {
	tables := map[string]wanted{}
	put := func(key []string, name, text string) {
		table := tableKey(key)
		if tables[table].lines == nil {
			tables[table] = wanted{key, map[string]string{}}
		}
		if _, there := tables[table].lines[name]; !there {
			tables[table].lines[name] = text
		}
	}
	for _, name := range slices.Sorted(maps.Keys(one.needs)) {
		n := one.needs[name]
		root := p.original(n.of.dir)
		any := false
		for _, a := range root.asked(name) {
			if a.kind == "normal" && n.normal || a.kind == "dev" && n.test || a.kind == "build" && n.build {
				any = true
				put(a.key, a.Key, p.entry(one, root, a.Member, top, a.kind))
			}
		}
		for _, a := range root.asked(name) { // tests may use what the package has; then nothing but tests does
			if n.test && !any && a.kind == "normal" {
				key := slices.Clone(a.key)
				key[len(key)-1] = "dev-dependencies"
				put(key, a.Key, p.entry(one, root, a.Member, top, "dev"))
			}
		}
	}
	for _, other := range p.all {
		n := one.inside[other]
		if n == nil {
			continue
		}
		for _, t := range []struct {
			is    bool
			table string
		}{{n.normal, "dependencies"}, {n.build, "build-dependencies"}, {n.test && !n.normal, "dev-dependencies"}} {
			if t.is {
				put([]string{t.table}, other.name, p.insideEntry(one, other, top))
			}
		}
	}
	var out []wanted
	for _, table := range slices.SortedFunc(maps.Keys(tables), byTable) {
		out = append(out, tables[table])
	}
	return out
}

// ask is what a manifest asks for, and in which table.
type ask struct {
	dependencyTable
	manifest.Member
}

// asked is what a manifest asks for under a name by which code knows it: in each table once.
func (o original) asked(name string) (out []ask) {
	for _, t := range dependencyTables(o.Value) {
		for _, m := range t.v.Fields() {
			if under(m.Key) == name {
				out = append(out, ask{t, m})
			}
		}
	}
	return out
}

// tableKey writes the keys of a table.
func tableKey(key []string) string {
	out := make([]string, len(key))
	for i, k := range key {
		if out[i] = k; strings.Trim(k, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_") != "" {
			out[i] = "'" + k + "'"
		}
	}
	return strings.Join(out, ".")
}

// entry writes what a manifest asks for in another one.
func (p *parting) entry(one *parcel, root original, m manifest.Member, top *sheet, kind string) string {
	otherwise := map[string]string{}
	v := m.Value
	if v.Kind != manifest.Object {
		if text := root.inline(v, nil); !p.q.Shared || !p.share(top, m.Key, text) {
			return text
		}
		return "{ workspace = true }"
	}
	if at := textOf(v, "path"); at != "" {
		otherwise["path"] = fmt.Sprintf("%q", lang.Relative(one.dir, path.Join(path.Dir(root.Path), at)))
	}
	if kind == "dev" {
		otherwise["optional"] = ""
	}
	if p.q.Shared && v.Get("workspace") == nil {
		atTop := maps.Clone(otherwise)
		atTop["optional"] = ""
		if at := textOf(v, "path"); at != "" {
			atTop["path"] = fmt.Sprintf("%q", lang.Relative(project.Dir(top.File), path.Join(path.Dir(root.Path), at)))
		}
		if p.share(top, m.Key, root.inline(v, atTop)) {
			if optional := v.Get("optional"); optional != nil && kind != "dev" {
				return "{ workspace = true, optional = " + optional.Text + " }"
			}
			return "{ workspace = true }"
		}
	}
	return root.inline(v, otherwise)
}

// share writes a dependency into the workspace. It reports whether it stands there as it is asked for.
func (p *parting) share(top *sheet, key, text string) bool {
	if known, is := p.shared[key]; is {
		return known == text
	}
	if v := top.Root.At("workspace", "dependencies", key); v != nil {
		p.shared[key] = original{&lang.OldFile{Src: top.Text}}.inline(v, nil)
		return p.shared[key] == text
	}
	p.shared[key] = text
	top.Set(text, "workspace", "dependencies", key)
	return true
}

// insideEntry asks for another package of the tree.
func (p *parting) insideEntry(one, other *parcel, top *sheet) string {
	defaults := p.featuresAsked(one, other)
	if p.q.Shared && p.share(top, other.name, fmt.Sprintf("{ path = %q%s }", strings.TrimPrefix(lang.Relative(project.Dir(top.File), other.dir), "./"), defaults)) {
		return "{ workspace = true }"
	}
	return fmt.Sprintf("{ path = %q%s }", strings.TrimPrefix(lang.Relative(one.dir, other.dir), "./"), defaults)
}

// featuresAsked are the features with which one package asks for another that was a part of an old one: what it hands down
// by features of its own, or what it asked of the old one.
func (p *parting) featuresAsked(one, other *parcel) (out string) {
	if one.was == nil || one.was == other.from {
		if one.features["default"] && other.features["default"] && other.was == nil {
			return ", default-features = false"
		}
		return ""
	}
	for _, t := range dependencyTables(p.original(one.was.dir).Value) {
		for _, m := range t.v.Fields() {
			if other.from == nil || one.was.deps[under(m.Key)] != other.from.dir || m.Value.Kind != manifest.Object {
				continue
			}
			if v := m.Value.Get("default-features"); v != nil && v.Text == "false" && other.features["default"] {
				out = ", default-features = false"
			}
			var list []string
			for _, f := range m.Value.Get("features").Elements() {
				if other.features[f.Text] {
					list = append(list, fmt.Sprintf("%q", f.Text))
				}
			}
			if len(list) > 0 {
				out += ", features = [" + strings.Join(list, ", ") + "]"
			}
		}
	}
	return out
}

// handDown writes into the features of a manifest those of packages that have become its own, and takes out what speaks of
// libraries that it has no more.
func (p *parting) handDown(one *parcel, s *sheet) {
	for _, name := range slices.Sorted(maps.Keys(one.was.features)) {
		var items []string
		changed := false
		for _, item := range one.was.features[name] {
			if dep := one.was.dependencyOf(item); dep != "" && one.was.knows(under(dep)) && !asksFor(s, dep) {
				changed = true
				continue
			}
			items = append(items, fmt.Sprintf("%q", item))
		}
		for _, other := range p.all {
			if one.inside[other] != nil && other.features[name] && other.from == one.was && other.was == nil {
				items, changed = append(items, fmt.Sprintf("%q", other.name+"/"+name)), true
			}
		}
		if changed {
			s.Set("["+strings.Join(items, ", ")+"]", "features", name)
		}
	}
}

// targetTables writes what the old manifest says of targets, and the names of programs that have others by their places.
func (p *parting) targetTables(b *strings.Builder, one *parcel, root original) {
	for _, t := range one.targets {
		rel := strings.TrimPrefix(t.file, one.dir+"/")
		if t.kind == aLibrary {
			var lines []string
			for _, m := range root.Value.Get("lib").Fields() {
				if m.Key != "name" && m.Key != "path" {
					lines = append(lines, m.Key+" = "+root.inline(m.Value, nil))
				}
			}
			if rel != "src/lib.rs" {
				lines = append(lines, fmt.Sprintf("path = %q", rel))
			}
			if len(lines) > 0 {
				fmt.Fprintf(b, "\n[lib]\n%s\n", strings.Join(lines, "\n"))
			}
			continue
		}
		for _, f := range folderOf {
			if f.kind != t.kind {
				continue
			}
			name := strings.TrimSuffix(path.Base(rel), ".rs")
			byPlace := strings.TrimPrefix(rel, f.folder+"/") == path.Base(rel)
			switch {
			case t.kind == aProgram && rel == "src/main.rs":
				name, byPlace = one.name, true
			case name == "main":
				name = path.Base(path.Dir(rel))
				byPlace = path.Dir(path.Dir(rel)) == f.folder
			}
			lines := []string{fmt.Sprintf("name = %q", t.name), fmt.Sprintf("path = %q", rel)}
			said := t.name != name || !byPlace
			for _, v := range root.Value.Get(f.table).Elements() {
				if textOf(v, "name") != t.name {
					continue
				}
				for _, m := range v.Members {
					if m.Key != "name" && m.Key != "path" {
						lines, said = append(lines, m.Key+" = "+root.inline(m.Value, nil)), true
					}
				}
			}
			if said {
				fmt.Fprintf(b, "\n[[%s]]\n%s\n", f.table, strings.Join(lines, "\n"))
			}
		}
	}
}

// featureTable writes the features of a package: what of the old ones speaks of what it has, and those of others that it
// hands down.
func (p *parting) featureTable(b *strings.Builder, one *parcel) {
	if len(one.features) == 0 {
		return
	}
	b.WriteString("\n[features]\n")
	for _, name := range slices.Sorted(maps.Keys(one.features)) {
		items := []string{}
		for _, item := range one.from.features[name] {
			if dep := one.from.dependencyOf(item); dep != "" && one.needs[under(dep)] != nil || dep == "" && one.features[item] {
				items = append(items, fmt.Sprintf("%q", item))
			}
		}
		for _, other := range p.all {
			if one.inside[other] != nil && other.features[name] {
				items = append(items, fmt.Sprintf("%q", other.name+"/"+name))
			}
		}
		fmt.Fprintf(b, "%s = [%s]\n", name, strings.Join(items, ", "))
	}
}

// lints copies the tables of lints, or has them from the workspace.
func (p *parting) lints(b *strings.Builder, one *parcel, root original, top *sheet) {
	v := root.Value.Get("lints")
	if v == nil {
		return
	}
	if v.Get("workspace") != nil || slices.Contains(p.q.Inherit, "lints") {
		b.WriteString("\n[lints]\nworkspace = true\n")
		if v.Get("workspace") == nil && top.Root.At("workspace", "lints") == nil {
			for _, tool := range v.Members {
				for _, m := range tool.Value.Members {
					top.Set(root.inline(m.Value, nil), "workspace", "lints", tool.Key, m.Key)
				}
			}
		}
		return
	}
	for _, tool := range v.Members {
		fmt.Fprintf(b, "\n[lints.%s]\n", tool.Key)
		for _, m := range tool.Value.Members {
			if !undocumented.MatchString(m.Key) {
				fmt.Fprintf(b, "%s = %s\n", m.Key, root.inline(m.Value, nil))
			}
		}
	}
}

// extend writes into a manifest that is there what its package needs besides, and takes out what it needs no more.
func (p *parting) extend(one *parcel, top *sheet) {
	s := p.sheetOf(one.was.dir)
	if s == nil {
		return
	}
	for _, t := range p.wants(one, top) {
		for _, name := range slices.Sorted(maps.Keys(t.lines)) {
			if !asksFor(s, name) {
				s.Set(t.lines[name], append(slices.Clone(t.key), name)...)
			}
		}
	}
	for _, t := range dependencyTables(s.Root) {
		for _, m := range t.v.Fields() {
			name := under(m.Key)
			gone := one.had[name] && one.needs[name] == nil
			if dir := one.was.deps[name]; dir != "" {
				for k := range one.hadInside {
					if k.dir == dir {
						other := p.of[k]
						gone = other == nil || one.inside[other] == nil
					}
				}
			}
			if gone {
				s.Drop(append(slices.Clone(t.key), m.Key)...)
			}
		}
		if left := s.Root.At(t.key...); len(t.v.Fields()) > 0 && len(left.Fields()) == 0 {
			s.Drop(t.key...)
		}
	}
	p.handDown(one, s)
	p.left(one, s)
}

// left takes out of a manifest what speaks of targets that have gone to other packages.
func (p *parting) left(one *parcel, s *sheet) {
	gone := map[target]bool{}
	for _, t := range one.was.targets {
		if id, there := p.tree.Lookup(t.file); there {
			if other := p.home(id); other != nil && other != one {
				gone[target{kind: t.kind, name: t.name}] = true
				if t.kind == aLibrary {
					s.Drop("lib")
				}
			}
		}
	}
	if run := textOf(s.Root.Get("package"), "default-run"); gone[target{kind: aProgram, name: run}] {
		s.Drop("package", "default-run")
	}
	for _, f := range folderOf {
		var edits []source.Edit
		items := s.Root.Get(f.table).Elements()
		for _, t := range manifest.Tables(s.Text) {
			if len(t.Key) != 1 || t.Key[0] != f.table || len(items) == 0 {
				continue
			}
			if gone[target{kind: f.kind, name: textOf(items[0], "name")}] {
				edits = append(edits, source.Edit{Span: t.Span})
			}
			items = items[1:]
		}
		s.Change(edits...)
	}
}

// asksFor says whether a manifest asks for something already, in any table.
func asksFor(s *sheet, name string) bool {
	return slices.ContainsFunc(dependencyTables(s.Root), func(t dependencyTable) bool { return t.v.Get(name) != nil })
}
