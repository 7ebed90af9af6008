package placement

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// FindUses says who uses what it may not: shelves and libraries (overreach), what lies behind a door (backdoor), and
// instances that use one another in a circle (loop). Files are judged by where they belong, wherever they lie today. Of
// a part of a graph, the files that were read are judged, and those are read that may be in a circle with them.
func (r *Result) FindUses(c *convention.Convention, g *graph.Graph) []finding.Finding {
	u := users{c: c, g: g, homes: r.Homes, places: make([][]place, len(r.Homes))}
	parallel.Ranges(len(r.Homes), func(from, to int) {
		var known byFolder[[]place]
		for id := from; id < to; id++ {
			h := &r.Homes[id]
			if h.Kind == Unspoken || h.Leave.Silent() {
				continue
			}
			governs := c.For(g.Tree.Path(project.FileID(id)))
			u.places[id] = known.of(governs, h.Path, func() []place { return places(governs, h.Path) })
		}
	})
	u.numberInstances()
	u.findStations()
	if g.IsPart() {
		u.readCircles()
	}
	parts := parallel.Parts(len(g.Files), u.files)
	for _, part := range parts {
		u.findings = append(u.findings, part.findings...)
	}
	u.findLoops(parts)
	out := Result{Findings: u.findings}
	out.tellConventions(c)
	finding.Sort(out.Findings)
	return out.Findings
}

// users is the search for uses.
type users struct {
	c        *convention.Convention
	g        *graph.Graph
	homes    []Home
	places   [][]place // of each file's home
	stations           // of the files
	findings []finding.Finding

	instances []string                 // the outermost of the files' places, each once, in order
	numbers   []int                    // of each file: its outermost instance; noInstance for none
	edges     map[edge]graph.Reference // between instances: the first reference of these files that makes each
	noting    int                      // the instance that noted describes
	noted     []int                    // those that it is known to use
}

// edge says that one instance uses another, by their numbers.
type edge struct{ from, to int }

const noInstance = -1

func (u *users) numberInstances() {
	numbers := map[string]int{}
	const none = "/" // no instance is called so
	last := none     // neighbours are mostly of one instance
	for _, in := range u.places {
		if len(in) > 0 && in[0].instance != last {
			last = in[0].instance
			numbers[last] = 0
		}
	}
	u.instances = slices.Sorted(maps.Keys(numbers))
	for number, instance := range u.instances {
		numbers[instance] = number
	}
	u.numbers = make([]int, len(u.places))
	last, number := none, noInstance
	for id, in := range u.places {
		switch {
		case len(in) == 0:
			u.numbers[id] = noInstance
			continue
		case in[0].instance != last:
			last = in[0].instance
			number = numbers[last]
		}
		u.numbers[id] = number
	}
}

// files finds what some of the files use.
func (u *users) files(from, to int) users {
	part := *u
	part.edges, part.noting = map[edge]graph.Reference{}, noInstance
	for id := from; id < to; id++ {
		part.file(project.FileID(id))
	}
	return part
}

func (u *users) file(id project.FileID) {
	if u.homes[id].Leave == Generated {
		return
	}
	n := &u.g.Files[id]
	for i, t := range n.Targets {
		m := &n.Mentions[i]
		switch {
		case m.Likely, m.Kind.Is(lang.Brought):
			continue
		case m.Kind.Is(lang.Part) && (t.Kind != lang.ToFile || t.Equal(n.Targets[lang.StatementOf(n.Mentions, i)])):
			// the module says it
			continue
		case m.Kind.Is(lang.Whole) && m.Kind.Is(lang.Imports) && modulesAlone(n, i): // each of them says it of itself
			continue
		}
		ref := graph.Reference{From: id, Mention: i}
		switch t.Kind {
		case lang.ToPackage:
			if name := lang.LibraryOf(m); name != "" {
				u.library(ref, name)
			}
		case lang.ToFile:
			if t.File != id {
				u.use(ref, t.File)
			}
		case lang.ToSet:
			// where the files of a package stand together, one stands for all; where they part, it is not known which is
			// used
			if m.Kind.Is(lang.Packed) && u.together(t.Set()) {
				u.use(ref, t.Set()[0])
			}
		}
	}
}

