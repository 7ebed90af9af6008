package dart

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file parts a project into packages: it writes their pubspec.yaml (dart.dev/tools/pub/pubspec), and enters them
// in the workspace where the language has that (dart.dev/tools/pub/workspaces).

// parting is packages in the making.
type parting struct {
	*Resolver
	lang.Splitter
	sheets *lang.Sheets
	top    *lang.Sheet // the manifest of the workspace
	joined bool        // there is one
}

var yamlStyle = manifest.Style{Format: "YAML"}

// Part writes the packages that the convention wants: what each depends on follows from the addresses that its files
// import.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	if len(r.packs) == 0 {
		return nil
	}
	p := &parting{Resolver: r, Splitter: lang.NewSplitter(r.tree, q), sheets: lang.NewSheets(r.tree, q.Then)}
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " says what its files are of",
		Packages: r.Packages(), Counts: isDart, Tests: func(file string) bool {
			return q.IsTest(file) ||
				strings.Contains("/"+file, "/test/")
		},
		Names: func(m *lang.Mention) bool { return slices.Contains(Kinds, m.Kind) },
		Library: func(m *lang.Mention) string {
			if !strings.HasPrefix(m.Text, "package:") {
				return ""
			}
			return library(m.Text)
		},
	}, p.look, p.parts, p.write)
}

// original is the manifest in a folder of the old tree, and sheetOf how it is written anew; nil for none that can be
// read.
func (p *parting) original(dir string) *lang.OldFile {
	return p.sheets.Old(path.Join(dir, manifestName), yamlStyle)
}

func (p *parting) sheetOf(dir string) *lang.Sheet {
	return p.sheets.Of(path.Join(dir, manifestName), yamlStyle)
}

// packageName is what a package may be called (dart.dev/tools/pub/pubspec, Name).
var packageName = regexp.MustCompile(`^[a-z_][a-z0-9_]*$`)

// look says what stands against a package.
func (p *parting) look(one *lang.Parcel) {
	if p.Keeps(one, "package", one.Asked.Name) {
		return
	}
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
	}
	if !packageName.MatchString(one.Name) {
		p.Refuse(one.Dir, "%q is no name of a package: small letters, digits and _", one.Name)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
	if v := p.original(one.From.Dir).Value; v.At("dependencies", one.Name) != nil || v.At("dev_dependencies",
		one.Name) != nil {
		p.Refuse(one.Dir, "%s is the name of a library too, which %s asks for", one.Name, path.Join(one.From.Dir,
			manifestName))
	}
}

// parts refuses packages that would have parts of another's library, and those whose files are needed where no address
// leads to them.
func (p *parting) parts() {
	for _, a := range p.Across {
		one := p.Home(a.From)
		if one == nil || !a.New || !one.Wanted() && !a.Other.Wanted() {
			continue
		}
		dir := a.Other.Dir
		if !a.Other.Wanted() {
			dir = one.Dir
		}
		where := p.Where(a.From, a.Mention.Span.Start)
		switch then := p.Q.Then(a.To); {
		case a.Mention.Kind == Part || a.Mention.Kind == PartOf:
			p.Refuse(dir, "%s names a part of its library, which would be of another package: let the two stay together", where)
		case !strings.HasPrefix(then, path.Join(a.Other.Dir, "lib")+"/"):
			p.Refuse(dir, "%s needs %s, and others get only what lies in lib of its package", where, then)
		}
	}
}

// write makes the manifests.
func (p *parting) write() {
	from := (*lang.Package)(nil)
	for _, one := range p.All {
		if one.Wanted() && (from == nil || len(one.From.Dir) < len(from.Dir)) {
			from = one.From
		}
	}
	if p.top = p.sheetOf(from.Dir); p.top == nil {
		p.Refuse("", "%s can't be read", path.Join(from.Dir, manifestName))
		return
	}
	p.joined = p.top.Root.Get("workspace") != nil || joins(p.top.Root)
	for _, one := range p.All {
		switch {
		case one.Written():
			p.Out.Writes[path.Join(one.Dir, manifestName)] = p.manifest(one)
			p.enter(one)
		case one.Was != nil:
			p.extend(one)
		}
	}
	if lock := path.Join(project.Dir(p.top.File), "pubspec.lock"); p.sheets.Changed() {
		if _, there := p.tree.Lookup(lock); there {
			p.Remark(lock, 0, "it is out of date then: dart pub get writes it anew")
		}
	}
	p.sheets.Put(p.Out, func(file string, err error) { p.Refuse("", "%s can't be written anew: %s", file, err) })
}

