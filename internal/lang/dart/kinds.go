package dart

import (
	"strings"

	"crookedshelf/internal/lang"
)

// The kinds of mention of Dart.
var (
	// Import is the address of an import, and Export that of an export; each of those under a condition too.
	Import = &lang.Kind{Name: "import", Role: lang.Imports | lang.Loads | lang.Brings, Library: library}
	Export = &lang.Kind{Name: "export", Role: lang.Imports | lang.Loads | lang.Brings | lang.ReExports, Library: library}
	// Part is a file that is a part of the library, PartOf the library that a file is a part of.
	Part   = &lang.Kind{Name: "part", Role: lang.Imports | lang.Loads, Library: library}
	PartOf = &lang.Kind{Name: "part of", Role: lang.Loads, Library: library}
	// Address is a string in code that is the address of a library or of a file of a package.
	Address = &lang.Kind{Name: "address in code", Role: lang.Imports | lang.Loads, Library: library}
)

// library is the package that an address names: package:a/b.dart is of a, dart:io of the language.
func library(address string) string {
	rest, is := strings.CutPrefix(address, "package:")
	if !is {
		return address
	}
	name, _, _ := strings.Cut(rest, "/")
	return name
}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Import, Export, Part, PartOf, Address}
