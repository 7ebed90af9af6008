package label_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/label"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/project"
	"crookedshelf/internal/project/projecttest"
)

// Each row is a file, the name that it gives itself, whether that fits, and what it becomes at another path.
func TestLabels(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		file, text, label string
		fits              bool
		then, spelled     string
	}{
		{"src/forms/checks.ts", "/**\n * @module forms/checks\n */\n", "forms/checks", true, "src/helpers/names.ts",
			"helpers/names"},
		{"src/forms/checks.ts", "/** @module {Object} src/forms/checks */\n", "src/forms/checks", true, "lib/a/b.ts",
			"lib/a/b"},
		{"src/forms/SkyChart.ts", "/** @module forms/sky-chart */\n", "forms/sky-chart", true, "src/parts/SkyChart.ts",
			"parts/SkyChart"},
		{"src/forms/index.ts", "/** @module src/forms */\n", "src/forms", true, "lib/parts/index.ts", "lib/parts"},
		{"src/forms/index.ts", "/** @module forms/index */\n", "forms/index", true, "lib/parts/index.ts",
			"parts/index"},
		{"src/forms/checks.ts", "/** @module other/checks */\n", "other/checks", false, "", ""},
		{"src/forms/checks.ts", "/// <amd-module name=\"forms/checks\" />\n", "forms/checks", true, "a/b/c.ts", "b/c"},
		{"src/forms/checks.js", "define('forms/checks', ['x'], function () {})\n", "forms/checks", true, "a/b/c.js",
			"b/c"},
		{"src/forms/checks.js", "define(['x'], f); define('checks', f); define('./a', f); a.define('b/c', d)\n", "",
			false, "", ""},
		{"src/forms/checks.js", "/** @module checks */\n/** see @module a/b */\nx\n/** @module c/d */\n", "", false, "",
			""},
	} {
		d, _ := script.DialectOf(row.file)
		var found []lang.Mention
		for _, m := range script.ScanText(row.file, []byte(row.text), d, nil).Mentions {
			if m.Kind == label.Label {
				found = append(found, m)
			}
		}
		if row.label == "" {
			assert.Empty(t, found, row.text)
			continue
		}
		require.Len(t, found, 1, row.text)
		m := &found[0]
		assert.Equal(t, row.label, row.text[m.Span.Start:m.Span.End])
		tree := projecttest.Load(t, "-- "+row.file+" --\n")
		assert.Equal(t, row.fits, label.New(tree).Resolve(0, m).Equal(lang.File(0)), row.text)
		if !row.fits {
			continue
		}
		moved, id, err := tree.Overlay(map[project.FileID]string{0: row.then}, nil, nil)
		require.NoError(t, err)
		s, ok := label.New(moved).Spell(lang.Respelling{From: id[0], Target: lang.File(id[0]), Mention: m})
		assert.True(t, ok)
		assert.Equal(t, row.spelled, s.Text)
	}
}
