package rust

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// usersOf gives the modules in which a path leads from a module to one that it holds.
func (r *Resolver) usersOf(m *module) []*module {
	r.usersOnce.Do(func() {
		r.users = map[*module][]*module{}
		seen := map[[2]*module]bool{}
		for _, c := range r.modules().crates {
			for _, in := range c.all {
				r.noteUsers(in, seen)
			}
		}
	})
	return r.users[m]
}

func (r *Resolver) noteUsers(in *module, seen map[[2]*module]bool) {
	note := func(sc int32, path []string, global, isUse bool) {
		w := r.walk(in, sc, path, global, isUse, newQuery())
		for i := range w.hops {
			if h := &w.hops[i]; h.how == byKid && h.mod != nil {
				from := in.in(sc)
				if key := [2]*module{h.mod, from}; !seen[key] {
					seen[key] = true
					r.users[h.mod] = append(r.users[h.mod], from)
				}
			}
		}
	}
	for i := range in.text.uses {
		u := &in.text.uses[i]
		if s := &in.text.stmts[u.stmt]; !s.inDoc {
			note(s.scope, u.path, s.global, true)
		}
	}
	for i := range in.text.paths {
		if p := &in.text.paths[i]; p.where != inDocCode && p.where != inRule {
			note(p.scope, splitPath(p.text), p.global, false)
		}
	}
}

// members keeps apart what would not see the private fields and functions of a type any more. The types of values are
// not known, so a name behind a dot may be that of any member that could be seen there.
func (o *owing) members(f *forest) {
	for _, c := range f.crates {
		if !slices.ContainsFunc(c.all, func(m *module) bool { return o.moves[o.old.tree.Path(m.file)] != "" }) {
			continue
		}
		byName := o.privates(c)
		for _, m := range c.all {
			for i := range m.text.selects {
				s := &m.text.selects[i]
				if s.where == inRule { // it is used where the macro is called
					continue
				}
				for _, h := range byName[s.name] {
					o.parted(h, m.in(s.scope), int(s.at), s.name)
				}
			}
			for i := range m.text.paths {
				p := &m.text.paths[i]
				name := p.text[strings.LastIndexByte(p.text, ':')+1:]
				if all := byName[name]; len(all) > 0 {
					of := o.typeOf(m, p)
					for _, h := range all {
						if !h.field && (of == "" || h.rule || of == h.owner) {
							o.parted(h, m.in(p.scope), p.at.Start, name)
						}
					}
				}
			}
		}
	}
}

// typeOf is the name of the type of whose functions a path names one; empty where that is not known.
func (o *owing) typeOf(m *module, p *pathUse) string {
	path := fromCrate(splitPath(p.text))
	if path[0] == "Self" && len(path) == 2 {
		for i := range m.text.impls { // one in another comes behind it
			if one := &m.text.impls[i]; int(one.at) < p.at.Start && p.at.End < int(one.end) && len(one.types) > 0 {
				path[0] = one.types[0][strings.LastIndexByte(one.types[0], ':')+1:]
			}
		}
		return strings.TrimSuffix(path[0], "Self")
	}
	w := o.old.ask(m, &own{path: path, scope: p.scope, global: p.global})
	if len(w.last) == 0 || len(w.hops) != len(path)-1 {
		return ""
	}
	switch t := &w.last[0]; {
	case t.library:
		return path[len(path)-2]
	case t.item != nil && (t.item.kind == isStruct || t.item.kind == isEnum || t.item.kind == isUnion):
		return t.item.name
	}
	return ""
}

// privates gives the private members of a crate by their names.
func (o *owing) privates(c *crate) map[string][]held {
	if byName, known := o.byName[c]; known {
		return byName
	}
	byName := map[string][]held{}
	for _, m := range c.all {
		for i := range m.text.members {
			one := &m.text.members[i]
			byName[one.name] = append(byName[one.name], held{one, m.in(one.scope)})
		}
	}
	o.byName[c] = byName
	return byName
}

// held is a member, and the module that declares it.
type held struct {
	*member
	in *module
}

