package project

// slab is memory in which contents that are kept lie one behind the other: the system is asked for it rarely, and there
// are few pieces to account for.
type slab struct {
	free []byte
	size int // of the last piece of memory, in bytes
}

const (
	smallestSlab = 1 << 18
	largestSlab  = 1 << 23
	leastFree    = 1 << 16 // most files need no more
)

// keep reads a content by what read does with a room, and keeps it: in the slab if it has come to lie there.
func (s *slab) keep(read func(buf []byte) ([]byte, error)) ([]byte, error) {
	if len(s.free) < leastFree {
		s.size = min(max(2*s.size, smallestSlab), largestSlab)
		s.free = make([]byte, s.size)
		inLargePages(s.free)
	}
	content, err := read(s.free)
	n := len(content)
	if n > 0 && &content[0] == &s.free[0] {
		s.free = s.free[n:]
	}
	return content[:n:n], err
}
