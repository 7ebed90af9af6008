package report

import (
	"cmp"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/plan"
)

// columnLimit is the width up to which paths are put in columns; longer ones run over.
const columnLimit = 56

// Check writes findings grouped by rule and shelf.
func Check(out io.Writer, c *engine.Check, convention string, style Style) error {
	p := newPrinter(out, style)
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
			cut := style.cut(len(found))
			width := pathWidth(found[:cut])
			for _, f := range found[:cut] {
				p.words("  ", pad(place(f), width), "  ", look.faint(sentence(f)))
			}
			more(p, len(found)-cut, style)
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
	movedByHand(p, c, style)
	shelves(p, c, look)
	idle(p, c, look)
	for _, k := range c.Kept {
		p.line("%s", look.faint(fmt.Sprintf("note: leave (line %d) keeps %s that %s (line %d) would take, such as %s",
			k.Line, Count(k.Files, "file"), Clean(k.Shelf), k.ShelfLine, Clean(k.First))))
	}
	if c.Accepted > 0 {
		p.line("%s", look.faint(fmt.Sprintf("note: the baseline accepts %s", Count(c.Accepted, "finding"))))
	}
	unspoken(p, c, look)
	verdict(p, c, look)
	if c.Moves() {
		p.line("%s", look.faint("crooked plan shows the moves and every rewrite that they cause."))
	}
	return p.done()
}

// Verdict writes in one line how a project stands to its convention.
func Verdict(out io.Writer, c *engine.Check, style Style) error {
	p := newPrinter(out, style)
	verdict(p, c, style.palette())
	return p.done()
}

func verdict(p *printer, c *engine.Check, look palette) {
	title := c.Title
	if title == "" {
		title = "The project"
	}
	switch {
	case c.Files == 0:
		p.line("%s: the convention matches nothing here; no file was judged", title)
	case len(c.Findings) == 0:
		p.line("%s %s: %s.", look.good("All straight."), title, judged(c))
	default:
		p.line("%s: %s, %s.", title, judged(c), look.bad(Count(len(c.Findings), "finding")))
	}
}

// movedByHand names the command that finishes what was moved by hand.
func movedByHand(p *printer, c *engine.Check, style Style) {
	if len(c.Moved) == 0 {
		return
	}
	look, cut := style.palette(), style.cut(len(c.Moved))
	p.line("%s  %s", look.head(fmt.Sprintf("moved by hand %d", len(c.Moved))),
		look.faint("these commands mend what still names the old place"))
	for _, m := range c.Moved[:cut] {
		p.line("  crooked move --already %s %s", word(m.From), word(m.To))
	}
	more(p, len(c.Moved)-cut, style)
	p.line("")
}

// word writes a path as a word of a shell's command.
func word(p string) string {
	if strings.ContainsAny(p, " \t'\"\\$`&|;<>()*?[]#~!{}") {
		return "'" + strings.ReplaceAll(Clean(p), "'", `'\''`) + "'"
	}
	return Clean(p)
}

// judged says how many files were judged.
func judged(c *engine.Check) string {
	if c.Files == c.All {
		return Count(c.Files, "file") + " judged"
	}
	return fmt.Sprintf("%d of %s judged", c.Files, Count(c.All, "file"))
}

// idle says in one line what nothing fits that the convention says.
func idle(p *printer, c *engine.Check, look palette) {
	var all []string
	for _, one := range c.Idle {
		text := "the " + one.What
		if one.Name != "" {
			text += " " + Clean(one.Name)
		}
		all = append(all, fmt.Sprintf("%s (line %d)", text, one.Line))
	}
	if len(all) > mostIdle {
		all = append(all[:mostIdle], fmt.Sprintf("%d more", len(all)-mostIdle))
	}
	if len(all) > 0 {
		p.line("%s", look.faint("note: nothing here fits "+strings.Join(all, ", ")))
	}
}

// mostIdle and mostUnspoken are how many are named in a line.
const mostIdle, mostUnspoken = 8, 3

