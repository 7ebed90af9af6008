package plan

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
	"crookedshelf/internal/split"
	"crookedshelf/internal/template"
)

// Input is what a plan is made from: all of one tree.
type Input struct {
	Convention *convention.Convention
	Graph      *graph.Graph
	Placement  *placement.Result
	// Only are the files that may move, with their companions and owners and what moves at once with them; nil for all.
	Only map[project.FileID]bool
	// Rename: names that are not as their shelf wants them are set right.
	Rename bool
	// RewriteLikely: strings in code that only look like references are rewritten too.
	RewriteLikely bool
	// AllowAddresses: moves may change the addresses of public files.
	AllowAddresses bool
	// AllowStored: moves may change names that a database or a queue remembers.
	AllowStored bool
	// Removal is what becomes of the files that the convention discards; nil for none.
	Removal *carry.Removal
	// Brief: what is left over is not wanted, beyond what blocks a move.
	Brief bool
	// Asked are the moves that somebody asks for, wherever the convention wants the files: it then says how files may be
	// treated, and nothing else of it is set right. Nil for the moves of the convention.
	Asked map[project.FileID]string
	// With are the files of Asked that go with another, which belongs to them by its name.
	With map[project.FileID]project.FileID
	// Finishes: they were made by hand, and the tree is laid out as it was before.
	Finishes bool
}

// builder is a plan in the making. Moves that turn out to be at fault are taken out, and the rest is worked out anew.
type builder struct {
	Input
	tree    *project.Project
	moves   map[project.FileID]string
	blocked map[project.FileID]string // why a move is not made
	rounds  map[project.FileID]int    // and in which attempt that showed
	round   int
	// the files that move, in the order of their paths; nil where that has to be found out
	order  []project.FileID
	wanted map[project.FileID]string // all moves that were asked for
	// unwritten are the files that are not written.
	unwritten map[string]bool
	// leads are the files that follow others, each with one of those.
	leads map[project.FileID]project.FileID
	// missing are the required files that are written, by their paths.
	missing map[string]placement.MissingFile

	keepTexts bool // texts that only look like names of what moves can't be rewritten: a reference would break
	warnings  []string
}

// Build makes the plan and proves it. What can't be proved is blocked. The outcome is what the plan gives on the tree.
//
// The error is an *AliasError: the convention leaves open what aliases shall stand for.
func Build(in Input) (*Plan, *Outcome, error) {
	b := &builder{
		Input: in, tree: in.Graph.Tree, moves: Moves(in.Placement), blocked: map[project.FileID]string{},
		rounds: map[project.FileID]int{}, round: 1,
		unwritten: map[string]bool{},
	}
	if b.Asked != nil {
		b.moves = maps.Clone(in.Asked)
	} else {
		for id, to := range in.Placement.Spelled {
			if in.Rename {
				b.moves[id] = to
			}
		}
		b.stayDiscarded()
		b.restrict()
	}
	b.wanted = maps.Clone(b.moves) // what is blocked is reported with where it would have gone
	if err := b.outlived(); err != nil && b.Only == nil && b.Asked == nil {
		return nil, nil, err
	}
	b.refused(carry.Impossible(b.Graph, b.moves))
	b.blockNames()
	edits := b.require()
	b.missDefinitions()
	for {
		b.round++
		for before := -1; len(b.blocked) > before; { // what follows a file that is blocked stays with it
			before = len(b.blocked)
			b.follow()
			b.refused(carry.Places(b.Graph, b.moves))
			b.blockTogether()
		}
		if len(b.moves) == 0 && !b.asksForEdits() {
			return b.plan(&carry.Draft{}), &Outcome{}, nil
		}
		parts := b.parts()
		if b.refused(parts.Refused) {
			continue
		}
		d, refused := carry.Work(b.request(edits, parts))
		b.keepTexts = b.keepTexts || d.KeepTexts
		if len(d.Open) > 0 {
			return nil, nil, &AliasError{d.Open}
		}
		if b.refused(refused) { // without these moves the others may mean something else, so all is worked out anew
			continue
		}
		if b.Asked == nil {
			b.warnMade()
			b.discard(d)
			b.lists(d)
			b.strike(d)
		}
		d.Remarks = append(d.Remarks, parts.Remarks...)
		for _, text := range parts.Warnings {
			b.warn("%s", text)
		}
		p := b.plan(d)
		if d.Past > 0 {
			p.Warnings = append(p.Warnings,
				fmt.Sprintf("%s in change logs and in what programs write %s what moves, and %s not listed",
					texts(d.Past), verb(d.Past, "names", "name"), verb(d.Past, "is", "are")))
		}
		for _, file := range d.Unsearched {
			p.Warnings = append(p.Warnings,
				fmt.Sprintf("%s was not searched for the names of what moves: it can't be read, or is larger than %d MB",
					file, leftover.Most>>20))
		}
		return p, b.outcome(p, d), nil
	}
}

