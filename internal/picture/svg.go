// Package picture draws a map of a project: as one SVG, and as one page that needs nothing else.
package picture

import (
	"bytes"
	_ "embed"
	"encoding/xml"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/engine"
)

// row is a shelf, or today a folder, with its files.
type row struct {
	name, about    string
	right, crooked int      // files that stand where they belong, and that do not
	from           []string // where the crooked ones lie, or go
	crookedWord    string   // of what the second bar counts
}

// use is an arrow between rows.
type use struct{ from, to, count, not int }

// The sizes of the picture, in pixels.
const (
	width    = 1240
	top      = 96
	rowStep  = 52
	left     = 40
	barLeft  = 470
	barRoom  = 250
	arcsLeft = 800
	widest   = 400 // of an arc
)

// SVG draws the shelves of a project, what stands on them and what belongs there, and who uses whom; or now, its
// folders as they are.
func SVG(out io.Writer, m *engine.Map, now bool) error {
	rows, uses := shelves(m)
	subtitle := "the shelves: what stands on them, and what lies elsewhere"
	if now {
		rows, uses = folders(m)
		subtitle = "the folders as they are: what stands right, and what goes elsewhere"
	}
	most := 1
	for _, r := range rows {
		most = max(most, r.right+r.crooked)
	}
	height := top + max(1, len(rows))*rowStep + 70
	var c canvas
	fmt.Fprintf(&c, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" width="%d" height="%d" role="img" `,
		width, height, width, height)
	fmt.Fprintf(&c, "aria-labelledby=\"t d\">\n<title id=\"t\">%s</title>\n<desc id=\"d\">%s</desc>\n",
		escaped(m.Title), escaped(subtitle))
	fmt.Fprintf(&c, "<style>\n%s</style>\n", look)
	c.WriteString(`<rect class="ground" width="100%" height="100%"/>`)
	c.text("title", left, 44, m.Title)
	c.text("quiet", left, 68, subtitle)
	c.WriteByte('\n')
	for i, r := range rows {
		c.row(r, top+i*rowStep, most)
	}
	if len(rows) == 0 {
		c.text("quiet", left, top+24, "No file stands on a shelf.")
	}
	// what may not be is on top
	slices.SortStableFunc(uses, func(a, b use) int { return min(a.not, 1) - min(b.not, 1) })
	for _, u := range uses {
		c.use(u, rows)
	}
	c.legend(height-34, now, len(uses) > 0)
	c.WriteString("</svg>\n")
	_, err := out.Write(c.Bytes())
	return err
}

// look is the style of the picture, by day and by night.
//
//go:embed shelves.css
var look string

// canvas is a picture in the making.
type canvas struct{ bytes.Buffer }

func (c *canvas) text(class string, x, y int, says string) {
	fmt.Fprintf(c, `<text class="%s" x="%d" y="%d">%s</text>`, class, x, y, escaped(says))
}

func (c *canvas) bar(class string, x, y, width int) {
	fmt.Fprintf(c, `<rect class="%s" x="%d" y="%d" width="%d" height="12" rx="2"/>`, class, x, y, width)
}

// group begins what has one title, which a reader without the picture is told; it ends with </g>.
func (c *canvas) group(title string) { fmt.Fprintf(c, "<g><title>%s</title>", escaped(title)) }

func (c *canvas) row(r row, y, most int) {
	sum := r.right + r.crooked
	size := func(n int) int {
		if n == 0 {
			return 0
		}
		return max(4, n*barRoom/most)
	}
	c.group(fmt.Sprintf("%s: %d stand right, %d %s%s", r.name, r.right, r.crooked, r.crookedWord, listed(r.from)))
	fmt.Fprintf(c, `<line class="line" x1="%d" x2="%d" y1="%d" y2="%d"/>`, left, arcsLeft-20, y-14, y-14)
	c.text("name", left, y+6, cut(r.name, 46))
	c.text("quiet", left, y+25, cut(r.about, 62))
	c.bar("right", barLeft, y-4, size(r.right))
	c.bar("crooked", barLeft+size(r.right), y-4, size(r.crooked))
	counts := fmt.Sprint(sum)
	if r.crooked > 0 {
		counts = fmt.Sprintf("%d ✓  %d ↷", r.right, r.crooked)
	}
	c.text("quiet", barLeft+size(r.right)+size(r.crooked)+8, y+7, counts)
	c.text("quiet", barLeft, y+25, cut(listed(r.from), 42))
	c.WriteString("</g>\n")
}

// listed says where crooked files lie, or where they go.
func listed(places []string) string {
	if len(places) == 0 {
		return ""
	}
	return " " + strings.Join(places, ", ")
}

