package ruby

import "crookedshelf/internal/source"

// file is what a text says of names and of other files.
type file struct {
	spaces   []space // the first is the file itself
	values   []value // constants that get a value, in the order of the text
	uses     []use   // constants in code, in the order of the text
	texts    []rbText
	calls    []call
	paths    []pathExpr
	first    int    // where the first statement begins, in bytes
	end      int    // where __END__ stands; else the end of the text
	isolates string // the module whose routes an engine keeps to itself (isolate_namespace)
	draws    string // whose routes it has: A::Engine
	tests    bool   // it says what it tests
	heads    []head
	loaders  []int // where it says below which folders constants are found by their paths
	gem      bool  // it has the loader of a library (for_gem)
	// autoLib: constants are found below lib by their paths (autoload_lib), but in the folders autoLibBut
	autoLib    bool
	autoLibBut []string
	lines      []source.Span // texts of several lines, whose blanks belong to them
}

// space is the body of a module or a class; the first of a file is the file itself.
type space struct {
	name  string // as it is written: A, A::B, ::A; empty where it begins with something else
	at    source.Span
	owner int
	class bool
	super int   // the use that it is built on; -1 for none
	other bool  // it is built on something that is no constant
	mixes []int // the uses that it includes and prepends
	from  int   // where module or class stands, in bytes
	head  int   // where its head ends: behind the name, or behind what it is built on
	tail  int   // where the end of it begins
	more  bool  // something else than modules and classes stands in it
	late  bool  // it stands in a method
}

// value is a constant that gets a value.
type value struct {
	name  string // as it is written
	at    source.Span
	space int
	made  int // the first use of the value, where it stands right behind =; -1 for none
	late  bool
}

// use is a constant in code.
type use struct {
	at    source.Span
	text  string // A::B, ::A
	space int32
	late  bool  // it counts when a method runs
	opens int32 // the module whose name begins with it, where its body begins here; 0 for none
	asked bool  // it is only asked whether it is there
}

// rbText is a string.
type rbText struct {
	at     source.Span // inside the quotes
	call   string      // the method of which it is an argument
	key    string      // of the argument: class_name
	method string      // the method in which it stands; empty for none
	under  string      // of routes: the modules that the controllers stand in
	number int32       // of the argument, from 0
	space  int32
	quote  byte // 0 for a symbol
	late   bool
	whole  bool // nothing is put before or behind it
}

// call is a statement that loads a file by a text: require and the like.
type call struct {
	method string
	name   string      // of autoload: the constant
	at     source.Span // of the path, inside the quotes; of autoload without one, of the name
	quote  byte
	named  int    // of autoload: where the name begins
	bare   bool   // it is the name of a constant alone
	under  string // a folder in which it is looked for, or the path itself
	whole  bool   // under is the path
	space  int32
	late   bool
}

// head is a text that names of constants begin with, without the :: behind it.
type head struct {
	at    source.Span
	space int32
}
