package java

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Resolver answers for one tree.
type Resolver struct {
	tree  *lang.Tree
	any   bool // the tree has Java
	ix    index
	roots roots
}

// New makes what answers for a tree.
func New(tree *lang.Tree) *Resolver {
	return &Resolver{tree: tree,
		any: slices.ContainsFunc(tree.Files, func(f project.File) bool { return isJava(f.Path) })}
}

// own is what only Java knows of a mention.
type own struct {
	name string // of an import: all of it
	use  *use   // of a name
}

// Resolve says where a mention leads.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	ix := r.index()
	e := ix.files[from]
	switch m.Kind {
	case Import:
		o := lang.Own[own](m)
		all, _ := r.imported(from, o.name)
		if len(all) == 0 && len(ix.own[parent(o.name)]) > 0 {
			return lang.No(lang.ToNothing) // the package is here, and has no such type
		}
		return r.target(all)
	case StarImport:
		o := lang.Own[own](m)
		if all := r.declares(from, o.name); len(all) > 0 {
			return r.target(all)
		}
		if ids := ix.own[o.name]; len(ids) > 0 {
			return lang.Set(project.Dir(r.tree.Path(ids[0])), ids)
		}
		return lang.No(lang.ToPackage)
	case Name, Again, DocName, Foreign:
		u := lang.Own[own](m).use
		if e == nil || u == nil {
			return lang.No(lang.ToOutside)
		}
		return r.target(r.means(from, e, u, int(u.owner)).all)
	case OwnPackage:
		if e != nil && e.fits && e.pkg == m.Text {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case OwnClass:
		if e != nil && e.label >= 0 && e.class == m.Text {
			return lang.File(from)
		}
		return lang.No(lang.ToNothing)
	case ClassText, ClassWord:
		all, _ := r.named(from, m.Text)
		return r.target(all)
	case SpaceText, SpaceWord, Head:
		return r.spaceTarget(from, m.Text)
	case Module:
		return r.resolveModule(from, m.Text)
	case ClassPath:
		return r.resolveClassPath(from, m.Text)
	case Resource:
		return r.resolveResource(from, m)
	}
	return lang.No(lang.ToOutside)
}

// imported gives the type that an import names, or the one whose member it names, and the name of that type.
func (r *Resolver) imported(from project.FileID, name string) ([]declared, string) {
	for ; name != ""; name = parent(name) {
		if all := r.declares(from, name); len(all) > 0 {
			return all, name
		}
	}
	return nil, ""
}

// target is where types are declared.
func (r *Resolver) target(all []declared) lang.Target {
	switch len(all) {
	case 0:
		return lang.No(lang.ToPackage)
	case 1:
		return lang.File(all[0].file)
	}
	var ids []project.FileID
	for _, d := range all {
		ids = append(ids, d.file)
	}
	slices.Sort(ids)
	return lang.Set(project.Dir(r.tree.Path(ids[0])), slices.Compact(ids))
}

// spaceTarget gives the files of a package and of those below it.
func (r *Resolver) spaceTarget(from project.FileID, name string) lang.Target {
	ids := r.index().within[name]
	if exact(r, from) {
		ids = r.ix.own[name]
	}
	if len(ids) == 0 {
		return lang.No(lang.ToPackage)
	}
	dir := "."
	if own := r.ix.own[name]; len(own) > 0 {
		dir = project.Dir(r.tree.Path(own[0]))
	}
	return lang.Set(dir, ids)
}

// Asks says whether a file is looked at for names: where the tree has Java.
func (r *Resolver) Asks(project.FileID, []lang.Mention, []lang.Target) bool { return r.any }

// Second finds the names that a file uses and another declares.
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	p := r.tree.Path(from)
	if !isJava(p) || r.index().files[from] == nil {
		return lang.InOrder(append(r.modulesIn(from, content), r.wordsIn(from, content)...))
	}
	e := r.ix.files[from]
	var out []lang.Mention
	add := func(at source.Span, text string, kind *lang.Kind, o own) *lang.Mention {
		out = append(out, lang.Mention{Span: at, Text: text, Kind: kind, Form: lang.Plain, Detail: &lang.Detail{Own: o}})
		return &out[len(out)-1]
	}
	if e.pkgAt.Len() > 0 && (e.fits || e.loose || r.rooted(e)) {
		add(e.pkgAt, e.file.pkg, OwnPackage, own{})
	}
	if e.label >= 0 {
		d := &e.types[e.label]
		for _, at := range append([]source.Span{d.at}, d.makes...) {
			add(at, d.name, OwnClass, own{})
		}
	}
	brought := map[project.FileID]bool{} // files that an import or a name led to already
	for i := range e.imports {
		one := &e.imports[i]
		kind := Import
		if one.star {
			kind = StarImport
		}
		m := add(one.at, one.name, kind, own{name: one.name})
		if t := r.Resolve(from, m); t.Kind == lang.ToFile {
			brought[t.File] = true
		}
	}
	for i := range e.uses {
		u := &e.uses[i]
		f := r.means(from, e, u, int(u.owner))
		switch {
		case len(f.all) == 0:
			if name := partsOf(u.text, 1); !u.hidden && r.ix.top[name] && !u.doc {
				add(source.Span{Start: u.at.Start, End: int(e.ends[u.ends])}, name, Foreign, own{use: u})
			}
			continue
		case f.all[0].file == from && f.all[0].at != e.label:
			continue // nested, or beside
		}
		kind := Again
		if u.doc {
			kind = DocName
		} else if len(f.all) == 1 && f.all[0].file != from && !brought[f.all[0].file] {
			kind = Name
			brought[f.all[0].file] = true
		}
		at := source.Span{Start: u.at.Start, End: int(e.ends[int(u.ends)+f.parts-1])}
		add(at, partsOf(u.text, f.parts), kind, own{use: u})
	}
	out = r.textsIn(from, e, content, out)
	slices.SortStableFunc(out, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
	return lang.InOrder(out)
}

// rooted says whether a file lies below a root, so that its package should agree with its folder.
func (r *Resolver) rooted(e *entry) bool {
	_, held := r.roots.of(project.Dir(e.path))
	return held
}

// named gives who declares a type that a text names: a.B, a.B$C.
func (r *Resolver) named(from project.FileID, text string) ([]declared, string) {
	name := strings.ReplaceAll(text, "$", ".")
	if at := strings.IndexAny(name, ":#"); at >= 0 {
		name = name[:at]
	}
	for ; strings.Contains(name, "."); name = parent(name) {
		if all := r.declares(from, name); len(all) > 0 {
			return all, name
		}
	}
	return nil, ""
}
