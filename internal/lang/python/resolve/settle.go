package resolve

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// settler writes the statements of one file so that they lead where they must.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	old                   *Resolver
	pathBefore, pathAfter string // the file's path before and after
	edits                 []lang.Settled
	failed                []lang.Failed
	plain                 []string         // what import a.b brings after the edits
	before                []string         // and before
	locals                map[string][]int // the imports by the name that each brings
}

// Settle writes the statements of a file.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []lang.Failed) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	s := &settler{Resolver: r, Settling: q, old: old, pathBefore: old.tree.Path(q.OldFrom),
		pathAfter: r.tree.Path(q.From)}
	for i := 0; i < len(q.Mentions); i++ {
		switch m := &q.Mentions[i]; m.Kind {
		case syntax.ModuleImport:
			first := i
			for i+1 < len(q.Mentions) && q.Mentions[i+1].Kind == syntax.ModuleImport &&
				start(&q.Mentions[i+1]) == start(m) {
				i++
			}
			s.imports(first, i+1)
		case syntax.FromModule:
			first := i
			for i+1 < len(q.Mentions) && lang.StatementOf(q.Mentions, i+1) == first {
				i++
			}
			s.from(first, i+1)
		case syntax.ModuleText: // what a package exports
			if syntax.Exported(m) && !s.leadsRight(i) {
				s.exported(i)
			}
		}
	}
	s.uses()
	s.ownPaths()
	slices.SortStableFunc(s.edits, func(a, b lang.Settled) int { return a.Edit.Span.Start - b.Edit.Span.Start })
	if syntax.IsNotebook(s.pathAfter) {
		return settleNotebook(q, s.edits, s.failed)
	}
	return s.edits, s.failed
}

// start is where a mention's statement begins.
func start(m *lang.Mention) int { return m.Span.Start - int(m.Clause) }

func (s *settler) fail(i int) { s.failed = append(s.failed, lang.Failed{Mention: i}) }

func (s *settler) edit(span source.Span, text string, remark string, mentions ...int) {
	if string(s.Content[span.Start:span.End]) == text {
		return
	}
	s.edits = append(s.edits, lang.Settled{Edit: source.Edit{Span: span, New: text}, Mentions: mentions,
		Remark: remark})
}

// leadsRight says whether the text of a mention leads where it must as it is.
func (s *settler) leadsRight(i int) bool {
	if !s.Before[i].Kind.Inside() {
		return true
	}
	return s.Resolve(s.From, &s.Mentions[i]).Equal(s.Want[i])
}

// imports writes the items of import a, b.c as d. One that brings its own name keeps bringing it.
func (s *settler) imports(first, end int) {
	for i := first; i < end; i++ {
		m := &s.Mentions[i]
		text := m.Text
		if !s.leadsRight(i) {
			var ok bool
			if text, ok = s.absolute(s.pathAfter, s.Want[i]); !ok {
				s.fail(i)
				continue
			}
		}
		parent, name, dotted := cutLast(text)
		switch {
		case syntax.AliasOf(s.Content, m) != "":
			s.edit(m.Span, text, "", i)
		case strings.Contains(m.Text, ".") || text == m.Text:
			s.before, s.plain = append(s.before, m.Text), append(s.plain, text)
			s.edit(m.Span, text, "", i)
		case dotted && name == m.Text && end == first+1:
			s.edit(source.Span{Start: start(m), End: m.Span.End}, "from "+parent+" import "+name, "", i)
		default:
			s.edit(m.Span, text+" as "+m.Text, "", i)
		}
	}
}

func cutLast(text string) (head, last string, ok bool) {
	i := strings.LastIndexByte(text, '.')
	if i < 0 {
		return "", text, false
	}
	return text[:i], text[i+1:], true
}

// named is a name of a from-import with the module that it is imported from after the moves, "" for a module at the
// root, and its name there.
type named struct {
	mention      int
	module, name string
	remark       string
}

