package rust

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Owes gives the lines that say which files are modules: one that moves is named by another parent then, and a parent
// that is not there is written.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !old.any {
		return nil
	}
	o := &owing{Resolver: r, old: old, moves: map[string]string{}, edits: map[string]*lines{}, lost: map[string]string{},
		of: map[*module]*spot{}, woods: map[string]*wood{}, touched: map[*crate]bool{}, widens: map[string]bool{},
		byName: map[*crate]map[string][]held{}, wishes: map[wishKey]*wish{}}
	for _, m := range moves {
		if o.moves[m.From] = m.To; m.Widen {
			o.widens[m.From] = true
		}
	}
	f := old.modules()
	o.crates(f)
	o.orphans(f)
	o.twice(f)
	o.members(f)
	o.implemented(f)
	o.macros(f)
	o.unknownMacros(f)
	o.ruled(f)
	o.speech(f)
	o.wished(f)
	o.visibilities(f)
	o.widen()
	return o.duties()
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     map[string]string
	edits     map[string]*lines // by the old paths of the files
	of        map[*module]*spot // the modules of the crates that are touched
	woods     map[string]*wood  // of the tree after the moves, by the files of their roots
	touched   map[*crate]bool   // of the old tree
	lost      map[string]string // moves that can't be made, and why
	widens    map[string]bool   // moves for whose sake declarations may be seen further
	wishes    map[wishKey]*wish
	byName    map[*crate]map[string][]held // private members
	needs     map[string]map[string]bool   // the packages that one needs then, by their folders
	out       []lang.Duty
}

// then is where a file of the old tree will be.
func (o *owing) then(p string) string {
	if to := o.moves[p]; to != "" {
		return to
	}
	return p
}

// forbid says that a file can't move.
func (o *owing) forbid(p, format string, args ...any) {
	if _, moves := o.moves[p]; moves && o.lost[p] == "" {
		o.lost[p] = fmt.Sprintf(format, args...)
	}
}

// spot is a module in the tree after the moves.
type spot struct {
	wood   *wood   // the crate that it is of
	was    *module // nil for one that is written
	file   string  // of one that is written
	name   string
	dir    string // where the files of modules below it are looked for
	parent *spot
	moved  bool // it has another parent or another name
	lines  []newLine
	public bool    // of one that is written: everybody could see a module below it
	like   *module // of one that is written: the module that had the place, and has gone
}

func (s *spot) path() []string {
	if s.parent == nil {
		return nil
	}
	return append(s.parent.path(), s.name)
}

// whole is its path behind its crate, so that paths of several crates can be compared.
func (s *spot) whole() []string { return append([]string{s.wood.file}, s.path()...) }

// newLine is a line that is written.
type newLine struct {
	name, head, sees string // head is what stands before it: comments and attributes
	macroUse         bool
	public           bool // everybody could see the module
}

func (l *newLine) text(indent string) string {
	out := l.head
	if out != "" {
		out += "\n"
	}
	if l.sees != "" {
		out += l.sees + " "
	}
	out += "mod " + word(l.name) + ";"
	return indent + strings.ReplaceAll(out, "\n", "\n"+indent)
}

// wood is the modules of a crate after the moves.
type wood struct {
	*owing
	file  string // of its root
	pack  *pack  // of the tree after the moves; nil for none
	byDir map[string]*spot
	root  *spot
	attrs []string // of a root that is written: what the old one says of all of its crate
	first *crate   // of such a one: from which its first module comes
	style int      // above zero where modules with others below them are written as x.rs, and not as x/mod.rs
}

// crates works out the lines of all crates that moves touch.
func (o *owing) crates(f *forest) {
	var all []*module
	for _, c := range f.crates {
		if o.touches(c) {
			o.touched[c] = true
			all = append(all, c.all...)
		}
	}
	for _, m := range all {
		o.root(m)
	}
	for _, m := range all {
		o.spot(m)
	}
	for _, m := range all {
		if m.parent != nil {
			o.settle(m)
		}
	}
	for _, m := range all {
		if s := o.of[m]; s.moved && m.sees.reach == public && o.old.limit(m.parent) == nil {
			for at := s.parent; at != nil && at.was == nil; at = at.parent {
				at.public = true
			}
		}
	}
	for _, m := range all {
		if o.of[m].moved {
			o.line(m)
		}
	}
	for _, file := range slices.Sorted(maps.Keys(o.woods)) {
		o.woods[file].insert()
	}
	for _, m := range all {
		o.emptied(m)
	}
	for _, c := range f.crates {
		if o.touched[c] {
			o.published(c)
		}
	}
}

