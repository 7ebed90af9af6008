package csharp

import (
	"bytes"
	"cmp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
)

// Settle writes the namespaces of a file, its usings and the names behind them, so that each name stands for the same
// type: what the file used without a word because its namespace had it gains a using, or is named in full where another
// would be meant.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	old.index()
	r.index()
	was, now := old.ix.files[q.OldFrom], r.ix.files[q.From]
	if isPage(r.tree.Path(q.From)) {
		return r.settlePage(q, old)
	}
	if was == nil || now == nil || len(was.uses) != len(now.uses) || len(was.brings) != len(now.brings) {
		return nil, nil
	}
	s := settler{Resolver: r, Settling: q, old: old, was: was, now: now, Sheet: imports.NewSheet(q, settles)}
	s.with = fresh{level: s.home(), brings: slices.Clone(now.brings)}
	for _, u := range was.units { // usings of the whole project, whose texts are not written yet
		for _, b := range old.globals[u] {
			if b.alias == "" && !b.static && b.known && b.space != "" {
				if goal, follows, _ := s.becomes(b.space, false); follows {
					s.with.also = append(s.with.also, goal)
				}
			}
		}
	}
	s.writeSpaces()
	s.aimUsings()
	s.bringAll()
	s.writeNames()
	s.writeUsings()
	return s.Done()
}

// settler settles one file.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	*imports.Sheet
	old      *Resolver
	was, now *entry

	with  fresh // the usings that it has then
	aims  []aim // what becomes of those that it has
	added []imports.New
}

// aim is what becomes of a using.
type aim struct {
	goal    string // what it names then
	removed bool
}

// home is the level of the file at which new usings are written: where most of those stand that it has, else the file.
func (s *settler) home() int {
	count := map[int]int{}
	best := 0
	for i := range s.was.usings {
		if one := &s.was.usings[i]; !one.global {
			if count[one.space]++; count[one.space] > count[best] {
				best = one.space
			}
		}
	}
	return best
}

// writeSpaces writes the namespaces of the file.
func (s *settler) writeSpaces() {
	for i := range s.was.file.spaces {
		one := &s.was.file.spaces[i]
		if i == 0 || s.now.spaces[i] == s.was.spaces[i] {
			continue
		}
		// of one that stands in another the rest is written
		text := s.now.spaces[i]
		if one.owner > 0 {
			rest, below := strings.CutPrefix(text, s.now.spaces[one.owner]+".")
			if !below {
				s.Fail(one.at.Start, "it stands in namespace %s, and would have to be called %s", s.was.spaces[one.owner], text)
				continue
			}
			text = rest
		}
		if !isSpace(text) {
			s.Fail(one.at.Start, "%s is no name that a namespace may have", text)
			continue
		}
		s.Edit(one.at, text)
	}
}

// isSpace says whether each part of a namespace is a name.
func isSpace(name string) bool {
	for part := range strings.SplitSeq(name, ".") {
		if part == "" || digit(part[0]) || reserved([]byte(part)) {
			return false
		}
		for i := range len(part) {
			if !ofName[part[i]] {
				return false
			}
		}
	}
	return true
}

