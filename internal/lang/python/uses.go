package python

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Asks says whether a file imports modules of the project, whose uses are then looked for.
func (r *Resolver) Asks(from project.FileID, mentions []lang.Mention, targets []lang.Target) bool {
	asks := false
	if p := r.tree.Path(from); !strings.HasSuffix(p, ".py") && !strings.HasSuffix(p, ".pyi") && !isNotebook(p) { // a document, with code in it
		return false
	}
	var module lang.Target // that the names behind it are from
	for i, t := range targets {
		switch m := &mentions[i]; m.Kind {
		case ModuleUse:
			return false // it has been read
		case FromModule:
			module = t
		case ModuleImport:
			asks = asks || t.Kind.Inside()
		case FromName:
			asks = asks || t.Kind.Inside() && m.Text != lang.Everything && !t.Equal(module)
		}
	}
	return asks
}

// Second finds where a file uses the modules that it imports: a.b of a.b.f().
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	p := r.tree.Path(from)
	book := isNotebook(p)
	if book {
		root, err := manifest.ParseJSON(content)
		if err != nil {
			return nil
		}
		content = codeOf(root, content)
	}
	var out []lang.Mention
	bases := map[binding]lang.Target{}
	for _, u := range uses(content) {
		t, known := bases[*u.binding]
		if !known {
			t = r.base(p, u.binding)
			bases[*u.binding] = t
		}
		text := string(content[u.parts[0].Start:u.parts[0].End])
		last := 0
		if !t.Kind.Inside() {
			continue
		}
		for i, part := range u.parts[1:] {
			name := string(content[part.Start:part.End])
			next, ok := r.below(t, name)
			if !ok {
				break
			}
			t, last, text = next, i+1, text+"."+name
		}
		span := source.Span{Start: u.parts[0].Start, End: u.parts[last].End}
		for range bytes.Count(content[span.Start:span.End], []byte(")")) { // (a).b: the parentheses go with it
			span.Start = bytes.LastIndexByte(content[:span.Start], '(')
		}
		out = append(out, lang.Mention{
			Span: span, Text: text, Kind: ModuleUse, Form: lang.Plain,
			Detail: &lang.Detail{Own: Detail{From: u.binding.from}}, Deferred: true, Likely: book, Evident: book,
		})
	}
	return out
}

// Uses lists where a text uses what it imports: each name with what is taken from it by dots.
func Uses(src []byte) []lang.Mention {
	var out []lang.Mention
	for _, u := range uses(src) {
		m := lang.Mention{Span: source.Span{Start: u.parts[0].Start, End: u.parts[len(u.parts)-1].End}, Kind: ModuleUse, Detail: &lang.Detail{Own: Detail{From: u.binding.from}}}
		for i, p := range u.parts {
			if i > 0 {
				m.Text += "."
			}
			m.Text += string(src[p.Start:p.End])
		}
		out = append(out, m)
	}
	return out
}

// base is the module that an imported name stands for, or nothing.
func (r *Resolver) base(p string, b *binding) lang.Target {
	if b.module == "" {
		return r.module(p, b.from)
	}
	name := b.from[strings.LastIndexByte(b.from, '.')+1:]
	m := lang.Mention{Text: name, Kind: FromName, Detail: &lang.Detail{Own: Detail{From: b.module}}}
	if t := r.name(p, &m); r.isModule(p, &m, t) {
		return t
	}
	return lang.No(lang.ToNothing)
}

// isModule says whether a name that a statement imports is a module, and not something in one.
func (r *Resolver) isModule(p string, m *lang.Mention, t lang.Target) bool {
	return t.Kind.Inside() && !t.Equal(r.module(p, detail(m).From))
}

// below gives the module of a name in a package.
func (r *Resolver) below(t lang.Target, name string) (lang.Target, bool) {
	folder, ok := r.folderOf(t)
	if !ok || r.hides(t, name) {
		return t, false
	}
	return r.load(path.Join(folder, name))
}
