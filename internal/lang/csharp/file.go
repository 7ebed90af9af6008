package csharp

import "crookedshelf/internal/source"

// file is what a text says of names: which namespaces it has, what it declares, brings and uses.
type file struct {
	first   int     // where a using may stand, if there is none yet
	spaces  []space // the first is the file itself
	usings  []using
	types   []typeDecl
	members []member
	uses    []use
	selects []selected
	texts   []csText
	ends    []int32  // where the parts of chains end
	friends []string // assemblies that see what is internal
	top     bool     // it has statements outside of all types: a program starts there
	unread  []int    // where branches begin that no symbols bring in
}

// space is a namespace of a file, or the file itself.
type space struct {
	name   string // as it is written; empty for the file
	at     source.Span
	owner  int  // the one that it stands in; -1 for the file
	scoped bool // it ends with ; and goes on to the end of the file
	first  int  // where a using may stand in it
	indent string
	from   int // where its inside begins, in bytes
	to     int
}

// using is a directive that brings names.
type using struct {
	name   string // what it names, without type arguments
	at     source.Span
	whole  source.Span // from using or global to ;
	alias  string
	static bool
	global bool // it counts in all files of the project
	rooted bool // global:: stands before the name
	typed  bool // type arguments follow: it names a type
	space  int
	use    int // of an alias or a static one: the use of what it names; else -1
}

// visibility is who sees a declaration.
type visibility uint8

const (
	public visibility = iota
	protected
	protectedInternal
	internal
	privateProtected
	private
	ofFile
)

func (v visibility) String() string {
	return [...]string{"public", "protected", "protected internal", "internal", "private protected", "private", "file"}[v]
}

// typeDecl is a class, a struct, an interface, a record, an enum or a delegate.
type typeDecl struct {
	name    string
	at      source.Span
	kind    string // class, struct, interface, record, enum, delegate
	owner   int    // the type that it stands in; -1 for none
	space   int
	arity   int
	sees    visibility
	partial bool
	supers  []int // its supertypes, as uses
	params  []string
	marks   []string // attributes, as they are written
	route   bool     // it, or a method of it, answers an address
	from    int      // where its declaration begins, in bytes
	to      int
}

// member is a method, a field, a property or an event of a type.
type member struct {
	name    string
	owner   int
	sees    visibility
	method  bool
	extends bool // a method whose first parameter is this
	args    int
	at      int
}

// use is a name in code that may be that of a type or of a namespace, or in a comment that documents are made of.
type use struct {
	at     source.Span // of all of the chain: A.B.C
	text   string      // without blanks and comments
	ends   int32       // the first of the ends of its parts, in file.ends
	parts  int32
	owner  int32 // the type in whose body it stands; -1 for none
	space  int32
	arity  int16 // of its last part
	sure   bool  // it stands where a type must stand
	hidden bool  // a variable, a type parameter or the like has the first name
	doc    bool
	mark   bool // it is an attribute, whose name may leave Attribute out
	rooted bool // global:: stands before it
	alias  bool // :: stands behind its first part
	named  bool // it is what a using names
	called bool // its last part is a method
}

// selected is a name behind a dot.
type selected struct {
	name  string
	at    int
	space int32
	chain bool // it is a part of a chain of names
}

// csText is a string.
type csText struct {
	at    source.Span // inside the quotes
	from  int         // where it begins
	call  string      // the method or the attribute of which it is an argument; empty for none
	mark  bool        // it is an argument of an attribute
	types string      // the type of typeof(…) that stands before it among the arguments
	joins bool        // something is put before or behind it
}