// Moves are the moves that take every misplaced file to its home.
func Moves(placed *placement.Result) map[project.FileID]string {
	out := map[project.FileID]string{}
	for id, h := range placed.Homes {
		if h.Kind == placement.Misplaced {
			out[project.FileID(id)] = h.Path
		}
	}
	return out
}

// refused takes out what is refused. It reports whether there is anything.
func (b *builder) refused(refusals []carry.Refusal) bool {
	for _, r := range refusals {
		if r.File != project.None {
			b.block(r.File, r.Reason)
			continue
		}
		b.leaveUnwritten(r.Written, r.Reason)
	}
	return len(refusals) > 0
}

// parts are the packages into which the moves part the project.
func (b *builder) parts() *split.Result {
	if b.Asked != nil {
		return &split.Result{}
	}
	return split.Work(split.Input{Convention: b.Convention, Graph: b.Graph, Moves: b.moves, Filled: Filled})
}

// request asks for the moves that are left.
func (b *builder) request(edits map[project.FileID][]carry.Change, parts *split.Result) carry.Request {
	writes := b.write()
	for p, content := range parts.Writes {
		writes[p] = carry.Written{Content: content}
	}
	if len(parts.Edits) > 0 {
		edits = maps.Clone(edits)
		for id, all := range parts.Edits {
			for _, e := range all {
				edits[id] = append(slices.Clip(edits[id]), said(e, "packages"))
			}
		}
	}
	return carry.Request{
		Graph: b.Graph, Moves: b.moves, Edits: edits, Writes: writes, Unwritten: b.unwritten,
		Hold: b.hold, Door: doors(b.Convention), IsData: b.isData, Addressed: b.addressed, Remembered: b.remembered,
		Widens: b.widens, Packaged: parts.Packaged,
		Judge:  b.judge,
		Skips:  func(p string) bool { return path.Base(p) == convention.FileName || p == b.Convention.InTree },
		Likely: b.RewriteLikely, Addresses: b.AllowAddresses, Stored: b.AllowStored, Brief: b.Brief,
		KeepTexts: b.keepTexts, Finishes: b.Finishes,
	}
}

// hold says how the convention lets a file be treated.
func (b *builder) hold(id project.FileID) carry.Hold {
	switch b.Placement.Homes[id].Leave {
	case placement.Fixed:
		return carry.Free
	case placement.Untouched:
		return carry.Untouched
	case placement.Generated:
		return carry.Generated
	}
	h := &b.Placement.Homes[id]
	if slices.ContainsFunc(b.Convention.Leave.AsIs, template.Fits(b.tree.Path(id))) ||
		slices.ContainsFunc(b.Convention.Leave.AsIs, template.Fits(h.Path)) {
		return carry.Untouched
	}
	return carry.Kept
}

// doors gives the files through which the instances of shelves are entered; nil where no shelf has one.
func doors(c *convention.Convention) func(from, to string) (string, bool) {
	if c == nil || !c.HasDoors() {
		return nil
	}
	return func(from, to string) (string, bool) { return placement.Door(c, from, to) }
}

// isData says whether the convention states what a file is, so that it may move unread.
func (b *builder) isData(from string) bool {
	return slices.ContainsFunc(b.Convention.Data, func(t *template.Template) bool {
		_, is := t.Match(path.Base(from))
		return is
	})
}

// widens says whether the shelf of a file, or one that it is inside of, lets declarations be seen further.
func (b *builder) widens(id project.FileID) bool {
	for s := b.Placement.Homes[id].Shelf; s != nil; s = s.Parent {
		if s.Widen {
			return true
		}
	}
	return false
}

// addressed says whether the convention says which addresses the files of a folder have.
func (b *builder) addressed(p string) bool {
	_, has := address(b.Convention.Public, p, false)
	return has
}

// remembered says whether the convention speaks of a file as stored, and judges it by that.
func (b *builder) remembered(from, to string) bool {
	return slices.ContainsFunc(b.Convention.Stored, func(t *template.Template) bool {
		_, then := t.Match(to)
		_, now := t.Match(from)
		return then || now
	})
}

