package convention

import (
	"slices"

	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
)

// This file says which of two shelves takes a file that both could take. The first in the order of the file wins,
// unless a later one is more particular: it names the file in full, or takes less of what the first takes. A list that
// is read from top to bottom would do for machines. People add a shelf at the end and expect it to count.

// Entry is one way by which a shelf takes files: a place, which is one of from or the shelf's own, an entry of takes,
// or both together.
type Entry struct {
	Place *template.Template // nil for a file wherever it lies
	Take  *Take              // nil for any file there
}

// Ways are the entries by which a shelf takes files that do not stand on it yet.
func (s *Shelf) Ways() (out []Entry) {
	places := s.From
	if len(places) == 0 {
		places = []*template.Template{nil}
	}
	for _, place := range places {
		for i := range s.Takes {
			out = append(out, Entry{place, &s.Takes[i]})
		}
		if len(s.Takes) == 0 && place != nil {
			out = append(out, Entry{Place: place})
		}
	}
	return out
}

// standing are the entries by which a shelf keeps files that stand on it, where it asks for something.
func (s *Shelf) standing() (out []Entry) {
	for i := range s.Takes {
		out = append(out, Entry{s.At, &s.Takes[i]})
	}
	if len(s.Takes) == 0 && len(s.From) > 0 {
		out = append(out, Entry{Place: s.At})
	}
	return out
}

// Line is the line of the entry, from 1.
func (e Entry) Line() int { return e.position().Line }

// position is where an entry stands in the convention.
func (e Entry) position() source.Position {
	if e.Take != nil {
		return e.Take.position()
	}
	return at(e.Place)
}

// Conditions is how many things the entry asks for.
func (e Entry) Conditions() int {
	n := 0
	if e.Place != nil {
		n++
	}
	if t := e.Take; t != nil {
		for _, asks := range []bool{t.Name != nil, t.Pool != nil, t.Outlined(), len(t.Imports) > 0, t.NeededBy != nil} {
			if asks {
				n++
			}
		}
	}
	return n
}

// inFull says whether the entry names one file.
func (e Entry) inFull() bool { return e.Place != nil && e.Place.Plain() }

// comparer says whether some templates fit all that another fits.
type comparer func(as []*template.Template, b *template.Template) bool

// covers says whether every file that comes by another entry would come by this one too.
func (e Entry) covers(other Entry, fits comparer) bool {
	if e.Place != nil && (other.Place == nil || !fits([]*template.Template{e.Place}, other.Place)) {
		return false
	}
	switch {
	case e.Take == nil:
		return true
	case e.Take.nameAlone():
		name := other.name()
		return name != nil && fits([]*template.Template{e.Take.Name}, name)
	}
	return other.Take != nil && e.Take.implied(*other.Take)
}

// narrower says whether an entry takes less than another. Where it can't be known what cases and values leave out, the
// shape decides.
func (e Entry) narrower(than Entry) bool {
	for _, fits := range []comparer{template.Covers, template.Wider} {
		if than.covers(e, fits) && !e.covers(than, fits) {
			return true
		}
	}
	return false
}

// name is what the name of each file of an entry looks like; nil for any name.
func (e Entry) name() *template.Template {
	switch {
	case e.Take != nil && e.Take.Name != nil:
		return e.Take.Name
	case e.Place != nil:
		return fileName(e.Place)
	}
	return nil
}

// Narrower says whether an entry is more particular than another, so that it wins although its shelf comes later.
func (c *Convention) Narrower(a, than Entry) bool {
	if a.inFull() != than.inFull() {
		return a.inFull()
	}
	key := [2]Entry{a, than}
	if known, ok := c.lookups.narrower.Load(key); ok {
		return known.(bool)
	}
	narrower := a.narrower(than)
	c.lookups.narrower.Store(key, narrower) // a convention has few entries, and a tree many files
	return narrower
}

// MayWin says whether a shelf can win over an earlier one for a file at a path.
func (c *Convention) MayWin(shelf, over *Shelf, path string) bool {
	return slices.Contains(c.lookups.wins[over], shelf) || slices.Contains(c.lookups.inFull[path], shelf)
}

// judgeCovered: an entry that an earlier shelf wholly covers wins where it is more particular; where it is equally so
// it would never take a file.
func (r *reader) judgeCovered(c *Convention, shelf, before *Shelf) {
	earlier := before.Ways()
	var names, places []*template.Template // of entries that ask for nothing else
	for _, e := range earlier {
		switch {
		case e.Place == nil && e.Take.nameAlone():
			names = append(names, e.Take.Name)
		case e.Take == nil:
			places = append(places, e.Place)
		}
	}
	for _, e := range shelf.Ways() {
		name := e.name()
		same := slices.IndexFunc(earlier, func(by Entry) bool {
			return by.covers(e, template.Covers) && e.covers(by, template.Covers)
		})
		switch {
		case same >= 0:
			r.covered(e.position(), shelf, before, earlier[same].position().Line)
		case slices.ContainsFunc(earlier, e.narrower),
			len(names) > 1 && name != nil && template.Covers(names, name),
			len(places) > 1 && e.Place != nil && template.Covers(places, e.Place):
			c.lookups.wins[before] = append(c.lookups.wins[before], shelf)
		}
	}
	for _, e := range shelf.standing() {
		if slices.ContainsFunc(earlier, e.narrower) {
			c.lookups.wins[before] = append(c.lookups.wins[before], shelf)
		}
	}
}
