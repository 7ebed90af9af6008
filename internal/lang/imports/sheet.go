package imports

import (
	"bytes"
	"cmp"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// Sheet is what is written into one file: edits, each with the mention that stands there, and what can't be written.
type Sheet struct {
	content []byte
	at      map[int]int // the mentions, by where they begin
	edits   []lang.Settled
	failed  []lang.Failed
}

// NewSheet makes an empty one for a file. settles says which of its mentions it is for.
func NewSheet(q lang.Settling, settles func(m *lang.Mention) bool) *Sheet {
	s := &Sheet{content: q.Content, at: map[int]int{}}
	for i := range q.Mentions {
		if settles(&q.Mentions[i]) {
			s.at[q.Mentions[i].Span.Start] = i
		}
	}
	return s
}

// Edit writes a text at a place, with the line ends of the file. What stands there already is no edit.
func (s *Sheet) Edit(at source.Span, text string) {
	if string(s.content[at.Start:at.End]) == text {
		return
	}
	if strings.Contains(text, "\n") && bytes.Contains(s.content, []byte("\r\n")) {
		text = strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\n", "\r\n")
	}
	var mentions []int
	if i, known := s.at[at.Start]; known && at.Len() > 0 {
		mentions = []int{i}
	}
	s.edits = append(s.edits, lang.Settled{Edit: source.Edit{Span: at, New: text}, Mentions: mentions})
}

// Behind writes a text behind what is written at an empty place already, if something is.
func (s *Sheet) Behind(at source.Span, text string) {
	if i := slices.IndexFunc(s.edits, func(e lang.Settled) bool { return e.Edit.Span == at }); i >= 0 {
		s.edits[i].Edit.New += text
		return
	}
	s.Edit(at, text)
}

// Covers says whether a place lies in what is written anew.
func (s *Sheet) Covers(at int) bool {
	return slices.ContainsFunc(s.edits, func(e lang.Settled) bool {
		return e.Edit.Span.Start <= at && at < e.Edit.Span.End
	})
}

// Fail notes what stands against the mention that begins at a place; against the first one, where none does.
func (s *Sheet) Fail(at int, format string, args ...any) {
	s.failed = append(s.failed, lang.Failed{Mention: s.at[at], Why: fmt.Sprintf(format, args...)})
}

// Blame says which moves are at fault for what was noted last, by their old paths.
func (s *Sheet) Blame(lost ...string) { s.failed[len(s.failed)-1].Lost = lost }

// Done gives the edits in the order of the file, or none of them where something can't be written.
func (s *Sheet) Done() ([]lang.Settled, []lang.Failed) {
	if len(s.failed) > 0 {
		return nil, s.failed
	}
	slices.SortStableFunc(s.edits, func(a, b lang.Settled) int {
		return cmp.Or(a.Edit.Span.Start-b.Edit.Span.Start, a.Edit.Span.End-b.Edit.Span.End)
	})
	return s.edits, nil
}
