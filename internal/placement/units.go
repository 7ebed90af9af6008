package placement

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// This file finds folders that are one thing. Who needs one of their files needs all, and all go where one of them
// belongs: the one that is named like the folder, the folder's index, or its manifest.

// languages say which files stand for their folder. They are asked before anything is read.
var languages = all.Languages()

// unit is a folder that is one thing.
type unit struct {
	dir   string
	lead  project.FileID
	files []project.FileID // without the lead
	found bool             // by an index and a name: no shelf declares it
}

// findUnits finds the folders of a tree that are one thing: those that a shelf declares, and those in which an index
// stands beside a part of the folder's name.
func (w *world) findUnits() {
	type says struct {
		whole []*template.Template
		off   bool
	}
	known := map[*placer]says{}
	for _, p := range w.placers {
		known[p] = says{wholes(p.convention),
			slices.ContainsFunc(p.convention.Shelves, func(s *convention.Shelf) bool { return s.NotWhole })}
	}
	units := map[string]bool{}
	within := func(dir string) bool {
		for ; dir != "."; dir = project.Dir(dir) {
			if units[dir] {
				return true
			}
		}
		return false
	}
	for _, dir := range w.tree.Folders() { // what is around comes first
		if dir == "." || within(dir) {
			continue
		}
		p := w.of(dir + "/x")
		declared := slices.ContainsFunc(known[p].whole, template.Fits(dir))
		if !declared && (known[p].off || !w.indexed(dir) || p.holdsShelves(dir)) {
			continue
		}
		units[dir] = w.addUnit(p, dir, !declared)
	}
}

// wholes are the folders that the shelves of a convention declare to be one thing: below where their files lie today,
// and below their places.
func wholes(c *convention.Convention) (out []*template.Template) {
	add := func(t *template.Template, below string) {
		if whole, err := template.ParseName(t.Head()+strings.TrimSuffix(below, "/"), t.Vars); err == nil {
			out = append(out, whole)
		}
	}
	for _, s := range c.Shelves {
		for _, below := range s.Whole {
			if whole, err := template.ParseName(s.At.Expanded+strings.TrimSuffix(below, "/"), s.At.Vars); err == nil &&
				!s.AtFile {
				out = append(out, whole)
			}
			for _, t := range s.From {
				add(t, below)
			}
			for _, take := range s.Takes {
				if take.Pool != nil {
					for _, t := range take.Pool.In {
						add(t, below)
					}
				}
			}
		}
	}
	return out
}

// indexed says whether an index stands in a folder beside a program that is named like the folder.
func (w *world) indexed(dir string) bool {
	index, part := false, false
	for _, id := range w.directly(dir) {
		stem, _, _ := strings.Cut(path.Base(w.tree.Path(id)), ".")
		// where every package has such a file it says nothing
		family := languages.FamilyOf(w.tree.Path(id))
		index = index || languages.IsEntry(stem) && family != nil && family.Facts.Marker == ""
		part = part || languages.IsProgram(w.tree.Path(id)) && template.SameWords(stem, path.Base(dir))
	}
	return index && part
}

// directly are the files of a folder, without those of folders in it.
func (w *world) directly(dir string) (out []project.FileID) {
	from, to := w.tree.Below(dir)
	for id := from; id < to; id++ {
		if project.Dir(w.tree.Path(id)) == dir {
			out = append(out, id)
		}
	}
	return out
}

// holdsShelves says whether a folder is an instance of a shelf with shelves inside: its files have places of their own.
func (p *placer) holdsShelves(dir string) bool {
	return slices.ContainsFunc(p.convention.Shelves, func(s *convention.Shelf) bool {
		if s.Parent == nil {
			return false
		}
		instance, lies := instanceOf(s.Parent, dir+"/x")
		return lies && instance == dir+"/"
	})
}

// addUnit takes a folder for one thing, unless something in it is left alone, or nothing leads it. Files of which an
// entry of from says by their place in the folder where they belong are no part of it.
func (w *world) addUnit(p *placer, dir string, found bool) bool {
	u := unit{dir: dir, lead: w.leadOf(dir), found: found}
	if u.lead == project.None {
		return false
	}
	from, to := w.tree.Below(dir)
	for id := from; id < to; id++ {
		file := w.tree.Path(id)
		if leave, _ := left(p.convention, file); leave != Free {
			return false
		}
		if id != u.lead && !p.placedInside(dir, file) {
			u.files = append(u.files, id)
		}
	}
	if len(u.files) == 0 {
		return false
	}
	w.units = append(w.units, u)
	return true
}

// placedInside says whether an entry of from takes a file by its place within a folder.
func (p *placer) placedInside(dir, file string) bool {
	var buf [32]*convention.Shelf
	for _, s := range p.convention.ShelvesFor(file, nil, nil, buf[:0]) {
		if slices.ContainsFunc(s.From, func(t *template.Template) bool {
			return strings.HasPrefix(t.Begins(), dir+"/") && t.Fits(file)
		}) {
			return true
		}
	}
	return false
}

