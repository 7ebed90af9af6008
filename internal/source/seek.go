package source

import (
	"encoding/binary"
	"math/bits"
)

// Words are words of which the last in a text is found in a fraction of the time that the text's tokens take: what stands behind it
// need not be read by those who look for these words alone. Each is known by one of its letters, its anchor, and by four letters in
// a row around that.
type Words struct {
	triples tripleSet
	anchors [256]bool
	at      func(src []byte, i int) int
}

// NewWords makes words from four letters in a row of each, and from all anchors: a letter of the four. Where a word is shorter, holes
// say which bytes may stand in place of a letter: the fewer, the faster. at is asked of anchors, where a word seems to be; it gives the
// end of the word whose anchor is at i, or 0 if none is there that counts.
func NewWords(fours []string, holes map[byte]func(c byte) bool, anchors string, at func(src []byte, i int) int) *Words {
	w := &Words{at: at}
	for _, c := range []byte(anchors) {
		w.anchors[c] = true
	}
	for _, four := range fours {
		w.triples.addAll(four[:3], holes)
		w.triples.addAll(four[1:], holes)
	}
	return w
}

// Last gives the end of the last word; 0 if there is none. It looks at every second place, from the end: one of the two triples of a
// word's four letters is met there.
func (w *Words) Last(src []byte) int {
	const width, stride = 8, 6 // eight bytes have three such places, each with two bytes more
	i := len(src) - width
	if end := w.between(src, max(0, i+stride), len(src)-1); end > 0 {
		return end
	}
	for ; i >= 0; i -= stride {
		v := binary.LittleEndian.Uint64(src[i:])
		if w.triples.has(uint32(v))|w.triples.has(uint32(v>>16))|w.triples.has(uint32(v>>32)) == 0 {
			continue
		}
		if end := w.between(src, max(0, i-1), i+width-1); end > 0 {
			return end
		}
	}
	return w.between(src, 0, min(width, len(src))-1)
}

// between gives the end of the last word whose anchor is in a range, both ends included; 0 for none.
func (w *Words) between(src []byte, from, to int) int {
	for i := to; i >= from; i-- {
		if w.anchors[src[i]] {
			if end := w.at(src, i); end > 0 {
				return end
			}
		}
	}
	return 0
}

// Backwards calls f for each place of one of two bytes in a text, from the last on, until f says that it was the last wanted.
func Backwards(src []byte, a, b byte, f func(i int) bool) {
	const width, ones, low = 8, 0x0101010101010101, 0x7f7f7f7f7f7f7f7f
	i := len(src)
	for allA, allB := uint64(a)*ones, uint64(b)*ones; i >= width; i -= width {
		v := binary.LittleEndian.Uint64(src[i-width:])
		ofA, ofB := v^allA, v^allB
		for zero := ^((ofA&low + low | ofA | low) & (ofB&low + low | ofB | low)); zero != 0; { // the high bit of each byte that is zero in one
			bit := bits.Len64(zero) - 1
			if f(i - width + bit/8) {
				return
			}
			zero &^= 1 << bit
		}
	}
	for i--; i >= 0; i-- {
		if (src[i] == a || src[i] == b) && f(i) {
			return
		}
	}
}

// tripleSet holds the first three bytes of four, by their hash. It may have what was not added.
type tripleSet [1 << 16]uint8

// spread is the factor, of 3,000 that were drawn, by which the fewest triples of 10 MB of real scripts fall on those of words.
const spread = 0xc2c90b << 8

// has is 1 for what is in the set.
func (t *tripleSet) has(v uint32) uint8 { return t[v*spread>>16] }

func (t *tripleSet) add(v uint32) { t[v*spread>>16] = 1 }

// addAll adds a triple with all that its hole may be, if it has one.
func (t *tripleSet) addAll(triple string, holes map[byte]func(c byte) bool) {
	v, at, fits := uint32(0), 0, (func(c byte) bool)(nil)
	for i := range 3 {
		if hole := holes[triple[i]]; hole != nil {
			at, fits = 8*i, hole
		} else {
			v |= uint32(triple[i]) << (8 * i)
		}
	}
	if fits == nil {
		t.add(v)
		return
	}
	for c := range 256 {
		if fits(byte(c)) {
			t.add(v | uint32(c)<<at)
		}
	}
}
