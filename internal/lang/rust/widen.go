package rust

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Where the convention says that declarations may be seen further than they were (widen: needed), what would not be seen
// any more is written so that it is: as far as those need who use it, and no further. Each is a remark of its own.

// wish is a declaration that must be seen further.
type wish struct {
	in    *module // declares it
	from  int32   // where its visibility stands, or would stand
	sees  visibility
	what  string
	reach []string // the module in which it must be seen, by its path after the moves; empty for all
	user  string   // the first place that needs it
}

type wishKey struct {
	text *file
	from int32
}

// mayWiden says whether one of some modules moves for whose sake declarations may be seen further.
func (o *owing) mayWiden(modules ...*module) bool {
	for _, m := range modules {
		for ; m != nil; m = m.parent {
			if o.widens[o.old.tree.Path(m.file)] {
				return true
			}
		}
	}
	return false
}

// reachThen is the path of the module in which something is seen after the moves that a module declares; nil and false
// where all see it.
func (o *owing) reachThen(v visibility, in *module) (reach []string, limited bool) {
	old := o.old.reachOf(v, in)
	if old == nil {
		return nil, false
	}
	from := o.pathThen(in)
	if reach = o.pathThen(old); hasPrefix(from, reach) {
		return reach, true
	}
	switch v.reach {
	case inCrate:
		return from[:1], true
	case inSuper:
		return from[:max(1, len(from)-1)], true
	}
	return from, true
}

// sightThen is the path of the module in which a part of a path is seen after the moves; nil and false where all see it.
func (o *owing) sightThen(h *found) (reach []string, limited bool) {
	switch {
	case h.how == byUse && h.by != nil:
		for i := range h.by.text.uses {
			if s := &h.by.text.stmts[h.by.text.uses[i].stmt]; o.old.reachOf(s.sees, h.by) == h.reach {
				return o.reachThen(s.sees, h.by)
			}
		}
	case h.mod != nil && h.mod.parent != nil:
		if s := o.of[h.mod]; s == nil || !s.moved {
			return o.reachThen(h.mod.sees, h.mod.parent)
		} else if s.parent != nil {
			return o.keeps(h.mod)
		}
		return nil, false
	case h.item != nil && h.owner != nil:
		return o.reachThen(h.item.sees, h.owner)
	}
	return o.pathThen(h.reach), true
}

// wish notes that a declaration must be seen from a module. It reports whether that can be written.
func (o *owing) wish(one wish, user *module, at int, inMacro bool) bool {
	reach, limited := o.reachThen(one.sees, one.in)
	then := o.pathThen(user)
	switch {
	case !limited || hasPrefix(then, reach):
		return true
	case inMacro || one.from < 0 || !o.mayWiden(user, one.in):
		return false
	}
	key := wishKey{one.in.text, one.from}
	known := o.wishes[key]
	if known == nil {
		one.reach = reach
		one.user = o.placeOf(user, at)
		known = &one
		o.wishes[key] = known
	}
	known.reach = common(known.reach, then)
	return true
}

func (o *owing) placeOf(m *module, at int) string {
	return fmt.Sprintf("%s:%d", o.old.tree.Path(m.file), source.PositionAt(o.content(m.file), at).Line)
}

// common is what two paths have in common at their beginnings.
func common(a, b []string) []string {
	n := 0
	for n < min(len(a), len(b)) && a[n] == b[n] {
		n++
	}
	return a[:n]
}

// wishItem asks that an item is seen from a module.
func (o *owing) wishItem(owner *module, one *item, user *module, at int) bool {
	return one.kind == isMacro || o.wish(wish{in: owner, from: one.from, sees: one.sees, what: one.kind.String() + " " + one.name},
		user, at, one.inMacro)
}

