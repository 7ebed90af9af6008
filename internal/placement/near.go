package placement

import (
	"path"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/project"
)

// Near is a shelf that a file does not go to and nearly would.
type Near struct {
	Shelf  *convention.Shelf
	Line   int
	Reason string
}

// Look gives the home of one file and the shelves that came close; of a path where no file is, the home that a new file
// would have. known is the placement of the tree.
func Look(c *convention.Convention, tree *project.Project, g *graph.Graph, known *Result, file string) (Home, []Near) {
	w := newWorld(c, tree, g)
	w.reset(known.owners())
	p := w.of(file)
	id, there := tree.Lookup(file)
	if there {
		return known.Homes[id], p.near(file, id, known.Homes[id])
	}
	h := p.place(file, project.None)
	h.Owner = project.None
	return h, p.near(file, project.None, h)
}

// near says which shelves came close to taking a file: those that would take it if no shelf before them did, and those
// of which it meets one condition and not the other.
func (p *placer) near(file string, id project.FileID, home Home) []Near {
	f := p.at(file, id)
	var out []Near
	taken := false
	for _, shelf := range p.convention.Shelves {
		if home.Shelf == shelf && home.Kind != Homeless {
			taken = true
			continue
		}
		if entry, ok := p.belongs(shelf, f); ok {
			if taken {
				out = append(out, Near{shelf, entry.line, "it would take the file, and comes later"})
			}
			continue
		}
		if near, ok := missed(shelf, file, f.on == shelf); ok {
			out = append(out, near)
		}
	}
	return out
}

// missed looks for one condition that a file meets on a shelf that does not take it.
func missed(s *convention.Shelf, file string, stands bool) (Near, bool) {
	if stands && len(s.Takes) > 0 {
		return Near{s, s.Takes[0].Line, "it stands there, and its name fits no entry of takes"}, true
	}
	for _, t := range s.From {
		if _, ok := t.Match(file); ok && len(s.Takes) > 0 {
			return Near{s, t.Line, "it lies where from says, and its name fits no entry of takes"}, true
		}
	}
	for _, take := range s.Takes {
		if take.Name == nil {
			continue
		}
		if _, ok := take.Name.Match(path.Base(file)); ok {
			if len(s.From) == 0 {
				return Near{s, take.Line, "its name fits, and what else the entry asks for does not hold"}, true
			}
			return Near{s, take.Line, "its name fits, and it does not lie where from says"}, true
		}
	}
	return Near{}, false
}
