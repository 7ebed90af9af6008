package golang

import (
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Settle writes the imports of a file and the names behind them, so that each name is that of the same declaration: a
// package that parts needs several imports, a name of the own package that goes needs a qualifier, and one that comes
// loses it.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok || old.index().files[q.OldFrom] == nil {
		return nil, nil
	}
	shift := r.shifted(old, q.Moves())
	s := settler{
		Resolver: r, Settling: q, file: old.ix.files[q.OldFrom], shift: shift, own: shift.at[q.From],
		specs:  map[*spec]int{},
		called: map[string]string{}, taken: map[string]bool{}, users: map[string][]int{}, brought: map[string][]int{},
		leads: map[string]string{}, written: map[*spec]*line{},
	}
	s.findSpecs()
	s.findNames()
	s.keepImports()
	s.addImports()
	s.writeImports()
	s.writeNames()
	s.writeDocLinks()
	if len(s.failed) > 0 {
		return nil, s.failed
	}
	slices.SortStableFunc(s.edits, func(a, b lang.Settled) int { // what is added stands before what is taken out
		return cmp.Or(a.Edit.Span.Start-b.Edit.Span.Start, a.Edit.Span.End-b.Edit.Span.End)
	})
	return s.edits, nil
}

// settler settles one file.
type settler struct {
	*Resolver
	lang.Settling
	file  *file
	shift *shift
	own   place // the package of the file, in the new tree

	specs   map[*spec]int     // the imports of packages of the tree, with their mentions
	leads   map[string]string // the folders that imports lead to in the new tree, by the paths in the old one
	brought map[string][]int  // the names that are had by an import, by its path
	users   map[string][]int  // the names that are had from another package of the new tree, by its folder
	called  map[string]string // what stands before the dot of such names, by the folder
	taken   map[string]bool   // names that a qualifier can't have
	written map[*spec]*line   // what becomes of the imports
	removed bool              // an import was taken away
	added   []imports.New     // imports for a list

	edits  []lang.Settled
	failed []lang.Failed
}

// line is what becomes of an import.
type line struct {
	path, name string
	removed    bool
	mention    int
}

func (s *settler) fail(mention int, format string, args ...any) {
	s.failed = append(s.failed, lang.Failed{Mention: mention, Why: fmt.Sprintf(format, args...)})
}

func (s *settler) edit(at source.Span, text string, mentions ...int) {
	if strings.Contains(text, "\n") && bytes.Contains(s.Content, []byte("\r\n")) {
		text = strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\n", "\r\n")
	}
	s.edits = append(s.edits, lang.Settled{Edit: source.Edit{Span: at, New: text}, Mentions: mentions})
}

// findSpecs finds the imports of packages of the tree, and the names that are taken.
func (s *settler) findSpecs() {
	byPlace := map[int]int{}
	for i := range s.Mentions {
		if s.Mentions[i].Kind == PackageImport {
			byPlace[s.Mentions[i].Span.Start] = i
		}
	}
	for i := range s.file.imports {
		one := &s.file.imports[i]
		if mention, known := byPlace[one.at.Start]; known && s.Before[mention].Kind.Inside() {
			s.specs[one] = mention
		}
		s.taken[s.nameOf(one)] = true
	}
}

// isTaken says whether a name means something in the file already.
func (s *settler) isTaken(name string) bool {
	p := s.shift.packs.Space(s.own)
	return s.taken[name] || s.file.locals[name] || p != nil && len(p.Declare(name)) > 0
}

// nameOf is the name by which a file has an import, as far as it is known.
func (s *settler) nameOf(one *spec) string {
	if one.name != "" {
		return one.name
	}
	if dir, ok := s.shift.old.folder(path.Dir(s.shift.old.tree.Path(s.OldFrom)), one.path); ok {
		return s.shift.old.index().clause(place{dir: dir})
	}
	return importedName(one.path)
}

// goal is the folder of the package in which a mention's declaration stands in the new tree; false where it would stand
// in several.
func (s *settler) goal(i int) (place, bool) {
	t := s.Want[i]
	if t.Kind == lang.ToSet { // many imports lead to it
		known, ok := s.shift.goals.Load(t)
		if !ok {
			at, one := s.placeOfAll(t)
			known, _ = s.shift.goals.LoadOrStore(t, goal{at, one})
		}
		return known.(goal).at, known.(goal).one
	}
	return s.placeOfAll(t)
}

// goal is the package in which all files of a target stand; one is false where they stand in several.
type goal struct {
	at  place
	one bool
}

