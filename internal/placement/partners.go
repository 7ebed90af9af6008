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

// findPartners reports files that lack a partner on another shelf.
func (r *Result) findPartners(w *world) {
	var there map[string]bool // homes, their folders, and both without endings
	for id := range w.tree.Files {
		h, file := &r.Homes[id], w.tree.Path(project.FileID(id))
		if h.Kind != AtHome && h.Kind != Misplaced || len(h.Shelf.Partners) == 0 || h.Owner != project.None ||
			!languages.IsProgram(file) || languages.IsTest(file) {
			continue
		}
		if there == nil {
			there = r.homesAndFolders()
		}
		for _, partner := range h.Shelf.Partners {
			want := partner.Of(h.Path)
			if there[want] || w.of(file).convention.Excuse(finding.Missing, file, h.Shelf) != nil {
				continue
			}
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Missing, Path: file, Shelf: h.Shelf.Name,
				Line: partner.Line, Reason: fmt.Sprintf("its partner %s is not on %s", want, partner.Shelf.Name)})
		}
	}
}

func (r *Result) homesAndFolders() map[string]bool {
	out := map[string]bool{}
	for i := range r.Homes {
		p := r.Homes[i].Path
		out[p] = true
		stem, _, _ := strings.Cut(path.Base(p), ".")
		out[path.Join(path.Dir(p), stem)] = true
		for dir := project.Dir(p); dir != "." && !out[dir]; dir = project.Dir(dir) {
			out[dir] = true
		}
	}
	return out
}

// findStranded reports tests that stand where companions of a shelf stand and are nobody's, while a file of the name
// that they test is elsewhere: it was moved, and they were not.
func (r *Result) findStranded(w *world) {
	var programs map[string][]string // by the name up to the last dot
	for id := range w.tree.Files {
		h, file := &r.Homes[id], w.tree.Path(project.FileID(id))
		if h.Owner != project.None || h.Kind == Left || !languages.IsTest(file) {
			continue
		}
		p := w.of(file)
		name, shelf := p.tested(h, file)
		if name == "" {
			continue
		}
		if programs == nil {
			programs = w.programs()
		}
		others := programs[name]
		if same := slices.DeleteFunc(slices.Clone(others), func(other string) bool {
			return path.Ext(other) != path.Ext(file)
		}); len(same) > 0 {
			others = same
		}
		if len(others) > 0 && p.convention.Excuse(finding.Stranded, file, h.Shelf) == nil {
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Stranded, Path: file, Shelf: shelf.Name,
				Line: shelf.Line, Reason: fmt.Sprintf("what it tests by its name is %s", strings.Join(others, " or "))})
		}
	}
}

// programs are the programs of a tree that are no tests, by their names up to the last dot.
func (w *world) programs() map[string][]string {
	out := map[string][]string{}
	for _, f := range w.tree.Files {
		if languages.IsProgram(f.Path) && !languages.IsTest(f.Path) && !languages.Shows(f.Path) {
			name := stemOf(f.Path)
			out[name] = append(out[name], f.Path)
		}
	}
	return out
}

// stemOf is the name of a file up to its last dot.
func stemOf(p string) string { return strings.TrimSuffix(path.Base(p), path.Ext(p)) }

// tested gives the name of what a file tests by where companions of a shelf stand, if nothing of the name is there.
func (p *placer) tested(h *Home, file string) (name string, of *convention.Shelf) {
	for _, s := range p.convention.Shelves {
		for _, c := range s.Beside.All() {
			if c.Mirrors == "" && h.Shelf != s {
				continue
			}
			owner, name, fits := c.OwnerOf(file)
			if fits && !p.anyOf(owner, name) {
				return name, s
			}
		}
	}
	return "", nil
}

// anyOf says whether a folder has a file of a name, whatever its ending.
func (p *placer) anyOf(dir, name string) bool {
	for _, id := range p.directly(strings.TrimSuffix(dir, "/")) {
		if stemOf(p.tree.Path(id)) == name {
			return true
		}
	}
	return false
}