// parted blocks a move after which a module does not see a member that it saw.
func (o *owing) parted(h held, user *module, at int, name string) {
	old := o.old.reachOf(h.sees, h.in)
	if old == nil || !user.within(old) || h.in.holder() == user.holder() {
		return
	}
	declares, uses := o.old.tree.Path(h.in.file), o.old.tree.Path(user.file)
	then := o.pathThen(user)
	if !o.knows(user, h.in) {
		return
	}
	if reach, _ := o.reachThen(h.sees, h.in); hasPrefix(then, reach) || o.wishMember(h, user, at) {
		return
	}
	what := "the function"
	if h.field {
		what = "the field"
	}
	if strings.HasSuffix(name, "(") {
		what, name = "the making of", strings.TrimSuffix(name, "(")
	}
	why := fmt.Sprintf("%s:%d may use %s %s of %s in %s, which it would not see any more", uses,
		source.PositionAt(o.content(user.file), at).Line, what, name, h.owner, declares)
	if strings.HasPrefix(what, "the making") {
		why = fmt.Sprintf("%s:%d makes a %s, which it could not from there: a part of it is private to %s", uses,
			source.PositionAt(o.content(user.file), at).Line, name, declares)
	}
	if then[0] != o.pathThen(h.in)[0] {
		why += "; widen: needed lets it"
	}
	o.blame([]*module{user, h.in}, "%s", why)
}

// wishMember asks that a member is seen from a module; of a tuple that is made, all its parts.
func (o *owing) wishMember(h held, user *module, at int) bool {
	if !o.mayWiden(user, h.in) {
		return false
	}
	seen, of := true, 0
	for i := range h.in.text.members {
		one := &h.in.text.members[i]
		if one == h.member && one.from >= 0 || h.from < 0 && one.part && one.from >= 0 && one.owner == h.owner && one.scope == h.scope {
			of++
			seen = o.wish(wish{in: h.in, from: one.from, sees: one.sees, what: one.name + " of " + one.owner}, user, at, one.inMacro) && seen
		}
	}
	return seen && of > 0
}

// knows says whether a module may have something of another then: it is of the same package, or of one that needs the
// other's.
func (o *owing) knows(user, of *module) bool {
	from, to := o.packThen(user), o.packThen(of)
	if from == to {
		return true
	}
	if o.needs == nil {
		o.needs = map[string]map[string]bool{}
	}
	seen := o.needs[from]
	if seen == nil {
		seen = map[string]bool{from: true}
		o.needs[from] = seen
		byDir := map[string]*pack{}
		for _, k := range o.modules().packs {
			byDir[k.dir] = k
		}
		for todo := []string{from}; len(todo) > 0; todo = todo[1:] {
			if k := byDir[todo[0]]; k != nil {
				for _, dir := range k.deps {
					if dir != "" && !seen[dir] {
						seen[dir] = true
						todo = append(todo, dir)
					}
				}
			}
		}
	}
	return seen[to]
}

func hasPrefix(path, prefix []string) bool {
	return len(path) >= len(prefix) && slices.Equal(path[:len(prefix)], prefix)
}

// pathThen is the path of a module after the moves, behind its crate.
func (o *owing) pathThen(m *module) []string {
	if s := o.of[m]; s != nil {
		return s.whole()
	}
	return append([]string{o.then(o.old.tree.Path(m.crate.root.file))}, m.path()...)
}

// macros keeps apart what calls a macro whose text names something that the caller would not see any more: the paths of
// a macro are those of its module, and who may use them is asked where it is called.
func (o *owing) macros(f *forest) {
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		for _, m := range c.all {
			for i := range m.text.singles {
				s := &m.text.singles[i]
				if !s.macro || s.where == inRule || s.where == inDocCode {
					continue
				}
				o.called(c, m, own{path: []string{s.name}, scope: s.scope, macro: true, at: s.at}, int(s.at))
			}
			for i := range m.text.paths {
				p := &m.text.paths[i]
				if p.macro && p.where != inRule && p.where != inDocCode {
					o.called(c, m, own{path: fromCrate(splitPath(p.text)), scope: p.scope, global: p.global, macro: true}, p.at.Start)
				}
			}
		}
	}
}

// called looks at a call of a macro.
func (o *owing) called(c *crate, m *module, call own, at int) {
	w := o.old.ask(m, &call)
	if t := w.other(); t != nil && t.item != nil && t.item.kind == isMacro && t.owner.crate == c && t.owner.file != m.file {
		if o.pathThen(t.owner)[0] != o.pathThen(m)[0] && (len(call.path) == 1 && t.by == nil || !t.item.exported) {
			o.blame([]*module{m, t.owner}, "%s:%d: the macro %s is known by its place, which ends with its package; #[macro_export] and "+
				"a path to it would let it", o.old.tree.Path(m.file), source.PositionAt(o.content(m.file), at).Line, t.item.name)
		}
		o.macro(t, m.in(call.scope), at, map[*item]bool{})
	}
}

