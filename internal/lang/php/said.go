package php

import (
	"fmt"
	"path"
	"strings"
)

// Said writes down what a text says, a line each, so that it can be compared with what PHP says of it: the borders of
// tokens, what each name stands for, what is declared and imported, and the paths of includes that need nothing but the
// place of the file.
func Said(file string, content []byte) (lines []string, err error) {
	tokens := lex(content, nil)
	f, err := parse(content, tokens)
	if err != nil {
		return nil, err
	}
	add := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	called := map[kind]string{tHTML: "html", tOpen: "open", tOpenEcho: "open", tClose: "close", tString: "string",
		tPart: "part", tHereStart: "heredoc", tHereEnd: "end", tDoc: "doc", tAttribute: "attribute",
		tQualified: "qualified", tFull: "full", tRelative: "relative"}
	for _, t := range tokens {
		if name, compared := called[t.kind]; compared {
			add("t %s %d %d", name, t.start, t.end)
		}
	}
	for i := range f.blocks {
		b := &f.blocks[i]
		if b.at.Len() > 0 {
			add("%d namespace %s", b.at.Start, b.name)
		}
		for _, one := range b.imports {
			add("%d import %s %s %s", one.at.Start, one.space, one.name, one.alias)
		}
	}
	for i := range f.declared {
		if d := &f.declared[i]; !d.full {
			add("declares %s %s", d.space, f.name(d))
		}
	}
	for i := range f.uses {
		u := &f.uses[i]
		if u.typed {
			add("doc %s", u.text)
		}
		if !u.doc {
			add("%d %s %s", u.at.Start, u.space, f.blocks[u.block].means(u.text, u.space).name)
		}
	}
	for i := range f.paths {
		x := &f.paths[i]
		if x.purpose != forInclude || x.open || x.term != "" || x.base == fromConst || x.base == fromPackage ||
			strings.Contains(strings.ToLower(string(content[x.anchor.Start:x.anchor.End])), "realpath") {
			continue
		}
		folder := ""
		if x.base == fromOwn {
			folder = path.Dir(file)
			for range x.up {
				folder = path.Dir(folder)
			}
		}
		at := x.at.Start
		for content[at] == '(' || blank(content[at]) {
			at++
		}
		add("%d path %s", at, folder+strings.ReplaceAll(x.text, ownFile, "/"+path.Base(file)))
	}
	return lines, nil
}
