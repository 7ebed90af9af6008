// Package php is PHP: names of classes, functions and constants by their namespaces, and how files are found by them.
//
// lex.go cuts a text into tokens. parse.go walks over them, and with classify.go, heads.go, imports.go, texts.go and
// docs.go says what each name is; names.go says what a name means in its file. pathexpr.go and variables.go fold
// expressions that are paths, views.go reads names of views.
//
// composer.go knows how classes are found, index.go who declares what. resolve.go, pathresolve.go, address.go,
// elsewhere.go and servers.go say where something leads. settle.go, settleimports.go, settletexts.go and pathspell.go
// write it anew, moves.go and services.go say what moves owe, and remarks.go what only a running program knows.
package php

import (
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Family is PHP.
func Family() lang.Family {
	return lang.Family{
		Name: "PHP", Reads: isPHP, Scan: scan, States: true, Declares: true,
		Index: func(_ string, content []byte) (any, error) {
			return read(content)
		},
		Rules:  func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		InText: inText,
		Facts: lang.Facts{
			Called: map[string]string{".php": "PHP", ".phtml": "PHP", ".inc": "PHP"}, Programs: []string{".php"},
			Sources:  []string{".php", ".phtml", ".inc"},
			Manifest: manifestName, Runs: map[string]string{"php": ".php"},
			Tests: lang.Marks{Stems: []string{"Test"}, Folders: []string{"tests", "Tests"}},
		},
	}
}

// pool has slices of tokens that nobody uses at the moment.
var pool = sync.Pool{New: func() any { return new([]token) }}

// read reads what a text says of names.
func read(content []byte) (*file, error) {
	tokens := pool.Get().(*[]token)
	defer pool.Put(tokens)
	*tokens = lex(content, (*tokens)[:0])
	return parse(content, *tokens)
}

// scan finds what stands in a file by itself. What its names say is found when all files are known.
func scan(s lang.Source) (lang.Scanned, error) {
	var out lang.Scanned
	var html []source.Span
	if s.Declared.WantsOutlines() {
		f, err := read(s.Content)
		if err != nil {
			return out, err
		}
		out.Outline, html = f.outline(s.Declared), f.html
	} else {
		tokens := pool.Get().(*[]token)
		defer pool.Put(tokens)
		*tokens = lex(s.Content, (*tokens)[:0])
		for _, t := range *tokens {
			switch t.kind {
			case tHTML:
				html = append(html, span(t))
			case tUnfinished, tShortOpen:
				_, err := parse(s.Content, *tokens)
				return out, err
			}
		}
	}
	if len(html) > 0 {
		out.Inside = []lang.Embedded{{Lines: html, As: "x.html", Keep: addressed}}
	}
	return out, nil
}

// inText says which places of a file lie in strings or comments.
func inText(content []byte) func(at int) bool {
	tokens := lex(content, nil)
	inside := lang.InText(len(tokens), func(i int) (start, end int32, text bool) {
		t := &tokens[i]
		return t.start, t.end, t.kind == tString || t.kind == tPart || t.kind == tDoc || t.kind == tHTML
	})
	return func(at int) bool { return len(tokens) > 0 && at >= int(tokens[0].start) && inside(at) }
}

// outline says what a file declares, where that is asked for.
func (f *file) outline(declared *lang.Declared) *lang.Outline {
	if !declared.WantsOutlines() {
		return nil
	}
	out := &lang.Outline{Own: true}
	for i := range f.declared {
		d := &f.declared[i]
		if d.alias {
			continue
		}
		one := lang.Declaration{Name: short(d.name), Exported: true, Extends: d.extends, Marks: both(d.marks),
			Offset: d.at.Start}
		switch {
		case d.kind == "interface":
			one.Kinds = lang.IsType
		case d.space == class:
			one.Kinds = lang.IsClass
		case d.space == function:
			one.Kinds = lang.IsFunction
		default:
			one.Kinds = lang.IsConstant
		}
		if d.route {
			one.Kinds |= lang.IsRoute
		}
		out.Declarations = append(out.Declarations, one)
	}
	return out
}

// both are attributes as they are written, and by the last part of their names.
func both(marks []string) (out []string) {
	for _, mark := range marks {
		if out = append(out, mark); short(mark) != mark {
			out = append(out, short(mark))
		}
	}
	return out
}
