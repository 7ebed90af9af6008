// Package placement says where each file belongs, by docs/convention.md, section "Where a file belongs". The home of a
// file is a function of its path and the convention, and where the convention asks for it, of what the file declares
// and of who needs it. It also finds what else stands wrong: missing companions, names, and who uses whom.
//
// placement.go puts a home together, world.go those of all files; belongs.go judges a file by a shelf, needs.go says
// who needs a file, companion.go places companions, instances.go finds instances by paths; required.go, names.go and
// use.go find the rest; near.go says what came close.
package placement

import (
	"fmt"
	"maps"
	"math"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
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
	Fixed   // by what its name means to the tools of its language
)

// Silent says whether the convention says nothing of such a file: a program writes it, or it is outside.
func (l Leave) Silent() bool { return l == Generated || l == Outside }

// Home is where a file belongs.
type Home struct {
	Kind     Kind
	Leave    Leave
	Path     string // the file's path there; its own where it stands right
	Shelf    *convention.Shelf
	Instance string // the shelf's folder for this file, or the file itself for a place that names one
	Line     int    // of the convention: the entry that took it
	Because  string // who needs the file, where that decided; else empty
	values   map[string]string
	bound    string // what binds it to its place, where a shelf takes it with its folder all the same
	// Exception is what excuses the file from standing where it belongs; nil for none.
	Exception *convention.Exception
	// Owner is the file whose companion this one is; project.None for none.
	Owner project.FileID
	part  bool // it is a part of its owner, by their names
}

// placer places the files that one convention governs.
type placer struct {
	*world
	convention *convention.Convention
	spoken     map[string]bool // folders in which a file that nothing takes is homeless
	needs      *needs
	asked      lang.DeclarationKinds // of what files declare, for which a shelf takes them wherever they lie
}

