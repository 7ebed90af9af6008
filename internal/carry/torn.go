package carry

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// tornApart deals with a mention of a folder whose files go to several places. A list of folders gets an element for
// each of them; an alias stays if its folder does; all other certain mentions keep the files where they are.
func (w *worker) tornApart(d *Draft, ref graph.Reference, torn *fate) {
	n := &w.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	places := torn.places[0] + ", " + torn.places[1]
	switch {
	case m.Kind.Is(lang.Ignores) && torn.remains: // it holds for what is left
		return
	case ownFolder(m) && torn.remains: // a file that speaks of its own folder speaks of what is left in it
		return
	case m.Likely || m.Kind.Is(lang.Ignores): // it stops no move, and is listed
		w.leaveAsIs(d, ref, places, "the folder's files go to several places")
		return
	case m.Alias() != "":
		if !torn.remains { // else what leaves the folder is spelled anew, and the alias is right for what stays
			w.open = append(w.open, fmt.Sprintf("%s:%s: the alias %s stands for %s, whose files go to %s and %s; say "+
				"in the convention what it stands for afterwards: aliases: { %q: { then: … } }",
				w.tree.Path(ref.From), w.Graph.Position(ref), m.Alias(), before.Folder(), torn.places[0],
				torn.places[1], m.Alias()))
		}
		return
	case m.List() > 0 && m.Form == lang.InJSON && w.widen(d, ref, torn):
		return
	}
	reason := fmt.Sprintf("%s:%s names the folder %s as %q, and its files would go to %s and %s",
		w.tree.Path(ref.From), w.Graph.Position(ref), before.Folder(), m.Text, torn.places[0], torn.places[1])
	w.refuseBelow(before.Folder(), reason)
}

// TornAliases gives what a plan would refuse: aliases whose folders are emptied to several places, of which the
// convention does not say what they stand for afterwards.
func TornAliases(g *graph.Graph, moves map[project.FileID]string) []string {
	var out []string
	come := sync.OnceValue(func() arrivals { return newArrivals(moves) })
	for id := range g.Files {
		n := &g.Files[id]
		for i := range n.Mentions {
			m := &n.Mentions[i]
			if m.Alias() == "" || m.Likely || n.Targets[i].Kind != lang.ToFolder || n.Targets[i].Folder() == "." {
				continue
			}
			if _, said := aliasTarget(g.Tree, g.Declared, project.FileID(id), m); said {
				continue
			}
			if g.Declared.SaysThen(m.Alias()) {
				continue
			}
			if f := fateOf(g.Tree, n.Targets[i].Folder(), moves, come); f.torn && !f.remains {
				out = append(out, fmt.Sprintf("%s:%s: the alias %s stands for %s, whose files go to %s and %s; a plan "+
					"needs to know what it stands for then: aliases: { %q: { then: … } }",
					g.Tree.Path(project.FileID(id)), g.Position(graph.Reference{From: project.FileID(id), Mention: i}),
					m.Alias(), n.Targets[i].Folder(), f.places[0], f.places[1], m.Alias()))
			}
		}
	}
	return slices.Compact(out)
}

// ownFolder says whether a mention is the file's own folder.
func ownFolder(m *lang.Mention) bool { return m.Text == "." || m.Text == "./" }

// widen puts the places that a torn folder's files go to beside it into its list, or instead of it.
func (w *worker) widen(d *Draft, ref graph.Reference, torn *fate) bool {
	n := &w.Graph.Files[ref.From]
	m, before := &n.Mentions[ref.Mention], n.Targets[ref.Mention]
	var covered []string // what the list has anyway
	for i := range n.Mentions {
		other := &n.Mentions[i]
		if other.List() != m.List() || i == ref.Mention {
			continue
		}
		p := path.Join(path.Dir(w.tree.Path(ref.From)), strings.TrimSuffix(strings.TrimSuffix(other.Text, "/*"), "/**"))
		covered = append(covered, p)
	}
	places := w.placesOf(before.Folder(), covered)
	if torn.remains { // the old folder is still one of them
		places = append([]string{before.Folder()}, places...)
	}
	var texts []string
	for _, place := range places {
		spelling, ok := d.After.Resolver(m).Spell(lang.Respelling{
			Old: w.Graph.Resolver(m), OldFrom: ref.From, From: d.NewID[ref.From], Before: before,
			Target: lang.Folder(place), Mention: m,
		})
		text, fits := lang.Encode(spelling.Text, m)
		if !ok || !fits {
			return false
		}
		texts = append(texts, text)
	}
	if len(texts) == 0 {
		return w.dropElement(d, ref)
	}
	if len(texts) > 1 || texts[0] != m.Text {
		d.Edits[ref.From] = append(d.Edits[ref.From], Change{
			Edit: source.Edit{Span: m.Span, New: strings.Join(texts, `", "`)}, Mention: ref.Mention, Target: before,
			To: strings.Join(places, ", "),
		})
	}
	return true
}