var lowest = regexp.MustCompile(`(\d+)\.(\d+)`)

// joins says whether the language of a manifest has workspaces: from 3.6 on.
func joins(root *manifest.Value) bool {
	m := lowest.FindStringSubmatch(root.At("environment", "sdk").String())
	if m == nil {
		return false
	}
	major, _ := strconv.Atoi(m[1])
	minor, _ := strconv.Atoi(m[2])
	return major > 3 || major == 3 && minor >= 6
}

// enter lists a package in the workspace.
func (p *parting) enter(one *lang.Parcel) {
	if !p.joined {
		return
	}
	entry := strings.TrimPrefix(lang.Relative(project.Dir(p.top.File), one.Dir), "./")
	if p.top.Root.Get("workspace") == nil {
		p.top.Set("["+entry+"]", "workspace")
		return
	}
	p.top.AddItem(entry, "workspace")
}

// manifest writes the manifest of a package that has none.
func (p *parting) manifest(one *lang.Parcel) []byte {
	old := p.original(one.From.Dir)
	root, err := yamlStyle.Parse(one.Asked.Template)
	if err != nil {
		p.Refuse(one.Dir, "the text that its %s begins with is not valid: %v", manifestName, err)
		return nil
	}
	var out bytes.Buffer
	out.Write(one.Asked.Template)
	if out.Len() > 0 && !bytes.HasSuffix(out.Bytes(), []byte("\n")) {
		out.WriteByte('\n')
	}
	line := func(key, value string) {
		if root.Get(key) == nil {
			fmt.Fprintf(&out, "%s: %s\n", key, value)
		}
	}
	line("name", one.Name)
	for _, key := range slices.Concat([]string{"version", "publish_to"}, p.Q.Inherit) {
		if v := old.Value.Get(key); v != nil {
			line(key, flow(old, v))
		}
	}
	if v := old.Value.Get("environment"); v != nil && root.Get("environment") == nil {
		fmt.Fprintf(&out, "\nenvironment:\n")
		for _, m := range v.Fields() {
			fmt.Fprintf(&out, "  %s: %s\n", m.Key, flow(old, m.Value))
		}
	}
	if p.joined {
		out.WriteByte('\n')
		line("resolution", "workspace")
	}
	tables := p.wants(one)
	for _, table := range []string{"dependencies", "dev_dependencies"} {
		if len(tables[table]) == 0 {
			continue
		}
		if root.Get(table) == nil {
			fmt.Fprintf(&out, "\n%s:\n", table)
			for _, name := range slices.Sorted(maps.Keys(tables[table])) {
				fmt.Fprintf(&out, "  %s: %s\n", name, tables[table][name])
			}
			continue
		}
		s := yamlStyle.Sheet(out.Bytes(), nil)
		if s.Root, s.Err = yamlStyle.Parse(s.Text); s.Err == nil {
			for _, name := range slices.Sorted(maps.Keys(tables[table])) {
				if s.Root.At(table, name) == nil {
					s.Set(tables[table][name], table, name)
				}
			}
		}
		if s.Err != nil {
			p.Refuse(one.Dir, "%s can't be written: %s", path.Join(one.Dir, manifestName), s.Err)
		}
		out.Reset()
		out.Write(s.Text)
	}
	p.assets(one, old)
	return out.Bytes()
}

// flow is a value in a line.
func flow(old *lang.OldFile, v *manifest.Value) string {
	if v.Kind != manifest.Object {
		return old.Raw(v)
	}
	var items []string
	for _, m := range v.Members {
		items = append(items, m.Key+": "+flow(old, m.Value))
	}
	return "{ " + strings.Join(items, ", ") + " }"
}

