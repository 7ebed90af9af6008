package placement

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// subject is a file that is judged: where it lies or would lie, which file of the tree it is, and the shelf on which it
// stands there, with the captures of its place.
type subject struct {
	path string
	id   project.FileID // project.None if it is no file of the tree
	standing
	by *solo // nil where the homes of other files may be asked for
}

// standing is the deepest shelf whose place a path fits, and the captures of the place; nil for none.
type standing struct {
	on       *convention.Shelf
	captures template.Captures
}

// at gives a file, of the tree or not, as it lies or would lie.
func (p *placer) at(file string, id project.FileID) subject {
	return subject{path: file, id: id, standing: p.standsOn(file)}
}

// subject gives a file of the tree where it lies.
func (p *placer) subject(id project.FileID) subject {
	if p.stood != nil {
		return p.stood[id]
	}
	return p.at(p.tree.Path(id), id)
}

// solo judges a file without asking for the homes of others, so that many can be judged at one time.
type solo struct {
	asks bool // its home depends on those of others: the judgement does not count
}

// others says whether the homes of others may be asked for.
func (f subject) others() bool {
	if f.by != nil {
		f.by.asks = true
	}
	return f.by == nil
}

// entry is what brought a file to a shelf.
type entry struct {
	captures template.Captures
	line     int
	because  string
	by       convention.Entry
}

// belongs judges a file by a shelf's from and takes. What these leave open, the instance around the shelf says in which
// the file lies.
func (p *placer) belongs(s *convention.Shelf, f subject) (entry, bool) {
	e, ok := p.judgedBy(s, f)
	if !ok || !open(s, e) {
		return e, ok
	}
	for around := s.Parent; around != nil; around = around.Parent {
		if c, lies := around.At.Match(f.path); lies {
			e.captures, _ = overrides(template.Captures{Values: c.Values}, e.captures)
			break
		}
	}
	return e, !open(s, e)
}

// open says whether an entry leaves a placeholder of the shelf's place open.
func open(s *convention.Shelf, e entry) bool {
	return slices.ContainsFunc(s.At.Names(), func(n string) bool { return e.captures.Values[n] == "" })
}

// judgedBy judges a file by what a shelf asks for.
func (p *placer) judgedBy(s *convention.Shelf, f subject) (entry, bool) {
	if len(s.From) == 0 && len(s.Takes) == 0 {
		return entry{}, false
	}
	start := entry{}
	if s.Within != nil { // the shelves of an instance speak of what lies in it
		c, ok := s.Within.Match(f.path)
		if !ok {
			return entry{}, false
		}
		start.captures = template.Captures{Values: c.Values}
	}
	if s.PassesOver(f.path) {
		return entry{}, false
	}
	if len(s.From) == 0 {
		if f.on == s {
			start.by.Place = s.At
		}
		return p.taken(s, f, start, agrees)
	}
	// history does not matter where the file has arrived; a name that says otherwise does, and a folder within the place
	// whose files should lie beside it
	if f.on == s && !p.wrapped(s, f.path) {
		way := entry{captures: f.captures, line: s.At.Line, by: convention.Entry{Place: s.At}}
		if e, ok := p.taken(s, f, way, overrides); ok {
			return e, true
		}
	}
	var buf [32]int
	for _, i := range s.Sources(f.path, buf[:0]) {
		t := s.From[i]
		if c, ok := t.Match(f.path); ok {
			if merged, ok := agrees(start.captures, c); ok {
				if e, ok := p.taken(s, f, entry{captures: merged, line: t.Line, by: convention.Entry{Place: t}},
					agrees); ok {
					return e, true
				}
			}
		}
	}
	return entry{}, false
}

// wrapped says whether a file that stands on a shelf lies in a folder within, from which the shelf takes files: they go
// one folder up.
func (p *placer) wrapped(s *convention.Shelf, file string) bool {
	var buf [32]int
	return slices.ContainsFunc(s.Sources(file, buf[:0]), func(i int) bool {
		return p.convention.Narrower(convention.Entry{Place: s.From[i]}, convention.Entry{Place: s.At}) &&
			s.From[i].Fits(file)
	})
}

// taken adds what an entry of takes says. A shelf without takes asks for nothing more.
func (p *placer) taken(s *convention.Shelf, f subject, from entry, merge merger) (entry, bool) {
	if len(s.Takes) == 0 {
		return from, true
	}
	var buf [32]int
	for _, i := range s.Entries(path.Base(f.path), buf[:0]) {
		if e, ok := p.satisfies(s, &s.Takes[i], f, from, merge); ok {
			return e, true
		}
	}
	return entry{}, false
}

