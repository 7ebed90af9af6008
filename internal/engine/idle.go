package engine

import (
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// Idle is something that a convention says and that nothing in the project fits: often a slip in a path.
type Idle struct {
	What       string `json:"what"` // shelf, mention, alias, setting
	Name       string `json:"name"` // as the convention has it; empty for what has none
	Line       int    `json:"line"`
	Convention string `json:"convention"`
}

// findIdle lists what nothing fits. Exceptions that excuse nothing are findings of their own.
func (p *Project) findIdle(placed *placement.Result) []Idle {
	out := []Idle{}
	used := map[*convention.Shelf]bool{}
	for _, h := range placed.Homes {
		for s := h.Shelf; s != nil; s = s.Parent {
			used[s] = true
		}
	}
	mentioned, texts := p.fitted()
	for _, c := range p.Convention.All() {
		for _, s := range c.Shelves {
			if !used[s] {
				out = append(out, Idle{"shelf", s.Name, s.Line, c.Path})
			}
		}
	}
	// what is said of texts counts for the whole tree, so the root's convention has all of it
	c := p.Convention
	for i, m := range c.Mentions {
		if !mentioned[i+1] && p.idleMention(m) {
			out = append(out, Idle{"mention", "", m.Line, c.Path})
		}
	}
	for _, a := range c.Aliases {
		if !texts(a) {
			out = append(out, Idle{"alias", a.Pattern, a.Line, c.Path})
		}
	}
	for _, s := range c.Settings {
		if !slices.ContainsFunc(p.Tree.Files, func(f project.File) bool { return s.In.Fits(f.Path) }) {
			out = append(out, Idle{"setting", s.In.Text, s.Line, c.Path})
		}
	}
	// several values of one entry stand in one line
	return slices.CompactFunc(out, func(a, b Idle) bool { return a == b })
}

// fitted gives the entries of mentions, from 1, of which the tree has a text, and says of an alias whether a text uses
// or defines it.
func (p *Project) fitted() (mentioned map[int]bool, texts func(convention.Alias) bool) {
	mentioned = map[int]bool{}
	heads := map[string]bool{} // the first names of all texts that are names, and the aliases that are defined
	for i := range p.graph.Files {
		for j := range p.graph.Files[i].Mentions {
			m := &p.graph.Files[i].Mentions[j]
			if entry := lang.EntryOf(m); entry > 0 {
				mentioned[entry] = true
			}
			head, _, _ := strings.Cut(m.Text, "/")
			heads[head] = true
			if alias := m.Alias(); alias != "" {
				head, _, _ = strings.Cut(alias, "/")
				heads[head] = true
			}
		}
	}
	return mentioned, func(a convention.Alias) bool {
		head, _, _ := strings.Cut(a.Pattern, "/")
		plain, _, starred := strings.Cut(head, "*")
		if !starred {
			return heads[head]
		}
		for text := range heads {
			if strings.HasPrefix(text, plain) {
				return true
			}
		}
		return false
	}
}

// idleMention says whether an entry of mentions of which the graph shows nothing has nothing to speak of.
func (p *Project) idleMention(m *convention.Mention) bool {
	switch {
	case m.ByName: // it speaks of files, and of no text
		return !slices.ContainsFunc(p.Tree.Files, func(f project.File) bool { return m.File.Fits(f.Path) })
	case m.NoPath: // what it takes out is not seen any more
		return len(m.In) > 0 && !slices.ContainsFunc(p.Tree.Files, func(f project.File) bool {
			return slices.ContainsFunc(m.In, template.Fits(f.Path))
		})
	}
	return true
}

// Kept is an entry of leave that keeps files which an entry of from would take.
type Kept struct {
	Line       int    `json:"line"` // of leave
	Shelf      string `json:"shelf"`
	ShelfLine  int    `json:"shelfLine"` // of from
	Files      int    `json:"files"`
	First      string `json:"first"`
	Convention string `json:"convention"`
}

// findKept lists the entries of leave that win over an entry of from. Both stand in one file, and only one of them can
// be meant.
func (p *Project) findKept(placed *placement.Result) []Kept {
	out := []Kept{}
	at := map[[2]int]int{} // by the two lines
	for id, h := range placed.Homes {
		if h.Kind != placement.Left || h.Line == 0 || h.Leave == placement.Excused {
			continue
		}
		file := p.Tree.Path(project.FileID(id))
		c := p.Convention.For(file)
		var buf [32]*convention.Shelf
		for _, s := range c.ShelvesFor(file, nil, nil, buf[:0]) {
			i := slices.IndexFunc(s.From, template.Fits(file))
			if i < 0 {
				continue
			}
			key := [2]int{h.Line, s.From[i].Line}
			if _, known := at[key]; !known {
				at[key] = len(out)
				out = append(out, Kept{Line: h.Line, Shelf: s.Name, ShelfLine: s.From[i].Line, First: file,
					Convention: c.Path})
			}
			out[at[key]].Files++
			break
		}
	}
	return out
}
