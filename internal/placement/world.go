package placement

import (
	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// world is one tree with the homes of its files, as far as they are known; the nearest convention upward governs each.
type world struct {
	tree    *project.Project
	graph   *graph.Graph // nil if no home depends on what files hold
	placers []*placer    // of the root's convention, and of those further down
	placer  map[*convention.Convention]*placer
	owners  map[project.FileID]project.FileID // of companions, as far as they are known
	homes   []Home
	states  []state
	stood   []subject                         // the files where they lie; nil until all are placed
	circle  error                             // homes that depend on one another
	units   []unit                            // folders that are one thing
	leads   map[project.FileID]project.FileID // of each file of them that another leads, that one
}

// state says how far the home of a file is known.
type state uint8

const (
	unknown state = iota
	asked
	known
)

func newWorld(c *convention.Convention, tree *project.Project, g *graph.Graph) *world {
	w := &world{tree: tree, graph: g, placer: map[*convention.Convention]*placer{}}
	for _, one := range c.All() {
		p := &placer{world: w, convention: one, spoken: spokenFolders(one), asked: lang.AskedByAll(one)}
		w.placers, w.placer[one] = append(w.placers, p), p
	}
	w.findUnits()
	w.leads = map[project.FileID]project.FileID{}
	for _, u := range w.units {
		for _, id := range u.files {
			w.leads[id] = u.lead
		}
	}
	w.reset(w.leads)
	return w
}

// of gives the placer of the convention that governs a path.
func (w *world) of(file string) *placer {
	if len(w.placers) == 1 {
		return w.placers[0]
	}
	return w.placer[w.placers[0].convention.For(file)]
}

// reset forgets all homes, with what is now known of companions.
func (w *world) reset(owners map[project.FileID]project.FileID) {
	w.owners = owners
	w.homes, w.states = make([]Home, len(w.tree.Files)), make([]state, len(w.tree.Files))
	for _, p := range w.placers {
		if w.graph != nil {
			p.needs = newNeeds(p)
		}
	}
}

// whose gives the owner of a companion, whose home is its own; of another file that file.
func (w *world) whose(id project.FileID) project.FileID {
	if owner, ok := w.owners[id]; ok {
		return owner
	}
	return id
}

// homeOf gives the home of a file, which may depend on the homes of others. Homes that depend on one another in a
// circle are the convention's fault.
func (w *world) homeOf(id project.FileID) *Home {
	id = w.whose(id)
	file := w.tree.Path(id)
	switch w.states[id] {
	case unknown:
		w.states[id] = asked
		w.homes[id] = w.of(file).judgeAt(w.of(file).subject(id), nil)
		w.homes[id].Owner = project.None
		w.states[id] = known
	case asked:
		w.of(file).inCircle(file)
	}
	return &w.homes[id]
}

func (p *placer) inCircle(what string) {
	if p.circle == nil {
		p.circle = conventionError(p.convention, p.needs.line, "where "+what+
			" belongs depends on itself: who needs it depends, in a circle, on where it is",
			"let one of the pools take its files without needed_by, or put the two pools together")
	}
}

// placeAll gives the home of every file.
func (w *world) placeAll() (*Result, error) {
	w.stand()
	w.placeAlone()
	if w.graph != nil {
		for _, p := range w.placers {
			p.needs.complete()
		}
		w.placeAlone()
	}
	for i, s := range w.states {
		id := project.FileID(i)
		if _, companion := w.owners[id]; companion { // accompany gives it its home
			w.homes[id] = Home{Kind: Unspoken, Path: w.tree.Path(id), Owner: project.None}
		} else if s != known {
			w.homeOf(id)
		}
	}
	if w.circle != nil {
		return nil, w.circle
	}
	w.goTogether()
	w.followProjects()
	r := &Result{Homes: w.homes}
	r.accompany(w.tree)
	w.unite(r)
	return r, nil
}

// stand notes on which shelf each file stands.
func (w *world) stand() {
	w.stood = make([]subject, len(w.tree.Files))
	parallel.Ranges(len(w.tree.Files), func(from, to int) {
		var stands byFolder[standing]
		for id := project.FileID(from); id < project.FileID(to); id++ {
			file := w.tree.Path(id)
			p := w.of(file)
			w.stood[id] = subject{path: file, id: id,
				standing: stands.of(p.convention, file, func() standing { return p.standsOn(file) })}
		}
	})
}

// placeAlone gives a home to each file whose home depends on no other's as far as that is not known, on all cores.
func (w *world) placeAlone() {
	parallel.Do(len(w.tree.Files), func(i int) {
		id := project.FileID(i)
		if _, companion := w.owners[id]; companion || w.states[id] == known {
			return
		}
		a := solo{}
		if h := w.of(w.tree.Path(id)).judgeAt(w.stood[id], &a); !a.asks {
			h.Owner = project.None
			w.homes[id], w.states[id] = h, known
		}
	})
}

// stayHome says which files, once moved, are at home, as far as that depends on no other's home.
func (w *world) stayHome(r *Result) []bool {
	out := make([]bool, len(r.Homes))
	parallel.Do(len(r.Homes), func(i int) {
		h := &r.Homes[i]
		if out[i] = h.Kind != Misplaced; out[i] {
			return
		}
		p, a := w.of(h.Path), &solo{}
		if p == w.of(w.tree.Path(project.FileID(i))) {
			again := p.judge(h.Path, project.FileID(i), a)
			out[i] = !a.asks && (again.Kind == AtHome || again.Kind == Left)
		}
	})
	return out
}
