package plan

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/placement"
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
func (b *builder) leftovers(d *draft) leftover.Result {
	moves := make(map[string]string, len(b.moves))
	for id, to := range b.moves {
		moves[b.tree.Path(id)] = to
	}
	if d.after == nil || len(moves) == 0 {
		return leftover.Result{}
	}
	search := &leftover.Search{
		Before: b.tree, After: d.after, OldID: d.oldID, Moves: moves,
		Folder: func(dir string) string {
			f := d.moved.folder(dir)
			if !f.torn {
				return f.to
			}
			return f.places[0] + ", " + f.places[1]
		},
		Dotted: func(new bool, p string) string {
			if new {
				return dotted(d.after, p)
			}
			return dotted(b.Graph, p)
		},
		Skip: func(id project.FileID) bool {
			old := d.oldID[id]
			if old != project.None && b.Placement.Homes[old].Leave == placement.Generated || b.Brief && (old == project.None || !b.fixture(old).Builds) {
				return true
			}
			return path.Base(d.after.Tree.Path(id)) == convention.FileName || d.after.Tree.Path(id) == b.Convention.Path
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
func (b *builder) listLeftovers(d *draft, found leftover.Result) []Leftover {
	out := []Leftover{}
	type place struct {
		file project.FileID
		line int
		text string
	}
	mentions := map[place]bool{}
	lines := d.linesAfter(b)
	for i, s := range d.stayed {
		m := &b.Graph.Files[s.ref.From].Mentions[s.ref.Mention]
		line, file := lines[i].line, d.newID[s.ref.From]
		mentions[place{file, line, m.Text}] = true
		out = append(out, Leftover{
			Path: d.after.Tree.Path(file), Line: line, Text: m.Text, Named: targetName(b.Graph, b.Graph.Files[s.ref.From].Targets[s.ref.Mention]), Now: s.to,
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
		out = append(out, Leftover{Path: d.after.Tree.Path(t.File), Line: t.Line, Text: t.Text, Named: t.Named, Now: t.Now, Certain: t.Certain, New: t.New, Reason: reason, Around: t.Around})
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
func (d *draft) linesAfter(b *builder) []lineAfter {
	out := make([]lineAfter, len(d.stayed))
	byFile := map[project.FileID][]int{}
	for i, s := range d.stayed {
		byFile[s.ref.From] = append(byFile[s.ref.From], i)
	}
	for file, stayed := range byFile {
		mentions := b.Graph.Files[file].Mentions
		start := func(i int) int { return mentions[d.stayed[i].ref.Mention].Span.Start }
		slices.SortFunc(stayed, func(x, y int) int { return start(x) - start(y) })
		edits := slices.Clone(d.edits[file])
		slices.SortStableFunc(edits, func(x, y change) int { return x.edit.Span.End - y.edit.Span.End })
		content, _ := b.tree.Content(file)
		added, next := 0, 0 // lines by the edits before, and the first that is not among these
		for _, i := range stayed {
			for ; next < len(edits) && edits[next].edit.Span.End <= start(i); next++ {
				e := edits[next].edit
				added += strings.Count(e.New, "\n") - strings.Count(string(content[e.Span.Start:e.Span.End]), "\n")
			}
			out[i].line = b.Graph.Position(d.stayed[i].ref).Line + added
		}
		d.after.Tree.Peek(d.newID[file], func(content []byte, err error) {
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
func (b *builder) builds(d *draft, found leftover.Result) bool {
	before := len(b.blocked)
	for _, t := range found.Texts {
		old := d.oldID[t.File]
		if t.Piece == leftover.NoPiece || old == project.None || !b.fixture(old).Builds || b.rewrites(d, &t) {
			continue
		}
		reason := fmt.Sprintf("%s:%d has %q in a path that it puts together, which can't be written anew: the project would no longer build", d.after.Tree.Path(t.File), t.Line, t.Text)
		from, to := b.tree.Below(t.Named)
		if id, is := b.tree.Lookup(t.Named); is {
			from, to = id, id+1
		}
		for id := from; id < to; id++ {
			if _, moves := b.moves[id]; moves {
				b.block(id, reason)
			}
		}
	}
	return len(b.blocked) > before
}

// rewrites says whether a text is written anew: if all are asked for, or it is a path in a script that builds the
// project.
func (b *builder) rewrites(d *draft, t *leftover.Text) bool {
	old := d.oldID[t.File]
	return t.New != "" && old != project.None && (b.RewriteLikely || t.Piece == leftover.InCall && b.fixture(old).Builds)
}

// rewriteLeftovers makes edits of the texts that are written anew. It reports whether there are some.
func (b *builder) rewriteLeftovers(d *draft, found leftover.Result) bool {
	any := false
	for _, t := range found.Texts {
		old := d.oldID[t.File]
		if !b.rewrites(d, &t) {
			continue
		}
		leave := b.Placement.Homes[old].Leave
		span, ok := before(t.Span, d.edits[old])
		if content, err := b.tree.Content(old); !ok || err != nil || string(content[span.Start:span.End]) != t.Text || leave == placement.Untouched || leave == placement.Generated {
			continue
		}
		d.edits[old] = append(d.edits[old], change{edit: source.Edit{Span: span, New: t.New}, mention: -1, kind: "leftover", to: t.Now})
		sortChanges(d.edits[old])
		any = true
	}
	return any
}

// before gives the span in a file before its edits; false for one that an edit touches.
func before(span source.Span, edits []change) (source.Span, bool) {
	shift := 0
	for _, c := range edits {
		start := c.edit.Span.Start + shift
		if start >= span.End {
			break
		}
		if start+len(c.edit.New) > span.Start {
			return span, false
		}
		shift += len(c.edit.New) - c.edit.Span.Len()
	}
	return source.Span{Start: span.Start - shift, End: span.End - shift}, true
}

func texts(n int) string { return fmt.Sprintf("%d %s", n, verb(n, "text", "texts")) }

// verb is a word for one or for several.
func verb(n int, one, several string) string {
	if n == 1 {
		return one
	}
	return several
}
