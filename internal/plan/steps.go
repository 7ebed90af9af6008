package plan

import (
	"slices"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// steps groups the moves by the shelf instance that they go to, and puts the groups in the order of dependency: what
// depends on least comes first. Groups that depend on one another in a circle are one step, and so is a package.
func (b *builder) steps() []Step {
	groups := map[string]int{}
	var titles []string
	var members [][]project.FileID
	groupOf := map[project.FileID]int{}
	for _, id := range b.moving() {
		h := b.home(id)
		shelf, instance := h.Shelf.Name, h.Instance
		if s, dir := placement.PackageOf(b.Convention, b.moves[id]); s != nil { // a package is made as a whole
			shelf, instance = s.Name, dir+"/"
		}
		key := shelf + "\x00" + instance
		g, known := groups[key]
		if !known {
			g = len(titles)
			groups[key] = g
			title := shelf + " at " + instance
			if h.Shelf == askedFor {
				title = "to " + h.Instance
			}
			titles = append(titles, title)
			members = append(members, nil)
		}
		members[g] = append(members[g], id)
		groupOf[id] = g
	}
	// Groups that move at once are tied into a circle: so they are one component, and one step.
	together := map[int][]int{} // what moves at once
	atOnce := b.groups()
	for g := range members {
		for _, group := range atOnce.of(b.home(members[g][0]).Shelf) {
			together[group] = append(together[group], g)
		}
	}
	next := func(g int) []int {
		var out []int
		for _, id := range members[g] {
			for i, t := range b.Graph.Files[id].Targets {
				if t.Kind != lang.ToFile || b.Graph.Files[id].Mentions[i].Kind.Is(lang.Remarks) {
					continue
				}
				if to, moves := groupOf[t.File]; moves && to != g {
					out = append(out, to)
				}
			}
		}
		// each leads to the next, and the last to the first
		for _, group := range atOnce.of(b.home(members[g][0]).Shelf) {
			at, _ := slices.BinarySearch(together[group], g)
			out = append(out, together[group][(at+1)%len(together[group])])
		}
		slices.Sort(out)
		return slices.Compact(out)
	}
	steps := []Step{}
	for _, component := range graph.Components(len(titles), next) {
		var step Step
		var names []string
		for _, g := range component {
			names = append(names, titles[g])
			for _, id := range members[g] {
				step.Moves = append(step.Moves, b.move(id))
			}
		}
		slices.SortFunc(step.Moves, func(x, y Move) int { return strings.Compare(x.From, y.From) })
		step.Title = strings.Join(names, ", ")
		steps = append(steps, step)
	}
	return steps
}

func (b *builder) move(id project.FileID) Move {
	h := b.home(id)
	return Move{From: b.tree.Path(id), To: b.moves[id], Shelf: h.Shelf.Name, Line: h.Line}
}
