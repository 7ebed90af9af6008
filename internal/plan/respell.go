package plan

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// respell makes every edit that the moves cause. Settings come first, since they decide where other mentions lead.
func (b *builder) respell() *draft {
	d := &draft{edits: map[project.FileID][]change{}, written: map[string]written{}, moves: sync.OnceValue(b.moved)}
	before := len(b.blocked) + len(b.unwritten)
	b.require(d)
	b.overlay(d, false)
	if d.after != nil && (b.blockUnseen(d) || b.blockUnread(d)) {
		return d // without those it is another tree
	}
	if d.after != nil {
		b.write(d)
		if b.packageFiles(d); len(d.written) > 0 {
			b.overlay(d, false)
		}
		if b.owed(d) {
			return d
		}
	}
	b.respellWhere(d, func(m *lang.Mention) bool { return decides(m) && !names(m) })
	if len(d.edits) > 0 && b.hasAliases() { // what their targets are read from may be another folder now
		b.overlay(d, false)
	}
	b.respellWhere(d, names)
	b.missDefinitions(d)
	if len(d.edits) > 0 {
		b.overlay(d, false)
	}
	if d.after != nil && b.blockFixed(d) {
		return d
	}
	if d.after != nil {
		b.settle(d)
	}
	b.respellWhere(d, func(m *lang.Mention) bool { return !decides(m) })
	if len(b.blocked)+len(b.unwritten) > before {
		return d // it is given up, and another is begun
	}
	b.overlay(d, true)
	slices.SortFunc(d.remarks, func(x, y Remark) int {
		return cmp.Or(cmp.Compare(x.Path, y.Path), cmp.Compare(x.Line, y.Line))
	})
	return d
}

// names says whether a mention defines what an alias stands for.
func names(m *lang.Mention) bool {
	return m.Kind.Is(lang.Defines) || m.Alias() != ""
}

// missDefinitions tells of aliases to which the convention gives a new meaning and that no settings define, as far as
// they are read.
func (b *builder) missDefinitions(d *draft) {
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
			b.warn("no settings that are read define the alias %s: what it stands for then, %s, must be written where it is defined", a.Pattern, a.Then)
		}
	}
}

