package placement

import (
	"path"

	"crookedshelf/internal/convention"
)

// Near is a shelf that a file does not go to and nearly would.
type Near struct {
	Shelf  *convention.Shelf
	Line   int
	Reason string
}

// Near tells which shelves came close to taking a file: those that would take it if no shelf before them did, and those of
// which it meets one condition and not the other.
func (p *Placer) Near(file string) []Near {
	home := p.Place(file)
	on, standing, stands := p.standsOn(file)
	var out []Near
	taken := false
	for _, shelf := range p.convention.Shelves {
		if home.Shelf == shelf && home.Kind != Homeless {
			taken = true
			continue
		}
		mine := stands && on == shelf
		if entry, ok := belongs(shelf, file, mine, standing); ok {
			if taken {
				out = append(out, Near{shelf, entry.line, "it would take the file, and comes later"})
			}
			continue
		}
		if near, ok := missed(shelf, file, mine); ok {
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
	if len(s.From) == 0 {
		return Near{}, false
	}
	for _, take := range s.Takes {
		if _, ok := take.Name.Match(path.Base(file)); ok {
			return Near{s, take.Line, "its name fits, and it does not lie where from says"}, true
		}
	}
	return Near{}, false
}
