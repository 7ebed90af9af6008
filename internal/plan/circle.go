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

// circles tells of files that load one another in a circle after the moves and did not before: in languages where a
// file runs when it is imported, the packages around it first, the order of that may matter.
func (b *builder) circles(d *draft) []Remark {
	if d.after == nil || len(b.moves) == 0 {
		return nil
	}
	if !b.movesLoaded() {
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

// entries tells of files of a circle that was there before: one that has left a package of the circle may be loaded
// before that, as it could not be in the package.
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

// loads gives the files that run when a target is imported, as all languages of the project say.
func loads(g *graph.Graph, t lang.Target) (out []project.FileID) {
	for _, rules := range g.Rules() {
		if rules.Loads != nil {
			out = rules.Loads(t, out)
		}
	}
	return out
}

// loadedWith are the files that run before a file when it is loaded: those of the packages around it.
func loadedWith(g *graph.Graph, id project.FileID) []project.FileID {
	return slices.DeleteFunc(loads(g, lang.File(id)), func(file project.FileID) bool { return file == id })
}

// movesLoaded says whether anything moves that is loaded with the packages around it.
func (b *builder) movesLoaded() bool {
	for id := range b.moves {
		if len(loads(b.Graph, lang.File(id))) > 0 {
			return true
		}
	}
	return false
}

// loadCircles are the files that load one another when they are loaded, with those that are alone.
func loadCircles(g *graph.Graph) [][]int {
	out := make([][]int, len(g.Files))
	parallel.Ranges(len(out), func(from, to int) {
		var all []project.FileID
		for id := from; id < to; id++ {
			n := &g.Files[id]
			all = all[:0]
			for i := range n.Mentions {
				m := &n.Mentions[i]
				if rules := g.RulesFor(m); rules.Loads != nil && !m.Deferred && m.Kind.Is(lang.Imports) {
					all = rules.Loads(n.Targets[i], all)
				}
			}
			for _, file := range all {
				if int(file) != id {
					out[id] = append(out[id], int(file))
				}
			}
		}
	})
	return graph.Components(len(out), func(id int) []int { return out[id] })
}
