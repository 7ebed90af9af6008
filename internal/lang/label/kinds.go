package label

import "crookedshelf/internal/lang"

// Label is the name that a file gives itself: the end of its own path.
var Label = &lang.Kind{Name: "label", Role: lang.OwnName}

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Label}

// Rules are what the resolver answers.
// Rules are what answers for a tree.
func Rules(t *lang.Tree) lang.Rules { return lang.Rules{Kinds: Kinds, Resolver: New(t.Project)} }
