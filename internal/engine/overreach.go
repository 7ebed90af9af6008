package engine

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// limitsUse says whether a convention says anything of what shelves may use.
func limitsUse(c *convention.Convention) bool {
	return slices.ContainsFunc(c.Shelves, func(s *convention.Shelf) bool { return s.Uses != nil || s.Apart != nil || s.Libraries != nil })
}

// findOverreach adds the references by which a file uses what its shelf may not use. Files are judged by the shelf on which
// they belong, wherever they lie today.
func (p *Project) findOverreach(c *Check, g *graph.Graph, placed *placement.Result) {
	for id := range g.Files {
		h := placed.Homes[id]
		if h.Shelf == nil || h.Leave == placement.Generated {
			continue
		}
		for i, t := range g.Files[id].Targets {
			m := &g.Files[id].Mentions[i]
			if m.Likely {
				continue
			}
			line, reason := judgeUse(h, t, m.Text, placed)
			if reason == "" || placement.Excuse(p.Convention, finding.Overreach, p.Tree.Path(project.FileID(id))) != nil {
				continue
			}
			c.Findings = append(c.Findings, finding.Finding{
				Rule: finding.Overreach, Path: p.Tree.Path(project.FileID(id)), Shelf: h.Shelf.Name, Line: line,
				At: g.Position(graph.Reference{From: project.FileID(id), Mention: i}).String(), Reason: reason,
			})
		}
	}
}

// judgeUse gives the line that forbids a reference, and the reason; empty where it is allowed.
func judgeUse(from placement.Home, t lang.Target, text string, placed *placement.Result) (int, string) {
	s := from.Shelf
	switch t.Kind {
	case lang.ToPackage:
		if name := packageOf(text); !s.Libraries.Allows(name) {
			return s.Libraries.Line, fmt.Sprintf("%s may not use the library %s", s.Name, name)
		}
	case lang.ToFile:
		to := placed.Homes[t.File]
		switch {
		case to.Shelf == nil || to.Instance == from.Instance && to.Shelf == s || strings.HasPrefix(to.Path, from.Instance) && strings.HasSuffix(from.Instance, "/"):
		case to.Shelf == s:
			if s.Apart != nil && !slices.Contains(s.Apart.But, path.Base(strings.TrimSuffix(to.Instance, "/"))) {
				return s.Apart.Line, fmt.Sprintf("%s are apart, and it uses %s", s.Name, to.Instance)
			}
		case s.Uses != nil && !slices.Contains(s.Uses.Shelves, to.Shelf.Name):
			return s.Uses.Line, fmt.Sprintf("%s may not use %s, and it uses %s", s.Name, to.Shelf.Name, to.Path)
		}
	}
	return 0, ""
}

// packageOf is the package that a specifier names: @scope/name of @scope/name/sub.
func packageOf(text string) string {
	parts := strings.SplitN(text, "/", 3)
	if strings.HasPrefix(text, "@") && len(parts) > 1 {
		return parts[0] + "/" + parts[1]
	}
	return parts[0]
}
