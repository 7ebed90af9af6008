package report

import (
	"io"
	"strings"

	"crookedshelf/internal/finding"
)

// Rules writes what rules mean: a line each, or all of it.
func Rules(out io.Writer, rules []finding.Rule, whole bool, style Style) error {
	p := &printer{out: out}
	look := style.palette()
	for _, r := range rules {
		if !whole {
			p.line("%s  %s", look.head(pad(r.ID, 12)), r.Title)
			continue
		}
		p.line("%s  %s", look.head(r.ID), r.Title)
		p.line("")
		p.line("%s", r.Why)
		p.line("")
		p.line("%s", look.bad("before"))
		p.line("%s", indented(r.Before))
		p.line("%s", look.good("after"))
		p.line("%s", indented(r.After))
		p.line("")
		p.line("%s", r.Fix)
	}
	return p.err
}

func indented(text string) string {
	return "  " + strings.ReplaceAll(strings.TrimSpace(text), "\n", "\n  ")
}