// touches says whether files of a crate move, or come to its package.
func (o *owing) touches(c *crate) bool {
	if slices.ContainsFunc(c.all, func(m *module) bool { return o.moves[o.old.tree.Path(m.file)] != "" }) {
		return true
	}
	for from, to := range o.moves {
		if isRust(from) && below(to, c.pack.dir) && !below(from, c.pack.dir) {
			return true
		}
	}
	return false
}

// root notes a module that is the root of a crate after the moves.
func (o *owing) root(m *module) {
	p := o.old.tree.Path(m.file)
	to := o.then(p)
	if m.parent == nil && !o.keepsRoot(p, to) {
		o.forbid(p, "it is the root of a crate, found by its place, and no setting moves that")
		to = p
	}
	is := o.rootAt(to)
	if m.parent != nil && (is == nil || to == p) {
		return
	}
	w := o.woods[to]
	if w == nil {
		w = &wood{owing: o, file: to, pack: o.packOf(to), byDir: map[string]*spot{}}
		o.woods[to] = w
	}
	s := &spot{wood: w, was: m, name: m.name, dir: path.Dir(to), moved: m.parent != nil}
	if o.of[m] = s; w.root == nil {
		w.root = s
	}
	w.place(s)
	if m.parent != nil && is.kind != aLibrary {
		o.forbid(p, "%s is the place of a crate of its own", to)
	}
}

// rootAt gives the crate of the new tree of which a file is the root; nil for none.
func (o *owing) rootAt(p string) *crate {
	id, there := o.tree.Lookup(p)
	if !there {
		return nil
	}
	for _, c := range o.modules().crates {
		if c.root.file == id {
			return c
		}
	}
	return nil
}

// packOf gives the package of the new tree that a file lies in; nil for none.
func (o *owing) packOf(p string) (out *pack) {
	for _, one := range o.modules().packs {
		if below(p, one.dir) && (out == nil || len(one.dir) > len(out.dir)) {
			out = one
		}
	}
	return out
}

// spot notes a module in its crate, and those in its braces.
func (o *owing) spot(m *module) {
	p := o.old.tree.Path(m.file)
	to := o.then(p)
	s := o.of[m]
	if s == nil {
		s = &spot{wood: o.woodFor(m, to), was: m, name: m.name}
		if m.pathed || path.Base(to) == "mod.rs" {
			s.dir = path.Dir(to)
		} else {
			s.dir = strings.TrimSuffix(to, ".rs")
		}
		o.of[m] = s
		s.wood.place(s)
	}
	for i, text := int32(1), m.text; int(i) < len(text.scopes); i++ {
		if in := m.byScope[i]; in != nil {
			around := o.of[in.parent]
			o.of[in] = &spot{wood: s.wood, was: in, name: in.name, dir: path.Join(around.dir, in.name), parent: around}
			s.wood.place(o.of[in])
		}
	}
	if m.parent != nil && !m.pathed && len(m.kids) > 0 {
		if path.Base(p) == "mod.rs" {
			s.wood.style--
		} else {
			s.wood.style++
		}
	}
}

