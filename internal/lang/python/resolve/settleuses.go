package resolve

import (
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/text"
)

// uses writes the modules that are used by dots: by what the name stands for after the edits, or by the whole name,
// which must then be imported.
func (s *settler) uses() {
	for i := range s.Mentions {
		m := &s.Mentions[i]
		if m.Kind != syntax.ModuleUse || !s.Before[i].Kind.Inside() {
			continue
		}
		root, _, _ := strings.Cut(m.Text, ".")
		binding, dotted := s.bindingOf(root, syntax.DetailOf(m).From)
		text := ""
		if binding >= 0 && !dotted && s.Want[binding].Kind.Inside() {
			if rest, ok := strings.CutPrefix(s.place(s.Want[i])+"/", s.place(s.Want[binding])+"/"); ok {
				text = strings.TrimSuffix(root+"."+strings.ReplaceAll(rest, "/", "."), ".")
			}
		}
		if text == "" {
			var ok bool
			if text, ok = s.absolute(s.pathAfter, s.Want[i]); !ok {
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
			if m := &s.Mentions[i]; m.Kind == syntax.ModuleImport || m.Kind == syntax.FromName {
				local := syntax.LocalOf(s.Content, m)
				s.locals[local] = append(s.locals[local], i)
			}
		}
	}
	mention = -1
	for _, i := range s.locals[root] {
		m := &s.Mentions[i]
		switch brings := m.Text; m.Kind {
		case syntax.FromName:
			if syntax.Appended(syntax.DetailOf(m).From, "."+brings) == module {
				mention = i
			}
		default:
			if brings == module {
				mention = i
			} else if strings.HasPrefix(brings, root+".") && root == module && syntax.AliasOf(s.Content, m) == "" {
				return i, true
			}
		}
	}
	return mention, false
}

// need makes sure that a module which is named in full is imported, if it was before.
func (s *settler) need(module, old string, binding int) {
	has := func(plain []string, module string) (whole, root bool) {
		first, _, _ := strings.Cut(module, ".")
		for _, p := range plain {
			whole = whole || p == module || strings.HasPrefix(p, module+".")
			root = root || p == first || strings.HasPrefix(p, first+".")
		}
		return whole, root
	}
	whole, root := has(s.plain, module)
	pathBefore, _ := has(s.before, old)
	if whole || root && !pathBefore || binding < 0 {
		return
	}
	s.plain = append(s.plain, module)
	m := &s.Mentions[binding]
	read := &syntax.Scanner{Src: s.Content, Pos: m.Span.End}
	if m.Kind == syntax.FromName {
		read.Pos = start(s.moduleOf(binding)) + len("from")
		read.FromImport(func(syntax.FromClause) {}, func(syntax.Item) {})
	} else {
		read.Pos = start(m) + len("import")
		read.ImportNames(func(syntax.Item) {})
	}
	indent, alone := text.Indent(s.Content, start(s.moduleOf(binding)))
	if !alone {
		s.insert(read.Pos, "; import "+module)
		return
	}
	end := read.Pos
	for end < len(s.Content) && s.Content[end] != '\n' && s.Content[end] != '\r' {
		end++
	}
	s.insert(end, text.Newline(s.Content)+indent+"import "+module)
}

// moduleOf is the mention with which the statement of a mention begins.
func (s *settler) moduleOf(i int) *lang.Mention {
	return &s.Mentions[lang.StatementOf(s.Mentions, i)]
}
