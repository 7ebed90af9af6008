package rust

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// Packages are the packages of the tree with what they ask for, and the crates that their code names. What code uses
// unasked the compiler tells.
func (r *Resolver) Packages() (out []lang.Package) {
	if !r.any {
		return nil
	}
	f := r.modules()
	uses := map[*pack][]lang.PackageUse{}
	for _, c := range f.crates {
		for _, m := range c.all {
			uses[c.pack] = usesOf(m, c.kind == aTest || c.kind == anExample || c.kind == aBench || slices.Contains(conds(m), "cfg(test)"), uses[c.pack])
		}
	}
	for _, p := range f.packs {
		if id, there := r.tree.Lookup(path.Join(p.dir, manifestName)); there {
			out = append(out, lang.Package{Manifest: id, Dir: p.dir, Name: p.lib, Asks: p.asks, Uses: uses[p]})
		}
	}
	return out
}

// usesOf are the names with which the paths of a module begin.
func usesOf(m *module, test bool, out []lang.PackageUse) []lang.PackageUse {
	seen := map[string]bool{}
	note := func(name string) {
		if !seen[name] {
			seen[name] = true
			out = append(out, lang.PackageUse{Name: name, From: m.file, Test: test})
		}
	}
	for i := range m.text.paths {
		p := &m.text.paths[i]
		first, _, _ := strings.Cut(p.text, "::")
		note(first)
	}
	for i := range m.text.uses {
		note(m.text.uses[i].path[0])
	}
	for i := range m.text.items {
		if one := &m.text.items[i]; one.kind == isExternCrate {
			note(one.original)
		}
	}
	for i := range m.text.attrs {
		if first, _, more := strings.Cut(m.text.attrs[i].text, "::"); more {
			note(first)
		}
	}
	return out
}
