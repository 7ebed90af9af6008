package text

import (
	"bytes"
	"iter"
	"strings"

	"crookedshelf/internal/source"
)

// LineStart is where the line begins that holds a place.
func LineStart(src []byte, at int) int { return bytes.LastIndexByte(src[:at], '\n') + 1 }

// Lines gives the lines of a text without their newlines.
func Lines(src []byte) iter.Seq[source.Span] {
	return func(yield func(source.Span) bool) {
		for at := 0; at < len(src); {
			line := source.Span{Start: at, End: LineEnd(src, at)}
			if at = line.End + 1; !yield(line) {
				return
			}
		}
	}
}

// Words gives the pieces of a part of a text between any of some bytes.
func Words(src []byte, within source.Span, between string) iter.Seq[source.Span] {
	return func(yield func(source.Span) bool) {
		for at := within.Start; at < within.End; at++ {
			start := at
			for at < within.End && strings.IndexByte(between, src[at]) < 0 {
				at++
			}
			if at > start && !yield(source.Span{Start: start, End: at}) {
				return
			}
		}
	}
}

// LineEnd is where the line ends that holds a place: at its newline, or at the end of the text.
func LineEnd(src []byte, at int) int {
	if i := bytes.IndexByte(src[at:], '\n'); i >= 0 {
		return at + i
	}
	return len(src)
}

// Line is the text of the line that holds a place, without its line end.
func Line(src []byte, at int) []byte {
	return bytes.TrimSuffix(src[LineStart(src, at):LineEnd(src, at)], []byte("\r"))
}

// Indent gives the blanks with which the line of a place begins, and whether nothing but blanks stands between its
// beginning and the place.
func Indent(src []byte, at int) (blanks string, alone bool) {
	start := LineStart(src, at)
	end := start
	for end < at && (src[end] == ' ' || src[end] == '\t' || src[end] == '\f') {
		end++
	}
	return string(src[start:end]), end == at
}

// Newline is how the lines of a text end: as the first does.
func Newline(src []byte) string {
	if i := bytes.IndexByte(src, '\n'); i > 0 && src[i-1] == '\r' {
		return "\r\n"
	}
	return "\n"
}

// Blank replaces all of a text but its line ends by blanks, so that what is left stands where it stood.
func Blank(src []byte) {
	for i, c := range src {
		if c != '\n' {
			src[i] = ' '
		}
	}
}
