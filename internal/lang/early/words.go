// Package early says how far a text must be read: it finds the last of some words, marks or texts, many places at a
// time where the processor can. What stands behind need not be read by those who look for these alone. A language that
// reads all that there is needs nothing of it.
//
// words.go, backwards.go and marks.go are what others ask; fours.go says where words may be, many_*.go are the parts
// in assembly.
package early

// Words are words of which the last in a text is found in a fraction of the time that the text's tokens take. Each is
// known by one of its letters, its anchor, and by four letters in a row around that.
type Words struct {
	fours   *fours
	anchors [256]bool
	at      func(src []byte, i int) int
}

// NewWords makes words from four letters in a row of each, and from all anchors: a letter of the four. The fours are in
// up to eight groups, apart by commas: what a group's letters make when they are mixed, the first of one with the
// second of another, should be rare in texts. Where a word is shorter, holes say which bytes may stand in place of a
// letter: the fewer, the faster. at is asked of anchors, where a word seems to be; it gives the end of the word whose
// anchor is at i, or 0 if none is there that counts.
func NewWords(groups []string, holes map[byte]func(c byte) bool, anchors string,
	at func(src []byte, i int) int) *Words {
	w := &Words{fours: newFours(groups, holes), at: at}
	for _, c := range []byte(anchors) {
		w.anchors[c] = true
	}
	return w
}

// Last gives the end of the last word; 0 if there is none.
func (w *Words) Last(src []byte) int {
	const beside = 3 // of a word at either end of the text a byte of the four may be missing
	if end := w.between(src, max(0, len(src)-beside), len(src)-1); end > 0 {
		return end
	}
	for rest := src; ; {
		place := w.fours.last(rest)
		if place < 0 {
			return w.between(src, 0, min(beside, len(src))-1)
		}
		if end := w.between(src, place, place+3); end > 0 {
			return end
		}
		rest = src[:place+3]
	}
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
