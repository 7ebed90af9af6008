package plan

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
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
	// Brief: what is left over is not wanted, beyond what blocks a move.
	Brief bool
}

// builder is a plan in the making. Moves that turn out to be at fault are taken out, and the rest is worked out anew.
type builder struct {
	Input
	tree    *project.Project
	moves   map[project.FileID]string
	blocked map[project.FileID]string // why a move is not made
	rounds  map[project.FileID]int    // and in which attempt that showed
	round   int
	order   []project.FileID          // the files that move, in the order of their paths; nil where that has to be found out
	come    arrivals                  // the same by where they lead
	wanted  map[project.FileID]string // all moves that were asked for
	// unwritten are required files that are not written, with the reasons.
	unwritten map[string]string
	// fresh are the moves that this attempt has taken out: what else is at fault for their sake shows in the next.
	fresh map[project.FileID]bool
	// leads are the files that follow others, each with one of those.
	leads map[project.FileID]project.FileID

	textsFail bool // texts that only look like names of what moves can't be rewritten: a reference would break

	doors   bool        // a shelf has a door
	endings func() bool // whether the project writes the endings of scripts that it imports

	warnings []string
	wrong    []string // what the convention must say and does not
}

// draft is one attempt: moves, edits and the trees that they give.
type draft struct {
	edits   map[project.FileID][]change
	remarks []Remark
	stayed  []stayed
	newID   []project.FileID
	oldID   []project.FileID // of each file of the new tree; project.None for one that is written
	moved   *relocation
	moves   func() []lang.Moved
	laid    laid
	after   *graph.Graph
	written map[string]written // by path
}

// laid says what the overlay holds beside edits: moves but for those that were blocked, and how many written files.
type laid struct{ blocked, written int }

// change is an edit of a mention.
type change struct {
	edit    source.Edit
	mention int         // -1 where the edit is not that of one mention's text
	kind    string      // of such an edit
	target  lang.Target // in the old tree
	to      string      // the path that it leads to in the new tree
}

