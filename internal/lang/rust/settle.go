package rust

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
)

// Settle writes the paths of a file so that each leads to the same thing, and each use brings the same name. A part of
// a path that leads from a module to one that it holds, or to the one around it, may lead elsewhere after a move: then
// the module behind it is named anew, in the manner of the old text if that can be.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	was, now := old.moduleOf(q.OldFrom), r.moduleOf(q.From)
	if was == nil {
		return nil, nil
	}
	s := &settler{Resolver: r, Settling: q, old: old, was: was, now: now, Sheet: imports.NewSheet(q, settles)}
	done := map[int32]bool{}
	for i := range q.Mentions {
		m := &q.Mentions[i]
		o := lang.Own[*own](m)
		if o == nil || !settles(m) || m.Kind == Mod || m.Kind == Foreign {
			continue
		}
		if now == nil {
			s.Fail(m.Span.Start, "no module would hold it")
			return s.Done()
		}
		if o.stmt > 0 {
			if !done[o.stmt] {
				done[o.stmt] = true
				s.statement(&was.text.stmts[o.stmt-1], o.stmt-1)
			}
			continue
		}
		if m.Kind == Name || m.Kind == Given && len(o.path) == 1 { // what brings it is written anew; what it stands for must be seen
			w := s.old.ask(s.was, o)
			from := s.was.in(o.scope)
			if then := s.newOf(from); then != nil && w.whole() {
				if f := s.unseen(o, &w, from, then); f.why != "" {
					s.fail(m.Span.Start, f)
				}
			}
			continue
		}
		s.path(m, o)
	}
	return s.Done()
}

// settler settles one file.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	*imports.Sheet
	old      *Resolver
	was, now *module
}

// newOf gives the module of the new tree that one of the old tree is; nil where it is not there.
func (r *Resolver) newOf(m *module) *module {
	id, here := r.tree.Came(m.file)
	if !here {
		return nil
	}
	all := r.modules().of[id]
	if root, rooted := r.tree.Came(m.crate.root.file); rooted { // a file may be a module of several crates
		if at := slices.IndexFunc(all, func(one *module) bool { return one.crate.root.file == root }); at >= 0 {
			all = all[at:]
		}
	}
	switch {
	case len(all) == 0:
		return nil
	case m.scope == 0:
		return all[0]
	}
	if in := all[0].byScope[m.scope]; in != nil && in.name == m.name {
		return in
	}
	return nil
}

// follows says what the parts of a path are then: the path itself, where each part leads on as before.
//
// A name may stand for a module and for something else too; the module is meant only where it is asked for.
func (s *settler) follows(o *own, w *walked, asModule bool) (path []string, changed bool, why fault) {
	from := s.was.in(o.scope)
	then := s.newOf(from)
	if at, parted := s.old.direct(w, o.path, from, s.packThen); parted > 0 && then != nil && !o.doc {
		if in := s.newOf(at.mod); in != nil {
			if head := s.head(o, w, in, then); head != nil {
				return append(append(head, at.name), o.path[parted:]...), true, fault{}
			}
		}
	}
	bad := -1
	var macroRoot *module // of the crate in which a macro is known then that the path leads to
	for i := range w.hops {
		h := &w.hops[i]
		if !asModule && i == len(o.path)-1 && h.mod != nil {
			if other := w.other(); other != nil {
				h = other
			}
		}
		before := from
		if i > 0 {
			before = w.hops[i-1].mod
		}
		if i > 0 {
			macroRoot = s.leavesRoot(h, before)
		}
		if before == nil || h.mod == nil {
			continue
		}
		if i == 0 && then != nil && s.otherCrate(h, o, then) {
			bad = 0
			continue
		}
		if h.how == byGlob { // the use brings what the module around it holds
			if before = h.mod.parent; before == nil {
				continue
			}
		} else if h.how != byKid && (h.how != byKeyword || o.path[i] != "super") {
			continue
		}
		now, above := s.newOf(h.mod), s.newOf(before) // a module that only named others may be gone
		if now == nil || above == nil || h.how != byKeyword && (now.parent != above || now.name != h.mod.name) ||
			h.how == byKeyword && above.parent != now {
			bad = i
		}
	}
	if bad >= 0 && s.newOf(w.hops[bad].mod) == nil {
		return nil, false, fault{why: fmt.Sprintf("%s would be no module any more", w.hops[bad].mod.written("crate"))}
	}
	if then == nil {
		return nil, false, fault{why: "no module would hold it"}
	}
	if why = s.unseen(o, w, from, then); why.why != "" {
		return nil, false, why
	}
	to := macroRoot
	if to != nil {
		bad = len(o.path) - 2
	} else if bad >= 0 {
		to = s.newOf(w.hops[bad].mod)
	} else {
		return o.path, false, fault{}
	}
	head := s.head(o, w, to, then)
	if head == nil && to.crate.kind != aLibrary {
		return nil, false, fault{why: fmt.Sprintf("%s would be a part of the %s %s, which nothing else can name", to.written("crate"), to.crate.kind, to.crate.name)}
	} else if head == nil {
		return nil, false, fault{why: fmt.Sprintf("it would be in the package %s, and the manifest of %s does not ask for that", to.crate.pack.name, then.crate.pack.name)}
	}
	return append(head, o.path[bad+1:]...), true, fault{}
}

