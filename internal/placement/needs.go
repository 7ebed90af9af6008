package placement

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// needs says who needs the files of pools. Files of a pool that need one another are taken together, and what a file of
// the pool is needed for is handed on to the files that it needs. Everything is worked out when it is asked for, since
// who needs a file depends on where others belong.
type needs struct {
	placer *placer
	pools  map[*convention.Pool]*poolNeeds
	sights sights
	line   int // of the convention: the last question, for messages
}

// sights are what was seen of the files in a folder, from the instances of a shelf.
type sights map[sight]summary

type sight struct {
	shelf  *convention.Shelf
	folder string
}

// poolNeeds is one pool, condensed.
type poolNeeds struct {
	components []int              // of each file of the tree; notMember for one that is not of the pool
	outside    [][]project.FileID // by component: files that are not of the pool and need it
	inside     [][]int            // by component: others of the pool that need it
	summaries  map[*convention.Shelf][]summary
	complete   map[*convention.Shelf]bool // all summaries are known
}

const notMember = -1

// summary is who needs a component, seen from the instances of one shelf.
type summary struct {
	state state
	how   convention.Needers
	key   string            // of the instance, for one
	by    template.Captures // what it captures
	file  project.FileID    // a file that needs it, for messages; project.None for none
}

func newNeeds(p *placer) *needs {
	return &needs{placer: p, pools: map[*convention.Pool]*poolNeeds{}, sights: sights{}}
}

// needed judges a file by needed_by, and adds what the instance that needs it captures.
func (p *placer) needed(t *convention.Take, id project.FileID, e *entry) bool {
	n := p.needs
	pool := n.pool(t.Pool)
	component := pool.components[id]
	if component == notMember {
		return false
	}
	s := n.summary(pool, t.NeededBy.Shelf, component)
	if s.how != t.NeededBy.How {
		return false
	}
	if s.how == convention.NeededByOne {
		e.captures, _ = overrides(e.captures, template.Captures{Values: s.by.Values})
	}
	e.because = s.text(t.NeededBy.Shelf)
	return true
}

// text says who needs a file, seen from the instances of a shelf.
func (s *summary) text(shelf *convention.Shelf) string {
	switch {
	case s.how == convention.NeededByOne:
		return fmt.Sprintf("only %s needs it", strings.TrimSuffix(shelf.At.Fill(s.by.Values), "/"))
	case s.how == convention.NeededByNone:
		return "nobody needs it"
	case s.file != project.None:
		return fmt.Sprintf("more than one of %s needs it, or another shelf", shelf.Name)
	}
	return "several need it"
}

// who says who needs a file of a pool.
func (p *placer) who(t *convention.Take, id project.FileID) string {
	pool := p.needs.pool(t.Pool)
	if pool.components[id] == notMember {
		return "it is not of the pool"
	}
	s := p.needs.summary(pool, t.NeededBy.Shelf, pool.components[id])
	return s.text(t.NeededBy.Shelf)
}

// summary says who needs a component. One of the pool that needs it passes on who needs that.
func (n *needs) summary(pool *poolNeeds, shelf *convention.Shelf, component int) summary {
	if pool.summaries[shelf] == nil {
		pool.summaries[shelf] = make([]summary, len(pool.outside))
	}
	s := &pool.summaries[shelf][component]
	switch s.state {
	case known:
		return *s
	case asked: // only through the homes of files outside the pool can the question come back
		n.placer.inCircle("the files of a pool that need one another")
		return *s
	}
	s.state = asked
	out := pool.fromOutside(component,
		func(user project.FileID) summary { return n.sights.from(shelf, n.placer.homeOf(user)) })
	for _, user := range pool.inside[component] {
		out.add(n.summary(pool, shelf, user))
	}
	pool.summaries[shelf][component] = out
	return out
}

// fromOutside says who needs a component by its users outside the pool: seen says where the home of one is.
func (p *poolNeeds) fromOutside(component int, seen func(user project.FileID) summary) summary {
	out := summary{state: known, file: project.None}
	for _, user := range p.outside[component] {
		one := seen(user)
		one.file = user
		out.add(one)
	}
	return out
}

