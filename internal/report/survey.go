package report

import (
	"fmt"
	"io"
	"strings"

	"crookedshelf/internal/engine"
)

// mostRows bounds the lists of a survey that have no natural end.
const mostRows = 12

// Survey writes a tour, folder by folder, to fit a terminal.
func Survey(out io.Writer, s *engine.Survey, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	warnings(p, s.Warnings, look)
	if style.Quiet {
		return p.done()
	}
	p.line("%s  %s, %s", look.head(Clean(s.Title)), Count(s.Files, "file"), Count(s.Lines, "line"))
	for _, e := range s.Ecosystems {
		where := ""
		if e.Dir != "." {
			where = "in " + Clean(e.Dir) + "/, "
		}
		p.line("  %s  %s", e.Name, look.faint(where+"by "+Clean(e.By)))
	}
	p.line("%s", look.faint("  "+shares(s.Languages, 6)))
	p.line("")
	commands(p, s, look)
	roles(p, look, "at the top", s.Top)
	folders(p, s, look)
	list(p, look, "starts at", len(s.Entries), func(i int) string {
		return fmt.Sprintf("%s  %s", Clean(s.Entries[i].Path), look.faint("by "+Clean(s.Entries[i].By)))
	})
	list(p, look, "bound to their place", len(s.Fixed), func(i int) string {
		f := s.Fixed[i]
		name := Clean(f.Name)
		switch {
		case strings.HasSuffix(f.Name, "/"):
		case f.Count > 1:
			name = fmt.Sprintf("%d times %s", f.Count, name)
		}
		return fmt.Sprintf("%s  %s", name, look.faint(f.Why))
	})
	list(p, look, "settings", len(s.Settings), func(i int) string {
		return fmt.Sprintf("%s  %s", Clean(s.Settings[i].Path),
			look.faint("names "+Count(s.Settings[i].Names, "place")))
	})
	if len(s.Packages) > 1 {
		list(p, look, "packages", len(s.Packages), func(i int) string { return onePackage(s.Packages[i], look) })
	}
	list(p, look, "who uses whom", len(s.Uses), func(i int) string {
		u := s.Uses[i]
		return fmt.Sprintf("%s %s %s  %s", Clean(top(u.From)), look.faint("->"), Clean(top(u.To)),
			look.faint(fmt.Sprint(u.Count)))
	})
	list(p, look, "changes most", min(5, len(s.Changes)), func(i int) string {
		return fmt.Sprintf(
			"%s  %s",
			Clean(top(s.Changes[i].Path)),
			look.faint("in "+Count(s.Changes[i].Commits, "commit")+" of the last"),
		)
	})
	if n := len(s.Unreferenced.Files); n > 0 {
		list(p, look, "nothing refers to", n, func(i int) string { return Clean(s.Unreferenced.Files[i]) })
		p.line("  %s", look.faint(s.Unreferenced.Known))
	}
	list(p, look, "in a circle", len(s.Circles), func(i int) string { return strings.Join(s.Circles[i], ", ") })
	list(p, look, "in the way of packages", len(s.InTheWay), func(i int) string {
		u := s.InTheWay[i]
		return fmt.Sprintf("%s %s %s  %s", Clean(top(u.From)), look.faint("->"), Clean(top(u.To)),
			look.faint(fmt.Sprintf("%s, first %s", Count(u.Count, "reference"), Clean(u.First))))
	})
	roles(p, look, "on the disk, and not a part of it", s.Outside)
	return p.done()
}

// onePackage says who a package is, and which others of the project it uses.
func onePackage(t engine.PackageTour, look palette) string {
	uses := "uses no other"
	if len(t.Uses) > 0 {
		uses = "uses " + Clean(strings.Join(t.Uses, ", "))
	}
	if t.Circle {
		uses += ", in a circle"
	}
	asks := ", asks for none"
	switch {
	case t.Asks > 0:
		asks = ", asks for " + Count(t.Asks, "package")
	case t.Asks < 0:
		asks = ""
	}
	return fmt.Sprintf("%s  %s", Clean(t.Name), look.faint(fmt.Sprintf("%s, %s%s; %s", Clean(t.Manifest), Count(t.Files,
		"file"),
		asks, uses)))
}

