package settings

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

func TestRequire(t *testing.T) {
	t.Parallel()
	text := &manifest.Value{Kind: manifest.String, Text: "src/"}
	cases := []struct{ path, src, key, want string }{
		{"a.json", "{\n  \"a\": 1\n}\n", "b", "{\n  \"a\": 1,\n  \"b\": \"src/\"\n}\n"},
		{"a.config.ts", "export default define({\n  a: 'x',\n})\n", "b.c",
			"export default define({\n  a: 'x',\n  b: {\n    c: 'src/',\n  },\n})\n"},
		{"a.config.js", "module.exports = { a: \"x\", d: 2 }", "a", "module.exports = { a: \"src/\", d: 2 }"},
		{"a.config.js", "const c = {}\nexport default c\n", "a", "const c = {\n  a: 'src/'\n}\nexport default c\n"},
		{"a.yaml", "a: 1\n", "b", "a: 1\nb: src/\n"},
		{"a.toml", "[a]\nb = 1\n", "a.b", "[a]\nb = \"src/\"\n"},
	}
	for _, c := range cases {
		edit, changed, err := Require(c.path, []byte(c.src), strings.Split(c.key, "."), text)
		require.NoError(t, err, c.src)
		require.True(t, changed)
		got, err := source.Apply([]byte(c.src), []source.Edit{edit})
		require.NoError(t, err)
		assert.Equal(t, c.want, string(got))
	}
	for path, src := range map[string]string{
		"a.xml": "<a/>", "a.ini": "a=b\n", "a.css": "a{}", "a.json": "{", "a.config.js": "console.log(1)",
		"b.json": "[1]", "b.config.ts": "export default{0:0\"}",
	} {
		_, changed, err := Require(path, []byte(src), []string{"a"}, text)
		assert.Error(t, err, path)
		assert.False(t, changed)
	}
	_, _, err := Require("a.yaml", []byte("a: 1\n--- # another\nb: 2\n"), []string{"a", "c"}, text)
	assert.Error(t, err, "a value that is no object holds nothing")
}

// Whatever the file, a value that is required is there afterwards, and everything else is what it was.
func FuzzRequire(f *testing.F) {
	for _, c := range []struct{ path, src, key string }{
		{"a.json", "{\"a\": {\"b\": 1,}, // c\n}", "a.d"}, {"a.yaml", "a:\n  - b: c\nd: {e: f}\n", "d.g"},
		{"a.toml", "a = 1\n[b.c]\nd = 2 # e\n[[f]]\n", "b.g"},
		{"a.config.ts", "export default { a: { b: [1, 'c'], }, d() {} }", "a.e"},
		{"b.config.ts", "module.exports = define(() => ({ a: `b${c}` }))", "a"},
	} {
		f.Add(c.path, c.src, c.key, "h/i")
	}
	f.Fuzz(func(t *testing.T, path, src, key, text string) {
		if len(src) > 2000 || key == "" {
			return
		}
		keys := strings.Split(key, ".")
		value := &manifest.Value{Kind: manifest.String, Text: text}
		edit, changed, err := Require(path, []byte(src), keys, value)
		if err != nil || !changed {
			return
		}
		require.LessOrEqual(t, 0, edit.Span.Start)
		require.LessOrEqual(t, edit.Span.Start, edit.Span.End)
		require.LessOrEqual(t, edit.Span.End, len(src))
		got, err := source.Apply([]byte(src), []source.Edit{edit})
		require.NoError(t, err)
		_, changed, err = Require(path, got, keys, value)
		require.NoError(t, err, "%q", got)
		require.False(t, changed, "what is set is not set again: %q", got)
		require.Equal(t, src[:edit.Span.Start], string(got[:edit.Span.Start]))
		require.True(t, strings.HasSuffix(string(got), src[edit.Span.End:]))
	})
}
