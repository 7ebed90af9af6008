// Package report writes what the engine found: text for people, JSON for programs, and patches. It sees data only.
package report

import (
	"bufio"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/charmbracelet/x/ansi"
	"github.com/fatih/color"
	"github.com/mattn/go-runewidth"

	"crookedshelf/internal/show"
)

// Style says how text is written.
type Style struct {
	Color bool
	Quiet bool // only what is wrong, without headings and advice
	Short bool // long groups are cut: a person reads it on a terminal
	Whole bool // every file has a line of its own
	Width int  // of the window in cells; 0 where nobody knows
}

// mostLines is how many lines of a group are written where long groups are cut.
const mostLines = 8

// cut says how many lines of a group are written.
func (s Style) cut(n int) int {
	if s.Short && !s.Whole && n > mostLines+1 {
		return mostLines
	}
	return n
}

// more says that lines of a group were left out, and how to see them.
func more(p *printer, n int, s Style) {
	if n > 0 {
		p.line("      %s", s.palette().faint(fmt.Sprintf("and %d more; --all shows them", n)))
	}
}

// paint gives a function that writes text in a colour, or plainly.
func (s Style) paint(attributes ...color.Attribute) func(string) string {
	if !s.Color {
		return func(text string) string { return text }
	}
	c := color.New(attributes...)
	c.EnableColor()
	return func(text string) string { return c.Sprint(text) }
}

// palette is what each part of a report looks like.
type palette struct{ head, path, home, faint, bad, good func(string) string }

func (s Style) palette() palette {
	return palette{
		head: s.paint(color.Bold), path: s.paint(), home: s.paint(color.FgGreen), faint: s.paint(color.Faint),
		bad: s.paint(color.FgRed), good: s.paint(color.FgGreen, color.Bold),
	}
}

// Clean makes a path or a sentence safe to show in a line.
func Clean(p string) string { return show.Name(p) }

// Count writes a number with its noun: 1 file, 2 files.
func Count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + noun + "s"
}

// printer gathers lines, and keeps the first error until it is done.
type printer struct {
	out   *bufio.Writer
	width int // of the window; 0 where nobody knows, and then no line is broken
}

func newPrinter(out io.Writer, style Style) *printer {
	return &printer{bufio.NewWriterSize(out, 1<<16), style.Width}
}

func (p *printer) line(format string, args ...any) {
	if p.width > 0 {
		p.words(fmt.Sprintf(format, args...))
		return
	}
	fmt.Fprintf(p.out, format, args...)
	p.out.WriteByte('\n')
}

// arrow writes a row of a name, where it leads, and a note. What is wider than the window goes on in a line of its own.
func (p *printer) arrow(indent, name string, width int, to, note string, style Style) {
	look := style.palette()
	name, to, note = pad(name, width), Clean(to), strings.TrimRight("  "+note, " ")
	if whole := indent + name + " -> " + to + note; style.Width == 0 || cells.StringWidth(whole) <= style.Width {
		p.words(indent, name, " ", look.faint("->"), " ", look.home(to), look.faint(note))
		return
	}
	p.words(indent, strings.TrimRight(name, " "))
	if whole := indent + "  -> " + to + note; cells.StringWidth(whole) <= style.Width {
		p.words(indent, "  ", look.faint("->"), " ", look.home(to), look.faint(note))
		return
	}
	p.words(indent, "  ", look.faint("->"), " ", look.home(to))
	if note != "" {
		p.words(indent, "   ", look.faint(note))
	}
}

// words writes texts as one line. Where there are very many lines it takes less time than line.
func (p *printer) words(texts ...string) {
	if p.width > 0 {
		texts = []string{folded(strings.Join(texts, ""), p.width)}
	}
	for _, t := range texts {
		p.out.WriteString(t)
	}
	p.out.WriteByte('\n')
}

// folded breaks a line that is wider than the window. It goes on below its last column, so that a table stays one.
func folded(line string, width int) string {
	if ansi.StringWidth(line) <= width {
		return line
	}
	hang := lastColumn(ansi.Strip(line), width/2)
	head := ansi.Truncate(line, hang, "")
	rest := ansi.Wrap(ansi.TruncateLeft(line, hang, ""), width-hang, "")
	return head + strings.ReplaceAll(rest, "\n", "\n"+strings.Repeat(" ", hang))
}

// lastColumn is the cell in which the last column begins that does so before a limit. Columns are apart by two blanks
// or more; a line without columns goes on two cells further in than it began.
func lastColumn(line string, limit int) int {
	indent := len(line) - len(strings.TrimLeft(line, " "))
	column := indent + 2
	for at := indent; at+2 < len(line); at++ {
		if line[at:at+2] != "  " || line[at+2] == ' ' {
			continue
		}
		if cell := cells.StringWidth(line[:at+2]); cell <= limit {
			column = cell
		}
	}
	return min(column, limit)
}

// wrap breaks a text at blanks into lines of at most so many cells.
func wrap(text string, width int) []string {
	return strings.Split(ansi.Wordwrap(text, width, ""), "\n")
}

// done writes what has been gathered.
func (p *printer) done() error { return p.out.Flush() }

// cells measures texts. What has no width of its own is narrow, whatever the language of the system: a report is the
// same everywhere.
var cells = &runewidth.Condition{StrictEmojiNeutral: true}

// pad fills a text with blanks up to a width in cells of a terminal.
func pad(text string, width int) string {
	if n := cells.StringWidth(text); n < width {
		return text + strings.Repeat(" ", width-n)
	}
	return text
}

// widest is the width of the widest text in cells, at most limit.
func widest(texts []string, limit int) int {
	w := 0
	for _, t := range texts {
		if n := cells.StringWidth(t); n <= limit {
			w = max(w, n)
		}
	}
	return w
}
