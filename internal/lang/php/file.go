package php

import (
	"crookedshelf/internal/source"
)

// space is the kind of thing that a name stands for: each has names of its own
// (php.net/manual/en/language.namespaces.rules.php).
type space uint8

const (
	class space = iota // classes, interfaces, traits, enums
	function
	constant
	spaces // how many there are
)

func (s space) String() string { return [...]string{"class", "function", "constant"}[s] }

// file is what a text says of names: what it declares, imports and uses.
type file struct {
	blocks   []block
	declared []declaration
	uses     []use // in the order of the text
	texts    []classText
	heads    []head
	after    int // behind <?php, and behind what must stand first: the place for a namespace or an import
	views    []viewName
	html     []source.Span // what is no PHP
	members  []declaration // constants of classes that hold a path
	paths    []pathExpr
	scopes   []scopeOf
	includes []int      // the paths that are folders of the include path
	noted    [notes]int // where each kind of note has its first place, from 1; 0 for none
	tails    []ownTail
}

// block is a part of a file with one namespace. A file without any is one block.
type block struct {
	name    string      // of the namespace; empty for the global one
	at      source.Span // of the name; empty for a block that bears none
	after   int         // behind the line of the namespace, where imports may stand
	braced  bool
	imports []item
}

// item is one name that a use statement imports.
type item struct {
	space     space
	name      string      // in full, without \ in front
	alias     string      // how the block calls it
	explicit  bool        // the alias is written
	at        source.Span // of the name, as far as it is written for this item
	whole     source.Span // of all of the item: with its alias, and with function or const where those are written for it
	statement int         // number of the statement, in the file
	stands    source.Span // of the statement, from use to ;
	group     string      // what stands before the brace; empty for none
	only      bool        // it is the only one of its statement
}

// declaration is a name that a file gives to a class, a function or a constant.
type declaration struct {
	space   space
	name    string // without its namespace
	block   int
	at      source.Span // empty where the name is put together
	kind    string      // class, interface, trait, enum; function; constant
	extends []string    // as they are written
	marks   []string    // attributes, as they are written
	route   bool        // it, or a method of it, answers an address
	alias   bool        // a second name, by class_alias
	path    int         // from 1: of the expression that is its value, where that is a path; 0 for none
	class   string      // of which it is a constant; empty for none
	full    bool        // the name is in full: of define and class_alias
}

// use is a name in code, or in a comment that documents are written in.
type use struct {
	at    source.Span
	text  string // as it is written
	space space
	block int
	doc   bool
	typed bool // it stands in a type of a comment
	late  bool // it counts when a function runs, and not when the file is loaded
}

// classText is a string that may be the name of a class.
type classText struct {
	at     source.Span // inside the quotes
	raw    string      // as it stands between them
	quote  byte
	call   string // of which call it is the first argument; empty for none
	html   bool   // it stands outside of PHP
	within bool   // it stands in a text with other things
	alone  bool   // it is a whole argument or value, and nothing is put behind it
}

// head is the beginning of names that are put together: 'A\B\\' . $x.
type head struct {
	at     source.Span // of the text before what is put behind
	raw    string
	suffix string // a text behind what is put in, that ends the name
	quote  byte
	own    bool // __NAMESPACE__ stands in front
	block  int
}