// woodFor gives the crate that a module is of after the moves: its own, if it does not leave its package, else the library
// of the package that it comes to, or the program that has its modules there. A library that is not there is written.
func (o *owing) woodFor(m *module, to string) *wood {
	own := o.of[m.crate.root].wood
	pack := o.packOf(to)
	if _, moves := o.moves[o.old.tree.Path(m.file)]; pack == nil || pack == own.pack || !moves && below(to, own.root.dir) {
		return own
	}
	var best *wood
	for _, file := range slices.Sorted(maps.Keys(o.woods)) {
		w := o.woods[file]
		if w.pack != pack || w.root == nil || !below(path.Dir(to), w.root.dir) {
			continue
		}
		c := o.rootAt(file)
		if c != nil && c.kind != aLibrary && c.kind != aProgram {
			continue
		}
		if best == nil || len(w.root.dir) > len(best.root.dir) || c != nil && c.kind == aLibrary {
			best = w
		}
	}
	if best != nil {
		return best
	}
	file := path.Join(pack.dir, "src/lib.rs")
	if !below(path.Dir(to), path.Dir(file)) {
		return own
	}
	w := &wood{owing: o, file: file, pack: pack, byDir: map[string]*spot{}, attrs: o.inner(m.crate), first: m.crate}
	w.root = &spot{wood: w, file: file, dir: path.Dir(file), public: true}
	w.byDir[w.root.dir] = w.root
	o.woods[file] = w
	return w
}

// published says what users of a library that others may get would have to write otherwise: no text here shows them.
func (o *owing) published(c *crate) {
	if c.kind != aLibrary || !c.pack.public {
		return
	}
	var changed []string
	for _, m := range c.all[1:] {
		s := o.of[m]
		if m.sees.reach != public || o.old.limit(m.parent) != nil || s.wood == o.of[c.root].wood && slices.Equal(m.path(), s.path()) {
			continue
		}
		now := "hidden"
		switch {
		case s.wood != o.of[c.root].wood && s.wood.pack != nil:
			now = strings.Join(append([]string{s.wood.pack.lib}, s.path()...), "::")
		case o.open(s.parent):
			now = strings.Join(s.path(), "::")
		}
		changed = append(changed, strings.Join(m.path(), "::")+" ("+now+")")
	}
	if len(changed) == 0 {
		return
	}
	more := ""
	if len(changed) > 3 {
		more = fmt.Sprintf(", %d more", len(changed)-3)
		changed = changed[:3]
	}
	o.remark(o.old.tree.Path(c.root.file), 0, "users of "+c.pack.lib+" elsewhere name modules that have other paths then: "+
		strings.Join(changed, ", ")+more+"; publish = false in its manifest says that there are none")
}

// keepsRoot says whether the root of a crate is found in its new place as what it was.
func (o *owing) keepsRoot(from, to string) bool {
	was, is := o.old.Place(from)
	if !is || was.Named || from == to {
		return true
	}
	then, still := o.Place(to)
	return still && then.Rest == was.Rest
}

// place notes where files of modules below a module are looked for; the first that looks somewhere stays.
func (w *wood) place(s *spot) {
	for m := s.was; m != nil; m = m.parent { // files beside one that is named by its path are none of it
		if m.pathed || m.scope != 0 && m.text.scopes[m.scope].pathed != "" {
			return
		}
	}
	if w.byDir[s.dir] == nil {
		w.byDir[s.dir] = s
	}
}

// settle finds the parent of a module by the place of its file.
func (o *owing) settle(m *module) {
	s := o.of[m]
	if s.wood.file == o.then(o.old.tree.Path(m.file)) { // it is the root of a crate
		return
	}
	s.parent = o.of[m.parent]
	p := o.old.tree.Path(m.file)
	to := o.then(p)
	if m.pathed {
		if s.parent.wood != s.wood {
			s.wood = s.parent.wood
			o.forbid(p, "#[path] names its file, and its package would be another one")
		}
		return
	}
	dir := path.Dir(to)
	s.name = strings.TrimSuffix(path.Base(to), ".rs")
	if path.Base(to) == "mod.rs" {
		s.name, dir = path.Base(dir), path.Dir(dir)
	}
	s.moved = s.name != m.name || s.parent.wood != s.wood
	if s.parent.dir != dir || s.parent.wood != s.wood {
		above := s.wood.holder(dir, p, 0)
		if above == nil {
			s.parent, s.wood = o.of[m.parent], o.of[m.parent].wood
			return
		}
		s.parent, s.moved = above, true
	}
	if !isName(s.name) && s.moved {
		o.forbid(p, "%q is no name that a module may have", s.name)
	}
	if s.moved && to != p && o.rootAt(to) != nil {
		o.forbid(p, "%s is the place of a crate of its own", to)
	}
}

