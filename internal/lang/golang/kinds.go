package golang

import "crookedshelf/internal/lang"

// The kinds of mention of Go.
var (
	PackageImport = &lang.Kind{Name: "package import", Role: lang.Imports | lang.Loads | lang.Packed} // an import of a package: a folder's files
	Embed         = &lang.Kind{Name: "embedded files"}                                                // a pattern of files that the compiler embeds
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{PackageImport, Embed}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{Kinds: Kinds, Resolver: r, Warnings: r.warnings}
}
