package convention

import (
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/template"
)

// lookups are what a convention knows to answer for many paths. They are made when it has been read.
type lookups struct {
	order  map[*Shelf]int
	places *template.Index // of the shelves

	takers template.Owned // where files lie that a shelf can take
	names  template.Owned // of files that a shelf can take wherever they lie
	open   []int          // shelves that can take any file
	// names of what files declare, by its kind, for which a shelf can take them
	declared map[string]*template.Owned
	pooled   map[*Pool][]int                 // shelves that take from a pool
	bearing  map[string][]*template.Template // what from says, by the name in which it ends
	bears    map[string]bool                 // names that an entry of takes gives in full
	files    bool                            // a shelf is a file
	left     *template.Index
	leftBy   []Left // each template of left
	top      *template.Index
	topHeads map[string]bool // folders at the top that lead to what may stand there
	excuses  *template.Index

	wins     map[*Shelf][]*Shelf  // later shelves that win over one for some files
	narrower sync.Map             // of two entries, whether the first is more particular
	inFull   map[string][]*Shelf  // by the file that one of their entries names
	dotted   []*template.Template // places at the root that begin with a dot
}

// Left says that a file is left alone.
type Left struct {
	List LeaveList
	Line int // of the convention
}

// LeaveList is one of the lists of leave.
type LeaveList uint8

// The lists of leave, in the order in which they count.
const (
	LeftByNone LeaveList = iota
	LeftOutside
	LeftGenerated
	LeftUntouched
	LeftStay
)

func (c *Convention) lookUp() {
	l := &lookups{pooled: map[*Pool][]int{}, order: map[*Shelf]int{}, bearing: map[string][]*template.Template{},
		bears: map[string]bool{}, topHeads: map[string]bool{}, declared: map[string]*template.Owned{},
		wins:   map[*Shelf][]*Shelf{},
		inFull: map[string][]*Shelf{}}
	c.lookups = l
	var places, left, excused []*template.Template
	for i, s := range c.Shelves {
		l.order[s] = i
		l.files = l.files || s.AtFile
		places = append(places, s.At)
		s.index()
		for _, t := range append(s.From[:len(s.From):len(s.From)], s.At) {
			if (Entry{Place: t}).inFull() {
				l.inFull[t.Fill(nil)] = append(l.inFull[t.Fill(nil)], s)
			}
			if strings.HasPrefix(strings.TrimPrefix(t.Begins(), c.Base), ".") {
				l.dotted = append(l.dotted, t)
			}
		}
		for _, t := range s.From {
			l.bearing[lastSegment(t.Text)] = append(l.bearing[lastSegment(t.Text)], t)
			l.takers.Add(t, i)
		}
		for _, t := range s.Takes {
			if t.Name != nil {
				l.bears[lastSegment(t.Name.Text)] = true
			}
			if t.Pool != nil && !slices.Contains(l.pooled[t.Pool], i) {
				l.pooled[t.Pool] = append(l.pooled[t.Pool], i)
			}
			switch {
			case len(s.From) > 0:
			case s.Within != nil:
				l.takers.Add(s.Within, i)
			case t.Name != nil:
				l.names.Add(t.Name, i)
			case t.Pool != nil:
				for _, in := range t.Pool.In {
					l.takers.Add(in, i)
				}
			case len(t.Declares) > 0:
				for _, d := range t.Declares {
					if l.declared[d.Kind] == nil {
						l.declared[d.Kind] = &template.Owned{}
					}
					l.declared[d.Kind].Add(d.Name, i)
				}
			default:
				l.open = append(l.open, i)
			}
		}
	}
	for i, list := range [][]*template.Template{c.Leave.Outside, c.Leave.Generated, c.Leave.Untouched, c.Leave.Stay} {
		for _, t := range list {
			left, l.leftBy = append(left, t), append(l.leftBy, Left{LeftOutside + LeaveList(i), t.Line})
		}
	}
	for _, e := range c.Exceptions {
		excused = append(excused, e.File)
	}
	for _, t := range c.Top {
		folder, _, below := strings.Cut(strings.TrimPrefix(t.Head(), c.Base), "/")
		l.topHeads[folder] = l.topHeads[folder] || below
	}
	l.places, l.left, l.top, l.excuses = template.NewIndex(places), template.NewIndex(left), template.NewIndex(c.Top),
		template.NewIndex(excused)
}

func lastSegment(text string) string { return text[strings.LastIndexByte(text, '/')+1:] }

// nameShelves notes the names of the shelves.
func (c *Convention) nameShelves() {
	c.byName = make(map[string]*Shelf, len(c.Shelves))
	for _, s := range c.Shelves {
		if c.byName[s.Name] == nil {
			c.byName[s.Name] = s
		}
	}
}

