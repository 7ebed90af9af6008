package convention

import (
	"slices"
	"strings"

	"crookedshelf/internal/source"
	"crookedshelf/internal/template"
)

func at(t *template.Template) source.Position { return source.Position{Line: t.Line, Column: t.Column} }

// judge finds what is wrong with a convention whose single parts are right.
func (r *reader) judge(c *Convention) {
	if len(c.Shelves) == 0 {
		r.fail(source.Position{Line: 1, Column: 1}, "name at least one shelf: shelves: { parts: src/parts/ }",
			"the convention has no shelves")
	}
	places := map[string]*Shelf{}
	for _, shelf := range c.Shelves {
		r.judgePlace(shelf)
		if first := places[shelf.At.Canonical()]; first != nil {
			r.fail(at(shelf.At), "give one of them another place", "%s stands where %s stands (line %d)", shelf.Name,
				first.Name, first.At.Line)
		}
		places[shelf.At.Canonical()] = shelf
		r.judgeBindings(shelf)
	}
	within := map[*template.Template]*wide{} // the shelves of one folder's instances speak of the same files
	for i, shelf := range c.Shelves {
		if within[shelf.Within] == nil {
			within[shelf.Within] = &wide{shelves: c.Shelves}
		}
		within[shelf.Within].numbers = append(within[shelf.Within].numbers, i)
	}
	for _, w := range within {
		w.index()
	}
	for i, shelf := range c.Shelves {
		for _, before := range within[shelf.Within].before(i) {
			r.judgeCovered(c, shelf, c.Shelves[before])
		}
		r.judgeApart(c, shelf)
	}
}

// judgeApart: instances that may not use one another could still meet on a shelf that both may use and that may use
// them.
func (r *reader) judgeApart(c *Convention, shelf *Shelf) {
	if shelf.Apart == nil || shelf.Uses == nil {
		return
	}
	for _, name := range shelf.Uses.Shelves {
		other := c.Shelf(name)
		if other != nil && other != shelf && other.Uses != nil && slices.Contains(other.Uses.Shelves, shelf.Name) {
			r.fail(source.Position{Line: shelf.Apart.Line, Column: 1}, "take one of the two out",
				"%s are apart, and still may use one another through %s: they may use it (line %d), and it may use "+
					"them (line %d)", shelf.Name, name, shelf.Uses.Line, other.Uses.Line)
		}
	}
}

// judgePlace: a place is written with placeholders only.
func (r *reader) judgePlace(shelf *Shelf) {
	if strings.Contains(shelf.At.Text, "*") || strings.Contains(shelf.At.Text, "?") {
		r.fail(at(shelf.At), "name what varies: src/screens/<screen>/",
			"the place of %s has a wildcard: nothing says what stands for it when a file moves there", shelf.Name)
	}
	for _, from := range shelf.From {
		if from.Carriers() > 1 {
			r.fail(at(from), "leave one **",
				"two ** in one path: nothing says which of them is carried to the new place")
		}
	}
}

// judgeBindings: whatever brings a file to the shelf must give every placeholder of its place a value. For a shelf
// inside an instance the instance does, where the entry leaves it open.
func (r *reader) judgeBindings(shelf *Shelf) {
	around := func(e Entry) []string {
		if shelf.Within != nil {
			return shelf.Within.Names()
		}
		if shelf.Parent == nil || e.Place != nil && !template.Wider([]*template.Template{shelf.Parent.At}, e.Place) {
			return nil // it comes from outside of every instance
		}
		return shelf.Parent.At.Names()
	}
	reported := map[source.Position]bool{}
	for _, e := range shelf.Ways() {
		bound := around(e)
		where := e.position()
		if e.Place != nil {
			where = at(e.Place)
			bound = append(bound, e.Place.Names()...)
		}
		if e.Take != nil {
			bound = append(bound, e.Take.binds()...)
		}
		for _, n := range shelf.At.Names() {
			if slices.Contains(bound, n) || reported[where] {
				continue
			}
			reported[where] = true
			hint := "use <" + n + "> in it as well"
			if e.Place != nil && e.Take == nil {
				hint += ", or say which it is: { " + e.Place.Text + ": { " + n + ": a-name } }"
			}
			r.fail(where, hint, "nothing here binds <%s>, which the place of %s needs (line %d)", n, shelf.Name,
				shelf.At.Line)
		}
	}
}

// position is the place of the entry's name, or of the entry.
func (t Take) position() source.Position {
	if t.Name != nil {
		return at(t.Name)
	}
	return source.Position{Line: t.Line, Column: 1}
}

// binds are the placeholders that every file which satisfies the entry gives a value.
func (t Take) binds() []string {
	var out []string
	if t.Name != nil {
		out = append(out, t.Name.Names()...)
	}
	if t.NeededBy != nil && t.NeededBy.How == NeededByOne && t.NeededBy.Shelf != nil {
		out = append(out, t.NeededBy.Shelf.At.Names()...)
	}
	for _, ts := range [][]*template.Template{t.Extends, t.Marked} {
		out = append(out, bindsAll(ts)...)
	}
	var names []*template.Template
	for _, d := range t.Declares {
		if d.Name == nil {
			names = nil
			break
		}
		names = append(names, d.Name)
	}
	out = append(out, bindsAll(names)...)
	if t.Pool != nil {
		out = append(out, bindsAll(t.Pool.In)...)
	}
	return out
}

