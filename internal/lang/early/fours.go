package early

import "strings"

// fours are four letters in a row of each of several words, in up to eight groups with a bit each.
type fours struct {
	// letters have, for each byte, the groups into whose letters it fits: for the first letter in the uppermost byte.
	letters [256]uint32
	halves  halves
}

// halves say of each of the four letters, by the lower and by the upper half of a byte, into which groups it fits. That
// may be more than does: what the halves of a group's letters make when they are mixed.
type halves [4]struct{ lower, upper [16]uint8 }

func newFours(groups []string, holes map[byte]func(c byte) bool) *fours {
	out := &fours{}
	for i, group := range groups {
		for four := range strings.SplitSeq(group, ",") {
			for k := range 4 {
				fits := holes[four[k]]
				for c := range 256 {
					if fits == nil && byte(c) == four[k] || fits != nil && fits(byte(c)) {
						out.letters[c] |= 1 << i << (8 * (3 - k))
						out.halves[k].lower[c&15] |= 1 << i
						out.halves[k].upper[c>>4] |= 1 << i
					}
				}
			}
		}
	}
	return out
}

// last gives the last place in a text where four bytes in a row fit into a group; -1 if there is none. It may give one
// where they don't.
func (f *fours) last(src []byte) int {
	if manyFours && len(src) >= leastFours {
		return lastFour(&src[0], len(src), &f.halves)
	}
	fitting := uint32(0) // into which groups the bytes behind fit: the next one, the next two, and so on
	for i := len(src) - 1; i >= 0; i-- {
		if fitting = (fitting<<8 | 0xff) & f.letters[src[i]]; fitting>>24 != 0 {
			return i
		}
	}
	return -1
}
