package text_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/source"
	"crookedshelf/internal/text"
)

func TestLines(t *testing.T) {
	t.Parallel()
	src := []byte("night\r\n\t  moon = 1\r\nstar")
	for _, row := range []struct {
		at, start, end int
		line, blanks   string
		alone          bool
	}{
		{0, 0, 6, "night", "", true},
		{3, 0, 6, "night", "", false},
		{7, 7, 19, "\t  moon = 1", "", true},
		{10, 7, 19, "\t  moon = 1", "\t  ", true},
		{12, 7, 19, "\t  moon = 1", "\t  ", false},
		{24, 20, 24, "star", "", false},
	} {
		assert.Equal(t, row.start, text.LineStart(src, row.at), row.at)
		assert.Equal(t, row.end, text.LineEnd(src, row.at), row.at)
		assert.Equal(t, row.line, string(text.Line(src, row.at)), row.at)
		blanks, alone := text.Indent(src, row.at)
		assert.Equal(t, row.blanks, blanks, row.at)
		assert.Equal(t, row.alone, alone, row.at)
	}
	assert.Equal(t, "\r\n", text.Newline(src))
	assert.Equal(t, "\n", text.Newline([]byte("\na\r\n")))
	assert.Equal(t, "\n", text.Newline(nil))
	text.Blank(src)
	assert.Equal(t, "      \n            \n    ", string(src))
}

func TestMarks(t *testing.T) {
	t.Parallel()
	src := []byte("a %} b %} c")
	var mark, none text.Mark
	assert.True(t, mark.Behind(src, "%}", 0))
	assert.True(t, mark.Behind(src, "%}", 7))
	assert.False(t, mark.Behind(src, "%}", 8))
	assert.False(t, none.Behind(src, "}}", 0))
	for _, row := range []struct {
		src    string
		inside source.Span
		end    int
	}{
		{`'moon' x`, source.Span{Start: 1, End: 5}, 6},
		{`'mo\'n'`, source.Span{Start: 1, End: 6}, 7},
		{`"it's"`, source.Span{Start: 1, End: 5}, 6},
		{"'moon\n'", source.Span{Start: 1, End: 1}, 5},
		{`'moon`, source.Span{Start: 1, End: 1}, 5},
	} {
		inside, end := text.Quoted([]byte(row.src), 0)
		assert.Equal(t, row.inside, inside, row.src)
		assert.Equal(t, row.end, end, row.src)
	}
}

// What is written in a string of a script means what was to be written.
func TestScriptValuesComeBack(t *testing.T) {
	t.Parallel()
	for _, value := range []string{"", "night", "it's", `a "b"`, "a\nb\rc", `a\b`, "`${x}`", "ä\u2028"} {
		for _, quote := range []byte("'\"`") {
			assert.Equal(t, value, text.DecodeScript([]byte(text.Script(value, quote))), string(quote))
		}
	}
	assert.Equal(t, "Aé😀x", text.DecodeScript([]byte(`\x41\u00e9\u{1F600}\x`)))
}