// from says in which instance of the shelf a home is: one, or another place, which counts as many.
func (seen sights) from(shelf *convention.Shelf, home *Home) summary {
	if shelf == nil || shelf.AtFile {
		return sighted(shelf, home.Path)
	}
	at := sight{shelf, project.Dir(home.Path)}
	s, known := seen[at]
	if !known {
		s = sighted(shelf, home.Path)
		seen[at] = s
	}
	return s
}

func sighted(shelf *convention.Shelf, home string) summary {
	many := summary{how: convention.NeededByMany}
	if shelf == nil {
		return many
	}
	c, ok := shelf.At.Match(home)
	if !ok {
		return many
	}
	var key strings.Builder
	for _, name := range shelf.At.Names() {
		key.WriteString(strings.Join(template.Words(c.Values[name]), " ") + "\x00")
	}
	return summary{how: convention.NeededByOne, key: key.String(), by: c}
}

func (s *summary) add(other summary) {
	switch {
	case other.how == convention.NeededByNone:
	case s.how == convention.NeededByNone:
		s.how, s.key, s.by, s.file = other.how, other.key, other.by, other.file
	case s.how == convention.NeededByOne && other.how == convention.NeededByOne && s.key == other.key:
	default:
		s.how = convention.NeededByMany
	}
}

// pool condenses a pool: its files, by their current places, and who needs them.
func (n *needs) pool(pool *convention.Pool) *poolNeeds {
	if known := n.pools[pool]; known != nil {
		return known
	}
	files, index := n.members(pool)
	users := n.users(pool, len(files), index)
	needers := make([][]int, len(files)) // within the pool
	for i := range files {
		for _, user := range users.of(i) {
			if j := index[user]; j != notMember {
				needers[i] = append(needers[i], j)
			}
		}
	}
	components := graph.Components(len(files), func(i int) []int { return needers[i] })
	out := &poolNeeds{
		components: slices.Repeat([]int{notMember}, len(index)), outside: make([][]project.FileID, len(components)),
		inside:    make([][]int, len(components)),
		summaries: map[*convention.Shelf][]summary{}, complete: map[*convention.Shelf]bool{},
	}
	of := make([]int, len(files)) // components of the members
	for c, members := range components {
		for _, i := range members {
			of[i] = c
		}
	}
	for id, i := range index {
		if i != notMember {
			out.components[id] = of[i]
		}
	}
	for c, members := range components {
		for _, i := range members {
			for _, user := range users.of(i) {
				switch other := out.components[user]; other {
				case c:
				case notMember:
					out.outside[c] = append(out.outside[c], user)
				default:
					out.inside[c] = append(out.inside[c], other)
				}
			}
		}
		slices.Sort(out.inside[c])
		out.inside[c] = slices.Compact(out.inside[c])
	}
	n.pools[pool] = out
	return out
}

// members gives the files of a pool, and of each file of the tree its place among them; notMember for one that is not
// of the pool.
func (n *needs) members(pool *convention.Pool) (files []project.FileID, index []int) {
	p := n.placer
	for _, part := range parallel.Parts(len(p.tree.Files), func(from, to int) (in []project.FileID) {
		for id := project.FileID(from); id < project.FileID(to); id++ {
			if p.of(p.tree.Path(id)) != p {
				continue
			}
			if _, ok := p.inPool(pool, p.subject(id)); ok {
				in = append(in, id)
			}
		}
		return in
	}) {
		files = append(files, part...)
	}
	// of a folder that is one thing one file stands for all: who needs another needs it
	files = slices.DeleteFunc(files, p.isLed)
	index = slices.Repeat([]int{notMember}, len(p.tree.Files))
	for i, id := range files {
		index[id] = i
	}
	for _, u := range p.units {
		for _, id := range u.files {
			index[id] = index[u.lead]
		}
	}
	return files, index
}

