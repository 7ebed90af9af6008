package web

import "bytes"

// lastCandidate gives the place behind the last word that may lead to a mention which the language itself defines; 0 if there is
// none. What follows need not be read where nobody asks for strings that only look like paths: a specifier stands behind such
// a word. It looks at the one letter of each word that is rare, from the end, so that most files cost one pass over their bytes
// and no tokens. It may take a word for a candidate that is none, never the other way round.
func lastCandidate(src []byte) int {
	for i := len(src) - 1; i > 0; i-- {
		c := src[i]
		if !rareLetters[c] {
			continue
		}
		switch before := src[i-1]; c { // the letter before turns down most
		case 'p':
			if before != 'm' && word[before] { // import; process and path begin words
				continue
			}
		case 'q', 'x':
			if before != 'e' {
				continue
			}
		case 'd':
			if before != 'o' && word[before] && before != '_' { // module; define, dirname and __dirname
				continue
			}
		case 'j', 'v', 'f':
			if word[before] {
				continue
			}
		}
		if end := candidateAt(src, i); end > 0 {
			return end
		}
	}
	if len(src) > 0 && rareLetters[src[0]] {
		if end := candidateAt(src, 0); end > 0 {
			return end
		}
	}
	const head = 1 << 13 // references by comments stand before the first token
	if i := bytes.LastIndex(src[:min(len(src), head)], []byte("///")); i >= 0 {
		return i + 3
	}
	return 0
}

// rareLetters are those that candidateAt knows words by.
var rareLetters = makeStops("pqxdjvUWf\\")

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
