package all_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/lang/all"
)

// Each row is a path, and what all families together say of it.
func TestFactsOfFiles(t *testing.T) {
	t.Parallel()
	languages := all.Languages()
	for _, row := range []struct {
		path                                         string
		test, shows, recorded, program, source, made bool
		called                                       string
	}{
		{path: "src/a.ts", program: true, source: true, called: "TypeScript"},
		{path: "src/a.test.ts", test: true, program: true, source: true, called: "TypeScript"},
		{path: "src/__tests__/a.tsx", test: true, program: true, source: true, called: "TypeScript with JSX"},
		{path: "a/b_test.go", test: true, program: true, called: "Go"},
		{path: "stories/a.js", shows: true, program: true, source: true, called: "JavaScript"},
		{path: "a/migrations/0001_first.py", recorded: true, program: true, called: "Python"},
		{path: "a/__fixtures__/b.json", recorded: true, called: "JSON"},
		{path: "a/_fixtures/b.json", recorded: true, called: "JSON"},
		{path: "migrations.py", program: true, called: "Python"},
		{path: "dist/a.js.map", made: true, called: ".map"},
		{path: "desk.egg-info/SOURCES.txt", made: true, called: "plain text"},
		{path: "PKG-INFO", made: true, called: "other"},
		{path: "a.vue", source: true, called: ".vue"},
		{path: "a.PNG", called: "pictures"},
		{path: ".env", called: "other"},
	} {
		assert.Equal(t, row.test, languages.IsTest(row.path), row.path)
		assert.Equal(t, row.shows, languages.Shows(row.path), row.path)
		assert.Equal(t, row.recorded, languages.Recorded(row.path), row.path)
		assert.Equal(t, row.program, languages.IsProgram(row.path), row.path)
		assert.Equal(t, row.source, languages.IsSource(row.path), row.path)
		assert.Equal(t, row.made, languages.IsMade(row.path), row.path)
		assert.Equal(t, row.called, all.Called(row.path), row.path)
	}
}