// from writes from a import b, c: in its place where all names stay together, in several statements where they part.
func (s *settler) from(first, end int) {
	m := &s.Mentions[first]
	right := s.leadsRight(first)
	for i := first + 1; i < end; i++ {
		right = right && s.leadsRight(i)
	}
	if right || !s.Before[first].Kind.Inside() {
		return
	}
	var names []named
	for i := first + 1; i < end; i++ {
		n, ok := s.name(m, i)
		if !ok {
			s.fail(i)
			return
		}
		names = append(names, n)
	}
	together := len(names) > 0 && names[0].module != ""
	for _, n := range names {
		together = together && n.module == names[0].module
	}
	if !together {
		s.split(first, names)
		return
	}
	text, span := names[0].module, m.Span
	if syntax.NamePart(s.at(span.Start-1)) && syntax.NamePart(text[0]) {
		text = " " + text
	}
	if syntax.NamePart(s.at(span.End)) && syntax.NamePart(text[len(text)-1]) {
		text += " "
	}
	s.edit(span, text, names[0].remark, mentionsOf(first, names)...)
	for _, n := range names {
		s.edit(s.Mentions[n.mention].Span, s.renamed(n), "", n.mention)
	}
}

// mentionsOf are the mentions of a statement: its module's, and those of its names.
func mentionsOf(first int, names []named) []int {
	out := []int{first}
	for _, n := range names {
		out = append(out, n.mention)
	}
	return out
}

func (s *settler) at(i int) byte {
	if i < 0 || i >= len(s.Content) {
		return 0
	}
	return s.Content[i]
}

// renamed is how an imported name stands in its statement: it keeps what it is called in the file.
func (s *settler) renamed(n named) string {
	m := &s.Mentions[n.mention]
	if syntax.AliasOf(s.Content, m) != "" { // which stands behind it anyway
		return n.name
	}
	return calledAs(n.name, m.Text)
}

// calledAs is a name as it is imported to be called so in the file.
func calledAs(name, local string) string {
	if name == local {
		return name
	}
	return name + " as " + local
}

// name says from where a name is imported after the moves.
func (s *settler) name(from *lang.Mention, i int) (named, bool) {
	m, want := &s.Mentions[i], s.Want[i]
	n := named{mention: i, module: from.Text, name: m.Text}
	if s.leadsRight(i) {
		return n, true
	}
	if !s.old.isModule(s.pathBefore, m, s.Before[i]) {
		var ok bool
		n.module, n.remark, ok = s.spelled(s.pathAfter, from.Text, want)
		return n, ok
	}
	place := s.place(want)
	n.name = path.Base(place)
	parent, ok := s.load(path.Dir(place))
	if ok && !s.isRoot(path.Dir(place)) {
		n.module, n.remark, ok = s.spelled(s.pathAfter, from.Text, parent)
		if !ok {
			return n, false
		}
		t, ok := s.load(place) // whether the package hides it shows when all statements are written
		return n, ok && t.Equal(want)
	}
	n.module = ""
	return n, s.module(s.pathAfter, n.name).Equal(want)
}

// exported keeps a module in what its package exports: it is imported from where it is now.
func (s *settler) exported(i int) {
	m := &s.Mentions[i]
	place := s.place(s.Want[i])
	parent, ok := s.load(path.Dir(place))
	if !ok {
		s.fail(i)
		return
	}
	module, ok := s.relative(s.pathAfter, parent)
	if !ok {
		if module, ok = s.absolute(s.pathAfter, parent); !ok {
			s.fail(i)
			return
		}
	}
	statement := "from " + module + " import " + calledAs(path.Base(place), m.Text)
	line := bytes.LastIndex(s.Content[:m.Span.Start], []byte("__all__"))
	s.insert(line, statement+text.Newline(s.Content))
}

// insert puts a text at a place. Several at one place stand there in their order.
func (s *settler) insert(at int, text string) {
	for i := range s.edits {
		if e := &s.edits[i].Edit; e.Span.Start == at && e.Span.Len() == 0 {
			e.New += text
			return
		}
	}
	s.edits = append(s.edits, lang.Settled{Edit: source.Edit{Span: source.Span{Start: at, End: at}, New: text}})
}