// Shelf gives a shelf by its name; nil for none.
func (c *Convention) Shelf(name string) *Shelf { return c.byName[name] }

// Has says whether a shelf is the convention's own, and not that of one further down.
func (c *Convention) Has(s *Shelf) bool {
	_, own := c.lookups.order[s]
	return own
}

// HasFiles says whether a shelf is a file.
func (c *Convention) HasFiles() bool { return c.lookups.files }

// ShelvesAt gives the shelves in whose places a path can lie, in their order.
func (c *Convention) ShelvesAt(path string, out []*Shelf) []*Shelf {
	var buf [32]int
	for _, i := range c.lookups.places.Among(path, buf[:0]) {
		out = append(out, c.Shelves[i])
	}
	return out
}

// AsksOf says whether a shelf can take files for something of a kind that they declare.
func (c *Convention) AsksOf(kind string) bool { return c.lookups.declared[kind] != nil }

// Declared is something that a file declares.
type Declared struct{ Kind, Name string }

// ShelvesFor gives the shelves that can take a file which stands on one, or on nil, in their order. declared are the
// things that the file declares, of the kinds that the convention asks of.
func (c *Convention) ShelvesFor(path string, on *Shelf, declared []Declared, out []*Shelf) []*Shelf {
	l := c.lookups
	var buf [64]int
	found := append(buf[:0], l.open...)
	found = l.takers.Among(path, found)
	found = l.names.Among(lastSegment(path), found)
	for _, d := range declared {
		found = l.declared[d.Kind].Among(d.Name, found)
		if simple := d.Name[strings.LastIndexByte(d.Name, '.')+1:]; simple != d.Name {
			found = l.declared[d.Kind].Among(simple, found)
		}
	}
	if on != nil {
		found = append(found, l.order[on])
		for i := range on.Takes {
			if pool := on.Takes[i].Pool; pool != nil {
				found = append(found, l.pooled[pool]...)
			}
		}
	}
	slices.Sort(found)
	for _, i := range slices.Compact(found) {
		out = append(out, c.Shelves[i])
	}
	return out
}

// Bears says whether a shelf speaks of a file by its very name.
func (c *Convention) Bears(path string) bool {
	l := c.lookups
	return l.bears[lastSegment(path)] || slices.ContainsFunc(l.bearing[lastSegment(path)], template.Fits(path))
}

// LeftAlone says by which list of leave a file is left alone.
func (c *Convention) LeftAlone(path string) Left {
	if i := c.lookups.left.First(path); i >= 0 {
		return c.lookups.leftBy[i]
	}
	return Left{}
}

// DottedPlace says whether a shelf speaks of a file of which the first name begins with a dot, by that name. Such files
// belong to tools, so no wildcard reaches them.
func (c *Convention) DottedPlace(path string) bool {
	return slices.ContainsFunc(c.lookups.dotted, template.Fits(path))
}

// TopHas says whether an entry of top fits a path.
func (c *Convention) TopHas(path string) bool { return c.lookups.top.Any(path) }

// TopLeads says whether an entry of top lies below a folder at the top.
func (c *Convention) TopLeads(folder string) bool { return c.lookups.topHeads[folder] }

// Excuse gives the exception that lets a file of a shelf, which may be nil, break a rule; nil for none.
func (c *Convention) Excuse(rule, path string, shelf *Shelf) *Exception {
	var buf [32]int
	for _, i := range c.lookups.excuses.Among(path, buf[:0]) {
		e := c.Exceptions[i]
		if e.Rule != "" && e.Rule != rule || e.Shelf != "" && (shelf == nil || e.Shelf != shelf.Name) {
			continue
		}
		if _, ok := e.File.Match(path); ok {
			return e
		}
	}
	return nil
}

func (s *Shelf) index() {
	s.without, s.sources, s.entries = template.NewIndex(s.Without), template.NewIndex(s.From), template.NewIndex(nil)
	for _, t := range s.Takes {
		s.entries.Add(t.Name)
	}
}

// PassesOver says whether the shelf speaks of no file at a path: one like it does, for the instance in which the file
// lies.
func (s *Shelf) PassesOver(path string) bool { return s.without.Any(path) }

// Sources gives the numbers of the places from which a file at a path can have come.
func (s *Shelf) Sources(path string, out []int) []int { return s.sources.Among(path, out) }

// Entries gives the numbers of the entries of takes that a file of a name can satisfy.
func (s *Shelf) Entries(name string, out []int) []int { return s.entries.Among(name, out) }
