package convention

import (
	"slices"
	"strings"

	"github.com/goccy/go-yaml/ast"
)

// Apart says that the instances of a shelf may not use one another, save those that are named.
type Apart struct {
	But  []string
	Line int
}

// Order says in which order the instances of a shelf stand: a later one may use an earlier one, and not the other way
// round. Those that are not named stand behind all others.
type Order struct {
	Names []string
	Line  int
}

// Allows says whether an instance may use another. Of two that are not named nothing is said.
func (o *Order) Allows(from, to string) bool {
	place := func(name string) int {
		if i := slices.Index(o.Names, name); i >= 0 {
			return i
		}
		return len(o.Names)
	}
	return place(to) <= place(from)
}

// Uses are the shelves that a shelf may use, and single instances of shelves, as modules.core; a nil *Uses allows all.
type Uses struct {
	Shelves []string
	Line    int
}

// Libraries are the packages that a shelf may use. A * in a name stands for any text.
type Libraries struct {
	Only, Never []string
	HasOnly     bool
	Line        int
}

// Allows says whether a package may be used.
func (l *Libraries) Allows(name string) bool {
	if l == nil {
		return true
	}
	return !NamesPackage(l.Never, name) && (!l.HasOnly || NamesPackage(l.Only, name))
}

// NamesPackage says whether one of the names, in which * stands for any text, is that of a package.
func NamesPackage(names []string, name string) bool {
	for _, n := range names {
		head, tail, starred := strings.Cut(n, "*")
		if n == name || starred && len(name) >= len(head)+len(tail) && strings.HasPrefix(name, head) &&
			strings.HasSuffix(name, tail) {
			return true
		}
	}
	return false
}

// readUse reads what a shelf may use. The names of shelves are judged when all are read.
func (r *reader) readUse(shelf *Shelf, fields map[string]ast.Node) {
	if v, ok := fields["uses"]; ok {
		shelf.Uses = &Uses{Line: position(v).Line}
		for _, n := range r.list(v) {
			shelf.Uses.Shelves = append(shelf.Uses.Shelves, r.text(n))
			r.named = append(r.named, n)
		}
	}
	if v, ok := fields["apart"]; ok {
		r.readApart(shelf, v)
	}
	if v, ok := fields["order"]; ok {
		r.readOrder(shelf, v)
	}
	if v, ok := fields["libraries"]; ok {
		below := r.fields(v, "libraries", libraryKeys)
		l := &Libraries{Line: position(v).Line}
		for _, n := range r.list(below["never"]) {
			l.Never = append(l.Never, r.text(n))
		}
		_, l.HasOnly = below["only"]
		for _, n := range r.list(below["only"]) {
			l.Only = append(l.Only, r.text(n))
		}
		shelf.Libraries = l
	}
}

func (r *reader) readOrder(shelf *Shelf, n ast.Node) {
	order := &Order{Line: position(n).Line}
	for _, v := range r.list(n) {
		name := r.text(v)
		if slices.Contains(order.Names, name) {
			r.fail(position(v), "name each instance once", "%s stands here twice: it would come before itself", name)
		}
		order.Names = append(order.Names, name)
	}
	if shelf.At != nil && len(shelf.At.Names()) == 0 {
		r.fail(position(n), "give its place a placeholder: libs/<lib>/", "%s has one instance alone: there is no order",
			shelf.Name)
	}
	shelf.Order = order
}

func (r *reader) readApart(shelf *Shelf, n ast.Node) {
	apart := &Apart{Line: position(n).Line}
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		for _, v := range r.list(r.fields(n, "apart", apartKeys)["but"]) {
			apart.But = append(apart.But, r.text(v))
		}
	default:
		switch text := r.text(n); text {
		case "true":
		case "false":
			return
		default:
			r.fail(position(n), "write apart: true, or apart: { but: [shared] }",
				"%q does not say whether the instances are apart", text)
		}
	}
	if shelf.At != nil && len(shelf.At.Names()) == 0 {
		r.fail(position(n), "give its place a placeholder: src/screens/<screen>/",
			"%s has one instance alone: there is nothing to keep apart", shelf.Name)
	}
	shelf.Apart = apart
}
