package report

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What is wider than the window goes on below its last column.
func TestFolded(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		name, line, want string
		width            int
	}{
		{"it fits", "  a  short", "  a  short", 20},
		{"a table", "  nights  what a feature needs", "  nights  what a\n          feature\n          needs", 20},
		{"a sentence", "  Take the reference out of here", "  Take the reference\n    out of here", 20},
		{"a last column that begins late", "a-very-long-name-of-it  says so", "a-very-long-name-of-\n  it  says so", 20},
		{"a word too long", "x  abcdefghijklmnop", "x  abcdefg\n   hijklmn\n   op", 10},
		{"wide letters", "名前  天文台の夜の星", "名前  天文台\n      の夜の\n      星", 12},
		{"colour", "a  \x1b[2mb c d e\x1b[0m", "a  \x1b[2m\x1b[0m\x1b[2mb c\n   d e\x1b[0m", 7},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			assert.Equal(t, row.want, folded(row.line, row.width))
		})
	}
}
