package carry

import (
	"fmt"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// settle makes the edits of files whose languages write whole statements anew.
func (w *worker) settle(d *Draft) {
	for _, part := range parallel.Parts(len(w.Graph.Files), func(from, to int) (out []settlement) {
		for id := project.FileID(from); id < project.FileID(to); id++ {
			for _, rules := range w.settling(d, id) {
				if s, any := w.settleFile(d, id, rules); any {
					out = append(out, s)
				}
			}
		}
		return out
	}) {
		for i := range part {
			w.carrySettlement(d, &part[i])
		}
	}
}

// settlement is what is to be done about the statements of one file.
type settlement struct {
	id     project.FileID
	torn   *fate // of the folder that a mention names; then nothing else is said
	at     int   // that mention
	want   []lang.Target
	edits  []lang.Settled
	failed []lang.Failed
}

// settling gives the rules that settle something in a file, in the order of the file.
func (w *worker) settling(d *Draft, id project.FileID) (out []*lang.Rules) {
	n := &w.Graph.Files[id]
	for i := range n.Mentions {
		if rules := d.After.RulesFor(&n.Mentions[i]); rules.Settles != nil && !slices.Contains(out, rules) &&
			rules.Settles(&n.Mentions[i]) {
			out = append(out, rules)
		}
	}
	return out
}

// settleFile says what is to be done about the statements of a file by some rules, and does nothing itself; false where
// nothing is.
func (w *worker) settleFile(d *Draft, id project.FileID, rules *lang.Rules) (settlement, bool) {
	n := &w.Graph.Files[id]
	request := lang.Settling{
		OldFrom: id, From: d.NewID[id], Mentions: n.Mentions, Before: n.Targets,
		Want: make([]lang.Target, len(n.Mentions)), Moves: d.moves,
		Folder: func(dir string) (string, bool) { f := d.moved.folder(dir); return f.to, !f.torn },
	}
	needed := false
	for i := range n.Mentions {
		m, ref := &n.Mentions[i], graph.Reference{From: id, Mention: i}
		request.Want[i] = lang.No(n.Targets[i].Kind)
		if !rules.Settles(m) {
			continue
		}
		request.Old = w.Graph.Resolver(m)
		if !n.Targets[i].Kind.Inside() {
			// a name of a library must not come to mean something of the project
			needed = needed || m.Kind.Is(lang.Loads) && rules.Resolver.Resolve(request.From, m).Kind.Inside()
			continue
		}
		want, torn := d.moved.want(n.Targets[i])
		if torn != nil && !partial(m) {
			return settlement{id: id, torn: torn, at: i}, true
		}
		if torn != nil {
			want = lang.No(lang.ToNothing)
		}
		// an import that should go through a door is written so, even where it would still lead to the file itself
		if n.Targets[i].Kind == lang.ToFile {
			if door, through := w.door(d, ref, n.Targets[i].File); through {
				want = lang.File(door)
			}
		}
		request.Want[i] = want
		needed = needed || !want.Equal(rules.Resolver.Resolve(request.From, m))
	}
	if !needed { // most files: their text is not even read
		return settlement{}, false
	}
	request.Content, _ = w.tree.Content(id)
	edits, failed := rules.Settle(request)
	return settlement{id: id, want: request.Want, edits: edits, failed: failed}, true
}

// carrySettlement carries out what is to be done. Moves that are blocked change what is at fault for those to come, so
// this goes in the order of the files.
func (w *worker) carrySettlement(d *Draft, s *settlement) {
	id, n := s.id, &w.Graph.Files[s.id]
	if s.torn != nil {
		w.tornApart(d, graph.Reference{From: id, Mention: s.at}, s.torn)
		return
	}
	for _, f := range s.failed {
		ref := graph.Reference{From: id, Mention: f.Mention}
		why := f.Why
		if why != "" {
			why = fmt.Sprintf("%s:%s: %s", w.tree.Path(id), w.Graph.Position(ref), why)
		}
		if len(f.Lost) > 0 {
			for _, lost := range f.Lost {
				if file, ok := w.tree.Lookup(lost); ok {
					w.refuse(file, why)
				}
			}
			continue
		}
		w.refuseReference(ref, w.now(d, ref), d, why)
	}
	if len(s.edits) > 0 && !w.Hold(id).edited() {
		ref := graph.Reference{From: id, Mention: w.atFault(n, s.edits)}
		w.refuseReference(ref, w.now(d, ref), d, fmt.Sprintf("%s would have to be edited at line %d and is left alone",
			w.tree.Path(id), w.Graph.Position(ref).Line))
		return
	}
	for _, e := range s.edits {
		c := Change{Edit: e.Edit, Mention: -1, Kind: "statement", Target: lang.No(lang.ToNothing)}
		if len(e.Mentions) > 0 {
			first := e.Mentions[0]
			c.Target, c.To, c.Kind = n.Targets[first], d.name(s.want[first]), n.Mentions[first].Kind.String()
			if n.Mentions[first].Span == e.Edit.Span {
				c.Mention = first
			}
			if e.Remark != "" {
				d.Remarks = append(d.Remarks, Remark{
					Path: w.tree.Path(id), Line: w.Graph.Position(graph.Reference{From: id, Mention: first}).Line,
					Text: fmt.Sprintf("%s became %s: %s", n.Mentions[first].Text, e.Edit.New, e.Remark),
				})
			}
		}
		d.Edits[id] = append(d.Edits[id], c)
	}
}

// atFault gives a mention, of those that edits are for, whose target moves; the first of all if none does.
func (w *worker) atFault(n *graph.FileNode, edits []lang.Settled) int {
	first := -1
	for _, e := range edits {
		for _, i := range e.Mentions {
			if first < 0 {
				first = i
			}
			if t := n.Targets[i]; t.Kind == lang.ToFile {
				if _, moves := w.moves[t.File]; moves {
					return i
				}
			}
		}
	}
	return max(0, first)
}

// partial says whether a mention of a folder may stand though the folder is torn apart: the names that are imported
// from it say where they are, and a folder of the code's own says nothing before a path follows.
func partial(m *lang.Mention) bool { return m.Kind.Is(lang.Whole) }
