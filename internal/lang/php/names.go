package php

import "strings"

// This file says what a name in a text stands for, by the namespace in force and the imports of its block
// (php.net/manual/en/language.namespaces.rules.php). Names are given in full, without \ in front.

// join puts a name into a namespace.
func join(namespace, name string) string {
	if namespace == "" {
		return name
	}
	return namespace + `\` + name
}

// parent is the namespace of a name in full; short is its last part.
func parent(name string) string {
	if i := strings.LastIndexByte(name, '\\'); i >= 0 {
		return name[:i]
	}
	return ""
}

func short(name string) string { return name[strings.LastIndexByte(name, '\\')+1:] }

// key is a name as it is compared: without case, but for the last part of a constant.
func (s space) key(name string) string {
	if s == constant {
		at := strings.LastIndexByte(name, '\\') + 1
		return strings.ToLower(name[:at]) + name[at:]
	}
	return strings.ToLower(name)
}

// form is how a name is written.
type form uint8

const (
	full      form = iota // \A\B
	relative              // namespace\A
	qualified             // A\B
	plain                 // B
)

func formOf(text string) form {
	switch at := strings.IndexByte(text, '\\'); {
	case at == 0:
		return full
	case at < 0:
		return plain
	case at == len("namespace") && strings.EqualFold(text[:at], "namespace"):
		return relative
	}
	return qualified
}

// meaning is what a name stands for.
type meaning struct {
	name   string // in full
	global string // what it stands for if that is not declared: of functions and constants; empty for none
	by     *item  // the import that brings it, or its first part; nil for none
}

// means says what a name stands for in a block.
func (b *block) means(text string, s space) meaning {
	switch formOf(text) {
	case full:
		return meaning{name: text[1:]}
	case relative:
		return meaning{name: join(b.name, text[len(`namespace\`):])}
	case qualified:
		first, rest, _ := strings.Cut(text, `\`)
		if by := b.imported(first, class); by != nil {
			return meaning{name: by.name + `\` + rest, by: by}
		}
		return meaning{name: join(b.name, text)}
	}
	if by := b.imported(text, s); by != nil {
		return meaning{name: by.name, by: by}
	}
	m := meaning{name: join(b.name, text)}
	if s != class && b.name != "" {
		m.global = text
	}
	return m
}

// imported gives the import by which a block calls something so; nil for none.
func (b *block) imported(alias string, s space) *item {
	for i := range b.imports {
		one := &b.imports[i]
		if one.space == s && (one.alias == alias || s != constant && strings.EqualFold(one.alias, alias)) {
			return one
		}
	}
	return nil
}

// name is a declaration's name in full.
func (f *file) name(d *declaration) string {
	if d.full {
		return d.name
	}
	return join(f.blocks[d.block].name, d.name)
}
