package report

import (
	"crypto/sha256"
	"fmt"
	"io"
	"strings"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
)

// qualityIssue is a finding as merge requests read it from a report on the quality of code.
type qualityIssue struct {
	Description string          `json:"description"`
	Rule        string          `json:"check_name"`
	Fingerprint string          `json:"fingerprint"`
	Severity    string          `json:"severity"`
	Location    qualityLocation `json:"location"`
}

type qualityLocation struct {
	Path  string       `json:"path"`
	Lines qualityLines `json:"lines"`
}

type qualityLines struct {
	Begin int `json:"begin"`
}

// Quality writes findings as a report on the quality of code, as merge requests show it beside the lines. A finding
// keeps its fingerprint when lines above it come and go.
func Quality(out io.Writer, c *engine.Check) error {
	issues := []qualityIssue{}
	seen := map[string]int{} // a file may have several of the same words
	for _, f := range c.Findings {
		words := strings.Join([]string{f.Rule, f.Path, sentence(&f)}, "\x00")
		seen[words]++
		issue := qualityIssue{Description: sentence(&f), Rule: f.Rule, Severity: "major",
			Fingerprint: fmt.Sprintf("%x", sha256.Sum256(fmt.Appendf(nil, "%s\x00%d", words, seen[words]))),
			Location:    qualityLocation{Path: f.Path, Lines: qualityLines{Begin: 1}}}
		if f.Level == finding.Warn {
			issue.Severity = "minor"
		}
		if f.At != "" {
			if _, err := fmt.Sscanf(f.At, "%d:", &issue.Location.Lines.Begin); err != nil {
				return err
			}
		}
		issues = append(issues, issue)
	}
	return JSON(out, issues)
}