// unspoken says of how many files no rule speaks, and names programs among them.
func unspoken(p *printer, c *engine.Check, look palette) {
	sources := c.UnspokenSources
	if len(sources) == 0 || c.Files == 0 {
		return
	}
	names := make([]string, min(mostUnspoken, len(sources)))
	for i := range names {
		names[i] = Clean(sources[i])
	}
	if more := len(sources) - len(names); more > 0 {
		names = append(names, fmt.Sprintf("%d more", more))
	}
	text := fmt.Sprintf("note: no rule speaks of %s", Count(c.Unspoken, "file"))
	if c.Unspoken != len(sources) {
		text += fmt.Sprintf(", of them %s", Count(len(sources), "source file"))
	}
	p.line("%s", look.faint(text+": "+strings.Join(names, ", ")))
}

func misplaced(p *printer, found []*finding.Finding, convention string, style Style) {
	look := style.palette()
	groups := byShelf(found)
	all := make([][]bundle, len(groups))
	var names []string
	for g, group := range groups {
		all[g] = bundles(len(group), func(i int) (from, to, note string) {
			_, because, _ := strings.Cut(group[i].Reason, ": ")
			return group[i].Path, group[i].Home, because
		}, style)
		for i := range all[g][:style.cut(len(all[g]))] {
			names = append(names, all[g][i].name())
		}
	}
	width := widest(names, columnLimit)
	for g, group := range groups {
		if !style.Quiet {
			p.line("  %s", look.head(group[0].Shelf))
		}
		lines, cut := all[g], style.cut(len(all[g]))
		for i := range lines[:cut] {
			f := group[lines[i].moves[0]]
			says := convention
			if f.Convention != "" {
				says = f.Convention
			}
			_, because, _ := strings.Cut(f.Reason, ": ")
			if because != "" {
				because = "  " + because
			}
			p.arrow("    ", lines[i].name(), width, lines[i].to, Clean(says)+":"+strconv.Itoa(f.Line)+because, style)
		}
		more(p, len(lines)-cut, style)
	}
}

// byShelf parts findings by their shelves, in the order of the first of each.
func byShelf(found []*finding.Finding) [][]*finding.Finding {
	var out [][]*finding.Finding
	at := map[string]int{}
	for _, f := range found {
		i, known := at[f.Shelf]
		if !known {
			i = len(out)
			at[f.Shelf] = i
			out = append(out, nil)
		}
		out[i] = append(out[i], f)
	}
	return out
}

// shelves sums the findings up by shelf, where there are several.
func shelves(p *printer, c *engine.Check, look palette) {
	type sum struct{ moves, rest int }
	var names []string
	by := map[string]*sum{}
	for i := range c.Findings {
		f := &c.Findings[i]
		name := f.Shelf
		if name == "" {
			name = "no shelf"
		}
		if by[name] == nil {
			by[name] = &sum{}
			names = append(names, name)
		}
		if f.Rule == finding.Misplaced {
			by[name].moves++
		} else {
			by[name].rest++
		}
	}
	if len(names) < 2 || len(c.Findings) < leastSummed {
		return
	}
	slices.SortFunc(names, func(a, b string) int {
		return cmp.Or(by[b].moves-by[a].moves, by[b].rest-by[a].rest, cmp.Compare(a, b))
	})
	p.line("%s", look.head("by shelf"))
	width := widest(names, columnLimit)
	for _, name := range names {
		var parts []string
		if n := by[name].moves; n > 0 {
			parts = append(parts, fmt.Sprintf("%d misplaced", n))
		}
		if n := by[name].rest; n > 0 {
			parts = append(parts, Count(n, "other finding"))
		}
		p.line("  %s  %s", pad(name, width), strings.Join(parts, ", "))
	}
	p.line("")
}

// leastSummed is how many findings are summed up by shelf.
const leastSummed = 20

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

// Warnings writes what a plan warns of.
func Warnings(out io.Writer, made *plan.Plan, style Style) error {
	p := newPrinter(out, style)
	warnings(p, made.Warnings, style.palette())
	return p.done()
}

func warnings(p *printer, all []string, look palette) {
	for _, w := range all {
		p.line("%s %s", look.bad("warning:"), Clean(w))
	}
	if len(all) > 0 {
		p.line("")
	}
}
