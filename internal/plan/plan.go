// Package plan works out the moves that a convention asks for, every rewrite that they cause, and the proof that
// nothing is lost. A plan is plain data: it can be written and read back. Nothing here touches a disk.
//
// plan.go holds the data, build.go makes a plan, block.go takes moves out of it, respell.go makes the edits, prove.go
// checks the outcome, steps.go puts the moves in order, stale.go compares a stored plan with the tree.
package plan

import (
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/source"
)

// Version is the version of the plan format.
const Version = 1

// Plan is what would be done to a project.
type Plan struct {
	Version    int         `json:"plan"`
	Convention Fingerprint `json:"convention"`
	Options    Options     `json:"options"`
	Steps      []Step      `json:"steps"`
	Edits      []FileEdits `json:"edits"`
	Writes     []NewFile   `json:"writes"` // files that are not there yet, in the order of their paths
	// Removes are files that the convention discards, and those that only marked a folder out of which everything has
	// gone.
	Removes []Removed `json:"removes"`
	Blocked []Blocked `json:"blocked"`
	// Leftovers are texts that still name what moves when all is done.
	Leftovers []Leftover `json:"leftovers"`
	Remarks   []Remark   `json:"remarks"`
	Warnings  []string   `json:"warnings"`
	// Homeless is how many files have no shelf, so that no plan moves them.
	Homeless int `json:"homeless"`
}

// Options are what was asked of the plan beside the convention.
type Options struct {
	Likely    bool     `json:"likely,omitempty"`
	Addresses bool     `json:"addresses,omitempty"`
	Stored    bool     `json:"stored,omitempty"`
	Rename    bool     `json:"rename,omitempty"`
	Only      []string `json:"only,omitempty"`
	Asked     []Asked  `json:"asked,omitempty"` // moves that somebody asked for, in the order of From
}

// Asked is a move of one file that somebody asks for, wherever the convention wants it.
type Asked struct {
	From string `json:"from"`
	To   string `json:"to"`
	// With is the file that it belongs to by its name, and goes with; empty for one that was named.
	With string `json:"with,omitempty"`
}

// Fingerprint is a file with the SHA-256 of its bytes, in hexadecimal.
type Fingerprint struct {
	Path   string `json:"path"`
	SHA256 string `json:"sha256"`
}

// Step is a group of moves that belong together. Steps are in the order of dependency: what depends on least is first.
type Step struct {
	Title string `json:"title"`
	Moves []Move `json:"moves"`
}

// Move takes a file to its home. Line is the line of the convention that says so.
type Move struct {
	From   string `json:"from"`
	To     string `json:"to"`
	Shelf  string `json:"shelf"`
	Line   int    `json:"line"`
	SHA256 string `json:"sha256"` // of the file before
}

// FileEdits are the edits of one file. Path is its path before the moves.
type FileEdits struct {
	Path    string   `json:"path"`
	SHA256  string   `json:"sha256"` // of the file before
	After   string   `json:"after"`  // SHA-256 of the file when it is done
	Changes []Change `json:"changes"`
}

// Change is one edit with what it stood for. Old and New are the text as it stands in the file.
type Change struct {
	Span   source.Span `json:"span"`
	Line   int         `json:"line"`
	Kind   string      `json:"kind"`
	Old    string      `json:"old"`
	New    string      `json:"new"`
	Target string      `json:"target"` // the path that it leads to, after the moves
}

// Indents says whether the edit only changes blanks at the beginning of a line.
func (c *Change) Indents() bool {
	return strings.TrimSpace(c.Old) == "" && strings.TrimSpace(c.New) == ""
}

// NewFile is a file that is written: one that the convention requires, with the line that says so, or one without which
// a language would not find what has moved.
type NewFile struct {
	Path    string `json:"path"`
	Content string `json:"content"`
	Shelf   string `json:"shelf"`
	Line    int    `json:"line"`
}

// Blocked is a move that is not made.
type Blocked struct {
	From   string `json:"from"`
	To     string `json:"to"`
	Shelf  string `json:"shelf"`
	Line   int    `json:"line"`
	Reason string `json:"reason"`
	// Round is the attempt at a plan in which it was taken out, from 1: what is blocked in a later one may be so for
	// the sake of an earlier.
	Round int `json:"round"`
}

// Leftover and Remark are as the carrying out gives them.
type (
	Leftover = carry.Leftover
	Remark   = carry.Remark
)

// Moved makes a plan one of rewrites alone: its moves were made by hand. now gives where each file is.
func (p *Plan) Moved(outcome *Outcome, now map[string]string) {
	p.Steps = []Step{}
	for i := range p.Edits {
		if to, moved := now[p.Edits[i].Path]; moved {
			p.Edits[i].Path = to
		}
	}
	outcome.Files = slices.DeleteFunc(outcome.Files, func(f OutcomeFile) bool { return f.From != "" && len(f.Edits) == 0 })
	for i := range outcome.Files {
		if to, moved := now[outcome.Files[i].From]; moved {
			outcome.Files[i].From = to
		}
	}
}

// Moves are the moves of all steps, in order.
func (p *Plan) Moves() []Move {
	var out []Move
	for _, s := range p.Steps {
		out = append(out, s.Moves...)
	}
	return out
}

// Empty says whether the plan changes nothing.
func (p *Plan) Empty() bool {
	return len(p.Steps) == 0 && len(p.Edits) == 0 && len(p.Writes) == 0 && len(p.Removes) == 0
}

// Changes counts the single edits.
func (p *Plan) Changes() int {
	n := 0
	for _, e := range p.Edits {
		for i := range e.Changes {
			if !e.Changes[i].Indents() {
				n++
			}
		}
	}
	return n
}

// Rewrites says whether an edit touches a place of the file before.
func (e FileEdits) Rewrites(at source.Span) bool {
	i, _ := slices.BinarySearchFunc(e.Changes, at.Start+1, func(c Change, end int) int {
		return cmp.Compare(c.Span.End, end)
	})
	return i < len(e.Changes) && e.Changes[i].Span.Start < at.End
}

// SourceEdits are the edits of the file in the form that source.Apply takes.
func (e FileEdits) SourceEdits() []source.Edit {
	out := make([]source.Edit, len(e.Changes))
	for i, c := range e.Changes {
		out[i] = source.Edit{Span: c.Span, New: c.New}
	}
	return out
}

// Sum is the SHA-256 of content in hexadecimal.
func Sum(content []byte) string {
	sum := sha256.Sum256(content)
	return hex.EncodeToString(sum[:])
}
