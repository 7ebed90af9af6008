package carry

import (
	"fmt"
	"maps"
	"path"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Removal is what is left of a wish to remove files: those that can go, and who needs the others.
type Removal struct {
	Goes []project.FileID // in the order of their paths
	// Needed are the files that stay because something that stays needs them, each with a sentence for each that does.
	Needed map[project.FileID][]string
	// Edits take the entries of lists out that name what goes.
	Edits map[project.FileID][]source.Edit
	// Likely are texts that only look like references to what goes: they are left as they are.
	Likely []graph.Reference
}

// Remove works out which of some files can be removed: those to which nothing that stays refers for certain. An entry of
// a list in settings that names one goes with it.
func Remove(g *graph.Graph, wanted []project.FileID) *Removal {
	r := &Removal{Needed: map[project.FileID][]string{}, Edits: map[project.FileID][]source.Edit{}}
	going := map[project.FileID]bool{}
	for _, id := range wanted {
		going[id] = true
	}
	users := usersOf(g)
	for again := true; again; { // who stays may need others that were to go
		again = false
		for _, id := range slices.Sorted(maps.Keys(going)) {
			if needs := r.needs(g, id, users[id], going); len(needs) > 0 {
				r.Needed[id] = needs
				delete(going, id)
				again = true
			}
		}
	}
	r.Goes = slices.Sorted(maps.Keys(going))
	items := map[project.FileID][]source.Span{}
	for _, id := range r.Goes {
		for _, ref := range users[id] {
			if at, ok := r.takesOut(g, ref, going); ok {
				items[ref.From] = append(items[ref.From], at)
			}
		}
	}
	for id, places := range items {
		slices.SortFunc(places, func(a, b source.Span) int { return a.Start - b.Start })
		if content, err := g.Tree.Content(id); err == nil {
			r.Edits[id], _ = g.Languages.DropItems(g.Tree.Path(id), content, slices.Compact(places))
		}
	}
	return r
}

// usersOf gives for each file the references that lead to it, to a folder that it lies in, or to a set that it is of.
func usersOf(g *graph.Graph) map[project.FileID][]graph.Reference {
	out := map[project.FileID][]graph.Reference{}
	for id := range g.Files {
		for i, t := range g.Files[id].Targets {
			ref := graph.Reference{From: project.FileID(id), Mention: i}
			switch t.Kind {
			case lang.ToFile:
				out[t.File] = append(out[t.File], ref)
				if t.Twin != project.None {
					out[t.Twin] = append(out[t.Twin], ref)
				}
			case lang.ToFolder:
				from, to := g.Tree.Below(t.Folder())
				for file := from; file < to; file++ {
					out[file] = append(out[file], ref)
				}
			case lang.ToSet:
				for _, file := range t.Set() {
					out[file] = append(out[file], ref)
				}
			}
		}
	}
	return out
}

// needs says, one sentence each, what that stays needs a file.
func (r *Removal) needs(g *graph.Graph, id project.FileID, users []graph.Reference, going map[project.FileID]bool) (out []string) {
	for _, ref := range users {
		m := &g.Files[ref.From].Mentions[ref.Mention]
		if going[ref.From] || ref.From == id || m.Likely || r.survives(g, ref, going) || r.listed(g, ref) {
			continue
		}
		out = append(out, fmt.Sprintf("%s:%s  %s", g.Tree.Path(ref.From), g.Position(ref), m.Text))
	}
	for file := range g.Files {
		if from := project.FileID(file); !going[from] && from != id {
			for _, link := range g.Links(from) {
				if link.To == id {
					out = append(out, fmt.Sprintf("%s  %s", g.Tree.Path(from), link.Why))
				}
			}
		}
	}
	// what every folder of its language has goes with the last file of its folder
	if g.Languages.Fixture(g.Tree.Path(id)).Follows {
		from, to := g.Tree.Below(path.Dir(g.Tree.Path(id)))
		for other := from; other < to; other++ {
			if other != id && !going[other] {
				out = append(out, fmt.Sprintf("%s  stays in its folder", g.Tree.Path(other)))
				break
			}
		}
	}
	return out
}

// survives says whether a reference to a folder, or to a set of files, still leads to something when some go. The members
// of a package are needed one by one, by their names.
func (r *Removal) survives(g *graph.Graph, ref graph.Reference, going map[project.FileID]bool) bool {
	t := g.Files[ref.From].Targets[ref.Mention]
	m := &g.Files[ref.From].Mentions[ref.Mention]
	switch t.Kind {
	case lang.ToFolder:
		from, to := g.Tree.Below(t.Folder())
		for file := from; file < to; file++ {
			if !going[file] {
				return true
			}
		}
		return false
	case lang.ToSet:
		if !m.Kind.Is(lang.Packed) && m.Kind.Is(lang.Pattern) {
			return true // a pattern that finds nothing is none the worse
		}
		return slices.ContainsFunc(t.Set(), func(file project.FileID) bool { return !going[file] })
	}
	return false
}

// listed says whether a reference is an item of a list in settings, which can be taken out.
func (r *Removal) listed(g *graph.Graph, ref graph.Reference) bool {
	content, err := g.Tree.Content(ref.From)
	if err != nil || g.Languages.DropItems == nil {
		return false
	}
	_, ok := g.Languages.DropItems(g.Tree.Path(ref.From), content,
		[]source.Span{g.Files[ref.From].Mentions[ref.Mention].Span})
	return ok
}

// takesOut gives the place of an item that goes from its list, where it names what goes and nothing else.
func (r *Removal) takesOut(g *graph.Graph, ref graph.Reference, going map[project.FileID]bool) (source.Span, bool) {
	if going[ref.From] || r.survives(g, ref, going) {
		return source.Span{}, false
	}
	m := &g.Files[ref.From].Mentions[ref.Mention]
	if r.listed(g, ref) {
		return m.Span, true
	}
	if m.Likely {
		r.Likely = append(r.Likely, ref)
	}
	return source.Span{}, false
}