// spread writes a pattern for each of the places that the files of one go to, if these find the same files together.
// Several need a list to stand in.
func (w *worker) spread(d *Draft, request lang.Respelling) (text string, ok bool) {
	m, folder := request.Mention, request.Before.Folder()
	head, rest := "", m.Text
	for _, mark := range []string{"!", "<rootDir>/"} {
		if after, is := strings.CutPrefix(rest, mark); is {
			head, rest = head+mark, after
		}
	}
	star := strings.IndexAny(rest, "*?[{(")
	slash := strings.LastIndexByte(rest[:max(0, star)], '/')
	if slash < 0 || path.Join(path.Dir(w.tree.Path(request.OldFrom)), rest[:slash]) != folder {
		return "", false
	}
	places := w.placesOf(folder, nil)
	if d.moved.folder(folder).remains {
		places = append([]string{folder}, places...)
	}
	var texts []string
	found := map[project.FileID]bool{}
	for _, place := range places {
		one := *m
		one.Text = lang.Relative(path.Dir(d.After.Tree.Path(request.From)), place)
		if !lang.IsRelative(rest) {
			one.Text = strings.TrimPrefix(one.Text, "./")
		}
		one.Text = head + one.Text + rest[slash:]
		t := d.After.Resolver(m).Resolve(request.From, &one)
		if t.Kind != lang.ToSet {
			return "", false
		}
		for _, id := range t.Set() {
			if !d.moved.written(id) {
				found[id] = true
			}
		}
		texts = append(texts, one.Text)
	}
	if !slices.Equal(slices.Sorted(maps.Keys(found)), request.Target.Set()) || len(texts) > 1 && !w.inList(request.OldFrom, m) {
		return "", false
	}
	quote := string(m.Quote)
	return strings.Join(texts, quote+", "+quote), true
}

// inList says whether a text is an element of a list in brackets: a member of an object has a colon before it. What has a
// comma before it in a program may be something else.
func (w *worker) inList(id project.FileID, m *lang.Mention) (is bool) {
	if m.Quote == 0 || m.Form != lang.InJSON && m.Form != lang.InScript {
		return false
	}
	w.tree.Peek(id, func(content []byte, err error) {
		before := strings.TrimRight(string(content[:max(0, m.Span.Start-1)]), " \t\r\n")
		is = strings.HasSuffix(before, "[") || m.Form == lang.InJSON && strings.HasSuffix(before, ",")
	})
	return is
}

// dropElement takes an element out of its list, with the comma and blanks up to its neighbour.
func (w *worker) dropElement(d *Draft, ref graph.Reference) bool {
	n := &w.Graph.Files[ref.From]
	m := &n.Mentions[ref.Mention]
	inList := func(i int) bool {
		return i >= 0 && i < len(n.Mentions) && n.Mentions[i].List() == m.List()
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
	d.Edits[ref.From] = append(d.Edits[ref.From], Change{Edit: source.Edit{Span: span}, Mention: -1,
		Kind: m.Kind.String(), Target: n.Targets[ref.Mention]})
	return true
}

// placesOf gives the folders outside of dir that its files go to, as few as hold nothing else, without what is covered.
func (w *worker) placesOf(dir string, covered []string) []string {
	skipped := map[string]bool{}
	for _, c := range covered {
		skipped[c] = true
	}
	come := w.arriving()
	from, to := w.tree.Below(dir)
	alone := map[string]bool{} // whether all that lies in a folder after the moves comes from dir
	onlyFrom := func(place string) bool {
		only, known := alone[place]
		if !known {
			only = !stays(w.tree, place, w.moves) && come.onlyOf(place, from, to)
			alone[place] = only
		}
		return only
	}
	places := map[string]bool{}
	for id := from; id < to; id++ {
		now, moves := w.moves[id]
		if !moves || strings.HasPrefix(now, dir+"/") || project.InOneOf(skipped, now) {
			continue
		}
		place := path.Dir(now)
		// the highest folder that holds nothing else says the same in fewer words
		for up := path.Dir(place); up != "." && onlyFrom(up); up = path.Dir(up) {
			place = up
		}
		places[place] = true
	}
	return slices.DeleteFunc(slices.Sorted(maps.Keys(places)),
		func(p string) bool { return project.InOneOf(places, p) })
}

// stays says whether a file of a folder does not move.
func stays(tree *project.Project, dir string, moves map[project.FileID]string) bool {
	from, to := tree.Below(dir)
	for id := from; id < to; id++ {
		if _, moved := moves[id]; !moved {
			return true
		}
	}
	return false
}

// arrivals are moves in the order of where they lead.
type arrivals []arrival

type arrival struct {
	to string
	id project.FileID
}

func newArrivals(moves map[project.FileID]string) arrivals {
	all := make(arrivals, 0, len(moves))
	for id, to := range moves {
		all = append(all, arrival{to, id})
	}
	slices.SortFunc(all, func(x, y arrival) int { return cmp.Or(strings.Compare(x.to, y.to), int(x.id)-int(y.id)) })
	return all
}

// arriving are the moves in the order of where they lead.
func (w *worker) arriving() arrivals {
	if w.come == nil {
		w.come = newArrivals(w.moves)
	}
	return w.come
}

// onlyOf says whether all that comes below a folder has an ID from one up to another.
func (a arrivals) onlyOf(dir string, from, to project.FileID) bool {
	at, _ := slices.BinarySearchFunc(a, dir+"/",
		func(x arrival, place string) int { return strings.Compare(x.to, place) })
	for ; at < len(a) && strings.HasPrefix(a[at].to, dir+"/"); at++ {
		if a[at].id < from || a[at].id >= to {
			return false
		}
	}
	return true
}
