// Package placement says where each file belongs, by docs/convention.md, section "Where a file belongs". The home of a
// file is a function of its path and the convention; no file is read for it.
package placement

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project"
)

// Kind says how a file stands to the convention.
type Kind uint8

// The kinds of home.
const (
	Unspoken  Kind = iota // the convention does not speak of the place
	Left                  // left alone by an entry of leave
	AtHome                // it stands where it belongs
	Misplaced             // it belongs elsewhere
	Homeless              // the convention speaks of the place and no shelf takes the file
)

// Leave says by which list a file is left alone.
type Leave uint8

// The lists of leave.
const (
	Free Leave = iota
	Stay
	Untouched
	Generated
	Outside
	Excused // by an exception
)

// Home is where a file belongs.
type Home struct {
	Kind     Kind
	Leave    Leave
	Path     string // the file's path there; its own where it stands right
	Shelf    *convention.Shelf
	Instance string // the shelf's folder for this file, or the file itself for a place that names one
	Line     int    // of the convention: the entry that took it
	values   map[string]string
	// Exception is what excuses the file from standing where it belongs; nil for none.
	Exception *convention.Exception
	// Owner is the file whose companion this one is; project.None for none.
	Owner project.FileID
}

// Placer places files by one convention.
type Placer struct {
	convention *convention.Convention
	spoken     []string // folders in which a file that nothing takes is homeless
}

// New makes a placer.
func New(c *convention.Convention) *Placer { return &Placer{convention: c, spoken: spokenFolders(c)} }

// spokenFolders are the folders where the convention speaks: for the shelves below one top folder, the deepest folder
// that all of them lie in, or the top folder itself.
func spokenFolders(c *convention.Convention) []string {
	deepest := map[string]string{}
	for _, s := range c.Shelves {
		folder := strings.TrimSuffix(s.At.Head(), "/")
		if folder == "" {
			continue
		}
		top, _, _ := strings.Cut(folder, "/")
		if !s.AtFile && len(s.At.Names()) == 0 && folder != top { // the shelf is the folder: the convention speaks of what is beside it
			folder = path.Dir(folder)
		}
		if have, ok := deepest[top]; ok {
			folder = commonFolder(have, folder)
		}
		deepest[top] = folder
	}
	var out []string
	for _, folder := range deepest {
		out = append(out, folder+"/")
	}
	slices.Sort(out)
	return out
}

func commonFolder(a, b string) string {
	for a != b {
		if len(a) > len(b) {
			a = path.Dir(a)
		} else {
			b = path.Dir(b)
		}
	}
	return a
}

// Place gives the home of a file by its path. One that is excused stays where it is.
func (p *Placer) Place(file string) Home {
	h := p.home(file)
	rule := map[Kind]string{Misplaced: finding.Misplaced, Homeless: finding.Homeless}[h.Kind]
	if rule == "" {
		return h
	}
	if e := Excuse(p.convention, rule, file); e != nil {
		return Home{Kind: Left, Leave: Excused, Path: file, Line: e.Line, Exception: e}
	}
	return h
}

// Excuse gives the exception that lets a file break a rule; nil for none.
func Excuse(c *convention.Convention, rule, file string) *convention.Exception {
	for _, e := range c.Exceptions {
		if e.Rule != "" && e.Rule != rule {
			continue
		}
		if _, ok := e.File.Match(file); ok {
			return e
		}
	}
	return nil
}

func (p *Placer) home(file string) Home {
	if leave, line := p.left(file); leave != Free {
		return Home{Kind: Left, Leave: leave, Path: file, Line: line}
	}
	on, standing, stands := p.standsOn(file)
	for _, shelf := range p.convention.Shelves {
		entry, ok := belongs(shelf, file, stands && on == shelf, standing)
		if !ok {
			continue
		}
		h := Home{Shelf: shelf, Line: entry.line, values: entry.captures.Values}
		if stands && on == shelf && sameCaptures(shelf, entry.captures, standing) {
			h.Path = file
		} else {
			h.Path = homePath(shelf, entry.captures, path.Base(file))
		}
		h.Instance = shelf.At.Fill(entry.captures.Values)
		h.Kind = Misplaced
		if h.Path == file {
			h.Kind = AtHome
		}
		return h
	}
	if stands && len(on.Takes) == 0 {
		return Home{Kind: AtHome, Path: file, Shelf: on, Instance: on.At.Fill(standing.Values), Line: on.At.Line, values: standing.Values}
	}
	if p.topAllows(file) {
		return Home{Kind: Unspoken, Path: file}
	}
	if p.convention.Top != nil && !strings.Contains(file, "/") || p.notAtTop(file) || slices.ContainsFunc(p.spoken, func(folder string) bool { return strings.HasPrefix(file, folder) }) {
		h := Home{Kind: Homeless, Path: file}
		if stands {
			h.Shelf, h.Line = on, on.Line
		}
		return h
	}
	return Home{Kind: Unspoken, Path: file}
}

