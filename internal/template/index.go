package template

import (
	"iter"
	"slices"

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
		x.Add(t)
	}
	return x
}

// Add takes a template in, by the next number.
func (x *Index) Add(t *Template) {
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
	var buf [16]int
	for _, i := range x.Among(text, buf[:0]) {
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
	o.index.Add(t)
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
		var buf [32]int
		for _, i := range o.index.Among(text, buf[:0]) {
			if o.index.Matches(i, text) && !yield(o.owners[i]) {
				return
			}
		}
	}
}
