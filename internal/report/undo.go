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
	p := newPrinter(out, style)
	look := style.palette()
	for _, u := range outcomes {
		for _, k := range u.Kept {
			p.line("%s %s", look.bad("kept:"), Clean(k))
		}
		if !style.Quiet {
			p.line("%s %s (%s, of %s).", look.good("Put back"), Count(len(u.Record.Files)-len(u.Kept), "file"),
				Clean(u.Record.Title), u.Record.Time.Time().Format(stamp))
		}
	}
	return p.done()
}

// StraightenDocument is the JSON form of a record of the journal.
type StraightenDocument struct {
	Record int       `json:"record"` // its number
	Title  string    `json:"title"`
	Time   time.Time `json:"time"`
	Step   int       `json:"step,omitempty"`
	Files  int       `json:"files"`
	// Unfinished: the straighten was stopped half way, or its undo was.
	Unfinished bool `json:"unfinished"`
	// Kept: it was taken back, and its old contents are kept since somebody had changed files.
	Kept   bool   `json:"kept"`
	Damage string `json:"damage,omitempty"` // what can't be read
}

// NewStraightens makes the documents, the oldest first.
func NewStraightens(records []*journal.Record) []StraightenDocument {
	out := []StraightenDocument{}
	for _, r := range records {
		d := StraightenDocument{r.Number(), r.Title, r.Time.Time(), r.Step, len(r.Files), r.Pending(),
			r.State == journal.Undone, ""}
		if r.Damage != nil {
			d.Damage = r.Damage.Error()
		}
		out = append(out, d)
	}
	return out
}

// Straightens lists the records of the journal, the last first.
func Straightens(out io.Writer, records []*journal.Record, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	if len(records) == 0 {
		p.line("There is nothing to undo here.")
	}
	for i := len(records) - 1; i >= 0; i-- {
		r := records[i]
		if r.Damage != nil {
			p.line("record %d  %s", r.Number(), look.bad(Clean("can't be used: "+r.Damage.Error())))
			continue
		}
		state := ""
		switch r.State {
		case journal.Begun:
			state = "  " + look.bad("stopped half way")
		case journal.Undoing:
			state = "  " + look.bad("its undo was stopped half way")
		case journal.Undone:
			state = "  " + look.faint("taken back; kept for the old contents of files that were changed meanwhile")
		}
		p.line("record %d  %s  %s  %s%s", r.Number(), look.faint(r.Time.Time().Format(stamp)), Clean(r.Title),
			look.faint(fmt.Sprintf("(%s)", Count(len(r.Files), "file"))), state)
	}
	return p.done()
}

// VerifiedDocument is the JSON form of what a look at one record found.
type VerifiedDocument struct {
	Record int      `json:"record"`
	Title  string   `json:"title"`
	Wrong  []string `json:"wrong"`
}

// NewVerified makes the documents, the oldest record first.
func NewVerified(found []journal.Verified) []VerifiedDocument {
	out := []VerifiedDocument{}
	for _, v := range found {
		out = append(out, VerifiedDocument{v.Record.Number(), v.Record.Title, append([]string{}, v.Wrong...)})
	}
	return out
}

// Verified writes what a look at every record found.
func Verified(out io.Writer, found []journal.Verified, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	if len(found) == 0 {
		p.line("The journal is empty.")
	}
	for _, v := range found {
		of := fmt.Sprintf("record %d", v.Record.Number())
		if v.Record.Title != "" { // it is in the part that may be damaged
			of += "  " + Clean(v.Record.Title)
		}
		if len(v.Wrong) == 0 {
			p.line("%s  %s", of, look.good("whole"))
		}
		for _, w := range v.Wrong {
			p.line("%s  %s", of, look.bad(Clean(w)))
		}
	}
	return p.done()
}
