package golang

import (
	"bytes"
	"cmp"
	goversion "go/version"
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/aymanbagabas/go-udiff"
	"golang.org/x/mod/modfile"
	modpath "golang.org/x/mod/module"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// write makes the files of the modules: go.mod, go.sum and the go.work that joins them.
func (p *parting) write() {
	var written []*lang.Parcel
	for _, one := range p.All {
		switch {
		case one.Written():
			p.module(one)
			written = append(written, one)
		case one.Was != nil && p.said(one.Was.Dir) != nil:
			p.extend(one)
		}
	}
	if len(written) == 0 {
		return
	}
	for _, from := range slices.Sorted(maps.Keys(p.summed)) {
		p.Remark(from, 0,
			"all of it is copied to %s, and what go.mod asks for is indirect there where no file uses it: go mod tidy in "+
				"each takes out what its module does not need",
			strings.Join(p.summed[from], ", "))
	}
	p.join(written)
	p.images()
	p.everywhere(written)
	for id := range p.tree.Files {
		if file := p.tree.Path(project.FileID(id)); isVendorList(file) {
			p.Remark(file, 0, "it is out of date then: go work vendor writes it anew")
		}
	}
}

// edit writes a file anew, line by line.
func (p *parting) edit(file string, content []byte) {
	id, there := p.tree.Lookup(file)
	if !there {
		return
	}
	before := string(p.content(file))
	after := string(content)
	if strings.Contains(before, "\r\n") {
		after = strings.ReplaceAll(after, "\n", "\r\n")
	}
	for _, e := range udiff.Lines(before, after) {
		p.Out.Edits[id] = append(p.Out.Edits[id], source.Edit{Span: source.Span{Start: e.Start, End: e.End}, New: e.New})
	}
}

// module writes the files of a module that is new.
func (p *parting) module(one *lang.Parcel) {
	old, file := p.said(one.From.Dir), path.Join(one.Dir, manifestName)
	f := new(modfile.File)
	if one.Asked.Template != nil {
		var err error
		if f, err = modfile.Parse(file, one.Asked.Template, nil); err != nil {
			p.Refuse(one.Dir, "the text that its %s begins with is not valid: %v", manifestName, err)
			return
		}
	}
	if f.Module == nil {
		fail(f.AddModuleStmt(one.Name))
	}
	p.version(one, f)
	if old.Toolchain != nil && f.Toolchain == nil {
		fail(f.AddToolchainStmt(old.Toolchain.Name))
	}
	for _, g := range old.Godebug {
		fail(f.AddGodebug(g.Key, g.Value))
	}
	all := p.wants(one)
	p.require(f, all, nil)
	for _, ex := range old.Exclude {
		if _, asks := all[ex.Mod.Path]; asks {
			fail(f.AddExclude(ex.Mod.Path, ex.Mod.Version))
		}
	}
	content := p.formatted(one.Dir, f)
	if bytes.Contains(p.content(path.Join(one.From.Dir, manifestName)), []byte("\r\n")) {
		content = bytes.ReplaceAll(content, []byte("\n"), []byte("\r\n"))
	}
	p.Out.Writes[file] = content
	p.sums(one, all)
}

// version writes the version of the language: that of the old module, and no less than that of a module that is needed.
func (p *parting) version(one *lang.Parcel, f *modfile.File) {
	now := ""
	if f.Go != nil {
		now = f.Go.Version
	}
	want := cmp.Or(now, p.languageOf(one))
	for other := range one.Reached(false) {
		want = newer(want, p.languageOf(other))
	}
	if want != now && want != "" {
		fail(f.AddGoStmt(want))
	}
}

// languageOf is the version of the language that a module is written in; empty where none is said.
func (p *parting) languageOf(one *lang.Parcel) string {
	if given, err := modfile.ParseLax(manifestName, p.template(one), nil); err == nil && given.Go != nil {
		return given.Go.Version
	}
	if one.From != nil {
		if f := p.said(one.From.Dir); f != nil && f.Go != nil {
			return f.Go.Version
		}
	}
	return ""
}

func (p *parting) template(one *lang.Parcel) []byte {
	if one.Asked == nil || one.Was != nil {
		return nil
	}
	return one.Asked.Template
}

func newer(a, b string) string {
	if goversion.Compare("go"+a, "go"+b) < 0 {
		return b
	}
	return a
}

// fail says that the go.mod package refused what its own parser gave: that can't happen.
func fail(err error) {
	if err != nil {
		panic(err)
	}
}

func (p *parting) formatted(dir string, f *modfile.File) []byte {
	f.Cleanup()
	content, err := f.Format()
	if err != nil {
		p.Refuse(dir, "%s can't be written: %v", path.Join(dir, manifestName), err)
	}
	return content
}

// require writes what a module asks for, beside what it asks for already and keeps.
func (p *parting) require(f *modfile.File, all map[string]asked, keep []*modfile.Require) {
	lines := slices.Clone(keep)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		a := all[name]
		at := slices.IndexFunc(lines, func(req *modfile.Require) bool { return req.Mod.Path == name })
		if at < 0 {
			lines = append(lines, &modfile.Require{Mod: modpath.Version{Path: name, Version: a.version}, Indirect: a.indirect})
		} else if !a.indirect && lines[at].Indirect {
			lines[at] = &modfile.Require{Mod: lines[at].Mod}
		}
	}
	f.SetRequireSeparateIndirect(lines)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		a := all[name]
		if a.replace != "" && !slices.ContainsFunc(f.Replace, func(r *modfile.Replace) bool { return r.Old.Path == name }) {
			fail(f.AddReplace(name, "", a.replace, a.by))
		}
	}
}

