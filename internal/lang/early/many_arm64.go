package early

const (
	manyFours  = true
	leastFours = 16 + 3
	manyBytes  = false
)

// lastFour is as on amd64.
//
//go:noescape
func lastFour(src *byte, n int, of *halves) int

func lastBlock(*byte, int, byte, byte) (int, uint32) { return -1, 0 } // is not called