// users says who refers to the members of a pool by certain mentions.
func (n *needs) users(pool *convention.Pool, members int, index []int) *memberUsers {
	g := n.placer.graph
	type use struct {
		member int
		user   project.FileID
	}
	member := func(id project.FileID) bool { return index[id] != notMember }
	used := parallel.Parts(len(g.Files), func(from, to int) (out []use) {
		var targets []project.FileID
		for user := project.FileID(from); user < project.FileID(to); user++ {
			targets = usedBy(g, user, pool.Counts, member, targets[:0])
			for _, target := range targets {
				out = append(out, use{index[target], user})
			}
		}
		return out
	})
	out := &memberUsers{starts: make([]int, members+1)}
	for _, part := range used {
		for _, u := range part {
			out.starts[u.member+1]++
		}
	}
	for i := range members {
		out.starts[i+1] += out.starts[i]
	}
	out.all = make([]project.FileID, out.starts[members])
	next := slices.Clone(out.starts)
	for _, part := range used {
		for _, u := range part {
			out.all[next[u.member]] = u.user
			next[u.member]++
		}
	}
	return out
}

// memberUsers are who refers to each member of a pool.
type memberUsers struct {
	starts []int // where those of each member begin in all
	all    []project.FileID
}

// of gives who refers to a member, in the order of their paths.
func (u *memberUsers) of(member int) []project.FileID {
	return u.all[u.starts[member]:u.starts[member+1]]
}

// complete works out who needs the pools of a convention's entries as far as that depends on homes that are known, so
// that files which ask for nothing else can be judged at one time.
func (n *needs) complete() {
	for _, s := range n.placer.convention.Shelves {
		for i := range s.Takes {
			if t := &s.Takes[i]; t.NeededBy != nil {
				n.completePool(n.pool(t.Pool), t.NeededBy.Shelf)
			}
		}
	}
}

func (n *needs) completePool(pool *poolNeeds, shelf *convention.Shelf) {
	for _, users := range pool.outside {
		for _, user := range users {
			if n.placer.states[n.placer.whose(user)] != known {
				return
			}
		}
	}
	w := n.placer.world
	seen := make([]*summary, len(w.homes))
	parallel.Ranges(len(seen), func(from, to int) {
		var folder byFolder[*summary]
		for id := from; id < to; id++ {
			if w.states[id] == known {
				seen[id] = folder.of(n.placer.convention, w.homes[id].Path,
					func() *summary { s := sighted(shelf, w.homes[id].Path); return &s })
			}
		}
	})
	all := make([]summary, len(pool.outside))
	parallel.Do(len(all), func(c int) {
		all[c] = pool.fromOutside(c, func(user project.FileID) summary { return *seen[w.whose(user)] })
	})
	for c, users := range pool.inside { // each comes behind those that need it
		for _, user := range users {
			all[c].add(all[user])
		}
	}
	pool.summaries[shelf], pool.complete[shelf] = all, true
}

// tells says whether who needs the files of an entry's pool is known of all.
func (n *needs) tells(t *convention.Take) bool {
	pool := n.pools[t.Pool]
	return pool != nil && pool.complete[t.NeededBy.Shelf]
}

// usedBy adds the wanted files that a file uses, each once. Files that only re-export are seen through; they, tests and
// stories use none unless they count.
func usedBy(g *graph.Graph, user project.FileID, counts []string, wanted func(project.FileID) bool,
	out []project.FileID) []project.FileID {
	node := &g.Files[user]
	if len(node.Targets) == 0 {
		return out
	}
	file := g.Tree.Path(user)
	if g.Languages.IsTest(file) && !slices.Contains(counts, convention.CountTests) ||
		g.Languages.Shows(file) && !slices.Contains(counts, convention.CountStories) ||
		g.HandsOn(user) && !slices.Contains(counts, convention.CountIndexes) {
		return out
	}
	for i, t := range node.Targets {
		if node.Mentions[i].Kind.Is(lang.Packed) {
			for _, id := range t.Set() {
				if wanted(id) {
					out = append(out, id)
				}
			}
		}
		if t.Kind == lang.ToFile && !node.Mentions[i].Likely && !node.Mentions[i].Kind.Is(lang.Brought) {
			out = g.Meant(graph.Reference{From: user, Mention: i}, t.File, wanted, out)
		}
	}
	slices.Sort(out)
	return slices.DeleteFunc(slices.Compact(out), func(target project.FileID) bool { return target == user })
}
