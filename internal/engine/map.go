package engine

import (
	"cmp"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// Map is a project as a picture of it needs it: where each file stands and belongs, and who uses whom.
type Map struct {
	Title   string     `json:"title"`
	Shelves []MapShelf `json:"shelves"` // in the order of the convention, those that have files
	Files   []MapFile  `json:"files"`   // in the order of their paths
	Uses    []MapUse   `json:"uses"`    // between shelves, in the order of their names
	Rules   []string   `json:"rules"`   // of the findings, in the order of the rules
	Bare    bool       `json:"bare"`    // there is no convention that names shelves
}

// MapShelf is a shelf with what stands on it.
type MapShelf struct {
	Name   string `json:"name"`
	For    string `json:"for,omitempty"`
	At     string `json:"at"`
	Line   int    `json:"line"`
	Home   int    `json:"home"`   // files that stand where they belong
	Coming int    `json:"coming"` // files that belong there and lie elsewhere
}

// MapFile is a file. Users and Uses are numbers of files.
type MapFile struct {
	Path  string `json:"path"`
	Home  string `json:"home"`            // where it belongs; its path where that is there
	State string `json:"state"`           // home, crooked, homeless, left or unspoken
	Shelf string `json:"shelf,omitempty"` // on which it belongs
	Line  int    `json:"line,omitempty"`  // of the convention
	Why   string `json:"why,omitempty"`   // who needs it, where that decided

	Findings []MapFinding `json:"findings,omitempty"`
	Users    []int        `json:"users,omitempty"`
	Uses     []int        `json:"uses,omitempty"`
}

// MapFinding is what a rule finds in a file.
type MapFinding struct {
	Rule   string `json:"rule"`
	At     string `json:"at,omitempty"`
	Reason string `json:"reason"`
}

// MapUse says how often files of a shelf refer to files of another, and how many of these references may not be.
type MapUse struct {
	From  string `json:"from"`
	To    string `json:"to"`
	Count int    `json:"count"`
	Not   int    `json:"not"`
}

// mapStates are the names of how files stand.
var mapStates = map[placement.Kind]string{placement.AtHome: "home", placement.Misplaced: "crooked",
	placement.Homeless: "homeless", placement.Left: "left", placement.Unspoken: "unspoken"}

// Map gathers what a picture shows.
func (p *Project) Map(opts CheckOptions) (*Map, error) {
	checked, err := p.Check(opts)
	if err != nil {
		return nil, err
	}
	placed, err := p.placeFor(certain)
	if err != nil {
		return nil, err
	}
	m := &Map{Title: p.Convention.Title, Shelves: []MapShelf{}, Files: make([]MapFile, len(p.Tree.Files)),
		Uses: []MapUse{}, Rules: []string{}, Bare: len(p.Convention.Shelves) == 0}
	if m.Title == "" {
		m.Title = path.Base(p.Root)
	}
	at := map[string]int{}
	for id := range p.Tree.Files {
		h := placed.Homes[id]
		f := MapFile{
			Path:  p.Tree.Path(project.FileID(id)),
			Home:  h.Path,
			State: mapStates[h.Kind],
			Line:  h.Line,
			Why:   h.Because,
		}
		if h.Shelf != nil && h.Kind != placement.Homeless {
			f.Shelf = h.Shelf.Name
		}
		m.Files[id], at[f.Path] = f, id
	}
	wrong := map[string]bool{} // places of references that may not be
	for _, f := range checked.Findings {
		if id, there := at[f.Path]; there && f.Rule != finding.Misplaced {
			m.Files[id].Findings = append(m.Files[id].Findings, MapFinding{f.Rule, f.At, f.Reason})
		}
		if f.Rule == finding.Overreach || f.Rule == finding.Backdoor || f.Rule == finding.Loop {
			wrong[f.Path+":"+f.At] = true
		}
		if !slices.Contains(m.Rules, f.Rule) {
			m.Rules = append(m.Rules, f.Rule)
		}
	}
	p.mapUses(m, wrong)
	p.mapShelves(m)
	return m, nil
}

// mapUses says who uses whom, files and shelves.
func (p *Project) mapUses(m *Map, wrong map[string]bool) {
	type pair struct{ from, to string }
	between := map[pair]*MapUse{}
	for id := range p.graph.Files {
		seen := map[project.FileID]bool{}
		for i, t := range p.graph.Files[id].Targets {
			if t.Kind != lang.ToFile || int(t.File) == id {
				continue
			}
			if !seen[t.File] {
				seen[t.File] = true
				m.Files[id].Uses = append(m.Files[id].Uses, int(t.File))
				m.Files[t.File].Users = append(m.Files[t.File].Users, id)
			}
			from, to := m.Files[id].Shelf, m.Files[t.File].Shelf
			if from == "" || to == "" || from == to {
				continue
			}
			use := between[pair{from, to}]
			if use == nil {
				use = &MapUse{From: from, To: to}
				between[pair{from, to}] = use
			}
			use.Count++
			if len(m.Files[id].Findings) > 0 &&
				wrong[m.Files[id].Path+":"+p.graph.Position(graph.Reference{From: project.FileID(id), Mention: i}).String()] {
				use.Not++
			}
		}
	}
	for _, use := range between {
		m.Uses = append(m.Uses, *use)
	}
	slices.SortFunc(m.Uses, func(a, b MapUse) int {
		return cmp.Or(strings.Compare(a.From, b.From), strings.Compare(a.To, b.To))
	})
}

// mapShelves lists the shelves on which something stands or belongs.
func (p *Project) mapShelves(m *Map) {
	home, coming := map[string]int{}, map[string]int{}
	for _, f := range m.Files {
		switch f.State {
		case "home":
			home[f.Shelf]++
		case "crooked":
			coming[f.Shelf]++
		}
	}
	listed := map[string]bool{}
	for _, c := range p.Convention.All() {
		for _, s := range c.Shelves {
			if n := home[s.Name] + coming[s.Name]; n > 0 && !listed[s.Name] {
				listed[s.Name] = true
				m.Shelves = append(
					m.Shelves,
					MapShelf{s.Name, s.For, strings.TrimSuffix(s.At.Expanded, "**"), s.Line, home[s.Name], coming[s.Name]},
				)
			}
		}
	}
}

// MapFolder is a folder of the tree as it is, or as it is when everything stands where it belongs.
type MapFolder struct {
	Path                  string
	Purpose               string // of the shelf that is the folder, or whose instances lie right in it
	Files, Coming, Leaves int    // below it: all then, those that come, those that go
	Folders               []*MapFolder
	Names                 []int // the files right in it, by their numbers
}

// Purposes gives what folders are for, by their paths: those that are a shelf with a purpose, or in which its instances
// lie. Where shelves share a folder the first one speaks.
func (m *Map) Purposes() map[string]string {
	purposes := map[string]string{}
	for _, s := range m.Shelves {
		fixed, _, _ := strings.Cut(s.At, "<")
		if dir := path.Clean(fixed); s.For != "" && strings.HasSuffix(fixed, "/") && purposes[dir] == "" {
			purposes[dir] = s.For
		}
	}
	return purposes
}

// Folders gives the folders of a map: as they are when everything stands where it belongs, or as they are now.
func (m *Map) Folders(now bool) *MapFolder {
	purposes := m.Purposes()
	all := map[string]*MapFolder{}
	var of func(dir string) *MapFolder
	of = func(dir string) *MapFolder {
		if all[dir] == nil {
			all[dir] = &MapFolder{Path: dir, Purpose: purposes[dir]}
			if dir != "." {
				above := of(path.Dir(dir))
				above.Folders = append(above.Folders, all[dir])
			}
		}
		return all[dir]
	}
	of(".")
	each := func(p string, count func(*MapFolder)) {
		for dir := path.Dir(p); ; dir = path.Dir(dir) {
			count(of(dir))
			if dir == "." {
				return
			}
		}
	}
	for i, f := range m.Files {
		stands := f.Home
		if now {
			stands = f.Path
		}
		of(path.Dir(stands)).Names = append(of(path.Dir(stands)).Names, i)
		each(stands, func(d *MapFolder) { d.Files++ })
		if f.State == "crooked" {
			each(f.Path, func(d *MapFolder) { d.Leaves++ })
			each(f.Home, func(d *MapFolder) { d.Coming++ })
		}
	}
	for _, dir := range slices.Sorted(maps.Keys(all)) {
		slices.SortFunc(all[dir].Folders, func(a, b *MapFolder) int { return strings.Compare(a.Path, b.Path) })
	}
	return all["."]
}
