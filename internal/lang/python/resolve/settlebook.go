package resolve

import (
	"bytes"
	"strings"

	"crookedshelf/internal/lang"
)

// settleNotebook takes of the edits of a notebook those that stay within one string of its JSON.
func settleNotebook(q lang.Settling, edits []lang.Settled, failed []lang.Failed) ([]lang.Settled, []lang.Failed) {
	kept := edits[:0]
	for _, e := range edits {
		if strings.ContainsAny(e.Edit.New, "\n\\") || bytes.ContainsAny(q.Content[e.Edit.Span.Start:e.Edit.Span.End],
			"\n\\") {
			for _, i := range e.Mentions {
				failed = append(failed, lang.Failed{Mention: i})
			}
			continue
		}
		e.Edit.New = strings.ReplaceAll(e.Edit.New, `"`, `\"`)
		kept = append(kept, e)
	}
	return kept, failed
}
