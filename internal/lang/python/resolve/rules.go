package resolve

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
)

// Rules are what the resolver answers.
func Rules(t *lang.Tree) lang.Rules {
	r := New(t)
	return lang.Rules{
		Kinds: syntax.Kinds, Resolver: r, Warnings: r.warnings(), Settles: r.Settles, Settle: r.Settle, Owes: r.Owes,
		Place: r.Place, Places: r.Places, Dotted: r.Dotted, Loads: r.Loads, Asks: r.Asks, Second: r.Second,
		Tried: r.Tried, Bindings: syntax.Bindings,
	}
}
