package early

import "golang.org/x/sys/cpu"

// manyFours and manyBytes say whether the processor can look at many places at once, by lastFour and by lastBlock.
var (
	manyFours = cpu.X86.HasAVX2
	manyBytes = cpu.X86.HasAVX2
)

// leastFours is how many bytes lastFour must be given, or more.
const leastFours = 32 + 3

// lastFour gives the last place in the first n bytes of a text where four bytes in a row may fit into a group; -1 if
// there is none.
//
//go:noescape
func lastFour(src *byte, n int, of *halves) int

// lastBlock gives where the last block of 32 bytes begins that has one of two bytes, and a bit for each place of them;
// the blocks are counted from the end of the first n bytes of a text. at is -1 if no whole block has any.
//
//go:noescape
func lastBlock(src *byte, n int, a, b byte) (at int, mask uint32)
