package report

import (
	"fmt"
	"io"
	"path"
	"strings"

	"crookedshelf/internal/engine"
)

// Map writes the tree of folders as they are when everything stands where it belongs, or as they are now, down to some
// levels: how many files each has, how many come or go, and what it is for.
func Map(out io.Writer, m *engine.Map, now bool, depth int, style Style) error {
	p := newPrinter(out, style)
	look := style.palette()
	crooked := 0
	for _, f := range m.Files {
		if f.State == "crooked" {
			crooked++
		}
	}
	when := "as everything stands where it belongs"
	if now {
		when = "as it is now"
	}
	p.line("%s  %s, %s", look.head(Clean(m.Title)), Count(len(m.Files), "file"), when)
	p.line("")
	var rows []folderRow
	folderRows(&rows, m.Folders(now), now, 0, depth)
	names := make([]string, len(rows))
	for i, r := range rows {
		names[i] = r.name
	}
	width := widest(names, columnLimit)
	for _, r := range rows {
		line := fmt.Sprintf("%s %6d  ", pad(r.name, width), r.files)
		marks := pad(r.marks, 9)
		if strings.HasPrefix(r.marks, "+") {
			line += look.home(marks)
		} else {
			line += look.bad(marks)
		}
		p.line("%s", strings.TrimRight(line+"  "+look.faint(Clean(r.purpose)), " "))
	}
	p.line("")
	mapUses(p, m, style)
	switch {
	case m.Bare:
		p.line("There are no shelves yet: crooked survey --draft writes a first convention.")
	case crooked > 0:
		p.line("%s, %s", look.bad(Count(crooked, "file")+" of them elsewhere"),
			"+ is what comes, - what goes. crooked map -o map.html draws it.")
	default:
		p.line("%s crooked map -o map.html draws it.", look.good("All stand where they belong."))
	}
	return p.done()
}

type folderRow struct {
	name, marks, purpose string
	files                int
}

// folderRows lists a folder and those below it. A folder that has nothing but one other stands with it in one row.
func folderRows(rows *[]folderRow, d *engine.MapFolder, now bool, level, depth int) {
	for _, below := range d.Folders {
		if below.Files == 0 { // it is gone then, or not there yet
			continue
		}
		name := path.Base(below.Path) + "/"
		for len(below.Folders) == 1 && len(below.Names) == 0 && below.Purpose == "" {
			below = below.Folders[0]
			name += path.Base(below.Path) + "/"
		}
		r := folderRow{name: strings.Repeat("  ", level) + Clean(name), purpose: below.Purpose, files: below.Files}
		switch {
		case now && below.Leaves > 0:
			r.marks = fmt.Sprintf("-%d", below.Leaves)
		case !now && below.Coming > 0:
			r.marks = fmt.Sprintf("+%d", below.Coming)
		}
		*rows = append(*rows, r)
		if level+1 < depth {
			folderRows(rows, below, now, level+1, depth)
		}
	}
}

// mapUses lists who uses whom.
func mapUses(p *printer, m *engine.Map, style Style) {
	if len(m.Uses) == 0 {
		return
	}
	look := style.palette()
	p.line("%s  %s", look.head("who uses whom"), look.faint("shelves, and how often; what may not be is marked"))
	byUser := map[string][]string{}
	var users []string
	for _, u := range m.Uses {
		if byUser[u.From] == nil {
			users = append(users, u.From)
		}
		text := fmt.Sprintf("%s %d", Clean(u.To), u.Count)
		if u.Not > 0 {
			text = look.bad(fmt.Sprintf("%s %d (%d may not)", Clean(u.To), u.Count, u.Not))
		}
		byUser[u.From] = append(byUser[u.From], text)
	}
	width, cut := widest(users, columnLimit), style.cut(len(users))
	for _, user := range users[:cut] {
		p.line("  %s %s %s", pad(Clean(user), width), look.faint("->"), strings.Join(byUser[user], ", "))
	}
	more(p, len(users)-cut, style)
	p.line("")
}