// spokenFolders are the folders where the convention speaks: for the shelves below one top folder, the deepest folder
// that all of them lie in, or the top folder itself.
func spokenFolders(c *convention.Convention) map[string]bool {
	deepest := map[string]string{}
	for _, s := range c.Shelves {
		folder := strings.TrimSuffix(strings.TrimPrefix(s.At.Head(), c.Base), "/")
		if folder == "" {
			continue
		}
		top, _, _ := strings.Cut(folder, "/")
		// the shelf is the folder: the convention speaks of what is beside it
		if !s.AtFile && len(s.At.Names()) == 0 && folder != top {
			folder = path.Dir(folder)
		}
		if have, ok := deepest[top]; ok {
			folder = commonFolder(have, folder)
		}
		deepest[top] = folder
	}
	out := make(map[string]bool, len(deepest))
	for _, folder := range deepest {
		out[c.Base+folder] = true
	}
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

// place gives the home that a file has at a path, which may be another than where it lies. One that is excused stays
// where it is. project.None stands for a file that is not there: of it the path alone is known.
func (p *placer) place(file string, id project.FileID) Home { return p.judge(file, id, nil) }

func (p *placer) judge(file string, id project.FileID, by *solo) Home {
	return p.judgeAt(p.at(file, id), by)
}

func (p *placer) judgeAt(f subject, by *solo) Home {
	f.by = by
	file := f.path
	h := p.home(f)
	rule := finding.Misplaced
	switch h.Kind {
	case Misplaced:
	case Homeless:
		rule = finding.Homeless
	default:
		return h
	}
	if e := p.convention.Excuse(rule, file, h.Shelf); e != nil {
		return Home{Kind: Left, Leave: Excused, Path: file, Line: e.Line, Exception: e}
	}
	return h
}

func (p *placer) home(f subject) Home {
	file := f.path
	if leave, line := left(p.convention, file); leave != Free {
		return Home{Kind: Left, Leave: leave, Path: file, Line: line}
	}
	bound := "" // what binds it to its place
	if p.convention.Fixed != nil {
		if bound = p.convention.Fixed(file); bound != "" && p.convention.Bears(file) {
			bound = ""
		}
	}
	stays := Home{Kind: Left, Leave: Fixed, Path: file, Because: bound}
	on, stands := f.on, f.on != nil
	if shelf, entry := p.taker(f); shelf != nil {
		h := Home{Shelf: shelf, Line: entry.line, Because: entry.because, values: entry.captures.Values}
		if arrived := entry.by.Place == nil || entry.by.Place == shelf.At; arrived && on == shelf &&
			sameCaptures(shelf, entry.captures, f.captures) {
			h.Path = file
		} else {
			h.Path = homePath(shelf, entry.captures, path.Base(file))
		}
		if bound != "" && (!takesFolder(shelf, file) || strings.HasPrefix(h.Path, path.Dir(file)+"/")) {
			return stays
		}
		h.bound = bound
		h.Instance = shelf.At.Fill(entry.captures.Values)
		h.Kind = Misplaced
		if h.Path == file {
			h.Kind = AtHome
		}
		return h
	}
	if bound != "" {
		return stays
	}
	if stands && len(on.Takes) == 0 && !closes(on, f) {
		return Home{Kind: AtHome, Path: file, Shelf: on, Instance: on.At.Fill(f.captures.Values), Line: on.At.Line,
			values: f.captures.Values}
	}
	if p.topAllows(file) {
		return Home{Kind: Unspoken, Path: file}
	}
	if p.convention.Top != nil && p.atTop(file) || p.notAtTop(file) || project.InOneOf(p.spoken, file) {
		h := Home{Kind: Homeless, Path: file}
		if stands {
			h.Shelf, h.Line = on, on.Line
		}
		return h
	}
	return Home{Kind: Unspoken, Path: file}
}

// closes says whether a shelf keeps nothing but what the shelves inside it take, and the files that it names itself.
func closes(s *convention.Shelf, f subject) bool {
	if !s.Closed {
		return false
	}
	instance, _ := instanceOf(s, f.path)
	return f.path != instance+s.Door && !slices.ContainsFunc(s.Must, func(q convention.Required) bool {
		return f.path == q.Of(instance, f.captures.Values)
	})
}

// taker gives the shelf that takes a file, and by which entry; nil for none. The first in the order of the convention
// wins, and over it a later one that is more particular. Last comes the place where the file stands, if that asks for
// nothing and is more particular than what would take the file away.
func (p *placer) taker(f subject) (winner *convention.Shelf, by entry) {
	c := p.convention
	var buf [32]*convention.Shelf
	for _, shelf := range c.ShelvesFor(f.path, f.on, p.declared(f.id), buf[:0]) {
		if winner != nil && !c.MayWin(shelf, winner, f.path) {
			continue
		}
		e, ok := p.belongs(shelf, f)
		// the outlines that the shelves to come ask for are read now, while all cores are at it
		if !ok || f.by != nil && f.by.asks {
			continue
		}
		if winner == nil || p.wins(shelf, e, by) {
			winner, by = shelf, e
		}
	}
	if winner == nil || f.on == nil || f.on == winner || len(f.on.From)+len(f.on.Takes) > 0 {
		return winner, by
	}
	if f.on.AtFile || c.Narrower(convention.Entry{Place: f.on.At}, by.by) {
		return nil, entry{}
	}
	return winner, by
}

// wins says whether a shelf takes a file by an entry that is more particular than another shelf's. Where a file has
// arrived, what brought it there counts: else it would be taken on.
func (p *placer) wins(s *convention.Shelf, e, over entry) bool {
	if e.by.Place != s.At {
		return p.convention.Narrower(e.by, over.by)
	}
	return p.convention.Narrower(e.by, over.by) || slices.ContainsFunc(s.From, func(from *template.Template) bool {
		return p.convention.Narrower(convention.Entry{Place: from, Take: e.by.Take}, over.by)
	})
}

// takesFolder says whether a shelf takes a file with the whole folder that it lies in, by ** or a slash at the end.
func takesFolder(s *convention.Shelf, file string) bool {
	var buf [32]int
	return slices.ContainsFunc(s.Sources(file, buf[:0]), func(i int) bool {
		t := s.From[i]
		_, ok := t.Match(file)
		return ok && (strings.HasSuffix(t.Text, "/**") || strings.HasSuffix(t.Text, "/"))
	})
}

// topAllows says whether a file may stand at the root.
func (p *placer) topAllows(file string) bool {
	return p.atTop(file) && p.convention.TopHas(file)
}

// atTop says whether a file lies at the root, or at that of the folder that the convention governs.
func (p *placer) atTop(file string) bool {
	return !strings.Contains(strings.TrimPrefix(file, p.convention.Base), "/")
}

// notAtTop says whether a file lies below a folder that may not stand at the root.
func (p *placer) notAtTop(file string) bool {
	folder, _, below := strings.Cut(strings.TrimPrefix(file, p.convention.Base), "/")
	if p.convention.Top == nil || !below {
		return false
	}
	return !p.convention.TopLeads(folder) && !p.convention.TopHas(file)
}

// left looks through leave. What begins with a dot at the root stays, unless a shelf names it, and the convention
// itself always does.
func left(c *convention.Convention, file string) (Leave, int) {
	if one := c.LeftAlone(file); one.List != convention.LeftByNone {
		return [...]Leave{Free, Outside, Generated, Untouched, Stay}[one.List], one.Line
	}
	if below := strings.TrimPrefix(file, c.Base); below == convention.FileName || file == c.InTree ||
		strings.HasPrefix(below, ".") && !c.DottedPlace(file) {
		return Stay, 0
	}
	return Free, 0
}

func (p *placer) standsOn(file string) (deepest standing) {
	depth := -1
	var buf [32]*convention.Shelf
	for _, s := range p.convention.ShelvesAt(file, buf[:0]) {
		if c, ok := s.At.Match(file); ok {
			d := s.At.Depth()
			if s.AtFile { // it names the file: no folder does as much
				d = math.MaxInt
			}
			if d > depth || d == depth && p.convention.Narrower(convention.Entry{Place: s.At},
				convention.Entry{Place: deepest.on.At}) {
				deepest, depth = standing{s, c}, d
			}
		}
	}
	return deepest
}

// sameCaptures says whether the place a file stands at is the one that its entry's captures give.
func sameCaptures(s *convention.Shelf, entry, standing template.Captures) bool {
	for _, n := range s.At.Names() {
		if !template.SameWords(entry.Values[n], standing.Values[n]) {
			return false
		}
	}
	return true
}

// homePath is the place with its captures filled in, then what ** carried and the file's name.
func homePath(s *convention.Shelf, c template.Captures, base string) string {
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
	Missing  []MissingFile             // files that instances must have
	Lists    []ListChange              // lists of settings that lack instances, or have what is none
	Spelled  map[project.FileID]string // the path that a file, or a companion of one, has when its name is set right
}

// Place places every file of a tree. The graph may be nil if the convention's NeedsGraph is false. An error is a
// convention that contradicts itself on this tree.
func Place(c *convention.Convention, tree *project.Project, g *graph.Graph) (*Result, error) {
	for _, one := range c.All() {
		if err := noSlash(one, tree); err != nil {
			return nil, err
		}
	}
	w := newWorld(c, tree, g)
	r, err := w.placeAll()
	// a companion that needs something stands where its owner does
	if err == nil && g != nil && c.NeedsGraph() && len(r.owners()) > 0 {
		w.reset(r.owners())
		r, err = w.placeAll()
	}
	if err != nil {
		return nil, err
	}
	r.bind(tree)
	stayHome := w.stayHome(r)
	instances := map[string]instance{}
	for id, f := range tree.Files {
		h := &r.Homes[id]
		p := w.of(f.Path)
		if h.Owner == project.None { // a companion goes where its owner goes
			if !stayHome[id] {
				if err := p.staysHome(f.Path, project.FileID(id), h); err != nil {
					return nil, err
				}
			}
			if err := unmerged(p.convention, instances, f.Path, h); err != nil {
				return nil, err
			}
		}
	}
	r.Findings = slices.Concat(parallel.Parts(len(tree.Files), func(from, to int) (out []finding.Finding) {
		for id := from; id < to; id++ {
			out = w.of(tree.Files[id].Path).find(out, tree.Files[id].Path, &r.Homes[id])
		}
		return out
	})...)
	r.findMissing(w)
	r.findPartners(w)
	r.findStranded(w)
	for _, one := range c.All() {
		r.findAllRequired(one)
		r.findExposed(w, one)
		r.findThick(w, one, g)
		if err := r.findUnlisted(w, one); err != nil {
			return nil, err
		}
		if err := r.doors(one); err != nil {
			return nil, err
		}
	}
	r.findMisspelled(c, tree, g)
	r.tellConventions(c)
	finding.Sort(r.Findings)
	return r, nil
}

// noSlash refuses a place that names a file by its form and is a folder of the tree: a slash was forgotten, and no file
// would ever stand there.
func noSlash(c *convention.Convention, tree *project.Project) error {
	if !c.HasFiles() {
		return nil
	}
	for _, s := range c.Shelves {
		if !s.AtFile || strings.Contains(path.Base(s.At.Text), ".") { // it has an ending, as files have
			continue
		}
		for _, dir := range tree.Folders() {
			if s.At.Fits(dir) {
				return conventionError(c, s.At.Line, fmt.Sprintf("the place of %s names a file, and %s is a folder", s.Name, dir),
					"end it with a slash: "+s.At.Text+"/")
			}
		}
	}
	return nil
}

// bind leaves files where their names bind them that would go along with their folders to a place which is taken or is
// another's too: where several folders become one, one file of the name is enough.
func (r *Result) bind(tree *project.Project) {
	wanted := map[string]int{}
	for i := range r.Homes {
		if r.Homes[i].Kind == Misplaced {
			wanted[r.Homes[i].Path]++
		}
	}
	for i := range r.Homes {
		h := &r.Homes[i]
		if h.bound == "" || h.Kind != Misplaced {
			continue
		}
		if _, taken := tree.Lookup(h.Path); taken || wanted[h.Path] > 1 {
			*h = Home{Kind: Left, Leave: Fixed, Path: tree.Path(project.FileID(i)), Because: h.bound,
				Owner: project.None}
		}
	}
}

// tellConventions notes in each finding of a folder further down whose convention says so.
func (r *Result) tellConventions(c *convention.Convention) {
	for i := range r.Findings {
		if one := c.For(r.Findings[i].Path); one != c {
			r.Findings[i].Convention = one.Path
		}
	}
}

// owners are the owners of companions.
func (r *Result) owners() map[project.FileID]project.FileID {
	out := map[project.FileID]project.FileID{}
	for id, h := range r.Homes {
		if h.Owner != project.None {
			out[project.FileID(id)] = h.Owner
		}
	}
	return out
}

// find reports a file that is misplaced or homeless.
func (p *placer) find(out []finding.Finding, file string, h *Home) []finding.Finding {
	switch h.Kind {
	case Misplaced:
		return append(out, finding.Finding{Rule: finding.Misplaced, Path: file, Shelf: h.Shelf.Name, Home: h.Path,
			Line: h.Line, Reason: p.belonging(h)})
	case Homeless:
		found := finding.Finding{Rule: finding.Homeless, Path: file, Reason: "no shelf takes it"}
		if h.Shelf != nil {
			found.Shelf, found.Line = h.Shelf.Name, h.Line
			found.Reason = fmt.Sprintf("it stands on %s, which does not take it, nor does any other shelf",
				h.Shelf.Name)
		} else if c := p.convention; c.Top != nil && (p.atTop(file) || p.notAtTop(file)) {
			found.Line = c.Top[0].Line
			found.Reason = fmt.Sprintf("it may not stand at the top (line %d of the convention)", found.Line)
		}
		return append(out, found)
	}
	return out
}

// belonging says why a file belongs on its shelf.
func (p *placer) belonging(h *Home) string {
	switch {
	case h.Owner != project.None:
		return "it goes with " + p.tree.Path(h.Owner)
	case h.Because != "":
		return "it belongs on " + h.Shelf.Name + ": " + h.Because
	}
	return "it belongs on " + h.Shelf.Name
}

// staysHome makes sure that a file, once moved, is at home: otherwise it would be moved for ever.
func (p *placer) staysHome(file string, id project.FileID, h *Home) error {
	if other := p.placers[0].convention.For(h.Path); other != p.convention {
		return conventionError(p.convention, h.Line,
			fmt.Sprintf("this entry takes %s to %s, where %s governs: moves do not cross from one convention to another",
				file, h.Path, other.Path),
			"give the shelf a place that this convention governs, or move the file by hand")
	}
	again := p.place(h.Path, id)
	if again.Kind == AtHome || again.Kind == Left {
		return nil
	}
	then := fmt.Sprintf("line %d takes it on to %s", again.Line, again.Path)
	if again.Kind != Misplaced {
		then = "no shelf takes it there"
	}
	return conventionError(p.convention, h.Line,
		fmt.Sprintf("the convention does not settle: this entry takes %s to %s, and then %s", file, h.Path, then),
		p.cure(&again))
}

// mostValues is how many values a cure lists.
const mostValues = 12

// cure says how a convention that takes a file on would settle. Mostly a placeholder takes a folder of the new layout
// for one of its values: then those are listed that it has today.
func (p *placer) cure(again *Home) string {
	if again.Kind == Misplaced {
		for _, name := range again.Shelf.At.Names() {
			values := map[string]bool{}
			for i := range p.homes {
				if h := &p.homes[i]; h.Kind == Misplaced && h.Shelf == again.Shelf {
					values[h.values[name]] = true
				}
			}
			if wrong := again.values[name]; !values[wrong] && len(values) > 0 {
				known := slices.Sorted(maps.Keys(values))
				if len(known) <= mostValues {
					return fmt.Sprintf("say what <%s> may be: where: { %s: [%s] }", name, name, strings.Join(known, ", "))
				}
				return fmt.Sprintf("say what <%s> may not be: where: { %s: { except: [%s] } }", name, name, wrong)
			}
		}
	}
	return "let the two entries agree, or let the one that should win take less"
}

// instance is what first gave a shelf's folder its name.
type instance struct {
	file   string
	values map[string]string
}

// unmerged refuses two different names that would share one instance.
func unmerged(c *convention.Convention, seen map[string]instance, file string, h *Home) error {
	if h.Kind != AtHome && h.Kind != Misplaced || len(h.Shelf.At.Names()) == 0 {
		return nil
	}
	first, known := seen[h.Instance]
	if !known {
		seen[h.Instance] = instance{file, h.values}
		return nil
	}
	for _, n := range h.Shelf.At.Names() {
		if a, b := first.values[n], h.values[n]; a != b && !template.SameWords(a, b) {
			return conventionError(c, h.Shelf.At.Line,
				fmt.Sprintf("%q (of %s) and %q (of %s) are different names, and both would be %s", a, first.file, b,
					file, h.Instance),
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

// Spared says whether a convention leaves a file alone as outside or as generated.
func Spared(c *convention.Convention, file string) bool {
	leave, _ := left(c, file)
	return leave == Outside || leave == Generated
}
