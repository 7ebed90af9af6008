package rust

import "crookedshelf/internal/lang"

// The kinds of mention of Rust.
var (
	// Mod is the line that says that a file is a module.
	Mod = &lang.Kind{Name: "module", Role: lang.Brought}
	// Use is a name that a use declaration brings, PubUse one that is given on.
	Use    = &lang.Kind{Name: "use", Role: lang.Imports | lang.Loads | lang.Binds, Library: library}
	PubUse = &lang.Kind{Name: "use", Role: lang.Imports | lang.Loads | lang.Binds | lang.ReExports, Library: library}
	// Path is a path in code that leads through modules.
	Path = &lang.Kind{Name: "path", Role: lang.Imports}
	// Name is a name in code that a use of all of a module brings, or a macro that is known by its place in the text.
	Name = &lang.Kind{Name: "name", Role: lang.Brought}
	// DocPath is a path in a comment that documents are made of, or in the code of an example there.
	DocPath = &lang.Kind{Name: "path in a comment", Role: lang.Brought | lang.Remarks}
	// TextPath is a path in the string of an attribute.
	TextPath = &lang.Kind{Name: "path in an attribute", Role: lang.Imports}
	// Foreign is the name of a library that a module has too: it must not come to mean that one.
	Foreign = &lang.Kind{Name: "name of a library", Role: lang.Brought | lang.Loads}
	// Given is a name in code, or a path, that leads to a library by what a module of the project brings.
	Given = &lang.Kind{Name: "what a module gives of a library", Role: lang.Brought | lang.Loads}
	// Included is a file that a macro reads.
	Included = &lang.Kind{Name: "included file", Role: lang.Based}
	// FilePath is the file that an attribute names for a module.
	FilePath = &lang.Kind{Name: "path of a module", Role: lang.Based | lang.Decides}
	// Word is the path of a module in a file that is no Rust: in documents, settings and scripts.
	Word = &lang.Kind{Name: "module in a text", Role: lang.Configures}
)

// library is the name of the crate that a path begins with; empty where it begins with a module.
func library(path string) string {
	switch first := splitPath(path)[0]; first {
	case "crate", "self", "super":
		return ""
	default:
		return first
	}
}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Mod, Use, PubUse, Path, Name, DocPath, TextPath, Foreign, Given, Included, FilePath, Word}

// settles: all paths of a file are written together, and the lines that say which files are modules are owed.
func settles(m *lang.Mention) bool {
	switch m.Kind {
	case Included, FilePath, Word:
		return false
	}
	return true
}
