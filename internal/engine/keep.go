package engine

import (
	"bytes"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/placement"
)

// findOutdated adds the exceptions that are over, and those that excuse nothing.
func (p *Project) findOutdated(c *Check, placed *placement.Result, opts CheckOptions) {
	used := map[*convention.Exception]bool{}
	for _, h := range placed.Homes {
		if h.Exception != nil {
			used[h.Exception] = true
		}
	}
	for _, one := range p.Convention.All() {
		c.findOutdatedOf(one, used, opts)
	}
}

func (c *Check) findOutdatedOf(one *convention.Convention, used map[*convention.Exception]bool, opts CheckOptions) {
	for _, e := range one.Exceptions {
		found := finding.Finding{Rule: finding.Outdated, Path: one.Path, Line: e.Line}
		switch {
		case e.Expired(opts.Today):
			found.Reason = fmt.Sprintf("the exception for %s ended on %s", e.File.Text, e.Until.Format(time.DateOnly))
		case !used[e] && (e.Rule == finding.Misplaced || e.Rule == finding.Homeless || e.Rule == ""):
			found.Reason = fmt.Sprintf("the exception for %s excuses nothing", e.File.Text)
		default:
			continue
		}
		c.Findings = append(c.Findings, found)
	}
}

// level gives every finding its level, and drops those that are switched off.
func (c *Check) level(root *convention.Convention) {
	c.Findings = slices.DeleteFunc(c.Findings,
		func(f finding.Finding) bool { return root.For(f.Path).Levels[f.Rule] == finding.Off })
	for i := range c.Findings {
		f := &c.Findings[i]
		if f.Level = root.For(f.Path).Levels[f.Rule]; f.Level == "" {
			f.Level = finding.Usual(f.Rule)
		}
	}
}

// Failed says whether a finding is an error.
func (c *Check) Failed() bool {
	return slices.ContainsFunc(c.Findings, func(f finding.Finding) bool { return f.Level == finding.Error })
}

// Baseline is findings that are accepted: one a line, by rule and path and what of it, so that edits elsewhere in a
// file change nothing. A line that stands twice accepts two.
type Baseline struct{ lines map[string]int }

const baselineHead = "# findings that crooked check --baseline accepts: rule, file, what"

// ReadBaseline reads the text that WriteBaseline gives.
func ReadBaseline(text []byte) (*Baseline, error) {
	b := &Baseline{lines: map[string]int{}}
	for i, line := range strings.Split(string(bytes.ReplaceAll(text, []byte("\r\n"), []byte("\n"))), "\n") {
		if line == "" || line[0] == '#' {
			continue
		}
		if strings.Count(line, "\t") < 1 {
			return nil, usage("line %d of the baseline is no finding: %q; crooked check --write-baseline writes one",
				i+1, line)
		}
		b.lines[line]++
	}
	return b, nil
}

// WriteBaseline gives the text of a baseline that accepts findings.
func WriteBaseline(findings []finding.Finding) []byte {
	var out strings.Builder
	out.WriteString(baselineHead + "\n")
	lines := make([]string, len(findings))
	for i, f := range findings {
		lines[i] = baselineLine(f)
	}
	slices.Sort(lines)
	for _, l := range lines {
		out.WriteString(l + "\n")
	}
	return []byte(out.String())
}

// positions are places in files, which edits elsewhere in them change.
var positions = regexp.MustCompile(`:\d+:\d+\b`)

func baselineLine(f finding.Finding) string {
	what := f.Home
	if what == "" {
		what = f.Reason
	}
	what = positions.ReplaceAllString(what, "")
	clean := strings.NewReplacer("\t", " ", "\n", " ", "\r", " ")
	return f.Rule + "\t" + clean.Replace(f.Path) + "\t" + clean.Replace(what)
}

// accept parts findings into those that are new, and counts the others.
func (b *Baseline) accept(findings []finding.Finding) (fresh []finding.Finding, accepted int) {
	left := map[string]int{}
	for line, n := range b.lines {
		left[line] = n
	}
	fresh = []finding.Finding{}
	for _, f := range findings {
		if line := baselineLine(f); left[line] > 0 {
			left[line]--
			accepted++
			continue
		}
		fresh = append(fresh, f)
	}
	return fresh, accepted
}
