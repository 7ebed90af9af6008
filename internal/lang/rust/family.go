// Package rust is Rust: which modules a crate has, what they declare and use, and how modules follow from files.
//
// lex.go cuts a text into tokens. parse.go, items.go and docs.go read what it says of names; file.go has what they find.
// cargo.go knows packages, modules.go the modules of their crates, lookup.go what a path leads to. mentions.go says what
// a file names, resolve.go where that leads. settle.go and uses.go write paths and uses anew; moves.go and lines.go write
// the lines that say which files are modules; members.go says what the language forbids.
package rust

import (
	"path"
	"slices"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/text"
)

// Family is Rust.
func Family() lang.Family {
	return lang.Family{
		Name: "Rust", Reads: isRust, Scan: scan, Declares: true, InText: inText,
		Index: func(_ string, content []byte) (any, error) { return read(content) },
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{
			Called: map[string]string{".rs": "Rust"}, Sources: []string{".rs"}, Programs: []string{".rs"},
			Manifest: manifestName, Entry: "mod",
		},
	}
}

// scan finds what stands in a file by itself. What its names say is found when all files are known.
func scan(s lang.Source) (lang.Scanned, error) {
	f, err := read(s.Content)
	if err != nil || !s.Declared.WantsOutlines() {
		return lang.Scanned{}, err
	}
	return lang.Scanned{Outline: f.outline()}, nil
}

// kindsOf are the kinds of declaration that items are.
var kindsOf = map[itemKind]lang.DeclarationKinds{isFn: lang.IsFunction, isStruct: lang.IsClass, isEnum: lang.IsClass,
	isUnion: lang.IsClass, isTrait: lang.IsType, isAlias: lang.IsType, isConst: lang.IsConstant, isStatic: lang.IsConstant,
	isMacro: lang.IsFunction}

// outline says what a file declares.
func (f *file) outline() *lang.Outline {
	out := &lang.Outline{Own: len(f.items) > 0}
	for i := range f.items {
		one := &f.items[i]
		if one.scope != 0 || one.kind == isExternCrate {
			continue
		}
		out.Declarations = append(out.Declarations, lang.Declaration{Name: one.name, Kinds: kindsOf[one.kind],
			Exported: one.sees.reach != private || one.exported, Extends: slices.Concat(one.supers, one.impls), Marks: one.marks,
			Offset: int(one.at)})
	}
	return out
}

// inText says which places of a file lie in strings or comments.
func inText(content []byte) func(at int) bool {
	tokens, _, err := lex(content, nil, nil, newNames(nil))
	if err != nil {
		return lang.BehindQuote(content)
	}
	return lang.InText(len(tokens), func(i int) (start, end int32, text bool) {
		return tokens[i].start, tokens[i].end, tokens[i].kind == tString
	})
}

// isRust says whether a file is one of Rust.
func isRust(p string) bool { return path.Ext(p) == ".rs" }

// scratch is what reading a file needs and does not keep.
type scratch struct {
	tokens   []token
	docs     []comment
	names    *names
	examples exampleRoom
	// what the last file had, which the next one is written over
	items   []item
	paths   []pathUse
	singles []single
	selects []single
	uses    []use
	members []member
	impls   []implUse
	attrs   []attrText
}

var pool = sync.Pool{New: func() any {
	return &scratch{names: newNames(&text.Same{})}
}}

// read reads what a text says of names.
func read(content []byte) (*file, error) {
	s := pool.Get().(*scratch)
	defer pool.Put(s)
	s.names.clear()
	var err error
	if s.tokens, s.docs, err = lex(content, s.tokens[:0], s.docs[:0], s.names); err != nil {
		return nil, err
	}
	return parse(content, s)
}
