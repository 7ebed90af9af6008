package lang

import (
	"iter"

	"crookedshelf/internal/convention"
)

// Scanned is what scanning a file finds.
type Scanned struct {
	Mentions []Mention
	Inside   []Embedded // what other languages read of the file
	Outline  *Outline   // nil if it was not asked for, or the family has none
	// Early is what is known where the outline was asked for beside certain mentions alone, and was not read; nil where
	// it was.
	Early *Early
}

// Early is what is known of an outline that costs more than the mentions do: it is had by scanning the file for all
// that it holds, if anybody asks.
type Early struct {
	ReExports bool // the outline may show that the file re-exports what others declare
	// Known are kinds of declaration that are known before the outline is: Declarations has all of these, and may have
	// others.
	Known        DeclarationKinds
	Declarations []Declaration
}

// Outline is what a file declares at its top level and gives to others.
type Outline struct {
	Declarations []Declaration
	Exports      []Binding // names that the file gives to others by a list: export { a as b }
	// Own: the file does more than re-export what other files declare.
	Own bool
}

// Declaration is one thing that a file declares at its top level.
type Declaration struct {
	Name     string // empty for a default export without one
	Kinds    DeclarationKinds
	Exported bool
	Default  bool     // it is what the file exports by default
	Extends  []string // the names of what it is built on, with their qualifiers
	Marks    []string // its decorators and annotations, without arguments
	Offset   int      // of the name, in bytes
}

// DeclarationKinds is a set of kinds: a component is a function or a class as well.
type DeclarationKinds uint16

// The kinds of declaration, in the order of convention.DeclarationKinds.
const (
	IsClass DeclarationKinds = 1 << iota
	IsFunction
	IsComponent // draws elements
	IsHook      // a function whose name begins with use
	IsType
	IsConstant
	IsRoute // answers an address
)

// Has says whether the set has a kind, by its name.
func (k DeclarationKinds) Has(kind string) bool { return k&kindOf(kind) != 0 }

// All gives the names of the kinds of a set.
func (k DeclarationKinds) All() iter.Seq[string] {
	return func(yield func(string) bool) {
		for i, kind := range convention.DeclarationKinds {
			if k&(1<<i) != 0 && !yield(kind) {
				return
			}
		}
	}
}

// AskedByAll gives the kinds of declaration for which a shelf of a convention can take a file wherever it lies.
func AskedByAll(c *convention.Convention) (kinds DeclarationKinds) {
	for i, kind := range convention.DeclarationKinds {
		if c.AsksOf(kind) {
			kinds |= 1 << i
		}
	}
	return kinds
}

// kindOf gives a kind by its name; none for a name that is not a kind's.
func kindOf(name string) DeclarationKinds {
	for i, kind := range convention.DeclarationKinds {
		if kind == name {
			return 1 << i
		}
	}
	return 0
}

// AnyKind is the set of all kinds.
const AnyKind DeclarationKinds = 1<<16 - 1

// AskedBy gives the kinds of declaration by which an entry takes files; any, where it asks for something else of them.
func AskedBy(t *convention.Take) DeclarationKinds {
	var kinds DeclarationKinds
	for _, d := range t.Declares {
		kinds |= kindOf(d.Kind)
	}
	if kinds == 0 && t.Outlined() {
		return AnyKind
	}
	return kinds
}

// Binding is a name that goes from one file to another. Name is what it is called where it comes from, Local where it
// is used; in an export Name is the one inside the file and Local the one that others see.
type Binding struct{ Name, Local string }

// The names of bindings that are no identifiers.
const (
	Everything  = "*" // all that a file gives, under one name or each under its own
	DefaultName = "default"
)

// Given are the names under which the file exports what it declares, in the order of the file: a name may stand there
// more than once.
func (o *Outline) Given() []string {
	listed := map[string][]string{}
	for _, e := range o.Exports {
		listed[e.Name] = append(listed[e.Name], e.Local)
	}
	var out []string
	for _, d := range o.Declarations {
		if d.Default {
			out = append(out, DefaultName)
		}
		if d.Exported {
			out = append(out, d.Name)
		}
		out = append(out, listed[d.Name]...)
	}
	return out
}

// Names are the names that the file exports of its own, each once, in the order of the file.
func (o *Outline) Names() []string {
	given := map[string]bool{}
	for _, name := range o.Given() {
		given[name] = true
	}
	var out []string
	added := map[string]bool{"": true}
	add := func(name string) {
		if !added[name] {
			added[name] = true
			out = append(out, name)
		}
	}
	for _, d := range o.Declarations {
		switch {
		case d.Default:
			add(DefaultName)
		case d.Exported:
			add(d.Name)
		}
	}
	for _, e := range o.Exports {
		if given[e.Local] {
			add(e.Local)
		}
	}
	return out
}
