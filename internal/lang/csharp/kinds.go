package csharp

import "crookedshelf/internal/lang"

// The kinds of mention of C#.
var (
	// Using brings a namespace, or a type's members, or gives one of these another name.
	Using = &lang.Kind{Name: "using", Role: lang.Imports | lang.Loads | lang.Whole, Library: library}
	// Name is a name in code that means a type of another file. Of several in a file that lead to one it is the first.
	Name = &lang.Kind{Name: "name", Role: lang.Imports}
	// Again is a name that stood in the file before.
	Again = &lang.Kind{Name: "name", Role: lang.Brought}
	// DocName is a name in a comment that documents are made of.
	DocName = &lang.Kind{Name: "name in a comment", Role: lang.Brought}
	// Extension is a method that is called as if another type had it: no name says where it is.
	Extension = &lang.Kind{Name: "extension method", Role: lang.Brought}
	// Foreign is a name of a library that a type or a namespace of the tree has too: it must not come to mean that one.
	Foreign = &lang.Kind{Name: "name of a library", Role: lang.Brought | lang.Loads}
	// OwnSpace is the namespace that a file says it is of.
	OwnSpace = &lang.Kind{Name: "namespace", Role: lang.OwnName}
	// ClassText is a string that is the name of a type.
	ClassText = &lang.Kind{Name: "class in a text", Role: lang.InCode | lang.Doubtful,
		Looks: "a text that only looks like the name of a class"}
	// SpaceText is a string that is the name of a namespace. Who looks there is asked for each class.
	SpaceText = &lang.Kind{Name: "namespace in a text", Role: lang.InCode | lang.Doubtful | lang.Imports | lang.Whole,
		Looks: "a text that only looks like the name of a namespace"}
	// Head is a string that names begin with, and to which the rest is put when the program runs.
	Head = &lang.Kind{Name: "beginning of names"}
	// ClassWord is the name of a type in a file that is no C#: in settings, in pages, in documents.
	ClassWord = &lang.Kind{Name: "class in settings", Role: lang.Configures}
	// SpaceWord is a namespace in such a file. It may lose some of what is in it.
	SpaceWord = &lang.Kind{Name: "namespace in settings", Role: lang.Configures | lang.Imports | lang.Whole}
	// Resource is the name of a file that is put into an assembly.
	Resource = &lang.Kind{Name: "resource", Role: lang.Based}
	// PageUsing brings a namespace into a page.
	PageUsing = &lang.Kind{Name: "using of a page", Role: lang.Imports | lang.Loads | lang.Whole, Library: library}
	// PageName is a name in a page that means a type.
	PageName = &lang.Kind{Name: "name in a page", Role: lang.Imports}
)

// library is the beginning of a name by which libraries are told apart: two parts of it.
func library(name string) string { return partsOf(name, 2) }

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Using, Name, Again, DocName, Extension, Foreign, OwnSpace, ClassText, SpaceText, Head, ClassWord,
	SpaceWord, Resource, PageUsing, PageName}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Settles: settles, Settle: r.Settle, Owes: r.Owes,
		Asks: r.Asks, Second: r.Second, AnyFile: true, Dotted: r.dotted, Place: r.Place,
		Places: r.Places, Part: r.Part, Packages: r.Packages, Unnamed: true,
	}
}

// settles: all names of a file are written together, since a using that one of them needs may change what another means.
func settles(m *lang.Mention) bool {
	switch m.Kind {
	case ClassText, SpaceText, Head, ClassWord, SpaceWord, Resource:
		return false
	}
	return true
}
