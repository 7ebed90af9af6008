package java

import (
	"slices"
	"strings"

	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// This file looks at what the members of types let others see (JLS 6.6). No types of expressions are known here. Where
// a file shows of which type something is selected, that type is asked; else any member of the name counts. So a move
// may be held back that the compiler would take, and never the other way.

// parting judges the files of one package that would be of several.
type parting struct {
	*owing
	members map[string][]owned // those that not everybody sees, by their names
	giving  map[string][]owned // those that give a type that the package alone sees
	// torn are the types from which one that is built on them would part: it would not inherit what the package alone
	// sees.
	torn map[declared]declared
}

// owned is a member of a type of a file.
type owned struct {
	declared
	member *member
	gives  *declared // for giving: the type
}

// parted looks at packages whose files go to several.
func (o *owing) parted() {
	for _, pkg := range o.packages() {
		ids := o.old.ix.own[pkg]
		if !slices.ContainsFunc(ids, func(id project.FileID) bool { return o.then(id) != o.then(ids[0]) }) {
			continue
		}
		p := parting{owing: o, members: map[string][]owned{}, giving: map[string][]owned{},
			torn: map[declared]declared{}}
		for _, id := range ids {
			p.gather(id)
		}
		for _, id := range ids {
			p.file(id)
		}
	}
}

// packages are those of the old tree, in their order.
func (o *owing) packages() (out []string) {
	for pkg := range o.old.ix.own {
		out = append(out, pkg)
	}
	slices.Sort(out)
	return out
}

// then is the package that a file of the old tree is of in the end.
func (o *owing) then(id project.FileID) string {
	if now, there := o.tree.Came(id); there && o.Resolver.ix.files[now] != nil {
		return o.Resolver.ix.files[now].pkg
	}
	if e := o.old.ix.files[id]; e != nil {
		return e.pkg
	}
	return ""
}

func (o *owing) part(a, b project.FileID) bool { return a != b && o.then(a) != o.then(b) }

// gather notes what a file declares that not everybody sees.
func (p *parting) gather(id project.FileID) {
	e := p.old.ix.files[id]
	for i := range e.types {
		for _, base := range p.bases(declared{id, i}).all {
			if p.part(id, base.file) && p.old.ix.files[base.file].pkg == e.pkg {
				p.torn[base] = declared{id, i}
			}
		}
	}
	for i := range e.members {
		m := &e.members[i]
		d := declared{id, m.owner}
		if m.sees == packaged || m.sees == protected {
			p.members[m.name] = append(p.members[m.name], owned{declared: d, member: m})
		}
		if m.gives == "" || m.name == "" {
			continue
		}
		for _, t := range p.old.typeOf(id, e, m.owner, m.gives) {
			if p.old.ix.files[t.file].types[t.at].sees == packaged {
				p.giving[m.name] = append(p.giving[m.name], owned{declared: d, member: m, gives: &t})
			}
		}
	}
}

// typeOf gives the type that a text names in the body of a type.
func (r *Resolver) typeOf(id project.FileID, e *entry, owner int, text string) []declared {
	u := use{text: text, parts: int32(strings.Count(text, ".") + 1), sure: true, owner: int32(owner)}
	f := r.means(id, e, &u, owner)
	if len(f.all) == 0 {
		return nil
	}
	return []declared{r.deep(f, &u)}
}

// file looks at what a file uses of those that would be of another package.
func (p *parting) file(id project.FileID) {
	e := p.old.ix.files[id]
	for i := range e.uses {
		if u := &e.uses[i]; !u.doc {
			p.use(id, e, u)
		}
	}
	for i := range e.imports {
		if one := &e.imports[i]; one.static && !one.star {
			if all, name := p.old.imported(id, one.name); len(all) > 0 && len(name) < len(one.name) {
				p.static(id, all[0], one.name[len(name)+1:], one.at.Start)
			}
		}
	}
	for i := range e.selects {
		p.selected(id, e, &e.selects[i])
	}
	for i := range e.calls {
		p.called(id, e, &e.calls[i])
	}
	for i := range e.types {
		p.heir(id, e, i)
	}
}

// hold blocks the moves by which two files part.
func (p *parting) hold(id, other project.FileID, at int, format string, args ...any) {
	place := []any{p.old.tree.Path(id), p.line(id, at)}
	p.lost([]project.FileID{id, other}, "%s:%d "+format, append(place, args...)...)
}

// line is the line of a place in a file of the old tree, from 1.
func (o *owing) line(id project.FileID, at int) int {
	content, err := o.old.tree.Content(id)
	if err != nil || at > len(content) {
		return 1
	}
	return source.PositionAt(content, at).Line
}

// use looks at a name: of a type that would not be seen, or of a field without anything before it.
func (p *parting) use(id project.FileID, e *entry, u *use) {
	f := p.old.means(id, e, u, int(u.owner))
	if len(f.all) == 0 {
		if first := partsOf(u.text, 1); !u.hidden && !u.sure && p.members[first] != nil {
			p.bare(id, e, int(u.owner), first, -1, u.at.Start)
		}
		return
	}
	d := f.all[0]
	for k := f.parts; ; k++ {
		if !p.visible(id, d, f.by, u.at.Start) {
			return
		}
		if k >= int(u.parts) {
			break
		}
		next, has := p.old.ix.files[d.file].inner[inside{d.at, last(partsOf(u.text, k+1))}]
		if !has {
			break
		}
		d = declared{d.file, next}
	}
	if u.made {
		p.made(id, d, int(u.args), u.at.Start)
	}
}

// visible says whether a type is seen from a file in the end, and blocks what makes it unseen.
func (p *parting) visible(id project.FileID, d declared, by origin, at int) bool {
	if !p.part(id, d.file) {
		return true
	}
	e := p.old.ix.files[d.file]
	for k := d.at; k >= 0; k = e.types[k].owner {
		if sees := e.types[k].sees; sees == packaged || sees == protected && by != byHeritage {
			p.hold(id, d.file, at, "uses %s, which is %s in %s, and they would part", e.nameOf(k), sees, e.path)
			return false
		}
		if by == byHeritage {
			break
		}
	}
	return true
}

// made looks at a constructor that is called.
func (p *parting) made(id project.FileID, d declared, args int, at int) {
	if !p.part(id, d.file) {
		return
	}
	e := p.old.ix.files[d.file]
	for _, i := range e.owned[d.at] {
		m := &e.members[i]
		if m.name == "" && m.takes(args) && (m.sees == packaged || m.sees == protected) {
			p.hold(id, d.file, at, "calls a constructor of %s that is %s in %s, and they would part", e.nameOf(d.at), m.sees,
				e.path)
			return
		}
	}
}

// takes says whether a method may be called with a number of arguments.
func (m *member) takes(args int) bool {
	return args == anyArgs || args == m.args || m.most && args >= m.args-1
}

// static looks at a member that is imported, or selected on a type.
func (p *parting) static(id project.FileID, d declared, name string, at int) {
	for _, one := range p.members[name] {
		if p.part(id, one.file) && p.extends(d, one.declared) && !p.subclass(id, one.declared, one.member) {
			p.hold(id, one.file, at, "uses %s, which is %s in %s, and they would part", name, one.member.sees,
				p.old.ix.files[one.file].path)
			return
		}
	}
}

// selected looks at what is selected on something.
func (p *parting) selected(id project.FileID, e *entry, s *selected) {
	candidates := p.members[s.name]
	if s.further || e.guesses {
		candidates = append(slices.Clone(candidates), p.giving[s.name]...)
	}
	if !slices.ContainsFunc(candidates, func(one owned) bool { return p.part(id, one.seenIn()) || p.isTorn(one) }) {
		return
	}
	on, known, own := p.receiver(id, e, s)
	for _, one := range candidates {
		m := one.member
		if m.method != (s.args != -1) && s.args != anyArgs || m.method && !m.takes(int(s.args)) {
			continue
		}
		if known && !slices.ContainsFunc(on, func(d declared) bool { return p.extends(d, one.declared) }) {
			continue
		}
		heir, torn := p.tornOn(one, on, known)
		switch {
		case !p.part(id, one.seenIn()) && !torn:
			continue
		case torn:
			p.hold(heir.file, one.file, p.old.ix.files[heir.file].types[heir.at].at.Start,
				"inherits %s, which is package-private in %s, and they would part", s.name, p.old.ix.files[one.file].path)
			return
		case one.gives != nil:
			t := p.old.ix.files[one.gives.file]
			p.hold(id, one.gives.file, s.at,
				"selects on what %s gives, a %s, which is package-private in %s, and they would part", s.name,
				t.nameOf(one.gives.at), t.path)
			return
		case m.sees == protected && own && p.inherits(id, e, int(s.owner), one.declared):
			continue
		}
		p.hold(id, one.file, s.at, "selects %s, which is %s in %s, and they would part", s.name, m.sees,
			p.old.ix.files[one.file].path)
		return
	}
}

// isTorn says whether something would not inherit a member any more.
func (p *parting) isTorn(one owned) bool {
	_, torn := p.torn[one.declared]
	return torn && one.gives == nil && one.member.sees == packaged
}

// tornOn gives the type that would not inherit a member any more, of those on which it is selected.
func (p *parting) tornOn(one owned, on []declared, known bool) (declared, bool) {
	if !p.isTorn(one) {
		return declared{}, false
	}
	if !known {
		return p.torn[one.declared], true
	}
	for _, d := range on {
		if p.extends(d, one.declared) && !p.inheritsThen(d, one.declared) {
			return d, true
		}
	}
	return declared{}, false
}

// seenIn is the file that declares what would not be seen.
func (o *owned) seenIn() project.FileID {
	if o.gives != nil {
		return o.gives.file
	}
	return o.file
}

// receiver says of which types something is selected: those of the tree that it may be of; known is false where that is
// not seen. own: it is the type around, or one that is built on it.
func (p *parting) receiver(id project.FileID, e *entry, s *selected) (on []declared, known, own bool) {
	switch {
	case s.on == "", s.on == "class", s.on == "new", strings.HasSuffix(s.on, ")"):
		return nil, false, false
	case s.on == "this" || s.on == "super":
		for at := int(s.owner); at >= 0; at = e.types[at].owner { // A.this too
			on = append(on, declared{id, at})
		}
		return on, true, true
	}
	// which variables of a name there are where is not kept, so a type of the name is asked too
	on = p.old.typeOf(id, e, int(s.owner), s.on)
	known, own = len(on) > 0, true
	if strings.Contains(s.on, ".") {
		return on, known, own
	}
	for _, text := range e.vars[s.on] {
		found := p.old.typeOf(id, e, int(s.owner), text)
		// of a type parameter nothing is known but its bounds, which is too much to ask here
		if text == "" || len(found) == 0 && p.isParameter(e, int(s.owner), text) {
			return nil, false, false
		}
		for _, d := range found {
			own = own && slices.ContainsFunc(p.around(id, e, int(s.owner)), func(t declared) bool { return p.extends(d, t) })
		}
		on, known = append(on, found...), true
	}
	return on, known, own
}

func (p *parting) around(id project.FileID, e *entry, owner int) (out []declared) {
	for at := owner; at >= 0; at = e.types[at].owner {
		out = append(out, declared{id, at})
	}
	return out
}

// isParameter says whether a text may be a type parameter: those of methods are not kept, and are short mostly.
func (p *parting) isParameter(e *entry, owner int, text string) bool {
	for at := owner; at >= 0; at = e.types[at].owner {
		if slices.Contains(e.types[at].params, text) {
			return true
		}
	}
	return len(text) <= 2 || strings.ToUpper(text) == text
}

// called looks at a call of a method without anything before it: one that is inherited, or imported.
func (p *parting) called(id project.FileID, e *entry, c *call) {
	switch c.name {
	case "this":
	case "super":
		if c.owner >= 0 {
			for _, base := range p.old.supersOf(declared{id, int(c.owner)}, 0) {
				p.chained(id, base, int(c.args), c.at)
			}
		}
	default:
		if p.members[c.name] != nil {
			p.bare(id, e, int(c.owner), c.name, int(c.args), c.at)
		}
	}
}

// chained looks at a constructor that one of a type built on it calls: what is protected will do.
func (p *parting) chained(id project.FileID, base declared, args, at int) {
	e := p.old.ix.files[base.file]
	if !p.part(id, base.file) {
		return
	}
	for _, i := range e.owned[base.at] {
		if m := &e.members[i]; m.name == "" && m.takes(args) && m.sees == packaged {
			p.hold(id, base.file, at, "calls a constructor of %s that is package-private in %s, and they would part",
				e.nameOf(base.at), e.path)
			return
		}
	}
}

// bare looks at a member without anything before its name: of a type around, or of what that is built on.
func (p *parting) bare(id project.FileID, e *entry, owner int, name string, args, at int) {
	for _, one := range p.members[name] {
		m := one.member
		if m.sees != packaged || m.method != (args != -1) || m.method && !m.takes(args) {
			continue
		}
		for k := owner; k >= 0; k = e.types[k].owner {
			if d := (declared{id, k}); p.extends(d, one.declared) && !p.inheritsThen(d, one.declared) {
				p.hold(id, one.file, at, "uses %s, which is package-private in %s, and they would part", name,
					p.old.ix.files[one.file].path)
				p.holdBetween(d, one.declared)
				return
			}
		}
	}
	for i := range e.imports { // import static a.B.*
		if one := &e.imports[i]; one.static && one.star {
			if all := p.old.declares(id, one.name); len(all) > 0 && p.part(id, all[0].file) {
				p.static(id, all[0], name, at)
			}
		}
	}
}
