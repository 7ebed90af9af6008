package script

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/early"
)

// skips says whether a mention of a file can be known by what is around it, so that what stands behind the last that
// may be one need not be read, unless for its outline.
func skips(path string, declared *lang.Declared) bool {
	return declared != nil && len(declared.Convention.Mentions) == 0 && !IsConfiguration(path) &&
		!declared.SpeaksOfSettings(path)
}

// lastMention gives the place behind the last place of a file that may hold a mention, or lead to one that stands
// behind it; 0 if there is none. certain: those do not count that only look like paths.
func lastMention(src []byte, certain bool) int {
	last := lastCandidate(src)
	if !certain {
		last = max(last, lastPath(src))
	}
	return last
}

// lastPath gives the place behind the last text in quotes that looks like a path; 0 if there is none.
func lastPath(src []byte) int { return early.LastInQuotes(src, '/', &noPath, &quotes, len(src)) }

// mayHandOn says whether a file may re-export what others declare: by a list of exports, a star, or a name that it
// exports by default. It may say so of a file that does not. Its certain mentions are known: code of its own mostly
// shows right behind the last.
func mayHandOn(src []byte, mentions []lang.Mention) bool {
	if len(mentions) == 0 {
		return false
	}
	if last := mentions[len(mentions)-1]; last.Kind == Import || last.Kind == ExportFrom {
		s := scanner{input: input{src: src}}
		at := s.skipTrivia(last.Span.End + 1)
		ended := s.at(at) == ';' || s.endsLine(last.Span.End+1, at)
		if s.at(at) == ';' {
			at = s.skipTrivia(at + 1)
		}
		switch first := src[at:s.wordEnd(at)]; string(first) {
		case "", "import", "with", "assert": // they tell nothing
		case "export":
			return handsOnBehind(src, at+len(first))
		default:
			if ended {
				return false
			}
		}
	}
	export := []byte("xport") // the letter that is rare comes first
	for at := 0; ; {
		i := bytes.Index(src[at:], export)
		if i < 0 {
			return false
		}
		at += i + len(export)
		if handsOnBehind(src, at) {
			return true
		}
	}
}

// handsOnBehind says whether an export may be a re-export, by what stands behind the word.
func handsOnBehind(src []byte, end int) bool {
	for _, c := range []byte("{*=/t") {
		if follows(src, end, c) {
			return true
		}
	}
	rest, ok := bytes.CutPrefix(bytes.TrimLeft(src[end:], " \t\r\n"), []byte("default"))
	if !ok {
		return false
	}
	rest = bytes.TrimLeft(rest, " \t\r\n")
	end = 0
	for end < len(rest) && word[rest[end]] {
		end++
	}
	switch string(rest[:end]) {
	case "function", "class", "async", "abstract", "interface":
		return false
	case "":
		return len(rest) == 0 || bytes.IndexByte([]byte("{['\"("), rest[0]) < 0
	}
	return true
}

// lastCandidate gives the place behind the last word that may lead to a mention which the language itself defines; 0 if
// there is none: a specifier stands behind such a word. It may take a word for a candidate that is none, never the
// other way round.
func lastCandidate(src []byte) int {
	return max(candidates.Last(src), lastReference(src))
}

// lastReference gives the place behind the last /// before the first token, where references by comments stand; 0 if
// there is none.
func lastReference(src []byte) int {
	s := scanner{input: input{src: src}}
	s.skipShebang()
	if i := bytes.LastIndex(src[:s.skipTrivia(s.pos)], []byte("///")); i >= 0 {
		return i + 3
	}
	return 0
}

// candidates are known by letters that are rare.
var candidates = early.NewWords(
	[]string{"mpor,Work", "path,odul,jest", "expo,equi,dirn", "proc,defi", "<vi>", "<fs>", "<URL", `?\u%`},
	map[byte]func(c byte) bool{
		'<': func(c byte) bool { return !word[c] },
		'>': func(c byte) bool { return c == '.' || c == '/' || white(c) },
		'?': func(byte) bool { return true },
		'%': func(c byte) bool { return c == '{' || c >= '0' && c <= '9' || c|0x20 >= 'a' && c|0x20 <= 'f' },
	}, "pqxdjvUWf\\", candidateAt)

// candidate is a word that counts, and what around it makes it count.
type candidate struct {
	word   string
	before int    // how many letters stand before the one by which it is found
	next   string // one of these characters comes next, past white space; empty for any
	alone  bool   // no word ends where it begins
	scoped bool   // an @ or a - before it counts as well as what comes next
}

// byRareLetter are the candidates by the letter by which they are found, which is rare.
var byRareLetter = [256][]candidate{
	'p': {{word: "import", before: 2}, {word: "process"}, {word: "path", next: "."}},
	'q': {{word: "require", before: 2}},
	'x': {{word: "export", before: 1, next: "{*t/"}},
	'd': {{word: "module", before: 2, next: `'"/`, scoped: true}, {word: "define", next: "(/"}, {word: "dirname"}},
	'j': {{word: "jest"}},
	'v': {{word: "vi", next: "./", alone: true}},
	'U': {{word: "URL", alone: true}},
	'W': {{word: "Worker"}},
	'f': {{word: "fs", next: "./", alone: true}},
}

// candidateAt gives the end of the word that has its rare letter at i, if it is a candidate by what is around it; else
// 0.
func candidateAt(src []byte, i int) int {
	if src[i] == '\\' && i+1 < len(src) && src[i+1] == 'u' { // a word may be written with escapes
		return i + 2
	}
	for _, c := range byRareLetter[src[i]] {
		start := i - c.before
		if start < 0 || !bytes.HasPrefix(src[start:], []byte(c.word)) || c.alone && start > 0 && word[src[start-1]] {
			continue
		}
		end := start + len(c.word)
		if c.scoped && start > 0 && (src[start-1] == '@' || src[start-1] == '-') || c.next == "" ||
			followedBy(src, end, c.next) {
			return end
		}
	}
	return 0
}

// followedBy says whether one of some characters comes next, past white space of any kind.
func followedBy(src []byte, i int, some string) bool {
	for i < len(src) && white(src[i]) {
		i++
	}
	return i < len(src) && strings.IndexByte(some, src[i]) >= 0
}

// follows says whether a character comes next, past white space of any kind.
func follows(src []byte, i int, c byte) bool {
	for i < len(src) && white(src[i]) {
		i++
	}
	return i < len(src) && src[i] == c
}

// white says whether a byte may be of white space.
func white(c byte) bool { return classes[c] == cSpace || classes[c] == cNewline || c >= 0x80 }
