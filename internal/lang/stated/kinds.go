package stated

import "crookedshelf/internal/lang"

// The kinds of mention that the convention states to be some.
var (
	Stated    = &lang.Kind{Name: "stated"}    // a text
	Component = &lang.Kind{Name: "component"} // an element's name
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Stated, Component}

// By makes the detail of a mention that an entry states.
func By(rule int) *lang.Detail { return &lang.Detail{Own: lang.Entry(rule)} }

func rule(m *lang.Mention) int { return lang.EntryOf(m) }

// Rules are what the resolver answers.
func Rules(t *lang.Tree) lang.Rules {
	r := New(t.Project, t.Declared)
	r.families = t.FamilyOf
	return lang.Rules{Kinds: Kinds, Resolver: r, Asks: r.asks, Second: r.second, AnyFile: true}
}
