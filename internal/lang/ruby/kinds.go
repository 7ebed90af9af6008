package ruby

import (
	"strings"

	"crookedshelf/internal/lang"
)

// The kinds of mention of Ruby.
var (
	// Require is a file that is looked for in the folders of libraries.
	Require = &lang.Kind{Name: "require", Role: lang.Imports | lang.Loads, Library: library}
	// RequireRelative is one that is named from the file's own folder.
	RequireRelative = &lang.Kind{Name: "require_relative", Role: lang.Imports}
	// Autoload is a file that is loaded when a constant is first asked for: by its path, or by the name of the constant.
	Autoload = &lang.Kind{Name: "autoload", Role: lang.Imports | lang.Loads, Library: library}
	// Name is a constant that another file declares. Of several in a file it is the first.
	Name = &lang.Kind{Name: "constant", Role: lang.Imports}
	// Again is one that stood in the file before.
	Again = &lang.Kind{Name: "constant", Role: lang.Brought}
	// Opened is a module or a class that another file defines, and this one adds to.
	Opened = &lang.Kind{Name: "opened constant", Role: lang.Brought}
	// OwnName is the name of the constant by which a file is found.
	OwnName = &lang.Kind{Name: "own constant", Role: lang.OwnName}
	// Foreign is a constant of a library that the tree has too: it must not come to mean that one.
	Foreign = &lang.Kind{Name: "constant of a library", Role: lang.Brought | lang.Loads}
	// ClassText is a string that is the name of a constant.
	ClassText = &lang.Kind{Name: "constant in a text", Role: lang.InCode | lang.Doubtful,
		Looks: "a text that only looks like the name of a constant"}
	// Head is a text that names of constants begin with, and to which the rest is put when the program runs.
	Head = &lang.Kind{Name: "beginning of names", Role: lang.Packed}
	// ClassWord is the name of a constant in a file that is no Ruby: in settings, in documents.
	ClassWord = &lang.Kind{Name: "constant in settings", Role: lang.Configures}
	// FilePath is a path that code puts together from a folder that is known.
	FilePath = &lang.Kind{Name: "file path", Role: lang.Composed | lang.Based}
	// LoadPath is the path of a file that is loaded where it stands.
	LoadPath = &lang.Kind{Name: "loaded path", Role: lang.Imports | lang.Composed | lang.Based}
	// Route is the path of a controller: in routes, and where addresses are made.
	Route = &lang.Kind{Name: "route", Role: lang.Imports}
	// Helper is the name of a module of helpers, without its ending: helper :nights.
	Helper = &lang.Kind{Name: "helper", Role: lang.Imports}
	// View is the name of a template.
	View = &lang.Kind{Name: "template", Role: lang.Based}
	// LazyText is the key of a text in the files of translations.
	LazyText = &lang.Kind{Name: "key of a text", Role: lang.Based}
	// OpenPath is a path whose end is put together when the program runs.
	OpenPath = &lang.Kind{Name: "file path", Role: lang.Composed | lang.Based | lang.Packed}
)

// library is the library that a required file is of: the first part of its path.
func library(text string) string {
	first, _, _ := strings.Cut(text, "/")
	return first
}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Require, RequireRelative, Autoload, Name, Again, Opened, OwnName, Foreign, ClassText, ClassWord, Head, FilePath,
	LoadPath, OpenPath, Route, Helper, View, LazyText}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Settles: settles, Settle: r.Settle, Owes: r.Owes, Asks: r.Asks, Second: r.Second,
		AnyFile: true, Expects: r.Expects, Links: r.Links, Place: r.Place,
	}
}

// settles: the constants of a file are written together with the modules that stand around them.
func settles(m *lang.Mention) bool {
	switch m.Kind {
	case Name, Again, Opened, OwnName, Foreign:
		return true
	}
	return false
}
