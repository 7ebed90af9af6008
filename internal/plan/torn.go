package plan

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// tornApart deals with a mention of a folder whose files go to several places. A list of folders gets an element for each
// of them; an alias stays if its folder does; all other certain mentions keep the files where they are.
func (b *builder) tornApart(d *draft, ref graph.Reference, torn *fate) {
	n := &b.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	places := torn.places[0] + ", " + torn.places[1]
	switch {
	case m.Kind == lang.IgnorePattern && torn.remains: // it holds for what is left
		return
	case ownFolder(m) && torn.remains: // a file that speaks of its own folder speaks of what is left in it
		return
	case m.Likely || m.Kind == lang.IgnorePattern:
		b.leaveAsIs(d, ref, places, "the folder's files go to several places")
		return
	case m.More != nil && m.More.Alias != "":
		if !torn.remains { // else what leaves the folder is spelled anew, and the alias is right for what stays
			b.wrong = append(b.wrong, fmt.Sprintf("%s:%s: the alias %s stands for %s, whose files go to %s and %s; say in the convention what it stands for afterwards: aliases: { %q: { then: … } }",
				b.tree.Path(ref.From), b.Graph.Position(ref), m.More.Alias, before.Folder(), torn.places[0], torn.places[1], m.More.Alias))
		}
		return
	case m.More != nil && m.More.List > 0 && m.Form == lang.InJSON && b.widen(d, ref, torn):
		return
	}
	reason := fmt.Sprintf("%s:%s names the folder %s as %q, and its files would go to %s and %s",
		b.tree.Path(ref.From), b.Graph.Position(ref), before.Folder(), m.Text, torn.places[0], torn.places[1])
	b.blockBelow(before.Folder(), reason)
}

// TornAliases gives what a plan would refuse: aliases whose folders are emptied to several places, of which the convention does not say what they
// stand for afterwards.
func TornAliases(g *graph.Graph, placed *placement.Result) []string {
	moves := map[project.FileID]string{}
	for id, h := range placed.Homes {
		if h.Kind == placement.Misplaced {
			moves[project.FileID(id)] = h.Path
		}
	}
	var out []string
	for id := range g.Files {
		n := &g.Files[id]
		for i := range n.Mentions {
			m := &n.Mentions[i]
			if m.More == nil || m.More.Alias == "" || m.Likely || n.Targets[i].Kind != lang.ToFolder || n.Targets[i].Folder() == "." {
				continue
			}
			if _, said := stated(g.Tree, g.Declared, project.FileID(id), m); said {
				continue
			}
			if g.Declared != nil && slices.ContainsFunc(g.Declared.Convention.Aliases, func(a convention.Alias) bool {
				return a.HasThen && strings.TrimSuffix(a.Pattern, "/*") == strings.TrimSuffix(m.More.Alias, "/*")
			}) {
				continue
			}
			if f := fateOf(g.Tree, n.Targets[i].Folder(), moves); f.torn && !f.remains {
				out = append(out, fmt.Sprintf("%s:%s: the alias %s stands for %s, whose files go to %s and %s; a plan needs to know what it stands for then: aliases: { %q: { then: … } }",
					g.Tree.Path(project.FileID(id)), g.Position(graph.Reference{From: project.FileID(id), Mention: i}), m.More.Alias, n.Targets[i].Folder(), f.places[0], f.places[1], m.More.Alias))
			}
		}
	}
	return slices.Compact(out)
}

// ownFolder says whether a mention is the file's own folder.
func ownFolder(m *lang.Mention) bool { return m.Text == "." || m.Text == "./" }

// widen puts the places that a torn folder's files go to beside it into its list, or instead of it.
func (b *builder) widen(d *draft, ref graph.Reference, torn *fate) bool {
	n := &b.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	var covered []string // what the list has anyway
	for i := range n.Mentions {
		other := &n.Mentions[i]
		if other.More == nil || other.More.List != m.More.List || i == ref.Mention {
			continue
		}
		p := path.Join(path.Dir(b.tree.Path(ref.From)), strings.TrimSuffix(strings.TrimSuffix(other.Text, "/*"), "/**"))
		covered = append(covered, p)
	}
	places := b.placesOf(before.Folder(), covered)
	if torn.remains {
		places = append([]string{before.Folder()}, places...)
	}
	var texts []string
	for _, place := range places {
		spelling, ok := d.after.Resolver(m).Spell(lang.Respelling{
			Old: b.Graph.Resolver(m), OldFrom: ref.From, From: d.newID[ref.From], Before: before, Target: lang.Folder(place), Mention: m,
		})
		text, fits := lang.Encode(spelling.Text, m)
		if !ok || !fits {
			return false
		}
		texts = append(texts, text)
	}
	if len(texts) == 0 {
		return b.dropElement(d, ref)
	}
	if len(texts) > 1 || texts[0] != m.Text {
		d.edits[ref.From] = append(d.edits[ref.From], change{
			edit: source.Edit{Span: m.Span, New: strings.Join(texts, `", "`)}, mention: ref.Mention, target: before, to: strings.Join(places, ", "),
		})
	}
	return true
}

// dropElement takes an element out of its list, with the comma and blanks up to its neighbour.
func (b *builder) dropElement(d *draft, ref graph.Reference) bool {
	n := &b.Graph.Files[ref.From]
	m := &n.Mentions[ref.Mention]
	inList := func(i int) bool {
		return i >= 0 && i < len(n.Mentions) && n.Mentions[i].More != nil && n.Mentions[i].More.List == m.More.List
	}
	span := source.Span{Start: m.Span.Start - 1, End: m.Span.End + 1}
	switch {
	case inList(ref.Mention + 1):
		span.End = n.Mentions[ref.Mention+1].Span.Start - 1
	case inList(ref.Mention - 1):
		span.Start = n.Mentions[ref.Mention-1].Span.End + 1
	default:
		return false
	}
	d.edits[ref.From] = append(d.edits[ref.From], change{edit: source.Edit{Span: span}, mention: -1, kind: m.Kind.String(), target: n.Targets[ref.Mention]})
	return true
}

// placesOf gives the folders outside of dir that its files go to, as few as hold nothing else, without what is covered.
func (b *builder) placesOf(dir string, covered []string) []string {
	places := map[string]bool{}
	from, to := b.tree.Below(dir)
	for id := from; id < to; id++ {
		now, moves := b.moves[id]
		if !moves || strings.HasPrefix(now, dir+"/") || slices.ContainsFunc(covered, func(c string) bool { return strings.HasPrefix(now, c+"/") }) {
			continue
		}
		place := path.Dir(now)
		for up := path.Dir(place); up != "." && b.onlyFrom(up, dir); up = path.Dir(up) {
			place = up
		}
		places[place] = true
	}
	all := slices.Sorted(maps.Keys(places))
	return slices.DeleteFunc(slices.Clone(all), func(p string) bool {
		return slices.ContainsFunc(all, func(q string) bool { return strings.HasPrefix(p, q+"/") })
	})
}

// onlyFrom says whether all that lies in a folder after the moves comes from another folder.
func (b *builder) onlyFrom(place, dir string) bool {
	from, to := b.tree.Below(place)
	for id := from; id < to; id++ {
		if _, moves := b.moves[id]; !moves {
			return false
		}
	}
	for id, now := range b.moves {
		if strings.HasPrefix(now, place+"/") && !strings.HasPrefix(b.tree.Path(id), dir+"/") {
			return false
		}
	}
	return true
}
