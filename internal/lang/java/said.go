package java

import (
	"fmt"
	"strings"
)

// Said writes down what a text says, a line each, so that it can be compared with what the compiler's own parser says
// of it: package and imports, what is declared and who sees it, each name with its place, what is selected on names,
// where a type must stand, strings, and the names in comments.
func Said(content []byte) (lines []string, err error) {
	f, err := read(content)
	if err != nil {
		return nil, err
	}
	add := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)) }
	if f.pkg != "" {
		add("package %s", f.pkg)
	}
	for _, one := range f.imports {
		static, star := "", ""
		if one.static {
			static = "static "
		}
		if one.star {
			star = ".*"
		}
		add("import %s%s%s", static, one.name, star)
	}
	for i := range f.types {
		if d := &f.types[i]; !f.inCode(i) {
			add("declares %s %s %s", d.kind, f.path(i), d.sees)
		}
	}
	for i := range f.members {
		m := &f.members[i]
		if f.inCode(m.owner) || f.types[m.owner].kind == "record" && (m.name == "" || m.component) {
			continue
		}
		if m.method {
			add("method %s.%s %s %d", f.path(m.owner), m.name, m.sees, m.args)
		} else {
			add("field %s.%s %s", f.path(m.owner), m.name, m.sees)
		}
	}
	for i := range f.uses {
		u := &f.uses[i]
		first := partsOf(u.text, 1)
		switch {
		case u.doc:
			add("doc %s", u.text)
			continue
		case u.sure:
			add("type %d %s", u.at.Start, first)
		}
		if first != "var" { // to the compiler it is none
			add("name %d %s", u.at.Start, first)
		}
		for k, part := range strings.Split(u.text, ".")[1:] {
			add("select %d %s", f.ends[int(u.ends)+k+1], part)
		}
	}
	for _, c := range f.calls {
		if c.name != "this" && c.name != "super" {
			add("name %d %s", c.at, c.name)
		}
	}
	for i := range f.selects {
		if s := &f.selects[i]; !s.ofChain {
			add("select %d %s", s.at+len(s.name), s.name)
		}
	}
	for i := range f.texts {
		if f.texts[i].folds { // to the compiler they are one
			continue
		}
		add("string %d", f.texts[i].from)
	}
	return lines, nil
}

// inCode says whether a type stands in code, or in one that does.
func (f *file) inCode(at int) bool {
	for ; at >= 0; at = f.types[at].owner {
		if f.types[at].local {
			return true
		}
	}
	return false
}

// path is the name of a type with those that it stands in: A.B.
func (f *file) path(at int) string {
	name := f.types[at].name
	for at = f.types[at].owner; at >= 0; at = f.types[at].owner {
		name = f.types[at].name + "." + name
	}
	return name
}