// together says whether files belong in one folder.
func (u *users) together(files []project.FileID) bool {
	home := path.Dir(u.homes[files[0]].Path)
	return !slices.ContainsFunc(files, func(id project.FileID) bool { return path.Dir(u.homes[id].Path) != home })
}

// modulesAlone says whether all names behind a module that names are imported from are modules of their own.
func modulesAlone(n *graph.FileNode, from int) bool {
	names := 0
	for i := from + 1; i < len(n.Mentions) && lang.StatementOf(n.Mentions, i) == from; i++ {
		if t := n.Targets[i]; t.Kind != lang.ToFile || t.Equal(n.Targets[from]) {
			return false
		}
		names++
	}
	return names > 0
}

func (u *users) tell(rule string, ref graph.Reference, s *convention.Shelf, line int, format string, args ...any) {
	file := u.g.Tree.Path(ref.From)
	if u.c.For(file).Excuse(rule, file, u.homes[ref.From].Shelf) != nil {
		return
	}
	u.findings = append(u.findings, finding.Finding{
		Rule: rule, Path: file, Shelf: s.Name, Line: line, At: u.g.Position(ref).String(),
		Reason: fmt.Sprintf(format, args...),
	})
}

func (u *users) library(ref graph.Reference, name string) {
	for _, p := range u.places[ref.From] {
		if !p.shelf.Libraries.Allows(name) {
			u.tell(finding.Overreach, ref, p.shelf, p.shelf.Libraries.Line, "%s may not use the library %s",
				p.shelf.Name, name)
			return
		}
	}
}

// use judges one file's use of another.
func (u *users) use(ref graph.Reference, to project.FileID) {
	if u.free(ref.From, to) {
		u.note(ref, to)
		return
	}
	from, target := u.homes[ref.From].Path, u.homes[to].Path
	if owner := u.homes[ref.From].Owner; owner != project.None { // a companion is of its owner's instance
		from = u.homes[owner].Path
	}
	theirs := u.places[to]
	// of the other convention, only doors count here
	if u.c.For(u.g.Tree.Path(ref.From)) != u.c.For(u.g.Tree.Path(to)) {
		u.doors(ref, from, target, theirs)
		return
	}
	u.note(ref, to)
	for _, mine := range u.places[ref.From] {
		if mine.holds(target) || len(theirs) == 0 {
			continue
		}
		s := mine.shelf
		if at := slices.IndexFunc(theirs, func(p place) bool { return p.shelf == s }); at >= 0 {
			other := theirs[at].instance
			if s.Apart != nil && !slices.Contains(s.Apart.But, path.Base(other)) && !through(s, theirs) {
				u.tell(finding.Overreach, ref, s, s.Apart.Line, "%s are apart, and it uses %s", s.Name, other)
				return
			}
			if s.Order != nil && !s.Order.Allows(path.Base(mine.instance), path.Base(other)) {
				u.tell(finding.Overreach, ref, s, s.Order.Line, "%s comes before %s in the order of %s, and uses it",
					path.Base(mine.instance), path.Base(other), s.Name)
				return
			}
			continue
		}
		if s.Uses != nil && !allows(s.Uses, theirs) {
			u.tell(finding.Overreach, ref, s, s.Uses.Line, "%s may not use %s, and it uses %s", s.Name,
				theirs[len(theirs)-1].shelf.Name, target)
			return
		}
	}
	u.doors(ref, from, target, theirs)
}

// through says whether what is used stands on a shelf inside the other instance that all may use.
func through(s *convention.Shelf, theirs []place) bool {
	return slices.ContainsFunc(theirs, func(p place) bool {
		inner, is := strings.CutPrefix(p.shelf.Name, s.Name+".")
		return is && slices.Contains(s.Apart.But, inner)
	})
}

