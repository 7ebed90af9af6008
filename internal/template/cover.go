package template

import (
	"encoding/binary"
	"slices"
	"strings"
)

// Covers says whether every path that b matches is matched by one of as too. Mostly an example shows that it does not.
// Else it walks the two as automata over the letters that occur in them and two more that stand for all others; a walk
// that grows too large counts as not covered. A placeholder of as with a case or a second use matches less than it
// seems to, and then nothing is said to be covered.
func Covers(as []*Template, b *Template) bool {
	if len(as) == 1 && as[0].folder { // most are
		return len(b.prefix) >= len(as[0].prefix) && strings.HasPrefix(b.prefix, as[0].prefix)
	}
	if slices.ContainsFunc(as, (*Template).picky) {
		return false
	}
	for _, example := range b.Examples() {
		if !slices.ContainsFunc(as, Fits(example)) {
			return false
		}
	}
	return walk(newMachine(as), newMachine([]*Template{b}))
}

// Wider is Covers by the shapes alone: cases, values and second uses of placeholders are not looked at.
func Wider(as []*Template, b *Template) bool {
	if !slices.ContainsFunc(as, (*Template).picky) {
		return Covers(as, b)
	}
	// what all others begin and end with, this one must begin and end with too
	if !slices.ContainsFunc(as, func(a *Template) bool {
		return strings.HasPrefix(b.prefix, a.prefix) && strings.HasSuffix(b.suffix, a.suffix)
	}) {
		return false
	}
	return walk(newMachine(as), newMachine([]*Template{b}))
}

// picky says whether a template may match less than its shape.
func (t *Template) picky() bool {
	return t.repeated || slices.ContainsFunc(t.Tokens, func(tok token) bool {
		return tok.kind == placeholder && (tok.filter != "" || tok.Where != nil)
	})
}

// anyLetter stands for all that no template names.
const anyLetter = '\x00'

// Examples are a short text that a template matches, and a longer one.
func (t *Template) Examples() [2]string {
	if t.shown[1] == "" {
		long := [...]string{star: "\x00\x00", name: "\x00\x00", anyOne: "\x00", dirs: "\x00/\x00/",
			placeholder: "\x00\x00"}
		short := [...]string{star: "\x00", name: "\x00", anyOne: "\x00", dirs: "", placeholder: "\x00"}
		for i, fill := range [][6]string{short, long} {
			var out strings.Builder
			for _, tok := range t.Tokens {
				out.WriteString(tok.textOr(fill[tok.kind]))
			}
			t.shown[i] = out.String()
		}
	}
	return t.shown
}

// textOr is the text of a literal, or another for all other tokens.
func (t token) textOr(other string) string {
	if t.kind == literal {
		return t.Text
	}
	return other
}

// walk says whether a accepts all that b does.
func walk(a, b *machine) bool {
	const limit = 1 << 14
	letters := slices.Concat(a.letters(), b.letters(), []rune{'/', anyLetter})
	slices.Sort(letters)
	letters = slices.Compact(letters)
	type pair struct{ b, a int }
	start := pair{b.start(), a.start()}
	seen, queue := map[pair]bool{start: true}, []pair{start}
	for len(queue) > 0 {
		p := queue[0]
		queue = queue[1:]
		if b.accepts(p.b) && !a.accepts(p.a) {
			return false
		}
		for _, r := range letters {
			next := pair{b.step(p.b, r), a.step(p.a, r)}
			if next.b == nowhere || seen[next] {
				continue
			}
			if len(seen) > limit {
				return false
			}
			seen[next] = true
			queue = append(queue, next)
		}
	}
	return true
}

// machine is the automaton of several templates: their cells, one behind the other. A state is a set of places, and is
// known by a number.
type machine struct {
	cells   []cell
	starts  []place
	states  [][]place
	numbers map[string]int
}

// cell is one place of the automaton: it reads r (or any character but / where r is 0), may repeat, and may be passed
// over.
type cell struct {
	r       rune
	folders bool // any character, and passed over only behind a /
	loop    bool
	skip    bool
	end     bool // of a template: it reads nothing
}

// place is a cell, with whether a ** is in the middle of a folder's name.
type place uint32

func (p place) cell() int    { return int(p >> 1) }
func (p place) inside() bool { return p&1 != 0 }

func placeAt(cell int, inside bool) place {
	if inside {
		return place(cell)<<1 | 1
	}
	return place(cell) << 1
}

const nowhere = 0 // the number of the empty state

func newMachine(ts []*Template) *machine {
	m := &machine{states: [][]place{nil}, numbers: map[string]int{"": nowhere}}
	for _, t := range ts {
		m.starts = append(m.starts, placeAt(len(m.cells), false))
		for _, tok := range t.Tokens {
			switch tok.kind {
			case literal:
				for _, r := range tok.Text {
					m.cells = append(m.cells, cell{r: r})
				}
			case star:
				m.cells = append(m.cells, cell{loop: true, skip: true})
			case name, placeholder:
				m.cells = append(m.cells, cell{}, cell{loop: true, skip: true})
			case anyOne:
				m.cells = append(m.cells, cell{})
			case dirs:
				m.cells = append(m.cells, cell{folders: true})
			}
		}
		m.cells = append(m.cells, cell{end: true})
	}
	return m
}

func (m *machine) letters() []rune {
	var out []rune
	for _, c := range m.cells {
		if c.r != 0 {
			out = append(out, c.r)
		}
	}
	return out
}

// state gives the number of the state that has these places, and those to which they lead without a character.
func (m *machine) state(places []place) int {
	for i := 0; i < len(places); i++ {
		p := places[i]
		if c := m.cells[p.cell()]; c.skip || c.folders && !p.inside() {
			places = append(places, placeAt(p.cell()+1, false))
		}
	}
	slices.Sort(places)
	places = slices.Compact(places)
	var key []byte
	for _, p := range places {
		key = binary.LittleEndian.AppendUint32(key, uint32(p))
	}
	number, known := m.numbers[string(key)]
	if !known {
		number = len(m.states)
		m.numbers[string(key)] = number
		m.states = append(m.states, places)
	}
	return number
}

func (m *machine) start() int { return m.state(slices.Clone(m.starts)) }

func (m *machine) accepts(state int) bool {
	return slices.ContainsFunc(m.states[state], func(p place) bool { return m.cells[p.cell()].end })
}

func (m *machine) step(state int, r rune) int {
	var next []place
	for _, p := range m.states[state] {
		switch c := m.cells[p.cell()]; {
		case c.end:
		case c.folders && r == '/' && p.inside():
			next = append(next, placeAt(p.cell(), false))
		case c.folders && r != '/':
			next = append(next, placeAt(p.cell(), true))
		case c.folders:
		case c.r == r || c.r == 0 && r != '/':
			if c.loop {
				next = append(next, p)
			} else {
				next = append(next, placeAt(p.cell()+1, false))
			}
		}
	}
	return m.state(next)
}
