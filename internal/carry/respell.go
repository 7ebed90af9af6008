package carry

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// respell makes every edit that the moves cause. Settings come first, since they decide where other mentions lead.
func (w *worker) respell() *Draft {
	d := &Draft{Edits: map[project.FileID][]Change{}, Writes: map[string]Written{}, moves: sync.OnceValue(w.moved)}
	for id, changes := range w.Edits {
		d.Edits[id] = slices.Clone(changes)
	}
	w.overlay(d, false)
	// these look at where files go and not at references, so they come before the costly part
	if d.After != nil && (w.refuseUnseen(d) || w.refuseUnread(d)) {
		return d // without those it is another tree
	}
	if d.After != nil {
		w.writeAsked(d)
		if len(d.Writes) > 0 {
			w.overlay(d, false)
		}
		if w.owed(d) {
			return d
		}
	}
	// settings that say where others are read from, then what defines names, then all else: each is resolved by those
	// before it
	w.respellWhere(d, func(m *lang.Mention) bool { return decides(m) && !names(m) })
	if len(d.Edits) > 0 && w.hasAliases() { // what their targets are read from may be another folder now
		w.overlay(d, false)
	}
	w.respellWhere(d, names)
	if len(w.refused) > 0 { // what the moves owed to other files is written already, and would be taken for what is there
		return d
	}
	if len(d.Edits) > 0 {
		w.overlay(d, false)
	}
	if d.After != nil && w.refuseFixed(d) {
		return d
	}
	if d.After != nil {
		w.settle(d)
	}
	w.respellWhere(d, func(m *lang.Mention) bool { return !decides(m) })
	if len(w.refused) > 0 {
		return d // it is given up, and another is begun
	}
	w.overlay(d, true)
	slices.SortFunc(d.Remarks, func(x, y Remark) int {
		return cmp.Or(cmp.Compare(x.Path, y.Path), cmp.Compare(x.Line, y.Line))
	})
	return d
}

// names says whether a mention defines what an alias stands for.
func names(m *lang.Mention) bool {
	return m.Kind.Is(lang.Defines) || m.Alias() != ""
}

// hasAliases says whether the project defines aliases.
func (w *worker) hasAliases() bool {
	for i := range w.Graph.Files {
		if slices.ContainsFunc(w.Graph.Files[i].Mentions, func(m lang.Mention) bool { return names(&m) }) {
			return true
		}
	}
	return false
}

// decides says whether a mention is a setting by which others are resolved.
func decides(m *lang.Mention) bool {
	return m.Kind.Is(lang.Decides) || m.Alias() != ""
}

// overlay works out the tree after the moves and the edits so far, and its graph; until the edits are whole, only as
// far as new spellings need it.
func (w *worker) overlay(d *Draft, whole bool) {
	edits := make(map[project.FileID][]source.Edit, len(d.Edits))
	for id, changes := range d.Edits {
		edits[id] = SourceEdits(changes)
	}
	tree, err := w.lay(d, edits)
	// that edits do not fit can't happen: mentions do not overlap. If it does, nothing of it is believed.
	if err != nil {
		w.refuseAll(err.Error())
		return
	}
	d.made = sync.OnceValue(func() made { return w.made(d) })
	declared := d.moved.after(w.moves)
	if !whole {
		d.After = w.Graph.Ahead(tree, declared)
		return
	}
	changed := map[project.FileID]bool{}
	for id := range edits {
		changed[d.NewID[id]] = true
	}
	d.After = w.Graph.Rebuild(tree, d.NewID, changed, declared)
}

// lay lays the moves and the edits over the tree. What was laid before is laid no more where only edits have been
// added.
func (w *worker) lay(d *Draft, edits map[project.FileID][]source.Edit) (*project.Project, error) {
	// listing the tree anew costs more than laying edits over it, and only moves and new files change the list
	now := overlaid{len(w.refused), len(d.Writes)}
	if d.After != nil && d.overlaid == now {
		return d.After.Tree.Edited(edits, d.NewID)
	}
	tree, newID, err := w.tree.Overlay(w.moves, edits, d.added())
	if err != nil {
		return nil, err
	}
	d.NewID = newID
	d.OldID = slices.Repeat([]project.FileID{project.None}, len(tree.Files))
	for old, id := range newID {
		d.OldID[id] = project.FileID(old)
	}
	d.moved, d.overlaid = relocate(w.Graph, newID, w.moves), now
	return tree, nil
}

