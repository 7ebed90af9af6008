package plan

import (
	"errors"
	"fmt"
	"slices"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/exact"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/show"
	"crookedshelf/internal/source"
)

// Write gives the plan in its stored form. It must have been sealed.
func (p *Plan) Write() ([]byte, error) {
	return exact.Marshal(p, "  ")
}

// Seal writes down the sums of the files that the plan changes, by which it will be known whether it still fits. A plan
// that is not stored needs none.
func (p *Plan) Seal(outcome *Outcome) {
	type sums struct{ before, after string }
	found := make([]sums, len(outcome.Files))
	parallel.Do(len(found), func(i int) {
		if f := outcome.Files[i]; f.From != "" {
			found[i].before = Sum(f.Before)
			if len(f.Edits) > 0 {
				found[i].after = Sum(f.After())
			}
		}
	})
	of := make(map[string]sums, len(found))
	for i, f := range outcome.Files {
		of[f.From] = found[i]
	}
	for _, s := range p.Steps {
		for i := range s.Moves {
			s.Moves[i].SHA256 = of[s.Moves[i].From].before
		}
	}
	for i := range p.Edits {
		e := &p.Edits[i]
		e.SHA256, e.After = of[e.Path].before, of[e.Path].after
	}
	for i := range p.Removes {
		p.Removes[i].SHA256 = of[p.Removes[i].Path].before
	}
}

// Read reads a stored plan. Paths that are no clean paths below the root are refused, whoever wrote them.
func Read(text []byte) (*Plan, error) {
	var p Plan
	if err := exact.Unmarshal(text, &p); err != nil {
		return nil, fmt.Errorf("this is no plan: %w", err)
	}
	if p.Version != Version {
		return nil, fmt.Errorf("the plan is of version %d, and this program reads version %d", p.Version, Version)
	}
	return &p, p.checkPaths()
}

// checkPaths refuses a plan that names what is no clean path below the root, or one place twice.
func (p *Plan) checkPaths() error {
	leaving, coming, edited := map[string]bool{}, map[string]bool{}, map[string]bool{}
	take := func(path string, in map[string]bool) error {
		if !project.CleanPath(path) {
			return fmt.Errorf("the plan names %q, which is no path below the project's root", path)
		}
		if in[path] {
			return fmt.Errorf("the plan names %q twice", path)
		}
		in[path] = true
		return nil
	}
	for _, m := range p.Moves() {
		if err := errors.Join(take(m.From, leaving), take(m.To, coming)); err != nil {
			return err
		}
	}
	for _, e := range p.Edits {
		if err := take(e.Path, edited); err != nil {
			return err
		}
	}
	for _, w := range p.Writes {
		if err := take(w.Path, coming); err != nil {
			return err
		}
	}
	for _, r := range p.Removes {
		if err := take(r.Path, leaving); err != nil {
			return err
		}
	}
	return nil
}

// Beyond says what of a stored plan is not in the plan that the convention gives today, one sentence each. Only what
// it gives is carried out: a stored plan may have been changed, or be another's.
func (p *Plan) Beyond(today *Plan) []string {
	moves, edits, writes, removes := map[string]string{}, map[string]FileEdits{}, map[string]string{}, map[string]bool{}
	for _, m := range today.Moves() {
		moves[m.From] = m.To
	}
	for _, e := range today.Edits {
		edits[e.Path] = e
	}
	for _, w := range today.Writes {
		writes[w.Path] = w.Content
	}
	for _, r := range today.Removes {
		removes[r.Path] = true
	}
	var out []string
	tell := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	for _, m := range p.Moves() {
		if moves[m.From] != m.To {
			tell("it moves %s to %s", show.Name(m.From), show.Name(m.To))
		}
	}
	for _, e := range p.Edits {
		if !slices.Equal(e.SourceEdits(), edits[e.Path].SourceEdits()) {
			tell("it edits %s otherwise", show.Name(e.Path))
		}
	}
	for _, w := range p.Writes {
		if content, written := writes[w.Path]; !written || content != w.Content {
			tell("it writes %s", show.Name(w.Path))
		}
	}
	for _, r := range p.Removes {
		if !removes[r.Path] {
			tell("it removes %s", show.Name(r.Path))
		}
	}
	return out
}

