package placement

import (
	"fmt"
	"path"
	"slices"
	"strings"
	"unicode"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// findMisspelled reports names that are not as the shelf wants them, and what they should be where that is known.
func (r *Result) findMisspelled(c *convention.Convention, tree *project.Project, g *graph.Graph) {
	r.Spelled = map[project.FileID]string{}
	type misspelled struct {
		id    project.FileID
		found finding.Finding
	}
	for _, part := range parallel.Parts(len(r.Homes), func(from, to int) (out []misspelled) {
		for id := project.FileID(from); id < project.FileID(to); id++ {
			h := &r.Homes[id]
			if h.Shelf == nil || h.Shelf.Names == nil || h.Shelf.AtFile || h.Kind != AtHome && h.Kind != Misplaced ||
				h.Owner != project.None {
				continue
			}
			declared := ""
			if h.Shelf.Names.Declares {
				declared = declaredName(g, id)
			}
			want, reason := spelling(h, declared)
			if reason == "" || c.For(tree.Path(id)).Excuse(finding.Misspelled, tree.Path(id), h.Shelf) != nil {
				continue
			}
			found := finding.Finding{Rule: finding.Misspelled, Path: tree.Path(id), Shelf: h.Shelf.Name,
				Line: h.Shelf.Names.Line, Reason: reason}
			if want != h.Path {
				found.Home = want
			}
			out = append(out, misspelled{id, found})
		}
		return out
	}) {
		for _, m := range part {
			if m.found.Home != "" {
				r.Spelled[m.id] = m.found.Home
			}
			r.Findings = append(r.Findings, m.found)
		}
	}
	for id := range r.Homes { // companions bear their owners' names
		h := &r.Homes[id]
		if h.Owner == project.None || r.Spelled[h.Owner] == "" {
			continue
		}
		if h.part {
			r.Spelled[project.FileID(id)] = partOf(tree.Path(project.FileID(id)), tree.Path(h.Owner),
				r.Spelled[h.Owner])
			continue
		}
		for _, companion := range h.Shelf.Beside.All() {
			if p, ok := companion.Of(r.Homes[h.Owner].Path); ok && p == h.Path {
				r.Spelled[project.FileID(id)], _ = companion.Of(r.Spelled[h.Owner])
			}
		}
	}
}

// spelling gives the path that a file should have by the names of its shelf, and what is wrong with the one that it
// has; no reason where it is right.
func spelling(h *Home, declared string) (want, reason string) {
	names := h.Shelf.Names
	instance, _ := instanceOf(h.Shelf, h.Path)
	dirs, base := path.Split(h.Path[len(instance):])
	stem, rest, dotted := strings.Cut(base, ".")
	if dotted {
		rest = "." + rest
	}
	var reasons []string
	if declared != "" && stem != "index" && plainName(stem) {
		name := template.InCase(declared, names.Files)
		if names.Files != "" && !template.SameWords(stem, declared) || names.Files == "" && stem != declared {
			reasons = append(reasons, fmt.Sprintf("it declares %s and is not named after it", declared))
			stem = name
		}
	}
	if cased := template.InCase(stem, names.Files); cased != stem && plainName(stem) {
		reasons = append(reasons, fmt.Sprintf("files here are named in %s", names.Files))
		stem = cased
	}
	if names.Folders != "" {
		parts := strings.Split(dirs, "/")
		for i, part := range parts {
			if plainName(part) {
				parts[i] = template.InCase(part, names.Folders)
			}
		}
		if joined := strings.Join(parts, "/"); joined != dirs {
			reasons = append(reasons, fmt.Sprintf("folders here are named in %s", names.Folders))
			dirs = joined
		}
	}
	base = stem + rest
	if len(names.Like) > 0 && !slices.ContainsFunc(names.Like, template.Fits(base)) {
		var like []string
		for _, t := range names.Like {
			like = append(like, t.Text)
		}
		reasons = append(reasons, "a name here is like "+strings.Join(like, " or "))
	}
	return instance + dirs + base, strings.Join(reasons, "; ")
}

// plainName says whether a name is made of words alone: [id], (group) and _app mean something to the tools that read
// them.
func plainName(name string) bool {
	if name == "" || name[0] == '_' || name[0] == '-' {
		return false
	}
	return !strings.ContainsFunc(name, func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) &&
			r != '-' && r != '_'
	})
}

// declaredName is the name of the one thing that a file is about: what it exports by default, or the only class,
// component, function or type that it exports; empty if there is none or there are several.
func declaredName(g *graph.Graph, id project.FileID) string {
	if g == nil || g.Outline(id) == nil {
		return ""
	}
	var named []string
	for _, d := range g.Outline(id).Declarations {
		if d.Name == "" || d.Kinds&(lang.IsClass|lang.IsFunction|lang.IsType) == 0 || !d.Exported {
			continue
		}
		if d.Default {
			return d.Name
		}
		named = append(named, d.Name)
	}
	if len(named) == 1 {
		return named[0]
	}
	return ""
}
