package plan

import (
	"cmp"
	"fmt"
	"slices"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// respell makes every edit that the moves cause. Settings come first, since they decide where other mentions lead.
func (b *builder) respell() *draft {
	d := &draft{edits: map[project.FileID][]change{}}
	b.overlay(d)
	b.respellWhere(d, func(m lang.Mention) bool { return m.Kind == lang.Setting })
	if len(d.edits) > 0 {
		b.overlay(d)
	}
	b.respellWhere(d, func(m lang.Mention) bool { return m.Kind != lang.Setting })
	b.overlay(d)
	slices.SortFunc(d.remarks, func(x, y Remark) int {
		return cmp.Or(cmp.Compare(x.Path, y.Path), cmp.Compare(x.Line, y.Line))
	})
	return d
}

// overlay works out the tree after the moves and the edits so far, and its graph.
func (b *builder) overlay(d *draft) {
	contents := map[project.FileID][]byte{}
	for id, changes := range d.edits {
		edits := make([]source.Edit, len(changes))
		for i, c := range changes {
			edits[i] = c.edit
		}
		content, err := b.tree.Content(id)
		if err == nil {
			content, err = source.Apply(content, edits)
		}
		if err != nil { // can't happen: mentions do not overlap. If it does, nothing of it is believed.
			b.blockAll(fmt.Sprintf("%s can't be edited: %s", b.tree.Path(id), err))
			return
		}
		contents[id] = content
	}
	tree, newID, err := b.tree.Overlay(b.moves, contents)
	if err != nil {
		b.blockAll(err.Error())
		return
	}
	changed := map[project.FileID]bool{}
	for id := range contents {
		changed[newID[id]] = true
	}
	from := b.Graph
	d.newID = newID
	d.after = from.Rebuild(tree, newID, changed)
}

func (b *builder) blockAll(reason string) {
	for _, id := range b.moving() {
		b.block(id, reason)
	}
}

// respellWhere looks at each mention of the kinds asked for. One that leads where it led is left as it is.
func (b *builder) respellWhere(d *draft, wanted func(lang.Mention) bool) {
	if d.after == nil {
		return
	}
	for id := range b.Graph.Files {
		n := &b.Graph.Files[id]
		for i, m := range n.Mentions {
			if !wanted(m) {
				continue
			}
			b.respellMention(d, graph.Reference{From: project.FileID(id), Mention: i})
		}
	}
	for id := range d.edits {
		slices.SortFunc(d.edits[id], func(x, y change) int { return x.edit.Span.Start - y.edit.Span.Start })
	}
}

func (b *builder) respellMention(d *draft, ref graph.Reference) {
	id := ref.From
	n := &b.Graph.Files[id]
	m, before := n.Mentions[ref.Mention], n.Targets[ref.Mention]
	_, fromMoves := b.moves[id]
	now := d.after.Files[d.newID[id]].Targets[ref.Mention]
	request := lang.Respelling{
		Old: b.Graph.Resolvers[n.Family], OldFrom: id, From: d.newID[id], Target: project.None, Mention: m,
	}
	if before.Kind == lang.ToFile {
		if same(d.newID, before, now) {
			return
		}
		request.Target = d.newID[before.File]
	} else if !fromMoves || before.Kind == lang.ToPackage {
		return
	}
	spelling, ok := d.after.Resolvers[n.Family].Spell(request)
	if !ok {
		b.blockReference(d, ref, "")
		return
	}
	if spelling.Text == m.Text {
		if before.Kind == lang.ToFile { // the text is right for the file, and the file's twin went elsewhere
			b.blockReference(d, ref, "")
		}
		return
	}
	if leave := b.Placement.Homes[id].Leave; leave == placement.Untouched || leave == placement.Generated {
		b.blockReference(d, ref, fmt.Sprintf("%s would have to be edited at line %d and is left alone", b.tree.Path(id), b.Graph.Position(ref).Line))
		return
	}
	family := b.Graph.Families[n.Family]
	d.edits[id] = append(d.edits[id], change{
		edit: source.Edit{Span: m.Span, New: family.Encode(spelling.Text, m.Quote)}, mention: ref.Mention, target: before.File,
	})
	if spelling.Remark != "" {
		d.remarks = append(d.remarks, Remark{
			Path: b.tree.Path(id), Line: b.Graph.Position(ref).Line, Text: fmt.Sprintf("%s became %s: %s", m.Text, spelling.Text, spelling.Remark),
		})
	}
}

// same says whether a target of the old tree is the target of the new one.
func same(newID []project.FileID, before, now lang.Target) bool {
	if before.Kind != now.Kind {
		return false
	}
	if before.Kind != lang.ToFile {
		return true
	}
	also := project.None
	if before.Also != project.None {
		also = newID[before.Also]
	}
	return newID[before.File] == now.File && also == now.Also
}

// blockReference blocks the moves that are at fault for a reference that can't be kept: of its target, or of the file
// that it stands in, or of the file that has come in its way.
func (b *builder) blockReference(d *draft, ref graph.Reference, reason string) {
	n := &b.Graph.Files[ref.From]
	m, before := n.Mentions[ref.Mention], n.Targets[ref.Mention]
	now := d.after.Files[d.newID[ref.From]].Targets[ref.Mention]
	switch {
	case reason != "":
	case before.Also != project.None && now.File == d.newID[before.File]:
		reason = fmt.Sprintf("%s and %s stand for one thing and would part", b.tree.Path(before.File), b.tree.Path(before.Also))
	default:
		reason = fmt.Sprintf("%s:%s refers to it as %q, and no new spelling of that leads to it", b.tree.Path(ref.From), b.Graph.Position(ref), m.Text)
	}
	for _, id := range []project.FileID{before.File, before.Also, ref.From} {
		if id != project.None {
			if _, moves := b.moves[id]; moves {
				b.block(id, reason)
				return
			}
		}
	}
	for old, new := range d.newID {
		if new == now.File {
			if _, moves := b.moves[project.FileID(old)]; moves {
				b.block(project.FileID(old), fmt.Sprintf("%s:%s would lead to it instead of where it leads now", b.tree.Path(ref.From), b.Graph.Position(ref)))
				return
			}
		}
	}
	b.blockAll(reason)
}
