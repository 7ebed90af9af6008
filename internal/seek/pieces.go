// Package seek finds, among many texts, those with which another one begins or ends.
package seek

import "slices"

// Pieces finds, among many texts, those with which another one begins or ends. Each has a number of its owner's.
type Pieces struct {
	lengths []int // in bytes, each once, the shortest first
	by      map[string][]int
}

// Add takes a text in.
func (p *Pieces) Add(text string, number int) {
	if p.by == nil {
		p.by = map[string][]int{}
	}
	if at, known := slices.BinarySearch(p.lengths, len(text)); !known {
		p.lengths = slices.Insert(p.lengths, at, len(text))
	}
	p.by[text] = append(p.by[text], number)
}

// Beginning adds the numbers of the texts with which a text begins, the shortest first.
func (p *Pieces) Beginning(text string, out []int) []int {
	for _, n := range p.lengths {
		if n > len(text) {
			break
		}
		out = append(out, p.by[text[:n]]...)
	}
	return out
}

// Ending adds the numbers of the texts with which a text ends, the shortest first.
func (p *Pieces) Ending(text string, out []int) []int {
	for _, n := range p.lengths {
		if n > len(text) {
			break
		}
		out = append(out, p.by[text[len(text)-n:]]...)
	}
	return out
}
