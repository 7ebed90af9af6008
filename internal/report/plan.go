package report

import (
	"fmt"
	"io"
	"strings"

	"crookedshelf/internal/plan"
)

// Plan writes the steps, the rewrites and what is blocked.
func Plan(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out)
	look := style.palette()
	warnings(p, made.Warnings, look)
	if !style.Quiet {
		for i, s := range made.Steps {
			p.line("%s  %s", look.head(fmt.Sprintf("step %d", i+1)), s.Title)
			moves(p, s.Moves, look)
		}
		if len(made.Steps) > 0 {
			p.line("")
		}
		rewrites(p, made, look)
		writes(p, made, look)
		removes(p, made, look)
	}
	leftovers(p, made, style)
	blocked(p, made, look)
	if !style.Quiet {
		summary(p, made, look)
	}
	return p.done()
}

func moves(p *printer, all []plan.Move, look palette) {
	paths := make([]string, len(all))
	for i, m := range all {
		paths[i] = Clean(m.From)
	}
	width := widest(paths, columnLimit)
	for i, m := range all {
		p.line("  %s %s %s", pad(paths[i], width), look.faint("->"), look.home(Clean(m.To)))
	}
}

func rewrites(p *printer, made *plan.Plan, look palette) {
	if len(made.Edits) == 0 {
		return
	}
	p.line("%s  %s", look.head("rewrites"), look.faint("line, old text, new text; paths are those before the moves"))
	for _, e := range made.Edits {
		p.line("  %s", Clean(e.Path))
		var olds []string
		for _, c := range e.Changes {
			olds = append(olds, Clean(c.Old))
		}
		width := widest(olds, 40)
		for i, c := range e.Changes {
			p.line("  %5d  %s %s %s", c.Line, pad(olds[i], width), look.faint("->"), look.home(Clean(c.New)))
		}
	}
	p.line("")
	for _, r := range made.Remarks {
		p.line("%s %s:%d: %s", look.faint("note:"), Clean(r.Path), r.Line, Clean(r.Text))
	}
	if len(made.Remarks) > 0 {
		p.line("")
	}
}

// writes lists the files that are not there yet, with what is in them.
func writes(p *printer, made *plan.Plan, look palette) {
	if len(made.Writes) == 0 {
		return
	}
	p.line("%s  %s", look.head("writes"), look.faint("files that are not there yet and must be"))
	const most = 6
	for _, w := range made.Writes {
		p.line("  %s", look.home(Clean(w.Path)))
		lines := strings.Split(strings.TrimSuffix(w.Content, "\n"), "\n")
		for i, l := range lines {
			if i == most {
				p.line("         %s", look.faint(fmt.Sprintf("and %s more", Count(len(lines)-most, "line"))))
				break
			}
			if w.Content != "" {
				p.line("         %s", Clean(l))
			}
		}
	}
	p.line("")
}

// removes lists the files that go.
func removes(p *printer, made *plan.Plan, look palette) {
	if len(made.Removes) == 0 {
		return
	}
	p.line("%s  %s", look.head("removes"), look.faint("empty files that only marked a folder which nothing is left in"))
	for _, r := range made.Removes {
		p.line("  %s", Clean(r.Path))
	}
	p.line("")
}

func blocked(p *printer, made *plan.Plan, look palette) {
	if len(made.Blocked) == 0 {
		return
	}
	p.line("%s  %s", look.bad(fmt.Sprintf("blocked %d", len(made.Blocked))), look.faint("these are not moved"))
	for _, b := range made.Blocked {
		p.line("  %s %s %s", Clean(b.From), look.faint("->"), Clean(b.To))
		p.line("      %s", b.Reason)
	}
	p.line("")
}

// PlanSummary writes one line on what the plan comes to.
func PlanSummary(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out)
	summary(p, made, style.palette())
	return p.done()
}

func summary(p *printer, made *plan.Plan, look palette) {
	if made.Empty() && len(made.Blocked) == 0 {
		p.line("%s", look.good("Nothing to do: every file stands where it belongs."))
		return
	}
	written := ""
	if len(made.Writes) > 0 {
		written = fmt.Sprintf(", %s written", Count(len(made.Writes), "file"))
	}
	p.line("%s in %s, %s in %s%s; %s.", Count(len(made.Moves()), "move"), Count(len(made.Steps), "step"),
		Count(made.Changes(), "rewrite"), Count(len(made.Edits), "file"), written, look.good("proved"))
	if len(made.Blocked) > 0 {
		p.line("%s: the rest can be carried out with --partial.", look.bad(Count(len(made.Blocked), "move")+" blocked"))
	}
}
