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
		"  crooked.yaml line 3: a must be at least 2, and a manifest asks for ^1.2\n"+
		"  crooked.yaml line 3: nothing asks for c; looked for package.json, go.mod, pyproject.toml")
	assert.NoError(t, needs(read(""), tree))

	tree = projecttest.Load(t, `
-- go.mod --
module hilltop.example/x

go 1.24

require hilltop.example/sky v1.4.0
-- package.json --
{"engines": {"node": ">=20"}}
-- pyproject.toml --
[project]
requires-python = ">=3.11"
dependencies = ["Star_Charts[all] >=4.2,<5; python_version > '3'", "plain"]
[project.optional-dependencies]
x = ["optional~=1.1"]
[tool.poetry.dependencies]
domes = "^2.1"
shutters = { version = "3.0", optional = true }
-- requirements-dev.txt --
# tools
hill-lint==7.1  # pinned
`)
	for _, text := range []string{"language: go, at_least: '1.22'", "language: node, at_least: 18", "language: python, at_least: '3.11'",
		"package: hilltop.example/sky, at_least: '1.4'", "package: star-charts, at_least: '4.2'", "package: plain", "package: optional, at_least: 1",
		"package: domes, at_least: 2", "package: shutters, at_least: 3", "package: hill-lint, at_least: '7.1'"} {
		assert.NoError(t, needs(read("needs: [{ "+text+" }]"), tree), text)
	}
	assert.ErrorContains(t, needs(read("needs: [{ language: go, at_least: '1.25' }]"), tree), "go must be at least 1.25")
	assert.ErrorContains(t, needs(read("needs: [{ language: cobol }]"), tree), "nothing asks for cobol")
}
