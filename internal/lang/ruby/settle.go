package ruby

import (
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
)

// Settle writes the modules of a file and its constants, so that each constant stands for the same thing.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	old.index()
	r.index()
	was, now := old.ix.files[q.OldFrom], r.ix.files[q.From]
	if was == nil || now == nil || len(was.file.spaces) != len(now.file.spaces) {
		return nil, []lang.Failed{{Mention: slices.IndexFunc(q.Mentions, func(m lang.Mention) bool { return settles(&m) }),
			Why: "what it says after other edits is not known"}}
	}
	s := settler{Resolver: r, Settling: q, old: old, was: was, now: now, Sheet: imports.NewSheet(q, settles)}
	if now.shape.why != "" {
		s.Fail(0, "%s", now.shape.why)
	}
	now.shape.write(q.Content, now, s.Edit)
	s.open()
	for i := range was.uses {
		s.write(&was.uses[i])
	}
	return s.Done()
}

// settler settles one file.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	*imports.Sheet
	old      *Resolver
	was, now *entry
}

// open writes the names of modules that other files define, and this one adds to.
func (s *settler) open() {
	for i := 1; i < len(s.was.spaces); i++ {
		one := &s.was.file.spaces[i]
		full := s.was.spaces[i]
		if full == "" || s.now.spaces[i] != full || s.was.surrounds(i) {
			continue
		}
		t := s.old.target(full)
		if t.Kind != lang.ToFile || t.File == s.OldFrom || s.old.ix.files[t.File].wants != full {
			continue
		}
		switch goal := s.becomes(s.old, full); {
		case goal == full || goal == "":
		case one.owner == 0:
			s.Edit(one.at, goal)
		default:
			s.Fail(one.at.Start, "it adds to %s, which would be called %s", full, goal)
		}
	}
}

// write writes one constant.
func (s *settler) write(u *use) {
	m := s.old.means(s.was, u.text, int(u.space))
	if m.full == "" {
		s.keepForeign(u)
		return
	}
	if s.Covers(u.at.Start) { // a part of the name of a module that is written already
		return
	}
	if !s.old.target(m.full).Kind.Inside() { // a module that no file defines, which Owes follows
		return
	}
	goal := s.becomes(s.old, m.full)
	if goal == "" {
		s.Fail(u.at.Start, "%s would get another name in one file and not in another", m.full)
		return
	}
	old := firstParts(u.text, m.parts)
	at := source.Span{Start: u.at.Start, End: u.at.Start + lengthOf(s.Content, u.at, old)}
	if text := s.spelling(old, goal, int(u.space)); text != old {
		s.Edit(at, text)
	}
}

// spelling is the text by which a constant is called at a place: the old one if it means the same, else as many parts of
// the name as the old one had, or all of it.
func (s *settler) spelling(old, goal string, space int) string {
	means := func(text string) bool {
		m := s.Resolver.means(s.now, text, space)
		parts, _ := partsOf(text)
		return m.full == goal && m.parts == len(parts)
	}
	if means(old) {
		return old
	}
	parts, rooted := partsOf(old)
	if rooted {
		return "::" + goal
	}
	all := strings.Split(goal, "::")
	for n := len(parts); n <= len(all); n++ {
		if text := strings.Join(all[max(0, len(all)-n):], "::"); means(text) {
			return text
		}
	}
	if means(goal) {
		return goal
	}
	return "::" + goal
}

// keepForeign keeps a constant of a library from meaning one of the tree.
func (s *settler) keepForeign(u *use) {
	m := s.Resolver.means(s.now, u.text, int(u.space))
	if m.full == "" || strings.HasPrefix(u.text, "::") {
		return
	}
	if before := s.old.means(s.was, u.text, int(u.space)); before.full == "" {
		s.Edit(source.Span{Start: u.at.Start, End: u.at.Start}, "::")
	}
}
