package report

import (
	"fmt"
	"io"
	"strings"

	"github.com/aymanbagabas/go-udiff"

	"crookedshelf/internal/plan"
)

// Patch writes an outcome as a patch with renames, as git-apply takes it (git-diff, section GENERATING PATCH TEXT WITH
// -P). A move through a place that another file leaves is no trouble: git looks at all old names before it writes.
func Patch(out io.Writer, made *plan.Plan, outcome *plan.Outcome) error {
	edits := map[string]plan.FileEdits{}
	for _, e := range made.Edits {
		edits[e.Path] = e
	}
	for _, f := range outcome.Files {
		if f.From == "" {
			if err := newFile(out, f); err != nil {
				return err
			}
			continue
		}
		if f.To == "" {
			if err := oldFile(out, f); err != nil {
				return err
			}
			continue
		}
		from, to := gitQuote("a/"+f.From), gitQuote("b/"+f.To)
		var head strings.Builder
		fmt.Fprintf(&head, "diff --git %s %s\n", from, to)
		if f.From != f.To {
			fmt.Fprintf(&head, "similarity index %d%%\nrename from %s\nrename to %s\n", similarity(f, edits[f.From]),
				gitQuote(f.From), gitQuote(f.To))
		}
		if len(f.Edits) > 0 {
			var changes []udiff.Edit
			for _, c := range edits[f.From].Changes {
				changes = append(changes, udiff.Edit{Start: c.Span.Start, End: c.Span.End, New: c.New})
			}
			text, err := udiff.ToUnified(from, to, string(f.Before), changes, udiff.DefaultContextLines)
			if err != nil {
				return fmt.Errorf("%s: %w", f.From, err)
			}
			head.WriteString(text)
		}
		if _, err := io.WriteString(out, head.String()); err != nil {
			return err
		}
	}
	return nil
}

// newFile writes a file that is not there yet.
func newFile(out io.Writer, f plan.OutcomeFile) error {
	name := gitQuote("b/" + f.To)
	if _, err := fmt.Fprintf(out, "diff --git %s %s\nnew file mode 100644\n", gitQuote("a/"+f.To), name); err != nil ||
		len(f.New) == 0 {
		return err
	}
	text, err := udiff.ToUnified("/dev/null", name, "", []udiff.Edit{{New: string(f.New)}}, udiff.DefaultContextLines)
	if err != nil {
		return fmt.Errorf("%s: %w", f.To, err)
	}
	_, err = io.WriteString(out, text)
	return err
}

// oldFile writes a file that goes.
func oldFile(out io.Writer, f plan.OutcomeFile) error {
	name := gitQuote("a/" + f.From)
	if _, err := fmt.Fprintf(out, "diff --git %s %s\ndeleted file mode 100644\n", name,
		gitQuote("b/"+f.From)); err != nil || len(f.Before) == 0 {
		return err
	}
	text, err := udiff.ToUnified(name, "/dev/null", string(f.Before), []udiff.Edit{{Start: 0, End: len(f.Before)}},
		udiff.DefaultContextLines)
	if err != nil {
		return fmt.Errorf("%s: %w", f.From, err)
	}
	_, err = io.WriteString(out, text)
	return err
}

// similarity is the share of bytes that stay, in per cent; 100 only if all do.
func similarity(f plan.OutcomeFile, e plan.FileEdits) int {
	changed, after := 0, len(f.Before)
	for _, c := range e.Changes {
		changed += max(c.Span.Len(), len(c.New))
		after += len(c.New) - c.Span.Len()
	}
	if changed == 0 {
		return 100
	}
	size := max(len(f.Before), after, 1)
	return max(0, min(99, 100-(changed*100+size-1)/size))
}

// gitQuote writes a path as git does with core.quotePath off: in quotes with C escapes if it holds a control character,
// a quote or a backslash.
func gitQuote(p string) string {
	if !strings.ContainsFunc(p, func(r rune) bool { return r < 0x20 || r == 0x7f || r == '"' || r == '\\' }) {
		return p
	}
	var out strings.Builder
	out.WriteByte('"')
	for i := range len(p) {
		switch c := p[i]; {
		case c == '"' || c == '\\':
			out.WriteByte('\\')
			out.WriteByte(c)
		case c == '\n':
			out.WriteString(`\n`)
		case c == '\t':
			out.WriteString(`\t`)
		case c < 0x20 || c == 0x7f:
			fmt.Fprintf(&out, `\%03o`, c)
		default:
			out.WriteByte(c)
		}
	}
	out.WriteByte('"')
	return out.String()
}
