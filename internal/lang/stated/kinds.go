package stated

import "crookedshelf/internal/lang"

// The kinds of mention that the convention states to be some.
var (
	Stated    = &lang.Kind{Name: "stated"}    // a text
	Component = &lang.Kind{Name: "component"} // an element's name
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Stated, Component}
