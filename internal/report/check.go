package report

import (
	"fmt"
	"io"
	"strconv"
	"strings"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
)

// columnLimit is the width up to which paths are put in columns; longer ones run over.
const columnLimit = 56

// Check writes findings grouped by rule and shelf.
func Check(out io.Writer, c *engine.Check, convention string, style Style) error {
	p := newPrinter(out)
	look := style.palette()
	warnings(p, c.Warnings, look)
	byRule := map[string][]*finding.Finding{}
	for i := range c.Findings {
		f := &c.Findings[i]
		byRule[f.Rule] = append(byRule[f.Rule], f)
	}
	for _, rule := range finding.Rules() {
		found := byRule[rule.ID]
		if len(found) == 0 {
			continue
		}
		if !style.Quiet {
			level := ""
			if found[0].Level == finding.Warn {
				level = "warning: "
			}
			p.line("%s  %s", look.head(fmt.Sprintf("%s %d", rule.ID, len(found))), look.faint(level+rule.Title))
		}
		if rule.ID == finding.Misplaced {
			misplaced(p, found, convention, style)
		} else {
			width := pathWidth(found)
			for _, f := range found {
				p.words("  ", pad(place(f), width), "  ", look.faint(sentence(f)))
			}
			if !style.Quiet {
				for _, line := range wrap(rule.Fix, 110) {
					p.line("    %s", look.faint(line))
				}
			}
		}
		if !style.Quiet {
			p.line("")
		}
	}
	if style.Quiet {
		return p.done()
	}
	for _, name := range c.Unused {
		p.line("%s", look.faint(fmt.Sprintf("note: no file belongs on the shelf %s", name)))
	}
	if c.Accepted > 0 {
		p.line("%s", look.faint(fmt.Sprintf("note: the baseline accepts %s", Count(c.Accepted, "finding"))))
	}
	title := c.Title
	if title == "" {
		title = "The project"
	}
	switch {
	case c.Files == 0:
		p.line("%s: the convention matches nothing here; no file was judged", title)
	case len(c.Findings) == 0:
		p.line("%s %s", look.good("All straight."), fmt.Sprintf("%s: %s judged.", title, Count(c.Files, "file")))
	default:
		p.line("%s: %s judged, %s.", title, Count(c.Files, "file"), look.bad(Count(len(c.Findings), "finding")))
		if c.Moves() {
			p.line("%s", look.faint("crooked plan shows the moves and every rewrite that they cause."))
		}
	}
	return p.done()
}

func misplaced(p *printer, found []*finding.Finding, convention string, style Style) {
	look := style.palette()
	arrow, width := look.faint("->"), pathWidth(found)
	var shelves []string
	by := map[string][]*finding.Finding{}
	for _, f := range found {
		if by[f.Shelf] == nil {
			shelves = append(shelves, f.Shelf)
		}
		by[f.Shelf] = append(by[f.Shelf], f)
	}
	for _, shelf := range shelves {
		if !style.Quiet {
			p.line("  %s", look.head(shelf))
		}
		for _, f := range by[shelf] {
			says := convention
			if f.Convention != "" {
				says = f.Convention
			}
			_, because, _ := strings.Cut(f.Reason, ": ")
			if because != "" {
				because = "  " + because
			}
			p.words("    ", pad(Clean(f.Path), width), " ", arrow, " ", look.home(Clean(f.Home)), "  ", look.faint(Clean(says)+":"+strconv.Itoa(f.Line)+because))
		}
	}
}

// place is a finding's file, with line and column where the finding has them.
func place(f *finding.Finding) string {
	if f.Rule == finding.Outdated {
		return fmt.Sprintf("%s:%d", Clean(f.Path), f.Line)
	}
	if f.At == "" {
		return Clean(f.Path)
	}
	return Clean(f.Path) + ":" + f.At
}

func pathWidth(found []*finding.Finding) int {
	paths := make([]string, len(found))
	for i, f := range found {
		paths[i] = place(f)
	}
	return widest(paths, columnLimit)
}

func warnings(p *printer, all []string, look palette) {
	for _, w := range all {
		p.line("%s %s", look.bad("warning:"), Clean(w))
	}
	if len(all) > 0 {
		p.line("")
	}
}
