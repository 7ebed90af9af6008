package placement

import (
	"fmt"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project"
)

// stations number the ways in which files stand on shelves: files of one number stand, by one convention, in instances
// of the same shelves. Whether those of one may use those of another mostly shows by that alone.
type stations struct {
	of   []int32 // of each file
	all  []station
	uses *sync.Map // by two stations: whether the one may use the other freely
}

// station is one way of standing.
type station struct {
	by *convention.Convention
	in []place // of one of the files
}

func (s *station) same(other station) bool {
	return s.by == other.by && slices.EqualFunc(s.in, other.in, func(a, b place) bool { return a.shelf == b.shelf })
}

// key is the same for two stations that are.
func (s *station) key() string {
	var out strings.Builder
	fmt.Fprintf(&out, "%p", s.by)
	for _, p := range s.in {
		fmt.Fprintf(&out, " %p", p.shelf)
	}
	return out.String()
}

func (u *users) findStations() {
	u.of, u.uses = make([]int32, len(u.places)), &sync.Map{}
	numbers := map[string]int{}
	last := 0 // neighbours mostly stand alike
	for id, in := range u.places {
		one := station{u.c.For(u.g.Tree.Path(project.FileID(id))), in}
		if len(u.all) == 0 || !u.all[last].same(one) {
			known := false
			if last, known = numbers[one.key()]; !known {
				last = len(u.all)
				numbers[one.key()] = last
				u.all = append(u.all, one)
			}
		}
		u.of[id] = int32(last)
	}
}

// free says whether a file may use another because of how both stand. Where it can't tell, it says no.
func (s *stations) free(from, to project.FileID) bool {
	a, b := s.of[from], s.of[to]
	pair := [2]int32{a, b}
	if known, ok := s.uses.Load(pair); ok {
		return known.(bool)
	}
	may := s.all[a].mayUse(s.all[b])
	s.uses.Store(pair, may)
	return may
}

func (s *station) mayUse(other station) bool {
	if s.by != other.by || slices.ContainsFunc(other.in, func(p place) bool { return p.shelf.Door != "" }) {
		return false
	}
	for _, mine := range s.in {
		switch m := mine.shelf; {
		case len(other.in) == 0:
		case slices.ContainsFunc(other.in, func(p place) bool { return p.shelf == m }):
			if m.Apart != nil || m.Order != nil {
				return false
			}
		case m.Uses != nil && !slices.ContainsFunc(other.in, func(p place) bool { // instances are told apart later
			return slices.Contains(m.Uses.Shelves, p.shelf.Name)
		}):
			return false
		}
	}
	return true
}

// allows says whether what stands in some places may be used.
func allows(uses *convention.Uses, in []place) bool {
	return slices.ContainsFunc(in, func(p place) bool {
		return slices.Contains(uses.Shelves, p.shelf.Name) ||
			slices.Contains(uses.Shelves, p.shelf.Name+"."+path.Base(p.instance))
	})
}
