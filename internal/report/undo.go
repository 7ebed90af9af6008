package report

import (
	"io"

	"crookedshelf/internal/journal"
)

// UndoDocument is the JSON form of what an undo did.
type UndoDocument struct {
	Title string   `json:"title"` // of the straighten that was taken back
	Files int      `json:"files"`
	Kept  []string `json:"kept"`
}

// NewUndo makes the document.
func NewUndo(u *journal.Outcome) UndoDocument {
	return UndoDocument{Title: u.Record.Title, Files: len(u.Record.Files), Kept: append([]string{}, u.Kept...)}
}

// Undo writes what an undo did.
func Undo(out io.Writer, u *journal.Outcome, style Style) error {
	p := &printer{out: out}
	look := style.palette()
	for _, k := range u.Kept {
		p.line("%s %s", look.bad("kept:"), Clean(k))
	}
	if !style.Quiet {
		p.line("%s %s (%s, of %s).", look.good("Put back"), Count(len(u.Record.Files)-len(u.Kept), "file"), u.Record.Title, u.Record.Time.Format("2006-01-02 15:04 MST"))
	}
	return p.err
}
