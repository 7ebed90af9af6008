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
		woods: map[*crate]*wood{}, widens: map[string]bool{}, byName: map[*crate]map[string][]held{}, wishes: map[wishKey]*wish{}}
	for _, m := range moves {
		if o.moves[m.From] = m.To; m.Widen {
			o.widens[m.From] = true
		}
	}
	f := old.modules()
	for _, c := range f.crates {
		o.crate(c)
	}
	o.orphans(f)
	o.twice(f)
	o.members(f)
	o.macros(f)
	o.unknownMacros(f)
	o.ruled(f)
	o.speech(f)
	o.wished(f)
	o.widen()
	return o.duties()
}

// owing works out what moves owe.
type owing struct {
	*Resolver // of the tree after the moves
	old       *Resolver
	moves     map[string]string
	edits     map[string]*lines // by the old paths of the files
	woods     map[*crate]*wood
	lost      map[string]string // moves that can't be made, and why
	widens    map[string]bool   // moves for whose sake declarations may be seen further
	wishes    map[wishKey]*wish
	byName    map[*crate]map[string][]held // private members
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
	c     *crate
	of    map[*module]*spot
	byDir map[string]*spot
	root  *spot
	flat  bool // modules with others below them are written as x.rs, and not as x/mod.rs
}

// crate works out the lines of one crate.
func (o *owing) crate(c *crate) {
	if !slices.ContainsFunc(c.all, func(m *module) bool { return o.moves[o.old.tree.Path(m.file)] != "" }) {
		return
	}
	w := &wood{owing: o, c: c, of: map[*module]*spot{}, byDir: map[string]*spot{}}
	o.woods[c] = w
	styles := 0
	for _, m := range c.all {
		p := o.old.tree.Path(m.file)
		to := o.then(p)
		s := &spot{was: m, name: m.name}
		switch {
		case m.parent == nil:
			if !o.keepsRoot(p, to) {
				o.forbid(p, "it is the root of a crate, found by its place, and no setting moves that")
				to = p
			}
			s.dir, w.root = path.Dir(to), s
		case m.pathed || path.Base(to) == "mod.rs":
			s.dir = path.Dir(to)
		default:
			s.dir = strings.TrimSuffix(to, ".rs")
		}
		w.of[m] = s
		w.place(s)
		for i, text := int32(1), m.text; int(i) < len(text.scopes); i++ {
			if in := m.byScope[i]; in != nil {
				w.of[in] = &spot{was: in, name: in.name, dir: path.Join(w.of[in.parent].dir, in.name), parent: w.of[in.parent]}
				w.place(w.of[in])
			}
		}
		if m.parent != nil && !m.pathed && len(m.kids) > 0 {
			if path.Base(p) == "mod.rs" {
				styles--
			} else {
				styles++
			}
		}
	}
	w.flat = styles >= 0
	for _, m := range c.all[1:] {
		w.settle(m)
	}
	for _, m := range c.all[1:] {
		if w.of[m].moved && m.sees.reach == public && o.old.limit(m.parent) == nil {
			for at := w.of[m].parent; at != nil && at.was == nil; at = at.parent {
				at.public = true
			}
		}
	}
	for _, m := range c.all[1:] {
		if w.of[m].moved {
			w.line(m)
		}
	}
	w.emptied()
	w.insert()
	w.published()
}

// published says what users of a library that others may get would have to write otherwise: no text here shows them.
func (w *wood) published() {
	if w.c.kind != aLibrary || !w.c.pack.public {
		return
	}
	var changed []string
	for _, m := range w.c.all[1:] {
		if s := w.of[m]; m.sees.reach == public && w.old.limit(m.parent) == nil && !slices.Equal(m.path(), s.path()) {
			now := "hidden"
			if w.open(s.parent) {
				now = strings.Join(s.path(), "::")
			}
			changed = append(changed, strings.Join(m.path(), "::")+" ("+now+")")
		}
	}
	if len(changed) == 0 {
		return
	}
	more := ""
	if len(changed) > 3 {
		more = fmt.Sprintf(", %d more", len(changed)-3)
		changed = changed[:3]
	}
	w.remark(w.old.tree.Path(w.c.root.file), 0, "users of "+w.c.pack.lib+" elsewhere name modules that have other paths then: "+
		strings.Join(changed, ", ")+more+"; publish = false in its manifest says that there are none")
}

