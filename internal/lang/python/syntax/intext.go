package syntax

import (
	"bytes"
	"slices"

	"crookedshelf/internal/source"
)

// InText says which places lie in a string or a comment.
func InText(src []byte) func(at int) bool {
	texts := textsIn(src)
	return func(at int) bool {
		i, begins := slices.BinarySearchFunc(texts, at, func(s source.Span, at int) int { return s.Start - at })
		return i > 0 && at < texts[i-1].End && !begins
	}
}

// textsIn are the strings and comments of a file: a place behind the first character of one lies in it.
func textsIn(src []byte) []source.Span {
	var out []source.Span
	for i := 0; i < len(src); {
		start := i
		switch c := src[i]; c {
		case '#':
			end := bytes.IndexByte(src[i:], '\n')
			if end < 0 {
				end = len(src) - i
			}
			i += end
		case '"', '\'':
			quote := src[i : i+1]
			if triple := bytes.Repeat(quote, 3); bytes.HasPrefix(src[i:], triple) {
				quote = triple
			}
			for i += len(quote); i < len(src) && !bytes.HasPrefix(src[i:], quote) &&
				(len(quote) == 3 || src[i] != '\n'); i++ {
				if src[i] == '\\' {
					i++
				}
			}
			i += len(quote)
		default:
			i++
			continue
		}
		out = append(out, source.Span{Start: start, End: i})
	}
	return out
}
