package convention

import (
	"slices"
	"strings"

	"crookedshelf/internal/source"
)

func at(t *Template) source.Position { return source.Position{Line: t.Line, Column: t.Column} }

// judge finds what is wrong with a convention whose single parts are right.
func (r *reader) judge(c *Convention) {
	if len(c.Shelves) == 0 {
		r.fail(source.Position{Line: 1, Column: 1}, "name at least one shelf: shelves: { parts: src/parts/ }", "the convention has no shelves")
	}
	places := map[string]*Shelf{}
	for _, shelf := range c.Shelves {
		r.judgePlace(shelf)
		if first := places[shelf.At.Canonical()]; first != nil {
			r.fail(at(shelf.At), "give one of them another place", "%s stands where %s stands (line %d)", shelf.Name, first.Name, first.At.Line)
		}
		places[shelf.At.Canonical()] = shelf
		r.judgeBindings(shelf)
	}
	for i, shelf := range c.Shelves {
		r.judgeCovered(shelf, c.Shelves[:i])
	}
}

// judgePlace: a place is written with placeholders only.
func (r *reader) judgePlace(shelf *Shelf) {
	if strings.Contains(shelf.At.Text, "*") || strings.Contains(shelf.At.Text, "?") {
		r.fail(at(shelf.At), "name what varies: src/screens/<screen>/", "the place of %s has a wildcard: nothing says what stands for it when a file moves there", shelf.Name)
	}
	for _, from := range shelf.From {
		if from.carriers() > 1 {
			r.fail(at(from), "leave one **", "two ** in one path: nothing says which of them is carried to the new place")
		}
	}
}

// judgeBindings: whatever brings a file to the shelf must give every placeholder of its place a value.
func (r *reader) judgeBindings(shelf *Shelf) {
	missing := func(bound ...[]string) string {
		for _, n := range shelf.At.Names() {
			if !slices.Contains(slices.Concat(bound...), n) {
				return n
			}
		}
		return ""
	}
	report := func(t *Template, n string) {
		r.fail(at(t), "use <"+n+"> in it as well", "nothing here binds <%s>, which the place of %s needs (line %d)", n, shelf.Name, shelf.At.Line)
	}
	if len(shelf.Takes) == 0 {
		for _, from := range shelf.From {
			if n := missing(from.Names()); n != "" {
				report(from, n)
			}
		}
		return
	}
	for _, take := range shelf.Takes {
		if take.Name == nil {
			continue
		}
		if len(shelf.From) == 0 {
			if n := missing(take.Name.Names()); n != "" {
				report(take.Name, n)
			}
		}
		for _, from := range shelf.From {
			if n := missing(from.Names(), take.Name.Names()); n != "" {
				report(from, n)
			}
		}
	}
}

// judgeCovered: an entry that an earlier shelf wholly covers would never take a file.
func (r *reader) judgeCovered(shelf *Shelf, earlier []*Shelf) {
	for _, before := range earlier {
		names := takeNames(before)
		for _, from := range shelf.From {
			if len(before.From) > 0 && len(names) == 0 && covers(before.From, from) {
				r.covered(from, shelf, before, before.From[0].Line)
			}
		}
		if len(names) == 0 || len(before.From) > 0 {
			continue
		}
		for _, take := range shelf.Takes {
			if take.Name != nil && covers(names, take.Name) {
				r.covered(take.Name, shelf, before, names[0].Line)
			}
		}
		if len(shelf.Takes) == 0 {
			for _, from := range shelf.From {
				if covers(names, fileName(from)) {
					r.covered(from, shelf, before, names[0].Line)
				}
			}
		}
	}
}

func (r *reader) covered(t *Template, shelf, before *Shelf, line int) {
	r.fail(at(t), "put the particular before the general, or take this out",
		"no file can come to %s by this entry: the earlier shelf %s takes them all (line %d)", shelf.Name, before.Name, line)
}

func takeNames(s *Shelf) []*Template {
	var names []*Template
	for _, take := range s.Takes {
		if take.Name != nil {
			names = append(names, take.Name)
		}
	}
	return names
}

// fileName is the template of the file's name alone: what stands behind the last slash.
func fileName(t *Template) *Template {
	text := t.Text
	if strings.HasSuffix(text, "/") || strings.HasSuffix(text, "**") {
		text = "*"
	}
	parsed, err := parseTemplate(text[strings.LastIndexByte(text, '/')+1:], t.Vars)
	if err != nil {
		return t
	}
	return parsed
}
