package convention

import (
	"iter"
	"slices"
	"strings"

	"crookedshelf/internal/seek"
)

// Index finds, among many templates, the few that a text can match: by the plain text with which they begin or end,
// whichever is longer. It is made once, and may be asked by many at a time.
type Index struct {
	templates    []*Template
	heads, tails seek.Pieces
	rest         []int // of templates that begin and end with anything
}

// NewIndex makes the index of templates, which are known by their numbers in the list. One that is nil can be matched
// by anything.
func NewIndex(templates []*Template) *Index {
	x := &Index{}
	for _, t := range templates {
		x.add(t)
	}
	return x
}

func (x *Index) add(t *Template) {
	number := len(x.templates)
	x.templates = append(x.templates, t)
	switch {
	case t == nil || t.prefix == "" && t.suffix == "":
		x.rest = append(x.rest, number)
	case len(t.prefix) >= len(t.suffix):
		x.heads.Add(t.prefix, number)
	default:
		x.tails.Add(t.suffix, number)
	}
}

// Among adds the numbers of the templates that a text can match, in their order.
func (x *Index) Among(text string, out []int) []int {
	start := len(out)
	out = append(out, x.rest...)
	out = x.tails.Ending(text, x.heads.Beginning(text, out))
	slices.Sort(out[start:])
	return out
}

// First gives the number of the first template that a text matches; -1 for none.
func (x *Index) First(text string) int {
	var room [16]int
	for _, i := range x.Among(text, room[:0]) {
		if x.Matches(i, text) {
			return i
		}
	}
	return -1
}

// Matches says whether a text matches the template of a number.
func (x *Index) Matches(number int, text string) bool {
	t := x.templates[number]
	if t == nil {
		return true
	}
	_, ok := t.Match(text)
	return ok
}

// Any says whether a text matches one of the templates.
func (x *Index) Any(text string) bool { return x.First(text) >= 0 }

// Owned is an index of templates that are of somebody each, known by a number. Who has several is added once for each,
// and the owners one after the other.
type Owned struct {
	index  Index
	owners []int
}

// Add takes a template in; nil is matched by anything.
func (o *Owned) Add(t *Template, owner int) {
	o.index.add(t)
	o.owners = append(o.owners, owner)
}

// Among adds the owners of the templates that a text can match, in their order, some of them more than once.
func (o *Owned) Among(text string, out []int) []int {
	start := len(out)
	out = o.index.Among(text, out)
	for i := start; i < len(out); i++ {
		out[i] = o.owners[out[i]]
	}
	return out
}

// Matching gives the owners of the templates that a text matches, as Among.
func (o *Owned) Matching(text string) iter.Seq[int] {
	return func(yield func(int) bool) {
		var room [32]int
		for _, i := range o.index.Among(text, room[:0]) {
			if o.index.Matches(i, text) && !yield(o.owners[i]) {
				return
			}
		}
	}
}

// lookups are what a convention knows to answer for many paths. They are made when it has been read.
type lookups struct {
	order  map[*Shelf]int
	places *Index // of the shelves

	takers   Owned                  // where files lie that a shelf can take
	names    Owned                  // of files that a shelf can take wherever they lie
	open     []int                  // shelves that can take any file
	declared map[string]*Owned      // names of what files declare, by its kind, for which a shelf can take them
	pooled   map[*Pool][]int        // shelves that take from a pool
	bearing  map[string][]*Template // what from says, by the name in which it ends
	bears    map[string]bool        // names that an entry of takes gives in full
	files    bool                   // a shelf is a file
	left     *Index
	leftBy   []Left // each template of left
	top      *Index
	topHeads map[string]bool // folders at the top that lead to what may stand there
	excuses  *Index
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
	l := &lookups{pooled: map[*Pool][]int{}, order: map[*Shelf]int{}, bearing: map[string][]*Template{}, bears: map[string]bool{}, topHeads: map[string]bool{}, declared: map[string]*Owned{}}
	c.lookups = l
	var places, left, excused []*Template
	for i, s := range c.Shelves {
		l.order[s] = i
		l.files = l.files || s.AtFile
		places = append(places, s.At)
		s.index()
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
						l.declared[d.Kind] = &Owned{}
					}
					l.declared[d.Kind].Add(d.Name, i)
				}
			default:
				l.open = append(l.open, i)
			}
		}
	}
	for i, list := range [][]*Template{c.Leave.Outside, c.Leave.Generated, c.Leave.Untouched, c.Leave.Stay} {
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
	l.places, l.left, l.top, l.excuses = NewIndex(places), NewIndex(left), NewIndex(c.Top), NewIndex(excused)
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
	var room [32]int
	for _, i := range c.lookups.places.Among(path, room[:0]) {
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
	var room [64]int
	found := append(room[:0], l.open...)
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
	return l.bears[lastSegment(path)] || slices.ContainsFunc(l.bearing[lastSegment(path)], func(t *Template) bool { _, ok := t.Match(path); return ok })
}

// LeftAlone says by which list of leave a file is left alone.
func (c *Convention) LeftAlone(path string) Left {
	if i := c.lookups.left.First(path); i >= 0 {
		return c.lookups.leftBy[i]
	}
	return Left{}
}

// TopHas says whether an entry of top fits a path.
func (c *Convention) TopHas(path string) bool { return c.lookups.top.Any(path) }

// TopLeads says whether an entry of top lies below a folder at the top.
func (c *Convention) TopLeads(folder string) bool { return c.lookups.topHeads[folder] }

// Excuse gives the exception that lets a file of a shelf, which may be nil, break a rule; nil for none.
func (c *Convention) Excuse(rule, path string, shelf *Shelf) *Exception {
	var room [32]int
	for _, i := range c.lookups.excuses.Among(path, room[:0]) {
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
	s.without, s.sources, s.entries = NewIndex(s.Without), NewIndex(s.From), NewIndex(nil)
	for _, t := range s.Takes {
		s.entries.add(t.Name)
	}
}

// PassesOver says whether the shelf speaks of no file at a path: one like it does, for the instance in which the file
// lies.
func (s *Shelf) PassesOver(path string) bool { return s.without.Any(path) }

// Sources gives the numbers of the places from which a file at a path can have come.
func (s *Shelf) Sources(path string, out []int) []int { return s.sources.Among(path, out) }

// Entries gives the numbers of the entries of takes that a file of a name can satisfy.
func (s *Shelf) Entries(name string, out []int) []int { return s.entries.Among(name, out) }