// hasAliases says whether the project defines aliases.
func (b *builder) hasAliases() bool {
	for i := range b.Graph.Files {
		if slices.ContainsFunc(b.Graph.Files[i].Mentions, func(m lang.Mention) bool { return names(&m) }) {
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
func (b *builder) overlay(d *draft, whole bool) {
	edits := make(map[project.FileID][]source.Edit, len(d.edits))
	for id, changes := range d.edits {
		edits[id] = sourceEdits(changes)
	}
	tree, err := b.lay(d, edits)
	if err != nil { // that edits do not fit can't happen: mentions do not overlap. If it does, nothing of it is believed.
		b.blockAll(err.Error())
		return
	}
	declared := d.moved.after(b.moves)
	if !whole {
		d.after = b.Graph.Ahead(tree, declared)
		return
	}
	changed := map[project.FileID]bool{}
	for id := range edits {
		changed[d.newID[id]] = true
	}
	d.after = b.Graph.Rebuild(tree, d.newID, changed, declared)
}

// lay lays the moves and the edits over the tree. What was laid before is laid no more where only edits have been
// added.
func (b *builder) lay(d *draft, edits map[project.FileID][]source.Edit) (*project.Project, error) {
	now := laid{len(b.blocked), len(d.written)}
	if d.after != nil && d.laid == now {
		return d.after.Tree.Edited(edits, d.newID)
	}
	tree, newID, err := b.tree.Overlay(b.moves, edits, d.added())
	if err != nil {
		return nil, err
	}
	d.newID = newID
	d.oldID = slices.Repeat([]project.FileID{project.None}, len(tree.Files))
	for old, id := range newID {
		d.oldID[id] = project.FileID(old)
	}
	d.moved, d.laid = relocate(b.Graph, newID, b.moves), now
	return tree, nil
}

// added are the contents of the files that are written.
func (d *draft) added() map[string][]byte {
	out := map[string][]byte{}
	for p, w := range d.written {
		out[p] = w.content
	}
	return out
}

func sourceEdits(changes []change) []source.Edit {
	if len(changes) == 0 {
		return nil
	}
	edits := make([]source.Edit, len(changes))
	for i, c := range changes {
		edits[i] = c.edit
	}
	return edits
}

func (b *builder) blockAll(reason string) {
	for _, id := range b.moving() {
		b.block(id, reason)
	}
}

// respellWhere looks at each mention of those asked for. One that leads where it led is left as it is.
func (b *builder) respellWhere(d *draft, wanted func(*lang.Mention) bool) {
	if d.after == nil {
		return
	}
	parts := parallel.Parts(len(b.Graph.Files), func(from, to int) (out []verdict) {
		for id := from; id < to; id++ {
			n := &b.Graph.Files[id]
			for i := range n.Mentions {
				if !wanted(&n.Mentions[i]) || d.settles(&n.Mentions[i]) || overlaps(d.edits[project.FileID(id)], n.Mentions[i].Span) {
					continue
				}
				if v := b.respellMention(d, graph.Reference{From: project.FileID(id), Mention: i}); v != (verdict{}) {
					out = append(out, v)
				}
			}
		}
		return out
	})
	for _, part := range parts {
		for _, v := range part {
			b.carry(d, v)
		}
	}
	for id := range d.edits {
		sortChanges(d.edits[id])
	}
}

// verdict is what is to be done about a mention; the zero one, if nothing is.
type verdict struct {
	ref     graph.Reference
	change  *change
	remark  string
	trouble *trouble
}

// trouble is why a mention can't just be written anew.
type trouble struct {
	torn     *fate  // the folder that it names is torn apart
	unproved string // why it is left as it is; to is where it would have to lead
	to       string
	blocked  bool   // moves are at fault for it
	reason   string // empty for what is plain from the reference
}

// carry carries a verdict out. Moves that are blocked change what is at fault for those to come, so this goes in their
// order.
func (b *builder) carry(d *draft, v verdict) {
	id := v.ref.From
	if v.change != nil {
		d.edits[id] = append(d.edits[id], *v.change)
	}
	if v.remark != "" {
		d.remarks = append(d.remarks, Remark{Path: b.tree.Path(id), Line: b.Graph.Position(v.ref).Line, Text: v.remark})
	}
	switch t := v.trouble; {
	case t == nil:
	case t.torn != nil:
		b.tornApart(d, v.ref, t.torn)
	case t.blocked:
		b.blockReference(v.ref, b.now(d, v.ref), d, t.reason)
	default:
		b.leaveAsIs(d, v.ref, t.to, t.unproved)
	}
}

// settles says whether a mention is written together with others of its file.
func (d *draft) settles(m *lang.Mention) bool {
	rules := d.after.RulesFor(m)
	return rules.Settles != nil && rules.Settles(m)
}

func sortChanges(changes []change) {
	slices.SortFunc(changes, func(x, y change) int { return x.edit.Span.Start - y.edit.Span.Start })
}

// overlaps says whether a required setting is written over a mention.
func overlaps(changes []change, span source.Span) bool {
	for _, c := range changes {
		if c.mention < 0 && c.edit.Span.Start < span.End && span.Start < c.edit.Span.End {
			return true
		}
	}
	return false
}

// respellMention says what is to be done about a mention, and does nothing itself.
func (b *builder) respellMention(d *draft, ref graph.Reference) verdict {
	unproved := func(to, reason string) verdict {
		return verdict{ref: ref, trouble: &trouble{unproved: reason, to: to}}
	}
	blocked := func(reason string) verdict {
		return verdict{ref: ref, trouble: &trouble{blocked: true, reason: reason}}
	}
	id := ref.From
	n := &b.Graph.Files[id]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	_, fromMoves := b.moves[id]
	resolver := d.after.Resolver(m)
	request := lang.Respelling{
		Old: b.Graph.Resolver(m), OldFrom: id, From: d.newID[id], Before: before, Target: lang.No(lang.ToNothing), Mention: m, Goes: d.moved.goes,
	}
	alias, defined := stated(d.after.Tree, d.after.Declared, d.newID[id], m)
	switch {
	case defined:
		request.Target = alias
		if alias.Equal(resolver.Resolve(d.newID[id], m)) {
			return verdict{}
		}
	case before.Kind.Inside():
		want, torn := d.moved.want(before)
		if torn != nil {
			return verdict{ref: ref, trouble: &trouble{torn: torn}}
		}
		if before.Kind == lang.ToFile {
			if door, through := b.door(d, ref, before.File); through {
				want = lang.File(door)
			}
		}
		now := resolver.Resolve(d.newID[id], m)
		if d.moved.same(m, want, now) {
			return verdict{}
		}
		if m.Likely && (asks(m) && !b.RewriteLikely || m.Kind.Is(lang.InCode) && b.Graph.Languages.Recorded(b.tree.Path(id))) {
			return unproved(d.name(want), m.Kind.Looks)
		}
		request.Target = want
		request.Fails = !now.Equal(want) && (now.Kind != lang.ToFile || now.File != want.File)
	case before.Kind == lang.ToPackage || !fromMoves && before.Kind == lang.ToOutside && asks(m):
		return verdict{}
	}
	spelling, ok := resolver.Spell(request)
	new, fits := m.Text, true
	if ok && spelling.Text != m.Text {
		new, fits = lang.Encode(spelling.Text, m)
	}
	if !ok || !fits {
		if m.Likely || m.Kind.Is(lang.Ignores) && before.Kind.Inside() {
			return unproved(d.name(request.Target), "no new spelling leads there")
		}
		return blocked("")
	}
	if m.Kind.Is(lang.Ignores) && spelling.Text == m.Text && before.Kind.Inside() {
		return unproved(d.name(request.Target), "no new spelling leads there")
	}
	if spelling.Text == m.Text {
		if before.Kind == lang.ToFile && !m.Likely && !m.Kind.Is(lang.Based) { // the text is right for the file, and the file's twin went elsewhere
			return blocked("")
		}
		return verdict{}
	}
	if leave := b.Placement.Homes[id].Leave; leave == placement.Untouched || leave == placement.Generated {
		if m.Likely {
			return unproved(d.name(request.Target), "the file is left alone")
		}
		return blocked(fmt.Sprintf("%s would have to be edited at line %d and is left alone", b.tree.Path(id), b.Graph.Position(ref).Line))
	}
	v := verdict{ref: ref, change: &change{edit: source.Edit{Span: m.Span, New: new}, mention: ref.Mention, target: before, to: d.name(request.Target)}}
	if spelling.Remark != "" {
		v.remark = fmt.Sprintf("%s became %s: %s", m.Text, spelling.Text, spelling.Remark)
	}
	return v
}

// asks says whether a mention is rewritten only where the user asks for it: a string of code that may be anything.
func asks(m *lang.Mention) bool { return m.Kind.Is(lang.Doubtful) && !m.Evident }

// name is the path of a target in the new tree; empty where there is none.
func (d *draft) name(t lang.Target) string {
	switch t.Kind {
	case lang.ToFile:
		return d.after.Tree.Path(t.File)
	case lang.ToFolder, lang.ToSet:
		return t.Folder()
	}
	return ""
}

// blockBelow takes out the moves of all files of a folder.
func (b *builder) blockBelow(dir, reason string) bool {
	any := false
	from, to := b.tree.Below(dir)
	for id := from; id < to; id++ {
		if _, moves := b.moves[id]; moves {
			b.block(id, reason)
			any = true
		}
	}
	return any
}

func (b *builder) leaveAsIs(d *draft, ref graph.Reference, to, reason string) {
	d.stayed = append(d.stayed, stayed{ref, to, reason})
}

func (d *draft) isWritten(p string) bool {
	_, is := d.written[p]
	return is
}

// now is where a mention's old text leads in the new tree.
func (b *builder) now(d *draft, ref graph.Reference) lang.Target {
	m := &b.Graph.Files[ref.From].Mentions[ref.Mention]
	return d.after.Resolver(m).Resolve(d.newID[ref.From], m)
}

// blockReference blocks the moves that are at fault for a reference that can't be kept: of its target, or of the file
// that it stands in, or of the file that has come in its way.
func (b *builder) blockReference(ref graph.Reference, now lang.Target, d *draft, reason string) {
	n := &b.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	if now.Kind == lang.ToSet && reason == "" { // a pattern that would find a written file as well
		for _, id := range now.Set() {
			if p := d.after.Tree.Path(id); d.isWritten(p) {
				b.leaveUnwritten(p, fmt.Sprintf("%s:%s, %q, would lead to it as well", b.tree.Path(ref.From), b.Graph.Position(ref), m.Text))
				return
			}
		}
	}
	switch {
	case reason != "":
	case before.Also != project.None && path.Dir(d.after.Tree.Path(d.newID[before.File])) != path.Dir(d.after.Tree.Path(d.newID[before.Also])):
		reason = fmt.Sprintf("%s and %s stand for one thing and would part", b.tree.Path(before.File), b.tree.Path(before.Also))
	case before.Also != project.None && now.Kind == lang.ToFile && now.File == d.newID[before.File]:
		reason = fmt.Sprintf("%s and %s stand for one thing and would part", b.tree.Path(before.File), b.tree.Path(before.Also))
	case before.Kind == lang.ToSet:
		reason = fmt.Sprintf("%s:%s leads to a set of files by %q, and afterwards it would lead to others", b.tree.Path(ref.From), b.Graph.Position(ref), m.Text)
	default:
		reason = fmt.Sprintf("%s:%s refers to it as %q, and no new spelling of that leads to it", b.tree.Path(ref.From), b.Graph.Position(ref), m.Text)
	}
	blocked := false
	for _, id := range append([]project.FileID{before.File, before.Also}, before.Set()...) {
		if id == project.None {
			continue
		}
		if b.fresh[id] {
			return
		}
		if _, moves := b.moves[id]; moves {
			b.block(id, reason)
			if blocked = true; before.Kind != lang.ToSet {
				return
			}
		}
	}
	if blocked || before.Kind == lang.ToFolder && b.blockBelow(before.Folder(), reason) {
		return
	}
	if _, moves := b.moves[ref.From]; moves {
		b.block(ref.From, reason)
		return
	}
	if now.Kind == lang.ToFile {
		if p := d.after.Tree.Path(now.File); d.isWritten(p) {
			b.leaveUnwritten(p, fmt.Sprintf("%s:%s would lead to it instead of where it leads now", b.tree.Path(ref.From), b.Graph.Position(ref)))
			return
		}
	}
	came := map[project.FileID]bool{}
	for _, id := range append([]project.FileID{now.File}, now.Set()...) {
		came[id] = true
	}
	for old, new := range d.newID {
		if _, moves := b.moves[project.FileID(old)]; moves && came[new] {
			b.block(project.FileID(old), fmt.Sprintf("%s:%s would lead to it instead of where it leads now", b.tree.Path(ref.From), b.Graph.Position(ref)))
			blocked = true
		}
	}
	if !blocked {
		b.blockAll(reason)
	}
}