func (s *settler) placeOfAll(t lang.Target) (place, bool) {
	ids := t.Set()
	if t.Kind == lang.ToFile {
		ids = []project.FileID{t.File}
	}
	var at place
	for k, id := range ids {
		now, known := s.shift.at[id]
		if !known || k > 0 && now.dir != at.dir {
			return place{}, false
		}
		at = now
	}
	return at, len(ids) > 0
}

// findNames sorts the names by the packages that have them in the new tree.
func (s *settler) findNames() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != NameUse {
			continue
		}
		if by := lang.Own[Name](m).Path; by != "" {
			s.brought[by] = append(s.brought[by], i)
		}
		if !s.Before[i].Kind.Inside() {
			continue
		}
		at, ok := s.goal(i)
		switch {
		case !ok:
			s.fail(i, "%s would be declared in several packages", m.Text)
		case at == s.own, dotted(m):
		case at.external || s.inTest(i) && at.dir != s.own.dir:
			s.fail(i, "%s is declared in a test of %s, which nobody imports", m.Text, at.dir)
		case !exported(m.Text):
			s.fail(i, "%s is not exported, and would be needed in another package", m.Text)
		default:
			s.users[at.dir] = append(s.users[at.dir], i)
		}
	}
}

// inTest says whether a name is declared in a file of tests.
func (s *settler) inTest(i int) bool {
	return slices.ContainsFunc(append([]project.FileID{s.Before[i].File}, s.Before[i].Set()...),
		func(id project.FileID) bool {
			return id != project.None && isTest(s.shift.old.tree.Path(id))
		})
}

// dotted says whether a name is brought by an import with a dot.
func dotted(m *lang.Mention) bool {
	own := lang.Own[Name](m)
	return own.Path != "" && own.Qualifier == ""
}

// behind gives the names that a file has by an import.
func (s *settler) behind(one *spec) []int {
	return slices.DeleteFunc(slices.Clone(s.brought[one.path]), func(i int) bool {
		return one.name != "" && one.name != "." && one.name != lang.Own[Name](&s.Mentions[i]).Qualifier
	})
}

// keepImports writes each import for one of the packages that its names come from now, or takes it away.
func (s *settler) keepImports() {
	for k := range s.file.imports {
		one := &s.file.imports[k]
		mention, known := s.specs[one]
		if !known {
			continue
		}
		names := s.behind(one)
		goals, unknown := map[string]bool{}, len(names) == 0
		for _, i := range names {
			if at, ok := s.goal(i); ok && at != s.own {
				goals[at.dir] = true
			}
			unknown = unknown || !s.Before[i].Kind.Inside() // no file that is read declares it
		}
		whole, intact := s.goal(mention)
		switch {
		case unknown || one.name == "_" || one.name == ".":
			if !intact {
				s.fail(mention, "the files of the package part, and it is not known which of them %q means", one.path)
				continue
			}
			s.point(one, mention, whole.dir)
			s.name(one, whole.dir)
		case len(goals) == 0:
			s.remove(one, mention)
		default:
			dirs := slices.Sorted(maps.Keys(goals))
			dir := dirs[0]
			if intact && goals[whole.dir] {
				dir = whole.dir
			}
			if s.called[dir] != "" { // another import has it already
				s.remove(one, mention)
				continue
			}
			s.point(one, mention, dir)
			s.name(one, dir)
		}
	}
}

// point writes the path of an import.
func (s *settler) point(one *spec, mention int, dir string) {
	text, ok := s.importPathFrom(s.own.dir, dir)
	if before, _ := s.shift.old.folder(path.Dir(s.shift.old.tree.Path(s.OldFrom)), one.path); before == dir {
		text, ok = one.path, true // a module may be imported by the name of one that it replaces
	}
	if !ok {
		s.fail(mention, "%s lies in no module", dir)
		return
	}
	s.leads[one.path] = dir
	if text != one.path && s.shift.clause(place{dir: dir}) == "main" {
		s.fail(mention, "%s is a program, and can't be imported", dir)
		return
	}
	s.written[one] = &line{path: text, mention: mention}
}

// name chooses what stands before the dot of names that an import brings: its own name if it has one, else that of the
// package.
func (s *settler) name(one *spec, dir string) {
	before := s.nameOf(one)
	switch one.name {
	case "":
	case "_", ".":
		return
	default:
		s.called[dir] = one.name
		return
	}
	now := s.shift.clause(place{dir: dir})
	if now != before && s.isTaken(now) {
		s.called[dir] = before
		if w := s.written[one]; w != nil {
			w.name = before
		}
		return
	}
	s.called[dir], s.taken[now] = now, true
}

