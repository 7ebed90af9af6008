package report

import (
	"cmp"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/plan"
)

// Plan writes the steps, the rewrites and what is blocked.
func Plan(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	warnings(p, made.Warnings, look)
	if !style.Quiet {
		for i, s := range made.Steps {
			p.line("%s  %s", look.head(fmt.Sprintf("step %d", i+1)), Clean(s.Title))
			moves(p, s.Moves, style)
		}
		if len(made.Steps) > 0 {
			p.line("")
		}
		rewrites(p, made, style)
		notes(p, made, style)
		writes(p, made, look)
		removes(p, made, look)
	}
	leftovers(p, made, style)
	blocked(p, made, style)
	if !style.Quiet {
		summary(p, made, look)
	}
	return p.done()
}

func moves(p *printer, all []plan.Move, style Style) {
	lines := bundles(len(all), func(i int) (from, to, note string) { return all[i].From, all[i].To, "" }, style)
	names := make([]string, len(lines))
	for i := range lines {
		names[i] = lines[i].name()
	}
	width, cut := widest(names, columnLimit), style.cut(len(lines))
	for i := range lines[:cut] {
		p.arrow("  ", names[i], width, lines[i].to, "", style)
	}
	more(p, len(lines)-cut, style)
}

func rewrites(p *printer, made *plan.Plan, style Style) {
	if len(made.Edits) == 0 {
		return
	}
	look := style.palette()
	p.line("%s  %s", look.head("rewrites"), look.faint("line, old text, new text; paths are those before the moves"))
	files := style.cut(len(made.Edits))
	for _, e := range made.Edits[:files] {
		p.line("  %s", Clean(e.Path))
		var olds []string
		var shown []plan.Change
		for _, c := range e.Changes {
			if !c.Indents() {
				olds, shown = append(olds, snippet(c.Old, "(added)")), append(shown, c)
			}
		}
		width, cut := widest(olds, 40), style.cut(len(shown))
		for i, c := range shown[:cut] {
			p.line("  %5d  %s %s %s", c.Line, pad(olds[i], width), look.faint("->"),
				look.home(snippet(c.New, "(taken out)")))
		}
		more(p, len(shown)-cut, style)
		if lines := len(e.Changes) - len(shown); lines > 0 {
			p.line("  %s", look.faint("       "+Count(lines, "line")+" indented anew"))
		}
	}
	if left := len(made.Edits) - files; left > 0 {
		p.line("  %s", look.faint(fmt.Sprintf("and %s; --all shows them", Count(left, "more file"))))
	}
	p.line("")
}

// notes says what a reader should know of single edits, and of what moves without any.
func notes(p *printer, made *plan.Plan, style Style) {
	if len(made.Remarks) == 0 {
		return
	}
	shown := style.cut(len(made.Remarks))
	for _, r := range made.Remarks[:shown] {
		p.line("%s %s:%d: %s", style.palette().faint("note:"), Clean(r.Path), r.Line, Clean(r.Text))
	}
	more(p, len(made.Remarks)-shown, style)
	p.line("")
}

// snippet shows a text in one line: all between its words is one blank.
func snippet(text, none string) string {
	if strings.ContainsAny(text, "\n\t") {
		text = strings.Join(strings.Fields(text), " ")
	}
	if text == "" {
		return none
	}
	return Clean(text)
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
				p.line("         %s", look.faint(fmt.Sprintf("and %s", Count(len(lines)-most, "more line"))))
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
	p.line(
		"%s  %s",
		look.head("removes"),
		look.faint("what the convention discards, and marks of folders that nothing is left in"),
	)
	for _, r := range made.Removes {
		if r.Because == "" {
			p.line("  %s", Clean(r.Path))
		} else {
			p.line("  %s  %s", Clean(r.Path), look.faint(Clean(r.Because)))
		}
	}
	p.line("")
}

