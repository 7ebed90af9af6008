package lang

import (
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file has what languages have in common whose manifests follow from the mentions of their files.

// Parcel is a package after the moves.
type Parcel struct {
	Dir, Name string
	Asked     *NewPackage // nil for one that the convention does not speak of
	Was       *Package    // whose manifest it has; nil for one whose manifest is to be written
	From      *Package    // of which most of its files were; nil for none
	Files     []project.FileID
	// Libraries are the packages of others, by the names by which code knows them, and Inside those of the tree.
	Libraries map[string]*Need
	Inside    map[*Parcel]*Need
	// Had are the libraries and packages that files of its manifest used before, by their names.
	Had   map[string]bool
	count map[*Package]int
}

// Need says where something is needed first, and what for.
type Need struct {
	Normal, Test bool
	// New: its manifest need not ask for it yet, since the file comes from another package, or what it needs does.
	New  bool
	By   project.FileID
	At   int
	What string
	To   project.FileID // of a package of the tree: the file of it
	Of   *Package       // the package of that file before
}

// note adds what for it is needed. It reports whether that is more than was known.
func (n *Need) note(test bool) (more bool) {
	more = !n.Normal && (!test || !n.Test)
	n.Normal, n.Test = n.Normal || !test, n.Test || test
	return more
}

// Parcels are the packages after the moves.
type Parcels struct {
	All    []*Parcel // in the order of their folders
	Across []Across
	Needs  []PackageNeed
	was    map[string]*Package // by their folders before
	by     map[string]*Parcel
	q      *Parting
	tree   *Tree
}

// Across is a mention of a file of another package.
type Across struct {
	From    project.FileID
	Mention *Mention
	To      project.FileID
	Other   *Parcel
	New     bool // both were of one package
}

// Reading says how a language finds its packages.
type Reading struct {
	Packages []Package             // before the moves
	Counts   func(p string) bool   // a file is of the language
	Names    func(m *Mention) bool // a mention names what is to be asked for
	Tests    func(p string) bool   // a file is there for tests and builds alone
	// Library is the name of what a mention leads to that is no file of the tree; empty for none. Nil: LibraryOf says it.
	Library func(m *Mention) string
	// Missing is said of a package around whose files no manifest lies.
	Missing string
	// NoCircles: what builds the packages allows no circle, for the sake of tests neither.
	NoCircles bool
	// More are the libraries that a file needs though no mention of it names them.
	More func(id project.FileID, in *Package) []string
}

func (r *Reading) library(m *Mention) string {
	if r.Library != nil {
		return r.Library(m)
	}
	return LibraryOf(m)
}

// Gather finds the packages after the moves, and what their files need.
func Gather(tree *Tree, q *Parting, r Reading) *Parcels {
	ps := &Parcels{was: map[string]*Package{}, by: map[string]*Parcel{}, q: q, tree: tree}
	add := func(dir, name string, asked *NewPackage) *Parcel {
		one := &Parcel{Dir: dir, Name: name, Asked: asked, Libraries: map[string]*Need{}, Inside: map[*Parcel]*Need{},
			Had: map[string]bool{}, count: map[*Package]int{}}
		ps.All, ps.by[dir] = append(ps.All, one), one
		return one
	}
	for i := range q.Packages {
		add(q.Packages[i].Dir, q.Packages[i].Name, &q.Packages[i])
	}
	for i := range r.Packages {
		k := &r.Packages[i]
		ps.was[k.Dir] = k
		dir := project.Dir(q.Then(k.Manifest))
		one := ps.by[dir]
		if one == nil {
			one = add(dir, k.Name, nil)
		}
		one.Was = k
		one.Name = cmp.Or(k.Name, one.Name)
	}
	slices.SortFunc(ps.All, func(a, b *Parcel) int { return cmp.Compare(a.Dir, b.Dir) })
	for id := range tree.Files {
		id := project.FileID(id)
		if one := ps.Home(id); one != nil && r.Counts(tree.Path(id)) {
			one.Files = append(one.Files, id)
			one.count[ps.before(id)]++
		}
	}
	for _, one := range ps.All {
		most := 0
		for i := range r.Packages { // in their order
			if n := one.count[&r.Packages[i]]; n > most {
				one.From, most = &r.Packages[i], n
			}
		}
		if one.Was != nil {
			one.From = one.Was
		}
	}
	for id := range tree.Files {
		if one := ps.Home(project.FileID(id)); one != nil {
			ps.file(one, project.FileID(id), r)
		}
	}
	return ps
}

// Home is the package that a file of the old tree comes to; nil for none.
func (ps *Parcels) Home(id project.FileID) *Parcel {
	return project.Nearest(ps.by, project.Dir(ps.q.Then(id)))
}

// before is the package that a file is of; nil for none.
func (ps *Parcels) before(id project.FileID) *Package {
	return project.Nearest(ps.was, project.Dir(ps.tree.Path(id)))
}

// file notes what a file needs.
func (ps *Parcels) file(one *Parcel, id project.FileID, r Reading) {
	test := r.Tests(ps.tree.Path(id)) || r.Tests(ps.q.Then(id))
	was := ps.before(id)
	came := was == nil || was != one.Was
	library := func(name string, at int) {
		n := one.Libraries[name]
		if n == nil {
			n = &Need{By: id, At: at, What: name, Of: was}
			one.Libraries[name] = n
		}
		n.note(test)
		n.New = n.New || came
		ps.had(was, name)
	}
	mentions, targets := ps.q.Mentions(id)
	for i := range mentions {
		m := &mentions[i]
		if m.Likely || !r.Names(m) {
			continue
		}
		t := targets[i]
		to := t.File
		if t.Kind == ToSet {
			if to = ps.together(t.Set()); to == project.None {
				continue
			}
		}
		switch t.Kind {
		case ToPackage:
			if name := r.library(m); name != "" {
				library(name, m.Span.Start)
			}
		case ToFile, ToSet:
			of := ps.before(to)
			if of != was && of != nil && of.Name != "" {
				ps.had(was, of.Name)
			}
			other := ps.Home(to)
			if other == nil || other == one {
				continue
			}
			ps.Across = append(ps.Across, Across{id, m, to, other, of == was})
			n := one.Inside[other]
			if n == nil {
				n = &Need{By: id, At: m.Span.Start, What: m.Text, To: to, Of: was}
				one.Inside[other] = n
			}
			n.New = n.New || came || other.Was != of
			if n.note(test) {
				ps.Needs = append(ps.Needs, PackageNeed{From: one.Dir, To: other.Dir, Test: test, By: id, At: m.Span.Start, What: m.Text})
			}
		}
	}
	if r.More != nil && was != nil && r.Counts(ps.tree.Path(id)) {
		for _, name := range r.More(id, was) {
			library(name, 0)
		}
	}
}

// together is a file of a set whose files all come to one package; project.None where they part: then other mentions
// say which of them is meant.
func (ps *Parcels) together(set []project.FileID) project.FileID {
	for _, id := range set {
		if ps.Home(id) != ps.Home(set[0]) {
			return project.None
		}
	}
	if len(set) == 0 {
		return project.None
	}
	return set[0]
}

// had notes what the files of a package used before.
func (ps *Parcels) had(was *Package, name string) {
	if was == nil {
		return
	}
	if one := ps.by[project.Dir(ps.q.Then(was.Manifest))]; one != nil {
		one.Had[name] = true
	}
}

// Uses says whether a package uses another by its name.
func (one *Parcel) Uses(name string) bool {
	for other := range one.Inside {
		if other.Name == name {
			return true
		}
	}
	return one.Libraries[name] != nil
}

// Wanted says whether the convention asks for a package, and files come to it.
func (one *Parcel) Wanted() bool { return one.Asked != nil && len(one.Files) > 0 }

// Written says whether its manifest is to be written anew.
func (one *Parcel) Written() bool { return one.Wanted() && one.Was == nil && one.From != nil }

// Above gives the packages that lie around a folder of the old tree, the nearest first.
func (ps *Parcels) Above(dir string) (out []*Package) {
	for ; ; dir = path.Dir(dir) {
		if k := ps.was[dir]; k != nil {
			out = append(out, k)
		}
		if dir == "." || dir == "/" {
			return out
		}
	}
}

// Sorted are the libraries of a package by their names.
func (one *Parcel) Sorted() []string { return slices.Sorted(maps.Keys(one.Libraries)) }

// Reached are the packages that a package needs in the end, without itself. What only tests of others need counts where
// tests is set; what its own need counts.
func (one *Parcel) Reached(tests bool) map[*Parcel]bool {
	out := map[*Parcel]bool{}
	var visit func(at *Parcel)
	visit = func(at *Parcel) {
		for other, n := range at.Inside {
			if (n.Normal || tests || at == one) && !out[other] && other != one {
				out[other] = true
				visit(other)
			}
		}
	}
	visit(one)
	return out
}

// Best are those that fit best: all of which nothing fits better, and none that does not fit at all (0).
func Best[T any](all []T, fits func(T) int) (out []T) {
	best := 0
	for _, one := range all {
		switch n := fits(one); {
		case n == 0 || n < best:
		case n > best:
			best, out = n, []T{one}
		default:
			out = append(out, one)
		}
	}
	return out
}

// Splitter is what those have in common who make packages: what is asked, what they gather, and what comes of it.
type Splitter struct {
	*Parcels
	Q    Parting
	Out  *Parted
	tree *Tree
}

// NewSplitter begins to part a tree.
func NewSplitter(tree *Tree, q Parting) Splitter {
	return Splitter{Q: q, tree: tree, Out: &Parted{Writes: map[string][]byte{}, Edits: map[project.FileID][]source.Edit{}}}
}

// Work gathers the packages, looks at each that the convention asks for and that gets files of the language, and at all
// of them together, and writes them if nothing stands against them. It gives nil where there are none.
func (s *Splitter) Work(r Reading, look func(one *Parcel), all, write func()) *Parted {
	s.mainly(r)
	s.Parcels = Gather(s.tree, &s.Q, r)
	for _, one := range s.All {
		switch {
		case one.Wanted() && one.From == nil:
			s.Out.Foreign = append(s.Out.Foreign, Unparted{Dir: one.Dir, Why: r.Missing})
		case one.Wanted():
			s.Out.Taken = append(s.Out.Taken, one.Dir)
			look(one)
		}
	}
	if len(s.Out.Taken) == 0 {
		if len(s.Out.Foreign) > 0 {
			return s.Out
		}
		return nil
	}
	if !s.Refused() {
		all()
	}
	if s.Refused() {
		return s.Out
	}
	for _, n := range s.Needs {
		n.Test = n.Test && !r.NoCircles
		s.Out.Needs = append(s.Out.Needs, n)
	}
	write()
	return s.Out
}

// mainly leaves out the packages that are mostly of other languages and have no manifest of this one: its files there
// are files like any.
func (s *Splitter) mainly(r Reading) {
	dirs, own := map[string]*NewPackage{}, map[string]int{}
	for i := range s.Q.Packages {
		dirs[s.Q.Packages[i].Dir] = &s.Q.Packages[i]
	}
	for id := range s.tree.Files {
		if one := project.Nearest(dirs, project.Dir(s.Q.Then(project.FileID(id)))); one != nil &&
			r.Counts(s.tree.Path(project.FileID(id))) {
			own[one.Dir]++
		}
	}
	manifests := map[string]bool{}
	for i := range r.Packages {
		manifests[project.Dir(s.Q.Then(r.Packages[i].Manifest))] = true
	}
	s.Q.Packages = slices.DeleteFunc(slices.Clone(s.Q.Packages), func(one NewPackage) bool {
		return own[one.Dir] < one.Most && !manifests[one.Dir]
	})
}

// Refused says whether anything stands against the packages.
func (s *Splitter) Refused() bool { return len(s.Out.Refused) > 0 }

// Refuse says what stands against the package in a folder; against all, if it is empty.
func (s *Splitter) Refuse(dir, format string, args ...any) {
	s.Out.Refused = append(s.Out.Refused, Unparted{Dir: dir, Why: fmt.Sprintf(format, args...)})
}

// Remark says what a reader should know at a byte of a file of the old tree.
func (s *Splitter) Remark(file string, at int, format string, args ...any) {
	s.Out.Remarks = append(s.Out.Remarks, Duty{Path: file, At: at, Why: fmt.Sprintf(format, args...)})
}

// Where is a file of the old tree with a line, for messages.
func (s *Splitter) Where(id project.FileID, at int) (out string) {
	s.tree.Peek(id, func(content []byte, err error) {
		out = fmt.Sprintf("%s:%d", s.tree.Path(id), source.PositionAt(content, at).Line)
	})
	return out
}

// Keeps says of a package that has a manifest, and another name than the convention wants, that it keeps that. It
// reports whether there is a manifest.
func (s *Splitter) Keeps(one *Parcel, what, want string) bool {
	if one.Was != nil && want != "" && want != one.Was.Name {
		s.Remark(s.tree.Path(one.Was.Manifest), 0, "the %s is called %s, and the convention calls it %s: the name stays",
			what, cmp.Or(one.Was.Name, "nothing"), one.Asked.Name)
	}
	return one.Was != nil
}

// Alone refuses a package whose name another has. manifest is what that one's is called.
func (s *Splitter) Alone(one *Parcel, manifest func(other *Parcel) string) {
	for _, other := range s.All {
		if other != one && strings.EqualFold(other.Name, one.Name) && (other.Asked == nil || other.Dir < one.Dir) {
			s.Refuse(one.Dir, "%s has the name %s already", path.Join(other.Dir, manifest(other)), other.Name)
		}
	}
}

// Gone are the names of what a package has used and does not use any more, and that nothing else names.
func (s *Splitter) Gone(one *Parcel, candidates []string) (out []string) {
	var gone []string
	for _, name := range candidates {
		if !one.Uses(name) {
			gone = append(gone, name)
		}
	}
	for i, named := range s.Q.Named(one.Was.Manifest, gone, func(id project.FileID) bool { return s.Home(id) == one }) {
		if !named {
			out = append(out, gone[i])
		}
	}
	return out
}

// Nameless refuses packages that need files of one that has no name, by which they could ask for it.
func (s *Splitter) Nameless(why func(other *Parcel) string) {
	for _, one := range s.All {
		for _, other := range s.All {
			if n := one.Inside[other]; n != nil && n.New && other.Name == "" {
				s.Refuse(one.Dir, "it needs %s (%s: %s), and %s", s.Q.Then(n.To), s.Where(n.By, n.At), n.What, why(other))
			}
		}
	}
}

// PutXML hands out what was written of a file of XML.
func (s *Splitter) PutXML(id project.FileID, x *manifest.XML) {
	if x.Err != nil {
		s.Refuse("", "%s can't be written anew: %v", s.tree.Path(id), x.Err)
	}
	if len(x.Edits) > 0 {
		s.Out.Edits[id] = append([]source.Edit{}, x.Edits...)
	}
}

// A line of an image that begins a stage, or brings all files.
var bringsAll = regexp.MustCompile(`(?i)^\s*(?:FROM\s|(?:COPY|ADD)\s+(?:--\S+\s+)*\./?\s)`)

// Images finds the lines of images that fetch what manifests ask for when one manifest has been brought and not all files.
// found says whether later lines of the same kind are wanted.
func (s *Splitter) Images(brings, fetches *regexp.Regexp, found func(file string, at int) (more bool)) {
	for id := range s.tree.Files {
		file := s.tree.Path(project.FileID(id))
		if !IsImage(file) {
			continue
		}
		s.tree.Peek(project.FileID(id), func(content []byte, err error) {
			brought, at := false, 0
			for line := range bytes.Lines(content) {
				switch {
				case bringsAll.Match(line):
					brought = false
				case brings.Match(line):
					brought = true
				case brought && fetches.Match(line):
					brought = found(file, at)
				}
				at += len(line)
			}
		})
	}
}

// IsImage says whether a file says how an image of a container is made.
func IsImage(p string) bool {
	base := strings.ToLower(path.Base(p))
	return strings.HasPrefix(base, "dockerfile") || strings.HasPrefix(base, "containerfile") || path.Ext(base) == ".dockerfile"
}
