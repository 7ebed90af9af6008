// Package java is Java: which types a file declares, imports and uses, and how packages follow from folders.
//
// lex.go cuts a text into tokens. parse.go, body.go, code.go, guesses.go, marks.go and docs.go read what it says of
// names; file.go has what they find. roots.go knows from where packages are counted, index.go who declares what and
// what a name means. resolve.go and elsewhere.go say where something leads; settle.go and imports.go write it anew.
// members.go, heirs.go, containers.go, services.go, builds.go and moves.go say what the language forbids and what
// moves owe.
package java

import (
	"path"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/text"
)

// Family is Java.
func Family() lang.Family {
	return lang.Family{
		Name: "Java", Reads: isJava, Scan: scan, Declares: true, States: true, InText: inText, Fixed: fixed,
		Index: func(_ string, content []byte) (any, error) { return read(content) },
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{
			Called: map[string]string{".java": "Java"}, Sources: []string{".java"}, Programs: []string{".java"},
			Manifest: manifestName, Deep: true, Mirror: [2]string{"src/main/", "src/test/"},
			Tests: lang.Marks{Stems: []string{"Test", "Tests", "IT", "TestCase"}},
		},
	}
}

// fixed says what the name of a file means to the compiler, where that binds it to its place.
func fixed(p string) lang.Fixture {
	switch path.Base(p) {
	case "module-info.java":
		return lang.Fixture{Why: "says which packages its module has, and stands above all of them", Builds: true}
	case "package-info.java", "package.html":
		return lang.Fixture{Why: "speaks of the package in its folder", Follows: true}
	}
	if strings.Contains(p, "META-INF/services/") {
		return lang.Fixture{Why: "is a list of services, and is called as their interface"}
	}
	return lang.Fixture{}
}

// scan finds what stands in a file by itself. What its names say is found when all files are known.
func scan(s lang.Source) (lang.Scanned, error) {
	var out lang.Scanned
	if !s.Declared.WantsOutlines() {
		with := pool.Get().(*scratch)
		defer pool.Put(with)
		with.tokens, with.docs = lex(s.Content, with.tokens[:0], with.docs[:0])
		for _, t := range with.tokens {
			if t.kind == tUnfinished || t.kind == tEscape {
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
		if isInterface(d.kind) {
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
	tokens, _ := lex(content, nil, nil)
	return lang.InText(len(tokens), func(i int) (start, end int32, text bool) {
		t := &tokens[i]
		return t.start, t.end, t.kind == tString || t.kind == tText
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

// read reads what a text says of names.
func read(content []byte) (*file, error) {
	s := pool.Get().(*scratch)
	defer pool.Put(s)
	s.tokens, s.docs = lex(content, s.tokens[:0], s.docs[:0])
	s.known.Clear()
	return parse(content, s)
}
