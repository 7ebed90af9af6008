package source

import (
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestApply(t *testing.T) {
	t.Parallel()
	content := []byte("open the dome")
	cases := []struct {
		name  string
		edits []Edit
		want  string
		fails string
	}{
		{"no edits", nil, "open the dome", ""},
		{"one", []Edit{{Span{9, 13}, "shutter"}}, "open the shutter", ""},
		{"two and an insertion", []Edit{{Span{0, 4}, "close"}, {Span{9, 9}, "east "}}, "close the east dome", ""},
		{"touching", []Edit{{Span{0, 4}, "a"}, {Span{4, 5}, "b"}}, "abthe dome", ""},
		{"all of it", []Edit{{Span{0, 13}, ""}}, "", ""},
		{"overlap", []Edit{{Span{0, 4}, "a"}, {Span{3, 5}, "b"}}, "", "edit 2 at bytes 3-5"},
		{"past the end", []Edit{{Span{9, 14}, "a"}}, "", "edit 1 at bytes 9-14"},
		{"backwards", []Edit{{Span{5, 2}, "a"}}, "", "edit 1"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			got, err := Apply(content, c.edits)
			if c.fails != "" {
				require.ErrorContains(t, err, c.fails)
				return
			}
			require.NoError(t, err)
			assert.Equal(t, c.want, string(got))
			assert.Equal(t, "open the dome", string(content), "the input is left alone")
		})
	}
}

// Edits that are made one after the other do together what they do one by one.
func TestCompose(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(1, 2))
	for range 20_000 {
		first := []byte("0123456789")
		var edits []Edit
		text := first
		for n := range 1 + random.IntN(5) {
			start := random.IntN(len(text) + 1)
			next := Edit{Span{start, start + random.IntN(len(text)-start+1)}, strings.Repeat(string(rune('a'+n)), random.IntN(4))}
			edits = compose(edits, text, next)
			var err error
			text, err = Apply(text, []Edit{next})
			require.NoError(t, err)
		}
		together, err := Apply(first, edits)
		require.NoError(t, err, edits)
		require.Equal(t, string(text), string(together), edits)
	}
}

func TestSortEdits(t *testing.T) {
	t.Parallel()
	edits := []Edit{{Span{7, 9}, "c"}, {Span{1, 5}, "b"}, {Span{1, 1}, "a"}}
	SortEdits(edits)
	assert.Equal(t, []Edit{{Span{1, 1}, "a"}, {Span{1, 5}, "b"}, {Span{7, 9}, "c"}}, edits)
}

func TestPositions(t *testing.T) {
	t.Parallel()
	content := []byte("a\r\nnächt x\n")
	assert.Equal(t, Position{1, 1}, PositionAt(content, 0))
	assert.Equal(t, Position{2, 7}, PositionAt(content, 10), "columns are runes")
	assert.Equal(t, Position{3, 1}, PositionAt(content, 999))
	assert.Equal(t, "a", Line(content, 1))
	assert.Equal(t, "nächt x", Line(content, 2))
	assert.Empty(t, Line(content, 9))
}

func TestPositionsAt(t *testing.T) {
	t.Parallel()
	content := []byte("d\u00f4me\n\nnight\r\nno end \xff\u00e9")
	var offsets []int
	for i := -1; i <= len(content)+2; i++ {
		offsets = append(offsets, (i*7)%(len(content)+3), i)
	}
	for i, at := range PositionsAt(content, offsets) {
		assert.Equal(t, PositionAt(content, offsets[i]), at, "offset %d", offsets[i])
	}
	assert.Empty(t, PositionsAt(nil, nil))
}
