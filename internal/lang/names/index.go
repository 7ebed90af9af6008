// Package names knows who declares a name, and how names are written that follow from paths. It knows no language: what
// a space of names is (a package, a namespace, a module), which names a file declares, and who sees them, its languages
// say.
//
// index.go has the index of declared names, qualified.go names beside paths.
package names

import (
	"slices"

	"crookedshelf/internal/project"
)

// Index is what the files of a tree declare, by their spaces. The zero value is empty. It may be asked by many at a
// time when it is made.
type Index[S comparable] struct{ spaces map[S]*Space }

// Space is a set of names in which each is known without a qualifier.
type Space struct {
	Files []project.FileID // in the order in which they were added
	names map[string][]project.FileID
}

// Add adds a file to a space, with the names that it declares. Files are added in their order.
func (x *Index[S]) Add(space S, id project.FileID, names []string) {
	if x.spaces == nil {
		x.spaces = map[S]*Space{}
	}
	s := x.spaces[space]
	if s == nil {
		s = &Space{names: map[string][]project.FileID{}}
		x.spaces[space] = s
	}
	s.Files = append(s.Files, id)
	for _, name := range names {
		if ids := s.names[name]; len(ids) == 0 || ids[len(ids)-1] != id {
			s.names[name] = append(ids, id)
		}
	}
}

// Space gives a space; nil for one of which no file is.
func (x *Index[S]) Space(space S) *Space { return x.spaces[space] }

// Spaces are all spaces of which files are, in an order.
func (x *Index[S]) Spaces(compare func(a, b S) int) []S {
	out := make([]S, 0, len(x.spaces))
	for space := range x.spaces {
		out = append(out, space)
	}
	slices.SortFunc(out, compare)
	return out
}

// Declare gives the files that declare a name: several, where a language lets them, as for several systems. A nil space
// has none.
func (s *Space) Declare(name string) []project.FileID {
	if s == nil {
		return nil
	}
	return s.names[name]
}

// Names are the declared names, in their order.
func (s *Space) Names() []string {
	out := make([]string, 0, len(s.names))
	for name := range s.names {
		out = append(out, name)
	}
	slices.Sort(out)
	return out
}
