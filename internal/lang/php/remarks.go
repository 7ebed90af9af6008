package php

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file finds what only a running program knows: names of classes that come from data, that are stored, or that
// are made of the name of a class. What can be worked out holds moves back, and the rest is said.

// note is a thing that a plan can't follow.
type note uint8

const (
	fromData   note = iota // new $class
	asCode                 // eval
	morphed                // a relation that stores the name of a class
	takenApart             // the name of the own class is given to a function that cuts or changes texts
	stored                 // serialize, unserialize
	archived               // Phar
	notes                  // how many there are
)

// notesSaid is what is said of each.
var notesSaid = [notes]string{
	fromData:   "a class is picked by a name from data: a name there that changes must be changed too",
	asCode:     "eval runs a text as code, and what that names is not known",
	morphed:    "rows of a database say of which class they are: names there that change must be changed too",
	takenApart: "the name of the own class is taken apart or changed: what is found by that may have another name then",
	stored:     "what was stored holds the names of classes: names there that change are not found any more",
	archived:   "an archive of PHP has files under their old paths until it is built anew",
}

// ownTail is a text that is put behind the name of the own class: __CLASS__ . 'Handler'.
type ownTail struct {
	at   int
	raw  string
	open bool // more is put behind it
}

// note notes the first place of something.
func (p *parser) note(n note) {
	if p.f.noted[n] == 0 {
		p.f.noted[n] = int(p.t[p.i].start) + 1
	}
}

// relations are methods by which a row of a database says of which class it is, unless a list gives names for them.
var relations = words(`morphto morphone morphmany morphtomany morphedbymany`)

// member reads the name of a member: of a relation, and class behind static::.
func (p *parser) member(before int) {
	switch {
	case p.kind(before) == tColons && p.kind(p.previous(before)) == tVariable && p.kind(p.next(p.i)) == '(' &&
		!sameWord(p.text(p.previous(before)), "$this"):
		p.note(fromData)
	case relations.has(p.text(p.i)):
		p.note(morphed)
	case p.is(p.i, "class") && p.ownBefore(before):
		p.ownName()
	}
}

// ownBefore says whether what stands before :: is the class itself.
func (p *parser) ownBefore(colons int) bool {
	owner := p.previous(colons)
	return p.kind(colons) == tColons && (p.is(owner, "static") || p.is(owner, "self") ||
		p.kind(owner) == tVariable && sameWord(p.text(owner), "$this"))
}

// ofOwn are functions that give the name of a class, of the own one mostly.
var ofOwn = words(`get_class get_called_class`)

// changers are functions that make another text of a name.
var changers = words(`str_replace str_ireplace preg_replace preg_match substr substr_replace sprintf strtr`)

// ownName notes the name of the own class where a function makes something else of it.
func (p *parser) ownName() {
	if l := p.list(); l != nil && l.closes == ')' && changers.has([]byte(p.callOf(l))) {
		p.note(takenApart)
	}
}

// behindOwn notes a text that is put behind the name of the own class.
func (p *parser) behindOwn(raw []byte, open bool) {
	dot := p.previous(p.i)
	if p.kind(dot) != '.' || len(raw) == 0 || len(raw) > longestName {
		return
	}
	last := p.previous(dot)
	own := p.is(last, "__class__") || p.is(last, "class") && p.ownBefore(p.previous(last))
	if p.kind(last) == ')' { // get_class($this)
		for i, back := p.previous(last), 0; i > 0 && back < 3; i, back = p.previous(i), back+1 {
			if p.kind(i) == '(' {
				own = isName(p.kind(p.previous(i))) && ofOwn.has(p.text(p.previous(i)))
				break
			}
		}
	}
	// a text in front would make it another name, and :: a method
	if !own || !continues(raw[0]) && raw[0] != '\\' || !shaped(raw) && !continues(raw[0]) {
		return
	}
	for _, c := range raw {
		if !continues(c) && c != '\\' {
			return
		}
	}
	p.f.tails = append(p.f.tails, ownTail{int(p.t[p.i].start), unescaped(string(raw)), open})
}

// tails holds back what is found by the name of another class and would be found no more: A\NightHandler by
// __CLASS__ . 'Handler' in A\Night, and in the classes that extend it.
func (o *owing) tails() {
	ix := o.old.index()
	for _, id := range slices.Sorted(maps.Keys(ix.files)) {
		e := ix.files[id]
		for i := range e.tails {
			for _, owner := range o.heirs(id) {
				o.tail(id, &e.tails[i], owner)
			}
		}
	}
}

