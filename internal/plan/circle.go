package plan

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// circles tells of files that load one another in a circle after the moves and did not before: in languages where a file runs when it is
// imported, the packages around it first, the order of that may matter.
func (b *builder) circles(d *draft) []Remark {
	if d.after == nil || len(b.moves) == 0 {
		return nil
	}
	if loaderOf(b.Graph) == nil || !b.movesLoaded() {
		return nil
	}
	var then [][]int
	var both sync.WaitGroup
	both.Go(func() { then = loadCircles(d.after) })
	group := make([]int, len(b.tree.Files))
	for i, component := range loadCircles(b.Graph) {
		for _, id := range component {
			group[id] = i
		}
	}
	both.Wait()
	var out []Remark
	for _, component := range then {
		groups, first := map[int]bool{}, project.None
		var names []string
		for _, id := range component {
			path := d.after.Tree.Path(project.FileID(id))
			names = append(names, path)
			if !d.isWritten(path) {
				old := d.oldID[id]
				groups[group[old]] = true
				if first == project.None {
					first = old
				}
			}
		}
		if len(component) > 1 && len(groups) == 1 {
			out = append(out, b.entries(d, component)...)
		}
		if len(groups) < 2 {
			continue
		}
		const most = 5
		more := ""
		if len(names) > most {
			more = fmt.Sprintf(" and %d more", len(names)-most)
			names = names[:most]
		}
		out = append(out, Remark{Path: b.tree.Path(first), Line: 1, Text: "after the moves these load one another in a circle, and did not before: " + strings.Join(names, ", ") + more})
	}
	return out
}

// entries tells of files of a circle that was there before: one that has left a package of the circle may be loaded before that, as it could
// not be in the package.
func (b *builder) entries(d *draft, circle []int) []Remark {
	in := map[project.FileID]bool{} // in the old tree
	for _, id := range circle {
		if !d.isWritten(d.after.Tree.Path(project.FileID(id))) {
			in[d.oldID[id]] = true
		}
	}
	var out []Remark
	for _, id := range slices.Sorted(maps.Keys(in)) {
		if _, moves := b.moves[id]; !moves {
			continue
		}
		with := map[project.FileID]bool{}
		for _, now := range loadedWith(d.after, d.newID[id]) {
			if !d.isWritten(d.after.Tree.Path(now)) {
				with[d.oldID[now]] = true
			}
		}
		for _, pack := range loadedWith(b.Graph, id) {
			if in[pack] && !with[pack] {
				out = append(out, Remark{Path: b.tree.Path(id), Line: 1, Text: "after the moves it may be loaded before " + b.tree.Path(pack) + ", and they load one another in a circle"})
			}
		}
	}
	return out
}

// loadedWith are the files that run before a file when it is loaded: those of the packages around it.
func loadedWith(g *graph.Graph, id project.FileID) []project.FileID {
	return slices.DeleteFunc(loaderOf(g).Loads(lang.File(id), nil), func(file project.FileID) bool { return file == id })
}

// movesLoaded says whether anything moves that is loaded with the packages around it.
func (b *builder) movesLoaded() bool {
	loader := loaderOf(b.Graph)
	for id := range b.moves {
		if len(loader.Loads(lang.File(id), nil)) > 0 {
			return true
		}
	}
	return false
}

// loaderOf gives what says of a graph's files which run with them; nil where no language of the project does so.
func loaderOf(g *graph.Graph) (loader lang.Loader) {
	for _, rules := range g.Rules() {
		if l, ok := rules.Resolver.(lang.Loader); ok {
			loader = l
		}
	}
	return loader
}

// loadCircles are the files that load one another when they are loaded, with those that are alone.
func loadCircles(g *graph.Graph) [][]int {
	loader := loaderOf(g)
	loads := make([][]int, len(g.Files))
	parallel.Ranges(len(loads), func(from, to int) {
		var all []project.FileID
		for id := from; id < to; id++ {
			n := &g.Files[id]
			all = all[:0]
			for i := range n.Mentions {
				m := &n.Mentions[i]
				if m.Deferred || !m.Kind.Is(lang.Imports) {
					continue
				}
				if _, is := g.Resolver(m).(lang.Loader); is {
					all = loader.Loads(n.Targets[i], all)
				}
			}
			for _, file := range all {
				if int(file) != id {
					loads[id] = append(loads[id], int(file))
				}
			}
		}
	})
	return graph.Components(len(loads), func(id int) []int { return loads[id] })
}