// added are the contents of the files that are written.
func (d *Draft) added() map[string][]byte {
	out := map[string][]byte{}
	for p, w := range d.Writes {
		out[p] = w.Content
	}
	return out
}

// SourceEdits are the edits of a file without what they are for.
func SourceEdits(changes []Change) []source.Edit {
	if len(changes) == 0 {
		return nil
	}
	edits := make([]source.Edit, len(changes))
	for i, c := range changes {
		edits[i] = c.Edit
	}
	return edits
}

// respellWhere looks at each mention of those asked for. One that leads where it led is left as it is.
func (w *worker) respellWhere(d *Draft, wanted func(*lang.Mention) bool) {
	if d.After == nil {
		return
	}
	w.arriving() // it is asked on all cores
	parts := parallel.Parts(len(w.Graph.Files), func(from, to int) (out []verdict) {
		for id := from; id < to; id++ {
			n := &w.Graph.Files[id]
			over := written(d.Edits[project.FileID(id)])
			for i := range n.Mentions {
				for len(over) > 0 && over[0].End <= n.Mentions[i].Span.Start {
					over = over[1:]
				}
				if len(over) > 0 && over[0].Start < n.Mentions[i].Span.End || !wanted(&n.Mentions[i]) ||
					d.writtenTogether(&n.Mentions[i]) {
					continue
				}
				if v := w.decide(d, graph.Reference{From: project.FileID(id), Mention: i}); v.what != right {
					out = append(out, v)
				}
			}
		}
		return out
	})
	for _, part := range parts {
		for _, v := range part {
			w.carryOut(d, v)
		}
	}
	for id := range d.Edits {
		sortChanges(d.Edits[id])
	}
}

// decision is what is to be done about a mention.
type decision uint8

const (
	right     decision = iota // its text leads where it must
	rewritten                 // it gets another text
	leftAsIs                  // it is only likely a reference, and is listed as left over
	refused                   // moves are at fault for it
	parted                    // the folder that it names is torn apart
)

// verdict is a decision about one mention, with what it needs.
type verdict struct {
	what   decision
	ref    graph.Reference
	change Change // rewritten: the edit
	remark string // rewritten: something that a reader should know; empty for none
	to     string // left as it is: where it would have to lead
	reason string // left as it is, or refused: why. Empty for what is plain from the reference.
	torn   *fate  // parted: what becomes of the folder
}

// carryOut carries a verdict out. Moves that are refused change what is at fault for those to come, so this goes in
// their order.
func (w *worker) carryOut(d *Draft, v verdict) {
	switch id := v.ref.From; v.what {
	case rewritten:
		d.Edits[id] = append(d.Edits[id], v.change)
		if v.remark != "" {
			at := w.Graph.Position(v.ref)
			d.Remarks = append(d.Remarks, Remark{Path: w.tree.Path(id), Line: at.Line, Text: v.remark})
		}
	case parted:
		w.tornApart(d, v.ref, v.torn)
	case refused:
		w.refuseReference(v.ref, w.now(d, v.ref), d, v.reason)
	case leftAsIs:
		w.leaveAsIs(d, v.ref, v.to, v.reason)
	}
}

// writtenTogether says whether a mention is written together with others of its file.
func (d *Draft) writtenTogether(m *lang.Mention) bool {
	rules := d.After.RulesFor(m)
	return rules.Settles != nil && rules.Settles(m)
}

// sortChanges puts the edits of a file in the order of the file.
func sortChanges(changes []Change) {
	slices.SortFunc(changes, func(x, y Change) int { return x.Edit.Span.Start - y.Edit.Span.Start })
}

// written are the places of a file, in its order, in which edits stand that are not those of one mention's text: a
// required setting may be written over a mention.
func written(changes []Change) (spans []source.Span) {
	for _, c := range changes {
		if c.Mention < 0 {
			spans = append(spans, c.Edit.Span)
		}
	}
	slices.SortFunc(spans, func(a, b source.Span) int { return a.Start - b.Start })
	return spans
}

