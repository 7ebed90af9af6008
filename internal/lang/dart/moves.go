package dart

import (
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// Owes says what the language forbids of moves, and what a reader should know.
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) (out []lang.Duty) {
	old, ok := before.Resolver.(*Resolver)
	if !ok || !old.any {
		return nil
	}
	for _, m := range moves {
		if !isDart(m.From) {
			continue
		}
		was, is := old.inLib(m.From), r.inLib(m.To)
		switch from, to := old.packOf(m.From), r.packOf(m.To); {
		case from != nil && to == nil:
			out = append(out, lang.Duty{Path: m.From, Lost: []string{m.From}, Why: "no package holds the new place"})
		case from != nil && to != nil && from.name != to.name && m.Packaged:
		case from != nil && to != nil && from.name != to.name:
			out = append(out, lang.Duty{Path: m.From, Lost: []string{m.From}, Why: fmt.Sprintf(
				"it would be of the package %s, and no more of %s", to.name, from.name)})
		case was != "" && is == "":
			out = append(out, lang.Duty{Path: m.From, Lost: []string{m.From},
				Why: "others know it by an address of its package, which only files in lib have"})
		}
	}
	if !slices.ContainsFunc(moves, func(m lang.Moved) bool { return isDart(m.From) }) {
		return out
	}
	for id := range old.tree.Files {
		if p := old.tree.Files[id].Path; isDart(p) {
			out = append(out, old.holes(p)...)
		}
	}
	return out
}

// holes says where an address of a package of the tree is put together when the program runs.
func (r *Resolver) holes(p string) (out []lang.Duty) {
	id, there := r.tree.Lookup(p)
	if !there {
		return nil
	}
	r.tree.Peek(id, func(content []byte, err error) {
		if err != nil || !strings.Contains(string(content), "package:") {
			return
		}
		tokens, err := lex(content, nil)
		if err != nil {
			return
		}
		s := &scanner{src: content, tok: tokens}
		for i := range tokens {
			if tokens[i].kind != tString || !tokens[i].holes {
				continue
			}
			if value, at := s.value(i); strings.HasPrefix(value, "package:") {
				out = append(out, lang.Duty{Path: p, At: at.Start, Why: "an address is put together here when the program runs"})
			}
		}
	})
	return out
}