// head names a module of the new tree from another, in the manner of a path.
func (s *settler) head(o *own, w *walked, to, from *module) []string {
	full := to.path()
	if o.doc || to.crate.root != from.crate.root {
		name := s.crateName(to.crate, from, o.path[0])
		if name == "" && o.where == inDocLink && to.crate.kind == aLibrary {
			name = to.crate.pack.lib
		}
		if name == "" {
			return nil
		}
		return append([]string{name}, full...)
	}
	below := func(up *module) []string { return full[len(up.path()):] }
	switch first := w.hops[0]; {
	case o.path[0] == "self" && to.within(from):
		return append([]string{"self"}, below(from)...)
	case first.how == byKid && to.within(from) && to != from:
		return below(from)
	case o.path[0] == "super":
		ups := []string{}
		for up := from.parent; up != nil && len(ups) <= strings.Count(strings.Join(o.path, " "), "super"); up = up.parent {
			if ups = append(ups, "super"); to.within(up) && len(ups) <= countSupers(o.path) {
				return append(ups, below(up)...)
			}
		}
	case from.crate.pack.edition == "" || from.crate.pack.edition == "2015":
		if (o.use || o.global) && o.path[0] != "crate" && len(full) > 0 {
			return full
		}
	}
	return append([]string{"crate"}, full...)
}

// packThen is the folder of the package in which a module of the old tree is then.
func (s *settler) packThen(m *module) string {
	if now := s.newOf(m); now != nil {
		return now.crate.pack.dir
	}
	return ""
}

// crateName is the name by which a module knows another crate; as before, if it can be.
func (s *settler) crateName(to *crate, from *module, before string) string {
	leads := func(name string) bool {
		return slices.ContainsFunc(s.crateNamed(from, name, found{how: byCrate}), func(f found) bool { return f.mod == to.root })
	}
	if leads(before) {
		return before
	}
	for _, name := range slices.Sorted(maps.Keys(from.crate.pack.deps)) {
		if leads(name) {
			return name
		}
	}
	if to.pack == from.crate.pack && to.kind == aLibrary {
		return to.pack.lib
	}
	return ""
}

// otherCrate says whether the first part of a path, which leads to the root of a crate, leads to another from a module of
// the new tree.
func (s *settler) otherCrate(h *found, o *own, from *module) bool {
	name := o.path[0]
	now := s.newOf(h.mod)
	switch {
	case now == nil:
		return false
	case h.how == byKeyword && h.mod.parent == nil && name == "crate":
		return now != from.crate.root
	case h.how == byCrate:
		return !o.doc && now.crate == from.crate || now.parent != nil || s.crateName(now.crate, from, name) != name
	}
	return false
}

// leavesRoot gives the root of the crate in which a macro is known then, where that is another one; nil for all else.
func (s *settler) leavesRoot(h *found, root *module) *module {
	if h.item == nil || !h.item.exported || root == nil || root.parent != nil {
		return nil
	}
	if owner, now := s.newOf(h.owner), s.newOf(root); owner != nil && now != nil && owner.crate != now.crate {
		return owner.crate.root
	}
	return nil
}

func countSupers(path []string) (n int) {
	for n < len(path) && path[n] == "super" {
		n++
	}
	return n
}

// unseen says what of a path would not be seen from a module of the new tree; empty for nothing.
func (s *settler) unseen(o *own, w *walked, from, then *module) fault {
	if o.doc || o.where == inDocLink {
		return fault{}
	}
	for i := range w.hops {
		if f := s.hidden(&w.hops[i], o.path[min(i, len(o.path)-1)], from, then); f.why != "" {
			return f
		}
	}
	return fault{}
}

// hidden says why what a part of a path leads to would not be seen from a module of the new tree; empty if it would be.
func (s *settler) hidden(h *found, name string, from, then *module) fault {
	if h.how == byKeyword || h.how == byCrate || h.library && h.by == nil {
		return fault{}
	}
	if h.how == byGlob && h.glob != nil { // what the module has that the use is of
		for _, in := range s.old.leads(h.by, h.glob, newQuery()) {
			if in.mod == nil || in.mod == h.by {
				continue
			}
			for _, other := range s.old.member(in.mod, name, newQuery()) {
				if !other.same(&h.thing) || other.how == byGlob && other.by == h.by {
					continue
				}
				if f := s.hidden(&other, name, from, then); f.why != "" {
					return f
				}
			}
		}
	}
	var reach *module
	if h.how == byKid && h.mod != nil {
		now := s.newOf(h.mod)
		if now == nil || now.parent == nil {
			return fault{}
		}
		reach = s.reachOf(now.sees, now.parent)
	} else if h.reach != nil {
		if reach = s.newOf(h.reach); reach == nil {
			return fault{}
		}
		if h.item != nil && h.item.kind == isMacro {
			return fault{}
		}
		if h.item != nil && h.how == byItem {
			if owner := s.newOf(h.owner); owner != nil {
				reach = s.reachThen(h.item.sees, h.owner, owner)
			}
		}
		if s.widened(h, name, then) {
			return fault{}
		}
	}
	if reach == nil || then.within(reach) {
		return fault{}
	}
	around := []*module{from, h.mod, h.owner, h.by}
	if h.reach != nil {
		around = append(around, h.reach)
	}
	hint := ""
	if reach.crate.pack != then.crate.pack {
		hint = " in another package; widen: needed lets it"
	}
	return fault{fmt.Sprintf("%s of %s is seen in %s alone, and the place would lie outside%s", name,
		s.old.tree.Path(h.where()), reach.written("crate"), hint), s.movedOf(around)}
}