// judge makes sure that every file that moves is at home in the new tree. Whoever asks for a move may want it
// elsewhere: that is said, and nothing is refused.
func (b *builder) judge(d *carry.Draft) (out []carry.Refusal) {
	placed, err := placement.Place(b.Convention, d.After.Tree, d.After)
	if b.Asked != nil {
		if err == nil {
			b.warnStrayed(d, placed)
		}
		return nil
	}
	for _, id := range b.moving() {
		if err != nil {
			out = append(out, carry.Refusal{File: id, Reason: err.Error()})
		} else if h := placed.Homes[d.NewID[id]]; h.Kind != placement.AtHome && h.Kind != placement.Left {
			out = append(out, carry.Refusal{File: id, Reason: fmt.Sprintf("at %s it would not be at home",
				d.After.Tree.Path(d.NewID[id]))})
		}
	}
	return out
}

// warnStrayed says which files that somebody asks to move would not be at home where they come to, and which tests
// would not be known as such.
func (b *builder) warnStrayed(d *carry.Draft, placed *placement.Result) {
	languages := b.Graph.Languages
	var tests, strayed, homeless []project.FileID
	for _, id := range b.moving() {
		if languages.IsTest(b.tree.Path(id)) && !languages.IsTest(b.moves[id]) {
			tests = append(tests, id)
		}
		switch placed.Homes[d.NewID[id]].Kind {
		case placement.Misplaced:
			strayed = append(strayed, id)
		case placement.Homeless:
			homeless = append(homeless, id)
		}
	}
	if len(tests) > 0 {
		b.warn("%s is a test by its name, and %s is none: what runs the tests may not find it%s", b.tree.Path(tests[0]),
			b.moves[tests[0]], others(tests))
	}
	if len(strayed) > 0 {
		h := placed.Homes[d.NewID[strayed[0]]]
		b.warn("%s is no home of it: the convention wants it at %s (%s:%d)%s", b.moves[strayed[0]], h.Path,
			b.Convention.For(h.Path).Path, h.Line, others(strayed))
	}
	if len(homeless) > 0 {
		b.warn("%s is no home of it: no shelf takes it there%s", b.moves[homeless[0]], others(homeless))
	}
}

// others says of how many more files than the first the same holds.
func others(files []project.FileID) string {
	if n := len(files) - 1; n > 0 {
		return fmt.Sprintf("; so it is with %d more", n)
	}
	return ""
}

// missDefinitions reports aliases to which the convention gives a new meaning and that no settings define, as far as
// they are read.
func (b *builder) missDefinitions() {
	for _, a := range b.Convention.Aliases {
		if !a.HasThen || a.HasNow && a.Now == a.Then {
			continue
		}
		defined := false
		for i := range b.Graph.Files {
			defined = defined || slices.ContainsFunc(b.Graph.Files[i].Mentions, func(m lang.Mention) bool {
				return m.Alias() != "" && strings.TrimSuffix(m.Alias(), "/*") == strings.TrimSuffix(a.Pattern, "/*")
			})
		}
		if !defined && len(b.Convention.Settings) == 0 {
			b.warn("no settings that are read define the alias %s: what it stands for then, %s, must be written where "+
				"it is defined", a.Pattern, a.Then)
		}
	}
}

// restrict leaves the moves that are asked for, with what moves together with them.
func (b *builder) restrict() {
	if b.Only == nil {
		return
	}
	only := maps.Clone(b.Only)
	groups := b.groups()
	for again := true; again; {
		again = false
		owners, moving := map[project.FileID]bool{}, map[int]bool{}
		for id := range only {
			if _, moves := b.moves[id]; moves {
				owners[b.Placement.Homes[id].Owner] = true
				for _, group := range groups.of(b.Placement.Homes[id].Shelf) {
					moving[group] = true
				}
			}
		}
		for id := range b.moves {
			h := b.Placement.Homes[id]
			together := h.Owner != project.None && only[h.Owner] || owners[id] ||
				slices.ContainsFunc(groups.of(h.Shelf), func(group int) bool { return moving[group] })
			if together && !only[id] {
				only[id], again = true, true
			}
		}
	}
	maps.DeleteFunc(b.moves, func(id project.FileID, _ string) bool { return !only[id] })
}

// atOnce are the groups of shelves that move at once, by their numbers in the convention.
type atOnce map[string][]int

func (b *builder) groups() atOnce {
	out := atOnce{}
	for i, group := range b.Convention.AtOnce {
		for _, name := range group {
			out[name] = append(out[name], i)
		}
	}
	return out
}

// of gives the groups of a shelf, which may be nil.
func (a atOnce) of(s *convention.Shelf) []int {
	if s == nil {
		return nil
	}
	return a[s.Name]
}

// AliasError reports aliases whose folders are torn apart, so that the convention must say what they shall stand for.
type AliasError struct{ Problems []string }

func (e *AliasError) Error() string { return strings.Join(slices.Compact(e.Problems), "\n") }