// isName says whether a text may be the name of a module.
func isName(name string) bool {
	return isPath(name) && name != "crate" && name != "self" && name != "super" && name != "Self" && name != "_"
}

// holder gives the module whose files are looked for in a folder; one that is written, if there is none.
func (w *wood) holder(dir, of string, depth int) *spot {
	if s := w.byDir[dir]; s != nil {
		return s
	}
	if !below(dir, w.root.dir) || depth > deepestModule {
		w.forbid(of, "its crate has its modules below %s, and a file elsewhere is none of it", w.root.dir)
		return nil
	}
	parent := w.holder(path.Dir(dir), of, depth+1)
	if parent == nil {
		return nil
	}
	name := path.Base(dir)
	if !isName(name) {
		w.forbid(of, "%q is no name that a module may have", name)
		return nil
	}
	file := dir + ".rs"
	if w.style < 0 {
		file = dir + "/mod.rs"
	}
	for _, p := range []string{dir + ".rs", dir + "/mod.rs"} {
		if id, there := w.tree.Lookup(p); there {
			if _, was := w.tree.Origin(id); was != project.None {
				w.forbid(of, "%s is there, and no line says that it is a module", p)
				return nil
			}
		}
	}
	s := &spot{wood: w, file: file, name: name, dir: dir, parent: parent, moved: true, like: w.before(dir)}
	w.byDir[dir] = s
	return s
}

// before gives the module below which files in a folder were; nil for none.
func (w *wood) before(dir string) *module {
	for c := range w.touched {
		if o := w.of[c.root]; o.wood != w {
			continue
		}
		for _, m := range c.all[1:] {
			if m.dir == dir && !m.pathed {
				return m
			}
		}
	}
	return nil
}

// headOf is what stands before a line: comments and attributes, each on a line.
func (o *owing) headOf(m *module) string {
	src := o.content(m.parent.file)
	var rows []string
	for row := range strings.SplitSeq(strings.TrimSpace(string(src[m.line.whole.Start:m.line.from])), "\n") {
		rows = append(rows, strings.TrimSpace(row))
	}
	return strings.Join(rows, "\n")
}

// attributesOf are the attributes among them.
func (o *owing) attributesOf(m *module) string {
	var rows []string
	for row := range strings.SplitSeq(o.headOf(m), "\n") {
		if strings.HasPrefix(row, "#[") && strings.HasSuffix(row, "]") {
			rows = append(rows, row)
		}
	}
	return strings.Join(rows, "\n")
}

// below says whether a folder is another or lies in it.
func below(dir, top string) bool { return top == "." || dir == top || strings.HasPrefix(dir, top+"/") }

// line takes the line of a module out of the old parent, and writes it into the new one.
func (o *owing) line(m *module) {
	s := o.of[m]
	parent := o.old.tree.Path(m.parent.file)
	if m.line.inMacro {
		o.blame([]*module{m}, "%s:%d: a macro makes it a module", parent, o.lineOf(m.parent.file, m.line.at.Start))
		return
	}
	if s.parent == nil {
		o.becomesRoot(m)
		return
	}
	sees, all, why := o.sight(m)
	if why != "" {
		o.blame([]*module{m}, "%s", why)
		return
	}
	lost, won := o.conditions(m)
	if len(won) > 0 {
		o.blame([]*module{m}, "%s: what lies there is there under #[%s] alone", o.then(o.old.tree.Path(m.file)), won[0])
		return
	}
	e := o.of[m.parent]
	if s.parent == e { // it has another name
		at := m.line.at
		if src := o.content(m.parent.file); at.Start > 1 && string(src[at.Start-2:at.Start]) == "r#" {
			at.Start -= 2
		}
		o.fileLines(parent).add(source.Edit{Span: at, New: word(s.name)})
		return
	}
	o.fileLines(parent).remove(o.content(m.parent.file), m.line)
	head := o.headOf(m)
	for _, cond := range lost {
		head = strings.TrimSpace(head + "\n#[" + cond + "]")
	}
	s.parent.write(newLine{name: s.name, head: head, sees: sees, macroUse: m.line.macroUse,
		public: all || m.sees.reach == public && o.old.limit(m.parent) == nil})
}

