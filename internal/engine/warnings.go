package engine

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
)

// This file says what a plan can't prove and a person should know: what stays behind, what is out of reach, and what a
// tool would no longer find.

// ignoredThatStay says in one sentence which files that are no part of the tree stay in folders out of which all else
// goes; empty for none.
func (p *Project) ignoredThatStay(made *plan.Plan) string {
	leaving := map[string]bool{}
	for _, m := range made.Moves() {
		leaving[m.From] = true
	}
	seen := map[string]bool{}
	var stay []string
	folders := 0
	for _, m := range made.Moves() {
		dir := path.Dir(m.From)
		if seen[dir] || dir == "." {
			continue
		}
		seen[dir] = true
		from, to := p.Tree.Below(dir)
		if slices.ContainsFunc(p.Tree.Files[from:to], func(f project.File) bool { return !leaving[f.Path] }) {
			continue
		}
		entries, err := p.disk.ReadDir(dir)
		if err != nil {
			continue
		}
		before := len(stay)
		for _, e := range entries {
			if place := path.Join(dir, e.Name()); !p.Tree.IsDir(place) && !leaving[place] {
				stay = append(stay, place)
			}
		}
		if len(stay) > before {
			folders++
		}
	}
	if len(stay) == 0 {
		return ""
	}
	slices.Sort(stay)
	shown := stay[:min(3, len(stay))]
	more := ""
	if n := len(stay) - len(shown); n > 0 {
		more = fmt.Sprintf(" and %d more", n)
	}
	in := "a folder that is"
	if folders > 1 {
		in = fmt.Sprintf("%d folders that are", folders)
	}
	return fmt.Sprintf("what git ignores, and repositories of their own, stay in %s otherwise emptied: %s%s", in,
		strings.Join(shown, ", "), more)
}

// farthest is how many folders up from a file a path is looked for that a program puts together.
const farthest = 4

// outOfReach says which files that move name something beside them that is on the disk and is no part of the tree, by a
// path that does not lead there from the new place: nobody can say whether it is to be found there then.
func (p *Project) outOfReach(made *plan.Plan) (out []string) {
	edits, moves := map[string]plan.FileEdits{}, made.Moves()
	for _, e := range made.Edits {
		edits[e.Path] = e
	}
	for _, move := range moves {
		id, there := p.Tree.Lookup(move.From)
		if !there {
			continue
		}
		for i := range p.graph.Files[id].Mentions {
			m := &p.graph.Files[id].Mentions[i]
			if p.graph.Files[id].Targets[i].Kind.Inside() || edits[move.From].Rewrites(m.Span) {
				continue
			}
			if place := p.beside(move.From, m); place.named != "" && !p.exists(
				path.Join(above(move.To, place.up), m.Text)+place.ending) {
				out = append(out, fmt.Sprintf("%s:%s names %q, which lies at %s and is no part of the project: from %s it would "+
					"not be found", move.From, p.graph.Position(graph.Reference{From: id, Mention: i}), m.Text, place.named, move.To))
			}
		}
	}
	return firstOf(out, "such names of what is no part of the project")
}

// reached is what a path leads to on the disk, and how many folders up from its file that is counted.
type reached struct {
	named  string
	up     int
	ending string // that the path leaves out
}

// beside looks for what a mention names on the disk, from its file's folder; of one that a program puts together, also
// from those above.
func (p *Project) beside(from string, m *lang.Mention) reached {
	composed := m.Kind.Is(lang.Composed)
	if !composed && !lang.IsRelative(m.Text) || m.Kind.Is(lang.OwnName) {
		return reached{}
	}
	for up := 0; up == 0 || composed && up <= farthest; up++ {
		dir := above(from, up)
		place := path.Join(dir, m.Text)
		for _, ending := range append([]string{""}, p.graph.Languages.Unwritten()...) {
			if place != dir && !p.Tree.IsDir(place) && p.exists(place+ending) {
				return reached{place + ending, up, ending}
			}
		}
		if dir == "." {
			break
		}
	}
	return reached{}
}

// above is the folder of a file, or one some steps up from that.
func above(file string, up int) string {
	dir := path.Dir(file)
	for range up {
		dir = path.Dir(dir)
	}
	return dir
}

// outOfPlace says which files that move lose the place or the name by which a tool finds them, as far as their
// ecosystem knows. Nobody can prove what a program that is not run looks for, so it is said and blocks nothing.
func (p *Project) outOfPlace(made *plan.Plan) (out []string) {
	moves := made.Moves()
	if len(moves) == 0 {
		return nil
	}
	leaves := map[string]bool{}
	for _, m := range moves {
		leaves[m.From] = true
	}
	known := all.Recognise(p.Tree)
	for _, m := range moves {
		fact, found := known.Loses(m.From, m.To)
		if fact == nil || found.Dir != "." && leaves[path.Join(found.Dir, found.By)] { // it goes with its manifest
			continue
		}
		says := fmt.Sprintf("%s: %s; its place or name is fixed (%s)", m.From, fact.Is, fact.Place)
		if fact.MovedBy != "" {
			says += ": " + fact.MovedBy + " must say where it is then"
		}
		out = append(out, says)
	}
	return firstOf(out, "files whose place or name is fixed")
}

// firstOf keeps the first of many warnings of one kind, and says how many more there are of it.
func firstOf(warnings []string, what string) []string {
	const most = 5
	if more := len(warnings) - most; more > 0 {
		return append(warnings[:most], fmt.Sprintf("and %d more %s", more, what))
	}
	return warnings
}
