package engine

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/project"
)

// removal works out which of the files that a convention discards can go; nil where it discards none.
func removal(c *convention.Convention, g *graph.Graph) *carry.Removal {
	var wanted []project.FileID
	for id, f := range g.Tree.Files {
		if c.For(f.Path).Unwanted(f.Path) != nil {
			wanted = append(wanted, project.FileID(id))
		}
	}
	if len(wanted) == 0 {
		return nil
	}
	return carry.Remove(g, wanted)
}

// findDiscarded reports files that are not wanted any more, with what needs them.
func (p *Project) findDiscarded(c *Check) {
	r := removal(p.Convention, p.graph)
	if r == nil {
		return
	}
	for id, f := range p.Tree.Files {
		d := p.Convention.For(f.Path).Unwanted(f.Path)
		if d == nil || p.Convention.For(f.Path).Excuse(finding.Discarded, f.Path, nil) != nil {
			continue
		}
		reason := d.Because
		if needs := r.Needed[project.FileID(id)]; len(needs) > 0 {
			reason += "; needed by " + neededBy(needs)
		}
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Discarded, Path: f.Path, Line: d.Line, Reason: reason})
	}
}

// neededBy names the first places that need a file.
func neededBy(needs []string) string {
	const most = 3
	shown := slices.Clone(needs[:min(most, len(needs))])
	for i := range shown {
		shown[i], _, _ = strings.Cut(shown[i], "  ")
	}
	if more := len(needs) - len(shown); more > 0 {
		shown = append(shown, fmt.Sprintf("%d more", more))
	}
	return strings.Join(shown, ", ")
}

// dropDiscarded takes out what is said of the places of files that are not wanted anywhere.
func (c *Check) dropDiscarded() {
	gone := map[string]bool{}
	for _, f := range c.Findings {
		gone[f.Path] = gone[f.Path] || f.Rule == finding.Discarded
	}
	c.Findings = slices.DeleteFunc(c.Findings, func(f finding.Finding) bool {
		return gone[f.Path] && (f.Rule == finding.Misplaced || f.Rule == finding.Homeless)
	})
}
