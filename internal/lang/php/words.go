package php

import "strings"

// wordSet is a set of words that compare without case, by their length.
type wordSet struct {
	byLength [20][]string
}

// words makes the set of the words of a text, which are in lower case.
func words(text string) *wordSet {
	s := &wordSet{}
	for w := range strings.FieldsSeq(text) {
		s.byLength[len(w)] = append(s.byLength[len(w)], w)
	}
	return s
}

// has says whether a word is in the set.
func (s *wordSet) has(word []byte) bool {
	if len(word) >= len(s.byLength) {
		return false
	}
	for _, w := range s.byLength[len(word)] {
		if sameWord(word, w) {
			return true
		}
	}
	return false
}

// sameWord compares a word with one in lower case.
func sameWord(word []byte, lower string) bool {
	if len(word) != len(lower) {
		return false
	}
	for i := range lower {
		c := word[i]
		if c >= 'A' && c <= 'Z' {
			c |= 0x20
		}
		if c != lower[i] {
			return false
		}
	}
	return true
}