// macro looks at the paths of a macro from where it is called, and at those of the macros that it calls.
func (o *owing) macro(t *found, user *module, at int, seen map[*item]bool) {
	text := t.owner.text
	seen[t.item] = true
	calls := func(call own) {
		w := o.old.ask(t.owner, &call)
		if next := w.other(); next != nil && next.item != nil && next.item.kind == isMacro && next.owner.crate == t.owner.crate &&
			!seen[next.item] {
			o.macro(next, user, at, seen)
		}
	}
	for _, name := range text.calls {
		calls(own{path: []string{name}, scope: t.owner.scope, macro: true, at: t.item.end})
	}
	for i := range text.selects {
		if s := &text.selects[i]; s.where == inRule {
			for _, h := range o.privates(t.owner.crate)[s.name] {
				o.parted(h, user, at, s.name)
			}
		}
	}
	for i := range text.paths {
		p := &text.paths[i]
		if p.where != inRule || p.at.Start < int(t.item.at) || p.at.End > int(t.item.end) {
			continue
		}
		path := fromCrate(splitPath(p.text))
		if path[0] != "crate" {
			continue
		}
		if p.macro {
			calls(own{path: path, scope: p.scope, macro: true})
		}
		w := o.old.walk(t.owner, p.scope, path, false, false, newQuery())
		for _, h := range w.hops {
			if h.reach == nil || !user.within(h.reach) || h.item != nil && h.item.kind == isMacro {
				continue
			}
			if reach, limited := o.sightThen(&h); limited && !hasPrefix(o.pathThen(user), reach) && !(o.mayWiden(user, h.reach, t.owner) &&
				o.wishFor(&h, p.text[strings.LastIndexByte(p.text, ':')+1:], user, at)) {
				o.blame([]*module{user, h.reach}, "%s:%d: the macro %s uses %s, which it would not see any more",
					o.old.tree.Path(user.file), source.PositionAt(o.content(user.file), at).Line, t.item.name, p.text)
			}
		}
	}
}

// implemented keeps implementations in the package of their trait or of a type of theirs (the reference, "Orphan rules").
func (o *owing) implemented(f *forest) {
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		for _, m := range c.all {
			for i := range m.text.impls {
				o.orphan(m, &m.text.impls[i])
			}
		}
	}
}

// orphan looks at one implementation.
func (o *owing) orphan(m *module, one *implUse) {
	home := o.pathThen(m)[0]
	was, is := false, false
	var of []*module
	for i, name := range append([]string{one.trait}, one.types...) {
		if name == "" || i > 1 && one.trait == "" {
			continue
		}
		w := o.old.walk(m, one.scope, splitPath(name), false, false, newQuery())
		for i := range w.last {
			if t := &w.last[i]; t.item != nil && t.owner != nil {
				of = append(of, t.owner)
				was = was || t.owner.crate == m.crate
				is = is || o.pathThen(t.owner)[0] == home
			}
		}
	}
	if !was || is {
		return
	}
	at := o.placeOf(m, int(one.at))
	if one.trait == "" {
		o.blame(append([]*module{m}, of...), "%s: what %s has by itself must be in its package (%s)", at, one.types[0], o.old.tree.Path(of[0].file))
		return
	}
	o.blame(append([]*module{m}, of...), "%s: neither %s nor a type that it is for would be of this package, and one must be (orphan rule); "+
		"let it go with %s, or wrap the type", at, one.trait, o.old.tree.Path(of[0].file))
}

// blame forbids the first move of some modules and those around them.
func (o *owing) blame(modules []*module, format string, args ...any) {
	for _, m := range modules {
		for ; m != nil; m = m.parent {
			if p := o.old.tree.Path(m.file); o.moves[p] != "" {
				o.forbid(p, format, args...)
				return
			}
		}
	}
}

// builtIn are the macros that every crate has (the documentation of std, "Macros").
var builtIn = lang.Words("addr_of addr_of_mut asm assert assert_eq assert_ne assert_matches cfg column compile_error concat concat_idents const_format_args dbg " +
	"debug_assert debug_assert_eq debug_assert_ne env eprint eprintln file format format_args global_asm include include_bytes include_str " +
	"is_x86_feature_detected line log_syntax matches module_path option_env panic pin print println ready stringify thread_local todo " +
	"trace_macros try unimplemented unreachable vec write writeln")

