package syntax

import (
	"strings"

	"crookedshelf/internal/lang"
)

const imports = lang.Imports | lang.Loads

// The kinds of mention that name modules, and folders by way of them.
var (
	ModuleImport = &lang.Kind{Name: "module import", Role: imports | lang.Binds, Library: library} // import a.b
	// the module of from a.b import c
	FromModule = &lang.Kind{Name: "from", Role: imports | lang.Whole, Library: library}
	// FromName is a name of from a.b import c: a module, or what one holds.
	FromName   = &lang.Kind{Name: "from name", Role: imports | lang.Brings | lang.Binds | lang.Part}
	ModuleCall = &lang.Kind{Name: "module call", Role: imports, Library: library} // a module that is imported by a call
	// a.b of a.b.f(), where an import brings a
	ModuleUse = &lang.Kind{Name: "module use"}
	// ModuleText is a string that names a module, or something in one: 'a.b.C'.
	ModuleText = &lang.Kind{Name: "module text", Role: lang.InCode,
		Looks: "a string that only looks like the name of a module, in what was recorded once"}
	ModuleSetting = &lang.Kind{Name: "module setting", Role: lang.Configures} // the same in settings
	// a.b of a.b:c in settings: what is run
	Program = &lang.Kind{Name: "module setting", Role: lang.Configures | lang.Runs}
	// a folder that code counts up to from its own file: Path(__file__).parent
	AnchorFolder = &lang.Kind{Name: "own folder", Role: lang.Whole}
	AnchorPath   = &lang.Kind{Name: "own path", Role: lang.Composed} // a path from such a folder
	// a path or a pattern of paths from the folder of a package, which From names
	PackagePath = &lang.Kind{Name: "package path", Role: lang.Based}
)

// library is the package that a module is of: a of a.b.
func library(module string) string {
	name, _, _ := strings.Cut(module, ".")
	return name
}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{ModuleImport, FromModule, FromName, ModuleCall, ModuleUse, ModuleText, ModuleSetting, Program,
	AnchorFolder, AnchorPath, PackagePath}

// Detail is what few mentions have.
type Detail struct {
	// From is the module from which a name is imported, as it is written; of a use, the module that its first name
	// stands for.
	From string
	// Up is how many folders a path's base lies above the file's own.
	Up int
	// Base is how many of them the name counts that it begins with.
	Base int
}

// DetailOf is what a mention of these kinds knows beside its text.
func DetailOf(m *lang.Mention) Detail { return lang.Own[Detail](m) }
