package engine

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file looks at what a convention asks of files that nothing reads. What can't be known must not look as if it
// were fine: where no file could ever be judged the convention is wrong, and where some can't be, they are reported.

// unknowable refuses conditions on what files hold, where no file that they speak of is read.
func unknowable(c *convention.Convention, tree *project.Project) error {
	languages := all.Languages()
	var problems []convention.Problem
	report := func(line int, what, hint string) {
		problems = append(problems, convention.Problem{Position: source.Position{Line: line, Column: 1}, Message: what,
			Hint: hint})
	}
	for _, r := range c.ReadAs {
		if !languages.Knows(r.As) {
			report(r.Line, fmt.Sprintf("nothing is read as %q", r.As),
				"write the ending of files that are read alike, or the name of a language; or: by first line, plain")
		}
	}
	for _, s := range c.Shelves {
		for i := range s.Takes {
			t := &s.Takes[i]
			ending := endingOf(t)
			asked := "imports"
			if t.Outlined() {
				asked = "declares, extends and marked"
			}
			if ending != "" {
				if as := c.Reads("x" + ending); as != "" {
					ending = "." + as
				}
			}
			if ending == "" || !t.Outlined() && len(t.Imports) == 0 || readsFor(languages, ending, t.Outlined()) {
				continue
			}
			report(t.Line, fmt.Sprintf("files like *%s are not read by this version, so %s can't be known of them", ending,
				asked), "ask for their names and places alone")
		}
		if line := usesLine(s); line > 0 {
			if one := onlyUnread(languages, c, s, tree); one != "" {
				report(line, fmt.Sprintf("no file on %s is read by this version, as %s is not, so what they use can't be known",
					s.Name, one), "take it out; it would not be heeded")
			}
		}
	}
	if len(problems) == 0 {
		return nil
	}
	return &UsageError{&convention.Error{Path: c.Path, Source: c.Source, Problems: problems}}
}

// endingOf is the ending that the name of every file has which satisfies an entry; empty where the entry leaves it
// open.
func endingOf(t *convention.Take) string {
	if t.Name == nil {
		return ""
	}
	ending := path.Ext(t.Name.Text)
	if strings.ContainsAny(ending, "*?<>|") {
		return ""
	}
	return ending
}

// readsFor says whether a family reads files of an ending, and says what they declare if that is asked for.
func readsFor(languages lang.Languages, ending string, declares bool) bool {
	family := languages.FamilyOf("x" + ending)
	return family != nil && (!declares || family.Declares)
}

// usesLine is the line in which a shelf says what its files may use; 0 where it does not.
func usesLine(s *convention.Shelf) int {
	switch {
	case s.Uses != nil:
		return s.Uses.Line
	case s.Apart != nil:
		return s.Apart.Line
	case s.Libraries != nil:
		return s.Libraries.Line
	}
	return 0
}

// onlyUnread gives a file on a shelf if there are some and none of them is read; those that hold data alone do not
// count.
func onlyUnread(languages lang.Languages, c *convention.Convention, s *convention.Shelf, tree *project.Project) string {
	unread := ""
	for _, f := range tree.Files {
		if !s.At.Fits(f.Path) || languages.Inert(f.Path) {
			continue
		}
		if languages.FamilyOf(f.Path) != nil || c.Reads(f.Path) != "" {
			return ""
		}
		unread = f.Path
	}
	return unread
}

// findUnseen reports files of kinds that nothing reads, where the convention asks for what they hold: one finding for a
// kind. They are judged by their names and places alone.
func (p *Project) findUnseen(c *Check, placed *placement.Result) {
	type kind struct {
		first string
		files int
		rules []string
	}
	kinds := map[string]*kind{}
	for id, h := range placed.Homes {
		file := p.Tree.Path(project.FileID(id))
		if p.graph.Files[id].Family >= 0 || p.graph.Files[id].Plain || p.Tree.Files[id].Link ||
			p.graph.Languages.Inert(file) ||
			h.Shelf == nil ||
			h.Kind == placement.Left {
			continue
		}
		var rules []string
		for s := h.Shelf; s != nil; s = s.Parent {
			rules = append(rules, judged(s)...)
		}
		if len(rules) == 0 {
			continue
		}
		ending := path.Ext(file)
		k := kinds[ending]
		if k == nil {
			k = &kind{first: file}
			kinds[ending] = k
		}
		k.files++
		for _, rule := range rules {
			if !slices.Contains(k.rules, rule) {
				k.rules = append(k.rules, rule)
			}
		}
	}
	for _, k := range kinds {
		slices.Sort(k.rules)
		others := " is"
		if k.files > 1 {
			others = fmt.Sprintf(" and %d more like it are", k.files-1)
		}
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Unseen, Path: k.first,
			Reason: fmt.Sprintf("%s%s not read: judged by name and place alone, and not by %s", path.Base(k.first), others,
				strings.Join(k.rules, ", "))})
	}
}

// judged are the keys of a shelf by which its files are judged by what they hold, with its name.
func judged(s *convention.Shelf) (out []string) {
	for _, key := range []struct {
		name string
		says bool
	}{
		{"uses", s.Uses != nil}, {"apart", s.Apart != nil}, {"libraries", s.Libraries != nil}, {"door", s.Door != ""},
		{"names.declares", s.Names != nil && s.Names.Declares},
		{"takes", slices.ContainsFunc(s.Takes, convention.Take.Content)},
	} {
		if key.says {
			out = append(out, s.Name+"."+key.name)
		}
	}
	return out
}
