package engine

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Check is what check found.
type Check struct {
	Title string `json:"title"`
	All   int    `json:"all"`   // files of the project
	Files int    `json:"files"` // that were judged: neither left alone nor outside
	// Unspoken are the files of which no rule speaks, and UnspokenSources those of them that are programs.
	Unspoken        int               `json:"unspoken"`
	UnspokenSources []string          `json:"unspokenSources"`
	Findings        []finding.Finding `json:"findings"`
	Warnings        []string          `json:"warnings"`
	Idle            []Idle            `json:"idle"`     // what the convention says and nothing fits
	Kept            []Kept            `json:"kept"`     // entries of leave that win over an entry of from
	Accepted        int               `json:"accepted"` // findings that the baseline accepts
	// Moved are files and folders that were moved by hand while something still names their old places, as far as git
	// knows them.
	Moved []plan.Asked `json:"movedByHand"`
}

// Moves says whether a file is misplaced.
func (c *Check) Moves() bool {
	return slices.ContainsFunc(c.Findings, func(f finding.Finding) bool { return f.Rule == finding.Misplaced })
}

// CheckOptions are what a user may ask of a check.
type CheckOptions struct {
	Today    time.Time       // the day on which exceptions are judged
	Baseline *Baseline       // findings that are accepted; may be nil
	Only     map[string]bool // the files that are judged; nil for all
}

// Check judges where every file stands.
func (p *Project) Check(opts CheckOptions) (*Check, error) {
	var placed *placement.Result
	var err error
	if opts.Only != nil && !p.Convention.NeedsGraph() {
		placed, err = p.placePart(opts.Only)
	} else {
		placed, err = p.placeFor(certain)
	}
	if err != nil {
		return nil, err
	}
	c := &Check{
		Title: p.Convention.Title, Findings: append([]finding.Finding{}, placed.Findings...),
		Warnings: append([]string{}, p.Tree.Warnings...),
		Idle:     []Idle{}, Kept: []Kept{}, Moved: []plan.Asked{}, All: len(p.Tree.Files), UnspokenSources: []string{},
	}
	for id, h := range placed.Homes {
		switch file := p.Tree.Path(project.FileID(id)); {
		case h.Kind == placement.Left:
		case h.Kind != placement.Unspoken:
			c.Files++
		default:
			c.Unspoken++
			if p.graph.Languages.IsProgram(file) {
				c.UnspokenSources = append(c.UnspokenSources, file)
			}
		}
	}
	c.Warnings = append(c.Warnings, p.graph.Warnings...)
	c.Findings = append(c.Findings, placed.FindUses(p.Convention, p.graph)...)
	p.findLost(c, placed)
	if c.Moves() {
		c.Warnings = append(c.Warnings, carry.TornAliases(p.graph, plan.Moves(placed))...)
	}
	p.findLeft(c, placed)
	p.findUnseen(c, placed)
	p.findDependencies(c, placed)
	p.findDiscarded(c)
	c.dropDiscarded()
	p.findOutdated(c, placed, opts)
	finding.Sort(c.Findings)
	if opts.Only != nil {
		c.Findings = slices.DeleteFunc(c.Findings, func(f finding.Finding) bool { return !opts.Only[f.Path] })
	}
	c.level(p.Convention)
	if opts.Baseline != nil {
		c.Findings, c.Accepted = opts.Baseline.accept(c.Findings)
	}
	if opts.Only == nil {
		c.Idle, c.Kept = p.findIdle(placed), p.findKept(placed)
	}
	return c, nil
}

// findLost adds the references that lead nowhere, and the names that files give themselves and that do not fit. What
// git ignores is there as far as anybody can tell.
func (p *Project) findLost(c *Check, placed *placement.Result) {
	ignored := p.Tree.Ignoring()
	for id := range p.graph.Files {
		file, h := p.Tree.Path(project.FileID(id)), placed.Homes[id]
		if h.Leave.Silent() {
			continue
		}
		for i, t := range p.graph.Files[id].Targets {
			m := &p.graph.Files[id].Mentions[i]
			lost := t.Kind == lang.ToNothing && !m.Likely || t.Kind == lang.ToOutside && p.broken(project.FileID(id), m, ignored)
			if !lost || m.Kind.Is(lang.Part) { // its statement is reported
				continue
			}
			found := finding.Finding{Rule: finding.Dangling, Path: file, Reason: fmt.Sprintf("%s %q leads nowhere",
				m.Kind, m.Text)}
			if m.Kind.Is(lang.OwnName) {
				found.Rule, found.Reason = finding.Mislabelled, fmt.Sprintf("it calls itself %s", m.Text)
			} else if p.ignored(project.FileID(id), m.Text) {
				continue
			}
			if rules := p.graph.RulesFor(m); rules.Tried != nil {
				tried := rules.Tried(project.FileID(id), m)
				if slices.ContainsFunc(tried, p.exists) {
					continue
				}
				found.Reason += fmt.Sprintf("; looked for %s", strings.Join(tried[:min(4, len(tried))], ", "))
			}
			if p.Convention.For(file).Excuse(found.Rule, file, h.Shelf) != nil {
				continue
			}
			found.At = p.graph.Position(graph.Reference{From: project.FileID(id), Mention: i}).String()
			c.Findings = append(c.Findings, found)
		}
	}
}

