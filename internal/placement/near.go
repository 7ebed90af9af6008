package placement

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
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

// mostNear is how many shelves that do not take a file are listed.
const mostNear = 3

// near says which shelves came close to taking a file: all that would take it if no other shelf did, and the nearest of
// those that do not, with what does not hold.
func (p *placer) near(file string, id project.FileID, home Home) []Near {
	f := p.at(file, id)
	var out []Near
	var misses []miss
	taken := false
	for _, shelf := range p.convention.Shelves {
		if home.Shelf == shelf && home.Kind != Homeless {
			taken = true
			continue
		}
		if entry, ok := p.belongs(shelf, f); ok {
			reason := "it would take the file, and comes later"
			if !taken {
				reason = "it would take the file, and is less particular"
			}
			out = append(out, Near{shelf, entry.line, reason})
			continue
		}
		if m, ok := p.missed(shelf, f); ok {
			misses = append(misses, m)
		}
	}
	slices.SortStableFunc(misses, func(a, b miss) int {
		return cmp.Or(cmp.Compare(a.unmet, b.unmet), cmp.Compare(b.met, a.met), cmp.Compare(b.shared, a.shared))
	})
	for _, m := range misses[:min(mostNear, len(misses))] {
		out = append(out, m.Near)
	}
	return out
}

// miss is a shelf that does not take a file: how many conditions of the entry that comes closest hold and how many do
// not, and how many folders its place shares with the file.
type miss struct {
	Near
	unmet, met, shared int
}

// missed looks for the entry of a shelf that comes closest to taking a file; false for a shelf that asks for nothing,
// and for one of other instances.
func (p *placer) missed(s *convention.Shelf, f subject) (miss, bool) {
	if s.PassesOver(f.path) || s.Within != nil && !s.Within.Fits(f.path) {
		return miss{}, false
	}
	best, found := miss{}, false
	consider := func(e convention.Entry) {
		unmet := p.unmet(s, e, f)
		if len(unmet) == 0 {
			unmet = []string{"nothing gives its place a value for " + strings.Join(s.At.Names(), ", ")}
		}
		m := miss{
			Near:  Near{Shelf: s, Line: e.Line(), Reason: strings.Join(unmet, "; ")},
			unmet: len(unmet),
			met:   e.Conditions() - len(unmet),
		}
		if refusal(e.Place, f.path) != "" || e.Take != nil && refusal(e.Take.Name, path.Base(f.path)) != "" {
			m.met++ // all of it holds but a value
		}
		if e.Place != nil {
			m.shared = strings.Count(commonFolder(path.Dir(e.Place.Begins()+"x"), path.Dir(f.path)), "/")
		}
		if !found || m.unmet < best.unmet || m.unmet == best.unmet && m.shared > best.shared {
			best, found = m, true
		}
	}
	ways := s.Ways()
	if f.on == s { // it stands there, and that would do for from
		ways = nil
		for i := range s.Takes {
			ways = append(ways, convention.Entry{Place: s.At, Take: &s.Takes[i]})
		}
	}
	for _, e := range ways {
		consider(e)
	}
	if len(ways) == 0 {
		consider(convention.Entry{Place: s.At})
	}
	return best, found
}

// refusal says which value a template refuses that a text else fits; empty for none.
func refusal(t *template.Template, text string) string {
	if t != nil {
		if name, value, ok := t.Refuses(text); ok {
			return fmt.Sprintf(": where does not let <%s> be %s", name, value)
		}
	}
	return ""
}

// unmet are the conditions of an entry that do not hold for a file, in words.
func (p *placer) unmet(s *convention.Shelf, e convention.Entry, f subject) (out []string) {
	miss := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if e.Place != nil && !e.Place.Fits(f.path) {
		miss("it does not lie in %s%s", e.Place.Text, refusal(e.Place, f.path))
	}
	t := e.Take
	if t == nil {
		return out
	}
	if t.Name != nil && !t.Name.Fits(path.Base(f.path)) {
		miss("its name does not fit %s%s", t.Name.Text, refusal(t.Name, path.Base(f.path)))
	}
	if t.Pool != nil {
		if _, ok := p.inPool(t.Pool, f); !ok {
			miss("it is not of the pool %s", t.Pool.Name)
		}
	}
	if !t.Content() {
		return out
	}
	if p.graph == nil || f.id == project.None {
		miss("what it declares and who needs it is not known of a file that is not there")
		return out
	}
	if t.Outlined() && !p.declares(t, f.id, &entry{}) {
		miss("it does not declare %s", t.Outline())
	}
	if len(t.Imports) > 0 && !p.imports(t.Imports, f) {
		miss("it does not import %s", strings.Join(t.Imports, " or "))
	}
	if t.NeededBy != nil && len(out) == 0 && !p.needed(t, f.id, &entry{}) {
		miss("%s, and needed_by asks for %s", p.who(t, f.id), t.NeededBy)
	}
	return out
}
