package placement

import (
	"fmt"
	"path"
	"slices"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project"
)

// MissingFile is a file that an instance must have and lacks.
type MissingFile struct {
	Path     string
	Shelf    *convention.Shelf
	Instance string
	Required convention.Required
}

// findMissing reports what is not there: companions of files.
func (r *Result) findMissing(w *world) {
	for id := range w.tree.Files {
		owner := &r.Homes[id]
		if !owner.owns() || len(owner.Shelf.Beside.Must) == 0 {
			continue
		}
		file := w.tree.Path(project.FileID(id))
		c := w.of(file).convention
		if all := owner.Shelf.Beside == c.Beside; all && (!languages.IsProgram(file) || languages.IsTest(file)) {
			continue // what is said of all shelves means code
		}
		if c.Has(owner.Shelf) {
			for _, companion := range owner.Shelf.Beside.Must {
				r.missing(c, w.tree, project.FileID(id), companion)
			}
		}
	}
}

// findAllRequired reports files that instances of shelves must have.
func (r *Result) findAllRequired(c *convention.Convention) {
	if !slices.ContainsFunc(c.Shelves, func(s *convention.Shelf) bool { return len(s.Must) > 0 }) {
		return
	}
	there := make(map[string]bool, len(r.Homes))
	for _, h := range r.Homes {
		there[h.Path] = true
	}
	for _, s := range c.Shelves {
		if len(s.Must) > 0 {
			r.findRequired(c, s, there)
		}
	}
}

func (r *Result) findRequired(c *convention.Convention, s *convention.Shelf, there map[string]bool) {
	seen := map[string]bool{}
	for _, h := range r.Homes {
		if h.Kind != AtHome && h.Kind != Misplaced {
			continue
		}
		instance, ok := instanceOf(s, h.Path)
		if !ok || seen[instance] {
			continue
		}
		seen[instance] = true
		captures, _ := s.At.Match(h.Path)
		for _, required := range s.Must {
			p := required.Of(instance, captures.Values)
			if there[p] || c.Excuse(finding.Missing, p, s) != nil {
				continue
			}
			r.Missing = append(r.Missing, MissingFile{Path: p, Shelf: s, Instance: instance, Required: required})
			r.Findings = append(r.Findings, finding.Finding{
				Rule: finding.Missing, Path: p, Shelf: s.Name, Line: required.Line,
				Reason: fmt.Sprintf("each instance of %s must have %s", s.Name, path.Base(p)),
			})
		}
	}
}

// missing reports a companion that is neither beside the file nor where the file belongs.
func (r *Result) missing(c *convention.Convention, tree *project.Project, owner project.FileID,
	companion convention.Companion) {
	now, _ := companion.Of(tree.Path(owner))
	then, ok := companion.Of(r.Homes[owner].Path)
	if !ok {
		return
	}
	for _, p := range []string{now, then} {
		if _, there := tree.Lookup(p); there {
			return
		}
	}
	if c.Excuse(finding.Missing, tree.Path(owner), r.Homes[owner].Shelf) != nil {
		return
	}
	r.Findings = append(r.Findings, finding.Finding{
		Rule: finding.Missing, Path: tree.Path(owner), Shelf: r.Homes[owner].Shelf.Name, Line: companion.Line,
		Reason: fmt.Sprintf("%s must be beside it", path.Base(then)),
	})
}

// doors makes sure that a shelf with a door has an instance with one, as it is or as it will be written: if no instance
// has it, no import could be right.
func (r *Result) doors(c *convention.Convention) error {
	if !c.HasDoors() {
		return nil
	}
	there := map[string]bool{}
	for _, h := range r.Homes {
		there[h.Path] = true
	}
	for _, m := range r.Missing {
		there[m.Path] = there[m.Path] || m.Required.Write != convention.WriteNothing
	}
	for _, s := range c.Shelves {
		if s.Door == "" {
			continue
		}
		instances := map[string]bool{}
		open := false
		for _, h := range r.Homes {
			if h.Kind != AtHome && h.Kind != Misplaced {
				continue
			}
			if instance, ok := instanceOf(s, h.Path); ok {
				instances[instance] = true
				open = open || there[instance+s.Door]
			}
		}
		if len(instances) > 0 && !open {
			return conventionError(c, s.DoorLine,
				fmt.Sprintf("no instance of %s has its door %s (the shelf stands at line %d)", s.Name, s.Door,
					s.At.Line),
				fmt.Sprintf("name the file by which instances are entered, or have it written: must: [{ file: %s, "+
					"write: reexports }]", s.Door))
		}
	}
	return nil
}
