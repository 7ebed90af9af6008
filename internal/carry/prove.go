package carry

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// prove checks the draft on its overlay, whose files were scanned and resolved afresh. What fails is refused:
//
//  1. no two files claim one path: blockPlaces and the overlay itself see to that;
//  2. every reference that led to a file, a folder or a set of files leads to the same;
//  3. no reference dangles that did not before;
//  4. every link between files leads where it led, or a reference does;
//  5. outside the edited spans every byte is what it was;
//  6. git sees every moved file: no ignore file leaves it out.
//
// What is only likely a reference is proved if it was rewritten, and shown if not.
func (w *worker) prove(d *Draft) {
	if d.After == nil {
		return
	}
	w.refuseUnseen(d)
	check := proof{relocation: d.moved, after: d.After, door: w.Door, finishes: w.Finishes}
	for _, part := range parallel.Parts(len(w.Graph.Files), func(from, to int) (out []fault) {
		for id := project.FileID(from); id < project.FileID(to); id++ {
			out = append(out, check.file(id, SourceEdits(d.Edits[id]))...)
		}
		return out
	}) {
		for _, fault := range part {
			if fault.lost {
				w.fault(d, fault.file, "its references could not be found again after the edits")
			} else {
				w.refuseReference(graph.Reference{From: fault.file, Mention: fault.mention}, fault.now, d, "")
			}
		}
	}
	edited := slices.Sorted(maps.Keys(d.Edits))
	same := make([]bool, len(edited))
	parallel.Do(len(edited), func(i int) { same[i] = w.proveBytes(d, edited[i]) })
	for i, id := range edited {
		if !same[i] {
			w.fault(d, id, "an edit would change more than it should")
		}
	}
	w.proveLinks(d)
	w.proveSubpaths(d)
	w.proveWritten(d)
	if w.Judge != nil {
		for _, r := range w.Judge(d) {
			w.refuse(r.File, r.Reason)
		}
	}
}

// proveLinks takes out files that part from those to which they belong though no text says so.
func (w *worker) proveLinks(d *Draft) {
	for id := range w.Graph.Files {
		id := project.FileID(id)
		links := w.Graph.Links(id)
		if len(links) == 0 {
			continue
		}
		now := d.After.Links(d.NewID[id])
		for _, link := range links {
			to := d.NewID[link.To]
			kept := slices.ContainsFunc(now, func(l lang.Link) bool { return l.To == to || link.As != "" && l.As == link.As }) ||
				slices.ContainsFunc(d.After.Files[d.NewID[id]].Targets,
					func(t lang.Target) bool { return t.Equal(lang.File(to)) })
			if !kept {
				reason := fmt.Sprintf("%s %s, and they would part", w.tree.Path(id), link.Why)
				w.refuse(link.To, reason)
				w.refuse(id, reason)
			}
		}
	}
}

// proveSubpaths takes out what users of a package would have to import by another name: the * of a pattern of its
// exports stands for it.
func (w *worker) proveSubpaths(d *Draft) {
	if w.Addresses {
		return
	}
	for id := range w.Graph.Files {
		n := &w.Graph.Files[id]
		for i := range n.Mentions {
			m := &n.Mentions[i]
			if !m.Kind.Is(lang.Defines) || m.Alias() != "" || n.Targets[i].Kind != lang.ToSet ||
				!strings.Contains(m.Text, "*") {
				continue
			}
			text := m.Text
			for _, c := range d.Edits[project.FileID(id)] {
				if c.Mention == i {
					text = c.Edit.New
				}
			}
			old := path.Join(path.Dir(w.tree.Path(project.FileID(id))), m.Text)
			now := path.Join(path.Dir(d.After.Tree.Path(d.NewID[id])), text)
			for _, file := range n.Targets[i].Set() {
				was, is := starOf(old, w.tree.Path(file)), starOf(now, d.After.Tree.Path(d.NewID[file]))
				if was != is {
					w.refuse(file,
						fmt.Sprintf("%s:%s gives it to users of the package as %q, which would become %q; "+
							"--allow-addresses lets it",
							w.tree.Path(project.FileID(id)),
							w.Graph.Position(graph.Reference{From: project.FileID(id), Mention: i}), was, is))
				}
			}
		}
	}
}

// starOf gives what the * of a pattern stands for in a path.
func starOf(pattern, p string) string {
	head, tail, _ := strings.Cut(pattern, "*")
	return strings.TrimSuffix(strings.TrimPrefix(p, head), tail)
}

// provesStill is prove for edits of texts that are no references: it says whether they leave all as it was. What it
// would block, it does not block.
func (w *worker) provesStill(d *Draft) bool {
	moves, order := maps.Clone(w.moves), w.order
	w.prove(d)
	still := len(w.refused) == 0
	w.moves, w.refused, w.fresh, w.order, w.come = moves, nil, map[project.FileID]bool{}, order, nil
	return still
}

