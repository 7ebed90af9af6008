package report

import (
	"fmt"
	"io"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/plan"
)

// Leftovers writes the texts that still name what moves when a plan is carried out, grouped by what they name.
func Leftovers(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out, style)
	leftovers(p, made, style)
	return p.done()
}

func leftovers(p *printer, made *plan.Plan, style Style) {
	if len(made.Leftovers) == 0 {
		return
	}
	look := style.palette()
	sure := 0
	for _, l := range made.Leftovers {
		if l.Certain {
			sure++
		}
	}
	p.line("%s  %s", look.head(fmt.Sprintf("left over %d", len(made.Leftovers))),
		look.faint("texts that still name what moves; paths and lines are those after the moves"))
	part := func(title string, all []plan.Leftover) {
		if len(all) == 0 {
			return
		}
		p.line("  %s", title)
		for start := 0; start < len(all); {
			end := start
			for end < len(all) && all[end].Named == all[start].Named && all[end].Now == all[start].Now {
				end++
			}
			p.line("    %s %s %s", Clean(all[start].Named), look.faint("->"), look.home(Clean(all[start].Now)))
			cut := style.cut(end - start)
			for _, l := range all[start : start+cut] {
				reason := ""
				if l.Reason != carry.SamePath && l.Reason != carry.SameEnd {
					reason = "  " + l.Reason
				}
				p.words("      ", Clean(l.Path), fmt.Sprintf(":%d  ", l.Line), Clean(l.Text), look.faint(reason))
			}
			more(p, end-start-cut, style)
			start = end
		}
	}
	part("the path of what moves", made.Leftovers[:sure])
	part("likely", made.Leftovers[sure:])
	if can := rewritable(made.Leftovers); can > 0 {
		p.line("  %s",
			look.faint(fmt.Sprintf("--likely rewrite writes the strings in code and %d of the other texts anew", can)))
	}
	p.line("")
}

func rewritable(all []plan.Leftover) int {
	n := 0
	for _, l := range all {
		if l.New != "" {
			n++
		}
	}
	return n
}
