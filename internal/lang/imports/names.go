package imports

import (
	"bytes"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

// Item is a name in a list: from where it begins up to the end of what belongs to it, as an alias.
type Item struct{ Start, End int }

// Without is the place of an item that is taken out of its list: with its line where it stands alone on it, else with
// the comma beside it. stays says which items stay; comment is what a comment to the end of the line begins with.
func Without(src []byte, items []Item, k int, stays func(int) bool, comment string) source.Span {
	it := items[k]
	end := it.End
	for end < len(src) && (src[end] == ' ' || src[end] == '\t' || src[end] == ',') {
		end++
	}
	if bytes.HasPrefix(src[end:], []byte(comment)) {
		end = text.LineEnd(src, end)
	}
	ends := end < len(src) && (src[end] == '\n' || src[end] == '\r')
	if _, alone := text.Indent(src, it.Start); alone && ends {
		return source.Span{Start: text.LineStart(src, it.Start), End: min(text.LineEnd(src, end)+1, len(src))}
	}
	for before := k - 1; before >= 0; before-- {
		if stays(before) { // from the end of the one before, so that its comma goes too
			return source.Span{Start: items[k-1].End, End: it.End}
		}
	}
	if k+1 < len(items) {
		return source.Span{Start: it.Start, End: items[k+1].Start}
	}
	return source.Span{Start: it.Start, End: it.End}
}
