package golang

import (
	"fmt"
	"path"
	"strings"

	"golang.org/x/mod/modfile"
	modpath "golang.org/x/mod/module"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file says which modules a project is parted into, and who needs whom. modulefiles.go writes their files, and
// everywhere.go the commands that name all packages below a folder.

// parting is modules in the making.
type parting struct {
	*Resolver
	lang.Splitter
	// summed are the modules that get the sums of an old one, by its go.sum.
	summed map[string][]string
	old    map[string]*modfile.File // what the modules say before, by their folders; nil for one that can't be read
}

// Part writes the modules that the convention wants: what each asks for follows from the names that its files use.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	p := &parting{Resolver: r, Splitter: lang.NewSplitter(r.tree, q), old: map[string]*modfile.File{},
		summed: map[string][]string{}}
	return p.Work(lang.Reading{
		Missing:  "no " + manifestName + " says what its files are of",
		Packages: r.Packages(), Tests: isTest,
		Counts: func(file string) bool { return strings.HasSuffix(file, ".go") },
		Names:  func(m *lang.Mention) bool { return m.Kind == PackageImport || m.Kind == NameUse },
	}, p.look, p.embeds, p.write)
}

// said is what the module in a folder says before; nil where it can't be read in full.
func (p *parting) said(dir string) *modfile.File {
	if f, known := p.old[dir]; known {
		return f
	}
	file := path.Join(dir, manifestName)
	p.old[dir] = nil
	if content := p.content(file); content != nil {
		f, err := modfile.Parse(file, content, nil)
		if err == nil {
			p.old[dir] = f
		}
	}
	return p.old[dir]
}

// content is a file of the tree before; nil for none.
func (p *parting) content(file string) []byte {
	id, there := p.tree.Lookup(file)
	if !there {
		return nil
	}
	content, err := p.tree.Content(id)
	if err != nil {
		return nil
	}
	return content
}

// look says what stands against a module.
func (p *parting) look(one *lang.Parcel) {
	if p.said(one.From.Dir) == nil {
		p.Refuse(one.Dir, "%s says what this program does not understand: %v", path.Join(one.From.Dir, manifestName),
			p.unread(one.From.Dir))
		return
	}
	if p.Keeps(one, "module", p.named(one, one.Asked.Name)) {
		return
	}
	one.Name = p.named(one, one.Asked.Name)
	if given, err := modfile.ParseLax(manifestName, p.template(one), nil); err == nil && given.Module != nil {
		one.Name = given.Module.Mod.Path
	}
	if err := modpath.CheckImportPath(one.Name); err != nil {
		p.Refuse(one.Dir, "%s is no path of a module: %v", one.Name, err)
	}
	p.Alone(one, func(*lang.Parcel) string { return manifestName })
}

func (p *parting) unread(dir string) error {
	_, err := modfile.Parse(manifestName, p.content(path.Join(dir, manifestName)), nil)
	return err
}

// named is the path of a new module: that of the old one with the folders below it, so that a package is imported by
// the same path whether its folder is a module or not. A name without a slash stands for the last folder.
func (p *parting) named(one *lang.Parcel, name string) string {
	if strings.Contains(name, "/") {
		return name
	}
	head, _, _ := modpath.SplitPathVersion(one.From.Name)
	rest, below := strings.CutPrefix(one.Dir, one.From.Dir+"/")
	switch {
	case one.From.Dir == ".":
		rest = one.Dir
	case !below && strings.HasSuffix(head, "/"+one.From.Dir):
		head, rest = strings.TrimSuffix(head, "/"+one.From.Dir), one.Dir
	case !below:
		rest = path.Base(one.Dir)
	}
	if name != "" {
		rest = path.Join(path.Dir(rest), name)
	}
	return head + "/" + rest
}

// embeds refuses modules whose files embed what would lie in another: no pattern leads there.
func (p *parting) embeds() {
	for id := range p.tree.Files {
		one := p.Home(project.FileID(id))
		mentions, targets := p.Q.Mentions(project.FileID(id))
		for i := range mentions {
			if mentions[i].Kind != Embed {
				continue
			}
			for _, to := range p.embeddedBy(targets[i]) {
				other := p.Home(to)
				if other == one || one == nil || other == nil || !one.Wanted() && !other.Wanted() {
					continue
				}
				why := fmt.Sprintf("%s embeds %s, and a module embeds nothing of another", p.Where(project.FileID(id),
					mentions[i].Span.Start), p.tree.Path(to))
				if one.Wanted() {
					p.Refuse(one.Dir, "%s", why)
				} else {
					p.Refuse(other.Dir, "%s", why)
				}
				break
			}
		}
	}
}

func (p *parting) embeddedBy(t lang.Target) []project.FileID {
	switch t.Kind {
	case lang.ToFile:
		return []project.FileID{t.File}
	case lang.ToSet:
		return t.Set()
	case lang.ToFolder:
		var out []project.FileID
		for from, to := p.tree.Below(t.Folder()); from < to; from++ {
			out = append(out, from)
		}
		return out
	}
	return nil
}

