package convention

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/manifest"
)

const tail = "\nshelves: { a: src/, b: lib/ }\n"

func read(t *testing.T, text string) *Convention {
	t.Helper()
	c, err := Read("crooked.yaml", []byte("crooked: 1\nvars: { app: src }\n"+text+tail))
	require.NoError(t, err)
	return c
}

func TestReadWhatTextNames(t *testing.T) {
	t.Parallel()
	c := read(t, `
aliases: { "~/*": { now: "*", then: <app>/* }, "@ui": <app>/ui }
mentions:
  - { in: [a.yaml, b.yaml], key: ['x.y', 'z["p.q"][*]'], each: ",", file: <path>, base: { now: ., then: <app>/ } }
  - { call: [render, res.show], like: <view>, file: <app>/views/<view>.pug }
  - { like: Hill.<class|dots>, file: { now: lib/<class>.js, then: <app>/<class>.js } }
  - { file: <app>/parts/<path>.vue, like: <path|pascal>, in_templates: true }
  - { file: <app>/tools/<name>.ts, like: <name>, in_code: true }
  - { file: <app>/control/<any>.php, loaded: by name }
  - { key: a.b, is: text }
  - { in: log.toml, key: env.LOG, each: ",", like: <package>=* }
settings: [{ in: app.config.ts, set: { root: <app>/, deep: { level: 4, list: [a, true] } } }]
needs: [{ package: some-framework, at_least: "3.12" }]
public: [{ folder: public/, at: / }, { folder: { now: pages, then: <app>/pages/ }, at: x, routes: true }]
roots: { sass: { now: ., then: styles/ }, less: styles }
at_once: [a, b]
`)
	assert.Equal(t, Alias{Pattern: "~/*", Now: "*", HasNow: true, Then: "src/*", HasThen: true, Line: 4}, c.Aliases[0])
	assert.Equal(t, Alias{Pattern: "@ui", Then: "src/ui", HasThen: true, Line: 4}, c.Aliases[1])
	require.Len(t, c.Mentions, 8)
	m := c.Mentions[0]
	assert.Equal(t, []KeyPath{{"x", "y"}, {"z", "p.q", "*"}}, m.Keys)
	assert.Equal(t, &NowThen{".", "src"}, m.Base)
	assert.Equal(t, "path", m.Index())
	assert.True(t, c.Mentions[5].ByName)
	assert.True(t, c.Mentions[6].NoPath)
	assert.Equal(t, "package", c.Mentions[7].Index())
	start, end, ok := c.Mentions[7].Part("core=debug")
	assert.True(t, ok)
	assert.Equal(t, "core", "core=debug"[start:end])
	captures, ok := c.Mentions[3].File.Match("src/parts/night/Card.vue")
	require.True(t, ok)
	assert.Equal(t, "NightCard", c.Mentions[3].Like.Fill(captures.Values))
	captures, ok = c.Mentions[2].Now.Match("lib/data/Star.js")
	require.True(t, ok)
	assert.Equal(t, "Hill.data.Star", c.Mentions[2].Like.Fill(captures.Values))

	require.Len(t, c.Settings, 3)
	assert.Equal(t, []string{"deep", "level"}, c.Settings[1].Key)
	assert.Equal(t, "src/", c.Settings[0].Value.Text)
	assert.Equal(t, manifest.Other, c.Settings[1].Value.Kind)
	assert.Len(t, c.Settings[2].Value.Items, 2)
	assert.Equal(t, []Public{{NowThen{"public", "public"}, "/", false, 16}, {NowThen{"pages", "src/pages"}, "/x/", true,
		16}}, c.Public)
	assert.Equal(t, map[string]NowThen{"sass": {".", "styles"}, "less": {"styles", "styles"}}, c.Roots)
	assert.Equal(t, [][]string{{"a", "b"}}, c.AtOnce)
	assert.Equal(t, [][]string{{"a"}, {"b", "a"}}, read(t, "at_once: [[a], [b, a]]").AtOnce)
}

func TestKeyPaths(t *testing.T) {
	t.Parallel()
	key := func(text string) KeyPath {
		k, wrong := parseKey(text)
		require.Empty(t, wrong)
		return k
	}
	assert.True(t, key("a.b").Matches([]string{"a", "b"}))
	assert.True(t, key("a.b").Matches([]string{"a", "b", "3"}), "a key that leads to a list means its elements")
	assert.False(t, key("a.b").Matches([]string{"a", "b", "c"}))
	assert.True(t, key("a[*].c").Matches([]string{"a", "0", "c"}))
	assert.True(t, key("*.c").Matches([]string{"x", "c"}))
	assert.True(t, key(`a["b.c"].d`).Matches([]string{"a", "b.c", "d"}))
	for _, bad := range []string{"a[", "a..b", ".a"} {
		_, wrong := parseKey(bad)
		assert.NotEmpty(t, wrong, bad)
	}
}

func TestWhatIsWrongWithMentions(t *testing.T) {
	t.Parallel()
	cases := []struct{ name, text, want string }{
		{"no file", "mentions: [{ call: render }]", "this entry of mentions names no file"},
		{"nowhere", "mentions: [{ file: <path> }]", "nothing says which text names the file"},
		{"no text", "mentions: [{ is: text }]", "nothing says which text is no path"},
		{"a placeholder that like has not", "mentions: [{ call: a, like: <x>, file: src/<y>.ts }]",
			"nothing in like binds <y>"},
		{"half a file", "mentions: [{ call: a, file: { now: x } }]", "file needs both now and then"},
		{"a word of loaded", "mentions: [{ file: src/<a>.ts, loaded: lazily }]", "loaded can only be: by name"},
		{"a word of is", "mentions: [{ key: a, is: path }]", "is can only be: text"},
		{"a key", "mentions: [{ key: 'a[', file: <path> }]", "this is no key: the [ is never closed"},
		{"an unknown key", "mentions: [{ key: a, flie: <path> }]", "did you mean file?"},
		{"names of other languages", "mentions: [{ key: a, like: <module> }]",
			"<module> names what languages define that this version does not read yet"},
		{"two stars", `aliases: { "a/*/*": src/* }`, "more than one *"},
		{"a star too few", `aliases: { "a/*": src/ }`, "do not agree on the *"},
		{"an alias that leaves the root", `aliases: { "a/*": ../* }`, "the path leaves the project's root"},
		{"a base that says nothing", "mentions: [{ key: a, file: <path>, base: {} }]", "says neither now nor then"},
		{"a folder that leaves the root", "public: [{ folder: ../x }]", "the path leaves the project's root"},
		{"an address of no folder", "public: [{ at: / }]", "names no folder"},
		{"a need of nothing", "needs: [{ at_least: 1 }]", "names a package or a language"},
		{"a setting of nothing", "settings: [{ in: a.json }]", "needs in and set"},
		{"no such shelf", "at_once: [a, c]", `there is no shelf "c"`},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			_, err := Read("crooked.yaml", []byte("crooked: 1\n"+c.text+tail))
			require.Error(t, err)
			assert.Contains(t, err.Error(), c.want)
			assert.Contains(t, err.Error(), "crooked.yaml:2:", "the error has its place")
		})
	}
}
