package stated_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/stated"
	"crookedshelf/internal/project/projecttest"
)

const rules = `crooked: 1
shelves: { views: app/views/, classes: app/classes/ }
mentions:
  - { call: render, like: <view>, file: app/views/<view>.pug }
  - { like: Hilltop.<class|dots>, file: app/classes/<class>.js }
  - { in: site.yaml, key: assets.root, file: <path> }
  - { in: site.yaml, key: theme, file: <path>, base: { now: lib, then: app } }
  - { in: log.toml, key: env.LOG, like: <package>=* }
  - { call: page, like: <page>, file: { now: "pages/<page>.html", then: "app/views/<page>.html" } }
`

// Names are those of homes before the moves, and of places after them.
func TestNamesOfTheConvention(t *testing.T) {
	t.Parallel()
	before := projecttest.Load(t, `
-- views/night.pug --
-- app/views/nights/list.pug --
-- lib/seeing/log.js --
-- lib/theme/dark.css --
-- pages/about.html --
-- site.yaml --
-- packages/moon/package.json --
{ "name": "moon" }
-- packages/odd/package.json --
{ "name": 3
`)
	homes := map[string]string{
		"views/night.pug": "app/views/night.pug", "lib/seeing/log.js": "app/classes/seeing/log.js",
		"lib/theme/dark.css": "app/theme/dark.css", "pages/about.html": "app/views/about.html",
		"packages/moon/package.json": "parts/moon/package.json",
	}
	c, err := convention.Read("crooked.yaml", []byte(rules))
	require.NoError(t, err)
	after, newID := projecttest.Move(t, before, homes)
	home := func(p string) string {
		if to, moves := homes[p]; moves {
			return to
		}
		return p
	}
	old, next := stated.New(before, lang.NewDeclared(c, false, home)), stated.New(after, lang.NewDeclared(c, true, nil))
	from, _ := before.Lookup("site.yaml")
	for _, row := range []struct {
		rule        int
		text, leads string // a file; a folder with a slash; empty for nothing
		then        string
	}{
		{1, "night", "views/night.pug", "night"}, // its home's name, before and after
		{1, "nights/list", "app/views/nights/list.pug", "nights/list"},
		{1, "moon", "", ""},
		{2, "Hilltop.seeing.log", "lib/seeing/log.js", "Hilltop.seeing.log"},
		{2, "seeing.log", "", ""},
		{3, "lib/theme/dark.css", "lib/theme/dark.css", "app/theme/dark.css"},
		{3, "/lib/theme/dark.css", "lib/theme/dark.css", "/app/theme/dark.css"},
		{3, "lib/theme/", "lib/theme/", "app/theme/"},
		{3, "lib/none", "", ""},
		{4, "theme/dark.css", "lib/theme/dark.css", "theme/dark.css"}, // read from a base that moves too
		{4, "../pages/about.html", "pages/about.html", "./views/about.html"},
		{5, "moon", "packages/moon/package.json", "moon"},
		{5, "odd", "", ""},
		{6, "about", "pages/about.html", "about"},
		{7, "night", "", ""}, // no such entry
	} {
		name := fmt.Sprintf("%s by entry %d", row.text, row.rule)
		m := &lang.Mention{Text: row.text, Kind: stated.Stated, Detail: stated.By(row.rule)}
		led := old.Resolve(from, m)
		var want lang.Target
		switch led.Kind {
		case lang.ToFile:
			assert.Equal(t, row.leads, before.Path(led.File), name)
			want = lang.File(newID[led.File])
		case lang.ToFolder:
			assert.Equal(t, row.leads, led.Folder()+"/", name)
			want = lang.Folder("app/theme")
		default:
			assert.Empty(t, row.leads, name)
			continue
		}
		spelled, ok := next.Spell(lang.Respelling{Old: old, OldFrom: from, From: newID[from], Before: led, Target: want,
			Mention: m})
		assert.True(t, ok, name)
		assert.Equal(t, row.then, spelled.Text, name)
	}
	assert.Equal(t, lang.ToOutside,
		stated.New(before, nil).Resolve(from, &lang.Mention{Text: "night", Kind: stated.Stated,
			Detail: stated.By(1)}).Kind)
}
