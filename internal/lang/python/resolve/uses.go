package resolve

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Asks says whether a file imports modules of the project, whose uses are then looked for.
func (r *Resolver) Asks(from project.FileID, mentions []lang.Mention, targets []lang.Target) bool {
	asks := false
	// a document, with code in it
	if p := r.tree.Path(from); !strings.HasSuffix(p, ".py") && !strings.HasSuffix(p, ".pyi") && !syntax.IsNotebook(p) {
		return false
	}
	for i, t := range targets {
		switch m := &mentions[i]; m.Kind {
		case syntax.ModuleUse:
			return false // it has been read
		case syntax.ModuleImport:
			asks = asks || t.Kind.Inside()
		case syntax.FromName:
			asks = asks || t.Kind.Inside() && m.Text != lang.Everything &&
				!t.Equal(targets[lang.StatementOf(mentions, i)])
		}
	}
	return asks
}

// Second finds where a file uses the modules that it imports: a.b of a.b.f().
func (r *Resolver) Second(from project.FileID, content []byte) []lang.Mention {
	p := r.tree.Path(from)
	book := syntax.IsNotebook(p)
	if book {
		root, err := manifest.ParseJSON(content)
		if err != nil {
			return nil
		}
		content = syntax.CodeOf(root, content)
	}
	var out []lang.Mention
	bases := map[syntax.Binding]lang.Target{}
	for _, u := range syntax.UsesIn(content) {
		t, known := bases[*u.Binding]
		if !known {
			t = r.base(p, u.Binding)
			bases[*u.Binding] = t
		}
		text := string(content[u.Parts[0].Start:u.Parts[0].End])
		last := 0
		if !t.Kind.Inside() {
			continue
		}
		for i, part := range u.Parts[1:] {
			name := string(content[part.Start:part.End])
			next, ok := r.below(t, name)
			if !ok {
				break
			}
			t, last, text = next, i+1, text+"."+name
		}
		span := source.Span{Start: u.Parts[0].Start, End: u.Parts[last].End}
		for range bytes.Count(content[span.Start:span.End], []byte(")")) { // (a).b: the parentheses go with it
			span.Start = bytes.LastIndexByte(content[:span.Start], '(')
		}
		out = append(out, lang.Mention{
			Span: span, Text: text, Kind: syntax.ModuleUse, Form: lang.Plain,
			Detail: &lang.Detail{Own: syntax.Detail{From: u.Binding.From}}, Deferred: true, Likely: book, Evident: book,
		})
	}
	return out
}

// base is the module that an imported name stands for, or nothing.
func (r *Resolver) base(p string, b *syntax.Binding) lang.Target {
	if b.Module == "" {
		return r.module(p, b.From)
	}
	name := b.From[strings.LastIndexByte(b.From, '.')+1:]
	m := lang.Mention{Text: name, Kind: syntax.FromName, Detail: &lang.Detail{Own: syntax.Detail{From: b.Module}}}
	if t := r.name(p, &m); r.isModule(p, &m, t) {
		return t
	}
	return lang.No(lang.ToNothing)
}

// isModule says whether a name that a statement imports is a module, and not something in one.
func (r *Resolver) isModule(p string, m *lang.Mention, t lang.Target) bool {
	return t.Kind.Inside() && !t.Equal(r.module(p, syntax.DetailOf(m).From))
}

// below gives the module of a name in a package.
func (r *Resolver) below(t lang.Target, name string) (lang.Target, bool) {
	folder, ok := r.folderOf(t)
	if !ok || r.hides(t, name) {
		return t, false
	}
	return r.load(path.Join(folder, name))
}
