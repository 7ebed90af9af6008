package convention

import (
	"slices"
	"strings"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"crookedshelf/internal/source"
)

// maxAncestors bounds how many conventions may start from one another.
const maxAncestors = 8

// inherited are the keys whose entries are taken over one by one; of all others the convention's own value counts
// alone.
var inherited = []string{"vars", "where", "leave", "roots", "aliases", "pools", "levels", "shelves"}

// inherit gives the top of a convention with what it does not say itself taken from the one that it starts from. All
// that is taken over stands, as far as messages and reports go, where starts_from stands.
func (r *reader) inherit(root ast.Node, depth int) ast.Node {
	own := pairsOf(root)
	at := slices.IndexFunc(own, func(p *ast.MappingValueNode) bool { return keyText(p) == "starts_from" })
	if at < 0 {
		return root
	}
	where := own[at].Value
	base := r.ancestor(where, depth)
	own = slices.Delete(slices.Clone(own), at, at+1)
	if base == nil {
		return ast.Mapping(root.GetToken(), false, own...)
	}
	merged := own
	for _, theirs := range pairsOf(base) {
		i := slices.IndexFunc(merged, func(p *ast.MappingValueNode) bool { return keyText(p) == keyText(theirs) })
		switch {
		case i < 0:
			merged = append(merged, theirs)
		case slices.Contains(inherited, keyText(theirs)) && isMapping(merged[i].Value) && isMapping(theirs.Value):
			both := *merged[i]
			both.Value = together(merged[i].Value, theirs.Value)
			merged[i] = &both
		}
	}
	return ast.Mapping(root.GetToken(), false, merged...)
}

// together puts the entries of two mappings into one: those of the same name count as the first has them, in the place
// that they have in the second; null takes an entry out. New ones come first.
func together(own, theirs ast.Node) ast.Node {
	replaced := map[string]*ast.MappingValueNode{}
	known := map[string]bool{}
	for _, p := range pairsOf(theirs) {
		known[keyText(p)] = true
	}
	var out []*ast.MappingValueNode
	for _, p := range pairsOf(own) {
		if known[keyText(p)] {
			replaced[keyText(p)] = p
		} else if !isNull(p.Value) {
			out = append(out, p)
		}
	}
	for _, p := range pairsOf(theirs) {
		if mine, ok := replaced[keyText(p)]; ok {
			p = mine
		}
		if !isNull(p.Value) {
			out = append(out, p)
		}
	}
	return ast.Mapping(own.GetToken(), false, out...)
}

// ancestor reads the convention that another starts from; nil where that is a problem.
func (r *reader) ancestor(n ast.Node, depth int) ast.Node {
	name := r.text(n)
	if depth >= maxAncestors {
		r.fail(position(n), "", "more than %d conventions start from one another", maxAncestors)
		return nil
	}
	var text []byte
	if strings.ContainsAny(name, "/.") {
		if r.load == nil {
			r.fail(position(n), "name a starter", "a convention can't start from another file here")
			return nil
		}
		var err error
		if text, err = r.load(r.base + name); err != nil {
			r.fail(position(n), "write its path from the project's root", "%s can't be read: %s", name, err)
			return nil
		}
	} else {
		starter, err := FindStarter(name)
		if err != nil {
			r.fail(position(n), "", "%s", err)
			return nil
		}
		text = starter.Text
	}
	if _, err := (&reader{base: r.base, path: name, src: text, load: r.load, depth: depth + 1}).parsed(); err != nil {
		r.fail(position(n), "", "%s is wrong itself:\n%s", name, err)
		return nil
	}
	file, err := parser.ParseBytes(text, 0)
	if err != nil {
		r.fail(position(n), "", "%s is wrong itself: %s", name, err)
		return nil
	}
	older := &reader{base: r.base, path: name, src: text, load: r.load, depth: depth + 1}
	root := older.inherit(file.Docs[0].Body, depth+1)
	r.started = append(append(r.started, text...), older.started...)
	ast.Walk(movedTo{position(n)}, root)
	return root
}

// movedTo gives every node that it visits one place.
type movedTo struct{ at source.Position }

func (m movedTo) Visit(n ast.Node) ast.Visitor {
	if t := n.GetToken(); t != nil && t.Position != nil {
		t.Position.Line, t.Position.Column = m.at.Line, m.at.Column
	}
	return m
}

func pairsOf(n ast.Node) []*ast.MappingValueNode {
	switch m := n.(type) {
	case *ast.MappingNode:
		return m.Values
	case *ast.MappingValueNode:
		return []*ast.MappingValueNode{m}
	}
	return nil
}

func isMapping(n ast.Node) bool { return pairsOf(n) != nil }

func isNull(n ast.Node) bool { _, is := n.(*ast.NullNode); return is }

func keyText(p *ast.MappingValueNode) string { return p.Key.String() }
