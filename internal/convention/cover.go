package convention

import (
	"fmt"
	"slices"
	"strings"
)

// covers says whether every path that b matches is matched by one of as too. It walks the two as automata over the
// letters that occur in them and two more that stand for all others; a walk that grows too large counts as not covered.
// A placeholder of as with a case or a second use matches less than it seems to, and then nothing is said to be covered.
func covers(as []*Template, b *Template) bool {
	const limit = 1 << 14
	letters := map[rune]bool{'/': true, '\x00': true}
	all := append([]*Template{b}, as...)
	for i, t := range all {
		for _, tok := range t.tokens {
			if tok.kind == literal {
				for _, r := range tok.text {
					letters[r] = true
				}
			}
			if i > 0 && tok.kind == placeholder && (tok.filter != "" || tok.where != nil) {
				return false
			}
		}
		if i > 0 && t.repeated {
			return false
		}
	}
	type pair struct{ b, a string }
	machineB := newMachine([]*Template{b})
	machineA := newMachine(as)
	start := pair{machineB.start(), machineA.start()}
	seen, queue := map[pair]bool{start: true}, []pair{start}
	for len(queue) > 0 {
		p := queue[0]
		queue = queue[1:]
		if machineB.accepts(p.b) && !machineA.accepts(p.a) {
			return false
		}
		for r := range letters {
			next := pair{machineB.step(p.b, r), machineA.step(p.a, r)}
			if next.b == "" || seen[next] {
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

// machine is the automaton of several templates. A state is a place in one of the expanded token lists; a set of states
// is kept as text so that it can be a map's key.
type machine struct{ cells [][]cell }

// cell is one place of the automaton: it reads r (or any character but / where r is 0), may repeat, and may be passed
// over.
type cell struct {
	r       rune
	folders bool // any character, and passed over only behind a /
	loop    bool
	skip    bool
}

func newMachine(ts []*Template) machine {
	var m machine
	for _, t := range ts {
		var cells []cell
		for _, tok := range t.tokens {
			switch tok.kind {
			case literal:
				for _, r := range tok.text {
					cells = append(cells, cell{r: r})
				}
			case star:
				cells = append(cells, cell{loop: true, skip: true})
			case name, placeholder:
				cells = append(cells, cell{}, cell{loop: true, skip: true})
			case anyOne:
				cells = append(cells, cell{})
			case dirs:
				cells = append(cells, cell{folders: true})
			}
		}
		m.cells = append(m.cells, cells)
	}
	return m
}

// place is a state: a template, a cell in it, and for a ** whether it is in the middle of a folder's name.
type place struct {
	t, i   int
	inside bool
}

func (m machine) encode(places []place) string {
	var closed []place
	var add func(p place)
	add = func(p place) {
		if slices.Contains(closed, p) {
			return
		}
		closed = append(closed, p)
		if p.i < len(m.cells[p.t]) {
			if c := m.cells[p.t][p.i]; c.skip || c.folders && !p.inside {
				add(place{p.t, p.i + 1, false})
			}
		}
	}
	for _, p := range places {
		add(p)
	}
	slices.SortFunc(closed, func(a, b place) int { return strings.Compare(fmt.Sprint(a), fmt.Sprint(b)) })
	var out strings.Builder
	for _, p := range closed {
		fmt.Fprintf(&out, "%d.%d.%t ", p.t, p.i, p.inside)
	}
	return out.String()
}

func (m machine) decode(state string) []place {
	var places []place
	for field := range strings.FieldsSeq(state) {
		var p place
		fmt.Sscanf(field, "%d.%d.%t", &p.t, &p.i, &p.inside)
		places = append(places, p)
	}
	return places
}

func (m machine) start() string {
	places := make([]place, len(m.cells))
	for t := range m.cells {
		places[t] = place{t: t}
	}
	return m.encode(places)
}

func (m machine) accepts(state string) bool {
	for _, p := range m.decode(state) {
		if p.i == len(m.cells[p.t]) {
			return true
		}
	}
	return false
}

func (m machine) step(state string, r rune) string {
	var next []place
	for _, p := range m.decode(state) {
		if p.i == len(m.cells[p.t]) {
			continue
		}
		switch c := m.cells[p.t][p.i]; {
		case c.folders && r == '/' && p.inside:
			next = append(next, place{p.t, p.i, false})
		case c.folders && r != '/':
			next = append(next, place{p.t, p.i, true})
		case c.folders:
		case c.r == r || c.r == 0 && r != '/':
			if c.loop {
				next = append(next, p)
			} else {
				next = append(next, place{p.t, p.i + 1, false})
			}
		}
	}
	if len(next) == 0 {
		return ""
	}
	return m.encode(next)
}