// wants is what a package depends on: what its files import, as the old manifest asks for it, and others of the tree.
func (p *parting) wants(one *lang.Parcel) map[string]map[string]string {
	out := map[string]map[string]string{"dependencies": {}, "dev_dependencies": {}}
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.Of == nil || !n.New {
			continue
		}
		old := p.original(n.Of.Dir)
		found := false
		for _, table := range []string{"dependencies", "dev_dependencies"} {
			if v := old.Value.At(table, name); v != nil {
				found = true
				if !n.Normal {
					table = "dev_dependencies"
				}
				out[table][name] = p.version(one, n.Of, old, v)
				break
			}
		}
		if !found && one.Written() {
			p.Remark(p.tree.Path(n.By), n.At, "it uses %s, which no %s asks for", name, manifestName)
		}
	}
	for _, other := range p.All {
		if n := one.Inside[other]; n != nil && n.New && other.Name != "" {
			table := "dependencies"
			if !n.Normal {
				table = "dev_dependencies"
			}
			if p.joined {
				out[table][other.Name] = "any"
			} else {
				out[table][other.Name] = "{ path: " + strings.TrimPrefix(lang.Relative(one.Dir, other.Dir), "./") + " }"
			}
		}
	}
	return out
}

// version is how a library is asked for: a path is seen from the new package.
func (p *parting) version(one *lang.Parcel, k *lang.Package, old *lang.OldFile, v *manifest.Value) string {
	if to := v.Get("path").String(); to != "" && !path.IsAbs(to) && len(v.Members) == 1 {
		return "{ path: " + lang.Relative(one.Dir, path.Join(k.Dir, to)) + " }"
	}
	return flow(old, v)
}

// assets says that files which a program asks for by their keys come to another package.
func (p *parting) assets(one *lang.Parcel, old *lang.OldFile) {
	list := old.Value.At("flutter", "assets")
	for _, item := range list.Elements() {
		for id := range p.tree.Files {
			file := p.tree.Path(project.FileID(id))
			at := path.Join(one.From.Dir, item.Text)
			if (file == at || strings.HasPrefix(file, strings.TrimSuffix(at, "/")+"/")) && p.Home(project.FileID(id)) == one {
				p.Remark(old.Path, item.Span.Start,
					"%s goes to the package %s, where it must be listed, and its key begins with packages/%s/ then", file, one.Name,
					one.Name)
				return
			}
		}
	}
}

// extend writes into a manifest that is there what its package needs besides, and takes out what only files have used
// that are of other packages now.
func (p *parting) extend(one *lang.Parcel) {
	s := p.sheetOf(one.Was.Dir)
	if s == nil {
		return
	}
	for _, table := range []string{"dependencies", "dev_dependencies"} {
		wanted := p.wants(one)[table]
		for _, name := range slices.Sorted(maps.Keys(wanted)) {
			if s.Root.At("dependencies", name) == nil && s.Root.At("dev_dependencies", name) == nil && name != one.Name {
				s.Set(wanted[name], table, name)
			}
		}
	}
	for _, name := range p.Gone(one, slices.Sorted(maps.Keys(one.Had))) {
		for _, table := range []string{"dependencies", "dev_dependencies"} {
			if s.Root.At(table, name) == nil {
				continue
			}
			if s.Drop(table, name); len(s.Root.Get(table).Fields()) == 0 {
				s.Drop(table)
			}
		}
	}
}

// Parts says whether a package has come between a file and what its relative address leads to.
func (r *Resolver) Parts(request *lang.Respelling) bool {
	old, ok := request.Old.(*Resolver)
	if !ok || strings.Contains(request.Mention.Text, ":") || request.Target.Kind != lang.ToFile ||
		request.Before.Kind != lang.ToFile {
		return false
	}
	from, to := r.packOf(r.tree.Path(request.From)), r.packOf(r.tree.Path(request.Target.File))
	return from != to && old.packOf(old.tree.Path(request.OldFrom)) == old.packOf(old.tree.Path(request.Before.File))
}
