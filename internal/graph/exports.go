package graph

import (
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// HandsOn says whether a file does nothing but hand on what other files declare. It is known where outlines are.
func (g *Graph) HandsOn(id project.FileID) bool {
	g.handsOn.Do(func() {
		g.hands = make([]bool, len(g.Files))
		parallel.Do(len(g.hands), func(id int) { g.hands[id] = g.handsOnly(project.FileID(id)) })
	})
	return g.hands[id]
}

func (g *Graph) handsOnly(id project.FileID) bool {
	n := &g.Files[id]
	if len(n.Targets) == 0 {
		return false
	}
	if n.later != nil && !n.later.handsOn {
		return false
	}
	outline := g.Outline(id)
	if outline == nil || outline.Own {
		return false
	}
	for i, t := range n.Targets {
		if t.Kind == lang.ToFile && (n.Mentions[i].Kind == lang.ExportFrom || n.Mentions[i].Text == lang.Everything || len(outline.Exports) > 0) {
			return true
		}
	}
	return false
}

// Bindings gives the names that a mention brings into its file.
func (g *Graph) Bindings(r Reference) []lang.Binding {
	m := &g.Files[r.From].Mentions[r.Mention]
	binder, ok := g.Resolver(m).(lang.Binder)
	content, err := g.Tree.Content(r.From)
	if !ok || err != nil {
		return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
	}
	return binder.Bindings(content, m)
}

// Gives says where a name that a file exports is declared: the file itself, or files behind it where it hands the name on,
// with those that hand it on between. Nothing where the file is not known to give the name.
func (g *Graph) Gives(id project.FileID, name string) []project.FileID {
	var out []project.FileID
	g.gives(id, name, map[given]bool{}, &out)
	slices.Sort(out)
	return slices.Compact(out)
}

type given struct {
	file project.FileID
	name string
}

func (g *Graph) gives(id project.FileID, name string, seen map[given]bool, out *[]project.FileID) {
	n, outline := &g.Files[id], g.Outline(id)
	if seen[given{id, name}] || outline == nil {
		return
	}
	seen[given{id, name}] = true
	if outline.Gives(name) {
		*out = append(*out, id)
		if name != lang.Everything {
			return
		}
	}
	local := "" // the name inside the file of what it gives by a list
	for _, e := range outline.Exports {
		if e.Local == name {
			local = e.Name
		}
	}
	before := len(*out)
	var stars []project.FileID
	for i, t := range n.Targets {
		m := &n.Mentions[i]
		if t.Kind != lang.ToFile || m.Kind != lang.ExportFrom && m.Kind != lang.Import && m.Kind != lang.FromName {
			continue
		}
		for _, b := range g.Bindings(Reference{From: id, Mention: i}) {
			exports := m.Kind == lang.ExportFrom || m.Kind == lang.FromName && m.Text == lang.Everything
			switch {
			case name == lang.Everything && exports:
				g.gives(t.File, b.Name, seen, out)
			case exports && b == lang.Binding{Name: lang.Everything, Local: lang.Everything}:
				stars = append(stars, t.File)
			case exports && b.Local == name, !exports && b.Local == local && local != "":
				g.gives(t.File, b.Name, seen, out)
			case name == lang.Everything && slices.ContainsFunc(outline.Exports, func(e lang.Binding) bool { return e.Name == b.Local }):
				g.gives(t.File, b.Name, seen, out)
			}
		}
	}
	if len(*out) == before && name != lang.DefaultName {
		for _, star := range stars {
			g.gives(star, name, seen, out)
		}
	}
	if len(*out) > before {
		*out = append(*out, id)
	}
}

// Meant adds the files that a reference to a file means: the file, and if it only hands on, those behind it that declare the names which
// the reference brings. What can't be told means all that the file hands on.
func (g *Graph) Meant(r Reference, file project.FileID, out []project.FileID) []project.FileID {
	out = append(out, file)
	if !g.HandsOn(file) {
		return out
	}
	for _, b := range g.Bindings(r) {
		found := g.Gives(file, b.Name)
		if len(found) == 0 {
			found = g.Gives(file, lang.Everything)
		}
		out = append(out, found...)
	}
	return out
}