// decide says what is to be done about a mention, and does nothing itself: it is asked on all cores.
func (w *worker) decide(d *Draft, ref graph.Reference) verdict {
	request, done := w.aim(d, ref)
	if done != nil {
		return *done
	}
	m := request.Mention
	resolver := d.After.Resolver(m)
	spelling, ok := resolver.Spell(request)
	text, fits := m.Text, true
	if ok && spelling.Text != m.Text {
		text, fits = lang.Encode(spelling.Text, m)
	}
	if !ok && request.Before.Kind == lang.ToSet && request.Target.Kind == lang.ToSet {
		text, ok = w.spread(d, request)
	}
	kept := spelling.Text == m.Text
	ignores := m.Kind.Is(lang.Ignores) && request.Before.Kind.Inside()
	switch {
	case !ok || !fits || ignores && kept:
		// a line that keeps files out does no harm where it leads nowhere, so it holds nothing back
		if m.Likely || ignores {
			return verdict{what: leftAsIs, ref: ref, to: d.name(request.Target), reason: "no new spelling leads there"}
		}
		return verdict{what: refused, ref: ref}
	case kept && request.Before.Kind == lang.ToFile && !m.Likely && !m.Kind.Is(lang.Based):
		// the text is right for the file, and the file's twin went elsewhere
		return verdict{what: refused, ref: ref}
	case kept:
		return verdict{}
	case !w.Hold(ref.From).edited() && m.Likely:
		return verdict{what: leftAsIs, ref: ref, to: d.name(request.Target), reason: "the file is left alone"}
	case !w.Hold(ref.From).edited():
		return verdict{what: refused, ref: ref, reason: fmt.Sprintf(
			"%s would have to be edited at line %d and is left alone", w.tree.Path(ref.From), w.Graph.Position(ref).Line)}
	}
	v := verdict{what: rewritten, ref: ref, change: Change{
		Edit: source.Edit{Span: m.Span, New: text}, Mention: ref.Mention, Target: request.Before, To: d.name(request.Target),
	}}
	if spelling.Remark != "" {
		v.remark = fmt.Sprintf("%s became %s: %s", m.Text, spelling.Text, spelling.Remark)
	}
	return v
}

// aim says where a mention must lead, as a request for a new text; or what is to be done about it, where that needs
// none.
func (w *worker) aim(d *Draft, ref graph.Reference) (lang.Respelling, *verdict) {
	id := ref.From
	n := &w.Graph.Files[id]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	resolver := d.After.Resolver(m)
	request := lang.Respelling{
		Old: w.Graph.Resolver(m), OldFrom: id, From: d.NewID[id], Before: before, Target: lang.No(lang.ToNothing),
		Mention: m, Goes: d.goes,
	}
	// what the convention says of an alias counts more than where its target went
	if alias, defined := aliasTarget(d.After.Tree, d.After.Declared, d.NewID[id], m); defined {
		if request.Target = alias; alias.Equal(resolver.Resolve(d.NewID[id], m)) {
			return request, &verdict{}
		}
		return request, nil
	}
	if !before.Kind.Inside() {
		if w.Finishes && resolver.Resolve(d.NewID[id], m).Kind.Inside() {
			return request, &verdict{} // mended by hand
		}
		_, moves := w.moves[id]
		if before.Kind == lang.ToPackage || !moves && before.Kind == lang.ToOutside && asks(m) {
			return request, &verdict{}
		}
		return request, nil // what it names must keep its place, seen from the file's new one
	}
	want, torn := d.moved.want(before)
	if torn != nil {
		return request, &verdict{what: parted, ref: ref, torn: torn}
	}
	if before.Kind == lang.ToFile {
		if door, through := w.door(d, ref, before.File); through {
			want = lang.File(door)
		}
	}
	now := resolver.Resolve(d.NewID[id], m)
	if d.moved.same(m, want, now) {
		request.Target, request.Fails = want, true
		if rules := d.After.RulesFor(m); want.Kind != lang.ToFile || rules.Parts == nil || !rules.Parts(&request) {
			return request, &verdict{}
		}
		return request, nil
	}
	recorded := m.Kind.Is(lang.InCode) && w.Graph.Languages.Recorded(w.tree.Path(id))
	if m.Likely && (asks(m) && !w.Likely || recorded) {
		return request, &verdict{what: leftAsIs, ref: ref, to: d.name(want), reason: m.Kind.Looks}
	}
	request.Target = want
	request.Fails = !now.Equal(want) && (now.Kind != lang.ToFile || now.File != want.File)
	return request, nil
}

