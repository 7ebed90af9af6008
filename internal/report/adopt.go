package report

import (
	"fmt"
	"io"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/engine"
)

// Starters lists the starters.
func Starters(out io.Writer, starters []convention.Starter, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	names := make([]string, len(starters))
	for i, s := range starters {
		names[i] = s.Name
	}
	width := widest(names, columnLimit)
	for i, s := range starters {
		for k, line := range wrap(s.For, 90) {
			if k == 0 {
				p.line("%s  %s", look.head(pad(names[i], width)), line)
			} else {
				p.line("%s  %s", pad("", width), line)
			}
		}
	}
	p.line("")
	p.line("crooked adopt NAME writes one, fitted to the project.")
	return p.done()
}

// Adoption says what was chosen and why.
func Adoption(out io.Writer, a *engine.Adoption, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	p.line("%s  %s", look.head(Clean(a.Path)), "the starter "+a.Starter+", fitted to this project")
	whats := make([]string, len(a.Choices))
	for i, c := range a.Choices {
		whats[i] = c.What
	}
	width := widest(whats, columnLimit)
	for i, c := range a.Choices {
		for k, line := range wrap(Clean(c.Chosen), 80) {
			if k == 0 {
				p.line("  %s  %s", pad(whats[i], width), look.home(line))
			} else {
				p.line("  %s  %s", pad("", width), look.home(line))
			}
		}
		p.line("  %s  %s", pad("", width), look.faint(Clean(c.Why)))
	}
	p.line("")
	next := "check"
	if a.Path != convention.FileName {
		next = "check --convention " + Clean(a.Path)
	}
	judged := fmt.Sprintf("It speaks of %d of %s", a.Judged, Count(a.Sources, "source file"))
	if a.Misplaced+a.Homeless == 0 {
		p.line("%s", judged+", and "+look.good("each of them stands where it wants it."))
	} else {
		homeless := ""
		if a.Homeless > 0 {
			homeless = ", and no shelf of it takes " + Count(a.Homeless, "file")
		}
		p.line("%s. It would move %s%s. Edit it as you like, then: crooked %s", judged, Count(a.Misplaced, "file"), homeless,
			next)
	}
	return p.done()
}