// becomesRoot takes out the line of a module that is the root of a library then, and gives that what the old root says of
// all of its crate.
func (o *owing) becomesRoot(m *module) {
	parent := o.old.tree.Path(m.parent.file)
	at := fmt.Sprintf("%s:%d", parent, o.lineOf(m.parent.file, m.line.at.Start))
	for _, cond := range conds(m) {
		o.blame([]*module{m}, "%s: the module is there under #[%s], and a library is always there", at, cond)
	}
	if m.usesMacros() {
		o.blame([]*module{m}, "%s: its macros are known by its place, and a library has none; #[macro_export] and a use of each would let it", at)
	}
	o.fileLines(parent).remove(o.content(m.parent.file), m.line)
	p := o.old.tree.Path(m.file)
	own := innerAttributes(o.content(m.file), m.text.first)
	attrs := slices.DeleteFunc(o.inner(m.crate), func(a string) bool { return slices.Contains(own, a) })
	if len(attrs) > 0 {
		o.fileLines(p).put(0, strings.Join(attrs, "\n")+"\n")
		o.remark(p, 0, "it has the attributes of the crate that it comes from: "+strings.Join(attrs, " "))
	}
	if lines := o.of[m].wood.externs(m.crate); lines != "" {
		o.fileLines(p).put(m.text.first, lines)
	}
}

// inner is what a root says of all of its crate, but for its documentation and its name.
func (o *owing) inner(c *crate) []string {
	return innerAttributes(o.content(c.root.file), c.root.text.first)
}

// externs are the lines by which a new root brings crates, as the old root does.
func (w *wood) externs(c *crate) (out string) {
	var of []*module
	for _, m := range c.all {
		if w.of[m].wood == w {
			of = append(of, m)
		}
	}
	for _, line := range w.old.externs(c, of) {
		if out += line.text + "\n"; line.macros {
			w.remark(w.old.tree.Path(c.root.file), 0, w.file+" gives its crate the macros of libraries, as this file does; take out "+
				"the lines of those that it does not use")
		}
	}
	if out != "" {
		out += "\n"
	}
	return out
}

// externs are the lines by which the root of a crate brings others, as far as some of its modules need them elsewhere.
func (r *Resolver) externs(c *crate, of []*module) []extern {
	content, _ := r.tree.Content(c.root.file)
	names := func(name string) bool {
		return slices.ContainsFunc(of, func(m *module) bool {
			return slices.ContainsFunc(m.text.uses, func(u use) bool { return u.path[0] == name }) ||
				slices.ContainsFunc(m.text.paths, func(p pathUse) bool { return strings.HasPrefix(p.text, name+"::") })
		})
	}
	return externsOf(content, names, slices.ContainsFunc(of, func(m *module) bool { return r.unknownMacro(m) != "" }))
}

// conditions gives the conditions that modules around a module are under, and those around it then are not; and those
// that it comes under.
func (o *owing) conditions(m *module) (lost, won []string) {
	own := conds(m)
	before := slices.Clone(own)
	for at := m.parent; at != nil; at = at.parent {
		before = append(before, conds(at)...)
	}
	after := slices.Clone(own)
	for at := o.of[m].parent; at != nil; at = at.parent {
		if at.was != nil {
			after = append(after, conds(at.was)...)
		} else if at.like != nil {
			after = append(after, conds(at.like)...)
		}
	}
	for _, c := range before {
		if !slices.Contains(after, c) && !slices.Contains(lost, c) {
			lost = append(lost, c)
		}
	}
	for _, c := range after {
		if !slices.Contains(before, c) {
			won = append(won, c)
		}
	}
	return lost, won
}

// conds are the conditions that a module says that it is under.
func conds(m *module) []string {
	switch {
	case m.line != nil:
		return slices.Concat(m.line.conds, m.text.conds)
	case m.scope != 0:
		return m.text.scopes[m.scope].conds
	}
	return nil
}