// findLeft adds the texts that straightens left, which still named what they moved, and that are still there.
func (p *Project) findLeft(c *Check, placed *placement.Result) {
	type leftAt struct {
		finding.Finding
		at source.Position
	}
	var left []leftAt
	seen := map[finding.Finding]bool{}
	for file, texts := range p.leftIn(placed) {
		id, _ := p.Tree.Lookup(file)
		p.Tree.Peek(id, func(content []byte, err error) {
			if err != nil {
				return
			}
			sought := make([]leftover.Left, len(texts))
			for i, l := range texts {
				sought[i] = leftover.Left{Around: l.Line, Text: l.Text}
			}
			for i, places := range leftover.StillThere(content, sought) {
				for _, at := range places {
					l := texts[i]
					found := finding.Finding{Rule: finding.Leftover, Path: file, At: at.String(),
						Reason: fmt.Sprintf("%q names %s, which is now %s", l.Text, l.Named, l.Now)}
					if !seen[found] {
						seen[found] = true
						left = append(left, leftAt{found, at})
					}
				}
			}
		})
	}
	slices.SortStableFunc(left, func(a, b leftAt) int {
		return cmp.Or(a.at.Line-b.at.Line, a.at.Column-b.at.Column, strings.Compare(a.Path, b.Path))
	})
	for _, l := range left {
		c.Findings = append(c.Findings, l.Finding)
	}
}

// leftIn gives what straightens left, by the files that it stands in today.
func (p *Project) leftIn(placed *placement.Result) map[string][]journal.Left {
	out := map[string][]journal.Left{}
	now := map[string]string{} // where files are that a later straighten moved
	for _, r := range slices.Backward(p.journal) {
		var here []string // where each of what it left is
		for _, l := range r.Left {
			here = append(here, cmp.Or(now[l.Path], l.Path))
		}
		moved := map[string]string{}
		for _, e := range r.Files {
			if e.From != "" && e.To != "" {
				moved[e.From] = cmp.Or(now[e.To], e.To)
			}
		}
		maps.Copy(now, moved)
		for i, l := range r.Left {
			id, there := p.Tree.Lookup(here[i])
			if _, back := p.Tree.Lookup(l.Named); !there || back || p.Tree.IsDir(l.Named) {
				continue
			}
			if p.Convention.For(here[i]).Excuse(finding.Leftover, here[i], placed.Homes[id].Shelf) == nil {
				out[here[i]] = append(out[here[i]], l)
			}
		}
	}
	return out
}

// exists says whether something is on the disk at a path, whether the tree lists it or not.
func (p *Project) exists(place string) bool {
	if !project.CleanPath(place) {
		return false
	}
	_, err := p.disk.Look(place)
	return err == nil
}

// broken says whether a mention that may lead out of the project leads nowhere: its format says where something must
// be, and nothing is. What git ignores may be written by a build.
func (p *Project) broken(from project.FileID, m *lang.Mention, ignored func(string) (string, bool)) bool {
	rules := p.graph.RulesFor(m)
	if rules.Expects == nil {
		return false
	}
	places := rules.Expects(from, m)
	return len(places) > 0 && !slices.ContainsFunc(places, func(place string) bool {
		_, left := ignored(place + "/any")
		return left || p.exists(place)
	})
}

// ignored says whether a reference leads to something on the disk that the tree does not list.
func (p *Project) ignored(from project.FileID, text string) bool {
	place := path.Join(path.Dir(p.Tree.Path(from)), text)
	return slices.ContainsFunc(append(p.graph.Languages.Unwritten(), ""),
		func(ending string) bool { return p.exists(place + ending) })
}
