package report

import (
	"io"
	"strings"

	"crookedshelf/internal/finding"
)

// Rules writes what rules mean: a line each, or all of it.
func Rules(out io.Writer, rules []finding.Rule, whole bool, style Style) error {
	p := newPrinter(out, style)
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
	return p.done()
}

func indented(text string) string {
	return "  " + strings.ReplaceAll(strings.TrimSpace(text), "\n", "\n  ")
}

// RulesPage writes the rules as the page docs/rules.md.
func RulesPage(out io.Writer, rules []finding.Rule) error {
	p := newPrinter(out, Style{})
	p.line("# The rules of `crooked check`")
	p.line("")
	p.line("Made from the program's own data: `crooked explain --format markdown`. `levels:` in a convention sets how " +
		"grave a rule is:")
	p.line("`error` fails a check, `warn` is reported, `off` is not.")
	for _, r := range rules {
		p.line("")
		p.line("## %s", r.ID)
		p.line("")
		p.line("_%s_; usually %s.", r.Title, finding.Usual(r.ID))
		p.line("")
		p.line("%s", r.Why)
		p.line("")
		p.line("Before:")
		p.line("")
		p.line("    %s", strings.ReplaceAll(r.Before, "\n", "\n    "))
		p.line("")
		p.line("After:")
		p.line("")
		p.line("    %s", strings.ReplaceAll(r.After, "\n", "\n    "))
		p.line("")
		p.line("%s", r.Fix)
	}
	return p.done()
}
