package php

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// write makes the manifests.
func (p *splitting) write() {
	var written []string
	for _, one := range p.All {
		switch {
		case one.Written():
			p.Out.Writes[path.Join(one.Dir, manifestName)] = p.manifest(one)
			written = append(written, one.Name)
		case one.Was != nil:
			p.extend(one)
		}
	}
	if p.sheets.Changed() {
		for id, f := range p.tree.Files {
			if path.Base(f.Path) != "composer.lock" || strings.Contains("/"+f.Path, "/vendor/") {
				continue
			}
			if one := p.Home(project.FileID(id)); one != nil && one.Was != nil && p.sheetOf(one.Was.Dir) != nil &&
				len(p.sheetOf(one.Was.Dir).Edits) > 0 {
				p.Remark(f.Path, 0, "it is out of date then: composer update %s writes it anew", strings.Join(written, " "))
			}
		}
	}
	p.sheets.Put(p.Out, func(file string, err error) { p.Refuse("", "%s can't be written anew: %s", file, err) })
}

// copied are the keys of a manifest that hold for what becomes of its package too (getcomposer.org/doc/04-schema.md).
var copied = []string{"license", "authors", "minimum-stability", "prefer-stable"}

// manifest writes the manifest of a package that has none.
func (p *splitting) manifest(one *lang.Parcel) []byte {
	old := p.original(one.From.Dir)
	begin := []byte("{\n}\n")
	if one.Asked.Template != nil {
		begin = one.Asked.Template
	}
	root, err := jsonStyle.Parse(begin)
	if err != nil || root.Kind != manifest.Object {
		p.Refuse(one.Dir, "the text that its %s begins with is not valid JSON: %v", manifestName, err)
		return nil
	}
	s := jsonStyle.Sheet(begin, root)
	set := func(raw string, key ...string) {
		if s.Root.At(key...) == nil {
			s.Set(raw, key...)
		}
	}
	set(fmt.Sprintf("%q", one.Name), "name")
	set(`"library"`, "type")
	if version := old.Value.Get("version"); version != nil {
		set(old.Raw(version), "version")
	} else {
		set(`"1.0.0"`, "version") // others ask for it by a range, and one without a version has that of a branch
	}
	for _, key := range slices.Concat(copied, p.Q.Inherit) {
		if v := old.Value.Get(key); v != nil && (one.Asked.Template == nil || slices.Contains(p.Q.Inherit, key)) {
			set(old.Plain(v), key)
		}
	}
	p.prefixes(one, s)
	if v := old.Value.At("require", "php"); v != nil {
		set(old.Raw(v), "require", "php")
	}
	for _, w := range p.wants(one) {
		set(w.raw, w.table, w.name)
	}
	p.repositories(one, s)
	if s.Err != nil {
		p.Refuse(one.Dir, "%s can't be written: %s", path.Join(one.Dir, manifestName), s.Err)
	}
	if one.Asked.Template != nil {
		return s.Text
	}
	return old.Like(s.Text)
}