// commands lists what one types to run something.
func commands(p *printer, s *engine.Survey, look palette) {
	names := make([]string, len(s.Commands))
	for i, c := range s.Commands {
		names[i] = Clean(c.Name)
	}
	width := widest(names, 30)
	list(p, look, "commands", len(names), func(i int) string {
		return pad(names[i], width) + "  " + look.faint(cutAt(Clean(s.Commands[i].Runs), 90))
	})
}

// roles lists files with what they are.
func roles(p *printer, look palette, heading string, all []engine.Role) {
	if len(all) == 0 {
		return
	}
	names := make([]string, len(all))
	for i, r := range all {
		names[i] = Clean(r.Path)
	}
	width := widest(names, 34)
	p.line("%s", look.head(heading))
	for i, r := range all {
		says := r.Is
		if r.By != "" && !strings.HasPrefix(r.By, "people") {
			says += "; written by " + r.By
		}
		says = cutAt(Clean(says), 100)
		if r.Secret {
			says = look.bad(says)
		}
		p.line("  %s  %s", pad(names[i], width), says)
	}
	p.line("")
}

// placeOf says what binds a file or folder to its place, and what moves it.
func placeOf(r engine.Role) (says []string) {
	if r.Place != "" {
		says = append(says, "its place: "+r.Place)
	}
	if r.MovedBy != "" {
		says = append(says, "moved by "+r.MovedBy)
	}
	return says
}

// cutAt shortens a text to some characters.
func cutAt(text string, most int) string {
	runes := []rune(text)
	if len(runes) <= most {
		return text
	}
	return string(runes[:most-1]) + "…"
}

func folders(p *printer, s *engine.Survey, look palette) {
	paths := make([]string, len(s.Folders))
	for i, f := range s.Folders {
		depth := strings.Count(f.Path, "/")
		paths[i] = strings.Repeat("  ", depth) + Clean(f.Path[strings.LastIndexByte(f.Path, '/')+1:]) + "/"
		if f.Path == "." {
			paths[i] = top(f.Path)
		}
	}
	width := widest(paths, 30)
	for i, f := range s.Folders {
		if f.Path == "." {
			continue // its files are listed one by one
		}
		what, evidence := f.Holds, f.Evidence
		if f.Role != nil {
			what, evidence = f.Role.Is, placeOf(*f.Role)
		}
		if f.Purpose != "" {
			what = f.Purpose
		}
		generated := ""
		if f.Generated > 0 && f.Holds != "generated files" {
			generated = fmt.Sprintf(", %d generated", f.Generated)
		}
		p.line("%s %5d %s  %s%s", pad(paths[i], width), f.Files, look.faint(pad(fmt.Sprintf("%6d", f.Lines), 7)), what,
			look.faint(generated))
		if f.Purpose == "" && len(evidence) > 0 {
			p.line("%s                %s", strings.Repeat(" ", width), look.faint(cutAt(strings.Join(evidence, "; "), 110)))
		}
	}
	p.line("")
}

// top names the root's own files.
func top(dir string) string {
	if dir == "." {
		return "(the top)"
	}
	return dir
}

func shares(all []engine.Share, most int) string {
	var out []string
	for _, s := range all[:min(most, len(all))] {
		out = append(out, fmt.Sprintf("%s %d", s.Name, s.Files))
	}
	if len(all) > most {
		out = append(out, fmt.Sprintf("and %d more", len(all)-most))
	}
	return strings.Join(out, ", ")
}

// list writes a heading and the first rows of a list.
func list(p *printer, look palette, heading string, n int, row func(i int) string) {
	if n == 0 {
		return
	}
	p.line("%s", look.head(heading))
	for i := range min(n, mostRows) {
		p.line("  %s", row(i))
	}
	if n > mostRows {
		p.line("  %s", look.faint(fmt.Sprintf("and %d more; --format json has all", n-mostRows)))
	}
	p.line("")
}