// satisfies judges a file by one entry, all of whose conditions must hold. The cheap ones are asked first.
func (p *placer) satisfies(s *convention.Shelf, t *convention.Take, f subject, from entry, merge merger) (entry, bool) {
	e := entry{captures: from.captures, line: t.Line, by: convention.Entry{Place: from.by.Place, Take: t}}
	ok := true
	if t.Name != nil {
		var c template.Captures
		if c, ok = t.Name.Match(path.Base(f.path)); ok {
			e.captures, ok = merge(e.captures, c)
		}
	}
	if ok && t.Pool != nil {
		var c template.Captures
		if c, ok = p.inPool(t.Pool, f); ok {
			if e.captures.Dirs != "" {
				c.Dirs = ""
			}
			e.captures, ok = merge(c, e.captures)
		}
	}
	if ok && t.Content() {
		ok = p.graph != nil && f.id != project.None
	}
	if ok && t.Outlined() {
		ok = p.declares(t, f.id, &e)
	}
	if ok && len(t.Imports) > 0 {
		ok = p.imports(t.Imports, f)
	}
	if ok && t.NeededBy != nil {
		if f.by == nil {
			p.needs.line = t.NeededBy.Line
		}
		ok = (p.needs.tells(t) || f.others()) && p.needed(t, f.id, &e)
	}
	return e, ok
}

// inPool says whether a file lies where the pool says or stands on a shelf that takes from it, and what that captures.
func (p *placer) inPool(pool *convention.Pool, f subject) (template.Captures, bool) {
	for _, t := range pool.In {
		if c, ok := t.Match(f.path); ok {
			return c, true
		}
	}
	if f.on != nil && slices.ContainsFunc(f.on.Takes, func(t convention.Take) bool { return t.Pool == pool }) {
		return template.Captures{Dirs: f.captures.Dirs}, true
	}
	return template.Captures{}, false
}

// declared gives what a file declares of the kinds that the convention asks of.
func (p *placer) declared(id project.FileID) (out []convention.Declared) {
	if p.graph == nil || id == project.None || p.asked == 0 {
		return nil
	}
	for _, d := range p.graph.Declarations(id, p.asked) {
		for kind := range p.asked.All() {
			if d.Kinds.Has(kind) {
				out = append(out, convention.Declared{Kind: kind, Name: d.Name})
			}
		}
	}
	return out
}

// declares looks for one declaration of the file for which all hold that the entry asks of declarations.
func (p *placer) declares(t *convention.Take, id project.FileID, e *entry) bool {
	for _, d := range p.graph.Declarations(id, lang.AskedBy(t)) {
		captures, ok := e.captures, true
		if len(t.Declares) > 0 {
			captures, ok = declared(t.Declares, d, captures)
		}
		if ok && len(t.Extends) > 0 {
			captures, ok = named(t.Extends, d.Extends, captures)
		}
		if ok && len(t.Marked) > 0 {
			captures, ok = named(t.Marked, d.Marks, captures)
		}
		if ok {
			e.captures = captures
			return true
		}
	}
	return false
}

func declared(asked []convention.Declares, d lang.Declaration, captures template.Captures) (template.Captures, bool) {
	for _, a := range asked {
		if !d.Kinds.Has(a.Kind) {
			continue
		}
		if a.Name == nil {
			return captures, true
		}
		if merged, ok := named([]*template.Template{a.Name}, []string{d.Name}, captures); ok {
			return merged, true
		}
	}
	return captures, false
}

// named says whether one of the names fits one of the patterns, with its qualifier or without.
func named(patterns []*template.Template, names []string, captures template.Captures) (template.Captures, bool) {
	for _, pattern := range patterns {
		for _, name := range names {
			for _, text := range []string{name, name[strings.LastIndexByte(name, '.')+1:]} {
				if c, ok := pattern.Match(text); ok {
					if merged, ok := agrees(captures, c); ok {
						return merged, true
					}
				}
			}
		}
	}
	return captures, false
}

// imports says whether a file refers to one of the shelves or packages.
func (p *placer) imports(names []string, f subject) bool {
	n := &p.graph.Files[f.id]
	for i, t := range n.Targets {
		if n.Mentions[i].Likely {
			continue
		}
		switch t.Kind {
		case lang.ToPackage:
			if convention.NamesPackage(names, lang.LibraryOf(&n.Mentions[i])) {
				return true
			}
		case lang.ToFile:
			if slices.ContainsFunc(names, func(name string) bool { return p.convention.Shelf(name) != nil }) {
				if !f.others() {
					return false
				}
				if h := p.homeOf(t.File); t.File != f.id && h.Shelf != nil && slices.Contains(names, h.Shelf.Name) {
					return true
				}
			}
		}
	}
	return false
}

// merger puts the captures of where a file lies together with those of its name.
type merger func(place, name template.Captures) (template.Captures, bool)

// agrees: a name bound in both must be the same words.
func agrees(place, name template.Captures) (template.Captures, bool) {
	for k, v := range place.Values {
		if other, both := name.Values[k]; both && !template.SameWords(v, other) {
			return template.Captures{}, false
		}
	}
	return overrides(name, place)
}

// overrides: what the second says counts.
func overrides(first, second template.Captures) (template.Captures, bool) {
	dirs := first.Dirs + second.Dirs
	switch {
	case len(second.Values) == 0:
		return template.Captures{Values: first.Values, Dirs: dirs}, true
	case len(first.Values) == 0:
		return template.Captures{Values: second.Values, Dirs: dirs}, true
	}
	out := template.Captures{Values: map[string]string{}, Dirs: dirs}
	for _, values := range []map[string]string{first.Values, second.Values} {
		for k, v := range values {
			out.Values[k] = v
		}
	}
	return out, true
}
