package carry

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/graph"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// stayed is a mention that is likely a reference to what moves, and is left as it is.
type stayed struct {
	ref    graph.Reference
	to     string // where it would have to lead
	reason string
}

// leftovers gives what still names what moves, once the plan is carried out: the likely mentions that are left, and
// every other text.
func (w *worker) leftovers(d *Draft) leftover.Result {
	moves := make(map[string]string, len(w.moves))
	for id, to := range w.moves {
		moves[w.tree.Path(id)] = to
	}
	if d.After == nil || len(moves) == 0 {
		return leftover.Result{}
	}
	maps.Copy(moves, d.made().goes)
	search := &leftover.Search{
		Before: w.tree, After: d.After, OldID: d.OldID, Moves: moves,
		Made: d.made().stands,
		Folder: func(dir string) string {
			if !w.tree.IsDir(dir) {
				if to := d.madeIn(dir); to != "" {
					return to
				}
			}
			f := d.moved.folder(dir)
			if !f.torn {
				return f.to
			}
			return f.places[0] + ", " + f.places[1]
		},
		Dotted: func(new bool, p string) string {
			if new {
				return dotted(d.After, p)
			}
			return dotted(w.Graph, p)
		},
		Skip: func(id project.FileID) bool {
			old := d.OldID[id]
			if old != project.None && w.Hold(old) == Generated ||
				w.Brief && (old == project.None || !w.fixture(old).Builds) {
				return true
			}
			return w.Skips(d.After.Tree.Path(id))
		},
	}
	return leftover.Find(search)
}

// dotted gives the name with dots that a file has in its language; empty for none.
func dotted(g *graph.Graph, p string) string {
	for _, rules := range g.Rules() {
		if rules.Dotted == nil {
			continue
		}
		if name := rules.Dotted(p); name != "" {
			return name
		}
	}
	return ""
}

// listLeftovers makes the plan's list of what was found. The certain-looking ones come first, then the order is that of
// what they named.
func (w *worker) listLeftovers(d *Draft, found leftover.Result) []Leftover {
	out := []Leftover{}
	type place struct {
		file project.FileID
		line int
		text string
	}
	mentions := map[place]bool{}
	lines := d.linesAfter(w)
	for i, s := range d.stayed {
		m := &w.Graph.Files[s.ref.From].Mentions[s.ref.Mention]
		line, file := lines[i].line, d.NewID[s.ref.From]
		mentions[place{file, line, m.Text}] = true
		out = append(out, Leftover{
			Path: d.After.Tree.Path(file), Line: line, Text: m.Text,
			Named: targetName(w.Graph, w.Graph.Files[s.ref.From].Targets[s.ref.Mention]), Now: s.to,
			Certain: false, Reason: s.reason, Around: lines[i].around,
		})
	}
	for _, t := range found.Texts {
		if mentions[place{t.File, t.Line, t.Text}] {
			continue
		}
		reason := SameEnd
		if t.Certain {
			reason = SamePath
		}
		out = append(out, Leftover{Path: d.After.Tree.Path(t.File), Line: t.Line, Text: t.Text, Named: t.Named,
			Now: t.Now, Certain: t.Certain, New: t.New, Reason: reason, Around: t.Around})
	}
	slices.SortStableFunc(out, byLeftover)
	return out
}

func byLeftover(x, y Leftover) int {
	switch {
	case x.Certain != y.Certain && x.Certain:
		return -1
	case x.Certain != y.Certain:
		return 1
	case x.Named != y.Named:
		return strings.Compare(x.Named, y.Named)
	case x.Path != y.Path:
		return strings.Compare(x.Path, y.Path)
	case x.Line != y.Line:
		return x.Line - y.Line
	}
	return strings.Compare(x.Text, y.Text)
}

// lineAfter is where a mention stands after the edits, and the text of that line.
type lineAfter struct {
	line   int
	around string
}

