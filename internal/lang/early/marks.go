package early

import "bytes"

// LastMark gives the place behind the last of a mark; 0 if there is none. The mark is found by one of its letters, by
// its index, which should be rare in texts.
func LastMark(src []byte, mark string, rare int) int {
	last := 0
	if !bytes.Contains(src, []byte(mark)) { // that takes the least time
		return 0
	}
	Backwards(src, mark[rare], mark[rare], func(i int) bool {
		if start := i - rare; start >= 0 && bytes.HasPrefix(src[start:], []byte(mark)) {
			last = start + len(mark)
		}
		return last > 0
	})
	return last
}

// LastInQuotes gives the place behind the last text in quotes that holds a byte; 0 if there is none. ends are the bytes
// that such a text does not hold, quotes those that may stand around it. Texts of most bytes or more may be passed
// over; whether they are strings is not asked.
func LastInQuotes(src []byte, holds byte, ends, quotes *[256]bool, most int) int {
	last, asked := 0, len(src)
	Backwards(src, holds, holds, func(at int) bool {
		if at >= asked { // other such bytes of the same text are not asked again
			return false
		}
		start := at
		for start > 0 && at-start < most && !ends[src[start-1]] {
			start--
		}
		if at-start < most { // else an earlier byte may be near enough to where the text begins
			asked = start
		}
		if start == 0 || !quotes[src[start-1]] {
			return false
		}
		end := at + 1
		for end < len(src) && end-at < most && !ends[src[end]] {
			end++
		}
		if end == len(src) || src[end] != src[start-1] {
			return false
		}
		last = end + 1
		return true
	})
	return last
}