// aimUsings says what the usings name then.
func (s *settler) aimUsings() {
	s.aims = make([]aim, len(s.was.usings))
	for i := range s.was.usings {
		one, b, a := &s.was.usings[i], &s.was.brings[i], &s.aims[i]
		a.goal = one.name
		if !b.known {
			continue
		}
		if len(b.types) > 0 {
			full := s.old.ix.files[b.types[0].file].nameOf(b.types[0].at)
			goal := s.goal(b.types, s.old, full)
			s.with.brings[i].types, s.with.brings[i].known = s.came(b.types), true
			s.with.brings[i].space = ""
			if goal != full || !s.stillNames(i, b) {
				a.goal = goal
				if rest := strings.TrimPrefix(s.fullName(one, b), full); rest != s.fullName(one, b) {
					a.goal += rest
				}
			}
			continue
		}
		space := b.space
		goal, follows, left := s.becomes(space, one.alias != "")
		switch {
		case follows:
			a.goal, space = goal, goal
			if one.alias == "" && !one.global && s.isOwn(goal) {
				a.removed = true // the file is of it
			}
		case left:
		case one.alias != "":
			s.Fail(one.at.Start, "what namespace %s has would be in several", space)
		default:
			a.removed = true // the namespace is gone, and a using of it would not compile
		}
		if a.removed {
			s.with.brings[i] = bring{level: one.space}
			continue
		}
		s.with.brings[i].space, s.with.brings[i].known, s.with.brings[i].types = space, true, nil
		if a.goal == one.name && s.now.brings[i].space != space { // it was found from a namespace around
			a.goal = space
		}
	}
	// one that is there already, or of the file's own namespace, is not written twice
	for i := range s.aims {
		if s.aims[i].removed || s.was.usings[i].alias != "" || s.was.usings[i].static || s.aims[i].goal == s.was.usings[i].name {
			continue
		}
		for k := range s.aims {
			if k != i && !s.aims[k].removed && s.was.usings[k].alias == "" && !s.was.usings[k].static &&
				s.with.brings[k].space == s.with.brings[i].space && s.was.usings[k].space == s.was.usings[i].space &&
				s.was.usings[k].global == s.was.usings[i].global && (s.aims[k].goal == s.was.usings[k].name || k < i) &&
				!s.conditional(k) {
				s.aims[i].removed = true
				s.with.brings[i] = bring{level: s.was.usings[i].space}
				break
			}
		}
	}
}

// becomes says what a using of a namespace names then, where it goes as a whole, and else whether something is left there.
func (s *settler) becomes(space string, alias bool) (goal string, follows, left bool) {
	goal, whole := s.spaceGoal(s.old, s.OldFrom, space)
	left = s.Resolver.ix.spaces[space] && s.seesSpace(s.From, space)
	if !whole || goal == space {
		return space, false, whole || left
	}
	alone := len(s.filesOf(s.From, goal)) == len(s.old.filesOf(s.OldFrom, space))
	return goal, !left || alone && !alias && !s.hasOwn(space), left
}

// isOwn says whether all that the file declares is of a namespace, or of one below it.
func (s *settler) isOwn(space string) bool {
	for i := range s.now.types {
		if !within(s.now.spaces[s.now.types[i].space], space) {
			return false
		}
	}
	return len(s.now.types) > 0
}

// hasOwn says whether something is left in a namespace itself.
func (s *settler) hasOwn(space string) bool {
	for _, id := range s.Resolver.ix.own[space] {
		if s.now.sees(s.Resolver.ix.files[id]) {
			return true
		}
	}
	return false
}

// fullName is what a using of a type names, in full.
func (s *settler) fullName(one *using, b *bring) string {
	full := s.old.ix.files[b.types[0].file].nameOf(b.types[0].at)
	if strings.HasSuffix("."+full, "."+one.name) {
		return full
	}
	return one.name
}

// stillNames says whether a using of a type names the same without a change.
func (s *settler) stillNames(i int, b *bring) bool {
	return slices.Equal(s.now.brings[i].types, s.came(b.types))
}

// came gives types as they are in the new tree.
func (s *settler) came(all []declared) (out []declared) {
	for _, d := range all {
		if now, here := s.cameTo(d, s.old); here {
			out = append(out, now)
		}
	}
	slices.SortFunc(out, func(a, b declared) int { return cmp.Or(int(a.file)-int(b.file), a.at-b.at) })
	return out
}

// same says whether two lists of types are alike, in whatever order.
func same(a, b []declared) bool {
	if len(a) != len(b) {
		return false
	}
	for _, d := range a {
		if !slices.Contains(b, d) {
			return false
		}
	}
	return true
}