// proof compares the references of one tree with those of another.
type proof struct {
	*relocation
	after *graph.Graph
	door  func(from, to string) (string, bool) // as in Request; nil for none

	finishes bool // as in Request
}

// fault is a mention that does not lead where it led; lost, if it can't be found again at all.
type fault struct {
	file    project.FileID
	mention int
	lost    bool
	now     lang.Target
}

// file compares the mentions of one file, which the edits have shifted.
func (p *proof) file(id project.FileID, edits []source.Edit) []fault {
	before, after := &p.before.Files[id], &p.after.Files[p.newID[id]]
	var faults []fault
	// shift is how far the edits so far have moved what stands behind them, next the first mention of the new text that
	// may be the one that is looked for, edit the first edit that may touch it: all three only grow.
	shift, next, edit := 0, 0, 0
	for i := range before.Mentions {
		m := &before.Mentions[i]
		for edit < len(edits) && edits[edit].Span.End <= m.Span.Start {
			shift += len(edits[edit].New) - edits[edit].Span.Len()
			edit++
		}
		var mine *source.Edit
		if edit < len(edits) && edits[edit].Span.Start < m.Span.End {
			if mine = &edits[edit]; mine.Span != m.Span {
				if region := (source.Span{Start: mine.Span.Start + shift,
					End: mine.Span.Start + shift + len(mine.New)}); !p.carried(id, i, region) {
					faults = append(faults, fault{file: id, mention: i, lost: true})
				}
				continue
			}
		}
		start := m.Span.Start + shift
		for next < len(after.Mentions) && after.Mentions[next].Span.Start < start {
			next++
		}
		if m.Likely && mine == nil { // nobody promised anything of it; what it names is listed as left over
			continue
		}
		found := next < len(after.Mentions) && after.Mentions[next].Span.Start == start &&
			(after.Mentions[next].Kind.Same(m.Kind) || m.Likely)
		if !found && !m.Likely {
			faults = append(faults, fault{file: id, mention: i, lost: true})
			continue
		}
		if !found { // too plain now to look like a path by itself, which the old text did
			continue
		}
		if mine != nil && before.Targets[i].Kind == lang.ToSet && p.spread(id, before.Targets[i],
			source.Span{Start: start, End: start + len(mine.New)}) {
			continue
		}
		if m.Kind.Is(lang.Whole) && mine == nil && p.alike(id, before.Targets[i], after.Targets[next]) {
			continue
		}
		if !p.leads(p.newID[id], m, before.Targets[i], after.Targets[next], mine != nil) &&
			!p.throughDoor(p.newID[id], next, before.Targets[i]) {
			faults = append(faults, fault{file: id, mention: i, now: after.Targets[next]})
		}
	}
	return faults
}

// spread says whether the patterns that stand where one stood find the files of that, all together.
func (p *proof) spread(id project.FileID, old lang.Target, region source.Span) bool {
	n := &p.after.Files[p.newID[id]]
	var found []project.FileID
	for i := range n.Mentions {
		if m := &n.Mentions[i]; m.Span.Start >= region.Start && m.Span.End <= region.End && n.Targets[i].Kind == lang.ToSet {
			found = append(found, n.Targets[i].Set()...)
		}
	}
	slices.Sort(found)
	found = slices.DeleteFunc(slices.Compact(found), p.written)
	want, _ := p.want(old)
	return slices.Equal(found, want.Set())
}

// alike says whether a folder above a file has gone where the file went: the file lies in it as before.
func (p *proof) alike(id project.FileID, old, now lang.Target) bool {
	if old.Kind != lang.ToFolder || now.Kind != lang.ToFolder {
		return false
	}
	below := func(file, folder string) string {
		if folder == "." {
			return file
		}
		return strings.TrimPrefix(file, folder+"/")
	}
	return below(p.before.Tree.Path(id), old.Folder()) == below(p.after.Tree.Path(p.newID[id]), now.Folder())
}

// carried says whether what a mention brought into its file is brought by one of those that stand where a whole
// statement was written anew: the same file, under the same name. Other mentions have been replaced by a required
// setting.
func (p *proof) carried(id project.FileID, mention int, region source.Span) bool {
	m, old := &p.before.Files[id].Mentions[mention], p.before.Files[id].Targets[mention]
	if !m.Kind.Is(lang.Binds) || !old.Kind.Inside() {
		return true
	}
	want, torn := p.want(old)
	if torn != nil {
		return false
	}
	// what the file calls it is what the rest of the file depends on
	local := func(g *graph.Graph, from project.FileID, i int) string {
		if names := g.Bindings(graph.Reference{From: from, Mention: i}); len(names) > 0 {
			return names[0].Local
		}
		return ""
	}
	n := &p.after.Files[p.newID[id]]
	for i := range n.Mentions {
		now := &n.Mentions[i]
		if now.Span.Start >= region.Start && now.Span.End <= region.End &&
			(want.Equal(n.Targets[i]) || p.throughDoor(p.newID[id], i, old)) &&
			now.Kind.Is(lang.Binds) && local(p.before, id, mention) == local(p.after, p.newID[id], i) {
			return true
		}
	}
	return false
}

