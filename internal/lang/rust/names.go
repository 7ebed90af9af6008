package rust

import "crookedshelf/internal/text"

// names numbers the names of a text: those that are alike have one number, by which they are told apart. The first numbers
// are those of the words of the language.
type names struct {
	same    *text.Same
	slots   []int32 // numbers, by hashes; their count is a power of two
	hashes  []uint32
	texts   []string // by numbers, from 1
	singles []int32  // by numbers: the scope behind the last one in which the name was noted
	selects []int32
	noted   map[uint64]struct{} // names and scopes that these do not hold any more
}

// languageWords are the names of a text that has none of its own.
var languageWords = func() *names {
	n := &names{slots: make([]int32, 1<<10)}
	n.add("", 0)
	for _, word := range words {
		h := uint32(0)
		for i := range len(word) {
			h = hashed(h, word[i])
		}
		n.number([]byte(word), h)
	}
	return n
}()

// newNames are those of the language. Strings are shared by what same has given, where there is one.
func newNames(same *text.Same) *names {
	n := &names{same: same, noted: map[uint64]struct{}{}}
	n.clear()
	return n
}

// clear forgets all names but the words of the language.
func (n *names) clear() {
	n.slots = append(n.slots[:0], languageWords.slots...)
	n.hashes = append(n.hashes[:0], languageWords.hashes...)
	n.texts = append(n.texts[:0], languageWords.texts...)
	n.singles = append(n.singles[:0], languageWords.singles...)
	n.selects = append(n.selects[:0], languageWords.selects...)
	clear(n.noted)
}

// hashed is a hash with one more byte.
func hashed(h uint32, c byte) uint32 { return (h + uint32(c)) * 0x9e3779b1 }

func (n *names) slot(h uint32) int { return int(h^h>>15) & (len(n.slots) - 1) }

func (n *names) add(name string, h uint32) int32 {
	n.texts, n.hashes = append(n.texts, name), append(n.hashes, h)
	n.singles, n.selects = append(n.singles, 0), append(n.selects, 0)
	return int32(len(n.texts) - 1)
}

func (n *names) string(raw []byte) string {
	if n.same == nil {
		return string(raw)
	}
	return n.same.Of(raw)
}

// number is the number of a name whose bytes have a hash.
func (n *names) number(raw []byte, h uint32) int32 {
	at := n.slot(h)
	for n.slots[at] > 0 {
		if k := n.slots[at]; n.hashes[k] == h && n.texts[k] == string(raw) {
			return k
		}
		at = (at + 1) & (len(n.slots) - 1)
	}
	name := ""
	if n.same == nil {
		name = string(raw)
	} else {
		name = n.same.Hashed(raw, h)
	}
	k := n.add(name, h)
	if n.slots[at] = k; len(n.texts)*2 > len(n.slots) {
		n.slots = make([]int32, len(n.slots)*2)
		for k := 1; k < len(n.texts); k++ {
			at := n.slot(n.hashes[k])
			for n.slots[at] > 0 {
				at = (at + 1) & (len(n.slots) - 1)
			}
			n.slots[at] = int32(k)
		}
	}
	return k
}

// What a name is noted as in a scope.
const (
	asMacro  = 1 << iota // a macro is called by it
	inRules              // in the rules of a macro
	asMember             // behind a dot
	asCalled             // behind a dot, or as a name, and called
)

// note says whether a name stands in a scope for the first time.
func (n *names) note(number, sc int32, as uint64) bool {
	var last *int32
	switch as {
	case 0:
		last = &n.singles[number]
	case asMember:
		last = &n.selects[number]
	default:
		return n.first(number, sc, as)
	}
	if *last == sc+1 {
		return false
	}
	older := *last
	if *last = sc + 1; older == 0 {
		return true
	}
	n.first(number, older-1, as) // from now on the map knows it
	return n.first(number, sc, as)
}

func (n *names) first(number, sc int32, as uint64) bool {
	key := uint64(sc)<<36 | uint64(number)<<4 | as
	if _, known := n.noted[key]; known {
		return false
	}
	n.noted[key] = struct{}{}
	return true
}
