package ruby

import (
	"bytes"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"fmt"
	"strings"
)

// saidAs are the words for tokens that are told by where they begin.
var saidAs = map[kind]string{tConst: "const", tKey: "word", tChar: "char", tLabel: "label", tSymbol: "symbol", tOpen: "open",
	tHole: "hole", tHoleEnd: "end", tClose: "close"}

// Said writes down what a text says, a line each, so that it can be compared with what the language's own reader says:
// where literals begin and end, what is put into them, labels, words and the ends of statements, constants with the
// names around them, what is declared, and which files are loaded.
func Said(content []byte) (lines []string, err error) {
	with := pool.Get().(*scratch)
	defer pool.Put(with)
	tokens, end := lex(content, with)
	add := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	for i, t := range tokens {
		switch t.kind {
		case tNewline:
			k := i - 1
			for k > 0 && tokens[k].end > t.start { // the body of a here document
				k--
			}
			if k >= 0 && bytes.IndexByte(content[min(tokens[k].end, t.start):t.start], '#') >= 0 {
				continue // a comment, of which the line end is a part for that reader
			}
			at := int(t.start)
			if at > 0 && content[at-1] == '\r' {
				at--
			}
			add("ends %d", at)
		case tName:
			if c, last := content[t.start], content[t.end-1]; capital(c) && last != '?' && last != '!' && last != '=' {
				add("const %d", t.start)
			}
			if _, is := keyword(content[t.start:t.end]); is && (t.head || i > 0 && behindAlias(content, tokens, i)) {
				add("word %d", t.start)
			}
		case tString:
			add("open %d", t.start)
			add("close %d", t.end-1)
		default:
			if word := saidAs[t.kind]; word != "" {
				add("%s %d", word, t.start)
			}
		}
	}
	f, err := parse(content, tokens, end, with, false)
	if err != nil {
		return nil, err
	}
	around := func(at int) string {
		var out []string
		for ; at > 0; at = f.spaces[at].owner {
			name := f.spaces[at].name
			if name == "" {
				name = "?"
			}
			out = append([]string{name}, out...)
		}
		return strings.Join(out, "|")
	}
	for i := range f.spaces[1:] {
		s := &f.spaces[i+1]
		what, name := "module", s.name
		if s.class {
			what = "class"
		}
		if name == "" {
			name = "?"
		}
		add("%s %d %s in %s", what, s.from, name, around(s.owner))
	}
	for i := range f.values {
		add("value %d %s in %s", f.values[i].at.Start, f.values[i].name, around(f.values[i].space))
	}
	for i := range f.uses {
		add("name %d %s in %s", f.uses[i].at.Start, f.uses[i].text, around(int(f.uses[i].space)))
	}
	for i := range f.calls {
		if c := &f.calls[i]; !c.bare && c.method != "import" {
			add("%s %s", c.method, unquoted(content[c.at.Start:c.at.End], c.quote))
		}
	}
	return lines, nil
}

// behindAlias says whether a token is a name behind alias or undef.
func behindAlias(content []byte, tokens []token, i int) bool {
	for k := i - 1; k >= 0 && k >= i-4; k-- {
		switch word := string(content[tokens[k].start:tokens[k].end]); {
		case word == "alias" || word == "undef":
			return tokens[k].kind == tKey
		case tokens[k].kind != tName && tokens[k].kind != tSymbol && word != ",":
			return false
		}
	}
	return false
}

// Meanings gives what writes down what the constants of a file mean in a tree, a line each: where a constant stands, the
// modules around it with | between, its text, and the longest beginning of it in full that the tree declares, - for none, and whether it
// leads to a file.
func Meanings(tree *lang.Tree) func(id project.FileID) []string { return New(tree).meaningsOf }

func (r *Resolver) meaningsOf(id project.FileID) (lines []string) {
	e := r.index().files[id]
	if e == nil {
		return nil
	}
	for i := range e.uses {
		u := &e.uses[i]
		if u.asked {
			continue
		}
		full := r.means(e, u.text, int(u.space)).full
		leads := r.target(full).Kind.Inside()
		if full == "" {
			full = "-"
		}
		lines = append(lines, fmt.Sprintf("%d %s %s %s %t", u.at.Start, strings.Join(e.nesting(int(u.space)), "|"), u.text, full, leads))
	}
	return lines
}
