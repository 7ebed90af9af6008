package csharp

import (
	"fmt"
	"strings"
)

// Said writes down what a text says where some symbols are defined, a line each, so that it can be compared with what
// the compiler's own parser says of it: namespaces, usings, what is declared and who sees it, each name with its place,
// what is selected on names, where a type must stand, strings, and the names in comments.
func Said(content []byte, symbols map[string]bool) (lines []string, err error) {
	f, err := readWith(content, symbols)
	if err != nil {
		return nil, err
	}
	add := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	for i := range f.spaces[1:] {
		add("namespace %s", f.spaceName(i+1))
	}
	for i := range f.usings {
		one := &f.usings[i]
		head := ""
		if one.global {
			head += "global "
		}
		if one.static {
			head += "static "
		}
		if one.alias != "" {
			head += one.alias + " = "
		}
		if one.rooted {
			head += "global::"
		}
		add("using %s%s", head, one.name)
	}
	for i := range f.types {
		d := &f.types[i]
		partial := ""
		if d.partial {
			partial = " partial"
		}
		add("declares %s %s`%d %s%s", d.kind, join(f.spaceName(d.space), f.path(i)), d.arity, d.sees, partial)
	}
	for i := range f.members {
		if m := &f.members[i]; m.extends {
			add("extends %s %d", m.name, m.args)
		}
	}
	for i := range f.uses {
		u := &f.uses[i]
		first := partsOf(u.text, 1)
		if u.doc {
			if !u.rooted { // of a name in full the compiler's parser makes nothing
				add("doc %s", first)
			}
			continue
		}
		if u.sure && first != "var" && first != "_" {
			add("type %d %s", u.at.Start, first)
		}
		if first != "var" && first != "_" {
			add("name %d %s", u.at.Start, first)
		}
		for k, part := range strings.Split(u.text, ".")[1:] {
			if part == "var" || part == "_" {
				continue
			}
			add("select %d %s", f.ends[int(u.ends)+k+1], part)
		}
	}
	for i := range f.selects {
		if s := &f.selects[i]; !s.chain && s.name != "_" && s.name != "var" {
			add("select %d %s", s.at+len(s.name), s.name)
		}
	}
	for i := range f.texts {
		add("string %d", f.texts[i].from)
	}
	return lines, nil
}

// spaceName is the name of a namespace of the file, with those that it stands in.
func (f *file) spaceName(at int) string {
	name := f.spaces[at].name
	for at = f.spaces[at].owner; at > 0; at = f.spaces[at].owner {
		name = join(f.spaces[at].name, name)
	}
	return name
}

// path is the name of a type with those that it stands in: A.B.
func (f *file) path(at int) string {
	name := f.types[at].name
	for at = f.types[at].owner; at >= 0; at = f.types[at].owner {
		name = f.types[at].name + "." + name
	}
	return name
}