// leadOf gives the file that a folder is named after, else its manifest, its index, or its first program; project.None
// for none.
func (w *world) leadOf(dir string) project.FileID {
	best, rank := project.None, 5
	for _, id := range w.directly(dir) {
		file := w.tree.Path(id)
		stem, _, _ := strings.Cut(path.Base(file), ".")
		mine := 5
		switch {
		case languages.IsTest(file) || languages.Shows(file):
		case languages.IsProgram(file) && template.SameWords(stem, path.Base(dir)):
			mine = 0
		case languages.IsManifest(path.Base(file)):
			mine = 1
		case languages.IsProgram(file) && languages.IsEntry(stem):
			mine = 2
		case languages.IsProgram(file):
			mine = 3
		default:
			mine = 4
		}
		if mine < rank {
			best, rank = id, mine
		}
	}
	return best
}

// isLed says whether another file leads a file of a folder that is one thing.
func (w *world) isLed(id project.FileID) bool {
	_, led := w.leads[id]
	return led
}

// followProjects lets what no shelf takes go with the project file above it, and a project file that no shelf takes
// with its sources, where all of these keep their places to one another: a project never leaves its sources.
func (w *world) followProjects() {
	for id := range w.tree.Files {
		file := w.tree.Path(project.FileID(id))
		dir := project.Dir(file)
		if dir == "." || !all.IsProjectFile(file) {
			continue
		}
		to, lead, ok := w.goesTo(dir, project.FileID(id))
		if !ok {
			continue
		}
		from, end := w.tree.Below(dir)
		for other := from; other < end; other++ {
			h := &w.homes[other]
			if h.Kind != Homeless && h.Kind != Unspoken || w.isLed(other) {
				continue
			}
			path := w.tree.Path(other)
			*h = Home{Kind: Misplaced, Path: to + path[len(dir):], Shelf: w.homes[lead].Shelf,
				Instance: w.homes[lead].Instance, Line: w.homes[lead].Line, values: w.homes[lead].values, Owner: lead}
		}
	}
}

// goesTo gives the folder to which that of a project file goes, and the file that says so: the project file itself, or
// its sources if all go to one place.
func (w *world) goesTo(dir string, manifest project.FileID) (to string, lead project.FileID, ok bool) {
	place := func(id project.FileID) (string, bool) {
		h := &w.homes[id]
		folder, fits := strings.CutSuffix(h.Path, w.tree.Path(id)[len(dir):])
		return folder, fits && h.Kind == Misplaced && h.Shelf != nil && !h.Shelf.AtFile && folder != ""
	}
	if h := &w.homes[manifest]; h.Kind != Homeless && h.Kind != Unspoken {
		to, ok = place(manifest)
		return to, manifest, ok
	}
	from, end := w.tree.Below(dir)
	for id := from; id < end; id++ {
		if h := &w.homes[id]; h.Kind == Homeless || h.Kind == Unspoken {
			if p := w.tree.Path(id); languages.IsProgram(p) || all.IsOtherProgram(p) {
				return "", project.None, false // a source that no shelf takes stays, and so does the project
			}
			continue
		}
		folder, moves := place(id)
		if !moves || ok && folder != to {
			return "", project.None, false
		}
		to, lead, ok = folder, id, true
	}
	return to, lead, ok
}

// goTogether gives the files of each unit the place that they have where the lead of it belongs. Where no shelf takes
// the lead, or gives its folder a name by which it would no longer be found as one thing, each is judged by itself.
func (w *world) goTogether() {
	for _, u := range w.units {
		h := w.homes[u.lead]
		within := w.tree.Path(u.lead)[len(u.dir):]
		folder, fits := strings.CutSuffix(h.Path, within)
		if !fits { // the lead is named anew on its shelf
			folder = project.Dir(h.Path)
		}
		stem, _, _ := strings.Cut(path.Base(h.Path), ".")
		parts := u.found && h.Kind == Misplaced && !template.SameWords(stem, path.Base(folder))
		for _, id := range u.files {
			file := w.tree.Path(id)
			if parts || h.Shelf == nil || h.Kind != AtHome && h.Kind != Misplaced || h.Shelf.AtFile {
				w.homes[id] = w.of(file).judgeAt(w.of(file).subject(id), nil)
				w.homes[id].Owner = project.None
				continue
			}
			mine := Home{Kind: Misplaced, Path: folder + file[len(u.dir):], Shelf: h.Shelf, Instance: h.Instance,
				Line: h.Line, values: h.values, Owner: u.lead}
			if mine.Path == file {
				mine.Kind = AtHome
			}
			w.homes[id] = mine
		}
	}
}
