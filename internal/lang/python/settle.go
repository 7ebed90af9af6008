package python

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// settler writes the statements of one file so that they lead where they must.
type settler struct {
	*Resolver // of the new tree
	lang.Settling
	old     *Resolver
	was, is string // the file's path before and after
	edits   []lang.Settled
	failed  []int
	plain   []string         // what import a.b brings after the edits
	before  []string         // and before
	locals  map[string][]int // the imports by the name that each brings
}

// Settle implements lang.Settler.
func (r *Resolver) Settle(q lang.Settling) ([]lang.Settled, []int) {
	old, ok := q.Old.(*Resolver)
	if !ok {
		return nil, nil
	}
	s := &settler{Resolver: r, Settling: q, old: old, was: old.tree.Path(q.OldFrom), is: r.tree.Path(q.From)}
	for i := 0; i < len(q.Mentions); i++ {
		switch m := &q.Mentions[i]; m.Kind {
		case lang.ModuleImport:
			first := i
			for i+1 < len(q.Mentions) && q.Mentions[i+1].Kind == lang.ModuleImport && start(&q.Mentions[i+1]) == start(m) {
				i++
			}
			s.imports(first, i+1)
		case lang.FromModule:
			first := i
			for i+1 < len(q.Mentions) && q.Mentions[i+1].Kind == lang.FromName {
				i++
			}
			s.from(first, i+1)
		case lang.ModuleText: // what a package exports
			if exported(m) && !s.holds(i) {
				s.exported(i)
			}
		}
	}
	s.uses()
	s.ownPaths()
	slices.SortStableFunc(s.edits, func(a, b lang.Settled) int { return a.Edit.Span.Start - b.Edit.Span.Start })
	return s.edits, s.failed
}

// start is where a mention's statement begins.
func start(m *lang.Mention) int { return m.Span.Start - int(m.Clause) }

func (s *settler) fail(i int) { s.failed = append(s.failed, i) }

func (s *settler) edit(span source.Span, text string, remark string, mentions ...int) {
	if string(s.Content[span.Start:span.End]) == text {
		return
	}
	s.edits = append(s.edits, lang.Settled{Edit: source.Edit{Span: span, New: text}, Mentions: mentions, Remark: remark})
}

// holds says whether the text of a mention leads where it must as it is.
func (s *settler) holds(i int) bool {
	if !s.Before[i].Kind.Inside() {
		return true
	}
	return s.Resolve(s.From, &s.Mentions[i]).Equal(s.Want[i])
}

