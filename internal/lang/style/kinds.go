package style

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
)

// The kinds of mention that name style sheets.
var (
	// @import 'x' of CSS, composes: a from 'x'
	StyleImport = &lang.Kind{Name: "style import", Role: lang.Loads, Library: paths.Library}
	// @use, @forward, @import of Sass
	SassImport = &lang.Kind{Name: "sass import", Role: lang.Loads, Library: paths.Library}
	LessImport = &lang.Kind{Name: "less import", Role: lang.Loads, Library: paths.Library} // @import of Less
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{StyleImport, SassImport, LessImport}

// Rules are what the resolver answers.
func Rules(t *lang.Tree) lang.Rules { return lang.Rules{Kinds: Kinds, Resolver: New(t)} }
