package engine

import (
	"fmt"
	"math/bits"
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
	for _, circle := range s.Circles {
		at := map[string]int{}
		for i, folder := range circle {
			at[folder] = i
		}
		uses := make([][]int, len(circle)) // how many references lead from one to another
		for i := range uses {
			uses[i] = make([]int, len(circle))
		}
		for pair, n := range s.uses {
			from, known := at[s.folders[pair.from].path]
			to, both := at[s.folders[pair.to].path]
			if known && both {
				uses[from][to] = n
			}
		}
		order := bottomUp(uses)
		for i, lower := range order {
			for _, upper := range order[i+1:] {
				if n := uses[lower][upper]; n > 0 {
					s.InTheWay = append(s.InTheWay, InTheWay{FolderUse{circle[lower], circle[upper], n}, s.firstUse(circle[lower], circle[upper])})
				}
			}
		}
	}
	slices.SortStableFunc(s.InTheWay, func(a, b InTheWay) int { return a.Count - b.Count })
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
	for set := 1<<n - 1; bits.OnesCount(uint(set)) > 0; set &^= 1 << last[set] {
		order = append(order, last[set])
	}
	slices.Reverse(order)
	return order
}

// firstUse is where one folder first uses another.
func (s *survey) firstUse(from, to string) string {
	for id := range s.graph.Files {
		node := &s.graph.Files[id]
		for i, t := range node.Targets {
			if t.Kind == lang.ToFile && s.counts(id, i) && s.folders[s.lies[id]].path == from && s.folders[s.lies[t.File]].path == to {
				return fmt.Sprintf("%s:%d", s.tree.Path(project.FileID(id)),
					s.graph.Position(graph.Reference{From: project.FileID(id), Mention: i}).Line)
			}
		}
	}
	return ""
}

// counts says whether a reference is a use: it is certain, and more than a word in a comment.
func (s *survey) counts(id, mention int) bool {
	m := &s.graph.Files[id].Mentions[mention]
	return !m.Likely && !m.Kind.Is(lang.Remarks)
}
