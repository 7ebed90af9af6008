package engine_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/project/projecttest"
)

func TestUnreferenced(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, `
-- package.json --
{ "main": "src/start.js" }
-- src/start.js --
import './used'
load('by' + 'name')
load('named')
-- src/used.js --
-- src/named.js --
-- src/loose.js --
// of no use since loose ends are tied elsewhere
-- src/loose.test.js --
-- src/odd/alone.js --
import '../used'
-- src/odd/index.js --
-- vite.config.js --
-- desk/lost.py --
-- desk/__init__.py --
`)
	s, err := engine.TakeSurvey(dir, "", 3)
	require.NoError(t, err)
	assert.Equal(t, []string{"desk/lost.py", "src/loose.js", "src/odd/alone.js"}, s.Unreferenced.Files)
	assert.NotEmpty(t, s.Unreferenced.Known)
}
