package text

// Same gives one string for texts that are alike, without an allocation for most of them: names stand in many places.
// It forgets old ones, so its size is bounded. It is not safe for use by several goroutines.
type Same struct{ slots [1 << 13]string }

// Of gives a text as a string.
func (s *Same) Of(raw []byte) string {
	h := uint32(len(raw))
	for _, c := range raw {
		h = h*31 + uint32(c)
	}
	return s.Hashed(raw, h)
}

// Hashed is Of for a text of which a hash is known.
func (s *Same) Hashed(raw []byte, h uint32) string {
	h ^= h >> 15
	slot := &s.slots[h%uint32(len(s.slots))]
	if *slot != string(raw) {
		*slot = string(raw)
	}
	return *slot
}