// sums gives a module the sums of what it asks for. Others in the file do no harm, and go mod tidy takes them out.
func (p *parting) sums(one *lang.Parcel, all map[string]asked) {
	needed := slices.ContainsFunc(slices.Sorted(maps.Keys(all)), func(name string) bool {
		return all[name].replace == "" ||
			all[name].by != ""
	})
	sums := p.content(path.Join(one.From.Dir, "go.sum"))
	if !needed || sums == nil {
		return
	}
	p.Out.Writes[path.Join(one.Dir, "go.sum")] = sums
	from := path.Join(one.From.Dir, "go.sum")
	p.summed[from] = append(p.summed[from], one.Dir)
}

// extend writes into a module that is there what it needs besides, and takes out what only files have used that are of
// other modules now.
func (p *parting) extend(one *lang.Parcel) {
	file := p.tree.Path(one.Was.Manifest)
	f, err := modfile.Parse(file, p.content(file), nil) // a second time, since it is changed
	if err != nil {
		return
	}
	all := map[string]asked{}
	outer := false
	for name, a := range p.wants(one) {
		outer = outer || a.replace == "" || a.by != ""
		if known := requirement(f, name); known == nil || known.Mod.Path != name || known.Indirect && !a.indirect {
			all[name] = a
		}
	}
	gone := p.gone(one, f)
	if len(all) == 0 && len(gone) == 0 {
		return
	}
	var keep []*modfile.Require
	for _, req := range f.Require {
		switch {
		case gone[req.Mod.Path] && outer && !p.isMember(req.Mod.Path):
			req = &modfile.Require{Mod: req.Mod, Indirect: true} // what is used may need it
		case gone[req.Mod.Path] || req.Indirect && !outer && len(gone) > 0:
			dropReplaced(f, req.Mod.Path)
			continue
		}
		keep = append(keep, req)
	}
	p.require(f, all, keep)
	p.version(one, f)
	p.edit(file, p.formatted(one.Dir, f))
	p.addSums(one)
	if len(one.Files) == 0 && len(gone) > 0 {
		p.Remark(file, 0, "no Go file is left in the module %s: it may go, with its go.sum", one.Name)
	}
}

func dropReplaced(f *modfile.File, name string) {
	for _, rep := range slices.Clone(f.Replace) {
		if rep.Old.Path == name {
			fail(f.DropReplace(rep.Old.Path, rep.Old.Version))
		}
	}
}

// isMember says whether a module is of the tree.
func (p *parting) isMember(name string) bool {
	return slices.ContainsFunc(p.All, func(one *lang.Parcel) bool { return one.Name == name })
}

