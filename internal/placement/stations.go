package placement

import (
	"slices"
	"sync"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// stations number the ways in which files stand on shelves: files of one number stand, by one convention, in instances of the same shelves.
// Whether those of one may use those of another mostly shows by that alone.
type stations struct {
	of   []int32         // of each file
	rows []func() []bool // of each station: those that it may use freely
}

// station is one way of standing.
type station struct {
	by *convention.Convention
	in []place // of one of the files
}

func (s *station) same(other station) bool {
	return s.by == other.by && slices.EqualFunc(s.in, other.in, func(a, b place) bool { return a.shelf == b.shelf })
}

func (u *users) findStations() {
	var all []station
	u.of = make([]int32, len(u.places))
	last := 0 // neighbours mostly stand alike
	for id, in := range u.places {
		one := station{u.c.For(u.g.Tree.Path(project.FileID(id))), in}
		if len(all) == 0 || !all[last].same(one) {
			if last = slices.IndexFunc(all, one.same); last < 0 {
				last = len(all)
				all = append(all, one)
			}
		}
		u.of[id] = int32(last)
	}
	u.rows = make([]func() []bool, len(all))
	for i, from := range all {
		u.rows[i] = sync.OnceValue(func() []bool {
			row := make([]bool, len(all))
			for j, to := range all {
				row[j] = from.mayUse(to)
			}
			return row
		})
	}
}

// free says whether a file may use another because of how both stand. Where it can't tell, it says no.
func (s *stations) free(from, to project.FileID) bool { return s.rows[s.of[from]]()[s.of[to]] }

func (s *station) mayUse(other station) bool {
	if s.by != other.by || slices.ContainsFunc(other.in, func(p place) bool { return p.shelf.Door != "" }) {
		return false
	}
	for _, mine := range s.in {
		switch m := mine.shelf; {
		case len(other.in) == 0:
		case slices.ContainsFunc(other.in, func(p place) bool { return p.shelf == m }):
			if m.Apart != nil {
				return false
			}
		case m.Uses != nil && !allows(m.Uses, other.in):
			return false
		}
	}
	return true
}

// allows says whether what stands in some places may be used.
func allows(uses *convention.Uses, in []place) bool {
	return slices.ContainsFunc(in, func(p place) bool { return slices.Contains(uses.Shelves, p.shelf.Name) })
}