// block takes a move out. The first reason stands.
func (b *builder) block(id project.FileID, reason string) {
	if _, moving := b.moves[id]; !moving {
		return
	}
	delete(b.moves, id)
	b.order = nil
	b.blocked[id], b.rounds[id] = reason, b.round
}

// moving lists the files that move, in the order of their paths.
func (b *builder) moving() []project.FileID {
	if b.order == nil {
		b.order = slices.Sorted(maps.Keys(b.moves))
	}
	return b.order
}

// plan writes the outcome down.
func (b *builder) plan(d *carry.Draft) *Plan {
	p := &Plan{
		Version:    Version,
		Convention: Fingerprint{Path: b.Convention.Path, SHA256: Sum(b.Convention.Texts())},
		Steps:      b.steps(),
		Writes:     b.writes(d),
		Removes:    []Removed{},
		Blocked:    []Blocked{}, Remarks: append([]Remark{}, d.Remarks...),
		Leftovers: append([]Leftover{}, d.Leftovers...),
		Warnings:  append([]string{}, slices.Concat(b.tree.Warnings, b.Graph.Warnings, b.warnings)...),
	}
	for i := range b.Placement.Homes {
		if b.Placement.Homes[i].Kind == placement.Homeless {
			p.Homeless++
		}
	}
	for _, id := range d.Removes {
		removed := Removed{Fingerprint: Fingerprint{Path: b.tree.Path(id)}}
		if d := b.Convention.For(removed.Path).Unwanted(removed.Path); d != nil {
			removed.Because = d.Because
		}
		p.Removes = append(p.Removes, removed)
	}
	edited := slices.Sorted(maps.Keys(d.Edits))
	p.Edits = make([]FileEdits, len(edited))
	parallel.Do(len(edited), func(i int) { p.Edits[i] = b.fileEdits(edited[i], d) })
	for id, reason := range b.blocked {
		h := b.home(id)
		if h.Shelf == nil {
			continue // it follows files that are reported
		}
		p.Blocked = append(p.Blocked, Blocked{From: b.tree.Path(id), To: b.wanted[id], Shelf: h.Shelf.Name,
			Line: h.Line, Reason: reason, Round: b.rounds[id]})
	}
	slices.SortFunc(p.Blocked, func(x, y Blocked) int { return cmp.Compare(x.From, y.From) })
	return p
}

func (b *builder) fileEdits(id project.FileID, d *carry.Draft) FileEdits {
	content, _ := b.tree.Content(id)
	out := FileEdits{Path: b.tree.Path(id)}
	starts := make([]int, len(d.Edits[id]))
	for i, c := range d.Edits[id] {
		starts[i] = c.Edit.Span.Start
	}
	at := source.PositionsAt(content, starts)
	for i, c := range d.Edits[id] {
		kind := c.Kind
		if c.Mention >= 0 {
			kind = b.Graph.Files[id].Mentions[c.Mention].Kind.String()
		}
		old := string(content[c.Edit.Span.Start:c.Edit.Span.End])
		if old == c.Edit.New {
			continue // it stands there for what shall stay as it is
		}
		out.Changes = append(out.Changes, Change{Span: c.Edit.Span, Line: at[i].Line, Kind: kind, Old: old, New: c.Edit.New, Target: c.To})
	}
	return out
}

// outcome gives the plan's files with their bytes before and after.
func (b *builder) outcome(p *Plan, d *carry.Draft) *Outcome {
	moves := p.Moves()
	out := &Outcome{Files: make([]OutcomeFile, 0, len(moves)+len(p.Edits))}
	add := func(id project.FileID, to string) {
		before, _ := b.tree.Content(id)
		out.Files = append(out.Files, OutcomeFile{From: b.tree.Path(id), To: to, Before: before,
			Edits: carry.SourceEdits(d.Edits[id])})
	}
	for _, m := range moves {
		id, _ := b.tree.Lookup(m.From)
		add(id, m.To)
	}
	for _, id := range slices.Sorted(maps.Keys(d.Edits)) {
		if _, moves := b.moves[id]; !moves {
			add(id, b.tree.Path(id))
		}
	}
	for _, w := range p.Writes {
		out.Files = append(out.Files, OutcomeFile{To: w.Path, New: []byte(w.Content)})
	}
	for _, r := range p.Removes {
		id, _ := b.tree.Lookup(r.Path)
		before, _ := b.tree.Content(id)
		out.Files = append(out.Files, OutcomeFile{From: r.Path, Before: before})
	}
	return out
}

func texts(n int) string { return fmt.Sprintf("%d %s", n, verb(n, "text", "texts")) }

// verb is a word for one or for several.
func verb(n int, one, several string) string {
	if n == 1 {
		return one
	}
	return several
}