// remove takes an import away with its line.
func (s *settler) remove(one *spec, mention int) {
	switch {
	case one.comment:
		s.fail(mention, "the import of %q is needed no more, and a comment belongs to it", one.path)
		return
	case one.crowded:
		s.fail(mention, "the import of %q is needed no more, and others stand on its line", one.path)
		return
	}
	s.written[one] = &line{removed: true, mention: mention}
	s.removed = true
}

// addImports writes imports for packages that the file does not import yet.
func (s *settler) addImports() {
	var added []imports.New
	for _, dir := range slices.Sorted(maps.Keys(s.users)) {
		if s.called[dir] != "" {
			continue
		}
		text, ok := s.importPathFrom(s.own.dir, dir)
		if !ok {
			s.fail(s.users[dir][0], "%s lies in no module", dir)
			continue
		}
		name := s.shift.clause(place{dir: dir})
		line := `"` + text + `"`
		if name == "main" {
			s.fail(s.users[dir][0], "%s is a program, and can't be imported", dir)
			continue
		}
		if s.isTaken(name) {
			for s.isTaken(name) {
				name += "pkg"
			}
			line = name + " " + line
		}
		s.called[dir], s.taken[name] = name, true
		added = append(added, imports.New{Key: text, Text: line})
	}
	if len(added) > 0 {
		s.insert(added)
	}
}

// writeNames writes the names with what stands before their dots now.
func (s *settler) writeNames() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != NameUse {
			continue
		}
		own := lang.Own[Name](m)
		at, ok := s.goal(i)
		if !s.Before[i].Kind.Inside() { // it stays with its import
			at.dir, ok = s.leads[own.Path]
		}
		if !ok || s.called[at.dir] == "" && own.Qualifier != "" && at != s.own {
			continue
		}
		text := m.Text
		switch {
		case at == s.own:
			if own.Qualifier != "" && s.file.locals[m.Text] {
				s.fail(i, "%s would be of the file's own package, and the file has something else of that name", m.Text)
				continue
			}
		case dotted(m):
		default:
			text = s.called[at.dir] + "." + m.Text
		}
		if u := s.useAt(m.Span.Start); u != nil && text != s.text(m) && (u.method || u.doubtful) {
			if u.method {
				s.fail(i, "a method is declared on %s, and must stay in its package", m.Text)
			} else {
				s.fail(i, "%s stands as a key, and without types it is not known whether that is a field", m.Text)
			}
			continue
		}
		if text != s.text(m) {
			s.edit(m.Span, text, i)
		}
	}
}

// writeDocLinks writes the names in comments: in short where the file imports their package then, else with its path.
// For the sake of a comment nothing is imported.
func (s *settler) writeDocLinks() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		at, ok := s.goal(i)
		if m.Kind != DocLink || !ok || !s.Before[i].Kind.Inside() {
			continue
		}
		own, text := lang.Own[Name](m), m.Text
		switch {
		case at == s.own && !strings.Contains(own.Qualifier, "/"):
		case s.called[at.dir] != "" && !strings.Contains(own.Qualifier, "/"):
			text = s.called[at.dir] + "." + m.Text
		default:
			importPath, known := s.importPathFrom(s.own.dir, at.dir)
			if !known {
				continue
			}
			text = importPath + "." + m.Text
		}
		if text != s.text(m) {
			s.edit(m.Span, text, i)
		}
	}
}

// text is how a name is written.
func (s *settler) text(m *lang.Mention) string {
	if own := lang.Own[Name](m); own.Qualifier != "" {
		return own.Qualifier + "." + m.Text
	}
	return m.Text
}

func (s *settler) useAt(start int) *use {
	at, found := slices.BinarySearchFunc(s.file.uses, start, func(u use, start int) int { return u.at.Start - start })
	if !found {
		return nil
	}
	return &s.file.uses[at]
}

// Spell writes paths of packages in texts, and what a file embeds: patterns from its own folder, which can't leave it.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	if q.Mention.Kind == PackageText {
		return r.spellText(q)
	}
	if q.Mention.Kind == ModuleFolder {
		return r.spellModule(q)
	}
	if q.Mention.Kind != Embed || q.Target.Kind == lang.ToNothing {
		return lang.Spelling{Text: q.Mention.Text}, q.Target.Kind == lang.ToNothing
	}
	if !q.Fails {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	all := strings.HasPrefix(q.Mention.Text, "all:")
	to := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		to = r.tree.Path(q.Target.File)
	}
	rest, below := strings.CutPrefix(to, path.Dir(r.tree.Path(q.From))+"/")
	if !below || q.Target.Kind == lang.ToSet || strings.ContainsAny(rest, " \t*?[\\") {
		return lang.Spelling{}, false
	}
	if all {
		rest = "all:" + rest
	}
	return lang.Spelling{Text: rest}, true
}