// imports writes the items of import a, b.c as d. One that brings its own name keeps bringing it.
func (s *settler) imports(first, end int) {
	for i := first; i < end; i++ {
		m := &s.Mentions[i]
		read := &scanner{src: s.Content, pos: m.Span.End}
		alias := read.as(false)
		text := m.Text
		if !s.holds(i) {
			var ok bool
			if text, ok = s.absolute(s.is, s.Want[i]); !ok {
				s.fail(i)
				continue
			}
		}
		parent, name, dotted := cutLast(text)
		switch {
		case alias != "":
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

// named is a name of a from-import with the module that it is imported from after the moves, "" for a module at the root, and its name
// there.
type named struct {
	mention      int
	module, name string
	remark       string
}

// from writes from a import b, c: in its place where all names stay together, in several statements where they part.
func (s *settler) from(first, end int) {
	m := &s.Mentions[first]
	right := s.holds(first)
	for i := first + 1; i < end; i++ {
		right = right && s.holds(i)
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
	if namePart(s.at(span.Start-1)) && namePart(text[0]) {
		text = " " + text
	}
	if namePart(s.at(span.End)) && namePart(text[len(text)-1]) {
		text += " "
	}
	s.edit(span, text, names[0].remark, first)
	for _, n := range names {
		s.edit(s.Mentions[n.mention].Span, s.renamed(n), "", n.mention)
	}
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
	if n.name != m.Text && aliasOf(s.Content, m) == m.Text {
		return n.name + " as " + m.Text
	}
	return n.name
}

// name says from where a name is imported after the moves.
func (s *settler) name(from *lang.Mention, i int) (named, bool) {
	m, want := &s.Mentions[i], s.Want[i]
	n := named{mention: i, module: from.Text, name: m.Text}
	if s.holds(i) {
		return n, true
	}
	if !s.old.isModule(s.was, m, s.Before[i]) {
		var ok bool
		n.module, n.remark, ok = s.spelled(s.is, from.Text, want)
		return n, ok
	}
	place := s.place(want)
	n.name = path.Base(place)
	parent, ok := s.load(path.Dir(place))
	if ok && !s.isRoot(path.Dir(place)) {
		n.module, n.remark, ok = s.spelled(s.is, from.Text, parent)
		if !ok {
			return n, false
		}
		t, ok := s.load(place) // whether the package hides it shows when all statements are written
		return n, ok && t.Equal(want)
	}
	n.module = ""
	return n, s.module(s.is, n.name).Equal(want)
}

// split writes a from-import as several statements: what most names are from keeps the statement, the others follow it.
func (s *settler) split(first int, names []named) {
	m := &s.Mentions[first]
	kept, count := "", 0
	var others []string
	groups := map[string][]named{}
	for _, n := range names {
		if groups[n.module] == nil {
			others = append(others, n.module)
		}
		groups[n.module] = append(groups[n.module], n)
	}
	for _, module := range others {
		if size := len(groups[module]); module != "" && (size > count || module == m.Text) {
			kept, count = module, size
			if module == m.Text {
				break
			}
		}
	}
	read := &scanner{src: s.Content, pos: start(m) + len("from")}
	var items []item
	read.fromImport(func(from) {}, func(i item) { items = append(items, i) })
	span := source.Span{Start: start(m), End: read.pos}
	var lines []string
	if kept != "" {
		var edits []source.Edit
		add := func(at source.Span, text string) { edits = append(edits, source.Edit{Span: at, New: text}) }
		add(m.Span, kept)
		for k, n := range names {
			if n.module == kept {
				add(items[k].name, s.renamed(n))
				continue
			}
			add(s.without(items, k, func(k int) bool { return names[k].module == kept }), "")
		}
		source.SortEdits(edits)
		for i := range edits {
			edits[i].Span.Start -= span.Start
			edits[i].Span.End -= span.Start
		}
		text, err := source.Apply(s.Content[span.Start:span.End], edits)
		if err != nil {
			s.fail(first)
			return
		}
		lines = append(lines, string(text))
	}
	indent, alone := s.indent(span.Start)
	for _, module := range others {
		if module != kept || kept == "" {
			lines = append(lines, s.statements(module, groups[module], indent, alone)...)
		}
	}
	mentions := []int{first}
	for _, n := range names {
		mentions = append(mentions, n.mention)
	}
	between := "; "
	if alone {
		between = s.remarkBehind(span.End) + s.newline() + indent
	}
	s.edit(span, strings.Join(lines, between), "", mentions...)
}

// without is the place of an item to be taken out of its list: with its line where it stands alone on it, else with a comma.
func (s *settler) without(items []item, k int, keeps func(int) bool) source.Span {
	it := items[k]
	line := bytes.LastIndexByte(s.Content[:it.name.Start], '\n') + 1
	end := it.end
	for end < len(s.Content) && (s.Content[end] == ' ' || s.Content[end] == '\t' || s.Content[end] == ',') {
		end++
	}
	if s.at(end) == '#' {
		for end < len(s.Content) && s.Content[end] != '\n' {
			end++
		}
	}
	if len(bytes.TrimSpace(s.Content[line:it.name.Start])) == 0 && (s.at(end) == '\n' || s.at(end) == '\r') {
		for end < len(s.Content) && s.Content[end] != '\n' {
			end++
		}
		return source.Span{Start: line, End: min(end+1, len(s.Content))}
	}
	for before := k - 1; before >= 0; before-- {
		if keeps(before) { // from the end of the one before, so that its comma goes too
			if before == k-1 {
				return source.Span{Start: items[before].end, End: it.end}
			}
			return source.Span{Start: items[k-1].end, End: it.end}
		}
	}
	if k+1 < len(items) {
		return source.Span{Start: it.name.Start, End: items[k+1].name.Start}
	}
	return source.Span{Start: it.name.Start, End: it.end}
}

// statements writes what imports some names from a module, or modules that lie at a root.
func (s *settler) statements(module string, names []named, indent string, alone bool) []string {
	if module == "" {
		var out []string
		for _, n := range names {
			text := "import " + n.name
			if local := aliasOf(s.Content, &s.Mentions[n.mention]); local != n.name {
				text += " as " + local
			}
			out = append(out, text)
		}
		return out
	}
	var texts []string
	for _, n := range names {
		text := n.name
		if local := aliasOf(s.Content, &s.Mentions[n.mention]); local != n.name {
			text += " as " + local
		}
		texts = append(texts, text)
	}
	head := "from " + module + " import "
	if line := head + strings.Join(texts, ", "); !alone || len(indent)+len(line) <= longLine {
		return []string{line}
	}
	deeper := s.newline() + indent + "    "
	return []string{head + "(" + deeper + strings.Join(texts, ","+deeper) + "," + s.newline() + indent + ")"}
}

// longLine is how many characters a line of imports has at the most before its names stand one a line.
const longLine = 88

// indent gives the blanks in front of a statement, and whether nothing else is in front of it.
func (s *settler) indent(at int) (string, bool) {
	line := bytes.LastIndexByte(s.Content[:at], '\n') + 1
	blanks := s.Content[line:at]
	if len(bytes.Trim(blanks, " \t\f")) > 0 {
		return "", false
	}
	return string(blanks), true
}

func (s *settler) newline() string {
	if i := bytes.IndexByte(s.Content, '\n'); i > 0 && s.Content[i-1] == '\r' {
		return "\r\n"
	}
	return "\n"
}

// remarkBehind gives the comment behind a statement if it speaks to a tool, which then must see it on every line.
func (s *settler) remarkBehind(at int) string {
	line := s.Content[at:]
	if end := bytes.IndexByte(line, '\n'); end >= 0 {
		line = line[:end]
	}
	text := strings.TrimSpace(string(line))
	for _, mark := range []string{"noqa", "type:", "pylint:", "pragma:", "isort:"} {
		if rest, ok := strings.CutPrefix(text, "#"); ok && strings.HasPrefix(strings.TrimSpace(rest), mark) {
			return "  " + text
		}
	}
	return ""
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
	module, ok := s.relative(s.is, parent)
	if !ok {
		if module, ok = s.absolute(s.is, parent); !ok {
			s.fail(i)
			return
		}
	}
	text := "from " + module + " import " + path.Base(place)
	if path.Base(place) != m.Text {
		text += " as " + m.Text
	}
	line := bytes.LastIndex(s.Content[:m.Span.Start], []byte("__all__"))
	s.insert(line, text+s.newline())
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

// uses writes the modules that are used by dots: by what the name stands for after the edits, or by the whole name, which must then be
// imported.
func (s *settler) uses() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != lang.ModuleUse || !s.Before[i].Kind.Inside() {
			continue
		}
		root, _, _ := strings.Cut(m.Text, ".")
		binding, dotted := s.bindingOf(root, m.More.From)
		text := ""
		if binding >= 0 && !dotted && s.Want[binding].Kind.Inside() {
			if rest, ok := strings.CutPrefix(s.place(s.Want[i])+"/", s.place(s.Want[binding])+"/"); ok {
				text = strings.TrimSuffix(root+"."+strings.ReplaceAll(rest, "/", "."), ".")
			}
		}
		if text == "" {
			var ok bool
			if text, ok = s.absolute(s.is, s.Want[i]); !ok {
				s.fail(i)
				continue
			}
			s.need(text, m.Text, binding)
		}
		if text != m.Text {
			s.edit(m.Span, text, "", i)
		}
	}
}

// bindingOf finds the import by which a name stands for a module. dotted: it is import a.b, which brings a.
func (s *settler) bindingOf(root, module string) (mention int, dotted bool) {
	if s.locals == nil {
		s.locals = map[string][]int{}
		for i := range s.Mentions {
			if m := &s.Mentions[i]; m.Kind == lang.ModuleImport || m.Kind == lang.FromName {
				local := s.Bindings(s.Content, m)[0].Local
				s.locals[local] = append(s.locals[local], i)
			}
		}
	}
	mention = -1
	for _, i := range s.locals[root] {
		m := &s.Mentions[i]
		first, _, deeper := strings.Cut(m.Text, ".")
		switch {
		case m.Kind == lang.FromName && appended(m.More.From, "."+m.Text) != module:
		case m.Kind == lang.ModuleImport && first == root && deeper && m.Text != module:
			return i, true
		default:
			mention = i
		}
	}
	return mention, false
}

// need makes sure that a module which is named in full is imported, if it was before.
func (s *settler) need(text, old string, binding int) {
	has := func(plain []string, text string) (whole, root bool) {
		first, _, _ := strings.Cut(text, ".")
		for _, p := range plain {
			whole = whole || p == text || strings.HasPrefix(p, text+".")
			root = root || p == first || strings.HasPrefix(p, first+".")
		}
		return whole, root
	}
	whole, root := has(s.plain, text)
	was, _ := has(s.before, old)
	if whole || root && !was || binding < 0 {
		return
	}
	s.plain = append(s.plain, text)
	m := &s.Mentions[binding]
	read := &scanner{src: s.Content, pos: m.Span.End}
	if m.Kind == lang.FromName {
		read.pos = start(s.moduleOf(binding)) + len("from")
		read.fromImport(func(from) {}, func(item) {})
	} else {
		read.pos = start(m) + len("import")
		read.importNames(func(item) {})
	}
	indent, alone := s.indent(start(s.moduleOf(binding)))
	if !alone {
		s.insert(read.pos, "; import "+text)
		return
	}
	end := read.pos
	for end < len(s.Content) && s.Content[end] != '\n' && s.Content[end] != '\r' {
		end++
	}
	s.insert(end, s.newline()+indent+"import "+text)
}

// moduleOf is the mention with which the statement of a mention begins.
func (s *settler) moduleOf(i int) *lang.Mention {
	for s.Mentions[i].Kind == lang.FromName {
		i--
	}
	return &s.Mentions[i]
}
