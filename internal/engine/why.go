package engine

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// Why is what is known of one file's place.
type Why struct {
	Path   string `json:"path"`
	Exists bool   `json:"exists"`
	// State is misplaced, at home, homeless, left alone, excused or not spoken of.
	State   string     `json:"state"`
	Home    string     `json:"home"`
	Shelf   string     `json:"shelf,omitempty"`
	Purpose string     `json:"purpose,omitempty"` // of the shelf, in the convention's words
	Owner   string     `json:"owner,omitempty"`   // the file whose companion it is
	With    []string   `json:"with"`              // companions, which move with it
	Line    int        `json:"line,omitempty"`    // of the convention: what says so
	Because string     `json:"because,omitempty"` // who needs it, where that decided
	Fixed   string     `json:"fixed,omitempty"`   // what a tool takes it for because it stands there
	Role    *Role      `json:"role,omitempty"`    // what its ecosystem knows of it by its name; nil for nothing
	Near    []NearMiss `json:"near"`
	Users   []Use      `json:"users"` // who refers to it
	Uses    []Use      `json:"uses"`  // what it refers to
	// Blocked is why it can't be moved; Edits are the files that moving it alone would not leave as they are.
	Blocked string   `json:"blocked,omitempty"`
	Edits   []string `json:"edits"`
}

// NearMiss is a shelf that came close.
type NearMiss struct {
	Shelf  string `json:"shelf"`
	Line   int    `json:"line"`
	Reason string `json:"reason"`
}

// Use is one reference: the other file, the place of the mention, and its text.
type Use struct {
	Path   string `json:"path"`
	At     string `json:"at"` // line and column in the file that refers
	Text   string `json:"text"`
	Kind   string `json:"kind"`
	Likely bool   `json:"likely,omitempty"`
}

var states = map[placement.Kind]string{
	placement.Unspoken: "not spoken of", placement.Left: "left alone", placement.AtHome: "at home",
	placement.Misplaced: "misplaced", placement.Homeless: "homeless",
}

// Why explains one file; of a path where no file is, it says where a new file of that name would belong.
func (p *Project) Why(file string, opts PlanOptions) (*Why, error) {
	file = path.Clean(strings.TrimPrefix(file, "./"))
	if !project.CleanPath(file) {
		return nil, usage("%q is no path of a file below the project's root", file)
	}
	if p.Tree.IsDir(file) {
		return nil, usage("%s is a folder; why explains one file", file)
	}
	placed, err := p.placeFor(passing)
	if err != nil {
		return nil, err
	}
	h, near := placement.Look(p.Convention, p.Tree, p.graph, placed, file)
	w := &Why{Path: file, State: states[h.Kind], Home: h.Path, Line: h.Line, Because: h.Because, With: []string{},
		Near: []NearMiss{}, Users: []Use{}, Uses: []Use{}, Edits: []string{}}
	if h.Leave == placement.Excused {
		w.State = "excused"
	}
	if h.Leave == placement.Fixed {
		w.State, w.Because = "fixed", "it "+h.Because
	}
	if h.Shelf != nil {
		w.Shelf, w.Purpose = h.Shelf.Name, h.Shelf.For
	}
	if _, there := p.Tree.Lookup(file); there && h.Owner != project.None {
		w.Owner = p.Tree.Path(h.Owner)
	}
	for _, n := range near {
		w.Near = append(w.Near, NearMiss{n.Shelf.Name, n.Line, n.Reason})
	}
	id, exists := p.Tree.Lookup(file)
	if w.Exists = exists; !exists {
		return w, nil
	}
	if fact, found := all.Recognise(p.Tree).Of(file, false); fact != nil {
		role := roleOf(file, fact, found)
		w.Role = &role
	}
	for _, rules := range p.graph.Rules() {
		if rules.Place != nil {
			if place, fixed := rules.Place(file); fixed {
				w.Fixed = fmt.Sprintf("each file of its kind in %s %s, by %s", place.Folder, place.Why, place.By)
				if place.Setting != "" {
					w.Fixed += "; " + place.Setting + " moves the place"
				}
			}
		}
	}
	for other, home := range placed.Homes {
		if home.Owner == id {
			w.With = append(w.With, p.Tree.Path(project.FileID(other)))
		}
	}
	w.references(p.graph, id)
	if h.Kind == placement.Misplaced {
		return w, p.cost(w, opts)
	}
	return w, nil
}

// references lists who refers to a file, and what the file refers to, in the order of paths and places.
func (w *Why) references(g *graph.Graph, id project.FileID) {
	for _, r := range g.References()[id] {
		if r.From != id {
			w.Users = append(w.Users, use(g, r, g.Tree.Path(r.From)))
		}
	}
	node := &g.Files[id]
	for i, t := range node.Targets {
		name := t.Folder()
		switch t.Kind {
		case lang.ToFile:
			name = g.Tree.Path(t.File)
		case lang.ToFolder:
			name += "/"
		case lang.ToSet:
			name = path.Join(name, "*")
		default:
			continue
		}
		w.Uses = append(w.Uses, use(g, graph.Reference{From: id, Mention: i}, name))
	}
}

func use(g *graph.Graph, r graph.Reference, name string) Use {
	m := &g.Files[r.From].Mentions[r.Mention]
	return Use{Path: name, At: g.Position(r).String(), Text: m.Text, Kind: m.Kind.String(), Likely: m.Likely}
}

// cost makes the plan and takes from it what has to do with the file.
func (p *Project) cost(w *Why, opts PlanOptions) error {
	opts.Brief = true
	made, _, err := p.Plan(opts)
	if err != nil {
		return err
	}
	for _, b := range made.Blocked {
		if b.From == w.Path {
			w.Blocked = b.Reason
		}
	}
	for _, e := range made.Edits {
		touches := e.Path == w.Path
		for _, c := range e.Changes {
			touches = touches || c.Target == w.Home
		}
		if touches {
			w.Edits = append(w.Edits, e.Path)
		}
	}
	slices.SortFunc(w.Edits, cmp.Compare)
	return nil
}