// leads judges one mention by where it led and where it leads.
func (p *proof) leads(from project.FileID, m *lang.Mention, old, now lang.Target, edited bool) bool {
	if want, defined := aliasTarget(p.after.Tree, p.after.Declared, from, m); defined {
		return want.Equal(now)
	}
	if old.Kind.Inside() {
		if m.Kind.Is(lang.Whole) && m.Kind.Is(lang.Imports) { // the names behind it are judged one by one
			return now.Kind.Inside()
		}
		want, torn := p.want(old)
		if torn == nil {
			// a line that keeps files out may fail: it is reported, and holds nothing back
			return p.same(m, want, now) || m.Kind.Is(lang.Ignores) && !edited // it is reported as left over
		}
		switch { // see tornApart
		case m.Kind.Is(lang.Whole): // the paths behind it are judged one by one
			return now.Kind == lang.ToFolder
		case ownFolder(m):
			return torn.remains && old.Equal(now)
		case m.Alias() != "":
			return torn.remains && old.Equal(now)
		case m.List() > 0:
			return now.Kind == lang.ToFolder && (edited || torn.remains)
		case m.Likely && edited: // the convention says what stands there then
			return now.Kind == lang.ToFolder
		}
		return m.Kind.Is(lang.Ignores)
	}
	if now.Kind == lang.ToNothing {
		return old.Kind == lang.ToNothing
	}
	// Outside and nothing are both no file: what a setting or an ignored folder hides may be told apart less well from
	// another place. A module that begins to lead to a file of the project means something else than before.
	return now.Kind != lang.ToFile || !m.Kind.Is(lang.Loads) || p.finishes
}

// throughDoor says whether an import leads to the door of the instance in which its old target stands, and the door
// re-exports every name that it brings, from that target.
func (p *proof) throughDoor(from project.FileID, mention int, old lang.Target) bool {
	n := &p.after.Files[from]
	now := n.Targets[mention]
	if old.Kind != lang.ToFile || now.Kind != lang.ToFile || p.door == nil ||
		!n.Mentions[mention].Kind.Is(lang.Imports) {
		return false
	}
	want := p.newID[old.File]
	door, ok := p.door(p.after.Tree.Path(from), p.after.Tree.Path(want))
	if !ok || door != p.after.Tree.Path(now.File) {
		return false
	}
	bindings := p.after.Bindings(graph.Reference{From: from, Mention: mention})
	for _, b := range bindings {
		if b.Name == lang.Everything || !slices.Contains(p.after.Gives(now.File, b.Name), want) {
			return false
		}
	}
	return len(bindings) > 0
}

// fault blocks a file's move, or that of everything it refers to.
func (w *worker) fault(d *Draft, id project.FileID, reason string) {
	if _, moves := w.moves[id]; moves {
		w.refuse(id, reason)
		return
	}
	reason = fmt.Sprintf("%s: %s", w.tree.Path(id), reason)
	before := len(w.refused)
	for _, c := range d.Edits[id] {
		for _, target := range append([]project.FileID{c.Target.File}, c.Target.Set()...) {
			if target != project.None {
				w.refuse(target, reason)
			}
		}
		if c.Target.Kind == lang.ToFolder {
			w.refuseBelow(c.Target.Folder(), reason)
		}
	}
	if len(w.refused) > before {
		return
	}
	// its edits are for no mention: then what it refers to is held back, and if nothing of that moves, all
	for _, target := range w.Graph.Files[id].Targets {
		for _, file := range append([]project.FileID{target.File}, target.Set()...) {
			if file != project.None {
				w.refuse(file, reason)
			}
		}
	}
	if len(w.refused) == before {
		w.refuseAll(reason)
	}
}

// proveBytes says whether a file's bytes are what they were outside of its edits.
func (w *worker) proveBytes(d *Draft, id project.FileID) bool {
	old, err := w.tree.Content(id)
	same := false
	// the new text is read from the overlay, as everybody else will read it, and not put together here
	d.After.Tree.Peek(d.NewID[id], func(now []byte, errNow error) {
		same = err == nil && errNow == nil && sameOutside(old, now, d.Edits[id])
	})
	return same
}

// sameOutside compares two texts in all places that no edit covers.
func sameOutside(old, now []byte, changes []Change) bool {
	at, shift := 0, 0
	for _, c := range changes {
		span := c.Edit.Span
		if span.Start+shift > len(now) || !bytes.Equal(old[at:span.Start], now[at+shift:span.Start+shift]) {
			return false
		}
		at = span.End
		shift += len(c.Edit.New) - span.Len()
	}
	return at+shift <= len(now) && bytes.Equal(old[at:], now[at+shift:])
}

// targetName is the path of a target in its own tree.
func targetName(g *graph.Graph, t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		return g.Tree.Path(t.File)
	case lang.ToFolder, lang.ToSet:
		return t.Folder()
	}
	return "nothing"
}