// blocked writes what is not moved, by its cause: what was found first comes first, since the rest may be blocked for
// its sake.
func blocked(p *printer, made *plan.Plan, style Style) {
	if len(made.Blocked) == 0 {
		return
	}
	look := style.palette()
	p.line("%s  %s", look.bad(fmt.Sprintf("blocked %d", len(made.Blocked))),
		look.faint("these are not moved, the first cause first"))
	var reasons []string
	by := map[string][]plan.Blocked{}
	for _, b := range made.Blocked {
		if by[b.Reason] == nil {
			reasons = append(reasons, b.Reason)
		}
		by[b.Reason] = append(by[b.Reason], b)
	}
	slices.SortStableFunc(reasons,
		func(x, y string) int { return cmp.Or(by[x][0].Round-by[y][0].Round, len(by[y])-len(by[x])) })
	cut := style.cut(len(reasons))
	for _, reason := range reasons[:cut] {
		group := by[reason]
		p.line("  %s", Clean(reason))
		lines := bundles(len(group), func(i int) (from, to, note string) { return group[i].From, group[i].To, "" },
			style)
		shown := style.cut(len(lines))
		for i := range lines[:shown] {
			p.line("      %s %s %s", lines[i].name(), look.faint("->"), Clean(lines[i].to))
		}
		more(p, len(lines)-shown, style)
		if made.Options.Asked == nil {
			p.line("      %s", look.faint("to go on without: leave: { stay: ["+strings.Join(without(lines), ", ")+"] }"))
		}
	}
	if left := len(reasons) - cut; left > 0 {
		p.line("  %s", look.faint(fmt.Sprintf("and %s; --all shows them", Count(left, "more cause"))))
	}
	p.line("")
}

// without gives the patterns of some moves' files, as the convention would have them stay.
func without(lines []bundle) []string {
	var out []string
	for i := range lines {
		if i == 3 {
			out = append(out, "…")
			break
		}
		pattern := lines[i].from
		if len(lines[i].moves) > 1 {
			pattern += "**"
		}
		if strings.ContainsAny(pattern, "*[]{},:#& '\"") {
			pattern = strconv.Quote(pattern)
		}
		out = append(out, Clean(pattern))
	}
	return out
}

// PlanSummary writes one line on what the plan comes to.
func PlanSummary(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out, style)
	summary(p, made, style.palette())
	return p.done()
}

func summary(p *printer, made *plan.Plan, look palette) {
	if made.Empty() && len(made.Blocked) == 0 && made.Homeless > 0 {
		p.line("No moves; %s: see crooked check.", look.bad(have(made.Homeless)+" no shelf"))
		return
	}
	if made.Empty() && len(made.Blocked) == 0 {
		p.line("%s", look.good("Nothing to do: every file stands where it belongs."))
		return
	}
	if made.Empty() {
		p.line("Nothing moves: %s.", look.bad(Count(len(made.Blocked), "move")+" blocked"))
		return
	}
	written := ""
	if len(made.Writes) > 0 {
		written = fmt.Sprintf(", %s written", Count(len(made.Writes), "file"))
	}
	if len(made.Removes) > 0 {
		written += fmt.Sprintf(", %s removed", Count(len(made.Removes), "file"))
	}
	moved := fmt.Sprintf("%s in %s, ", Count(len(made.Moves()), "move"), Count(len(made.Steps), "step"))
	if len(made.Steps) == 0 && len(made.Edits) > 0 {
		moved = ""
	}
	p.line("%s%s in %s%s; %s.", moved, Count(made.Changes(), "rewrite"), Count(len(made.Edits), "file"), written,
		look.good("proved"))
	if len(made.Blocked) > 0 {
		p.line("%s: the rest can be carried out with --partial.", look.bad(Count(len(made.Blocked), "move")+" blocked"))
	}
}

// have says how many files have something.
func have(n int) string {
	if n == 1 {
		return "1 file has"
	}
	return Count(n, "file") + " have"
}
