package stated

import "crookedshelf/internal/lang"

// The kinds of mention that the convention states to be some.
var (
	Stated    = &lang.Kind{Name: "stated"}    // a text
	Component = &lang.Kind{Name: "component"} // an element's name
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{Stated, Component}

// Rule is the entry of the convention's mentions by which a text is one, from 1.
type Rule int

// By makes the detail of a mention that an entry states.
func By(rule int) *lang.Detail { return &lang.Detail{Own: Rule(rule)} }

// RuleOf gives the entry of the convention's mentions by which a text is one, from 1; 0 for another mention.
func RuleOf(m *lang.Mention) int {
	if m.Kind != Stated && m.Kind != Component {
		return 0
	}
	return rule(m)
}

func rule(m *lang.Mention) int { return int(lang.Own[Rule](m)) }

// Rules are what the resolver answers.
func Rules(t *lang.Tree) lang.Rules {
	r := New(t.Project, t.Declared)
	r.families = t.FamilyOf
	return lang.Rules{Kinds: Kinds, Resolver: r, Asks: r.asks, Second: r.second, AnyFile: true}
}
