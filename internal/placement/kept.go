package placement

import (
	"fmt"
	"slices"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// findExposed reports private files that git sees, and examples of them that are not there.
func (r *Result) findExposed(w *world, c *convention.Convention) {
	for _, private := range c.Private {
		for _, f := range w.tree.Files {
			if private.File.Fits(f.Path) && f.Path != private.Example && c.Excuse(finding.Exposed, f.Path, nil) == nil {
				r.Findings = append(r.Findings, finding.Finding{Rule: finding.Exposed, Path: f.Path, Line: private.Line,
					Reason: "it is private, and git does not ignore it"})
			}
		}
		if _, there := w.tree.Lookup(private.Example); private.Example != "" && !there &&
			c.Excuse(finding.Missing, private.Example, nil) == nil {
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Missing, Path: private.Example,
				Line: private.Line, Reason: fmt.Sprintf("it shows others what %s holds", private.File.Text)})
		}
	}
}

// findThick reports entry files that hold more than what loads another. A constant is what is loaded, kept in a name.
func (r *Result) findThick(w *world, c *convention.Convention, g *graph.Graph) {
	if len(c.Thin) == 0 || g == nil {
		return
	}
	for id, f := range w.tree.Files {
		if c.For(f.Path) != c || !slices.ContainsFunc(c.Thin, template.Fits(f.Path)) ||
			c.Excuse(finding.Thick, f.Path, nil) != nil {
			continue
		}
		for _, d := range g.Declarations(project.FileID(id), lang.AnyKind) {
			if d.Kinds.Has("constant") && !d.Kinds.Has("function") && !d.Kinds.Has("component") {
				continue
			}
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Thick, Path: f.Path,
				Reason: fmt.Sprintf("it declares %s, and is to load other files alone", d.Name)})
			break
		}
	}
}
