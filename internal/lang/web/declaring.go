package web

import (
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// told are the kinds of declaration that are known by a word and a name: what stands behind the last of these need not be read for them.
const told = lang.IsClass | lang.IsType | lang.IsComponent | lang.IsHook

// lastDeclaration gives the place behind the last word that may begin a declaration of some of the kinds that are told; 0 if there is
// none. It may take a word for one that begins no declaration, never the other way round.
func lastDeclaration(src []byte, kinds lang.DeclarationKinds) int {
	last := 0
	for _, d := range declaring {
		if kinds&d.kind != 0 {
			last = max(last, d.words().Last(src))
		}
	}
	return last
}

// declaring has the words that begin declarations, by the kinds told. A component and a hook are known by their names, and a component
// that is exported without one by the name of the file.
var declaring = []struct {
	kind  lang.DeclarationKinds
	words func() *source.Words
}{
	{lang.IsClass, wordsBefore([]string{"class"}, func(string, []byte) bool { return true })},
	{lang.IsType, wordsBefore([]string{"interface", "type", "enum", "namespace"}, func(_ string, rest []byte) bool { return word[rest[0]] })},
	{lang.IsComponent, wordsBefore([]string{"function", "class", "const", "let", "var", "export", "exports", "default"}, func(before string, rest []byte) bool {
		switch before {
		case "export":
			return rest[0] == '='
		case "exports", "default":
			return true
		}
		return capital(rest[0])
	})},
	{lang.IsHook, wordsBefore([]string{"function", "const", "let", "var", "exports"}, func(before string, rest []byte) bool {
		return before == "exports" || len(rest) > 3 && string(rest[:3]) == "use" && capital(rest[3])
	})},
}

func capital(c byte) bool { return c >= 'A' && c <= 'Z' }

// wordsBefore are words that count by what follows them, past blanks and line ends. What may hide it counts: a comment, a star, white
// space beyond ASCII, the end.
func wordsBefore(words []string, counts func(before string, rest []byte) bool) func() *source.Words {
	return sync.OnceValue(func() *source.Words {
		const rarest = "qzjxkvbywgpfmucdlhrsnioate"
		type known struct {
			word   string
			before int // the anchor
		}
		var fours []string
		var anchored [256][]known // by a letter that is rare
		anchors := ""
		for _, w := range words {
			four := (w + " ")[:4]
			fours = append(fours, four)
			anchor := rarest[strings.IndexAny(rarest, four)]
			anchored[anchor] = append(anchored[anchor], known{w, strings.IndexByte(w, anchor)})
			anchors += string(anchor)
		}
		return source.NewWords(fours, map[byte]func(c byte) bool{' ': func(c byte) bool { return !plainWord[c] }}, anchors, func(src []byte, i int) int {
			for _, k := range anchored[src[i]] {
				w, start := k.word, i-k.before
				end := start + len(w)
				if start < 0 || end > len(src) || src[start+1] != w[1] || string(src[start:end]) != w || end < len(src) && plainWord[src[end]] {
					continue
				}
				rest := src[end:]
				for len(rest) > 0 && (classes[rest[0]] == cSpace || classes[rest[0]] == cNewline) {
					rest = rest[1:]
				}
				if len(rest) == 0 || rest[0] == '/' || rest[0] == '*' || rest[0] >= 0x80 || counts(w, rest) {
					return end
				}
			}
			return 0
		})
	})
}

// scanAsked is ScanText for what is asked of a file whose mentions can be told early: certain mentions, and those kinds of declaration by
// which shelves may take it. Its outline is read later, if anybody needs it.
func scanAsked(path string, src []byte, dialect Dialect, declared *lang.Declared) lang.Scanned {
	found := lang.Scanned{Later: true}
	end := lastMention(src, true)
	kinds := declared.Asked(path)
	declares := 0
	if kinds&^told == 0 {
		declares, found.Told = lastDeclaration(src, kinds), kinds
	}
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
		found.Declarations = s.outline.finish(path).Declarations
	}
	found.Mentions = s.found()
	found.HandsOn = mayHandOn(src, found.Mentions)
	return found
}
