package java

import "crookedshelf/internal/source"

// file is what a text says of names: what it declares, imports and uses.
type file struct {
	pkg     string      // of the package line; empty for the default package
	pkgAt   source.Span // of the name; empty where there is no package line
	first   int         // where a package line or an import may stand, if there is none yet
	imports []item
	types   []typeDecl
	members []member
	uses    []use
	selects []selected
	calls   []call
	texts   []javaText
	module  bool                // it declares a module
	vars    map[string][]string // the types of variables and fields, by their names, as they are written
	ends    []int32             // where the parts of chains end
	wide    map[int]annotated   // of annotations that name packages: what stands in their brackets
}

// item is one name that an import brings.
type item struct {
	name   string // in full, without .* behind it
	at     source.Span
	whole  source.Span // from import to ;
	static bool
	star   bool
}

// annotated is what stands in the brackets of an annotation.
type annotated struct {
	labels   []string
	from, to int // the uses there
}

// visibility is who sees a declaration.
type visibility uint8

const (
	public visibility = iota
	protected
	packaged // its package alone
	private
)

func (v visibility) String() string {
	return [...]string{"public", "protected", "package-private", "private"}[v]
}

// typeDecl is a class, an interface, a record, an enum or an annotation.
type typeDecl struct {
	name    string // empty for one without a name
	at      source.Span
	kind    string // class, interface, record, enum, annotation
	owner   int    // the type that it stands in; -1 for none
	local   bool   // it stands in code
	sees    visibility
	supers  []int // its supertypes, as uses
	permits []int
	params  []string      // type parameters
	marks   []string      // annotations, as they are written
	makes   []source.Span // names of constructors
	route   bool          // it, or a method of it, answers an address
	open    int           // the tokens of its braces
	close   int
}

// member is a method, a constructor, a field or a constant of a type.
type member struct {
	name      string // empty for a constructor
	owner     int
	sees      visibility
	static    bool
	method    bool
	most      bool   // the last parameter takes any number
	args      int    // how many parameters
	gives     string // the type that it has or returns, as it is written
	component bool   // it is one of a record
	at        int
}

// use is a name in code that may be that of a type or of a package, or in a comment that documents are made of.
type use struct {
	at     source.Span // of all of the chain: a.b.C
	text   string      // without blanks and comments
	ends   int32       // the first of the ends of its parts, in file.ends
	parts  int32
	owner  int32 // the type in whose body it stands; -1 for none
	sure   bool  // it stands where a type must stand
	hidden bool  // a variable, a type parameter or a local class has the first name
	doc    bool
	mark   bool // it is an annotation
	made   bool // it stands behind new
	args   int8 // of new
}

// selected is a name behind a dot or ::, and what stands before it.
type selected struct {
	name    string
	at      int
	owner   int32
	args    int8   // of a call; -1 for a field, anyArgs behind ::
	on      string // a chain of names, this, super, a call f(); empty for what is none of these
	ofChain bool   // it is a part of a chain of names
	further bool   // something of what it gives is selected
}

// call is a name of a method without anything before it.
type call struct {
	name  string
	at    int
	owner int32
	args  int8
}

// javaText is a string.
type javaText struct {
	at    source.Span // inside the quotes
	from  int         // where they begin
	call  string      // the method or the annotation of which it is an argument; empty for none
	on    string      // what stands before the method
	label string      // of the element of an annotation
	mark  int32       // the use of the annotation; -1 for none
	joins bool        // something is put before or behind it
	folds bool        // it is put behind another text
}
