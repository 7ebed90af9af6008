// Package csharp is C#: which namespaces and types a file declares and uses, and how namespaces follow from folders.
//
// lex.go cuts a text into tokens, branches.go picks the branches of #if. parse.go, body.go, types.go, code.go,
// variables.go, creation.go, patterns.go, queries.go and docs.go read what a text says of names; file.go has what they
// find, merge.go puts branches together. projects.go knows which project takes a file, index.go who declares what,
// lookup.go what a name means. resolve.go says where something leads, elsewhere.go finds names in strings and in other
// files, resources.go and pages.go what stands in those; settle.go and usings.go write it anew. moves.go says what the
// language forbids.
package csharp

import (
	"maps"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/text"
)

// Family is C#.
func Family() lang.Family {
	return lang.Family{
		Name: "C#", Reads: isSource, Scan: scan, Declares: true, States: true, InText: inText, Owner: owner,
		Index: func(_ string, content []byte) (any, error) { return read(content) },
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{
			Called: map[string]string{".cs": "C#", ".csx": "C#"}, Sources: []string{".cs"}, Programs: []string{".cs"},
			Tests: lang.Marks{Stems: []string{"Test", "Tests", "Specs", "Fixture"}},
		},
	}
}

// scan finds what stands in a file by itself. What its names say is found when all files are known.
func scan(s lang.Source) (lang.Scanned, error) {
	var out lang.Scanned
	if !s.Declared.WantsOutlines() {
		with := pool.Get().(*scratch)
		defer pool.Put(with)
		with.tokens, with.docs = lex(s.Content, with.tokens[:0], with.docs[:0], &branches{})
		for _, t := range with.tokens {
			if t.kind == tUnfinished {
				_, err := read(s.Content)
				return out, err
			}
		}
		return out, nil
	}
	f, err := read(s.Content)
	if err != nil {
		return out, err
	}
	out.Outline = f.outline()
	return out, nil
}

// outline says what a file declares.
func (f *file) outline() *lang.Outline {
	out := &lang.Outline{Own: true}
	for i := range f.types {
		d := &f.types[i]
		if d.owner >= 0 {
			continue
		}
		one := lang.Declaration{Name: d.name, Kinds: lang.IsClass, Exported: d.sees == public, Marks: both(d.marks),
			Offset: d.at.Start}
		if d.kind == "interface" || d.kind == "delegate" {
			one.Kinds = lang.IsType
		}
		for _, at := range d.supers {
			one.Extends = append(one.Extends, f.uses[at].text)
		}
		one.Extends = both(one.Extends)
		if d.route {
			one.Kinds |= lang.IsRoute
		}
		out.Declarations = append(out.Declarations, one)
	}
	return out
}

// both are names as they are written, and the last parts of those with dots.
func both(names []string) (out []string) {
	for _, name := range names {
		if out = append(out, name); last(name) != name {
			out = append(out, last(name))
		}
	}
	return out
}

// inText says which places of a file lie in strings or comments.
func inText(content []byte) func(at int) bool {
	tokens, _ := lex(content, nil, nil, &branches{})
	return lang.InText(len(tokens), func(i int) (start, end int32, text bool) {
		t := &tokens[i]
		return t.start, t.end, t.kind == tString || t.kind == tPlain || t.kind == tPart
	})
}

// scratch is what reading a file needs and does not keep. The names are kept from file to file: most stand in many.
type scratch struct {
	tokens []token
	docs   []comment
	same   *text.Same
	known  names.Scopes
	// what the last file had, which the next one is written over
	uses    []use
	ends    []int32
	selects []selected
}

var pool = sync.Pool{New: func() any {
	return &scratch{same: &text.Same{}}
}}

// read reads what a text says of names, in all branches.
func read(content []byte) (*file, error) {
	sets, unread := choices(content)
	f, err := readWith(content, sets[0])
	for _, symbols := range sets[1:] {
		other, otherErr := readWith(content, symbols)
		switch {
		case otherErr != nil && err == nil:
			unread = append(unread, -1)
		case otherErr == nil && err != nil:
			f, err = other, nil
		case otherErr == nil:
			f.merge(other)
		}
	}
	if f != nil {
		f.unread = unread
	}
	return f, err
}

// readWith reads the branches that a set of symbols brings in.
func readWith(content []byte, symbols map[string]bool) (*file, error) {
	s := pool.Get().(*scratch)
	defer pool.Put(s)
	s.tokens, s.docs = lex(content, s.tokens[:0], s.docs[:0], &branches{symbols: maps.Clone(symbols)})
	s.known.Clear()
	return parse(content, s)
}
