package convention

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/finding"
)

func TestReadWhatIsKept(t *testing.T) {
	t.Parallel()
	c := read(t, `
exceptions:
  - { file: [src/old/**, x.ts], rule: misplaced, because: goes away, until: 2027-03-01 }
  - { file: y.ts, because: nobody knows }
levels: { homeless: off, dangling: warn }
top: [src/, "*.json"]
`)
	require.Len(t, c.Exceptions, 3)
	e := c.Exceptions[0]
	assert.Equal(t, "goes away", e.Because)
	day := time.Date(2027, 3, 1, 0, 0, 0, 0, time.UTC)
	assert.False(t, e.Expired(day), "the last day is a day of it")
	assert.True(t, e.Expired(day.AddDate(0, 0, 1)))
	assert.False(t, c.Exceptions[2].Expired(day.AddDate(100, 0, 0)))
	assert.Empty(t, c.Exceptions[2].Rule)
	assert.Equal(t, map[string]finding.Level{"homeless": finding.Off, "dangling": finding.Warn}, c.Levels)
	assert.Len(t, c.Top, 2)
}

func TestWhere(t *testing.T) {
	t.Parallel()
	c, err := Read("crooked.yaml", []byte(`
crooked: 1
where:
  page: { except: [shared, new-page] }
  kind: { only: [small, large] }
  part: { today: { core: [model, store] } }
  size: [small, large]
shelves:
  pages: { at: "src/<page|kebab>/" }
  kinds: { at: "kinds/<kind>/" }
  parts: { at: "parts/<part>/", from: "old/<part>/**" }
  sizes: { at: "sizes/<size>/" }
`))
	require.NoError(t, err)
	matches := func(shelf int, path string) bool { _, ok := c.Shelves[shelf].At.Match(path); return ok }
	assert.True(t, matches(0, "src/night/a.ts"))
	assert.False(t, matches(0, "src/shared/a.ts"))
	assert.False(t, matches(0, "src/new-page/a.ts"))
	assert.True(t, matches(1, "kinds/small/a.ts"))
	assert.False(t, matches(1, "kinds/medium/a.ts"))
	assert.True(t, matches(3, "sizes/small/a.ts"))
	assert.False(t, matches(3, "sizes/medium/a.ts"))
	captures, ok := c.Shelves[2].From[0].Match("old/store/a.ts")
	require.True(t, ok)
	assert.Equal(t, "parts/core/", c.Shelves[2].At.Fill(captures.Values)[:len("parts/core/")])
}

func TestWhatIsWrongWithWhatIsKept(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]string{
		"exceptions: [{ file: a.ts }]": "an exception needs the file and " +
			"the reason",
		"exceptions: [{ because: x }]": "an exception needs the file and " +
			"the reason",
		"exceptions: [{ file: a.ts, because: x, until: soon }]":                   `"soon" is no date`,
		"exceptions: [{ file: a.ts, because: x, rule: misplacd }]":                "did you mean misplaced?",
		"shelves: { x: { at: x/, beside: { must: [<other>.ts] } } }":              "nothing binds <other> here",
		"shelves: { x: { at: x/, beside: { may: ['<name>.*.ts'] } } }":            "a companion has one name",
		"shelves: { x: { at: x/, beside: { may: [{ file: test/<name>.ts }] } } }": "needs both file and mirrors",
		"levels: { homeless: loud }":                                              `"loud" is no level`,
		"levels: { homless: off }":                                                `there is no rule "homless" (did you mean homeless?)`,
		"where: { part: { core: [model] } }":                                      "write today: { core: [a, b] }",
		"where: { part: { onyl: [model] } }":                                      `where has no word "onyl" (did you mean only?)`,
		"where: { part: { today: [model] } }":                                     "today must be a mapping",
		"where: { part: model }":                                                  "an entry of where must be a mapping",
		"exceptions: [{ file: ../a.ts, because: x }]":                             "the path leaves the project's root",
	} {
		if !strings.HasPrefix(text, "shelves:") {
			text += tail
		}
		_, err := Read("crooked.yaml", []byte("crooked: 1\n"+text))
		assert.ErrorContains(t, err, want, text)
		assert.ErrorContains(t, err, "crooked.yaml:2:", text)
	}
}
