package graph

import (
	"slices"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// HandsOn says whether a file does nothing but re-export what other files declare. It is known where outlines are.
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
	if n.lateOutline != nil && !n.lateOutline.ReExports {
		return false
	}
	outline := g.Outline(id)
	if outline == nil || outline.Own {
		return false
	}
	for i, t := range n.Targets {
		if t.Kind == lang.ToFile && (n.Mentions[i].Kind.Is(lang.ReExports) || n.Mentions[i].Text == lang.Everything ||
			len(outline.Exports) > 0) {
			return true
		}
	}
	return false
}

// Bindings gives the names that a mention brings into its file.
func (g *Graph) Bindings(r Reference) []lang.Binding {
	m := &g.Files[r.From].Mentions[r.Mention]
	bindings := g.RulesFor(m).Bindings
	content, err := g.Tree.Content(r.From)
	if bindings == nil || err != nil {
		return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
	}
	return bindings(content, m)
}

// Gives says where a name that a file exports is declared: the file itself, or files behind it where it hands the name
// on, with those that hand it on between. Nothing where the file is not known to give the name.
func (g *Graph) Gives(id project.FileID, name string) []project.FileID {
	if known, ok := g.given.Load(given{id, name}); ok {
		return known.([]project.FileID)
	}
	var out []project.FileID
	g.gives(id, name, map[given]bool{}, &out)
	slices.Sort(out)
	out = slices.Clip(slices.Compact(out))
	g.given.Store(given{id, name}, out)
	return out
}

type given struct {
	file project.FileID
	name string
}

// handed is what a file gives to others: by itself, and from the files behind it.
type handed struct {
	own      map[string]bool   // names that it declares
	locals   map[string]string // the name inside the file of what it gives by a list
	exported map[string][]way  // by the name that others see
	imported map[string][]way  // by the name inside the file
	all      []given
	stars    []project.FileID // files of which it gives all

	seek   sync.Once
	byName map[string][]project.FileID // those of stars that may give a name
}

// way is a mention by which a file has a name from another.
type way struct {
	mention int
	given
}

// handed gives what a file gives to others; nil where that is not known.
func (g *Graph) handed(id project.FileID) *handed {
	if known, ok := g.handing.Load(id); ok {
		return known.(*handed)
	}
	known, _ := g.handing.LoadOrStore(id, g.readHanded(id))
	return known.(*handed)
}

func (g *Graph) readHanded(id project.FileID) *handed {
	n, outline := &g.Files[id], g.Outline(id)
	if outline == nil {
		return nil
	}
	h := &handed{own: map[string]bool{}, locals: map[string]string{}, exported: map[string][]way{},
		imported: map[string][]way{}}
	h.own[lang.Everything] = outline.Own
	for _, name := range outline.Given() {
		h.own[name] = true
	}
	inside := map[string]bool{}
	for _, e := range outline.Exports {
		h.locals[e.Local] = e.Name
		inside[e.Name] = true
	}
	for i, t := range n.Targets {
		m := &n.Mentions[i]
		if t.Kind != lang.ToFile || !m.Kind.Is(lang.Brings) {
			continue
		}
		exports := m.Kind.Is(lang.ReExports) || m.Kind.Is(lang.Part) && m.Text == lang.Everything
		for _, b := range g.Bindings(Reference{From: id, Mention: i}) {
			from := given{t.File, b.Name}
			switch {
			case !exports:
				h.imported[b.Local] = append(h.imported[b.Local], way{i, from})
			case b == lang.Binding{Name: lang.Everything, Local: lang.Everything}:
				h.stars = append(h.stars, t.File)
			default:
				h.exported[b.Local] = append(h.exported[b.Local], way{i, from})
			}
			if exports || inside[b.Local] {
				h.all = append(h.all, from)
			}
		}
	}
	return h
}

// ways are how the file has a name from others, in the order of its mentions.
func (h *handed) ways(name string) []way {
	out := h.exported[name]
	if local := h.locals[name]; local != "" && len(h.imported[local]) > 0 {
		out = slices.Concat(out, h.imported[local])
		slices.SortStableFunc(out, func(a, b way) int { return a.mention - b.mention })
	}
	return out
}

// starsWith are the files of which all is given, without those that can't give a name.
func (g *Graph) starsWith(h *handed, name string) []project.FileID {
	const few = 8
	if len(h.stars) <= few {
		return h.stars
	}
	h.seek.Do(func() {
		h.byName = map[string][]project.FileID{}
		for _, star := range h.stars {
			names := map[string]bool{}
			g.namesOf(star, names, map[project.FileID]bool{})
			for name := range names {
				h.byName[name] = append(h.byName[name], star)
			}
		}
	})
	return h.byName[name]
}

// namesOf adds all names that a file may give.
func (g *Graph) namesOf(id project.FileID, names map[string]bool, seen map[project.FileID]bool) {
	h := g.handed(id)
	if seen[id] || h == nil {
		return
	}
	seen[id] = true
	for name := range h.own {
		names[name] = true
	}
	for name := range h.locals {
		names[name] = true
	}
	for name := range h.exported {
		names[name] = true
	}
	for _, star := range h.stars {
		g.namesOf(star, names, seen)
	}
}

func (g *Graph) gives(id project.FileID, name string, seen map[given]bool, out *[]project.FileID) {
	h := g.handed(id)
	if seen[given{id, name}] || h == nil {
		return
	}
	seen[given{id, name}] = true
	if h.own[name] {
		*out = append(*out, id)
		if name != lang.Everything {
			return
		}
	}
	before := len(*out)
	if name == lang.Everything {
		for _, from := range h.all {
			g.gives(from.file, from.name, seen, out)
		}
	} else {
		for _, w := range h.ways(name) {
			g.gives(w.file, w.name, seen, out)
		}
		if len(*out) == before && name != lang.DefaultName {
			for _, star := range g.starsWith(h, name) {
				g.gives(star, name, seen, out)
			}
		}
	}
	if len(*out) > before {
		*out = append(*out, id)
	}
}

// Meant adds the files that a reference to a file means, as far as they are wanted: the file, and if it only
// re-exports, those behind it that declare the names which the reference brings. What is not known means all that the
// file re-exports.
func (g *Graph) Meant(r Reference, file project.FileID, wanted func(project.FileID) bool,
	out []project.FileID) []project.FileID {
	add := func(ids ...project.FileID) {
		for _, id := range ids {
			if wanted(id) {
				out = append(out, id)
			}
		}
	}
	add(file)
	if !g.HandsOn(file) {
		return out
	}
	for _, b := range g.Bindings(r) {
		found := g.Gives(file, b.Name)
		if len(found) == 0 {
			found = g.Gives(file, lang.Everything)
		}
		add(found...)
	}
	return out
}

// WritesEndings says whether most relative imports in the project name the ending, where it may be left out.
func (g *Graph) WritesEndings() bool {
	g.counted.Do(func() {
		with, without := 0, 0
		for id := range g.Files {
			n := &g.Files[id]
			for i, t := range n.Targets {
				m := &n.Mentions[i]
				if t.Kind != lang.ToFile || !m.Kind.Is(lang.Brings) || !lang.IsRelative(m.Text) ||
					!g.endings(g.Tree.Path(t.File)) {
					continue
				}
				if g.endings(m.Text) {
					with++
				} else {
					without++
				}
			}
		}
		g.withEndings = with > without
	})
	return g.withEndings
}

// endings says whether an import of a file may name its ending, or leave it out.
func (g *Graph) endings(p string) bool {
	writer := g.Languages.Reexports(p)
	return writer != nil && writer.Endings
}