// wishModule asks that a module is seen; how far one is seen that moves is decided with its line.
func (o *owing) wishModule(m, user *module, at int) bool {
	if m.parent == nil || m.line == nil || o.of[m] != nil && o.of[m].moved {
		return true
	}
	return o.wish(wish{in: m.parent, from: int32(m.line.from), sees: m.sees, what: "mod " + m.name}, user, at, m.line.inMacro)
}

// wishFor asks that what a part of a path leads to is seen from a module. It reports whether it will be.
func (o *owing) wishFor(h *found, name string, user *module, at int) bool {
	seen := true
	if h.how == byUse && h.by != nil {
		seen = o.wishUse(h.by, name, user, at)
	}
	if h.how == byGlob && h.glob != nil {
		for _, in := range o.old.leads(h.by, h.glob, newQuery()) {
			if in.mod == nil || in.mod == h.by {
				continue
			}
			for _, other := range o.old.member(in.mod, name, newQuery()) {
				if other.how != byGlob || other.by != h.by {
					seen = o.wishFor(&other, name, user, at) && seen
				}
			}
		}
		return seen
	}
	switch {
	case h.how == byKeyword || h.how == byCrate:
	case h.mod != nil:
		seen = o.wishModule(h.mod, user, at) && seen
	case h.item != nil && h.owner != nil:
		seen = o.wishItem(h.owner, h.item, user, at) && seen
	}
	return seen
}

// wishUse asks that the name that a use brings is seen from a module, and with it all that stands in one declaration.
func (o *owing) wishUse(by *module, name string, user *module, at int) bool {
	for i := range by.text.uses {
		u := &by.text.uses[i]
		s := &by.text.stmts[u.stmt]
		if u.bound == name && !s.inDoc && by.in(s.scope) == by {
			all := by.text.uses[s.first : s.first+s.leaves]
			names := make([]string, len(all))
			for k := range all {
				if names[k] = all[k].bound; all[k].glob || all[k].bound == "" {
					return false
				}
			}
			if !o.wish(wish{in: by, from: int32(s.from), sees: s.sees, what: "use of " + strings.Join(names, ", ")}, user, at, s.inMacro) {
				return false
			}
			for k := range all { // what is given on must be seen as far
				w := o.old.walk(by, s.scope, all[k].path, s.global, true, newQuery())
				for i := range w.last {
					if len(all) > 1 && !o.wishFor(&w.last[i], all[k].path[len(all[k].path)-1], user, at) {
						return false
					}
				}
			}
			return true
		}
	}
	return false
}

// wished notes what paths and names of all modules would not see any more.
func (o *owing) wished(f *forest) {
	if len(o.widens) == 0 {
		return
	}
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		for _, m := range c.all {
			for _, mention := range o.old.Second(m.file, nil) {
				one := lang.Own[*own](&mention)
				if one == nil || one.doc || one.where == inDocLink || !settles(&mention) || mention.Kind == Mod || mention.Kind == Foreign {
					continue
				}
				w := o.old.ask(m, one)
				if at, parted := o.old.direct(&w, one.path, m, o.packThen); parted > 0 {
					o.wishPlace(at, m.in(one.scope), mention.Span.Start)
					continue
				}
				for i := range w.hops {
					o.wishFor(&w.hops[i], one.path[min(i, len(one.path)-1)], m.in(one.scope), mention.Span.Start)
				}
			}
		}
	}
	for done := map[wishKey]bool{}; len(done) < len(o.wishes); { // what is seen further speaks of types
		for _, key := range o.wishKeys() {
			if !done[key] {
				done[key] = true
				o.signature(o.wishes[key])
			}
		}
	}
}

// packThen is the folder of the package in which a module is then.
func (o *owing) packThen(m *module) string {
	if one := o.packOf(o.then(o.old.tree.Path(m.file))); one != nil {
		return one.dir
	}
	return ""
}