// prefixes says below which folders the classes of a package are found, and with which names: they keep those that they
// have where that can be.
func (p *splitting) prefixes(one *lang.Parcel, s *manifest.Sheet) {
	found := map[string]string{} // prefixes by folders
	taken := p.sheetOf(one.From.Dir)
	for _, id := range one.Files {
		e, then := p.index().files[id], p.Q.Then(id)
		rest := strings.TrimPrefix(then, one.Dir+"/")
		top, below, deeper := strings.Cut(rest, "/")
		old := p.tree.Path(id)
		if i := p.alwaysAt(one, old); i >= 0 {
			p.moveAlways(one, s, taken, old, rest)
			continue
		}
		if e == nil || !deeper || top == "public" || top == "bin" || top == "config" || p.isFound(one, then) {
			continue
		}
		dir := path.Dir(below)
		space := parent(p.classOf(id))
		if dir != "." {
			tail := strings.ReplaceAll(dir, "/", `\`)
			if !strings.HasSuffix(`\`+space, `\`+tail) {
				continue
			}
			space = strings.TrimSuffix(strings.TrimSuffix(space, tail), `\`)
		}
		if space != "" && found[top] == "" {
			found[top] = space
		}
	}
	for _, top := range slices.Sorted(maps.Keys(found)) {
		key := "autoload"
		if top == "tests" || top == "test" {
			key = "autoload-dev"
		}
		if s.Root.At(key, "psr-4") == nil {
			s.Set(fmt.Sprintf("{ %q: %q }", found[top]+`\`, top+"/"), key, "psr-4")
			continue
		}
		s.Set(fmt.Sprintf("%q", top+"/"), key, "psr-4", found[top]+`\`)
	}
}

// isFound says whether classes at a path are found by what the manifest of a package says already.
func (p *splitting) isFound(one *lang.Parcel, then string) bool {
	return one.Was != nil && slices.ContainsFunc(p.load.roots, func(r root) bool {
		_, below := below(r.dir, then)
		return below && (r.dir == one.Dir || strings.HasPrefix(r.dir, one.Dir+"/"))
	})
}

// classOf is the name of the class by which a file is found; empty for none.
func (p *splitting) classOf(id project.FileID) string {
	file := p.tree.Path(id)
	name, ok := p.load.expected(file, "")
	if !ok {
		return ""
	}
	return name
}

// alwaysAt is the place of a file in the list of those that are loaded at the start; -1 for none.
func (p *splitting) alwaysAt(one *lang.Parcel, old string) int {
	return slices.IndexFunc(p.original(one.From.Dir).Value.At("autoload", "files").Elements(),
		func(v *manifest.Value) bool {
			return path.Join(one.From.Dir, v.Text) == old
		})
}

// moveAlways lets a file that is loaded at the start be loaded by its package.
func (p *splitting) moveAlways(one *lang.Parcel, s *manifest.Sheet, from *lang.Sheet, old, rest string) {
	if s.Root.At("autoload", "files") == nil {
		s.Set(fmt.Sprintf("[%q]", rest), "autoload", "files")
	} else {
		s.AddItem(rest, "autoload", "files")
	}
	list := from.Root.At("autoload", "files")
	i := slices.IndexFunc(list.Elements(), func(v *manifest.Value) bool { return path.Join(one.From.Dir, v.Text) == old })
	switch {
	case i >= 0 && len(list.Elements()) == 1:
		from.Drop("autoload", "files")
	case i >= 0:
		from.Change(manifest.DropItem(from.Text, list, i))
	}
}

// wants is what a package requires: what its files use, as the old manifest requires it, and other packages of the
// tree.
func (p *splitting) wants(one *lang.Parcel) (out []required) {
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.Of == nil || !n.New {
			continue
		}
		for _, k := range p.requirements(n.Of) {
			if k.name == name {
				if !n.Normal {
					k.table = "require-dev"
				}
				out = append(out, k)
			}
		}
	}
	for _, other := range p.All {
		if n := one.Inside[other]; n != nil && n.New && other.Name != "" {
			table := "require"
			if !n.Normal {
				table = "require-dev"
			}
			out = append(out, required{table: table, name: other.Name, raw: `"*"`})
		}
	}
	slices.SortStableFunc(out, func(a, b required) int { return strings.Compare(a.table+" "+a.name, b.table+" "+b.name) })
	return out
}

// repositories says where the packages of the tree lie that a package needs in the end: only the manifest that is
// installed is asked for that.
func (p *splitting) repositories(one *lang.Parcel, s *manifest.Sheet) {
	reached := one.Reached(true)
	list := s.Root.Get("repositories")
	var urls []string
	for _, v := range list.Elements() {
		urls = append(urls, v.Get("url").String())
	}
	var added []string
	for _, other := range p.All {
		url := strings.TrimPrefix(lang.Relative(one.Dir, other.Dir), "./")
		if !reached[other] || other.Was != nil && one.Was != nil || slices.ContainsFunc(urls,
			func(pattern string) bool { ok, _ := path.Match(pattern, url); return ok }) {
			continue
		}
		for _, pattern := range p.Q.Members {
			if ok, _ := path.Match(pattern, url); ok {
				url = pattern
				break
			}
		}
		urls = append(urls, url)
		added = append(added, fmt.Sprintf(`{ "type": "path", "url": %q }`, url))
	}
	switch {
	case len(added) == 0:
	case list == nil:
		s.Set("["+strings.Join(added, ", ")+"]", "repositories")
	case list.Kind == manifest.List:
		at := manifest.Whole(list)
		text := string(s.Text[at.Start:at.End])
		end := strings.LastIndex(text, "]")
		head := strings.TrimRight(text[:end], " \t\r\n")
		s.Set(head+map[bool]string{true: ", ", false: ""}[len(list.Items) > 0]+strings.Join(added, ", ")+text[len(head):],
			"repositories")
	default:
		p.Remark(path.Join(one.Dir, manifestName), 0, "its repositories have names: add %s", strings.Join(added, ", "))
	}
}

// extend writes into a manifest that is there what its package needs besides, and takes out what only files have used
// that are of other packages now.
func (p *splitting) extend(one *lang.Parcel) {
	s := p.sheetOf(one.Was.Dir)
	if s == nil {
		return
	}
	if one.Wanted() {
		p.prefixes(one, s.Sheet)
	}
	for _, w := range p.wants(one) {
		if s.Root.At("require", w.name) == nil && s.Root.At("require-dev", w.name) == nil {
			s.Set(w.raw, w.table, w.name)
		}
	}
	p.repositories(one, s.Sheet)
	for _, name := range p.Gone(one, slices.Sorted(maps.Keys(one.Had))) {
		for _, table := range []string{"require", "require-dev"} {
			if s.Root.At(table, name) != nil {
				s.Drop(table, name)
			}
			if left := s.Root.Get(table); left != nil && len(left.Fields()) == 0 {
				s.Drop(table)
			}
		}
	}
}