// topAllows says whether a file may stand at the root.
func (p *Placer) topAllows(file string) bool {
	return !strings.Contains(file, "/") && slices.ContainsFunc(p.convention.Top, func(t *convention.Template) bool { _, ok := t.Match(file); return ok })
}

// notAtTop says whether a file lies below a folder that may not stand at the root.
func (p *Placer) notAtTop(file string) bool {
	folder, _, below := strings.Cut(file, "/")
	if p.convention.Top == nil || !below {
		return false
	}
	return !slices.ContainsFunc(p.convention.Top, func(t *convention.Template) bool {
		_, ok := t.Match(file)
		return ok || strings.HasPrefix(t.Head(), folder+"/")
	})
}

// left looks through leave. What begins with a dot at the root, and the convention itself, always stay.
func (p *Placer) left(file string) (Leave, int) {
	l := p.convention.Leave
	for _, list := range []struct {
		leave     Leave
		templates []*convention.Template
	}{{Outside, l.Outside}, {Generated, l.Generated}, {Untouched, l.Untouched}, {Stay, l.Stay}} {
		for _, t := range list.templates {
			if _, ok := t.Match(file); ok {
				return list.leave, t.Line
			}
		}
	}
	if file == convention.FileName || strings.HasPrefix(file, ".") {
		return Stay, 0
	}
	return Free, 0
}

// standsOn gives the deepest shelf whose place the path fits, and the captures of the place.
func (p *Placer) standsOn(file string) (*convention.Shelf, convention.Captures, bool) {
	var best *convention.Shelf
	var captures convention.Captures
	depth := -1
	for _, s := range p.convention.Shelves {
		if c, ok := s.At.Match(file); ok {
			if d := strings.Count(s.At.Canonical(), "/"); d > depth {
				best, captures, depth = s, c, d
			}
		}
	}
	return best, captures, best != nil
}

// entry is what brought a file to a shelf.
type entry struct {
	captures convention.Captures
	line     int
}

// belongs judges a file by a shelf's from and takes.
func belongs(s *convention.Shelf, file string, stands bool, standing convention.Captures) (entry, bool) {
	if len(s.From) == 0 && len(s.Takes) == 0 {
		return entry{}, false
	}
	if len(s.From) == 0 {
		return taken(s, file, entry{}, agrees)
	}
	if stands { // history does not matter where the file has arrived; a name that says otherwise does
		if e, ok := taken(s, file, entry{standing, s.At.Line}, overrides); ok {
			return e, true
		}
	}
	for _, t := range s.From {
		if c, ok := t.Match(file); ok {
			if e, ok := taken(s, file, entry{c, t.Line}, agrees); ok {
				return e, true
			}
		}
	}
	return entry{}, false
}

// taken adds what an entry of takes says of the file's name. A shelf without takes asks for nothing more.
func taken(s *convention.Shelf, file string, from entry, merge merger) (entry, bool) {
	if len(s.Takes) == 0 {
		return from, true
	}
	for _, take := range s.Takes {
		if take.Name == nil {
			continue
		}
		c, ok := take.Name.Match(path.Base(file))
		if !ok {
			continue
		}
		if merged, ok := merge(from.captures, c); ok {
			return entry{merged, take.Line}, true
		}
	}
	return entry{}, false
}

// merger puts the captures of where a file lies together with those of its name.
type merger func(place, name convention.Captures) (convention.Captures, bool)

// agrees: a name bound in both must be the same words.
func agrees(place, name convention.Captures) (convention.Captures, bool) {
	for k, v := range place.Values {
		if other, both := name.Values[k]; both && !convention.SameWords(v, other) {
			return convention.Captures{}, false
		}
	}
	return overrides(name, place)
}

// overrides: what the second says counts.
func overrides(first, second convention.Captures) (convention.Captures, bool) {
	out := convention.Captures{Values: map[string]string{}, Dirs: first.Dirs + second.Dirs}
	for _, values := range []map[string]string{first.Values, second.Values} {
		for k, v := range values {
			out.Values[k] = v
		}
	}
	return out, true
}

