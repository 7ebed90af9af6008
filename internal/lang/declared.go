package lang

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
)

// Declared is what a convention says that scanning and resolving must know. One belongs to the tree before the moves and
// one to the tree after. A nil *Declared says nothing.
type Declared struct {
	Convention *convention.Convention
	After      bool
	// Home gives where the file at a path belongs: the convention's paths are compared with that, so that they hold
	// before and after. In the tree after, a file's home is its path.
	Home func(path string) string
	// Followed gives, in the tree after, the targets of aliases that the convention names without saying what they will be:
	// they follow their folders.
	Followed map[string]string

	// Served are folders, in the tree after, whose files have addresses at the root: they had so by habit before they moved, and what serves
	// them follows.
	Served []string

	// Outlines: what files declare is asked for.
	Outlines bool
	// Certain: only mentions that a language or format defines, or the convention states, are asked for. Others may be left out.
	Certain bool

	takes []outlined
	calls map[string][]int // rules by the last name of a call
	likes []int            // rules for any text
	code  []int            // rules for names of functions
}

// NewDeclared makes the view of one tree. home may be nil: then every file is at home.
func NewDeclared(c *convention.Convention, after bool, home func(path string) string) *Declared {
	if home == nil {
		home = func(path string) string { return path }
	}
	d := &Declared{Convention: c, After: after, Home: home, calls: map[string][]int{}, Outlines: c.NeedsOutlines()}
	for _, one := range c.All() {
		for _, s := range one.Shelves {
			for i := range s.Takes {
				if t := &s.Takes[i]; t.Outlined() {
					d.takes = append(d.takes, outlined{AskedBy(t), t.Name, placesOf(one, s, t)})
				}
			}
		}
	}
	for i, m := range c.Mentions {
		for _, call := range m.Calls {
			last := call[strings.LastIndexByte(call, '.')+1:]
			d.calls[last] = append(d.calls[last], i)
		}
		if m.Code && m.Like != nil {
			d.code = append(d.code, i)
		}
		if len(m.Calls) == 0 && len(m.Keys) == 0 && m.Like != nil && !m.Tags && !m.Code {
			d.likes = append(d.likes, i)
		}
	}
	return d
}

// AskAll asks for all that any file declares.
func (d *Declared) AskAll() { d.Outlines, d.takes = true, []outlined{{kinds: AnyKind}} }

// WantsOutlines says whether anybody asks what files declare.
func (d *Declared) WantsOutlines() bool { return d != nil && d.Outlines }

// outlined is an entry of takes that asks for declarations, with where the files lie that it may take.
type outlined struct {
	kinds  DeclarationKinds
	name   *convention.Template   // of the file's name; nil for any
	places []*convention.Template // nil for any
}

// placesOf gives where the files lie that an entry of a shelf may take; nil for anywhere.
func placesOf(c *convention.Convention, s *convention.Shelf, t *convention.Take) []*convention.Template {
	switch {
	case t.Pool != nil: // those of shelves that take from a pool are of it
		places := slices.Clone(t.Pool.In)
		for _, other := range c.Shelves {
			if slices.ContainsFunc(other.Takes, func(o convention.Take) bool { return o.Pool == t.Pool }) {
				places = append(places, other.At)
			}
		}
		return places
	case len(s.From) > 0:
		return append(slices.Clone(s.From), s.At)
	}
	return nil
}

// Asked gives the kinds of declaration by which shelves may take the file at a path. Others may be asked for as well.
func (d *Declared) Asked(file string) DeclarationKinds {
	var kinds DeclarationKinds
	for _, t := range d.takes {
		fits := func(t *convention.Template) bool { _, ok := t.Match(file); return ok }
		if t.places != nil && !slices.ContainsFunc(t.places, fits) {
			continue
		}
		if t.name != nil {
			if _, ok := t.name.Match(path.Base(file)); !ok {
				continue
			}
		}
		kinds |= t.kinds
	}
	return kinds
}

// Entry gives an entry of the convention's mentions by its number from 1; nil for 0.
func (d *Declared) Entry(rule int) *convention.Mention {
	if d == nil || rule == 0 {
		return nil
	}
	return d.Convention.Mentions[rule-1]
}

// Calls says whether the convention states anything of calls of this name.
func (d *Declared) Calls(name string) bool {
	if d == nil {
		return false
	}
	_, any := d.calls[name]
	return any
}

// Call gives the entry by which the first string of a call is a mention, from 1; 0 for none. chain is the call's name
// with what it is called on: res.render.
func (d *Declared) Call(path, chain, text string) int {
	if d == nil {
		return 0
	}
	last := chain[strings.LastIndexByte(chain, '.')+1:]
	for _, i := range d.calls[last] {
		m := d.Convention.Mentions[i]
		named := slices.ContainsFunc(m.Calls, func(call string) bool {
			return call == last || chain == call || strings.HasPrefix(chain, call+".") || strings.HasSuffix(chain, "."+call)
		})
		if named && d.speaksOf(m, path) && likes(m, text) {
			return i + 1
		}
	}
	return 0
}

// Like gives the entry by which any text of this look is a mention, from 1; 0 for none.
func (d *Declared) Like(path, text string) int {
	if d == nil {
		return 0
	}
	for _, i := range d.likes {
		if m := d.Convention.Mentions[i]; d.speaksOf(m, path) && likes(m, text) {
			return i + 1
		}
	}
	return 0
}

// Code gives the entry by which the name of a called function is a mention, from 1; 0 for none.
func (d *Declared) Code(path, name string) int {
	if d == nil {
		return 0
	}
	for _, i := range d.code {
		if m := d.Convention.Mentions[i]; likes(m, name) && d.speaksOf(m, path) {
			return i + 1
		}
	}
	return 0
}

// Key gives the entry that speaks of a value of a settings file, from 1; 0 for none.
func (d *Declared) Key(path string, key []string) int {
	if d == nil {
		return 0
	}
	for i, m := range d.Convention.Mentions {
		if len(m.Keys) > 0 && d.speaksOf(m, path) && slices.ContainsFunc(m.Keys, func(k convention.KeyPath) bool { return k.Matches(key) }) {
			return i + 1
		}
	}
	return 0
}

// Tags says whether elements of a template at a path may be mentions, and by which entries.
func (d *Declared) Tags(path string) []int {
	var out []int
	if d == nil {
		return nil
	}
	for i, m := range d.Convention.Mentions {
		if m.Tags && d.speaksOf(m, path) {
			out = append(out, i+1)
		}
	}
	return out
}

// Settles says whether the convention speaks of the settings in a file, so that code in it is read as settings.
func (d *Declared) Settles(path string) bool {
	if d == nil || len(d.Convention.Settings)+len(d.Convention.Mentions) == 0 {
		return false
	}
	home := d.Home(path)
	for _, s := range d.Convention.Settings {
		if _, ok := s.In.Match(home); ok {
			return true
		}
	}
	for _, m := range d.Convention.Mentions {
		if len(m.Keys) > 0 && len(m.In) > 0 && d.speaksOf(m, path) {
			return true
		}
	}
	return false
}

func (d *Declared) speaksOf(m *convention.Mention, path string) bool {
	if len(m.In) == 0 {
		return true
	}
	home := d.Home(path)
	return slices.ContainsFunc(m.In, func(t *convention.Template) bool { _, ok := t.Match(home); return ok })
}

func likes(m *convention.Mention, text string) bool {
	if m.Like == nil {
		return true
	}
	_, ok := m.Like.Match(text)
	return ok
}
