// Package source holds what every other package shares: spans of bytes, edits of spans, and positions for people.
//
// Offsets are bytes from 0 everywhere. Lines and columns are worked out only where a person or another program reads
// them (Position). The package imports the standard library only, and knows nothing of files on a disk.
package source

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"
)

// Span is a half-open range of bytes: Start is inside, End is not.
type Span struct {
	Start int `json:"start"`
	End   int `json:"end"`
}

// Len is the number of bytes in the span.
func (s Span) Len() int { return s.End - s.Start }

// Edit replaces the bytes of Span with New.
type Edit struct {
	Span Span   `json:"span"`
	New  string `json:"new"`
}

// SortEdits orders edits by their place in the file.
func SortEdits(edits []Edit) {
	slices.SortFunc(edits, func(a, b Edit) int {
		if a.Span.Start != b.Span.Start {
			return a.Span.Start - b.Span.Start
		}
		return a.Span.End - b.Span.End
	})
}

// Fit says what is wrong with edits of a content: they must be sorted, lie inside it and not overlap.
func Fit(content []byte, edits []Edit) error {
	last := 0
	for i, e := range edits {
		if e.Span.Start < last || e.Span.End < e.Span.Start || e.Span.End > len(content) {
			return fmt.Errorf("edit %d at bytes %d-%d does not fit: the bytes from %d to %d are free", i+1,
				e.Span.Start, e.Span.End, last, len(content))
		}
		last = e.Span.End
	}
	return nil
}

// Apply gives content with the edits made. If they do not fit nothing is made, and the error says which edit is at
// fault.
func Apply(content []byte, edits []Edit) ([]byte, error) { return ApplyInto(nil, content, edits) }

// ApplyInto is Apply that puts what it gives into a room, which may be nil, if that is large enough.
func ApplyInto(buf, content []byte, edits []Edit) ([]byte, error) {
	if err := Fit(content, edits); err != nil {
		return nil, err
	}
	size := len(content)
	for _, e := range edits {
		size += len(e.New) - e.Span.Len()
	}
	out := buf[:0]
	if cap(buf) < size {
		out = make([]byte, 0, size)
	}
	last := 0
	for _, e := range edits {
		out = append(out, content[last:e.Span.Start]...)
		out = append(out, e.New...)
		last = e.Span.End
	}
	return append(out, content[last:]...), nil
}

// compose adds an edit of a text that some edits, in their order, have made of another to these: together they are
// edits of the first text. Those that the new one touches become one with it.
func compose(edits []Edit, made []byte, next Edit) []Edit {
	var before, touched, behind []Edit
	shift := 0 // how much further a place lies in the text that was made
	start, end := next.Span.Start, next.Span.End
	first := -1 // where what is touched begins in the text that was made
	last := 0
	for _, e := range edits {
		from := e.Span.Start + shift
		to := from + len(e.New)
		shift += len(e.New) - e.Span.Len()
		switch {
		case to < next.Span.Start:
			before = append(before, e)
			start, end = next.Span.Start-shift, next.Span.End-shift
		case from > next.Span.End:
			behind = append(behind, e)
		default:
			if touched = append(touched, e); first < 0 {
				first = from
			}
			last = to
		}
	}
	one := Edit{Span: Span{Start: start, End: end}, New: next.New}
	if n := len(touched); n > 0 {
		one.Span.Start = min(start, touched[0].Span.Start)
		one.New = string(made[min(first, next.Span.Start):next.Span.Start]) + next.New
		one.Span.End = touched[n-1].Span.End + max(0, next.Span.End-last)
		one.New += string(made[next.Span.End:max(last, next.Span.End)])
	}
	return append(append(before, one), behind...)
}

// Chain is a text as edits leave it that are made one after the other, and what they come to as edits of the first
// text.
type Chain struct {
	Text  []byte
	Edits []Edit
}

// Add makes one more edit, of the text as it is now.
func (c *Chain) Add(e Edit) error {
	text, err := Apply(c.Text, []Edit{e})
	if err != nil {
		return err
	}
	c.Edits, c.Text = compose(c.Edits, c.Text, e), text
	return nil
}

// Position is a place for people: line and column count from 1, the column in runes.
type Position struct {
	Line   int `json:"line"`
	Column int `json:"column"`
}

func (p Position) String() string { return fmt.Sprintf("%d:%d", p.Line, p.Column) }

// PositionAt gives the position of a byte offset. An offset past the end stands for the end.
func PositionAt(content []byte, offset int) Position {
	offset = min(max(offset, 0), len(content))
	before := content[:offset]
	start := bytes.LastIndexByte(before, '\n') + 1
	return Position{Line: bytes.Count(before, []byte{'\n'}) + 1, Column: utf8.RuneCount(before[start:]) + 1}
}

// PositionsAt gives the positions of many byte offsets, in one pass over the content.
func PositionsAt(content []byte, offsets []int) []Position {
	order := make([]int, len(offsets))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return offsets[a] - offsets[b] })
	out := make([]Position, len(offsets))
	at, last := Position{Line: 1, Column: 1}, 0
	advance := func(to int) {
		between := content[last:to]
		if start := bytes.LastIndexByte(between, '\n') + 1; start > 0 {
			at.Line += bytes.Count(between, []byte{'\n'})
			at.Column = 1
			between = between[start:]
		}
		at.Column += utf8.RuneCount(between)
		last = to
	}
	for _, i := range order {
		offset := min(max(offsets[i], 0), len(content))
		whole := offset // up to here no rune is cut in two, so what is counted adds up
		for back := 1; back < utf8.UTFMax && offset-back >= last && offset < len(content); back++ {
			if _, size := utf8.DecodeRune(content[offset-back:]); size > back {
				whole = offset - back
				break
			}
		}
		advance(whole)
		out[i] = Position{Line: at.Line, Column: at.Column + utf8.RuneCount(content[whole:offset])}
	}
	return out
}

// Line gives the text of a line (from 1) without its end; empty if there is no such line.
func Line(content []byte, line int) string {
	for ; line > 1; line-- {
		next := bytes.IndexByte(content, '\n')
		if next < 0 {
			return ""
		}
		content = content[next+1:]
	}
	if end := bytes.IndexByte(content, '\n'); end >= 0 {
		content = content[:end]
	}
	return strings.TrimSuffix(string(content), "\r")
}