// sameCaptures says whether the place a file stands at is the one that its entry's captures give.
func sameCaptures(s *convention.Shelf, entry, standing convention.Captures) bool {
	for _, n := range s.At.Names() {
		if !convention.SameWords(entry.Values[n], standing.Values[n]) {
			return false
		}
	}
	return true
}

// homePath is the place with its captures filled in, then what ** carried and the file's name.
func homePath(s *convention.Shelf, c convention.Captures, base string) string {
	place := s.At.Fill(c.Values)
	if s.AtFile {
		return place
	}
	return place + c.Dirs + base
}

// Result is the placement of a whole tree.
type Result struct {
	Homes    []Home // by FileID
	Findings []finding.Finding
}

// Place places every file of a tree. An error is a convention that contradicts itself on this tree.
func Place(c *convention.Convention, tree *project.Project) (*Result, error) {
	placer := New(c)
	r := &Result{Homes: make([]Home, len(tree.Files))}
	instances := map[string]instance{}
	for id, f := range tree.Files {
		h := placer.Place(f.Path)
		h.Owner = project.None
		r.Homes[id] = h
	}
	r.accompany(c, tree)
	for id, f := range tree.Files {
		h := r.Homes[id]
		if h.Owner == project.None { // a companion goes where its owner goes
			if err := settles(c, placer, f.Path, h); err != nil {
				return nil, err
			}
			if err := unmerged(c, instances, f.Path, h); err != nil {
				return nil, err
			}
		}
		switch h.Kind {
		case Misplaced:
			r.Findings = append(r.Findings, finding.Finding{
				Rule: finding.Misplaced, Path: f.Path, Shelf: h.Shelf.Name, Home: h.Path, Line: h.Line,
				Reason: belonging(tree, h),
			})
		case Homeless:
			found := finding.Finding{Rule: finding.Homeless, Path: f.Path, Reason: "no shelf takes it"}
			if h.Shelf != nil {
				found.Shelf, found.Line = h.Shelf.Name, h.Line
				found.Reason = fmt.Sprintf("it stands on %s, which does not take it, nor does any other shelf", h.Shelf.Name)
			} else if c.Top != nil && (!strings.Contains(f.Path, "/") || placer.notAtTop(f.Path)) {
				found.Line = c.Top[0].Line
				found.Reason = fmt.Sprintf("it may not stand at the top (line %d of the convention)", found.Line)
			}
			r.Findings = append(r.Findings, found)
		}
	}
	finding.Sort(r.Findings)
	return r, nil
}

// belonging says why a file belongs on its shelf.
func belonging(tree *project.Project, h Home) string {
	if h.Owner != project.None {
		return fmt.Sprintf("it goes with %s", tree.Path(h.Owner))
	}
	return fmt.Sprintf("it belongs on %s", h.Shelf.Name)
}

// settles makes sure that a file, once moved, is at home: otherwise it would be moved for ever.
func settles(c *convention.Convention, placer *Placer, file string, h Home) error {
	if h.Kind != Misplaced {
		return nil
	}
	again := placer.Place(h.Path)
	if again.Kind == AtHome || again.Kind == Left {
		return nil
	}
	then := fmt.Sprintf("line %d takes it on to %s", again.Line, again.Path)
	if again.Kind != Misplaced {
		then = "no shelf takes it there"
	}
	return conventionError(c, h.Line, fmt.Sprintf("the convention does not settle: this entry takes %s to %s, and then %s", file, h.Path, then),
		"let the two entries agree, or put the one that should win first")
}

// instance is what first gave a shelf's folder its name.
type instance struct {
	file   string
	values map[string]string
}

// unmerged refuses two different names that would share one instance.
func unmerged(c *convention.Convention, seen map[string]instance, file string, h Home) error {
	if h.Kind != AtHome && h.Kind != Misplaced || len(h.Shelf.At.Names()) == 0 {
		return nil
	}
	first, known := seen[h.Instance]
	if !known {
		seen[h.Instance] = instance{file, h.values}
		return nil
	}
	for _, n := range h.Shelf.At.Names() {
		if a, b := first.values[n], h.values[n]; !convention.SameWords(a, b) {
			return conventionError(c, h.Shelf.At.Line, fmt.Sprintf("%q (of %s) and %q (of %s) are different names, and both would be %s", a, first.file, b, file, h.Instance),
				"write the placeholder in a case that keeps them apart")
		}
	}
	return nil
}

func conventionError(c *convention.Convention, line int, message, hint string) error {
	p := convention.Problem{Message: message, Hint: hint}
	p.Position.Line, p.Position.Column = line, 1
	return &convention.Error{Path: c.Path, Source: c.Source, Problems: []convention.Problem{p}}
}
