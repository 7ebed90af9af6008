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

// remover works a removal out.
type remover struct {
	*Removal
	graph *graph.Graph
	going map[project.FileID]bool
	users map[project.FileID][]graph.Reference // who refers to a file, to a folder that it lies in, or to a set it is of
	links map[project.FileID][]linked          // which files belong to a file though no text says so
	items map[graph.Reference]bool             // see listed, which reads the whole file
}

// linked is a file that belongs to another, and why.
type linked struct {
	from project.FileID
	why  string
}

// Remove works out which of some files can be removed: those to which nothing that stays refers for certain. An entry
// of a list in settings that names one goes with it.
func Remove(g *graph.Graph, wanted []project.FileID) *Removal {
	r := &remover{
		Removal: &Removal{Needed: map[project.FileID][]string{}, Edits: map[project.FileID][]source.Edit{}},
		graph:   g, going: map[project.FileID]bool{}, users: usersOf(g), links: linksOf(g), items: map[graph.Reference]bool{},
	}
	for _, id := range wanted {
		r.going[id] = true
	}
	for again := true; again; { // who stays may need others that were to go
		again = false
		for _, id := range slices.Sorted(maps.Keys(r.going)) {
			if needs := r.needs(id); len(needs) > 0 {
				r.Needed[id] = needs
				delete(r.going, id)
				again = true
			}
		}
	}
	r.Goes = slices.Sorted(maps.Keys(r.going))
	items := map[project.FileID][]source.Span{}
	for _, id := range r.Goes {
		for _, ref := range r.users[id] {
			if at, ok := r.takesOut(ref); ok {
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
	return r.Removal
}

// linksOf gives for each file those that belong to it, in the order of their paths.
func linksOf(g *graph.Graph) map[project.FileID][]linked {
	out := map[project.FileID][]linked{}
	for file := range g.Files {
		for _, link := range g.Links(project.FileID(file)) {
			if link.To == project.FileID(file) {
				continue
			}
			out[link.To] = append(out[link.To], linked{project.FileID(file), link.Why})
		}
	}
	return out
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
func (r *remover) needs(id project.FileID) (out []string) {
	g := r.graph
	for _, ref := range r.users[id] {
		m := &g.Files[ref.From].Mentions[ref.Mention]
		if r.going[ref.From] || ref.From == id || m.Likely || r.survives(ref) || r.listed(ref) {
			continue
		}
		out = append(out, fmt.Sprintf("%s:%s  %s", g.Tree.Path(ref.From), g.Position(ref), m.Text))
	}
	for _, link := range r.links[id] {
		if !r.going[link.from] && link.from != id {
			out = append(out, fmt.Sprintf("%s  %s", g.Tree.Path(link.from), link.why))
		}
	}
	// what every folder of its language has goes with the last file of its folder
	if g.Languages.Fixture(g.Tree.Path(id)).Follows {
		from, to := g.Tree.Below(path.Dir(g.Tree.Path(id)))
		for other := from; other < to; other++ {
			if other != id && !r.going[other] {
				out = append(out, fmt.Sprintf("%s  stays in its folder", g.Tree.Path(other)))
				break
			}
		}
	}
	return out
}

// survives says whether a reference to a folder, or to a set of files, still leads to something when some go. The
// members of a package are needed one by one, by their names.
func (r *remover) survives(ref graph.Reference) bool {
	t := r.graph.Files[ref.From].Targets[ref.Mention]
	m := &r.graph.Files[ref.From].Mentions[ref.Mention]
	switch t.Kind {
	case lang.ToFolder:
		return !goneFolder(r.graph, t, r.going)
	case lang.ToSet:
		if !m.Kind.Is(lang.Packed) && m.Kind.Is(lang.Pattern) {
			return true // a pattern that finds nothing is none the worse
		}
		return slices.ContainsFunc(t.Set(), func(file project.FileID) bool { return !r.going[file] })
	}
	return false
}

// listed says whether a reference is an item of a list in settings, which can be taken out.
func (r *remover) listed(ref graph.Reference) bool {
	listed, known := r.items[ref]
	if !known {
		g := r.graph
		if content, err := g.Tree.Content(ref.From); err == nil && g.Languages.DropItems != nil {
			_, listed = g.Languages.DropItems(g.Tree.Path(ref.From), content,
				[]source.Span{g.Files[ref.From].Mentions[ref.Mention].Span})
		}
		r.items[ref] = listed
	}
	return listed
}

// takesOut gives the place of an item that goes from its list, where it names what goes and nothing else.
func (r *remover) takesOut(ref graph.Reference) (source.Span, bool) {
	if r.going[ref.From] || r.survives(ref) {
		return source.Span{}, false
	}
	m := &r.graph.Files[ref.From].Mentions[ref.Mention]
	if r.listed(ref) {
		return m.Span, true
	}
	if m.Likely {
		r.Likely = append(r.Likely, ref)
	}
	return source.Span{}, false
}
