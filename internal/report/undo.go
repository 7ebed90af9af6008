package report

import (
	"fmt"
	"io"
	"time"

	"crookedshelf/internal/journal"
)

// UndoDocument is the JSON form of what an undo did.
type UndoDocument struct {
	Title string   `json:"title"` // of the straighten that was taken back, or of the last of several
	Files int      `json:"files"`
	Kept  []string `json:"kept"`
	Taken []string `json:"taken"` // the titles of all that was taken back, the last first
}

// NewUndo makes the document.
func NewUndo(out []*journal.Outcome) UndoDocument {
	d := UndoDocument{Title: out[0].Record.Title, Kept: []string{}, Taken: []string{}}
	for _, u := range out {
		d.Files += len(u.Record.Files)
		d.Kept = append(d.Kept, u.Kept...)
		d.Taken = append(d.Taken, u.Record.Title)
	}
	return d
}

const stamp = "2006-01-02 15:04 MST"

// Undo writes what an undo did.
func Undo(out io.Writer, outcomes []*journal.Outcome, style Style) error {
	p := newPrinter(out)
	look := style.palette()
	for _, u := range outcomes {
		for _, k := range u.Kept {
			p.line("%s %s", look.bad("kept:"), Clean(k))
		}
		if !style.Quiet {
			p.line("%s %s (%s, of %s).", look.good("Put back"), Count(len(u.Record.Files)-len(u.Kept), "file"), Clean(u.Record.Title), u.Record.Time.Format(stamp))
		}
	}
	return p.done()
}

// StraightenDocument is the JSON form of a straighten that can be taken back.
type StraightenDocument struct {
	Title string    `json:"title"`
	Time  time.Time `json:"time"`
	Step  int       `json:"step,omitempty"`
	Files int       `json:"files"`
	// Unfinished: it was stopped half way.
	Unfinished bool `json:"unfinished"`
}

// NewStraightens makes the documents, the oldest first.
func NewStraightens(records []*journal.Record) []StraightenDocument {
	out := []StraightenDocument{}
	for _, r := range records {
		out = append(out, StraightenDocument{r.Title, r.Time, r.Step, len(r.Files), r.State == journal.Begun})
	}
	return out
}

// Straightens lists what can be taken back, the last first.
func Straightens(out io.Writer, records []*journal.Record, style Style) error {
	p := newPrinter(out)
	look := style.palette()
	if len(records) == 0 {
		p.line("There is nothing to undo here.")
	}
	for i := len(records) - 1; i >= 0; i-- {
		r := records[i]
		state := ""
		if r.State == journal.Begun {
			state = "  " + look.bad("stopped half way")
		}
		p.line("%s  %s  %s%s", look.faint(r.Time.Format(stamp)), Clean(r.Title), look.faint(fmt.Sprintf("(%s)", Count(len(r.Files), "file"))), state)
	}
	return p.done()
}
