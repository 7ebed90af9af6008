package php

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file writes names in strings and in files that are no PHP.

// writeTexts writes the strings of a file that are names, and the beginnings of names.
func (s *settler) writeTexts() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if !s.Before[i].Kind.Inside() {
			continue
		}
		switch m.Kind {
		case ClassText:
			if !settles(m) {
				continue
			}
			all, name := s.old.named(s.OldFrom, m.Text)
			if goal := s.goal(all, name); goal != name {
				s.Edit(m.Span, respelled(m.Text, name, goal, m.Quote))
			}
		case SpaceText:
			s.writeHead(i)
		case OwnFolder:
			s.writeFolder(i)
		}
	}
}

// writeHead writes the beginning of names, if all names that it can begin go to one namespace and keep the rest.
func (s *settler) writeHead(i int) {
	m := &s.Mentions[i]
	o := lang.Own[own](m)
	name := strings.Trim(unescaped(m.Text), `\`)
	if o.ahead {
		name = strings.Trim(join(s.was.spaces[o.block], name), `\`)
	}
	goals := s.spaceGoals(s.old, name, o.tail)
	goal, parts := "", len(goals) != 1 || goals[""]
	for g := range goals {
		goal = g
	}
	switch {
	case parts && m.Likely:
	case parts:
		s.Fail(m.Span.Start, "%s begins names that are put together when the program runs, and what they can name parts",
			m.Text)
	case o.ahead:
		rest, in := cutFold(goal+`\`, s.now.spaces[o.block]+`\`)
		if !in && !strings.EqualFold(goal, s.now.spaces[o.block]) {
			s.Fail(m.Span.Start, "%s is put behind the namespace of the file, and would begin elsewhere", m.Text)
			return
		}
		s.Edit(m.Span, respelled(m.Text, strings.Trim(unescaped(m.Text), `\`), strings.TrimSuffix(rest, `\`), m.Quote))
	case goal != name:
		s.Edit(m.Span, respelled(m.Text, name, goal, m.Quote))
	}
}

// spaceGoals gives what becomes of a namespace of an old tree, by all that is declared in it and ends with a text. An
// empty goal stands for what does not keep the rest of its name.
func (r *Resolver) spaceGoals(old *Resolver, name, tail string) map[string]bool {
	goals := map[string]bool{}
	for _, id := range old.index().within[strings.ToLower(name)] {
		e := old.ix.files[id]
		for i := range e.declared {
			full := e.nameOf(i)
			if len(full) <= len(name) || !strings.EqualFold(full[:len(name)+1], name+`\`) || !strings.HasSuffix(full, tail) {
				continue
			}
			head, same := strings.CutSuffix(r.goal([]declared{{id, i}}, full), full[len(name):])
			if !same {
				head = ""
			}
			goals[head] = true
		}
	}
	return goals
}

// respelled writes a name anew in a text: with as many \ in front and between its parts as the old one had.
func respelled(text, name, goal string, quote byte) string {
	front := len(text) - len(strings.TrimLeft(text, `\`))
	tail := text[front:]
	rest := ""
	if at := strings.IndexAny(tail, ":@"); at >= 0 {
		tail, rest = tail[:at], tail[at:]
	}
	body := strings.TrimRight(tail, `\`)
	rest = tail[len(body):] + rest
	between := `\`
	if strings.Contains(body, `\\`) || !strings.Contains(body, `\`) && (strings.HasSuffix(rest, `\\`) || quote == '"') {
		between = `\\`
	}
	if quote == '"' && between == `\` && escapes(goal) {
		between = `\\`
	}
	return text[:front] + strings.ReplaceAll(goal, `\`, between) + rest
}

// escapes says whether a part of a name would be read as an escape in a string in double quotes: \n of \nights.
func escapes(name string) bool {
	for i := 0; i+1 < len(name); i++ {
		if name[i] == '\\' && strings.IndexByte("nrtvefux01234567$\\", name[i+1]) >= 0 {
			return true
		}
	}
	return false
}

// Spell writes names in files that are no PHP, and paths.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	m := q.Mention
	old, ok := q.Old.(*Resolver)
	if x := lang.Own[pathOwn](m).expr; ok && x != nil {
		return r.spellPath(q, old, x)
	}
	if !ok || !q.Target.Kind.Inside() {
		return lang.Spelling{Text: m.Text}, ok
	}
	switch m.Kind {
	case Address:
		return r.spellAddress(q)
	case DocRoot, OnServer:
		return r.spellServed(q, old)
	case View, ViewText:
		return r.spellView(q)
	case ClassWord, ClassText:
		all, name := old.named(q.OldFrom, m.Text)
		goal := r.goal(all, name)
		return lang.Spelling{Text: respelled(m.Text, name, goal, m.Quote)}, goal != name
	case SpaceWord:
		name := strings.Trim(unescaped(m.Text), `\`)
		goals := r.spaceGoals(old, name, "")
		if goals[""] || len(goals) > 1 {
			return lang.Spelling{Text: m.Text}, len(r.index().within[strings.ToLower(name)]) > 0
		}
		for goal := range goals {
			if len(goals) == 1 && goal != "" {
				return lang.Spelling{Text: respelled(m.Text, name, goal, 0)}, true
			}
		}
	}
	return lang.Spelling{}, false
}

// spellPath writes a path anew.
func (r *Resolver) spellPath(q lang.Respelling, old *Resolver, x *pathExpr) (lang.Spelling, bool) {
	p := pathSpelling{old: old, now: r, oldFrom: q.OldFrom, from: q.From, expr: x, raw: q.Mention.Text,
		goes: func(folder string) string { return path.Dir(q.Goes(folder + "/x")) }}
	if p.raw == "." {
		p.raw = x.source
	}
	switch q.Target.Kind {
	case lang.ToFile:
		p.target = r.tree.Path(q.Target.File)
	case lang.ToFolder:
		p.target = q.Target.Folder()
	case lang.ToNothing: // it names what is no part of the tree, and keeps that place
		if old.tree.Path(q.OldFrom) == r.tree.Path(q.From) && q.Goes == nil || x.base != fromOwn || x.term != "" {
			return lang.Spelling{Text: q.Mention.Text}, true
		}
		place, ok := old.placeOf(q.OldFrom, x)
		if !ok { // outside of the project
			same := path.Dir(old.tree.Path(q.OldFrom)) == path.Dir(r.tree.Path(q.From))
			return lang.Spelling{Text: q.Mention.Text}, same
		}
		p.target = q.Goes(place)
		if now, ok := r.placeOf(q.From, x); ok && now == p.target {
			return lang.Spelling{Text: q.Mention.Text}, true
		}
	default:
		return r.spellSet(q, p)
	}
	text, ok := p.spell()
	return lang.Spelling{Text: text}, ok
}

// spellSet writes a path whose end is not known, or a pattern: all that it can lead to must lie in one folder, with the
// names that it had.
func (r *Resolver) spellSet(q lang.Respelling, p pathSpelling) (lang.Spelling, bool) {
	folder, ok := p.old.placeOf(q.OldFrom, p.expr)
	if !ok || len(q.Target.Set()) == 0 || len(q.Target.Set()) != len(q.Before.Set()) {
		return lang.Spelling{}, false
	}
	place := folder
	if p.expr.open && !strings.HasSuffix(p.expr.text, "/") {
		place = path.Dir(folder)
	} else if at := strings.IndexAny(folder, "*?[{"); at >= 0 && p.expr.purpose == forSet {
		place = path.Dir(folder[:at] + "x")
	}
	now := map[string]bool{}
	for _, id := range q.Target.Set() {
		now[r.tree.Path(id)] = true
	}
	first, _ := below(place, p.old.tree.Path(q.Before.Set()[0]))
	moves, found := "", false
	for to := range now {
		if head, is := strings.CutSuffix("/"+to, "/"+first); is {
			head = cmp.Or(strings.TrimPrefix(head, "/"), ".")
			all := !slices.ContainsFunc(q.Before.Set(), func(id project.FileID) bool {
				rest, _ := below(place, p.old.tree.Path(id))
				return !now[path.Join(head, rest)]
			})
			if all {
				moves, found = head, true
			}
		}
	}
	if !found {
		return lang.Spelling{}, false
	}
	p.target = path.Join(moves, strings.TrimPrefix(strings.TrimPrefix(folder, place), "/"))
	text, ok := p.spell()
	return lang.Spelling{Text: text}, ok
}

// writeFolder writes the folder that a constant or a variable stands for: where it goes if it goes as a whole, else the
// place that it is.
func (s *settler) writeFolder(i int) {
	m := &s.Mentions[i]
	x := lang.Own[pathOwn](m).expr
	target := s.Want[i].Folder()
	switch s.Want[i].Kind {
	case lang.ToFile:
		target = s.tree.Path(s.Want[i].File)
	case lang.ToNothing:
		target = s.Before[i].Folder()
	}
	p := pathSpelling{old: s.old, now: s.Resolver, oldFrom: s.OldFrom, from: s.From, expr: x,
		raw: string(s.Content[m.Span.Start:m.Span.End]), target: target, goes: s.goes}
	text, ok := p.spell()
	if !ok {
		s.Fail(m.Span.Start, "the folder that %s stands for can't be written from the new place", p.raw)
		return
	}
	s.Edit(m.Span, text)
}

func (s *settler) goes(folder string) string {
	if to, whole := s.Folder(folder); whole {
		return to
	}
	return folder
}