// Build makes the plan and proves it. What can't be proved is blocked. The outcome is what the plan gives on the tree.
//
// The error is an *AliasError: the convention leaves open what aliases shall stand for.
func Build(in Input) (*Plan, *Outcome, error) {
	b := &builder{Input: in, tree: in.Graph.Tree, moves: map[project.FileID]string{}, blocked: map[project.FileID]string{}, rounds: map[project.FileID]int{}, round: 1, unwritten: map[string]string{}, fresh: map[project.FileID]bool{}}
	for id, h := range in.Placement.Homes {
		if h.Kind == placement.Misplaced {
			b.moves[project.FileID(id)] = h.Path
		}
		if to, misspelled := in.Placement.Spelled[project.FileID(id)]; misspelled && in.Rename {
			b.moves[project.FileID(id)] = to
		}
	}
	b.doors, b.endings = in.Convention.HasDoors(), sync.OnceValue(b.writesEndings)
	b.restrict()
	b.wanted = maps.Clone(b.moves)
	b.blockUnreadable()
	b.blockUnexplained()
	b.blockNames()
	for {
		b.fresh = map[project.FileID]bool{}
		b.round++
		for before := -1; len(b.blocked) > before; { // what follows a file that is blocked stays with it
			before = len(b.blocked)
			b.follow()
			b.blockPlaces()
			b.blockTogether()
		}
		if len(b.moves) == 0 && !b.asksForEdits() {
			return b.plan(&draft{}), &Outcome{}, nil
		}
		before := len(b.blocked) + len(b.unwritten)
		d := b.respell()
		if len(b.wrong) > 0 {
			return nil, nil, &AliasError{b.wrong}
		}
		if len(b.blocked)+len(b.unwritten) == before {
			b.prove(d)
		}
		if len(b.blocked)+len(b.unwritten) > before {
			continue
		}
		found := b.leftovers(d)
		if b.builds(d, found) {
			continue
		}
		if !b.textsFail && b.rewriteLeftovers(d, found) {
			if b.overlay(d, true); !b.provesStill(d) {
				b.textsFail = true // what is blocked for the sake of such a text need not be
				continue
			}
			found = b.leftovers(d)
		}
		p := b.plan(d)
		p.Leftovers = b.listLeftovers(d, found)
		if found.Past > 0 {
			p.Warnings = append(p.Warnings, fmt.Sprintf("%s in change logs and in what programs write %s what moves, and %s not listed", texts(found.Past), verb(found.Past, "names", "name"), verb(found.Past, "is", "are")))
		}
		for _, file := range found.Unsearched {
			p.Warnings = append(p.Warnings, fmt.Sprintf("%s was not searched for the names of what moves: it can't be read, or is larger than %d MB", file, leftover.Most>>20))
		}
		return p, b.outcome(p, d), nil
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
			together := h.Owner != project.None && only[h.Owner] || owners[id] || slices.ContainsFunc(groups.of(h.Shelf), func(group int) bool { return moving[group] })
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

// AliasError tells of aliases whose folders are torn apart, so that the convention must say what they shall stand for.
type AliasError struct{ Problems []string }

func (e *AliasError) Error() string { return strings.Join(slices.Compact(e.Problems), "\n") }

// block takes a move out. The first reason stands.
func (b *builder) block(id project.FileID, reason string) {
	if _, moving := b.moves[id]; !moving {
		return
	}
	delete(b.moves, id)
	b.order, b.come = nil, nil
	b.blocked[id], b.rounds[id], b.fresh[id] = reason, b.round, true
}

// moving lists the files that move, in the order of their paths.
func (b *builder) moving() []project.FileID {
	if b.order == nil {
		b.order = slices.Sorted(maps.Keys(b.moves))
	}
	return b.order
}

// plan writes the outcome down.
func (b *builder) plan(d *draft) *Plan {
	p := &Plan{
		Version:    Version,
		Convention: Fingerprint{Path: b.Convention.Path, SHA256: Sum(b.Convention.Texts())},
		Steps:      b.steps(),
		Writes:     d.writes(),
		Removes:    b.removed(d),
		Blocked:    []Blocked{}, Remarks: []Remark{}, Leftovers: []Leftover{},
		Warnings: append([]string{}, slices.Concat(b.tree.Warnings, b.Graph.Warnings, b.warnings)...),
	}
	edited := slices.Sorted(maps.Keys(d.edits))
	p.Edits = make([]FileEdits, len(edited))
	parallel.Do(len(edited), func(i int) { p.Edits[i] = b.fileEdits(edited[i], d) })
	for id, reason := range b.blocked {
		h := b.home(id)
		if h.Shelf == nil {
			continue // it follows files that are told of
		}
		p.Blocked = append(p.Blocked, Blocked{From: b.tree.Path(id), To: b.wanted[id], Shelf: h.Shelf.Name, Line: h.Line, Reason: reason, Round: b.rounds[id]})
	}
	slices.SortFunc(p.Blocked, func(x, y Blocked) int { return cmp.Compare(x.From, y.From) })
	p.Remarks = append(append(p.Remarks, d.remarks...), b.circles(d)...)
	return p
}

func (b *builder) fileEdits(id project.FileID, d *draft) FileEdits {
	content, _ := b.tree.Content(id)
	out := FileEdits{Path: b.tree.Path(id)}
	starts := make([]int, len(d.edits[id]))
	for i, c := range d.edits[id] {
		starts[i] = c.edit.Span.Start
	}
	at := source.PositionsAt(content, starts)
	for i, c := range d.edits[id] {
		kind := c.kind
		if c.mention >= 0 {
			kind = b.Graph.Files[id].Mentions[c.mention].Kind.String()
		}
		out.Changes = append(out.Changes, Change{
			Span: c.edit.Span, Line: at[i].Line, Kind: kind,
			Old: string(content[c.edit.Span.Start:c.edit.Span.End]), New: c.edit.New, Target: c.to,
		})
	}
	return out
}

// outcome gives the plan's files with their bytes before and after.
func (b *builder) outcome(p *Plan, d *draft) *Outcome {
	moves := p.Moves()
	out := &Outcome{Files: make([]OutcomeFile, 0, len(moves)+len(p.Edits))}
	add := func(id project.FileID, to string) {
		before, _ := b.tree.Content(id)
		out.Files = append(out.Files, OutcomeFile{From: b.tree.Path(id), To: to, Before: before, Edits: sourceEdits(d.edits[id])})
	}
	for _, m := range moves {
		id, _ := b.tree.Lookup(m.From)
		add(id, m.To)
	}
	for _, id := range slices.Sorted(maps.Keys(d.edits)) {
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