// bringAll finds the namespaces that names of the file need, and adds usings for them.
func (s *settler) bringAll() {
	for i := range s.was.uses {
		u := &s.was.uses[i]
		if u.named || u.doc {
			continue
		}
		f := s.old.means(s.OldFrom, s.was, u, nil)
		if len(f.all) == 0 || f.by == byFullName || f.by == byAlias || f.by == byType {
			continue
		}
		want := s.came(f.all)
		if len(want) == 0 || s.holds(i, want) {
			continue
		}
		s.bring(s.Resolver.ix.spaceOf(want[0]))
	}
	s.bringExtensions()
	// what a new using brings must not take the place of something else
	for {
		space, does := s.disturbs()
		if !does || !s.drop(space) {
			break
		}
	}
}

// holds says whether a use means what it must mean.
func (s *settler) holds(i int, want []declared) bool {
	f := s.means(s.From, s.now, &s.now.uses[i], &s.with)
	return !f.twice && same(f.all, want)
}

// bring adds a using.
func (s *settler) bring(space string) {
	if space != "" && !slices.Contains(s.with.spaces, space) && !slices.ContainsFunc(s.with.brings, func(b bring) bool {
		return b.space == space && b.alias == "" && !b.static && b.level == s.with.level && b.known
	}) {
		s.with.spaces = append(s.with.spaces, space)
	}
}

// bringExtensions adds usings for methods that extend others, and for those that the language calls by itself.
func (s *settler) bringExtensions() {
	called := map[string]int{}
	for i := range s.was.selects {
		one := &s.was.selects[i]
		if len(s.old.ix.extend[one.name]) > 0 {
			called[one.name] = int(one.space)
		}
	}
	for _, name := range silent {
		if _, known := called[name]; !known && len(s.old.ix.extend[name]) > 0 {
			called[name] = s.with.level
		}
	}
	for name, level := range called {
		for _, d := range s.old.extended(s.was, level, name, nil) {
			now, here := s.cameTo(d, s.old)
			if !here || slices.Contains(s.extended(s.now, level, name, &s.with), now) {
				continue
			}
			s.bring(s.Resolver.ix.spaceOf(now))
		}
	}
	slices.Sort(s.with.spaces)
}

// silent are methods that the language calls where no name stands: by foreach, await, deconstruction, collections and
// queries.
var silent = []string{"GetEnumerator", "GetAsyncEnumerator", "GetAwaiter", "Deconstruct", "Add", "Dispose", "DisposeAsync",
	"Select", "SelectMany", "Where", "OrderBy", "OrderByDescending", "ThenBy", "ThenByDescending", "GroupBy", "Join",
	"GroupJoin", "Cast", "GetPinnableReference", "Slice"}

// disturbs says which of the new usings makes a name mean something else, if one does.
func (s *settler) disturbs() (space string, does bool) {
	if len(s.with.spaces) == 0 {
		return "", false
	}
	for i := range s.was.uses {
		u := &s.was.uses[i]
		if u.named || u.doc || u.hidden {
			continue
		}
		first := partsOf(u.text, 1)
		if !s.Resolver.ix.named[first] {
			continue
		}
		f := s.old.means(s.OldFrom, s.was, u, nil)
		now := s.means(s.From, s.now, &s.now.uses[i], &s.with)
		switch {
		case f.by == byFullName || len(now.all) == 0 || f.soft:
			continue
		case len(f.all) > 0 && !now.twice && same(now.all, s.came(f.all)):
			continue
		}
		// the new using that has the name, and is not wanted for it
		want := ""
		if all := s.came(f.all); len(all) > 0 {
			want = s.Resolver.ix.spaceOf(all[0])
		}
		for _, one := range s.with.spaces {
			if one != want && len(s.typeNamed(s.From, one+"."+first, int(u.arity), u)) > 0 {
				return one, true
			}
		}
		for _, one := range s.with.spaces { // another using has the name too
			if one == want && now.twice {
				return one, true
			}
		}
	}
	return "", false
}

