package engine

import (
	"fmt"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// InTheWay is a use of one folder by another that would have to go before both could be packages of their own: of folders
// that use one another in a circle, those uses are meant that are the fewest references.
type InTheWay struct {
	FolderUse
	First string `json:"first"` // the first of the references: a file and a line
}

// mostOrdered is up to how many folders of a circle all orders are tried; of more, those with most users are put first.
const mostOrdered = 12

// findInTheWay says for each circle of folders which uses are in the way of parting them.
func (s *survey) findInTheWay() {
	s.InTheWay = []InTheWay{}
	found := map[between]int{} // the folders of the tour: which of InTheWay it is
	for _, circle := range s.Circles {
		at := map[string]int{}
		for i, folder := range circle {
			at[folder] = i
		}
		uses := make([][]int, len(circle)) // how many references lead from one to another
		for i := range uses {
			uses[i] = make([]int, len(circle))
		}
		of := map[between]between{} // of the circle: the folders of the tour
		for pair, n := range s.uses {
			from, known := at[s.folders[pair.from].path]
			to, both := at[s.folders[pair.to].path]
			if known && both {
				uses[from][to], of[between{from, to}] = n, pair
			}
		}
		order := bottomUp(uses)
		for i, lower := range order {
			for _, upper := range order[i+1:] {
				if n := uses[lower][upper]; n > 0 {
					found[of[between{lower, upper}]] = len(s.InTheWay)
					s.InTheWay = append(s.InTheWay, InTheWay{FolderUse: FolderUse{circle[lower], circle[upper], n}})
				}
			}
		}
	}
	s.findFirst(found)
	slices.SortStableFunc(s.InTheWay, func(a, b InTheWay) int { return a.Count - b.Count })
}

// findFirst finds the first reference of each use, in one pass over all.
func (s *survey) findFirst(found map[between]int) {
	if len(found) == 0 {
		return
	}
	for id := range s.graph.Files {
		for i, t := range s.graph.Files[id].Targets {
			if t.Kind != lang.ToFile || !s.counts(id, i) {
				continue
			}
			if n, is := found[between{s.lies[id], s.lies[t.File]}]; is && s.InTheWay[n].First == "" {
				ref := graph.Reference{From: project.FileID(id), Mention: i}
				s.InTheWay[n].First = fmt.Sprintf("%s:%d", s.tree.Path(ref.From), s.graph.Position(ref).Line)
			}
		}
	}
}

// bottomUp puts nodes in the order in which the fewest references lead from an earlier one to a later.
func bottomUp(uses [][]int) []int {
	n := len(uses)
	if n > mostOrdered {
		order := make([]int, n)
		gain := make([]int, n)
		for i := range order {
			order[i] = i
			for k := range uses {
				gain[i] += uses[k][i] - uses[i][k]
			}
		}
		slices.SortStableFunc(order, func(a, b int) int { return gain[b] - gain[a] })
		return order
	}
	// of each set of nodes that stand first: the fewest references that lead out of it to later ones, and its last node
	fewest, last := make([]int, 1<<n), make([]int, 1<<n)
	for set := 1; set < 1<<n; set++ {
		fewest[set] = -1
		for i := range n {
			if set&(1<<i) == 0 {
				continue
			}
			cost := fewest[set&^(1<<i)]
			for k := range n {
				if set&(1<<k) == 0 {
					cost += uses[i][k]
				}
			}
			if fewest[set] < 0 || cost < fewest[set] {
				fewest[set], last[set] = cost, i
			}
		}
	}
	order := make([]int, 0, n)
	for set := 1<<n - 1; set > 0; set &^= 1 << last[set] {
		order = append(order, last[set])
	}
	slices.Reverse(order)
	return order
}

// counts says whether a reference is a use: it is certain, and more than a word in a comment.
func (s *survey) counts(id, mention int) bool {
	m := &s.graph.Files[id].Mentions[mention]
	return !m.Likely && !m.Kind.Is(lang.Remarks)
}