func (o *owing) lineOf(id project.FileID, at int) int {
	return source.PositionAt(o.content(id), at).Line
}

func (o *owing) content(id project.FileID) []byte {
	content, _ := o.old.tree.Content(id)
	return content
}

// write notes a line of a module, and the line of a module that is written for its sake.
func (s *spot) write(line newLine) { s.lines = append(s.lines, line) }

// sight says how far a module is seen then: as far as before, in other words if need be; further, where that is asked for
// and somebody needs it. all says that this is everywhere.
func (o *owing) sight(m *module) (sees string, all bool, why string) {
	in := o.of[m].parent.whole()
	reach, limited := o.keeps(m)
	if !limited {
		return "pub", false, ""
	}
	users := o.old.usersOf(m)
	for _, user := range users {
		then := o.pathThen(user)
		switch {
		case hasPrefix(then, reach):
		case o.mayWiden(m, user):
			reach = common(reach, then)
			o.remark(o.old.tree.Path(m.parent.file), m.line.at.Start, fmt.Sprintf("mod %s is seen as %s then, since %s needs it",
				m.name, sight(reach, in), o.old.tree.Path(user.file)))
		case then[0] != in[0]:
			return "", false, fmt.Sprintf("%s uses it, from another package, which sees only what is pub (%s:%d); widen: needed lets it",
				o.old.tree.Path(user.file), o.old.tree.Path(m.parent.file), o.lineOf(m.parent.file, m.line.at.Start))
		case slices.Equal(reach, in): // it was seen in a module that is not around it any more
			return "", false, fmt.Sprintf("%s uses it, which is seen in %s alone (%s:%d), and the place would lie outside; "+
				"a wider reach, as pub(crate), lets it", o.old.tree.Path(user.file), o.old.reachOf(m.sees, m.parent).written("crate"),
				o.old.tree.Path(m.parent.file), o.lineOf(m.parent.file, m.line.at.Start))
		}
	}
	return sight(reach, in), len(reach) == 0, ""
}

// keeps is the path of the module in which a module is seen then as it was before; the one around it where that is not
// around it any more. It is not limited where all see it.
func (o *owing) keeps(m *module) (reach []string, limited bool) {
	s := o.of[m]
	around := func(reach *spot) bool {
		for at := s.parent; at != nil; at = at.parent {
			if at == reach {
				return true
			}
		}
		return false
	}
	if m.sees.reach == public {
		limit := o.old.limit(m.parent)
		switch {
		case limit == nil || !o.open(s.parent):
			return nil, false
		case around(o.of[limit]): // what stood around it kept it from being seen everywhere, and what will does not
			return o.of[limit].whole(), true
		}
		return []string{s.wood.file}, true
	}
	if seen := o.of[o.old.reachOf(m.sees, m.parent)]; seen != nil && around(seen) {
		return seen.whole(), true
	}
	return s.parent.whole(), true
}

// limit is the module beyond which nothing in another is seen; nil where all see it.
func (r *Resolver) limit(m *module) *module {
	for at := m; at.parent != nil; at = at.parent {
		if at.sees.reach != public {
			return r.reachOf(at.sees, at.parent)
		}
	}
	return nil
}

// open says whether all may see what stands in a module then.
func (o *owing) open(s *spot) bool {
	for at := s; at.parent != nil; at = at.parent {
		if at.was == nil {
			if !at.public {
				return false // it is written no wider than it must be
			}
			continue
		}
		if at.was.sees.reach != public {
			return false
		}
	}
	return true
}