// Outcome is a plan laid over a tree: what applying it needs, file by file.
type Outcome struct {
	Files []OutcomeFile // in the order of the steps, edited files that stay last

	moves map[project.FileID]string
	edits map[project.FileID][]source.Edit
	added map[string][]byte
	gone  map[project.FileID]bool // files that are removed
}

// OutcomeFile is one file that changes.
type OutcomeFile struct {
	From, To string // no From for a new file, no To for one that is removed
	Before   []byte
	Edits    []source.Edit
	New      []byte // the content of a new file
}

// After gives the bytes that the file will have: the same slice as Before where they stay.
func (f *OutcomeFile) After() []byte {
	switch {
	case f.To == "":
		return nil
	case f.From == "":
		return f.New
	case len(f.Edits) == 0:
		return f.Before
	}
	after, err := source.Apply(f.Before, f.Edits)
	if err != nil { // they have been applied before
		panic(err)
	}
	return after
}

// Apply lays a plan over a tree. changed says what is no longer as the plan says, one sentence each; then there is no
// outcome.
func (p *Plan) Apply(tree *project.Project) (out *Outcome, changed []string) {
	out = &Outcome{moves: map[project.FileID]string{}, edits: map[project.FileID][]source.Edit{},
		added: map[string][]byte{}, gone: map[project.FileID]bool{}}
	edits := map[string]FileEdits{}
	for _, e := range p.Edits {
		edits[e.Path] = e
	}
	tell := func(format string, args ...any) { changed = append(changed, fmt.Sprintf(format, args...)) }
	take := func(from, to, sum string) {
		id, ok := tree.Lookup(from)
		if !ok {
			tell("%s is gone", show.Name(from))
			return
		}
		content, err := tree.Content(id)
		if err != nil {
			tell("%s", err)
			return
		}
		if Sum(content) != sum {
			tell("%s has changed", show.Name(from))
			return
		}
		f := OutcomeFile{From: from, To: to, Before: content}
		if e, ok := edits[from]; ok {
			delete(edits, from)
			f.Edits = e.SourceEdits()
			if source.Fit(content, f.Edits) != nil || Sum(f.After()) != e.After {
				tell("the edits of %s do not fit it", show.Name(from))
				return
			}
			out.edits[id] = f.Edits
		}
		if to != from {
			out.moves[id] = to
		}
		out.Files = append(out.Files, f)
	}
	for _, m := range p.Moves() {
		take(m.From, m.To, m.SHA256)
	}
	for _, e := range p.Edits {
		if _, left := edits[e.Path]; left {
			take(e.Path, e.Path, e.SHA256)
		}
	}
	for _, w := range p.Writes {
		if _, there := tree.Lookup(w.Path); there {
			tell("%s is there by now", show.Name(w.Path))
		}
		out.added[w.Path] = []byte(w.Content)
		out.Files = append(out.Files, OutcomeFile{To: w.Path, New: []byte(w.Content)})
	}
	for _, r := range p.Removes {
		id, there := tree.Lookup(r.Path)
		if !there {
			tell("%s is gone", show.Name(r.Path))
			continue
		}
		content, err := tree.Content(id)
		if err != nil || Sum(content) != r.SHA256 {
			tell("%s has changed", show.Name(r.Path))
		}
		out.gone[id] = true
		out.Files = append(out.Files, OutcomeFile{From: r.Path, Before: content})
	}
	if len(changed) > 0 {
		return nil, changed
	}
	return out, nil
}

// Unproved compares the references of the tree that the outcome was made on with those that it gives, and says what
// does not lead where it led. It finds what came into the project after the plan was made.
func (o *Outcome) Unproved(g *graph.Graph) []string {
	var c *convention.Convention
	if g.Declared != nil {
		c = g.Declared.Convention
	}
	return carry.Unproved(g, o.moves, o.edits, o.added, o.gone, doors(c))
}