// gone are the modules that only files have used that are of other modules now, and that nothing else names.
func (p *parting) gone(one *lang.Parcel, f *modfile.File) map[string]bool {
	had, still := map[string]bool{}, map[string]bool{}
	for name := range one.Had {
		if req := requirement(f, name); req != nil && !req.Indirect {
			had[req.Mod.Path] = true
		}
	}
	for name := range one.Libraries {
		if req := requirement(f, name); req != nil {
			still[req.Mod.Path] = true
		}
	}
	for other := range one.Reached(false) {
		still[other.Name] = true
	}
	for _, tool := range f.Tool {
		if req := requirement(f, tool.Path); req != nil {
			still[req.Mod.Path] = true
		}
	}
	var names []string
	out := map[string]bool{}
	for _, req := range f.Require {
		switch {
		case !had[req.Mod.Path] || still[req.Mod.Path]:
		case p.isMember(req.Mod.Path): // replace names it too, and only imports use it
			out[req.Mod.Path] = true
		default:
			names = append(names, req.Mod.Path)
		}
	}
	for i, named := range p.Q.Named(one.Was.Manifest, names, func(id project.FileID) bool { return p.Home(id) == one }) {
		if !named {
			out[names[i]] = true
		}
	}
	return out
}

// addSums adds the sums of the modules whose files have come to a module that is there.
func (p *parting) addSums(one *lang.Parcel) {
	file := path.Join(one.Was.Dir, "go.sum")
	own := p.content(file)
	known := map[string]bool{}
	for line := range bytes.Lines(own) {
		known[strings.TrimSpace(string(line))] = true
	}
	var lines []string
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.Of == nil || n.Of == one.Was {
			continue
		}
		for line := range bytes.Lines(p.content(path.Join(n.Of.Dir, "go.sum"))) {
			if sum := strings.TrimSpace(string(line)); sum != "" && !known[sum] {
				lines, known[sum] = append(lines, sum), true
			}
		}
	}
	if len(lines) == 0 {
		return
	}
	added := strings.Join(lines, "\n") + "\n"
	if own == nil {
		p.Out.Writes[path.Join(one.Dir, "go.sum")] = []byte(added)
		return
	}
	if newline := text.Newline(own); !bytes.HasSuffix(own, []byte("\n")) {
		added = newline + added
	}
	p.edit(file, append(slices.Clone(own), added...))
}

// join enters the modules in the go.work above them, or writes one beside the module that they are of.
func (p *parting) join(written []*lang.Parcel) {
	from := written[0].From
	for _, one := range written {
		if len(one.From.Dir) < len(from.Dir) {
			from = one.From
		}
	}
	dir := from.Dir
	for above := from.Dir; ; above = path.Dir(above) {
		if p.content(path.Join(above, "go.work")) != nil {
			dir = above
			break
		}
		if above == "." {
			break
		}
	}
	file := path.Join(dir, "go.work")
	content := p.content(file)
	f, err := modfile.ParseWork(file, content, nil)
	if err != nil {
		p.Refuse("", "%s can't be read: %v", file, err)
		return
	}
	use := func(one string) {
		disk := lang.Relative(dir, one)
		if one == dir {
			disk = "."
		}
		if !slices.ContainsFunc(f.Use, func(u *modfile.Use) bool { return path.Join(dir, u.Path) == one }) {
			f.AddNewUse(disk, "")
		}
	}
	language := ""
	if f.Go != nil {
		language = f.Go.Version
	}
	for _, one := range written {
		language = newer(language, p.languageOf(one))
	}
	if language != "" && (f.Go == nil || f.Go.Version != language) {
		fail(f.AddGoStmt(language))
	}
	if content == nil {
		for _, one := range p.All {
			if one.Was != nil && (one.Dir == dir || dir == "." || strings.HasPrefix(one.Dir, dir+"/")) &&
				(len(one.Files) > 0 || one.Was != from) {
				use(one.Dir)
			}
		}
	}
	for _, one := range written {
		use(one.Dir)
	}
	f.SortBlocks()
	f.Cleanup()
	after := modfile.Format(f.Syntax)
	if content == nil {
		p.Out.Writes[file] = after
		return
	}
	p.edit(file, after)
}
