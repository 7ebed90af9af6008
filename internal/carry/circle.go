package carry

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

// circles reports files that load one another in a circle after the moves and did not before: in languages where a
// file runs when it is imported, the packages around it first, the order of that may matter.
func (w *worker) circles(d *Draft) []Remark {
	if d.After == nil || len(w.moves) == 0 {
		return nil
	}
	if !w.movesLoaded() {
		return nil
	}
	var then [][]int
	var both sync.WaitGroup
	both.Go(func() { then = loadCircles(d.After) })
	group := make([]int, len(w.tree.Files))
	for i, component := range loadCircles(w.Graph) {
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
			path := d.After.Tree.Path(project.FileID(id))
			names = append(names, path)
			if !d.isWritten(path) {
				old := d.OldID[id]
				groups[group[old]] = true
				if first == project.None {
					first = old
				}
			}
		}
		if len(component) > 1 && len(groups) == 1 {
			out = append(out, w.entries(d, component)...)
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
		out = append(out, Remark{Path: w.tree.Path(first), Line: 1,
			Text: "after the moves these load one another in a circle, and did not before: " +
				strings.Join(names, ", ") + more})
	}
	return out
}

// entries reports files of a circle that was there before: one that has left a package of the circle may be loaded
// before that, as it could not be in the package.
func (w *worker) entries(d *Draft, circle []int) []Remark {
	in := map[project.FileID]bool{} // in the old tree
	for _, id := range circle {
		if !d.isWritten(d.After.Tree.Path(project.FileID(id))) {
			in[d.OldID[id]] = true
		}
	}
	var out []Remark
	for _, id := range slices.Sorted(maps.Keys(in)) {
		if _, moves := w.moves[id]; !moves {
			continue
		}
		with := map[project.FileID]bool{}
		for _, now := range loadedWith(d.After, d.NewID[id]) {
			if !d.isWritten(d.After.Tree.Path(now)) {
				with[d.OldID[now]] = true
			}
		}
		for _, pack := range loadedWith(w.Graph, id) {
			if in[pack] && !with[pack] {
				out = append(out, Remark{Path: w.tree.Path(id), Line: 1,
					Text: "after the moves it may be loaded before " + w.tree.Path(pack) +
						", and they load one another in a circle"})
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
func (w *worker) movesLoaded() bool {
	for id := range w.moves {
		if len(loads(w.Graph, lang.File(id))) > 0 {
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
