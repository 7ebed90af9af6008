// Package show makes foreign text safe to show. A name or a message may hold characters that a terminal obeys, that
// turn the direction of what follows, or that are not seen at all.
package show

import (
	"strconv"
	"strings"
	"unicode/utf8"
)

// Name is a name as it can be shown in a line: one with anything but printable characters is quoted, with escapes.
func Name(name string) string {
	if printable(name, "") {
		return name
	}
	return strconv.Quote(name)
}

// Text is a text of several lines in which line ends and tabs stay; every other character that is not printable is
// written as an escape.
func Text(text string) string {
	if printable(text, "\n\t") {
		return text
	}
	var out strings.Builder
	for i := 0; i < len(text); {
		_, size := utf8.DecodeRuneInString(text[i:])
		one := text[i : i+size]
		if printable(one, "\n\t") {
			out.WriteString(one)
		} else {
			escaped := strconv.Quote(one)
			out.WriteString(escaped[1 : len(escaped)-1])
		}
		i += size
	}
	return out.String()
}

// printable says whether a text is valid and has nothing but printable characters and those of more.
func printable(text, more string) bool {
	for i := 0; i < len(text); {
		if b := text[i]; b >= ' ' && b <= '~' {
			i++
			continue
		}
		r, size := utf8.DecodeRuneInString(text[i:])
		if r == utf8.RuneError && size == 1 || !strconv.IsPrint(r) && !strings.ContainsRune(more, r) {
			return false
		}
		i += size
	}
	return true
}
