package php

import (
	"cmp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
)

// Settle writes the namespace of a file, its imports and the names behind them, so that each name stands for the same
// declaration: what the file used without an import because it was a neighbour gains one, and an import is dropped only
// where its name would be taken.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	was, now := old.index().files[q.OldFrom], r.index().files[q.From]
	if was == nil || now == nil || len(was.uses) != len(now.uses) {
		return nil, nil
	}
	s := settler{Resolver: r, Settling: q, old: old, was: was, now: now, Sheet: imports.NewSheet(q, settles)}
	s.labels()
	// a block has names of its own: what one of them imports another does not see
	for i := range was.blocks {
		s.settleBlock(i)
	}
	s.writeTexts()
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

// labels writes the namespace and the class by which the file is found.
func (s *settler) labels() {
	if s.was.label < 0 || s.was.label >= len(s.now.declared) {
		return
	}
	d := &s.was.declared[s.was.label]
	b := &s.was.blocks[d.block]
	if s.now.loose {
		s.Fail(cmp.Or(b.at.Start, d.at.Start), "%s is found by its place, and no root of the autoloader holds the new one",
			s.was.name(d))
		return
	}
	space := s.now.spaces[d.block]
	switch {
	case strings.EqualFold(space, b.name):
	case b.at.Len() == 0:
		s.Fail(d.at.Start, "%s has no namespace, and would need %s to be found there", d.name, space)
	case space == "":
		s.Fail(b.at.Start, "%s would stand in no namespace, and names in a file without one mean something else", d.name)
	case !isSpace(space):
		s.Fail(b.at.Start, "%s is no name that a namespace may have", space)
	default:
		s.Edit(b.at, space)
	}
	if s.now.class != d.name {
		if !wordOnly([]byte(s.now.class)) || reserved.has([]byte(s.now.class)) || pseudoTypes.has([]byte(s.now.class)) {
			s.Fail(d.at.Start, "%s is no name that a class may have", s.now.class)
			return
		}
		s.Edit(d.at, s.now.class)
	}
}

