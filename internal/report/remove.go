package report

import (
	"io"

	"crookedshelf/internal/engine"
)

// Removal writes what removing files does, and what needs those that stay.
func Removal(out io.Writer, r *engine.Removal, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	warnings(p, r.Warnings, look)
	for _, n := range r.Needed {
		p.line("%s  %s", look.bad(Clean(n.Path)), look.faint("is needed by"))
		cut := style.cut(len(n.By))
		for _, by := range n.By[:cut] {
			p.line("  %s", Clean(by))
		}
		more(p, len(n.By)-cut, style)
	}
	if len(r.Needed) > 0 {
		p.line("Nothing was removed: set these right first.")
		return p.done()
	}
	if style.Quiet {
		return p.done()
	}
	p.line("%s", look.head("removes"))
	cut := style.cut(len(r.Removes))
	for _, file := range r.Removes[:cut] {
		p.line("  %s", Clean(file))
	}
	more(p, len(r.Removes)-cut, style)
	if len(r.Edits) > 0 {
		p.line("%s", look.head("takes out of lists"))
		for _, e := range r.Edits {
			for _, text := range e.Texts {
				p.line("  %s  %s", Clean(e.Path), Clean(text))
			}
		}
	}
	if len(r.Mentions) > 0 {
		p.line("%s  %s", look.head("still named"), look.faint("texts that stay as they are"))
		cut := style.cut(len(r.Mentions))
		for _, m := range r.Mentions[:cut] {
			p.line("  %s  %s", Clean(m.At), Clean(m.Text))
		}
		more(p, len(r.Mentions)-cut, style)
	}
	return p.done()
}

// Beginning writes what a new instance begins with.
func Beginning(out io.Writer, b *engine.Beginning, style Style) error {
	p := newPrinter(out, style)
	if style.Quiet {
		return p.done()
	}
	look := style.palette()
	p.line("%s  %s", look.head(Clean(b.Instance)), look.faint("a new instance of "+Clean(b.Shelf)))
	for _, file := range b.Writes {
		p.line("  %s", Clean(file))
	}
	for _, file := range b.Lists {
		p.line("%s  %s", Clean(file), look.faint("lists it then"))
	}
	return p.done()
}