// insert writes the lines, and the modules that are not there.
func (w *wood) insert() {
	for changed := true; changed; { // a module that is written has a line in its parent
		changed = false
		for _, dir := range slices.Sorted(maps.Keys(w.byDir)) {
			s := w.byDir[dir]
			if s.was != nil || len(s.lines) == 0 || !s.moved {
				continue
			}
			s.moved, changed = false, true
			sees := ""
			for _, l := range s.lines {
				switch {
				case l.public:
					sees = "pub"
				case sees == "" && l.sees != "" && s.parent.parent != nil: // else its parent is all that sees it
					sees = "pub(crate)"
				}
			}
			macroUse := slices.ContainsFunc(s.lines, func(l newLine) bool { return l.macroUse })
			head := ""
			if s.like != nil { // it is under the same condition as the one that was there
				head = w.attributesOf(s.like)
			}
			if macroUse && !strings.Contains(head, "macro_use") {
				head = strings.TrimSpace(head + "\n#[macro_use]")
			}
			s.parent.write(newLine{name: s.name, head: head, sees: sees, macroUse: macroUse, public: sees == "pub"})
		}
	}
	for _, dir := range slices.Sorted(maps.Keys(w.byDir)) {
		s := w.byDir[dir]
		if len(s.lines) == 0 {
			continue
		}
		slices.SortStableFunc(s.lines, func(a, b newLine) int { return strings.Compare(a.name, b.name) })
		if s.was != nil {
			w.captured(s)
		}
		if s.was == nil {
			var b strings.Builder
			if s.parent == nil {
				if w.documented() {
					b.WriteString("//! What belongs to `" + w.pack.name + "`.\n\n")
				}
				for _, attr := range w.attrs {
					b.WriteString(attr + "\n")
				}
				if len(w.attrs) > 0 {
					b.WriteString("\n")
				}
				b.WriteString(w.externs(w.first))
			} else if w.documented() {
				b.WriteString("//! What belongs to `" + s.name + "`.\n\n")
			}
			for _, l := range s.lines {
				b.WriteString(l.text("") + "\n")
			}
			w.out = append(w.out, lang.Duty{Path: s.file, New: []byte(b.String())})
			continue
		}
		w.fileLines(w.old.tree.Path(s.was.file)).insert(w.content(s.was.file), s.was, s.lines)
	}
}

// captured keeps new modules from taking the name of a library that paths of their parent begin with.
func (w *wood) captured(s *spot) {
	named := func(name string, where int, global bool) {
		if global || w.of[s.was] == nil || !slices.ContainsFunc(s.lines, func(l newLine) bool { return l.name == name }) {
			return
		}
		if all := w.old.head(s.was, s.was.scope, name, false, false, false, newQuery()); len(all) == 0 ||
			!all[0].library || all[0].how != byCrate {
			return
		}
		for m, at := range w.of {
			if at.moved && hasPrefix(at.whole(), append(s.whole(), name)) {
				w.blame([]*module{m}, "%s:%d: %s is the name of a library there, and would be that of a module",
					w.old.tree.Path(s.was.file), w.lineOf(s.was.file, where), name)
			}
		}
	}
	f := s.was.text
	for i := range f.paths {
		if p := &f.paths[i]; f.moduleOf(p.scope) == s.was.scope && p.where != inDocCode && p.where != inRule {
			named(splitPath(p.text)[0], p.at.Start, p.global)
		}
	}
	for i := range f.uses {
		if st := &f.stmts[f.uses[i].stmt]; f.moduleOf(st.scope) == s.was.scope && !st.inDoc {
			named(f.uses[i].path[0], f.uses[i].at.Start, st.global)
		}
	}
}

// documented says whether the compiler is asked to look for modules that no comment speaks of.
func (w *wood) documented() bool {
	lint := []byte("missing_docs")
	c := w.first
	if w.root.was != nil {
		c = w.root.was.crate
	}
	if bytes.Contains(w.content(c.root.file), lint) {
		return true
	}
	id, there := w.old.tree.Lookup(path.Join(c.pack.dir, manifestName))
	return there && bytes.Contains(w.content(id), lint)
}

// emptied says if nothing is left of a module. Whether somebody needs it is not for a program to say.
func (o *owing) emptied(m *module) {
	p := o.old.tree.Path(m.file)
	if e := o.edits[p]; m.parent != nil && e != nil && len(m.text.mods) > 0 && len(o.of[m].lines) == 0 && e.empties(o.content(m.file), m.text) {
		o.remark(p, 0, "nothing is left of this module; if nobody needs it, take out the file and its line")
	}
}

