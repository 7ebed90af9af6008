package syntax

import (
	"bytes"
	"regexp"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Given is what a file gives values to at its top level, and when it is loaded: what it declares, and what it imports,
// in the order of its statements.
type Given struct {
	Declared []string
	Imports  []brought
	Listed   map[string]bool // what the file lists as exported; nil where it has no list
	// Configures: the file configures an application of a web framework; Label is the one that it gives it, empty for
	// the usual one.
	Configures bool
	Label      string
}

var labelLine = regexp.MustCompile(`(?m)^\s+label\s*=\s*['"](\w+)['"]`)

// brought is a module or a name that a file imports, and what it is called there.
type brought struct {
	lang.Mention
	Local string
}

// IndexOf reads what a file gives values to.
func IndexOf(content []byte) *Given {
	s := &Scanner{Src: content, wishes: wishes{texts: texts{exports: true}}, results: results{outline: &lang.Outline{}}}
	s.scan()
	g := &Given{Configures: bytes.Contains(content, []byte("AppConfig"))}
	if m := labelLine.FindSubmatch(content); m != nil && g.Configures {
		g.Label = string(m[1])
	}
	for _, d := range s.outline.Declarations {
		g.Declared = append(g.Declared, d.Name)
	}
	for i := range s.mentions {
		m := &s.mentions[i]
		switch {
		case m.Kind == ModuleText && Exported(m):
			if g.Listed == nil {
				g.Listed = map[string]bool{}
			}
			g.Listed[m.Text] = true
		case m.Deferred:
		case m.Kind == FromModule, m.Kind == FromName && m.Text == lang.Everything:
			g.Imports = append(g.Imports, brought{Mention: *m})
		case m.Kind == ModuleImport, m.Kind == FromName:
			g.Imports = append(g.Imports, brought{*m, LocalOf(content, m)})
		}
	}
	return g
}

// AliasOf is the alias of an imported name or module; empty for none.
func AliasOf(src []byte, m *lang.Mention) string {
	s := &Scanner{Src: src, Pos: m.Span.End}
	return s.as(true)
}

// LocalOf is what an imported name or module is called in its file: of import a.b that is a.
func LocalOf(src []byte, m *lang.Mention) string {
	i := Item{text: m.Text, alias: AliasOf(src, m)}
	return i.local()
}

// Bindings are the names that a mention brings into its file.
func Bindings(content []byte, m *lang.Mention) []lang.Binding {
	switch {
	case m.Kind == FromName && m.Text != lang.Everything:
		return []lang.Binding{{Name: m.Text, Local: LocalOf(content, m)}}
	case m.Kind == ModuleImport:
		return []lang.Binding{{Name: lang.Everything, Local: LocalOf(content, m)}}
	case m.Kind == FromModule: // its names say it
		return nil
	}
	return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
}

// Exported says whether a text is a name that a package lists as exported.
func Exported(m *lang.Mention) bool { return m.Detail != nil && DetailOf(m).From == "." }

// Uses lists where a text uses what it imports: each name with what is taken from it by dots.
func Uses(src []byte) []lang.Mention {
	var out []lang.Mention
	for _, u := range UsesIn(src) {
		m := lang.Mention{Span: source.Span{Start: u.Parts[0].Start, End: u.Parts[len(u.Parts)-1].End}, Kind: ModuleUse,
			Detail: &lang.Detail{Own: Detail{From: u.Binding.From}}}
		for i, p := range u.Parts {
			if i > 0 {
				m.Text += "."
			}
			m.Text += string(src[p.Start:p.End])
		}
		out = append(out, m)
	}
	return out
}
