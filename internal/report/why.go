package report

import (
	"fmt"
	"io"
	"strings"

	"crookedshelf/internal/engine"
)

// Why writes what is known of one file's place.
func Why(out io.Writer, w *engine.Why, convention string, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	at := func(line int) string {
		if line == 0 {
			return ""
		}
		return look.faint(fmt.Sprintf("%s:%d", convention, line))
	}
	if w.Exists {
		p.line("%s  %s", look.head(Clean(w.Path)), w.State)
	} else {
		p.line("%s  %s", look.head(Clean(w.Path)), "no such file: a new one of this name")
	}
	switch {
	case w.Shelf != "" && w.State != "homeless":
		p.line("  belongs on %s, as %s  %s", w.Shelf, look.home(Clean(w.Home)), at(w.Line))
		if w.Owner != "" {
			p.line("  it is a companion of %s and goes with it", Clean(w.Owner))
		}
		if w.Purpose != "" {
			p.line("  %s: %s", w.Shelf, w.Purpose)
		}
		if w.Because != "" {
			p.line("  %s", w.Because)
		}
		for _, c := range w.With {
			p.line("  %s goes with it", Clean(c))
		}
	case w.State == "homeless":
		p.line("  no shelf takes it")
	case w.State == "excused":
		p.line("  an exception excuses it  %s", at(w.Line))
	case w.State == "fixed":
		p.line("  %s, so it is bound to its place whatever a shelf asks for; an entry that bears its very name takes "+
			"it all the same", w.Because)
	case w.State == "left alone":
		p.line("  an entry of leave takes it  %s", at(w.Line))
	default:
		p.line("  the convention does not speak of this place")
	}
	if w.Role != nil {
		says := append([]string{w.Role.Is}, placeOf(*w.Role)...)
		p.line("  %s: %s", Clean(w.Role.Known), Clean(strings.Join(says, "; ")))
	}
	if w.Fixed != "" {
		p.line("  %s", w.Fixed)
	}
	for _, n := range w.Near {
		p.line("  %s %s: %s  %s", look.faint("near:"), n.Shelf, n.Reason, at(n.Line))
	}
	if !w.Exists {
		return p.done()
	}
	p.line("")
	uses(p, look, "referred to by", w.Users)
	uses(p, look, "refers to", w.Uses)
	switch {
	case w.Blocked != "":
		p.line("%s  %s", look.bad("it can't be moved"), w.Blocked)
	case w.State == "misplaced":
		p.line("moving it with all that moves edits %s", Count(len(w.Edits), "file"))
		for _, e := range w.Edits {
			p.line("  %s", Clean(e))
		}
	}
	return p.done()
}

func uses(p *printer, look palette, what string, all []engine.Use) {
	p.line("%s %d", what, len(all))
	paths := make([]string, len(all))
	for i, u := range all {
		paths[i] = Clean(u.Path)
	}
	width := widest(paths, columnLimit)
	for i, u := range all {
		likely := ""
		if u.Likely {
			likely = look.faint("  likely")
		}
		p.line("  %s  %s  %s%s", pad(paths[i], width), look.faint(pad(u.At, 6)), Clean(u.Text), likely)
	}
}