// wishPlace asks that something is seen by the module that has it, and this by those around it.
func (o *owing) wishPlace(at spelledAt, user *module, pos int) {
	for _, h := range o.old.member(at.mod, at.name, newQuery()) {
		o.wishFor(&h, at.name, user, pos)
	}
	for m := at.mod; m.parent != nil; m = m.parent {
		if s := o.of[m]; s == nil || s.parent != nil {
			o.wishModule(m, user, pos)
		}
	}
}

func (o *owing) wishKeys() []wishKey {
	return slices.SortedFunc(maps.Keys(o.wishes), func(a, b wishKey) int {
		return cmp.Or(strings.Compare(o.old.tree.Path(o.wishes[a].in.file), o.old.tree.Path(o.wishes[b].in.file)), cmp.Compare(a.from, b.from))
	})
}

// signature asks the same for the types that stand before the body of what is seen further, or the compiler would warn;
// and for those that traits have by it, which it would refuse.
func (o *owing) signature(one *wish) {
	src := o.content(one.in.file)
	names := newNames(nil)
	tokens, _, err := lex(src, nil, nil, names)
	if err != nil {
		return
	}
	p := &parser{src: src, tok: tokens, names: names}
	depth, angles := 0, 0
	own := ""
	for i := range tokens {
		t := &tokens[i]
		if t.start < one.from {
			continue
		}
		if depth == 0 && (t.kind == tOpen && t.first == '{' || t.kind == tSign && (t.first == ';' || t.first == ',' && angles == 0)) {
			break
		}
		switch t.kind {
		case tSign:
			if t.first == '<' {
				angles++
			} else if t.first == '>' && angles > 0 && !p.is(i-1, '-') && !p.is(i-1, '=') {
				angles--
			}
		case tOpen:
			depth++
		case tClose:
			depth--
		case tName:
			if own == "" && (p.word(i-1) == "struct" || p.word(i-1) == "enum" || p.word(i-1) == "union") {
				own = p.name(i)
				continue
			}
			o.typeWish(one, p, i)
		}
		if depth < 0 {
			break
		}
	}
	if own == "" {
		return
	}
	for i := range tokens {
		if p.word(i) != "impl" {
			continue
		}
		open := p.header(i+1, len(tokens))
		if open >= len(tokens) || !p.is(open, '{') || !slices.ContainsFunc(tokens[i:open], func(t token) bool {
			return t.kind == tName && names.texts[t.pair] == own
		}) {
			continue
		}
		for k := open + 1; k < int(tokens[open].pair); k++ {
			if tokens[k].kind == tOpen {
				k = int(tokens[k].pair)
			} else if p.word(k) == "type" {
				for ; !p.is(k, ';') && k < int(tokens[open].pair); k++ {
					if tokens[k].kind == tName {
						o.typeWish(one, p, k)
					}
				}
			}
		}
	}
}

// typeWish asks that the type that a name stands for is seen as far as something that speaks of it.
func (o *owing) typeWish(one *wish, p *parser, i int) {
	if p.keyword(i) || i > 0 && (p.tok[i-1].kind == tPath || p.is(i-1, '.')) {
		return
	}
	for _, h := range o.old.head(one.in, one.in.scope, p.name(i), false, false, false, newQuery()) {
		if h.item == nil || h.owner == nil || h.owner.crate != one.in.crate || h.item.from == one.from && h.owner.text == one.in.text ||
			!h.isType() || h.item.inMacro {
			continue
		}
		reach, limited := o.reachThen(h.item.sees, h.owner)
		if !limited || hasPrefix(one.reach, reach) {
			continue
		}
		key := wishKey{h.owner.text, h.item.from}
		if o.wishes[key] == nil {
			o.wishes[key] = &wish{in: h.owner, from: h.item.from, sees: h.item.sees, what: h.item.kind.String() + " " + h.item.name,
				reach: reach, user: one.user}
		}
		o.wishes[key].reach = common(o.wishes[key].reach, one.reach)
	}
}

