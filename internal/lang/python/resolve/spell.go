package resolve

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
)

// place is where a module lies: its path without the ending, or the folder of a package.
func (r *Resolver) place(t lang.Target) string {
	if t.Kind == lang.ToFolder {
		return t.Folder()
	}
	p := r.tree.Path(t.File)
	p = strings.TrimSuffix(p, path.Ext(p))
	if above, is := strings.CutSuffix(p, "__init__"); is && (above == "" || strings.HasSuffix(above, "/")) {
		return project.Dir(p)
	}
	return p
}

// absolute gives the name by which a file imports a module: from the first folder from which it can.
func (r *Resolver) absolute(from string, t lang.Target) (string, bool) {
	place := r.place(t)
	// the deepest names it best; the folder of a script that is none of the roots, last
	starts := slices.Clone(r.starts(from))
	slices.SortStableFunc(starts, func(a, b string) int {
		if own := slices.Contains(r.roots, a); own != slices.Contains(r.roots, b) {
			if own {
				return -1
			}
			return 1
		}
		return len(strings.TrimPrefix(b, ".")) - len(strings.TrimPrefix(a, "."))
	})
	for _, root := range starts {
		if text, ok := names.Qualified(root, place, "."); ok && syntax.ModuleName(text) &&
			r.module(from, text).Equal(t) {
			return text, true
		}
	}
	return "", false
}

// Dotted is the name of a module by its path; empty for what is none.
func (r *Resolver) Dotted(p string) string {
	id, ok := r.tree.Lookup(p)
	if !ok || !strings.HasSuffix(p, ".py") {
		return ""
	}
	name, _ := r.absolute(p, lang.File(id))
	return name
}

// relative gives the name by which a file imports a module of its own outermost package, with dots.
func (r *Resolver) relative(from string, t lang.Target) (string, bool) {
	dir, place := path.Dir(from), r.place(t)
	dots := "."
	for dir != place && !strings.HasPrefix(place, dir+"/") {
		if dir == "." {
			return "", false
		}
		dir = path.Dir(dir)
		dots += "."
	}
	if !r.inPackage(from, dir) {
		return "", false
	}
	text := dots + strings.ReplaceAll(strings.TrimPrefix(strings.TrimPrefix(place, dir), "/"), "/", ".")
	return text, r.module(from, text).Equal(t)
}

// inPackage says whether a folder may be a package around a file: dots lead no further up than the folders from which
// imports start.
func (r *Resolver) inPackage(from, dir string) bool {
	for at := project.Dir(from); at != dir && at != "."; at = project.Dir(at) {
		if r.isRoot(at) && !r.regular(at) {
			return false
		}
	}
	return dir != "." && !r.isRoot(dir)
}

// spelled gives the name of a module in the manner of an old one: relative stays relative where it can.
func (r *Resolver) spelled(from, old string, t lang.Target) (text, remark string, ok bool) {
	if strings.HasPrefix(old, ".") {
		if text, ok := r.relative(from, t); ok {
			return text, "", true
		}
		remark = "it is of another package now, so the name is absolute"
	}
	text, ok = r.absolute(from, t)
	return text, remark, ok
}

// Spell writes the strings that name modules, or something in one.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m, from := q.Mention, r.tree.Path(q.From)
	if !q.Target.Kind.Inside() {
		return lang.Spelling{Text: m.Text}, true
	}
	if m.Kind == syntax.ModuleCall {
		text, ok := r.absolute(from, q.Target)
		return lang.Spelling{Text: text}, ok
	}
	if m.Kind == syntax.PackagePath {
		return r.spellPackaged(q)
	}
	old := q.Old.(*Resolver)
	before, end := old.text(old.tree.Path(q.OldFrom), m)
	if (m.Kind == syntax.ModuleSetting || m.Kind == syntax.Program) && !before.Kind.Inside() {
		q.Old, q.Mention = old.tree.Resolver(paths.Setting), asPath(m)
		return r.tree.Resolver(paths.Setting).Spell(q)
	}
	text, ok := r.absolute(from, q.Target)
	if !ok || end == 0 {
		return lang.Spelling{}, false
	}
	text += m.Text[end:]
	renamed := *m
	renamed.Text = text
	return lang.Spelling{Text: text}, r.Resolve(q.From, &renamed).Equal(q.Target)
}

// Settles says which mentions are written by statement or by file.
func (r *Resolver) Settles(m *lang.Mention) bool {
	switch m.Kind {
	case syntax.ModuleImport, syntax.FromModule, syntax.FromName, syntax.ModuleUse, syntax.AnchorFolder,
		syntax.AnchorPath:
		return true
	}
	return m.Kind == syntax.ModuleText && syntax.Exported(m)
}
