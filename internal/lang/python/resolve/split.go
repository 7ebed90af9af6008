package resolve

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

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
	read := &syntax.Scanner{Src: s.Content, Pos: start(m) + len("from")}
	var items []syntax.Item
	var list []imports.Item
	read.FromImport(func(syntax.FromClause) {}, func(i syntax.Item) {
		items, list = append(items, i), append(list, imports.Item{Start: i.Name.Start, End: i.End})
	})
	span := source.Span{Start: start(m), End: read.Pos}
	var lines []string
	if kept != "" {
		var edits []source.Edit
		add := func(at source.Span, text string) { edits = append(edits, source.Edit{Span: at, New: text}) }
		add(m.Span, kept)
		for k, n := range names {
			if n.module == kept {
				add(items[k].Name, s.renamed(n))
				continue
			}
			add(imports.Without(s.Content, list, k, func(k int) bool { return names[k].module == kept }, "#"), "")
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
	indent, alone := text.Indent(s.Content, span.Start)
	for _, module := range others {
		if module != kept || kept == "" {
			lines = append(lines, s.statements(module, groups[module], indent, alone)...)
		}
	}
	between := "; "
	if alone {
		between = s.remarkBehind(span.End) + text.Newline(s.Content) + indent
	}
	s.edit(span, strings.Join(lines, between), "", mentionsOf(first, names)...)
}

// statements writes what imports some names from a module, or modules that lie at a root.
func (s *settler) statements(module string, names []named, indent string, alone bool) []string {
	var texts []string
	for _, n := range names {
		text := calledAs(n.name, syntax.LocalOf(s.Content, &s.Mentions[n.mention]))
		if module == "" {
			text = "import " + text
		}
		texts = append(texts, text)
	}
	if module == "" {
		return texts
	}
	head := "from " + module + " import "
	if line := head + strings.Join(texts, ", "); !alone || len(indent)+len(line) <= LongLine {
		return []string{line}
	}
	deeper := text.Newline(s.Content) + indent + "    "
	return []string{head + "(" + deeper + strings.Join(texts, ","+deeper) + "," + text.Newline(s.Content) + indent +
		")"}
}

// LongLine is how many characters a line of imports has at the most before its names stand one a line.
const LongLine = 88

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
