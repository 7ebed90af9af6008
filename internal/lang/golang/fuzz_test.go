package golang

import (
	"testing"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// FuzzScan: no text makes the scanner panic, and every span lies in the text and after the one before.
func FuzzScan(f *testing.F) {
	for _, seed := range []string{
		"package main\nimport \"fmt\"\nimport (\n\tn \"a/b\"\n\t_ `c`\n)",
		"package main\nimport _ \"embed\"\n//go:embed \"a b\" c\nvar s string", "package",
		"package a; import \"\\x00\"", "package a\nfunc () m() {}", "package a\n//go:generate run /... ./x/... -o=\n",
		"package a\ntype T struct { *B; x.Y }",
		"// Package a is.\npackage a\nimport (\n\t\"x\" // c\n)\n" +
			"func (t *T) m() { L: for { break L }; x.Y(); _ = M{k: 1, x.Z: q}; _ = \"../a/b\" + \"/../c\" }",
	} {
		f.Add([]byte(seed))
	}
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, d := range []*lang.Declared{nil, declared} {
			found, _ := Scan("a.go", text, d)
			last := 0
			for _, m := range found.Mentions {
				if m.Span.Start < last || m.Span.End < m.Span.Start || m.Span.End > len(text) {
					t.Fatalf("span %v in %d bytes", m.Span, len(text))
				}
				last = m.Span.End
			}
		}
		said, err := read(text)
		if err != nil {
			return
		}
		spans := []source.Span{said.clauseAt, said.docAt}
		for _, s := range said.imports {
			spans = append(spans, s.at, s.all, s.line)
		}
		last := 0
		for _, u := range said.uses {
			if u.at.Start < last {
				t.Fatalf("%s at %d, behind one at %d", u.name, u.at.Start, last)
			}
			last = u.at.Start
			spans = append(spans, u.at)
		}
		for _, s := range spans {
			if s.Start < 0 || s.End < s.Start || s.End > len(text) {
				t.Fatalf("span %v in %d bytes", s, len(text))
			}
		}
	})
}
