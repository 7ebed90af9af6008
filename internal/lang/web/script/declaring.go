package script

import (
	"bytes"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/early"
)

// knownEarly are the kinds of declaration that are known by a word and a name: what stands behind the last of these
// need not be read for them.
const knownEarly = lang.IsClass | lang.IsType | lang.IsComponent | lang.IsHook

// lastDeclaration gives the place behind the last word that may begin a declaration of some of the kinds that are
// reported; 0 if there is none. It may take a word for one that begins no declaration, never the other way round.
func lastDeclaration(src []byte, kinds lang.DeclarationKinds) int {
	last := 0
	for _, d := range declaring {
		if kinds&d.kind != 0 {
			last = max(last, d.words().Last(src))
		}
	}
	return last
}

// declaring has the words that begin declarations, by the kinds reported. A component and a hook are known by their
// names, and a component that is exported without one by the name of the file.
var declaring = []struct {
	kind  lang.DeclarationKinds
	words func() *early.Words
}{
	{lang.IsClass, wordsBefore([]string{"lass"}, before{anything, "class"})},
	{lang.IsType, wordsBefore([]string{"ce N", "pe N", "um N", "ce_N,pe_N,um_N"},
		before{aName, "interface type enum namespace"})},
	{lang.IsComponent, wordsBefore([]string{"on C", "ss C,st C", "et C,ar C", "rt E", "rt=?", "orts,ault",
		"on_C,ss_C,st_C,et_C,ar_C,rt_E"},
		before{aCapital, "function class const let var"}, before{anEqualSign, "export"},
		before{anything, "exports default"})},
	{lang.IsHook, wordsBefore([]string{"on H", "st H", "et H,ar H", "orts", "on_H,st_H,et_H,ar_H"},
		before{aHook, "function const let var"}, before{anything, "exports"})},
}

// before are words that count by what follows them, past white space.
type before struct {
	counts func(rest []byte) bool // rest is not empty
	words  string
}

func anything([]byte) bool         { return true }
func aName(rest []byte) bool       { return word[rest[0]] }
func aCapital(rest []byte) bool    { return capital(rest[0]) }
func aHook(rest []byte) bool       { return len(rest) > 3 && string(rest[:3]) == "use" && capital(rest[3]) }
func anEqualSign(rest []byte) bool { return rest[0] == '=' }

func capital(c byte) bool { return c >= 'A' && c <= 'Z' }

// hides says whether what follows a word may be hidden by a byte: a comment or a star, an escape, white space or a
// letter beyond ASCII.
func hides(c byte) bool { return c == '/' || c == '*' || c == '\\' || c >= 0x80 }

// behindWords are holes for the two bytes behind a word: for the first what is common there and what is rare, for the
// second what a name may begin with, or more that hides it. White space beyond ASCII is known by the first and the
// second byte of its characters.
var behindWords = map[byte]func(c byte) bool{
	' ': commonGap,
	'_': rareGap,
	'N': func(c byte) bool { return unclear(c) || word[c] && c < 0x80 },
	'C': func(c byte) bool { return unclear(c) || capital(c) },
	'H': func(c byte) bool { return unclear(c) || c == 'u' },
	'E': func(c byte) bool { return unclear(c) || c == '=' },
	'?': func(byte) bool { return true },
}

func commonGap(c byte) bool { return strings.IndexByte(" \n\r/*", c) >= 0 }
func rareGap(c byte) bool   { return strings.IndexByte("\t\v\f\xc2\xe1\xe2\xe3\xef", c) >= 0 }

func unclear(c byte) bool {
	return commonGap(c) || rareGap(c) || strings.IndexByte("\\\x80\x81\x85\x9a\xa0\xbb", c) >= 0
}

// wordsBefore are words that count by what follows them, past blanks and line ends. What may hide it counts, and the
// end of the text.
func wordsBefore(groups []string, all ...before) func() *early.Words {
	return sync.OnceValue(func() *early.Words {
		type counted struct {
			word   string
			counts func(rest []byte) bool
		}
		var ending [256][]counted // by their last letters
		anchors := ""
		for _, b := range all {
			for _, w := range strings.Fields(b.words) {
				last := w[len(w)-1]
				ending[last] = append(ending[last], counted{w, b.counts})
				anchors += string(last)
			}
		}
		return early.NewWords(groups, behindWords, anchors, func(src []byte, i int) int {
			end := i + 1
			for _, w := range ending[src[i]] {
				if !bytes.HasSuffix(src[:end], []byte(w.word)) {
					continue
				}
				rest := src[end:]
				if len(rest) > 0 && plainWord[rest[0]] {
					return 0
				}
				for len(rest) > 0 && (classes[rest[0]] == cSpace || classes[rest[0]] == cNewline) {
					rest = rest[1:]
				}
				if len(rest) == 0 || hides(rest[0]) || w.counts(rest) {
					return end
				}
			}
			return 0
		})
	})
}

// scanAsked is ScanText for what is asked of a file whose mentions can be known early: certain mentions, and the kinds
// of declaration by which shelves may take it, all of which are reported. Its outline is read later, if anybody needs
// it.
func scanAsked(path string, src []byte, dialect Dialect, declared *lang.Declared,
	kinds lang.DeclarationKinds) lang.Scanned {
	found := lang.Scanned{Early: &lang.Early{Known: kinds}}
	end, declares := lastMention(src, true), lastDeclaration(src, kinds)
	if end = max(end, declares); end == 0 {
		return found
	}
	s := newScanner(path, src, dialect, declared)
	defer s.leave()
	s.end = end
	if declares > 0 {
		s.outline = &outliner{}
	}
	s.scan()
	if s.outline != nil {
		if kinds&lang.IsComponent != 0 && s.outline.mayDraw(path) && !s.outline.elements {
			s.findElement()
		}
		found.Early.Declarations = s.outline.finish(path).Declarations
	}
	found.Mentions = s.found()
	found.Early.ReExports = mayHandOn(src, found.Mentions)
	return found
}