// widened says whether what a part of a path leads to has been written so that it is seen from a module.
func (s *settler) widened(h *found, name string, then *module) bool {
	seen := false
	if h.how == byUse {
		by := s.newOf(h.by)
		if by == nil {
			return false
		}
		for i := range h.by.text.uses {
			if u := &h.by.text.uses[i]; u.bound == name {
				seen = seen || s.wider(h.by, by, u.stmt, then)
			}
		}
		return seen
	}
	if h.item == nil {
		return false
	}
	owner := s.newOf(h.owner)
	if owner == nil {
		return false
	}
	now := owner.text.itemLike(h.owner.text, h.item)
	if now == nil || now.sees.reach == h.item.sees.reach {
		return false
	}
	reach := s.reachOf(now.sees, owner)
	return reach == nil || then.within(reach)
}

// itemLike gives the item of a reading that one of another reading of the file is: of those of its name and kind the one
// in the same place. Nil for none.
func (f *file) itemLike(was *file, one *item) *item {
	before := 0
	for i := range was.items {
		if it := &was.items[i]; it == one {
			break
		} else if it.name == one.name && it.kind == one.kind && it.scope == one.scope {
			before++
		}
	}
	for i := range f.items {
		if it := &f.items[i]; it.name == one.name && it.kind == one.kind && it.scope == one.scope {
			if before == 0 {
				return it
			}
			before--
		}
	}
	return nil
}

// alike says whether two readings of a file have the same uses, whatever is said of how far they are seen.
func (f *file) alike(other *file) bool {
	return len(f.stmts) == len(other.stmts) && len(f.uses) == len(other.uses)
}

// fault is what stands against a path, and the moves that are at fault.
type fault struct {
	why  string
	lost []string
}

// movedOf gives the first file that moves, of some modules and those around them.
func (s *settler) movedOf(modules []*module) []string {
	for _, m := range modules {
		for ; m != nil; m = m.parent {
			if now, here := s.tree.Came(m.file); here && s.tree.Path(now) != s.old.tree.Path(m.file) {
				return []string{s.old.tree.Path(m.file)}
			}
		}
	}
	return nil
}

// fail notes what stands against what begins at a place.
func (s *settler) fail(at int, f fault) {
	s.Fail(at, "%s", f.why)
	s.Blame(f.lost...)
}

// reachThen is how far something is seen that a module declares, when it is written as far as it can be as it was.
func (r *Resolver) reachThen(v visibility, was, now *module) *module {
	switch v.reach {
	case inSuper, inModule:
		if old := r.newOf(r.reachOf(v, was)); old != nil && now.within(old) {
			return old
		}
		if v.reach == inSuper && now.parent != nil {
			return now.parent
		}
		return now
	}
	return r.reachOf(v, now)
}

// word is a part of a path as it is written.
func word(name string) string {
	switch name {
	case "crate", "self", "super", "Self", "$crate":
		return name
	}
	if isKeyword(name) {
		return "r#" + name
	}
	return name
}

func written(path []string) string {
	out := make([]string, len(path))
	for i, part := range path {
		out[i] = word(part)
	}
	return strings.Join(out, "::")
}

// path writes a path in code, in a comment or in a string.
func (s *settler) path(m *lang.Mention, o *own) {
	w := s.old.ask(s.was, o)
	path, changed, why := s.follows(o, &w, false)
	if why.why != "" {
		s.fail(m.Span.Start, why)
		return
	}
	if !changed {
		return
	}
	text := written(path)
	raw := string(s.Content[m.Span.Start:m.Span.End])
	if strings.HasPrefix(raw, "$crate") && path[0] == "crate" {
		text = "$" + text
	}
	if o.global {
		text = "::" + text
	}
	s.Edit(m.Span, text)
}

// sight writes that something is seen in a module around the one that declares it, by their paths behind their crate;
// that all see it, where none is.
func sight(reach, in []string) string {
	switch {
	case len(reach) == 0:
		return "pub"
	case len(reach) == len(in):
		return ""
	case len(reach) == 1:
		return "pub(crate)"
	case len(in)-len(reach) == 1:
		return "pub(super)"
	}
	return "pub(in " + written(append([]string{"crate"}, reach[1:]...)) + ")"
}
