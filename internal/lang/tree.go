package lang

import (
	"fmt"
	"path"

	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// Tree is a project with what rules may ask of it. Index may be asked from the start. Where mentions lead is known when
// the rules of all languages are made, so Resolver, Aliases and Base are not for the making of rules.
type Tree struct {
	*project.Project
	Declared *Declared // what the convention says of this tree; may be nil

	families []Family
	rules    []Rules
	byKind   map[*Kind]*Rules
}

// NewTree makes a tree whose files some families read. It has no rules yet.
func NewTree(p *project.Project, declared *Declared, families ...Family) *Tree {
	return &Tree{Project: p, Declared: declared, families: families, byKind: map[*Kind]*Rules{}}
}

// Tree makes the rules of all languages for a project, on all cores. They come in the order of the languages.
func (l Languages) Tree(p *project.Project, declared *Declared) *Tree {
	t := NewTree(p, declared, l.Families...)
	var makers []func(*Tree) Rules
	for _, f := range l.Families {
		if f.Rules != nil {
			makers = append(makers, f.Rules)
		}
	}
	makers = append(makers, l.Shared...)
	rules := make([]Rules, len(makers))
	parallel.Do(len(makers), func(i int) { rules[i] = makers[i](t) })
	t.Answer(rules...)
	return t
}

// Answer gives the tree its rules.
func (t *Tree) Answer(rules ...Rules) {
	t.rules = rules
	for i := range rules {
		for _, kind := range rules[i].Kinds {
			t.byKind[kind] = &rules[i]
		}
	}
}

// IsProgram says whether a file holds a program, by its ending.
func (t *Tree) IsProgram(path string) bool { return Languages{Families: t.families}.IsProgram(path) }

// FamilyOf gives the family that reads a file; nil for none.
func (t *Tree) FamilyOf(path string) *Family { return Languages{Families: t.families}.FamilyOf(path) }

// IsProse says whether a file is written for people.
func (t *Tree) IsProse(path string) bool { return Languages{Families: t.families}.IsProse(path) }

// Unwritten are the endings that a reference may leave out.
func (t *Tree) Unwritten() []string { return Languages{Families: t.families}.Unwritten() }

// Rules are those of all languages.
func (t *Tree) Rules() []Rules { return t.rules }

// RulesFor gives the rules that answer for a kind of mention.
func (t *Tree) RulesFor(kind *Kind) *Rules { return t.byKind[kind] }

// Resolver gives what answers for a kind of mention.
func (t *Tree) Resolver(kind *Kind) Resolver { return t.byKind[kind].Resolver }

// Index gives what a file of a family says of itself: what the family's Index made of its text, once for each text,
// also for the trees that are laid over this one or follow it. Nobody may change it.
func Index[T any](t *Tree, id project.FileID) (T, error) {
	family := Languages{Families: t.families}.FamilyOf(t.Path(id))
	if family == nil || family.Index == nil {
		return *new(T), fmt.Errorf("%s: nothing is known of such files", t.Path(id))
	}
	value, err := project.Says(t.Project, id, func(content []byte) (any, error) {
		return family.Index(t.Path(id), content)
	})
	if err != nil {
		return *new(T), err
	}
	return value.(T), nil
}

// Indexes gives what the files of a tree say of themselves whose paths a language takes, or why one says nothing.
func Indexes[T any](t *Tree, takes func(path string) bool) (ids []project.FileID, all []T, errs []error) {
	for id, f := range t.Files {
		if takes(f.Path) && !f.Link {
			ids = append(ids, project.FileID(id))
		}
	}
	all, errs = make([]T, len(ids)), make([]error, len(ids))
	parallel.Do(len(ids), func(i int) { all[i], errs[i] = Index[T](t, ids[i]) })
	return ids, all, errs
}

// Expand gives the path from the root that a text stands for by an alias, and the alias.
func (t *Tree) Expand(from, text string) (p, alias string, ok bool) {
	for i := range t.rules {
		if aliases := t.rules[i].Aliases; aliases != nil {
			if p, alias, ok = aliases.Expand(from, text); ok {
				return p, alias, true
			}
		}
	}
	return "", "", false
}

// Contract writes a path by an alias, or by another that reaches it.
func (t *Tree) Contract(from, p, alias string) (text string, ok bool) {
	for i := range t.rules {
		if aliases := t.rules[i].Aliases; aliases != nil {
			if text, ok = aliases.Contract(from, p, alias); ok {
				return text, true
			}
		}
	}
	return "", false
}

// Base is the folder from which a mention in a file is read: what a language says of its settings, else the file's own
// folder.
func (t *Tree) Base(from string, m *Mention) string {
	for i := range t.rules {
		if t.rules[i].Base != nil {
			if dir, ok := t.rules[i].Base(from, m); ok {
				return dir
			}
		}
	}
	return path.Dir(from)
}