// duties are what is owed.
func (o *owing) duties() []lang.Duty {
	var out []lang.Duty
	for _, p := range slices.Sorted(maps.Keys(o.edits)) {
		e := o.edits[p]
		slices.SortStableFunc(e.edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
		if len(e.edits) == 0 {
			continue
		}
		out = append(out, lang.Duty{Path: p, Edits: e.edits, Why: "which files are modules"})
	}
	out = append(out, o.out...)
	why := map[string][]string{}
	for p, reason := range o.lost {
		why[reason] = append(why[reason], p)
	}
	for reason, files := range why {
		slices.Sort(files)
		out = append(out, lang.Duty{Path: files[0], Why: reason, Lost: files})
	}
	slices.SortStableFunc(out, func(a, b lang.Duty) int { return strings.Compare(a.Path+a.Why, b.Path+b.Why) })
	return out
}

// orphans keeps files of a package of which no line says that they are modules: a macro may say it.
func (o *owing) orphans(f *forest) {
	var read map[string]bool // by macros
	for id := range o.old.tree.Files {
		p := o.old.tree.Files[id].Path
		if o.moves[p] == "" || !isRust(p) || len(f.of[project.FileID(id)]) > 0 || !slices.ContainsFunc(f.packs,
			func(k *pack) bool { return below(p, k.dir) }) {
			continue
		}
		if read == nil {
			read = o.included()
		}
		if !read[p] {
			o.forbid(p, "no line says that it is a module of a crate, so what it is a part of is not known")
		}
	}
}

// included are the files of the old tree that macros read.
func (o *owing) included() map[string]bool {
	out := map[string]bool{}
	for id := range o.old.tree.Files {
		if !isRust(o.old.tree.Files[id].Path) {
			continue
		}
		f, err := lang.Index[*file](o.old.tree, project.FileID(id))
		if err != nil {
			continue
		}
		for i := range f.texts {
			one := &f.texts[i]
			out[path.Join(o.old.baseOf(project.FileID(id), &own{form: one.form}), one.text)] = true
		}
	}
	return out
}

// twice keeps modules of which there are two files.
func (o *owing) twice(f *forest) {
	for _, t := range f.twice {
		one, other := o.old.tree.Path(t.one), o.old.tree.Path(t.other)
		o.forbid(one, "%s and %s are both the file of one module", one, other)
		o.forbid(other, "%s and %s are both the file of one module", one, other)
	}
}

// opened says which strings of a module name files from the folder of its package: tests run in that folder, and then in
// another.
func (o *owing) opened(m *module, p, was, is string) {
	src := o.content(m.file)
	tokens, _, err := lex(src, nil, nil, newNames(nil))
	if err != nil {
		return
	}
	for i := range tokens {
		t := &tokens[i]
		text := strings.Trim(string(src[t.start:t.end]), `"rb#`)
		if t.kind != tString || text == "" || strings.ContainsAny(text, "\\ \n{") || path.IsAbs(text) {
			continue
		}
		at := path.Join(was, text)
		if _, file := o.old.tree.Lookup(at); lang.Leaves(at) || at == was || !file && !(o.old.tree.IsDir(at) && strings.Contains(text, "/")) {
			continue
		}
		if _, same := o.tree.Lookup(path.Join(is, text)); same || o.tree.IsDir(path.Join(is, text)) {
			continue
		}
		o.remark(p, int(t.start), fmt.Sprintf("%q is there if its package is %s, in whose folder tests run; then it is %s", text, was, is))
	}
}

// speech says where code that moves asks for its own name.
func (o *owing) speech(f *forest) {
	for _, c := range f.crates {
		for _, m := range c.all {
			p := o.old.tree.Path(m.file)
			if o.moves[p] == "" {
				continue
			}
			for _, s := range m.text.speaks {
				o.remark(p, int(s.at), s.what+" gives its own name there, which changes")
			}
			if now := o.packOf(o.moves[p]); now != nil && now.dir != c.pack.dir {
				o.opened(m, p, c.pack.dir, now.dir)
			}
		}
	}
}
