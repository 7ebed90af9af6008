package early

import (
	"encoding/binary"
	"math/bits"
)

// Backwards calls f for each place of one of two bytes in a text, from the last on, until f says that it was the last
// wanted.
func Backwards(src []byte, a, b byte, f func(i int) bool) {
	i := len(src)
	for manyBytes && i >= 32 {
		at, mask := lastBlock(&src[0], i, a, b)
		if at < 0 {
			i %= 32
			break
		}
		for ; mask != 0; mask &^= 1 << (bits.Len32(mask) - 1) {
			if f(at + bits.Len32(mask) - 1) {
				return
			}
		}
		i = at
	}
	const width, ones, low = 8, 0x0101010101010101, 0x7f7f7f7f7f7f7f7f
	for allA, allB := uint64(a)*ones, uint64(b)*ones; i >= width; i -= width {
		v := binary.LittleEndian.Uint64(src[i-width:])
		ofA, ofB := v^allA, v^allB
		// the high bit of each byte that is zero in one
		for zero := ^((ofA&low + low | ofA | low) & (ofB&low + low | ofB | low)); zero != 0; {
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
