// Package ruby is Ruby: constants that files declare and use, how they are found by the paths of files, and how files
// load others.
//
// lex.go and literals.go cut a text into tokens; parse.go and pathexpr.go read what it says of constants and of paths.
// roots.go knows where files are looked for, inflect.go how a path becomes a name, index.go who declares what, lookup.go
// what a constant means. resolve.go, paths.go and elsewhere.go say where something leads; settle.go writes it anew,
// shape.go the modules around what has moved. moves.go says what the language forbids.
package ruby

import (
	"path"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/text"
)

// Family is Ruby.
func Family() lang.Family {
	return lang.Family{
		Name: "Ruby", Reads: isRuby, Scan: scan, Declares: true, States: true, InText: inText, Omits: true,
		Index: func(p string, content []byte) (any, error) { return read(p, content) },
		Rules: func(t *lang.Tree) lang.Rules { return New(t).Rules() },
		Facts: lang.Facts{
			Called:   map[string]string{".erb": "ERB", ".haml": "HAML", ".slim": "Slim", ".rb": "Ruby", ".rake": "Ruby", ".gemspec": "Ruby", ".ru": "Ruby"},
			Programs: []string{".rb"}, Sources: []string{".rb", ".rake", ".erb", ".haml", ".slim"}, Manifest: "Gemfile", Unwritten: []string{".rb"},
			Runs: map[string]string{"ruby": ".rb", "rake": ".rb"}, Starts: []string{".ru"},
			Tests: lang.Marks{Stems: []string{"_test", "_spec"}, Folders: []string{"test", "spec"}},
			Shown: map[string]string{"ruby": ".rb", "rb": ".rb"},
		},
	}
}

// named are files of Ruby without an ending that says so.
var named = lang.Words("Rakefile Gemfile Guardfile Capfile Vagrantfile Thorfile")

// endings are those of Ruby.
var endings = lang.Words(".rb .rake .gemspec .ru .jbuilder .builder .thor")

// isRuby says whether a file is read: it is Ruby, or a template in which code stands.
func isRuby(p string) bool { return endings[path.Ext(p)] || named[path.Base(p)] || isView(p) }

// isView says whether a file is a template in which code stands.
func isView(p string) bool {
	switch path.Ext(p) {
	case ".erb", ".haml", ".slim":
		return true
	}
	return false
}

// open says whether what is open in a file need not be closed: in templates whose lines close by their indentation.
func open(p string) bool { return path.Ext(p) == ".haml" || path.Ext(p) == ".slim" }

// scratch is what reading a file needs and does not keep.
type scratch struct {
	tokens []token
	same   *text.Same
	// what the last file had, which the next one is written over
	spaces []space
	uses   []use
	texts  []rbText
	args   []argument
	stack  []frame
}

var pool = sync.Pool{New: func() any { return &scratch{same: &text.Same{}} }}

// read reads what a text says.
func read(p string, content []byte) (*file, error) {
	content = codeOf(p, content)
	with := pool.Get().(*scratch)
	defer pool.Put(with)
	tokens, end := lex(content, with)
	return parse(content, tokens, end, with, open(p))
}

// scan finds what stands in a file by itself. What its names and paths say is found when all files are known.
func scan(s lang.Source) (lang.Scanned, error) {
	var out lang.Scanned
	if !s.Declared.WantsOutlines() && s.Declared != nil {
		with := pool.Get().(*scratch)
		defer pool.Put(with)
		tokens, _ := lex(codeOf(s.As, s.Content), with)
		for _, t := range tokens {
			if t.kind == tUnfinished {
				_, err := read(s.As, s.Content)
				return out, err
			}
		}
		return out, nil
	}
	f, err := read(s.As, s.Content)
	if err != nil {
		return out, err
	}
	out.Outline = f.outline()
	return out, nil
}

// outline says what a file declares: modules and classes that hold more than others, and the constants beside them.
func (f *file) outline() *lang.Outline {
	out := &lang.Outline{Own: true}
	for i := 1; i < len(f.spaces); i++ {
		s := &f.spaces[i]
		if s.name == "" || s.late || !s.more && !s.class {
			continue
		}
		one := lang.Declaration{Name: f.nameOf(i), Kinds: lang.IsClass, Exported: true, Offset: s.at.Start}
		if s.super >= 0 {
			one.Extends = both(f.uses[s.super].text)
		}
		for _, k := range s.mixes {
			one.Marks = append(one.Marks, both(f.uses[k].text)...)
		}
		if !s.class {
			one.Kinds = lang.IsType
		}
		if strings.HasSuffix(one.Name, "Controller") && s.class {
			one.Kinds |= lang.IsRoute
		}
		out.Declarations = append(out.Declarations, one)
	}
	for i := range f.values {
		v := &f.values[i]
		out.Declarations = append(out.Declarations, lang.Declaration{Name: last(v.name), Kinds: lang.IsConstant, Exported: true,
			Offset: v.at.Start})
	}
	return out
}

// both is a name as it is written, and its last part.
func both(name string) []string {
	name = strings.TrimPrefix(name, "::")
	if short := last(name); short != name {
		return []string{name, short}
	}
	return []string{name}
}

// nameOf is the last part of the name of a module.
func (f *file) nameOf(at int) string { return last(f.spaces[at].name) }

// last is the last part of a name.
func last(name string) string { return name[strings.LastIndexByte(name, ':')+1:] }

// parent is a name without its last part.
func parent(name string) string {
	if at := strings.LastIndex(name, "::"); at >= 0 {
		return name[:at]
	}
	return ""
}

// join puts a name behind another.
func join(head, name string) string {
	if head == "" || name == "" {
		return head + name
	}
	return head + "::" + name
}

// inText says which places of a file lie in strings or comments.
func inText(content []byte) func(at int) bool {
	with := pool.Get().(*scratch)
	defer pool.Put(with)
	tokens, end := lex(content, with)
	code := make([]bool, len(content)+1)
	for _, t := range tokens {
		switch t.kind {
		case tString, tPart, tOpen, tClose, tUnfinished:
			continue
		}
		for i := t.start; i < t.end; i++ {
			code[i] = true
		}
	}
	return func(at int) bool { return at >= len(content) || at >= end || !code[at] }
}
