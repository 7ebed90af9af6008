package report

import (
	"fmt"
	"io"
	"net/url"
	"strings"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
)

// The parts of SARIF 2.1.0 (OASIS, sections named behind each) that a check needs.
type (
	sarifLog struct { // 3.13
		Schema  string     `json:"$schema"`
		Version string     `json:"version"`
		Runs    []sarifRun `json:"runs"`
	}
	sarifRun struct { // 3.14
		Tool       sarifTool                `json:"tool"`
		ColumnKind string                   `json:"columnKind"`
		Bases      map[string]sarifArtifact `json:"originalUriBaseIds"`
		Results    []sarifResult            `json:"results"`
	}
	sarifTool struct { // 3.18
		Driver sarifDriver `json:"driver"`
	}
	sarifDriver struct { // 3.19
		Name    string      `json:"name"`
		Version string      `json:"version"`
		Rules   []sarifRule `json:"rules"`
	}
	sarifRule struct { // 3.49
		ID    string    `json:"id"`
		Short sarifText `json:"shortDescription"`
		Full  sarifText `json:"fullDescription"`
		Help  sarifText `json:"help"`
	}
	sarifText struct { // 3.11
		Text string `json:"text"`
	}
	sarifResult struct { // 3.27
		RuleID    string          `json:"ruleId"`
		RuleIndex int             `json:"ruleIndex"`
		Level     string          `json:"level"`
		Message   sarifText       `json:"message"`
		Locations []sarifLocation `json:"locations"`
		Related   []sarifLocation `json:"relatedLocations,omitempty"`
	}
	sarifLocation struct { // 3.28
		ID       int           `json:"id,omitempty"`
		Physical sarifPhysical `json:"physicalLocation"`
		Message  *sarifText    `json:"message,omitempty"`
	}
	sarifPhysical struct { // 3.29
		Artifact sarifArtifact `json:"artifactLocation"`
		Region   *sarifRegion  `json:"region,omitempty"`
	}
	sarifArtifact struct { // 3.4
		URI  string     `json:"uri,omitempty"`
		Base string     `json:"uriBaseId,omitempty"`
		Text *sarifText `json:"description,omitempty"`
	}
	sarifRegion struct { // 3.30
		Line   int `json:"startLine"`
		Column int `json:"startColumn,omitempty"`
	}
)

// SARIF writes findings for programs that read SARIF. Columns count code points, as everywhere in this program.
func SARIF(out io.Writer, c *engine.Check, convention, version string) error {
	const base = "PROJECTROOT"
	run := sarifRun{
		Tool: sarifTool{sarifDriver{Name: "crooked", Version: version}}, ColumnKind: "unicodeCodePoints",
		Bases: map[string]sarifArtifact{base: {Text: &sarifText{"the project's root"}}}, Results: []sarifResult{},
	}
	index := map[string]int{}
	for i, r := range finding.Rules() {
		index[r.ID] = i
		run.Tool.Driver.Rules = append(run.Tool.Driver.Rules, sarifRule{r.ID, sarifText{r.Title}, sarifText{r.Why},
			sarifText{r.Fix}})
	}
	at := func(path string, region *sarifRegion) sarifPhysical {
		return sarifPhysical{sarifArtifact{URI: (&url.URL{Path: path}).EscapedPath(), Base: base}, region}
	}
	for _, f := range c.Findings {
		r := sarifResult{RuleID: f.Rule, RuleIndex: index[f.Rule], Level: string(f.Level),
			Message: sarifText{sentence(&f)}}
		if f.Level == finding.Warn {
			r.Level = "warning"
		}
		var region *sarifRegion
		if f.At != "" {
			region = &sarifRegion{}
			if _, err := fmt.Sscanf(f.At, "%d:%d", &region.Line, &region.Column); err != nil {
				return err
			}
		}
		r.Locations = []sarifLocation{{Physical: at(f.Path, region)}}
		if f.Line > 0 && f.Rule != finding.Outdated {
			says := convention
			if f.Convention != "" {
				says = f.Convention
			}
			r.Related = []sarifLocation{{ID: 1, Physical: at(says, &sarifRegion{Line: f.Line}),
				Message: &sarifText{"the convention says so here"}}}
		}
		run.Results = append(run.Results, r)
	}
	return JSON(out, sarifLog{"https://json.schemastore.org/sarif-2.1.0.json", "2.1.0", []sarifRun{run}})
}

// sentence is a finding in one sentence.
func sentence(f *finding.Finding) string {
	if f.Home != "" {
		return fmt.Sprintf("%s, as %s", f.Reason, f.Home)
	}
	return f.Reason
}

// Lines writes one finding a line: the place, the rule, and a sentence.
func Lines(out io.Writer, c *engine.Check) error {
	p := newPrinter(out, Style{})
	for _, f := range c.Findings {
		at := f.At
		if at == "" {
			at = "1:1"
		}
		p.line("%s:%s: %s: %s", Clean(f.Path), at, f.Rule, strings.ReplaceAll(Clean(sentence(&f)), "\n", " "))
	}
	return p.done()
}