// isSpace says whether each part of a namespace is a name.
func isSpace(space string) bool {
	for part := range strings.SplitSeq(space, `\`) {
		if !wordOnly([]byte(part)) || part == "" {
			return false
		}
	}
	return true
}

// goal is the name in full that a name must stand for in the end, given who declared it in the old tree.
func (r *Resolver) goal(all []declared, name string) string {
	for _, d := range all {
		id, ok := r.tree.Came(d.file)
		if !ok {
			continue
		}
		if e := r.index().files[id]; e != nil && d.at < len(e.declared) {
			return e.nameOf(d.at)
		}
	}
	return name
}

// written is what becomes of an import.
type written struct {
	*item
	goal    string // the name that it imports then
	calls   string // by which name
	removed bool
}

// blockSettler settles one block of a file.
type blockSettler struct {
	*settler
	was, now *block
	imports  []written
	taken    [spaces]map[string]bool // by the keys of names: they mean something in the block
	added    []imports.New
	brings   [spaces]map[string]string // names in full that are had by an import, and how they are called
}

func (s *settler) settleBlock(i int) {
	b := &blockSettler{settler: s, was: &s.was.blocks[i], now: s.now.blockOf(i)}
	for k := range spaces {
		b.taken[k], b.brings[k] = map[string]bool{}, map[string]string{}
	}
	// What is taken is gathered before anything is written: a name that is given away twice would be noticed by nobody
	// but the interpreter. Imports come before the names that go through them.
	b.take(i)
	b.aimImports(i)
	for k := range s.was.uses {
		if u := &s.was.uses[k]; u.block == i {
			b.write(u)
		}
	}
	b.writeImports()
}

// take notes the names that mean something in the block already: what the file declares, and neighbours that it uses.
func (b *blockSettler) take(block int) {
	for i := range b.settler.now.declared {
		if d := &b.settler.now.declared[i]; d.block == block && !d.full {
			b.taken[d.space][d.space.key(short(b.settler.now.nameOf(i)))] = true
		}
	}
	for i := range b.was.imports {
		one := &b.was.imports[i]
		b.taken[one.space][one.space.key(one.alias)] = true
	}
	for i := range b.settler.was.uses {
		u := &b.settler.was.uses[i]
		if u.block != block || formOf(u.text) != plain && formOf(u.text) != qualified {
			continue
		}
		first, _, more := strings.Cut(u.text, `\`)
		s := u.space
		if more {
			s = class
		}
		if b.was.imported(first, s) == nil { // it may stay a neighbour
			all, name := b.old.ix.find(b.OldFrom, u.space, b.was.means(u.text, u.space))
			if goal := b.goal(all, name); parent(goal) == b.now.name || len(all) == 0 {
				b.taken[s][s.key(first)] = true
			}
		}
	}
}

// aimImports says what each import must import then.
func (b *blockSettler) aimImports(block int) {
	for i := range b.was.imports {
		one := &b.was.imports[i]
		w := written{item: one, goal: one.name, calls: one.alias}
		if all := b.old.ix.declares(b.OldFrom, one.space, one.name); len(all) > 0 {
			w.goal = b.goal(all, one.name)
		} else if one.space == class {
			b.aimSpace(&w, block)
		}
		if !one.explicit && short(w.goal) != one.alias {
			name := short(w.goal)
			if b.taken[one.space][one.space.key(name)] {
				w.calls = one.alias // as the old name, so that the rest of the file need not change
			} else {
				w.calls = name
				b.taken[one.space][one.space.key(name)] = true
			}
		}
		// what the file itself declares can't be imported into it
		if parent(w.goal) == b.now.name && !one.explicit && b.declaresItself(one.space, w.goal) {
			w.removed = true
		}
		if !w.removed {
			b.brings[one.space][one.space.key(w.goal)] = w.calls
		}
		b.imports = append(b.imports, w)
	}
}

func (b *blockSettler) declaresItself(s space, name string) bool {
	for i := range b.settler.now.declared {
		if d := &b.settler.now.declared[i]; d.space == s && s.key(b.settler.now.nameOf(i)) == s.key(name) {
			return true
		}
	}
	return false
}

// aimSpace says what an import of a namespace must import then: what all names that go through it have in common. One
// that parts is dropped where nothing stays behind it, and the names are written in full.
func (b *blockSettler) aimSpace(w *written, block int) {
	goals, stays := map[string]bool{}, false
	for i := range b.settler.was.uses {
		u := &b.settler.was.uses[i]
		first, rest, more := strings.Cut(u.text, `\`)
		if u.block != block || !more || first == "" || !strings.EqualFold(first, w.alias) {
			continue
		}
		// all that goes through the import votes: it can follow only where all agree
		all, name := b.old.ix.find(b.OldFrom, u.space, b.was.means(u.text, u.space))
		head, same := strings.CutSuffix(b.goal(all, name), `\`+rest)
		stays = stays || len(all) == 0 || same && head == w.name
		if !same {
			head = ""
		}
		goals[head] = true
	}
	if len(goals) == 0 {
		goals = b.spaceGoals(b.old, w.name, "")
	}
	switch {
	case len(goals) == 1 && !goals[""]:
		for goal := range goals {
			w.goal = goal
		}
	case len(goals) > 0 && !stays && len(b.index().within[strings.ToLower(w.name)]) == 0:
		w.removed = true
	}
}

// write writes one name.
func (b *blockSettler) write(u *use) {
	meant := b.was.means(u.text, u.space)
	all, name := b.old.ix.find(b.OldFrom, u.space, meant)
	goal := b.goal(all, name)
	if len(all) == 0 && u.space != class && meant.global != "" { // of the language
		if len(b.index().declares(b.From, u.space, join(b.now.name, u.text))) > 0 {
			b.Edit(u.at, `\`+meant.global)
		}
		return
	}
	if len(all) == 0 && u.doc { // it may be anything
		return
	}
	// A class that nobody in the tree declares is still the one of its old namespace: installed, or made by a program. It
	// goes through the same steps, with its old name as the goal.
	if text := b.spell(u, meant, goal, name); text != u.text {
		b.Edit(u.at, text)
	}
}

// spell gives the text by which the block calls a name in full, in the manner of the old text.
func (b *blockSettler) spell(u *use, meant meaning, goal, name string) string {
	switch formOf(u.text) {
	case full:
		if goal == name {
			return u.text
		}
		return `\` + goal
	case relative:
		if rest, in := cutFold(goal, b.now.name+`\`); in {
			return u.text[:len(`namespace\`)] + rest
		}
		return `\` + goal
	case qualified:
		first, rest, _ := strings.Cut(u.text, `\`)
		if meant.by != nil {
			w := b.written(meant.by)
			if tail, in := cutFold(goal, w.goal+`\`); in && !w.removed {
				if strings.EqualFold(tail, rest) {
					tail = rest
				}
				if w.calls == meant.by.alias {
					return first + `\` + tail
				}
				return w.calls + `\` + tail
			}
			return `\` + goal
		}
		if tail, in := cutFold(goal, b.now.name+`\`); in || b.now.name == "" {
			if b.now.name == "" {
				tail = goal
			}
			head, _, _ := strings.Cut(tail, `\`)
			if b.now.imported(head, class) == nil {
				return tail
			}
		}
		return `\` + goal
	}
	if meant.by != nil {
		w := b.written(meant.by)
		switch {
		case w.removed:
			return short(goal)
		case w.calls == meant.by.alias:
			return u.text
		}
		return w.calls
	}
	if meant.global != "" && goal == meant.global && name == meant.global { // found in no namespace
		if len(b.index().declares(b.From, u.space, join(b.now.name, goal))) > 0 {
			return `\` + goal
		}
		return u.text
	}
	return b.neighbour(u, goal, name)
}

// neighbour spells a name that no import brought: in short while it is of the block's namespace, else by an import that
// is added, or in full where its short name is taken or only a comment holds it.
func (b *blockSettler) neighbour(u *use, goal, name string) string {
	s := u.space
	if parent(goal) == b.now.name {
		if short(goal) == short(name) {
			return u.text
		}
		return short(goal)
	}
	if calls, had := b.brings[s][s.key(goal)]; had { // an import that was there, or one that another use has added
		return calls
	}
	wanted := short(goal)
	if u.doc && !b.usedInCode(u) || b.taken[s][s.key(wanted)] {
		return `\` + goal
	}
	b.taken[s][s.key(wanted)], b.brings[s][s.key(goal)] = true, wanted
	statement := "use " + goal + ";"
	switch s {
	case function:
		statement = "use function " + goal + ";"
	case constant:
		statement = "use const " + goal + ";"
	}
	b.added = append(b.added, imports.New{Key: order(s, statement), Text: statement})
	if strings.EqualFold(wanted, u.text) {
		return u.text
	}
	return wanted
}

// usedInCode says whether a name of a comment stands in the code of the block too.
func (b *blockSettler) usedInCode(of *use) bool {
	return slices.ContainsFunc(b.settler.was.uses, func(u use) bool {
		return !u.doc && u.block == of.block && u.space == of.space && strings.EqualFold(u.text, of.text)
	})
}

func (b *blockSettler) written(one *item) *written {
	for i := range b.imports {
		if b.imports[i].item.at == one.at {
			return &b.imports[i]
		}
	}
	return &written{item: one, goal: one.name, calls: one.alias}
}

// cutFold cuts a beginning off, whatever its case.
func cutFold(text, head string) (string, bool) {
	if len(text) > len(head) && strings.EqualFold(text[:len(head)], head) {
		return text[len(head):], true
	}
	return "", false
}