// use draws an arc from one row to another, on the right side of both.
func (c *canvas) use(u use, rows []row) {
	from, to := top+u.from*rowStep, top+u.to*rowStep
	reach := arcsLeft + 24 + min(widest, 26*abs(u.from-u.to))
	title := fmt.Sprintf("%s uses %s %d times", rows[u.from].name, rows[u.to].name, u.count)
	class, stroke := "use", 1+min(4, float64(u.count)/8)
	if u.not > 0 {
		title += fmt.Sprintf(", of which %d may not be", u.not)
		class, stroke = "not", max(2, stroke)
	}
	c.group(title)
	fmt.Fprintf(c, `<path class="%s" stroke-width="%.1f" d="M%d %d C%d %d %d %d %d %d"/>`, class, stroke, arcsLeft, from,
		reach, from, reach, to, arcsLeft, to)
	fmt.Fprintf(c, `<path class="use" stroke-width="1.5" d="M%d %d l9 -4 m-9 4 l9 4"/>`, arcsLeft, to)
	if u.not > 0 {
		c.text("notsign", (arcsLeft+3*reach)/4-6, (from+to)/2+5, fmt.Sprintf("✕ %d", u.not))
	}
	c.WriteString("</g>\n")
}

func (c *canvas) legend(y int, now, uses bool) {
	elsewhere := "↷ lies elsewhere"
	if now {
		elsewhere = "↷ goes elsewhere"
	}
	c.bar("right", left, y-10, 16)
	c.text("quiet", left+24, y, "✓ stands where it belongs")
	c.bar("crooked", left+220, y-10, 16)
	c.text("quiet", left+244, y, elsewhere)
	if uses {
		fmt.Fprintf(c, `<path class="use" stroke-width="2" d="M%d %d h28"/>`, left+400, y-4)
		c.text("quiet", left+436, y, "uses: from the arc to its arrow")
		fmt.Fprintf(c, `<path class="not" stroke-width="2" d="M%d %d h28"/>`, left+670, y-4)
		c.text("quiet", left+706, y, "✕ may not")
	}
	c.WriteByte('\n')
}

// shelves are the rows of the shelves, and the arrows between them.
func shelves(m *engine.Map) (rows []row, uses []use) {
	number := map[string]int{}
	for i, s := range m.Shelves {
		number[s.Name] = i
		about := s.For
		if about == "" {
			about = s.At
		}
		rows = append(rows, row{name: s.Name, about: about, right: s.Home, crooked: s.Coming, crookedWord: "lie elsewhere"})
	}
	from := make([]map[string]int, len(rows))
	for _, f := range m.Files {
		if i, there := number[f.Shelf]; there && f.State == "crooked" {
			if from[i] == nil {
				from[i] = map[string]int{}
			}
			from[i][path.Dir(f.Path)+"/"]++
		}
	}
	for i := range rows {
		rows[i].from = most(from[i], "from ")
	}
	for _, u := range m.Uses {
		uses = append(uses, use{number[u.From], number[u.To], u.Count, u.Not})
	}
	return rows, uses
}

// folders are the rows of the folders as they are, down to two levels, and the arrows between them.
func folders(m *engine.Map) (rows []row, uses []use) {
	top := func(p string) string {
		parts := strings.Split(path.Dir(p), "/")
		if parts[0] == "." {
			return "(the top)"
		}
		return strings.Join(parts[:min(2, len(parts))], "/") + "/"
	}
	number := map[string]int{}
	var goes []map[string]int
	for _, f := range m.Files {
		i, there := number[top(f.Path)]
		if !there {
			i = len(rows)
			number[top(f.Path)] = i
			rows, goes = append(rows, row{name: top(f.Path), crookedWord: "go elsewhere"}), append(goes, map[string]int{})
		}
		if f.State == "crooked" {
			rows[i].crooked++
			goes[i][f.Shelf]++
		} else {
			rows[i].right++
		}
	}
	counts := map[use]int{}
	for _, f := range m.Files {
		for _, to := range f.Uses {
			if a, b := number[top(f.Path)], number[top(m.Files[to].Path)]; a != b {
				counts[use{from: a, to: b}]++
			}
		}
	}
	for u, n := range counts {
		uses = append(uses, use{u.from, u.to, n, 0})
	}
	slices.SortFunc(uses, func(a, b use) int {
		if a.from != b.from {
			return a.from - b.from
		}
		return a.to - b.to
	})
	for i := range rows {
		rows[i].from = most(goes[i], "to ")
	}
	return rows, uses
}

// most names the places with most files, the first with a word before it.
func most(counts map[string]int, word string) (out []string) {
	var names []string
	for name := range counts {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int {
		if counts[a] != counts[b] {
			return counts[b] - counts[a]
		}
		return strings.Compare(a, b)
	})
	for i, name := range names {
		if i == 3 {
			return append(out, "…")
		}
		out = append(out, fmt.Sprintf("%s%s %d", word, name, counts[name]))
		word = ""
	}
	return out
}

func abs(n int) int { return max(n, -n) }

// cut shortens a text to some characters.
func cut(text string, most int) string {
	runes := []rune(text)
	if len(runes) <= most {
		return text
	}
	return string(runes[:most-1]) + "…"
}

// escaped writes a text of the project so that it is a text of the picture, whatever it holds.
func escaped(text string) string {
	var b bytes.Buffer
	if err := xml.EscapeText(&b, []byte(strings.ToValidUTF8(text, "\uFFFD"))); err != nil {
		panic(err) // a buffer takes all
	}
	return b.String()
}