// heirs are the classes of a file of the old tree and those that extend them.
func (o *owing) heirs(id project.FileID) (out []declared) {
	if o.children == nil {
		o.findChildren()
	}
	seen := map[declared]bool{}
	add := func(d declared) {
		if !seen[d] {
			seen[d] = true
			out = append(out, d)
		}
	}
	e := o.old.ix.files[id]
	for i := range e.declared {
		if e.declared[i].space == class && !e.declared[i].alias {
			add(declared{id, i})
		}
	}
	for i := 0; i < len(out); i++ {
		name := o.old.ix.files[out[i].file].nameOf(out[i].at)
		for _, child := range o.children[strings.ToLower(name)] {
			add(child)
		}
	}
	return out
}

// findChildren finds which classes of the old tree extend which.
func (o *owing) findChildren() {
	o.children = map[string][]declared{}
	ix := o.old.index()
	for _, id := range slices.Sorted(maps.Keys(ix.files)) {
		e := ix.files[id]
		for i := range e.declared {
			for _, text := range e.declared[i].extends {
				base := strings.ToLower(e.blockOf(e.declared[i].block).means(text, class).name)
				o.children[base] = append(o.children[base], declared{id, i})
			}
		}
	}
}

// tail judges what is found by the name of one class and a text behind it.
func (o *owing) tail(id project.FileID, t *ownTail, owner declared) {
	ix := o.old.index()
	name := ix.files[owner.file].nameOf(owner.at)
	goal := o.goal([]declared{owner}, name)
	begin := strings.ToLower(name + t.raw)
	for _, found := range o.beginning(begin, t.open) {
		full := ix.files[found.file].nameOf(found.at)
		if found == owner || o.goal([]declared{found}, full) == goal+full[len(name):] {
			continue
		}
		place := fmt.Sprintf("%s:%d", o.old.tree.Path(id), o.line(id, t.at))
		o.out = append(o.out, lang.Duty{Path: o.old.tree.Path(id),
			Lost: o.moving(o.old.tree.Path(found.file), o.old.tree.Path(owner.file)),
			Why:  fmt.Sprintf("%s finds %s by the name of %s, and their names would part", place, full, name)})
	}
}

// beginning gives the classes of the old tree that are called so, or whose names begin so.
func (o *owing) beginning(begin string, open bool) (out []declared) {
	ix := o.old.index()
	if !open {
		return ix.names[class][begin]
	}
	for _, id := range ix.within[parent(begin)] {
		e := ix.files[id]
		for i := range e.declared {
			if e.declared[i].space == class && strings.HasPrefix(strings.ToLower(e.nameOf(i)), begin) {
				out = append(out, declared{id, i})
			}
		}
	}
	return out
}

// moving are those of some files that move.
func (o *owing) moving(files ...string) (out []string) {
	for _, m := range o.moves {
		if slices.Contains(files, m.From) {
			out = append(out, m.From)
		}
	}
	return out
}

// remarks says what can't be followed, once for each thing, where the name of a class changes.
func (o *owing) remarks() {
	if !slices.ContainsFunc(o.moves, o.renames) {
		return
	}
	ix := o.old.index()
	var first, at, count [notes]int
	for _, id := range slices.Sorted(maps.Keys(ix.files)) {
		for n, place := range ix.files[id].notes() {
			if place == 0 {
				continue
			}
			if count[n]++; count[n] == 1 {
				first[n], at[n] = int(id), place-1
			}
		}
	}
	for n, text := range notesSaid {
		if count[n] == 0 {
			continue
		}
		if count[n] > 1 {
			text += fmt.Sprintf(" (and %d more)", count[n]-1)
		}
		o.out = append(o.out, lang.Duty{Path: o.old.tree.Path(project.FileID(first[n])), At: at[n], Why: text})
	}
}

// notes are the first places of what a file does that can't be followed, from 1; 0 for none.
func (e *entry) notes() [notes]int {
	out := e.noted
	for i := range e.uses {
		u := &e.uses[i]
		if u.doc || formOf(u.text) > full && formOf(u.text) < plain {
			continue
		}
		n := notes
		switch name := strings.ToLower(strings.TrimPrefix(u.text, `\`)); {
		case u.space == function && (name == "serialize" || name == "unserialize"):
			n = stored
		case u.space == class && (name == "phar" || name == "phardata"):
			n = archived
		}
		if n < notes && out[n] == 0 {
			out[n] = u.at.Start + 1
		}
	}
	return out
}

// renames says whether a move gives a class another name.
func (o *owing) renames(m lang.Moved) bool {
	was, there := o.old.tree.Lookup(m.From)
	now, came := o.tree.Lookup(m.To)
	before, after := o.old.index().files[was], o.index().files[now]
	if !there || !came || before == nil || after == nil || len(before.declared) != len(after.declared) {
		return false
	}
	for i := range before.declared {
		if before.nameOf(i) != after.nameOf(i) {
			return true
		}
	}
	return false
}
