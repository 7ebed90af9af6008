package web

import (
	"bytes"
	"encoding/binary"
	"slices"

	"crookedshelf/internal/lang"
)

// skips says whether what stands behind the last candidate of a file need not be read, unless for its outline.
func skips(path string, declared *lang.Declared) bool {
	return declared != nil && declared.Certain && len(declared.Convention.Mentions) == 0 && !isConfiguration(path) && !declared.Settles(path)
}

// mayHandOn says whether a file may hand on what others declare: by a list of exports, a star, or a name that it exports by default.
// It may say so of a file that does not.
func mayHandOn(src []byte) bool {
	export := []byte("xport") // the letter that is rare comes first
	for i := bytes.Index(src, export); i >= 0; {
		end := i + len(export)
		for _, c := range []byte("{*=/t") {
			if follows(src, end, c) {
				return true
			}
		}
		if rest := bytes.TrimLeft(src[end:], " \t\r\n"); bytes.HasPrefix(rest, []byte("default")) {
			word := bytes.TrimLeft(rest[len("default"):], " \t\r\n")
			known := slices.ContainsFunc([]string{"function", "class", "async", "abstract", "interface", "{", "[", "'", "\"", "("}, func(w string) bool { return bytes.HasPrefix(word, []byte(w)) })
			if !known {
				return true
			}
		}
		next := bytes.Index(src[end:], export)
		if next < 0 {
			break
		}
		i = end + next
	}
	return false
}

// lastCandidate gives the place behind the last word that may lead to a mention which the language itself defines; 0 if there is
// none. What follows need not be read where nobody asks for strings that only look like paths: a specifier stands behind such
// a word. It looks at every second place, from the end, for three letters that such a word has there, so that most files cost a
// pass over their bytes and no tokens. It may take a word for a candidate that is none, never the other way round.
func lastCandidate(src []byte) int {
	const width, stride = 8, 6 // eight bytes have three places, each with two more bytes
	i := len(src) - width
	if end := candidateAround(src, max(0, i+stride), len(src)-1); end > 0 {
		return end
	}
	for ; i >= 0; i -= stride {
		v := binary.LittleEndian.Uint64(src[i:])
		if (triples.has(uint32(v)) | triples.has(uint32(v>>16)) | triples.has(uint32(v>>32))) == 0 {
			continue
		}
		if end := candidateAround(src, max(0, i-1), i+stride); end > 0 {
			return end
		}
	}
	if end := candidateAround(src, 0, min(stride, len(src)-1)); end > 0 {
		return end
	}
	const head = 1 << 13 // references by comments stand before the first token
	if i := bytes.LastIndex(src[:min(len(src), head)], []byte("///")); i >= 0 {
		return i + 3
	}
	return 0
}

// candidateAround gives the end of the last candidate whose rare letter is in a range, both ends included; 0 for none.
func candidateAround(src []byte, from, to int) int {
	for i := to; i >= from; i-- {
		if rareLetters[src[i]] {
			if end := candidateAt(src, i); end > 0 {
				return end
			}
		}
	}
	return 0
}

// rareLetters are those that candidateAt knows words by.
var rareLetters = makeStops("pqxdjvUWf\\")

// tripleSet holds the first three bytes of four, by their hash. It may have what was not added.
type tripleSet [1 << 16]uint8

// spread is the factor, of 300 that were drawn, by which the fewest triples of 20 MB of real code fall on one of the words' own.
const spread = 0xf08297e9

// has is 1 for what is in the set.
func (t *tripleSet) has(v uint32) uint8 { return t[v<<8*spread>>16] }

func (t *tripleSet) add(v uint32) { t[v<<8*spread>>16] = 1 }

// triples has, for each word that candidateAt knows, the three letters that begin at one place and at the next, the rare letter
// among them or just before: one of the two is met at every second place. ? is any byte.
var triples = func() *tripleSet {
	t := &tripleSet{}
	for _, word := range []string{"mpor", "equi", "expo", "odul", "defi", "dirn", "proc", "path", "jest", "Work", "?URL", "?vi?", "?fs?", "?\\u?"} {
		for _, at := range []int{0, 1} {
			v, hole := uint32(0), -1
			for i := range 3 {
				if v |= uint32(word[at+i]) << (8 * i); word[at+i] == '?' {
					hole = 8 * i
				}
			}
			if t.add(v); hole >= 0 {
				for c := range uint32(256) {
					t.add(v&^(0xff<<hole) | c<<hole)
				}
			}
		}
	}
	return t
}()

// candidateAt gives the end of the word that has its rare letter at i, if it is a candidate by what is around it; else 0.
func candidateAt(src []byte, i int) int {
	is := func(before int, word string) int {
		if start := i - before; start >= 0 && bytes.HasPrefix(src[start:], []byte(word)) {
			return start + len(word)
		}
		return 0
	}
	switch src[i] {
	case 'p': // import, importScripts, process, path
		if end := is(2, "import"); end > 0 {
			return end
		}
		if end := is(0, "process"); end > 0 {
			return end
		}
		if end := is(0, "path"); end > 0 && follows(src, end, '.') {
			return end
		}
	case 'q':
		return is(2, "require")
	case 'x':
		end := is(1, "export")
		if end > 0 && (follows(src, end, '{') || follows(src, end, '*') || follows(src, end, 't') || follows(src, end, '/')) {
			return end
		}
	case 'd': // module, define, dirname, __dirname
		if end := is(2, "module"); end > 0 && (follows(src, end, '\'') || follows(src, end, '"') || follows(src, end, '/') || i >= 3 && (src[i-3] == '@' || src[i-3] == '-')) {
			return end
		}
		if end := is(0, "define"); end > 0 && (follows(src, end, '(') || follows(src, end, '/')) {
			return end
		}
		return is(0, "dirname")
	case 'j':
		return is(0, "jest")
	case 'v':
		if end := is(0, "vi"); end > 0 && (i == 0 || !word[src[i-1]]) && (follows(src, end, '.') || follows(src, end, '/')) {
			return end
		}
	case 'U':
		return is(0, "URL")
	case 'W':
		return is(0, "Worker")
	case 'f':
		if end := is(0, "fs"); end > 0 && (i == 0 || !word[src[i-1]]) && (follows(src, end, '.') || follows(src, end, '/')) {
			return end
		}
	case '\\': // a word may be written with escapes
		if i+1 < len(src) && src[i+1] == 'u' {
			return i + 2
		}
	}
	return 0
}

// follows says whether a character comes next, past white space of any kind.
func follows(src []byte, i int, c byte) bool {
	for i < len(src) && (classes[src[i]] == cSpace || classes[src[i]] == cNewline || src[i] >= 0x80) {
		i++
	}
	return i < len(src) && src[i] == c
}