// asked is what a module asks for.
type asked struct {
	version  string
	indirect bool   // no file of it names the module
	replace  string // the folder that stands for it, seen from the module; empty for none
	by       string // the version that replaces it, where another module does
}

// wants is what a module asks for: what its files use, and for that what it needs besides. What that is the modules
// themselves would say, which are not here. So all that the old module asked for is taken: it has the versions that
// were chosen (go.dev/ref/mod, minimal version selection).
func (p *parting) wants(one *lang.Parcel) map[string]asked {
	out := map[string]asked{}
	put := func(name string, a asked) {
		if known, is := out[name]; !is || known.indirect && !a.indirect {
			out[name] = a
		}
	}
	outer := p.libraries(one, false, put)
	reached := one.Reached(false)
	for _, other := range p.All {
		_, direct := one.Inside[other]
		if !reached[other] || other.Name == "" {
			continue
		}
		name, a := p.member(one, other)
		a.indirect = !direct
		if direct || one.Was == nil || other.Was == nil {
			put(name, a)
		}
		outer = p.libraries(other, true, put) || outer
	}
	if !outer {
		return out
	}
	for _, req := range p.said(one.From.Dir).Require {
		if !p.isMember(req.Mod.Path) {
			put(req.Mod.Path, p.askedBefore(one, one.From, req, true))
		}
	}
	return out
}

// libraries puts what the files of a module use of others. It reports whether they use any.
func (p *parting) libraries(one *lang.Parcel, indirect bool, put func(name string, a asked)) (any bool) {
	for _, name := range one.Sorted() {
		n := one.Libraries[name]
		if n.Of == nil || indirect && !n.Normal {
			continue
		}
		req := requirement(p.said(n.Of.Dir), name)
		if req == nil {
			if !indirect && one.Written() && !ofPlatform(name) {
				p.Remark(p.tree.Path(n.By), n.At, "it uses %s, which no %s asks for", name, manifestName)
			}
			continue
		}
		any = true
		put(req.Mod.Path, p.askedBefore(one, n.Of, req, indirect))
	}
	return any
}

// ofPlatform says whether a package is of the language's own library: their paths begin with a word without a dot.
func ofPlatform(importPath string) bool {
	first, _, _ := strings.Cut(importPath, "/")
	return !strings.Contains(first, ".")
}

// requirement is what a module asks for that has a package; nil for none.
func requirement(f *modfile.File, importPath string) (out *modfile.Require) {
	if f == nil {
		return nil
	}
	for _, req := range f.Require {
		name := req.Mod.Path
		if (importPath == name || strings.HasPrefix(importPath, name+"/")) && (out == nil || len(name) > len(out.Mod.Path)) {
			out = req
		}
	}
	return out
}

// askedBefore is what another module asks for in the same way as an old one does.
func (p *parting) askedBefore(one *lang.Parcel, k *lang.Package, req *modfile.Require, indirect bool) asked {
	a := asked{version: req.Mod.Version, indirect: indirect}
	for _, rep := range p.said(k.Dir).Replace {
		if rep.Old.Path != req.Mod.Path || rep.Old.Version != "" && rep.Old.Version != req.Mod.Version {
			continue
		}
		if modfile.IsDirectoryPath(rep.New.Path) {
			a.replace = rep.New.Path
			if !path.IsAbs(rep.New.Path) {
				a.replace = p.seen(one, path.Join(k.Dir, rep.New.Path))
			}
		} else {
			a.replace, a.by = rep.New.Path, rep.New.Version
		}
	}
	return a
}

// seen is a folder of the old tree as a module names it.
func (p *parting) seen(one *lang.Parcel, dir string) string {
	if k := p.was(dir); k != nil {
		dir = project.Dir(p.Q.Then(k.Manifest))
	}
	return lang.Relative(one.Dir, dir)
}

// was is the module whose folder it was; nil for none.
func (p *parting) was(dir string) *lang.Package {
	if above := p.Above(dir); len(above) > 0 && above[0].Dir == dir {
		return above[0]
	}
	return nil
}

// unversioned is the version of a module that is only in the tree, as the go command writes it.
const unversioned = "v0.0.0-00010101000000-000000000000"

// member is how a module asks for another of the tree: as modules did before, else by its folder.
func (p *parting) member(one, other *lang.Parcel) (name string, a asked) {
	name = other.Name
	if other.Was != nil {
		for _, k := range p.All {
			if k.Was == nil || p.said(k.Was.Dir) == nil {
				continue
			}
			f := p.said(k.Was.Dir)
			for _, rep := range f.Replace { // it may be asked for by another name
				if modfile.IsDirectoryPath(rep.New.Path) && path.Join(k.Was.Dir, rep.New.Path) == other.Was.Dir {
					name = rep.Old.Path
				}
			}
			for _, req := range f.Require {
				if req.Mod.Path == name {
					return name, p.askedBefore(one, k.Was, req, false)
				}
			}
		}
	}
	return name, asked{version: unversioned, replace: lang.Relative(one.Dir, other.Dir)}
}