// asks says whether a mention is rewritten only where the user asks for it: a string of code that may be anything.
func asks(m *lang.Mention) bool { return m.Kind.Is(lang.Doubtful) && !m.Evident }

// name is the path of a target in the new tree; empty where there is none.
func (d *Draft) name(t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		return d.After.Tree.Path(t.File)
	case lang.ToFolder, lang.ToSet:
		return t.Folder()
	}
	return ""
}

func (w *worker) leaveAsIs(d *Draft, ref graph.Reference, to, reason string) {
	d.stayed = append(d.stayed, stayed{ref, to, reason})
}

func (d *Draft) isWritten(p string) bool {
	_, is := d.Writes[p]
	return is
}

// now is where a mention's old text leads in the new tree.
func (w *worker) now(d *Draft, ref graph.Reference) lang.Target {
	m := &w.Graph.Files[ref.From].Mentions[ref.Mention]
	return d.After.Resolver(m).Resolve(d.NewID[ref.From], m)
}

// refuseReference takes out the moves that are at fault for a reference that can't be kept: of its target, or of the
// file that it stands in, or of the file that has come in its way.
func (w *worker) refuseReference(ref graph.Reference, now lang.Target, d *Draft, reason string) {
	n := &w.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	if now.Kind == lang.ToSet && reason == "" { // a pattern that would find a written file as well
		for _, id := range now.Set() {
			if p := d.After.Tree.Path(id); d.isWritten(p) {
				w.refuseWritten(p, fmt.Sprintf("%s:%s, %q, would lead to it as well", w.tree.Path(ref.From),
					w.Graph.Position(ref), m.Text))
				return
			}
		}
	}
	switch {
	case reason != "":
	case before.Twin != project.None &&
		path.Dir(d.After.Tree.Path(d.NewID[before.File])) != path.Dir(d.After.Tree.Path(d.NewID[before.Twin])):
		reason = fmt.Sprintf("%s and %s stand for one thing and would part", w.tree.Path(before.File),
			w.tree.Path(before.Twin))
	case before.Twin != project.None && now.Kind == lang.ToFile && now.File == d.NewID[before.File]:
		reason = fmt.Sprintf("%s and %s stand for one thing and would part", w.tree.Path(before.File),
			w.tree.Path(before.Twin))
	case before.Kind == lang.ToSet: // nothing else could be written: the set has no other name
		reason = fmt.Sprintf("%s:%s leads to a set of files by %q, and afterwards it would lead to others",
			w.tree.Path(ref.From), w.Graph.Position(ref), m.Text)
	default:
		reason = fmt.Sprintf("%s:%s refers to it as %q, and no new spelling of that leads to it", w.tree.Path(ref.From),
			w.Graph.Position(ref), m.Text)
	}
	blocked := false
	for _, id := range append([]project.FileID{before.File, before.Twin}, before.Set()...) {
		if id == project.None {
			continue
		}
		if w.fresh[id] { // its move was refused already, which may mend the reference: the next attempt shows
			return
		}
		if _, moves := w.moves[id]; moves {
			w.refuse(id, reason)
			if blocked = true; before.Kind != lang.ToSet {
				return
			}
		}
	}
	if blocked || before.Kind == lang.ToFolder && w.refuseBelow(before.Folder(), reason) {
		return
	}
	if _, moves := w.moves[ref.From]; moves {
		w.refuse(ref.From, reason)
		return
	}
	if now.Kind == lang.ToFile {
		if p := d.After.Tree.Path(now.File); d.isWritten(p) {
			w.refuseWritten(p, fmt.Sprintf("%s:%s would lead to it instead of where it leads now",
				w.tree.Path(ref.From), w.Graph.Position(ref)))
			return
		}
	}
	came := map[project.FileID]bool{}
	for _, id := range append([]project.FileID{now.File}, now.Set()...) {
		came[id] = true
	}
	for old, new := range d.NewID {
		if _, moves := w.moves[project.FileID(old)]; moves && came[new] {
			w.refuse(project.FileID(old), fmt.Sprintf("%s:%s would lead to it instead of where it leads now",
				w.tree.Path(ref.From), w.Graph.Position(ref)))
			blocked = true
		}
	}
	if !blocked { // nobody is known to be at fault, and a reference would break: nothing of it is believed
		w.refuseAll(reason)
	}
}
