package workspace

import (
	"bytes"
	"cmp"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// manager is a manager of distributions, as the files at the root show it.
type manager struct {
	name, lock, renew string // what it is called, its lock file, and the command that writes that anew
}

// managerOf finds the manager of a folder.
func (p *parting) managerOf(dir string) *manager {
	has := func(name string) bool { _, there := p.tree.Lookup(path.Join(dir, name)); return there }
	root := p.original(dir).Value
	backend := root.At("build-system", "build-backend").String()
	switch {
	case has("uv.lock") || root.At("tool", "uv") != nil || backend == "uv_build":
		return &manager{"uv", "uv.lock", "uv lock"}
	case has("poetry.lock") || root.At("tool", "poetry") != nil:
		return &manager{"poetry", "poetry.lock", "poetry lock"}
	case has("pdm.lock") || root.At("tool", "pdm") != nil:
		return &manager{"pdm", "pdm.lock", "pdm lock"}
	}
	return &manager{"pip", "", ""}
}

// entry is something that a manifest asks for.
type entry struct {
	key  []string // of the list, or of the table
	name string
	raw  string // as it is written: an item of a list, or the value of a table
	at   int    // the byte of the manifest
	item bool   // it is one of a list
}

// extra says whether it is asked for only by those who want it.
func (e entry) extra() bool {
	return e.key[0] != "project" && e.key[0] != "tool" || len(e.key) > 3 || e.key[1] == "optional-dependencies" ||
		e.key[len(e.key)-1] == "dev-dependencies"
}

// requirement is the name at the beginning of a requirement (packaging.python.org, dependency specifiers).
var requirement = regexp.MustCompile(`^\s*([A-Za-z0-9][\w.-]*)`)

// entries are what the manifest of a distribution asks for, in its order.
func (p *parting) entries(k *lang.Package) (out []entry) {
	old := p.original(k.Dir)
	list := func(v *manifest.Value, key ...string) {
		for _, item := range v.Elements() {
			if m := requirement.FindStringSubmatch(item.String()); m != nil && item.Kind == manifest.String {
				out = append(out, entry{key, m[1], old.Raw(item), item.Span.Start, true})
			}
		}
	}
	table := func(v *manifest.Value, key ...string) {
		for _, m := range v.Fields() {
			if m.Key != "python" {
				out = append(out, entry{key, m.Key, old.Raw(m.Value), m.Start, false})
			}
		}
	}
	list(old.Value.At("project", "dependencies"), "project", "dependencies")
	for _, m := range old.Value.At("project", "optional-dependencies").Fields() {
		list(m.Value, "project", "optional-dependencies", m.Key)
	}
	for _, m := range old.Value.Get("dependency-groups").Fields() {
		list(m.Value, "dependency-groups", m.Key)
	}
	table(old.Value.At("tool", "poetry", "dependencies"), "tool", "poetry", "dependencies")
	table(old.Value.At("tool", "poetry", "dev-dependencies"), "tool", "poetry", "dev-dependencies")
	for _, m := range old.Value.At("tool", "poetry", "group").Fields() {
		table(m.Value.Get("dependencies"), "tool", "poetry", "group", m.Key, "dependencies")
	}
	return out
}

// of gives the entries that have a module: those whose names fit it best.
func of(all []entry, module string) []entry {
	return lang.Best(all, func(e entry) int { return covers(e.name, module) })
}

// write makes the manifests.
func (p *parting) write() {
	var written []*lang.Parcel
	for _, one := range p.All {
		switch {
		case one.Written():
			p.Out.Writes[path.Join(one.Dir, manifestName)] = p.manifest(one)
			written = append(written, one)
		case one.Was != nil:
			p.extend(one)
		}
	}
	if len(written) > 0 {
		p.members(written)
		p.installs(written)
	}
	if file := path.Join(project.Dir(p.tree.Path(p.top.ID)), p.manager.lock); p.manager.lock != "" && p.sheets.Changed() {
		if _, there := p.tree.Lookup(file); there {
			p.Remark(file, 0, "it is out of date then: %s writes it anew", p.manager.renew)
		}
	}
	p.sheets.Put(p.Out, func(file string, err error) { p.Refuse("", "%s can't be written anew: %s", file, err) })
}

// members enters the distributions in the list of the workspace, or says how they are installed where there is none.
func (p *parting) members(written []*lang.Parcel) {
	dir := project.Dir(p.top.File)
	if p.manager.name != "uv" {
		if p.manager.name == "pip" {
			p.Remark(p.top.File, 0, "what needs another finds it only if both are installed at once: pip install %s",
				strings.Join(p.inOrder(written), " "))
		}
		return
	}
	key := []string{"tool", "uv", "workspace", "members"}
	listed := p.top.Root.At(key...)
	var patterns, added []string
	listed.Strings(func(v *manifest.Value) { patterns = append(patterns, v.Text) })
	for _, one := range written {
		member := strings.TrimPrefix(lang.Relative(dir, one.Dir), "./")
		if slices.ContainsFunc(patterns, func(pattern string) bool {
			ok, err := path.Match(pattern, member)
			return ok &&
				err == nil
		}) {
			continue
		}
		for _, pattern := range p.Q.Members {
			if ok, err := path.Match(pattern, member); ok && err == nil {
				member = pattern
				break
			}
		}
		if patterns = append(patterns, member); listed != nil {
			p.top.AddItem(member, key...)
		} else {
			added = append(added, fmt.Sprintf("%q", member))
		}
	}
	if len(added) > 0 {
		p.top.Set("["+strings.Join(added, ", ")+"]", key...)
	}
}

// installing is a command that installs the distribution in the folder itself.
var installing = regexp.MustCompile(`\bpip3?\s+install\b[^\n;&|]*\s\.(?:\[[^\]\n]*\])?(?:\s|["']|$)`)

// installs says where the old distribution is installed, which has its parts no more.
func (p *parting) installs(written []*lang.Parcel) {
	for id := range p.tree.Files {
		id, file := project.FileID(id), p.tree.Path(project.FileID(id))
		if ours(file) {
			continue
		}
		p.tree.Peek(id, func(content []byte, err error) {
			if at := installing.FindIndex(content); err == nil && at != nil {
				p.Remark(file, at[0], "it installs what is left at the root: say %s beside it", strings.Join(p.inOrder(written),
					" "))
			}
		})
	}
}

// inOrder are the folders of distributions, those first that others need.
func (p *parting) inOrder(written []*lang.Parcel) (out []string) {
	seen := map[*lang.Parcel]bool{}
	var visit func(one *lang.Parcel)
	visit = func(one *lang.Parcel) {
		if seen[one] {
			return
		}
		seen[one] = true
		for _, other := range p.All {
			if one.Inside[other] != nil {
				visit(other)
			}
		}
		if slices.Contains(written, one) || one.Was != nil {
			out = append(out, lang.Relative(".", one.Dir))
		}
	}
	for _, one := range written {
		visit(one)
	}
	return out
}

// copied are the keys of a manifest that hold for what becomes of its distribution too, by their tables.
var copied = []string{"version", "requires-python", "license", "authors", "maintainers", "classifiers", "urls"}

// manifest writes the manifest of a distribution that has none.
func (p *parting) manifest(one *lang.Parcel) []byte {
	old := p.original(one.From.Dir)
	root, err := style.Parse(one.Asked.Template)
	if err != nil {
		p.Refuse(one.Dir, "the text that its %s begins with is not valid: %v", manifestName, err)
		return nil
	}
	s := style.Sheet(one.Asked.Template, root)
	set := func(raw string, key ...string) {
		if s.Root.At(key...) == nil {
			s.Set(raw, key...)
		}
	}
	for _, m := range old.Value.Get("build-system").Fields() {
		set(old.Raw(m.Value), "build-system", m.Key)
	}
	tables := []string{"project"}
	if old.Value.Get("project") == nil {
		tables = []string{"tool", "poetry"}
	}
	at := func(key string) []string { return append(slices.Clone(tables), key) }
	set(fmt.Sprintf("%q", one.Name), at("name")...)
	for _, key := range slices.Concat(copied, p.Q.Inherit) {
		v := old.Value.At(at(key)...)
		if key == "version" && v == nil && one.Asked.Template == nil {
			set(`"0.1.0"`, at(key)...)
			p.Remark(path.Join(one.From.Dir, manifestName), 0,
				"the version of %s is worked out when it is built: that of %s is 0.1.0", one.From.Name, one.Name)
			continue
		}
		switch {
		case v == nil || one.Asked.Template != nil && !slices.Contains(p.Q.Inherit, key) || key == "license" &&
			v.Kind != manifest.String:
		case v.Kind == manifest.Object: // it may be a table with a head
			for _, m := range v.Members {
				set(old.Raw(m.Value), append(at(key), m.Key)...)
			}
		default:
			set(old.Raw(v), at(key)...)
		}
	}
	if tables[0] == "tool" {
		if v := old.Value.At("tool", "poetry", "dependencies", "python"); v != nil {
			set(old.Raw(v), "tool", "poetry", "dependencies", "python")
		}
	}
	if b := p.backend(one.From); b == "flit" || tables[0] == "tool" { // they refuse one without
		set(fmt.Sprintf("%q", one.Name+", a part of "+one.From.Name), at("description")...)
	}
	p.ask(one, s, true)
	p.programs(one, old, s)
	p.tell(one, s)
	if s.Err != nil {
		p.Refuse(one.Dir, "%s can't be written: %s", path.Join(one.Dir, manifestName), s.Err)
	}
	return bytes.TrimLeft(s.Text, "\n")
}

// wanted is what a distribution asks for: the raw text of an item, or of a value under a name.
type wanted struct {
	key       []string
	name, raw string
	item      bool
}

// ask writes what the files of a distribution need.
func (p *parting) ask(one *lang.Parcel, s *manifest.Sheet, all bool) {
	lists, order := map[string][]string{}, [][]string{}
	for _, w := range p.wants(one) {
		if !all && p.asksFor(s.Root, w) {
			continue
		}
		if !w.item {
			s.Set(w.raw, append(slices.Clone(w.key), w.name)...)
			continue
		}
		if s.Root.At(w.key...) != nil {
			s.AddItem(strings.Trim(w.raw, `"'`), w.key...)
			continue
		}
		id := strings.Join(w.key, "\x00")
		if lists[id] == nil {
			order = append(order, w.key)
		}
		lists[id] = append(lists[id], w.raw)
	}
	for _, key := range order {
		s.Set(listOf(lists[strings.Join(key, "\x00")]), key...)
	}
}

// listOf is a list of TOML, in a line if it is short.
func listOf(items []string) string {
	if line := "[" + strings.Join(items, ", ") + "]"; len(line) <= 70 {
		return line
	}
	return "[\n    " + strings.Join(items, ",\n    ") + ",\n]"
}

// asksFor says whether a manifest asks for something already.
func (p *parting) asksFor(root *manifest.Value, w wanted) bool {
	v := root.At(w.key...)
	if !w.item {
		return v.Get(w.name) != nil
	}
	return slices.ContainsFunc(v.Elements(), func(item *manifest.Value) bool {
		m := requirement.FindStringSubmatch(item.String())
		return m != nil && normal(m[1]) == normal(w.name)
	})
}

// wants is what a distribution asks for: what its files use, as the old manifest asked for it.
func (p *parting) wants(one *lang.Parcel) (out []wanted) {
	put := func(w wanted) {
		if !slices.ContainsFunc(out, func(o wanted) bool {
			return normal(o.name) == normal(w.name) && slices.Equal(o.key,
				w.key)
		}) {
			out = append(out, w)
		}
	}
	for _, module := range one.Sorted() {
		n := one.Libraries[module]
		if n.Of == nil || !n.New || ofPlatform(module) {
			continue
		}
		all := p.entries(n.Of)
		found := of(all, module)
		if len(found) == 0 && !p.isMember(module) && one.Written() {
			p.unclear(one, n, module, put)
			continue
		}
		plain := slices.DeleteFunc(slices.Clone(found), entry.extra)
		switch {
		case n.Normal && len(plain) > 0:
			found = plain
		case !n.Normal && len(plain) > 0 && len(plain) == len(found):
			found = p.forTests(one, plain)
		case !n.Normal:
			found = slices.DeleteFunc(found, func(e entry) bool { return !e.extra() })
		}
		for _, e := range found {
			put(wanted{e.key, e.name, e.raw, e.item})
		}
	}
	for _, other := range p.All {
		if n := one.Inside[other]; n != nil && n.New && other.Name != "" {
			p.member(one, other, n, put)
		}
	}
	slices.SortStableFunc(out, func(a, b wanted) int {
		return cmp.Or(cmp.Compare(rank(a.key), rank(b.key)), slices.Compare(a.key, b.key), strings.Compare(normal(a.name),
			normal(b.name)))
	})
	return out
}

// rank is the order of tables.
func rank(key []string) int {
	return slices.Index([]string{"project", "dependency-groups", "tool"}, key[0])
}

// forTests are entries that only tests need, where the old manifest asked for them for all.
func (p *parting) forTests(one *lang.Parcel, all []entry) (out []entry) {
	key := p.testKey(one)
	for _, e := range all {
		if e.item == (key[0] != "tool") {
			e.key = key
		}
		out = append(out, e)
	}
	return out
}

// testKey is where a distribution asks for what its tests need: where the old one does so, by its name or by what it
// has.
func (p *parting) testKey(one *lang.Parcel) []string {
	for _, e := range p.entries(one.From) {
		if last := e.key[len(e.key)-1]; e.extra() && (normal(e.name) == "pytest" || strings.HasPrefix(last, "test")) {
			return e.key
		}
	}
	if p.original(one.From.Dir).Value.Get("project") == nil {
		return []string{"tool", "poetry", "group", "test", "dependencies"}
	}
	return []string{"dependency-groups", "test"}
}

// member puts another distribution of the tree.
func (p *parting) member(one, other *lang.Parcel, n *lang.Need, put func(wanted)) {
	list := []string{"project", "dependencies"}
	if p.original(one.From.Dir).Value.Get("project") == nil {
		list = []string{"tool", "poetry", "dependencies"}
	}
	if !n.Normal {
		list = p.testKey(one)
	}
	to := lang.Relative(one.Dir, other.Dir)
	switch {
	case p.manager.name == "poetry":
		if list[0] != "tool" {
			put(wanted{list, other.Name, fmt.Sprintf("%q", other.Name), true})
			list = []string{"tool", "poetry", "dependencies"}
		}
		put(wanted{list, other.Name, fmt.Sprintf("{ path = %q, develop = true }", strings.TrimPrefix(to, "./")), false})
	case p.manager.name == "pdm":
		put(wanted{list, other.Name, fmt.Sprintf("%q", other.Name+" @ file:///${PROJECT_ROOT}/"+strings.TrimPrefix(to,
			"./")), true})
	default:
		put(wanted{list, other.Name, fmt.Sprintf("%q", other.Name), true})
		if p.manager.name == "uv" {
			put(wanted{[]string{"tool", "uv", "sources"}, other.Name, "{ workspace = true }", false})
		}
	}
}

// isMember says whether a module has the name of a distribution of the tree.
func (p *parting) isMember(module string) bool {
	return slices.ContainsFunc(p.All, func(one *lang.Parcel) bool { return covers(one.Name, module) > 0 })
}

// unclear deals with a module of which no entry bears the name: what no code names at all may have it, so the
// distribution gets all of that.
func (p *parting) unclear(one *lang.Parcel, n *lang.Need, module string, put func(wanted)) {
	var names []string
	for _, e := range p.opaque(n.Of) {
		names = append(names, e.name)
		put(wanted{e.key, e.name, e.raw, e.item})
	}
	if len(names) == 0 {
		p.Remark(p.tree.Path(n.By), n.At, "it uses %s, which no %s asks for", module, manifestName)
		return
	}
	p.Remark(p.tree.Path(n.By), n.At,
		"it is not known by its name what %s is of, so %s asks for all that no import names: %s", module, one.Name,
		strings.Join(names, ", "))
}

// opaque are the entries of a manifest, but for those of tests, whose names no import of its files bears.
func (p *parting) opaque(k *lang.Package) (out []entry) {
	all := p.entries(k)
	for _, e := range all {
		if e.extra() {
			continue
		}
		used := slices.ContainsFunc(p.All, func(one *lang.Parcel) bool {
			return slices.ContainsFunc(one.Sorted(), func(module string) bool { return covers(e.name, module) > 0 })
		})
		if !used && !slices.ContainsFunc(p.All, func(one *lang.Parcel) bool { return one.Name == normal(e.name) }) {
			out = append(out, e)
		}
	}
	return out
}

// scripts are the tables in which a manifest names functions that run (packaging.python.org, entry points).
func scripts(root *manifest.Value) (out [][]string) {
	for _, key := range [][]string{{"project", "scripts"}, {"project", "gui-scripts"}, {"tool", "poetry", "scripts"}} {
		if root.At(key...) != nil {
			out = append(out, key)
		}
	}
	for _, above := range [][]string{{"project", "entry-points"}, {"tool", "poetry", "plugins"}} {
		for _, m := range root.At(above...).Fields() {
			out = append(out, append(slices.Clone(above), m.Key))
		}
	}
	return out
}

// programs gives a distribution the functions that run whose modules come to it.
func (p *parting) programs(one *lang.Parcel, old *lang.OldFile, s *manifest.Sheet) {
	from := p.sheetOf(one.From.Dir)
	mentions, targets := p.Q.Mentions(old.ID)
	for _, key := range scripts(old.Value) {
		for _, m := range old.Value.At(key...).Fields() {
			i := slices.IndexFunc(mentions, func(mention lang.Mention) bool {
				return m.Value.Span.Start <= mention.Span.Start && mention.Span.End <= m.Value.Span.End
			})
			if i < 0 || targets[i].Kind != lang.ToFile || p.Home(targets[i].File) != one ||
				mentions[i].Kind != syntax.Program && mentions[i].Kind != syntax.ModuleSetting {
				continue
			}
			_, function, _ := strings.Cut(m.Value.String(), ":")
			text := p.moduleAt(one, p.Q.Then(targets[i].File))
			if function != "" {
				text += ":" + function
			}
			s.Set(fmt.Sprintf("%q", text), append(slices.Clone(key), m.Key)...)
			from.Drop(append(slices.Clone(key), m.Key)...)
			if left := from.Root.At(key...); left != nil && len(left.Fields()) == 0 {
				from.Drop(key...)
			}
		}
	}
}

// moduleAt is the name of a module as the installed distribution has it.
func (p *parting) moduleAt(one *lang.Parcel, file string) string {
	name := strings.TrimSuffix(p.below(one, file), path.Ext(file))
	return strings.ReplaceAll(strings.TrimSuffix(name, "/__init__"), "/", ".")
}

// extend writes into a manifest that is there what its distribution needs besides, and takes out what only files have
// used that are of other distributions now.
func (p *parting) extend(one *lang.Parcel) {
	s := p.sheetOf(one.Was.Dir)
	if s == nil {
		return
	}
	p.ask(one, s.Sheet, false)
	p.keepApart(one, s.Sheet)
	all := p.entries(one.Was)
	var gone []entry
	for _, e := range all {
		had, uses := false, one.Uses(normal(e.name))
		for module := range one.Had {
			had = had || slices.ContainsFunc(of(all, module), func(o entry) bool { return o.at == e.at })
		}
		for module := range one.Libraries {
			uses = uses || slices.ContainsFunc(of(all, module), func(o entry) bool { return o.at == e.at })
		}
		if (had || one.Had[normal(e.name)]) && !uses {
			gone = append(gone, e)
		}
	}
	var names []string
	for _, e := range gone {
		names = append(names, e.name)
	}
	named := p.Q.Named(one.Was.Manifest, names, func(id project.FileID) bool { return p.Home(id) == one })
	for i, e := range gone {
		if !named[i] {
			drop(s.Sheet, e)
		}
	}
	if len(gone) > 0 && !p.builds(one) {
		p.Remark(p.tree.Path(one.Was.Manifest), 0,
			"nothing is left that %s builds: what installs it installs the new ones, and its name may go", one.Was.Name)
		if p.manager.name == "uv" && s.Root.At("tool", "uv", "package") == nil {
			s.Set("false", "tool", "uv", "package")
		}
	}
}

// builds says whether a module is left that is no test.
func (p *parting) builds(one *lang.Parcel) bool {
	return slices.ContainsFunc(one.Files, func(id project.FileID) bool {
		then := p.Q.Then(id)
		return !p.Q.IsTest(then) && strings.Contains(p.below(one, then), "/")
	})
}

// drop takes out what a manifest asks for.
func drop(s *manifest.Sheet, e entry) {
	if !e.item {
		if s.Drop(append(slices.Clone(e.key), e.name)...); len(s.Root.At(e.key...).Fields()) == 0 {
			s.Drop(e.key...)
		}
		return
	}
	list := s.Root.At(e.key...)
	if len(list.Elements()) == 1 { // an empty one says nothing
		above := e.key[:len(e.key)-1]
		if s.Drop(e.key...); len(above) > 1 && len(s.Root.At(above...).Fields()) == 0 {
			s.Drop(above...)
		}
		return
	}
	i := slices.IndexFunc(list.Elements(), func(item *manifest.Value) bool {
		m := requirement.FindStringSubmatch(item.String())
		return m != nil && m[1] == e.name
	})
	if i >= 0 {
		s.Change([]source.Edit{manifest.DropItem(s.Text, list, i)}...)
	}
}