// drop takes a new using back: what it was for is named in full.
func (s *settler) drop(space string) bool {
	k := slices.Index(s.with.spaces, space)
	if k < 0 {
		return false
	}
	s.with.spaces = slices.Delete(s.with.spaces, k, k+1)
	return true
}

// writeNames writes the names that mean something else than they must.
func (s *settler) writeNames() {
	for i := range s.was.uses {
		u := &s.was.uses[i]
		if u.named {
			continue
		}
		f := s.old.means(s.OldFrom, s.was, u, nil)
		switch {
		case f.space != "" && len(f.all) == 0:
			s.keepSpace(i, u, f)
			continue
		case len(f.all) == 0:
			s.keepForeign(i, u)
			continue
		}
		want := s.came(f.all)
		if len(want) == 0 || s.holds(i, want) {
			continue
		}
		at := source.Span{Start: u.at.Start, End: int(s.was.ends[int(u.ends)+f.parts-1])}
		goal := s.goal(f.all, s.old, "")
		switch {
		case f.soft:
			s.Fail(u.at.Start, "%s is a type and a member here, and the type would not be seen", partsOf(u.text, 1))
			continue
		case u.mark && f.parts == int(u.parts):
			if !bytes.HasSuffix(s.Content[at.Start:at.End], []byte("Attribute")) {
				goal = strings.TrimSuffix(goal, "Attribute")
			}
		}
		s.Edit(at, s.rooted(i, u, goal))
	}
	s.checkExtensions()
}

// rooted is a name in full as it can be written at a place: with global:: where something around is called as its
// beginning.
func (s *settler) rooted(i int, u *use, goal string) string {
	if u.rooted || u.doc {
		return goal
	}
	look := s.now.uses[i]
	look.called, look.sure, look.mark, look.arity, look.alias = false, true, false, 0, false
	look.parts = 1
	look.text = partsOf(goal, 1)
	f := s.lookup(s.From, s.now, &look, look.text, 0, &s.with)
	hidden := f.by != byNothing && f.space != look.text || slices.ContainsFunc(s.was.types, func(d typeDecl) bool { return d.name == look.text })
	if hidden || s.isValue(s.From, s.now, int(u.owner), look.text) {
		return "global::" + goal
	}
	return goal
}

// keepSpace keeps the name of a namespace whose types are none of the tree.
func (s *settler) keepSpace(i int, u *use, f found) {
	now := s.means(s.From, s.now, &s.now.uses[i], &s.with)
	goal, whole := s.spaceGoal(s.old, s.OldFrom, f.space)
	if !whole {
		goal = f.space
	}
	if now.space == goal && len(now.all) == 0 || f.by == byAlias || u.doc {
		return
	}
	s.Edit(source.Span{Start: u.at.Start, End: int(s.was.ends[u.ends])}, s.rooted(i, u, goal))
}

// keepForeign keeps a name of a library from meaning something of the tree.
func (s *settler) keepForeign(i int, u *use) {
	if u.hidden || u.doc || u.called && u.parts == 1 {
		return
	}
	now := s.means(s.From, s.now, &s.now.uses[i], &s.with)
	first := partsOf(u.text, 1)
	switch {
	case len(now.all) > 0 && !now.soft:
		s.Fail(u.at.Start, "%s means one of a library, and would mean %s", first,
			s.Resolver.ix.files[now.all[0].file].nameOf(now.all[0].at))
	case now.space != "":
		s.Fail(u.at.Start, "%s means something else, and would mean the namespace %s", first, now.space)
	}
}

// checkExtensions says which methods that extend others would not be seen.
func (s *settler) checkExtensions() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != Extension {
			continue
		}
		o := lang.Own[own](m)
		now, here := s.cameTo(o.class, s.old)
		if here && !slices.Contains(s.extended(s.now, o.level, o.ext, &s.with), now) {
			s.Fail(m.Span.Start, "%s is a method of %s that extends others, and a using of its namespace would make another "+
				"name mean something else", o.ext, s.Resolver.ix.files[now.file].nameOf(now.at))
		}
	}
}
