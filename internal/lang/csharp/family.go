// Package csharp is C#: which namespaces and types a file declares and uses, and how namespaces follow from folders.
//
// lex.go cuts a text into tokens, branches.go picks the branches of #if. parse.go, body.go, types.go, code.go and
// docs.go read what a text says of names; file.go has what they find, merge.go puts branches together.
package csharp

import (
	"maps"
	"sync"

	"crookedshelf/internal/text"
)

// scratch is what reading a file needs and does not keep. The names are kept from file to file: most stand in many.
type scratch struct {
	tokens []token
	docs   []comment
	same   *text.Same
	known  known
	// what the last file had, which the next one is written over
	uses    []use
	ends    []int32
	selects []selected
}

var pool = sync.Pool{New: func() any {
	return &scratch{same: &text.Same{}, known: known{vars: map[string]int32{}, types: map[string]int32{}}}
}}

// read reads what a text says of names, in all branches.
func read(content []byte) (*file, error) {
	sets, unread := choices(content)
	f, err := readWith(content, sets[0])
	for _, symbols := range sets[1:] {
		other, otherErr := readWith(content, symbols)
		switch {
		case otherErr != nil && err == nil:
			unread = append(unread, -1)
		case otherErr == nil && err != nil:
			f, err = other, nil
		case otherErr == nil:
			f.merge(other)
		}
	}
	if f != nil {
		f.unread = unread
	}
	return f, err
}

// readWith reads the branches that a set of symbols brings in.
func readWith(content []byte, symbols map[string]bool) (*file, error) {
	s := pool.Get().(*scratch)
	defer pool.Put(s)
	s.tokens, s.docs = lex(content, s.tokens[:0], s.docs[:0], &branches{symbols: maps.Clone(symbols)})
	clear(s.known.vars)
	clear(s.known.types)
	s.known.undo = s.known.undo[:0]
	return parse(content, s)
}
