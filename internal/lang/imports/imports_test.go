package imports_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/imports"
	"crookedshelf/internal/source"
)

// linesOf are the lines of a text: use KEY, with a comment behind it if need be.
func linesOf(src string) (out []imports.Line) {
	at := 0
	for line := range strings.Lines(src) {
		if text := strings.TrimSpace(line); text != "" {
			text, _, _ = strings.Cut(text, " #")
			start := at + strings.Index(line, "use")
			key, held := strings.CutSuffix(strings.TrimPrefix(text, "use "), "!")
			out = append(out, imports.Line{Key: key, Text: source.Span{Start: start, End: start + len(text)},
				Line: source.Span{Start: at, End: at + len(line)}, Held: held})
		}
		at += len(line)
	}
	return out
}

func TestWrite(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, changes, added, want string }{
		{"added in order", "  use a\n  use c\n", "", "d b", "  use a\n  use b\n  use c\n  use d\n"},
		{"added to a list without order", "  use c\n  use a\n", "", "d b", "  use c\n  use a\n  use b\n  use d\n"},
		{"removed", "  use a\n  use c # no\n", "c-", "", "  use a\n"},
		{"changed in its place", "  use a\n  use c # so\n  use e\n", "c>d", "", "  use a\n  use d # so\n  use e\n"},
		{"changed, and out of its place", "  use a\n  use c # so\n  use e\n", "c>x", "",
			"  use a\n  use e\n  use x # so\n"},
		{"two that change places", "  use a\n  use b\n  use c\n", "a>z b>y", "", "  use c\n  use y\n  use z\n"},
		{"one that makes room", "  use a\n  use c\n", "a-", "b", "  use b\n  use c\n"},
		{"changed in a list without order", "  use c\n  use a\n", "c>x", "", "  use x\n  use a\n"},
		{"two lists", "  use a\n  use c\n\n  use b\n", "a>d", "", "  use c\n  use d\n\n  use b\n"},
		{"held apart", "  use a\n  use b!\n  use c\n", "a>d", "", "  use d\n  use b!\n  use c\n"},
	} {
		lines := linesOf(row.src)
		become := map[int]imports.Become{}
		for _, change := range strings.Fields(row.changes) {
			key, to, changed := strings.Cut(change, ">")
			i := slices.IndexFunc(lines, func(l imports.Line) bool { return l.Key == strings.TrimSuffix(key, "-") })
			become[i] = imports.Become{Removed: !changed, Key: to, Text: "use " + to,
				Edits: []source.Edit{{Span: lines[i].Text, New: "use " + to}}}
		}
		var edits []source.Edit
		for i, group := range imports.Groups(lines) {
			var added []imports.New
			for _, key := range strings.Fields(row.added) {
				if i == 0 {
					added = append(added, imports.New{Key: key, Text: "use " + key})
				}
			}
			for _, e := range imports.Write([]byte(row.src), lines, group, become, added, "  ") {
				edits = append(edits, e.Edit)
			}
		}
		slices.SortStableFunc(edits, func(a,
			b source.Edit) int {
			return a.Span.Start - b.Span.Start + (a.Span.End-b.Span.End)/1000
		})
		got, err := source.Apply([]byte(row.src), edits)
		require.NoError(t, err, row.name)
		assert.Equal(t, row.want, string(got), row.name)
	}
}

func TestWithout(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ src, out, want string }{
		{"from x import a, b, c", "a", "from x import b, c"}, {"from x import a, b, c", "b", "from x import a, c"},
		{"from x import a, b, c", "c", "from x import a, b"},
		{"from x import (\n    a,  # so\n    b,\n)\n", "a", "from x import (\n    b,\n)\n"},
		{"from x import (\n    a,\n    b # so\n)\n", "b", "from x import (\n    a,\n)\n"},
		{"from x import (a,\n    b)\n", "b", "from x import (a)\n"}, {"from x import a", "a", "from x import "},
	} {
		var items []imports.Item
		taken := 0
		for i, name := range []string{"a", "b", "c"} {
			if at := strings.LastIndex(row.src, name); at > len("from x import")-1 {
				if name == row.out {
					taken = i
				}
				items = append(items, imports.Item{Start: at, End: at + 1})
			}
		}
		span := imports.Without([]byte(row.src), items, taken, func(i int) bool { return i != taken }, "#")
		assert.Equal(t, row.want, row.src[:span.Start]+row.src[span.End:])
	}
}

// What is written into a file has its line ends, and comes in its order; nothing comes of it where something fails.
func TestSheet(t *testing.T) {
	t.Parallel()
	one := &lang.Kind{Name: "one"}
	q := lang.Settling{Content: []byte("use a;\r\nuse b;\r\n"), Mentions: []lang.Mention{
		{Span: source.Span{Start: 4, End: 5}, Kind: one}, {Span: source.Span{Start: 12, End: 13}, Kind: one}}}
	s := imports.NewSheet(q, func(m *lang.Mention) bool { return m.Kind == one })
	s.Edit(source.Span{Start: 12, End: 13}, "c")
	s.Edit(source.Span{Start: 4, End: 5}, "a") // it stands there
	s.Edit(source.Span{Start: 0, End: 0}, "x\n")
	s.Behind(source.Span{Start: 0, End: 0}, "y")
	s.Behind(source.Span{Start: 8, End: 8}, "z")
	assert.True(t, s.Covers(12))
	assert.False(t, s.Covers(4))
	edits, failed := s.Done()
	assert.Empty(t, failed)
	var texts []string
	for _, e := range edits {
		texts = append(texts, e.Edit.New)
	}
	assert.Equal(t, []string{"x\r\ny", "z", "c"}, texts)
	assert.Equal(t, []int{1}, edits[2].Mentions)
	s.Fail(12, "%s is taken", "c")
	edits, failed = s.Done()
	assert.Empty(t, edits)
	assert.Equal(t, []lang.Failed{{Mention: 1, Why: "c is taken"}}, failed)
}
