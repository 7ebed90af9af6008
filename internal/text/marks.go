package text

import (
	"bytes"

	"crookedshelf/internal/source"
)

// Mark is a mark that closes what another opens. The last one of a text is looked for once: where there is none,
// looking for it behind every mark that opens would take as long as the square of the text. The zero value has not been
// looked for.
type Mark struct{ last int } // from 1; -1 for none

// Behind says whether the mark stands at a place of a text or behind it. It must be asked of one text only.
func (m *Mark) Behind(src []byte, mark string, from int) bool {
	if m.last == 0 {
		if m.last = bytes.LastIndex(src, []byte(mark)) + 1; m.last == 0 {
			m.last = -1
		}
	}
	return m.last-1 >= from
}

// Quoted gives the span of a string that begins at a place with its quote, without the quotes, and the place behind it.
// A backslash takes the next character along. A string ends with its line at the latest, and then it is empty.
func Quoted(src []byte, at int) (inside source.Span, end int) {
	quote := src[at]
	for i := at + 1; i < len(src); i++ {
		switch src[i] {
		case quote:
			return source.Span{Start: at + 1, End: i}, i + 1
		case '\\':
			i++
		case '\n':
			return source.Span{Start: at + 1, End: at + 1}, i
		}
	}
	return source.Span{Start: at + 1, End: at + 1}, len(src)
}