// visibilities writes how far things are seen, so that it is as far as before: what names a module, or the one around.
func (o *owing) visibilities(f *forest) {
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		for _, m := range c.all {
			t := m.text
			write := func(v visibility, sc, from int32, inMacro bool) {
				if (v.reach == inSuper || v.reach == inModule) && !inMacro && o.wishes[wishKey{t, from}] == nil {
					o.visibility(v, m, m.in(sc))
				}
			}
			for i := range t.items {
				write(t.items[i].sees, t.items[i].scope, t.items[i].from, t.items[i].inMacro)
			}
			for i := range t.members {
				if one := &t.members[i]; one.from >= 0 {
					write(one.sees, one.scope, one.from, one.inMacro)
				}
			}
			for i := range t.stmts {
				one := &t.stmts[i]
				write(one.sees, one.scope, int32(one.from), one.inMacro || one.inDoc)
			}
			for _, in := range m.byScope {
				for _, k := range in.kids {
					if k.line != nil && !o.of[k].moved {
						write(k.sees, k.line.scope, int32(k.line.from), k.line.inMacro)
					}
				}
			}
			for i := range t.scopes {
				if one := &t.scopes[i]; i > 0 && one.module {
					write(one.sees, one.parent, one.at, one.inMacro)
				}
			}
		}
	}
}

// visibility writes one of them, of something that a module declares.
func (o *owing) visibility(v visibility, file, in *module) {
	reach, from := o.pathThen(o.old.reachOf(v, in)), o.pathThen(in)
	p := o.old.tree.Path(file.file)
	src := o.content(file.file)
	now := sight(reach, from)
	switch {
	case v.reach == inSuper && len(from) == 1: // nothing is around the root of a crate
		now = "pub(crate)"
	case !hasPrefix(from, reach):
		if v.reach == inModule {
			o.blame([]*module{in, o.old.reachOf(v, in)}, "%s:%d: %s names a module that would not be around it", p,
				source.PositionAt(src, v.at.Start).Line, src[v.at.Start:v.at.End])
		}
		return // what would not be seen any more is found by its uses
	case v.reach == inSuper && len(from)-len(reach) == 1, v.reach == inModule && slices.Equal(reach, abs(splitPath(v.path), from)):
		return
	}
	at := v.at
	for now == "" && at.End < len(src) && src[at.End] == ' ' {
		at.End++
	}
	o.fileLines(p).add(source.Edit{Span: at, New: now})
}

// abs is the path of the module that a path in a visibility names from another, behind its crate; nil where it names none.
func abs(path, from []string) []string {
	out := from[:1:1]
	for i, part := range path {
		switch {
		case part == "crate" && i == 0:
		case part == "self" && i == 0:
			out = slices.Clone(from)
		case part == "super":
			if i == 0 {
				out = slices.Clone(from)
			}
			if len(out) < 2 {
				return nil
			}
			out = out[:len(out)-1]
		default:
			out = append(out, part)
		}
	}
	return out
}

// widen writes how far declarations are seen, and says it.
func (o *owing) widen() {
	for _, key := range o.wishKeys() {
		one := o.wishes[key]
		p := o.old.tree.Path(one.in.file)
		sees := sight(one.reach, o.pathThen(one.in))
		edit := source.Edit{Span: source.Span{Start: int(one.from), End: int(one.from)}, New: sees + " "}
		if one.sees.at.Len() > 0 {
			edit = source.Edit{Span: one.sees.at, New: sees}
		}
		o.fileLines(p).add(edit)
		o.remark(p, int(one.from), one.what+" is seen as "+sees+" then, since "+one.user+" needs it")
	}
}

// remark notes what a reader should know of a place, once: a file may be a module of several crates.
func (o *owing) remark(p string, at int, why string) {
	if !slices.ContainsFunc(o.out, func(d lang.Duty) bool { return d.Path == p && d.At == at && d.Why == why }) {
		o.out = append(o.out, lang.Duty{Path: p, At: at, Why: why})
	}
}