// unknownMacros keeps what gives macros where it stands, and what calls one that no text declares: a macro may write it,
// and then it is known by the order of the text.
func (o *owing) unknownMacros(f *forest) {
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		libraries := libraryMacros(c) // one of theirs is known everywhere
		var user *module
		var call *single
		makers := map[string]bool{} // macros that declare others
		for _, m := range c.all {
			for i := range m.text.items {
				if m.text.items[i].makes {
					makers[m.text.items[i].name] = true
				}
			}
		}
		for _, m := range c.all {
			for i := range m.text.singles {
				s := &m.text.singles[i]
				if !s.macro || s.where == inRule || s.where == inDocCode || builtIn[s.name] {
					continue
				}
				w := o.old.ask(m, &own{path: []string{s.name}, scope: s.scope, macro: true, at: s.at})
				if len(w.last) > 0 || o.old.globsLibrary(m, s.scope) {
					continue
				}
				if o.moves[o.old.tree.Path(m.file)] != "" && !libraries {
					o.blame([]*module{m}, "%s:%d: no text declares the macro %s, and what does may be behind the new place",
						o.old.tree.Path(m.file), source.PositionAt(o.content(m.file), int(s.at)).Line, s.name)
				}
				user, call = m, s
			}
		}
		if user == nil {
			continue
		}
		for _, m := range c.all {
			if m.usesMacros() && o.moves[o.old.tree.Path(m.file)] != "" && makes(m, makers) {
				o.blame([]*module{m}, "%s:%d: no text declares the macro %s, which it may give by its place", o.old.tree.Path(user.file),
					source.PositionAt(o.content(user.file), int(call.at)).Line, call.name)
			}
		}
	}
}

// derives are the traits of an attribute that derives them.
var derives = regexp.MustCompile(`\bderive\s*\(([^)]*)\)`)

// builtInDerives are those that every crate has (the reference, "Derive").
var builtInDerives = lang.Words("Clone Copy Debug Default Eq Hash Ord PartialEq PartialOrd")

// unknownMacro is a macro that a module uses and no text declares or brings: a library may give it to all of a crate.
// Empty for none.
func (r *Resolver) unknownMacro(m *module) (name string) {
	for i := range m.text.singles {
		s := &m.text.singles[i]
		if !s.macro || s.where == inRule || s.where == inDocCode || builtIn[s.name] {
			continue
		}
		if w := r.ask(m, &own{path: []string{s.name}, scope: s.scope, macro: true, at: s.at}); len(w.last) == 0 && !r.globsLibrary(m, s.scope) {
			return s.name
		}
	}
	r.tree.Peek(m.file, func(content []byte, err error) {
		for _, found := range derives.FindAllSubmatch(content, -1) {
			for _, one := range strings.Split(string(found[1]), ",") {
				one = strings.TrimSpace(one)
				if one != "" && name == "" && !strings.Contains(one, "::") && isName(one) && !builtInDerives[one] && !r.globsLibrary(m, m.scope) &&
					len(r.head(m, m.scope, one, false, false, false, newQuery())) == 0 {
					name = one
				}
			}
		}
	})
	return name
}

// makes says whether a module, or one that it gives the macros of, calls a macro that declares others.
func makes(m *module, makers map[string]bool) bool {
	for i := range m.text.singles {
		if s := &m.text.singles[i]; s.macro && makers[s.name] {
			return true
		}
	}
	return slices.ContainsFunc(m.giving, func(k *module) bool { return makes(k, makers) })
}

// ruled keeps a module where it stands that gives a macro which the rules of others call by its name alone: it must be
// known wherever those are called.
func (o *owing) ruled(f *forest) {
	for _, c := range f.crates {
		if !o.touched[c] {
			continue
		}
		calls := map[string]*module{}
		for _, m := range c.all {
			for _, name := range m.text.calls {
				calls[name] = m
			}
		}
		for _, m := range c.all {
			if !m.usesMacros() || o.moves[o.old.tree.Path(m.file)] == "" {
				continue
			}
			for i := range m.text.items {
				if one := &m.text.items[i]; one.kind == isMacro && calls[one.name] != nil && calls[one.name].file != m.file {
					o.blame([]*module{m}, "rules of a macro in %s call %s, which is known by its place alone", o.old.tree.Path(calls[one.name].file), one.name)
				}
			}
		}
	}
}

// libraryMacros says whether a crate has the macros of a library everywhere.
func libraryMacros(c *crate) bool {
	return slices.ContainsFunc(c.root.text.items, func(i item) bool {
		return i.kind == isExternCrate && !libraries[i.original] && slices.Contains(i.marks, "macro_use")
	})
}

// globsLibrary says whether a scope uses all that a library has.
func (r *Resolver) globsLibrary(m *module, sc int32) bool {
	for ; ; sc = m.text.scopes[sc].parent {
		for _, at := range m.text.globs[sc] {
			for _, t := range r.leads(m, &m.text.uses[at], newQuery()) {
				if t.library {
					return true
				}
			}
		}
		if m.text.scopes[sc].module {
			return false
		}
	}
}
