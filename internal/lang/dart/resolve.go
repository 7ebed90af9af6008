package dart

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Resolver answers for one tree.
type Resolver struct {
	tree  *lang.Tree
	any   bool // the tree has Dart
	packs []*pack
}

// New makes what answers for a tree.
func New(tree *lang.Tree) *Resolver {
	r := &Resolver{tree: tree,
		any: slices.ContainsFunc(tree.Files, func(f project.File) bool { return isDart(f.Path) })}
	if r.any {
		r.packs = packages(tree.Project)
	}
	return r
}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{Kinds: Kinds, Resolver: r, Owes: r.Owes, Place: r.Place, Bindings: bindings, Packages: r.Packages,
		Part: r.Part, Parts: r.Parts}
}

// bindings are the names that an import or export brings.
func bindings(_ []byte, m *lang.Mention) (out []lang.Binding) {
	o := lang.Own[*own](m)
	if o == nil || len(o.names) == 0 {
		return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
	}
	for _, name := range o.names {
		out = append(out, lang.Binding{Name: name, Local: name})
	}
	return out
}

// Resolve says where an address leads (the Dart language specification, "URIs").
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	at, kind := r.place(r.tree.Path(from), m.Text)
	if kind != lang.ToFile {
		return lang.No(kind)
	}
	if id, there := r.tree.Lookup(at); there {
		return lang.File(id)
	}
	if lang.Leaves(at) {
		return lang.No(lang.ToOutside)
	}
	return lang.No(lang.ToNothing)
}

// place gives the path that an address stands for.
func (r *Resolver) place(from, address string) (at string, kind lang.TargetKind) {
	if rest, is := strings.CutPrefix(address, "package:"); is {
		name, file, _ := strings.Cut(rest, "/")
		for _, p := range r.packs {
			if p.name == name {
				return path.Join(p.dir, "lib", file), lang.ToFile
			}
		}
		return "", lang.ToPackage
	}
	if strings.Contains(address, ":") {
		return "", lang.ToPackage
	}
	if strings.HasPrefix(address, "/") {
		return "", lang.ToOutside
	}
	return path.Join(path.Dir(from), address), lang.ToFile
}

// Spell writes an address anew. One by package stays so, and a relative one stays relative: a library that is loaded by
// both is two libraries.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m := q.Mention
	if o := lang.Own[*own](m); o != nil && o.parted {
		return lang.Spelling{}, false
	}
	from := r.tree.Path(q.From)
	to := ""
	switch q.Target.Kind {
	case lang.ToFile:
		to = r.tree.Path(q.Target.File)
	default:
		old, ok := q.Old.(*Resolver)
		if !ok || strings.Contains(m.Text, ":") {
			return lang.Spelling{Text: m.Text}, strings.Contains(m.Text, ":")
		}
		was, kind := old.place(old.tree.Path(q.OldFrom), m.Text)
		if kind != lang.ToFile || lang.Leaves(was) {
			return lang.Spelling{}, false
		}
		to = was
		if q.Goes != nil {
			to = q.Goes(was)
		}
	}
	if strings.HasPrefix(m.Text, "package:") || r.packOf(from) != r.packOf(to) && q.Target.Kind == lang.ToFile &&
		!crossed(q) {
		address := r.addressOf(to)
		return lang.Spelling{Text: address}, address != ""
	}
	if r.inLib(from) != r.inLib(to) && !crossed(q) { // it would be another library than the one by package
		return lang.Spelling{}, false
	}
	return lang.Spelling{Text: strings.TrimPrefix(lang.Relative(path.Dir(from), to), "./")}, true
}

// crossed says whether a relative address led into lib from outside before: then it named another library already.
func crossed(q lang.Respelling) bool {
	old, ok := q.Old.(*Resolver)
	return ok && q.Before.Kind == lang.ToFile && old.inLib(old.tree.Path(q.OldFrom)) != old.inLib(old.tree.Path(q.Before.File))
}

// inLib gives the lib folder that a file lies in; empty for none.
func (r *Resolver) inLib(file string) string {
	if p := r.packOf(file); p != nil {
		if lib := path.Join(p.dir, "lib"); below(file, lib) {
			return lib
		}
	}
	return ""
}
