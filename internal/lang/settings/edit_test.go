package settings

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

var editSeeds = []struct{ path, text string }{
	{"a.json", "{ // c\n\"a\": \"b/c\", \"d\": [\"e/f\", 1, null,], \"g\": {\"h\": \"\\u0061/\\\"x\\\"\"} }\r\n"},
	{"a.yaml",
		"# c\na: b/c # d\n'e': \"f/\\t g\"\nh: ['i/j', \"k\", l/m]\nn:\n  - o/p\n  - q: 'r''s/t'\nu: |\n  v/w\n" +
			"---\nx: y/z\n"},
	{"a.toml", "# c\na = \"b/c\" # d\ne = 'f/g'\n[h.i]\nj = [ \"k/l\", 'm', ] # n\n[[o]]\np = { q = \"r/s\" }\n" +
		"t = \"\"\"\nu/v\"\"\"\n"},
	{"a.xml", "<?xml version=\"1.0\"?>\n<a b=\"c/d\" e='f &amp; g'><!-- h --><i>j/k</i><l><m n=\"o\"/></l></a>"},
	{"a.ini", "; c\n[a]\nb = c/d ; e\nf: 'g/h'\n"},
	{".env", "# c\nA=b/c # d\nexport E=\"f/g\"\r\nH=\n"},
}

// values lists what a file holds, key by key.
func values(root *manifest.Value) (keys [][]string, texts []*manifest.Value) {
	root.Walk(func(key []string, v *manifest.Value) {
		keys, texts = append(keys, slices.Clone(key)), append(texts, v)
	})
	return keys, texts
}

// edit replaces one value of a file and reads the file again: it must hold the old data with that value changed, and
// every byte outside of the value must be what it was.
func edit(t *testing.T, path, text string, which int, new string) bool {
	t.Helper()
	format := manifest.FormatOf(path)
	root, err := format.Parse([]byte(text))
	if err != nil {
		return false
	}
	same, err := source.Apply([]byte(text), nil)
	require.NoError(t, err)
	require.Equal(t, text, string(same), "no edits give the same bytes")
	keys, before := values(root)
	var strings []int
	for i, v := range before {
		require.LessOrEqual(t, 0, v.Span.Start)
		require.LessOrEqual(t, v.Span.Start, v.Span.End)
		require.LessOrEqual(t, v.Span.End, len(text))
		if v.Kind == manifest.String && v.Span.Len() > 0 {
			strings = append(strings, i)
		}
	}
	if len(strings) == 0 {
		return false
	}
	at := strings[which%len(strings)]
	v := before[at]
	form := map[string]lang.Form{"JSON": lang.InJSON, "YAML": lang.InYAML, "TOML": lang.InTOML, "XML": lang.InMarkup,
		"INI": lang.Plain}[format.Name]
	encoded, ok := lang.Encode(new, &lang.Mention{Form: form, Quote: v.Quote, Kind: paths.Setting})
	if !ok {
		return false
	}
	edited, err := source.Apply([]byte(text), []source.Edit{{Span: v.Span, New: encoded}})
	require.NoError(t, err)
	again, err := format.Parse(edited)
	require.NoError(t, err, "%s", edited)
	keysNow, after := values(again)
	require.Equal(t, keys, keysNow, "%s", edited)
	for i := range before {
		if i == at {
			require.Equal(t, new, after[i].Text, "%s", edited)
		} else {
			require.Equal(t, before[i].Text, after[i].Text, "%v in %s", keys[i], edited)
		}
	}
	return true
}

func TestEditsOfEveryFormat(t *testing.T) {
	t.Parallel()
	for _, seed := range editSeeds {
		done := 0
		for which := range 12 {
			if edit(t, seed.path, seed.text, which, "new/place.ts") {
				done++
			}
		}
		assert.Equal(t, 12, done, seed.path)
	}
}

// The new text is a path: what a plan puts into settings.
func FuzzEdit(f *testing.F) {
	for i, seed := range editSeeds {
		f.Add(seed.path, seed.text, uint8(i), "it's/a b.ts")
	}
	f.Add(".env", "0=0000000\n000000000", uint8(5), "''0") // a value that would be read as quoted
	f.Fuzz(func(t *testing.T, path, text string, which uint8, new string) {
		if manifest.FormatOf(path) == nil || len(text) > 4096 || !plainPath(new) || !plainText(text) {
			return
		}
		edit(t, path, text, int(which), new)
	})
}

// plainPath: what no file can be called, or no person calls a file, is not asked of the formats.
func plainPath(s string) bool {
	if s == "" || s[0] == ' ' || s[len(s)-1] == ' ' || s[0] == '\'' && s[len(s)-1] == '\'' {
		return false
	}
	for _, r := range s {
		if r < ' ' || r > '~' || r == '&' || r == '<' || r == '>' || r == '#' || r == ';' || r == '"' || r == '\\' {
			return false
		}
	}
	return true
}

func plainText(s string) bool {
	for _, r := range s {
		if r > '~' || r < ' ' && r != '\n' && r != '\r' && r != '\t' {
			return false
		}
	}
	return true
}