// linesAfter gives the lines of the mentions that are left.
func (d *Draft) linesAfter(w *worker) []lineAfter {
	out := make([]lineAfter, len(d.stayed))
	byFile := map[project.FileID][]int{}
	for i, s := range d.stayed {
		byFile[s.ref.From] = append(byFile[s.ref.From], i)
	}
	for file, stayed := range byFile {
		mentions := w.Graph.Files[file].Mentions
		start := func(i int) int { return mentions[d.stayed[i].ref.Mention].Span.Start }
		slices.SortFunc(stayed, func(x, y int) int { return start(x) - start(y) })
		edits := slices.Clone(d.Edits[file])
		slices.SortStableFunc(edits, func(x, y Change) int { return x.Edit.Span.End - y.Edit.Span.End })
		content, _ := w.tree.Content(file)
		added, next := 0, 0 // lines by the edits before, and the first that is not among these
		for _, i := range stayed {
			for ; next < len(edits) && edits[next].Edit.Span.End <= start(i); next++ {
				e := edits[next].Edit
				added += strings.Count(e.New, "\n") - strings.Count(string(content[e.Span.Start:e.Span.End]), "\n")
			}
			out[i].line = w.Graph.Position(d.stayed[i].ref).Line + added
		}
		d.After.Tree.Peek(d.NewID[file], func(content []byte, err error) {
			if err != nil {
				return
			}
			lines := leftover.NewLines(content)
			for _, i := range stayed {
				out[i].around = lines.Around(out[i].line)
			}
		})
	}
	return out
}

// builds takes out what a script that builds the project looks for, where the script can't be written anew: the project
// would no longer build. It reports whether there is some.
func (w *worker) builds(d *Draft, found leftover.Result) bool {
	before := len(w.refused)
	for _, t := range found.Texts {
		old := d.OldID[t.File]
		if t.Piece == leftover.NoPiece || old == project.None || !w.fixture(old).Builds || w.rewrites(d, &t) {
			continue
		}
		reason := fmt.Sprintf("%s:%d has %q in a path that it puts together, which can't be written anew: the project "+
			"would no longer build", d.After.Tree.Path(t.File), t.Line, t.Text)
		from, to := w.tree.Below(t.Named)
		if id, is := w.tree.Lookup(t.Named); is {
			from, to = id, id+1
		}
		for id := from; id < to; id++ {
			if _, moves := w.moves[id]; moves {
				w.refuse(id, reason)
			}
		}
	}
	return len(w.refused) > before
}

// rewrites says whether a text is written anew: if all are asked for, or it is a path in a script that builds the
// project.
func (w *worker) rewrites(d *Draft, t *leftover.Text) bool {
	old := d.OldID[t.File]
	return t.New != "" && old != project.None && (w.Likely || t.Piece == leftover.InCall && w.fixture(old).Builds)
}

// rewriteLeftovers makes edits of the texts that are written anew. It reports whether there are some.
func (w *worker) rewriteLeftovers(d *Draft, found leftover.Result) bool {
	any := false
	for _, t := range found.Texts {
		old := d.OldID[t.File]
		if !w.rewrites(d, &t) {
			continue
		}
		span, ok := before(t.Span, d.Edits[old])
		if content, err := w.tree.Content(old); !ok || err != nil || string(content[span.Start:span.End]) != t.Text ||
			!w.Hold(old).edited() {
			continue
		}
		d.Edits[old] = append(d.Edits[old], Change{Edit: source.Edit{Span: span, New: t.New}, Mention: -1,
			Kind: "leftover", To: t.Now})
		sortChanges(d.Edits[old])
		any = true
	}
	return any
}

// before gives the span in a file before its edits; false for one that an edit touches.
func before(span source.Span, edits []Change) (source.Span, bool) {
	shift := 0
	for _, c := range edits {
		start := c.Edit.Span.Start + shift
		if start >= span.End {
			break
		}
		if start+len(c.Edit.New) > span.Start {
			return span, false
		}
		shift += len(c.Edit.New) - c.Edit.Span.Len()
	}
	return source.Span{Start: span.Start - shift, End: span.End - shift}, true
}