// doors judges an import by the doors of the instances that hold its target, the outermost that does not hold the
// importer.
func (u *users) doors(ref graph.Reference, from, target string, theirs []place) {
	for _, p := range theirs {
		if s := p.shelf; s.Door != "" && !p.holds(from) &&
			u.g.Files[ref.From].Mentions[ref.Mention].Kind.Is(lang.Imports) {
			if target != p.instance+s.Door {
				u.tell(finding.Backdoor, ref, s, s.DoorLine,
					"from outside, %s is imported through %s alone, and it imports %s",
					strings.TrimSuffix(p.instance, "/"), s.Door, target)
			}
			return
		}
	}
}

// note remembers that one instance uses another. Tests and stories do not count.
func (u *users) note(ref graph.Reference, to project.FileID) {
	key := edge{u.numbers[ref.From], u.numbers[to]}
	if key.from == noInstance || key.to == noInstance || key.from == key.to {
		return
	}
	if key.from != u.noting { // neighbours are mostly of one instance
		u.noting, u.noted = key.from, u.noted[:0]
	}
	if slices.Contains(u.noted, key.to) {
		return
	}
	if _, known := u.edges[key]; !known {
		if file := u.g.Tree.Path(ref.From); u.g.Languages.IsTest(file) || u.g.Languages.Shows(file) {
			return
		}
		u.edges[key] = ref
	}
	const most = 64 // to look through
	if len(u.noted) < most {
		u.noted = append(u.noted, key.to)
	}
}

// readCircles reads all files of the instances that can be reached from the files that were read.
func (u *users) readCircles() {
	members := map[int][]project.FileID{}
	var next []project.FileID // to be followed
	for id, number := range u.numbers {
		if number != noInstance {
			members[number] = append(members[number], project.FileID(id))
			if len(u.g.Files[id].Targets) > 0 {
				next = append(next, project.FileID(id))
			}
		}
	}
	for len(next) > 0 {
		var reached []project.FileID
		reach := func(id project.FileID) {
			if number := u.numbers[id]; number != noInstance {
				reached = append(reached, members[number]...)
				delete(members, number)
			}
		}
		for _, id := range next {
			reach(id)
			for _, t := range u.g.Files[id].Targets {
				switch t.Kind {
				case lang.ToFile:
					reach(t.File)
				case lang.ToSet:
					reach(t.Set()[0])
				}
			}
		}
		next = u.g.Read(reached)
	}
}

// findLoops reports each circle of instances once, by its shortest way round from the first of them.
func (u *users) findLoops(parts []users) {
	next := make([][]int, len(u.instances))
	for _, part := range parts {
		for e := range part.edges {
			next[e.from] = append(next[e.from], e.to)
		}
	}
	parallel.Do(len(next), func(i int) {
		slices.Sort(next[i])
		next[i] = slices.Compact(next[i])
	})
	made := func(e edge) graph.Reference {
		at := slices.IndexFunc(parts, func(part users) bool { _, ok := part.edges[e]; return ok })
		return parts[at].edges[e]
	}
	for _, members := range graph.Components(len(next), func(i int) []int { return next[i] }) {
		if len(members) > 1 {
			u.loop(graph.Circle(members[0], next, members), made)
		}
	}
}

// loop reports a circle, by the references that make it.
func (u *users) loop(circle []int, made func(e edge) graph.Reference) {
	var way []string
	for i, at := range circle {
		to := circle[(i+1)%len(circle)]
		ref := made(edge{at, to})
		way = append(way, fmt.Sprintf("%s uses %s (%s:%s)", strings.TrimSuffix(u.instances[at], "/"),
			strings.TrimSuffix(u.instances[to], "/"),
			u.g.Tree.Path(ref.From), u.g.Position(ref)))
	}
	first := made(edge{circle[0], circle[1]})
	s := u.places[first.From][0].shelf
	u.tell(finding.Loop, first, s, s.Line, "%s", strings.Join(way, ", "))
}