// bindsAll are the placeholders that all of the templates have.
func bindsAll(ts []*template.Template) []string {
	var out []string
	for i, t := range ts {
		if i == 0 {
			out = slices.Clone(t.Names())
			continue
		}
		out = slices.DeleteFunc(out, func(n string) bool { return !slices.Contains(t.Names(), n) })
	}
	return out
}

// wide finds, among some shelves, the few that could take all of what another would.
type wide struct {
	shelves []*Shelf         // of the convention
	numbers []int            // of those that are looked through
	places  template.Owned   // where files lie
	names   template.Owned   // of files, wherever they lie
	asks    map[string][]int // what entries without a name ask for
}

func (w *wide) index() {
	w.asks = map[string][]int{}
	for _, i := range w.numbers {
		s := w.shelves[i]
		if len(s.From) > 0 {
			for _, from := range s.From {
				w.places.Add(from, i)
			}
			continue
		}
		for _, t := range s.Takes {
			if t.Name != nil {
				w.names.Add(t.Name, i)
			} else if asked := t.asks(); len(asked) > 0 {
				w.asks[asked[0]] = append(w.asks[asked[0]], i)
			}
		}
	}
}

// asks are the conditions of an entry beside the name, as texts, the rarest first.
func (t Take) asks() []string {
	var out []string
	for _, d := range t.Declares {
		out = append(out, "declares "+d.Kind+" "+textOf(d.Name))
	}
	for _, e := range t.Extends {
		out = append(out, "extends "+e.Text)
	}
	for _, m := range t.Marked {
		out = append(out, "marked "+m.Text)
	}
	for _, i := range t.Imports {
		out = append(out, "imports "+i)
	}
	if t.NeededBy != nil {
		out = append(out, "needed by "+string('0'+rune(t.NeededBy.How))+t.NeededBy.name)
	}
	if t.Pool != nil {
		out = append(out, "pool "+t.Pool.Name)
	}
	return out
}

func textOf(t *template.Template) string {
	if t == nil {
		return ""
	}
	return t.Text
}

// before gives the numbers of earlier shelves that could take all of what one of the entries of a shelf would.
func (w *wide) before(shelf int) []int {
	var found []int
	s := w.shelves[shelf]
	found = w.places.Among(s.At.Examples()[0], found)
	for _, from := range s.From {
		found = w.places.Among(from.Examples()[0], found)
		if len(s.Takes) == 0 {
			found = w.names.Among(fileName(from).Examples()[0], found)
		}
	}
	for _, t := range s.Takes {
		if t.Name != nil {
			found = w.names.Among(t.Name.Examples()[0], found)
		}
		for _, asked := range t.asks() {
			found = append(found, w.asks[asked]...)
		}
	}
	slices.Sort(found)
	found = slices.Compact(found)
	later, _ := slices.BinarySearch(found, shelf)
	return found[:later]
}

// implied says whether every file that satisfies another entry satisfies this one, where more than names are asked for.
func (t Take) implied(by Take) bool {
	if t.nameAlone() { // names are compared with those of places too
		return false
	}
	need := t.NeededBy == nil || by.NeededBy != nil && t.NeededBy.How == by.NeededBy.How &&
		t.NeededBy.Shelf == by.NeededBy.Shelf
	return need && (t.Pool == nil || t.Pool == by.Pool) &&
		(t.Name == nil || by.Name != nil && template.Covers([]*template.Template{t.Name}, by.Name)) &&
		(len(t.Declares) == 0 || slices.EqualFunc(t.Declares, by.Declares,
			func(a, b Declares) bool { return a.Kind == b.Kind && sameText(a.Name, b.Name) })) &&
		(len(t.Extends) == 0 || slices.EqualFunc(t.Extends, by.Extends, sameText)) &&
		(len(t.Marked) == 0 || slices.EqualFunc(t.Marked, by.Marked, sameText)) &&
		(len(t.Imports) == 0 || slices.Equal(t.Imports, by.Imports))
}

func sameText(a, b *template.Template) bool {
	return a == b || a != nil && b != nil && a.Text == b.Text
}

func (r *reader) covered(where source.Position, shelf, before *Shelf, line int) {
	r.fail(where, "ask for less here, so that it is the more particular one, or take it out",
		"no file can come to %s by this entry: the earlier shelf %s takes just the same (line %d)", shelf.Name,
		before.Name, line)
}

// nameAlone says whether the entry asks for the file's name and nothing else.
func (t Take) nameAlone() bool { return t.Name != nil && t.Pool == nil && !t.Content() }

// fileName is the template of the file's name alone: what stands behind the last slash.
func fileName(t *template.Template) *template.Template {
	text := t.Text
	if strings.HasSuffix(text, "/") || strings.HasSuffix(text, "**") {
		text = "*"
	}
	parsed, err := template.ParseName(text[strings.LastIndexByte(text, '/')+1:], t.Vars)
	if err != nil {
		return t
	}
	return parsed
}