// keepsRoot says whether the root of a crate is found in its new place as it was: as part of its package, or by its name
// in the manifest.
func (o *owing) keepsRoot(from, to string) bool {
	was, byPlace := o.old.Place(from)
	if !byPlace || from == to {
		return true
	}
	is, still := o.Place(to)
	return still && is.Rest == was.Rest
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
func (w *wood) settle(m *module) {
	s := w.of[m]
	s.parent = w.of[m.parent]
	p := w.old.tree.Path(m.file)
	to := w.then(p)
	if m.pathed {
		return
	}
	dir := path.Dir(to)
	s.name = strings.TrimSuffix(path.Base(to), ".rs")
	if path.Base(to) == "mod.rs" {
		s.name, dir = path.Base(dir), path.Dir(dir)
	}
	s.moved = s.name != m.name
	if s.parent.dir != dir {
		if s.parent = w.holder(dir, p, 0); s.parent == nil {
			s.parent = w.of[m.parent]
			return
		}
		s.moved = true
	}
	if !isName(s.name) && s.moved {
		w.forbid(p, "%q is no name that a module may have", s.name)
	}
	if s.moved && to != p && w.isRoot(to) {
		w.forbid(p, "%s is the place of a crate of its own", to)
	}
}

// isRoot says whether a file of the new tree is the root of a crate.
func (w *wood) isRoot(p string) bool {
	id, there := w.tree.Lookup(p)
	return there && slices.ContainsFunc(w.modules().crates, func(c *crate) bool { return c.root.file == id })
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
	if !w.flat {
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
	s := &spot{file: file, name: name, dir: dir, parent: parent, moved: true, like: w.before(dir)}
	w.byDir[dir] = s
	return s
}

// before gives the module below which files in a folder were; nil for none.
func (w *wood) before(dir string) *module {
	for _, m := range w.c.all[1:] {
		if m.dir == dir && !m.pathed {
			return m
		}
	}
	return nil
}

// headOf is what stands before a line: comments and attributes, each on a line.
func (w *wood) headOf(m *module) string {
	src := w.content(m.parent.file)
	var rows []string
	for row := range strings.SplitSeq(strings.TrimSpace(string(src[m.line.whole.Start:m.line.from])), "\n") {
		rows = append(rows, strings.TrimSpace(row))
	}
	return strings.Join(rows, "\n")
}

// attributesOf are the attributes among them.
func (w *wood) attributesOf(m *module) string {
	var rows []string
	for row := range strings.SplitSeq(w.headOf(m), "\n") {
		if strings.HasPrefix(row, "#[") && strings.HasSuffix(row, "]") {
			rows = append(rows, row)
		}
	}
	return strings.Join(rows, "\n")
}

// below says whether a folder is another or lies in it.
func below(dir, top string) bool { return top == "." || dir == top || strings.HasPrefix(dir, top+"/") }

// line takes the line of a module out of the old parent, and writes it into the new one.
func (w *wood) line(m *module) {
	s := w.of[m]
	parent := w.old.tree.Path(m.parent.file)
	if m.line.inMacro {
		w.blame([]*module{m}, "%s:%d: a macro makes it a module", parent, w.lineOf(m.parent.file, m.line.at.Start))
		return
	}
	sees, why := w.sight(m)
	if why != "" {
		w.blame([]*module{m}, "%s", why)
		return
	}
	lost, won := w.conditions(m)
	if len(won) > 0 {
		w.blame([]*module{m}, "%s: what lies there is there under #[%s] alone", w.then(w.old.tree.Path(m.file)), won[0])
		return
	}
	e := w.of[m.parent]
	if s.parent == e { // it has another name
		at := m.line.at
		if src := w.content(m.parent.file); at.Start > 1 && string(src[at.Start-2:at.Start]) == "r#" {
			at.Start -= 2
		}
		w.fileLines(parent).add(source.Edit{Span: at, New: word(s.name)})
		return
	}
	w.fileLines(parent).remove(w.content(m.parent.file), m.line)
	head := w.headOf(m)
	for _, cond := range lost {
		head = strings.TrimSpace(head + "\n#[" + cond + "]")
	}
	s.parent.write(newLine{name: s.name, head: head, sees: sees, macroUse: m.line.macroUse,
		public: m.sees.reach == public && w.old.limit(m.parent) == nil})
}

// conditions gives the conditions that modules around a module are under, and those around it then are not; and those
// that it comes under.
func (w *wood) conditions(m *module) (lost, won []string) {
	own := conds(m)
	before := slices.Clone(own)
	for at := m.parent; at != nil; at = at.parent {
		before = append(before, conds(at)...)
	}
	after := slices.Clone(own)
	for at := w.of[m].parent; at != nil; at = at.parent {
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

func (w *wood) lineOf(id project.FileID, at int) int {
	return source.PositionAt(w.content(id), at).Line
}

func (o *owing) content(id project.FileID) []byte {
	content, _ := o.old.tree.Content(id)
	return content
}

// write notes a line of a module, and the line of a module that is written for its sake.
func (s *spot) write(line newLine) { s.lines = append(s.lines, line) }

// sight says how far a module is seen then: as far as before, in other words if need be; further, where that is asked for
// and somebody needs it.
func (w *wood) sight(m *module) (sees, why string) {
	in := w.of[m].parent.path()
	reach, limited := w.keeps(m)
	if !limited {
		return "pub", ""
	}
	users := w.old.usersOf(m)
	for _, user := range users {
		then := w.pathThen(user)
		switch {
		case user.crate != w.c || hasPrefix(then, reach):
		case w.mayWiden(m, user):
			reach = common(reach, then)
			w.remark(w.old.tree.Path(m.parent.file), m.line.at.Start, fmt.Sprintf("mod %s is seen as %s then, since %s needs it",
				m.name, sight(reach, in), w.old.tree.Path(user.file)))
		case slices.Equal(reach, in): // it was seen in a module that is not around it any more
			return "", fmt.Sprintf("%s uses it, which is seen in %s alone (%s:%d), and the place would lie outside; "+
				"a wider reach, as pub(crate), lets it", w.old.tree.Path(user.file), w.old.reachOf(m.sees, m.parent).written("crate"),
				w.old.tree.Path(m.parent.file), w.lineOf(m.parent.file, m.line.at.Start))
		}
	}
	return sight(reach, in), ""
}

// keeps is the path of the module in which a module is seen then as it was before; the one around it where that is not
// around it any more. It is not limited where all see it.
func (w *wood) keeps(m *module) (reach []string, limited bool) {
	s := w.of[m]
	around := func(reach *spot) bool {
		for at := s.parent; at != nil; at = at.parent {
			if at == reach {
				return true
			}
		}
		return false
	}
	if m.sees.reach == public {
		limit := w.old.limit(m.parent)
		switch {
		case limit == nil || !w.open(s.parent):
			return nil, false
		case around(w.of[limit]): // what stood around it kept it from being seen everywhere, and what will does not
			return w.of[limit].path(), true
		}
		return nil, true
	}
	seen := w.of[w.old.reachOf(m.sees, m.parent)]
	if seen == nil {
		seen = w.root
	}
	if around(seen) {
		return seen.path(), true
	}
	return s.parent.path(), true
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
func (w *wood) open(s *spot) bool {
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
			if w.documented() {
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
		for _, m := range w.c.all {
			if at := w.of[m]; at.moved && hasPrefix(at.path(), append(s.path(), name)) {
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
	if bytes.Contains(w.content(w.c.root.file), lint) {
		return true
	}
	id, there := w.old.tree.Lookup(path.Join(w.c.pack.dir, manifestName))
	return there && bytes.Contains(w.content(id), lint)
}

// emptied says of which modules nothing is left. Whether somebody needs one is not for a program to say.
func (w *wood) emptied() {
	for _, m := range w.c.all[1:] {
		p := w.old.tree.Path(m.file)
		if e := w.edits[p]; e != nil && len(m.text.mods) > 0 && len(w.of[m].lines) == 0 && e.empties(w.content(m.file), m.text) {
			w.remark(p, 0, "nothing is left of this module; if nobody needs it, take out the file and its line")
		}
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
		}
	}
}
