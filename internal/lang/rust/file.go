package rust

import "crookedshelf/internal/source"

// file is what a text says of names: what it declares, brings and uses.
type file struct {
	scopes  []scope // the first is the file itself
	items   []item
	mods    []modLine
	stmts   []useStmt
	uses    []use
	paths   []pathUse
	singles []single
	selects []single // names behind a dot
	members []member
	impls   []implUse
	texts   []textUse
	attrs   []attrText
	speaks  []speech
	decls   map[nameIn][]declRef // what scopes declare, but for modules
	globs   map[int32][]int32    // the uses of all that is somewhere, by scopes
	first   int                  // behind the attributes and comments that speak of the whole file
	calls   []string             // the macros that rules of macros call by a name alone
	rules   []string             // the modules that the rules of macros write lines for
	conds   []string             // the conditions that the file says it is under
}

// declRef is a declaration of a scope.
type declRef struct {
	of declOf
	at int32
}

type declOf uint8

const (
	ofItem declOf = iota
	ofUse
)

// scope is a part of a file in which names are declared: the file, a module in braces, a block of code.
type scope struct {
	parent     int32
	start, end int32  // inside its braces
	name       string // of a module
	module     bool
	sees       visibility
	at         int32 // of the name
	pathed     string
	macroUse   bool
	inMacro    bool
	conds      []string
}

// reach is how far a declaration is seen, as it is written.
type reach uint8

const (
	private  reach = iota
	public         // pub
	inCrate        // pub(crate)
	inSuper        // pub(super)
	inSelf         // pub(self)
	inModule       // pub(in a::b)
)

// visibility is a reach, with the path and the place where it is written.
type visibility struct {
	reach reach
	path  string
	at    source.Span // of all of it; empty where nothing is written
}

// itemKind says what an item is.
type itemKind uint8

const (
	isFn itemKind = iota
	isStruct
	isEnum
	isUnion
	isTrait
	isAlias
	isConst
	isStatic
	isMacro
	isExternCrate
)

// item is a thing that a scope declares, but for modules.
type item struct {
	name     string
	kind     itemKind
	scope    int32
	at       int32 // of the name
	end      int32 // of all of it
	from     int32 // where its visibility stands, or would stand
	sees     visibility
	exported bool     // of a macro: it is one of the root of its crate
	makes    bool     // of a macro: its rules declare macros
	variants []string // of an enum
	supers   []string // of a trait
	marks    []string // its attributes
	impls    []string // of a struct or an enum: the traits that the file implements for it
	original string   // of an extern crate: its own name
	inMacro  bool
}

// modLine is a line that says that a file is a module.
type modLine struct {
	name     string
	scope    int32
	at       source.Span // of the name
	whole    source.Span // with attributes, comments and the semicolon
	from     int         // where visibility or mod stand
	sees     visibility
	macroUse bool
	paths    []pathText // of #[path], and of those under a condition
	always   bool       // one of the paths stands under no condition
	inMacro  bool
	conds    []string // the conditions that it is under: cfg(test)
}

// pathText is a path in an attribute.
type pathText struct {
	at   source.Span
	text string
}

// useStmt is a use declaration.
type useStmt struct {
	whole   source.Span // with attributes and comments
	from    int         // where visibility or use stand
	tree    int         // where the tree begins
	end     int         // behind the semicolon
	sees    visibility
	scope   int32
	first   int32 // of its leaves
	leaves  int32
	inMacro bool
	inDoc   bool
	global  bool // the tree begins with ::
}

// use is one name that a use declaration brings.
type use struct {
	path  []string
	at    source.Span // of the last part
	own   source.Span // of all parts that are its own, and not those of a group
	bound string      // empty for all that is there, and for _
	self  bool        // it is the self of a group
	glob  bool
	stmt  int32
}

// pathUse is a path of two parts or more, up to the first part with arguments.
type pathUse struct {
	at     source.Span
	text   string
	scope  int32
	global bool // it begins with ::
	macro  bool // a macro is called by it
	where  placeKind
}

// placeKind says where a path stands.
type placeKind uint8

const (
	inCode placeKind = iota
	inMacro
	inRule // of macro_rules
	inAttr
	inDocLink
	inDocCode
)

// single is a name, where a scope has it first.
type single struct {
	name  string
	at    int32
	scope int32
	macro bool
	where placeKind
}

// member is a private field or function of a type.
type member struct {
	name    string
	scope   int32
	sees    visibility
	at      int32
	from    int32 // where its visibility stands, or would stand
	owner   string
	field   bool
	part    bool // it has no name: of a tuple, by its number, or the making of one, as owner(
	inMacro bool
	rule    bool // the rules of a macro make it
}

// implUse is an implementation, by the paths that stand in its head.
type implUse struct {
	at    int32
	end   int32
	scope int32
	trait string   // empty for what a type has by itself
	types []string // the type, and then the arguments of the trait: those that are named by a path
}

// textUse is a string of a macro that names a file.
type textUse struct {
	at       source.Span
	text     string
	from, to int // with its quotes
	inMacro  bool
	form     string // include, include_str, include_bytes, manifest for what follows CARGO_MANIFEST_DIR
}

// attrText is a string in an attribute.
type attrText struct {
	at        source.Span
	text      string
	attr, key string
	scope     int32
	from, to  int // with its quotes
	inMacro   bool
}

// speech is a place where code asks for its own name.
type speech struct {
	at   int32
	what string
}
