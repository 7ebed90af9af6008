package rust

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// Said writes down what a text says, a line each, so that it can be compared with what another reader says: modules,
// declarations with how far they are seen, private members, uses, paths, calls of macros, strings in attributes, and the
// names that it must know.
func Said(content []byte) (lines, names []string, err error) {
	f, err := read(content)
	if err != nil {
		return nil, nil, err
	}
	add := func(what string, from, to int, format string, args ...any) {
		lines = append(lines, fmt.Sprintf("%s\t%d\t%d\t%s", what, from, to, fmt.Sprintf(format, args...)))
	}
	raw := func(at int, name string) (int, int) { // with r# before it
		if at > 1 && content[at-1] == '#' && content[at-2] == 'r' {
			return at - 2, at + len(name)
		}
		return at, at + len(name)
	}
	for _, m := range f.mods {
		if !m.inMacro {
			from, to := raw(m.at.Start, m.name)
			add("mod", from, to, "%s file %s", m.name, m.sees)
		}
	}
	for i, s := range f.scopes {
		if i > 0 && s.module && !s.inMacro {
			from, to := raw(int(s.at), s.name)
			add("mod", from, to, "%s inline %s", s.name, s.sees)
		}
	}
	for _, one := range f.items {
		if one.inMacro {
			continue
		}
		from, to := raw(int(one.at), one.name)
		sees := one.sees.String()
		if one.kind == isMacro {
			sees = private.String()
		}
		add("item", from, to, "%s %s %s", one.kind, one.name, sees)
	}
	for _, m := range f.members {
		if m.part || m.rule {
			continue
		}
		if !m.inMacro {
			from, to := raw(int(m.at), m.name)
			add("member", from, to, "%s %s", m.name, m.sees)
		}
	}
	for _, u := range f.uses {
		if s := &f.stmts[u.stmt]; s.inMacro || s.inDoc {
			continue
		}
		from, to := u.at.Start, u.at.End
		bound := u.bound
		if u.glob {
			bound = "*"
		} else if content[from-1] == '#' {
			from -= 2
		}
		add("use", from, to, "%s %s", strings.Join(u.path, "::"), bound)
	}
	for _, p := range f.paths {
		if p.where != inCode {
			continue
		}
		head := ""
		if p.global {
			head = "::"
		}
		add("path", p.at.Start, p.at.End, "%s%s", head, p.text)
	}
	for _, a := range f.attrs {
		// what is put together by a macro is no string of the attribute, and bytes are no text
		if a.inMacro || content[a.from] != '"' && content[a.from] != 'r' {
			continue
		}
		add("string", a.from, a.to, "%s %q", a.attr, a.text)
	}
	for _, one := range f.texts {
		if one.form != "manifest" && !one.inMacro {
			add("file", one.from, one.to, "%s %q", one.form, one.text)
		}
	}
	for _, s := range f.singles {
		if s.macro {
			names = append(names, s.name+"!")
		} else {
			names = append(names, s.name)
		}
	}
	slices.Sort(lines)
	return slices.Compact(lines), names, nil
}

// Compiled is what a crate is compiled from: the files of its modules, and those of them that are there under conditions.
type Compiled struct {
	Root             string
	Always, Somewhen []string
	Rules            []string // the names of modules whose lines macros write
}

// SaidModules says what the crates of a tree are compiled from.
func SaidModules(t *lang.Tree) (out []Compiled) {
	for _, c := range grow(t).crates {
		one := Compiled{Root: t.Path(c.root.file)}
		seen := map[string]bool{}
		for _, m := range c.all {
			one.Rules = append(one.Rules, m.text.rules...)
			under := false
			for at := m; at != nil; at = at.parent {
				under = under || len(conds(at)) > 0 || at.line != nil && (at.line.inMacro || len(at.line.paths) > 0 && !at.line.always)
			}
			switch p := t.Path(m.file); {
			case seen[p]:
			case under:
				one.Somewhen = append(one.Somewhen, p)
			default:
				one.Always = append(one.Always, p)
			}
			seen[t.Path(m.file)] = true
		}
		out = append(out, one)
	}
	return out
}

func (r reach) String() string {
	return [...]string{"-", "pub", "pub(crate)", "pub(super)", "pub(self)", "pub(in "}[r]
}

func (v visibility) String() string {
	if v.reach == inModule {
		return v.reach.String() + v.path + ")"
	}
	return v.reach.String()
}

func (k itemKind) String() string {
	return [...]string{"fn", "struct", "enum", "union", "trait", "type", "const", "static", "macro", "crate"}[k]
}
