package java

import "crookedshelf/internal/lang"

// The kinds of mention of Java.
var (
	// Import is an import of a type, or of a member of one.
	Import = &lang.Kind{Name: "import", Role: lang.Imports | lang.Loads, Library: library}
	// StarImport is an import of all of a package, or of a type.
	StarImport = &lang.Kind{Name: "import of a package", Role: lang.Imports | lang.Loads | lang.Whole, Library: library}
	// Name is a name in code that no import of its own brings: a neighbour's, or one in full. Of several in a file it is
	// the first.
	Name = &lang.Kind{Name: "name", Role: lang.Imports}
	// Again is a name that an import brings, or that stood in the file before.
	Again = &lang.Kind{Name: "name", Role: lang.Brought}
	// DocName is a name in a comment that documents are made of.
	DocName = &lang.Kind{Name: "name in a comment", Role: lang.Brought}
	// Foreign is a name of a library that a type of the tree has too: it must not come to mean that one.
	Foreign = &lang.Kind{Name: "name of a library", Role: lang.Brought | lang.Loads}
	// OwnPackage is the package that a file says it is of, OwnClass the name of the type that is called as the file.
	OwnPackage = &lang.Kind{Name: "package", Role: lang.OwnName}
	OwnClass   = &lang.Kind{Name: "class name", Role: lang.OwnName}
	// ClassText is a string that is the name of a type.
	ClassText = &lang.Kind{Name: "class in a text", Role: lang.InCode | lang.Doubtful,
		Looks: "a text that only looks like the name of a class"}
	// SpaceText is a string that is the name of a package. Who looks there is asked for each class.
	SpaceText = &lang.Kind{Name: "package in a text", Role: lang.InCode | lang.Doubtful | lang.Imports | lang.Whole,
		Looks: "a text that only looks like the name of a package"}
	// Head is a string that names begin with, and to which the rest is put when the program runs, or a package in a
	// pattern over names.
	Head = &lang.Kind{Name: "beginning of names"}
	// ClassWord is the name of a type in a file that is no Java: in settings, in templates, in documents.
	ClassWord = &lang.Kind{Name: "class in settings", Role: lang.Configures}
	// SpaceWord is a package in such a file. It may lose some of what is in it.
	SpaceWord = &lang.Kind{Name: "package in settings", Role: lang.Configures | lang.Imports | lang.Whole}
	// Module is the folder of a module of a build.
	Module = &lang.Kind{Name: "module", Role: lang.Configures}
	// ClassPath is the path of a class or a package below any root of sources.
	ClassPath = &lang.Kind{Name: "path of classes", Role: lang.Configures}
	// Resource is a file that is found beside classes, or from where they are found.
	Resource = &lang.Kind{Name: "resource", Role: lang.Based}
)

// library is the beginning of a name by which libraries are told apart: two parts of it.
func library(name string) string { return partsOf(name, 2) }

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Import, StarImport, Name, Again, DocName, Foreign, OwnPackage, OwnClass, ClassText, SpaceText,
	Head, ClassWord, SpaceWord, Module, ClassPath, Resource}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Settles: settles, Settle: r.Settle, Owes: r.Owes, Asks: r.Asks, Second: r.Second,
		AnyFile: true, Dotted: r.dotted, Part: r.Part, Packages: r.Packages, Unnamed: true,
	}
}

// settles: all names of a file are written together, since an import that one of them needs may take the name of
// another.
func settles(m *lang.Mention) bool {
	switch m.Kind {
	case ClassText, SpaceText, Head, ClassWord, SpaceWord, Module, ClassPath, Resource:
		return false
	}
	return true
}
