package engine

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/project/projecttest"
)

func TestNeeds(t *testing.T) {
	t.Parallel()
	cases := []struct {
		have, atLeast string
		enough        bool
	}{
		{"^3.12.0", "3.12", true}, {"~3.11", "3.12", false}, {">=4", "3.12", true}, {"3", "3.0.1", false},
		{"3.12.1-beta.2", "3.12", true},
		{"latest", "3.12", true}, {"workspace:*", "3.12", true}, {"2.x || 3.x", "2", true}, {"10.0.0", "9.9", true},
	}
	for _, c := range cases {
		assert.Equal(t, c.enough, !lower(c.have, c.atLeast), "%s for %s", c.have, c.atLeast)
	}
	read := func(text string) *convention.Convention {
		c, err := convention.Read("crooked.yaml", []byte("crooked: 1\nshelves: { a: src/ }\n"+text))
		require.NoError(t, err)
		return c
	}
	tree := projecttest.Load(t, "-- package.json --\n{\"dependencies\": {\"a\": \"^1.2\"}}\n-- sub/package.json --\n"+
		"{\"devDependencies\": {\"b\": \"2\"}}\n-- broken/package.json --\n{\n")
	assert.NoError(t, needs(read("needs: [{ package: a, at_least: 1.2 }, { package: b }]"), tree))
	err := needs(read("needs: [{ package: a, at_least: 2 }, { package: c }]"), tree)
	assert.EqualError(t, err, "the project is not what the convention needs it to be yet:\n"+
		"  crooked.yaml line 3: a must be at least 2, and package.json asks for ^1.2\n"+
		"  crooked.yaml line 3: no package.json asks for c")
	assert.NoError(t, needs(read(""), tree))
}
