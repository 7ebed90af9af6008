//go:build !amd64 && !arm64

package early

const (
	manyFours  = false
	leastFours = 0
	manyBytes  = false
)

// What follows is not called.

func lastFour(*byte, int, *halves) int { return -1 }

func lastBlock(*byte, int, byte, byte) (int, uint32) { return -1, 0 }
