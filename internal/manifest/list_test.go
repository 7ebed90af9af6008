package manifest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

// Each row is a file with a list, what it is with one more item, and without the item b.
func TestLists(t *testing.T) {
	t.Parallel()
	cases := []struct{ format, src, added, dropped string }{
		{"JSON", `{"l": ["a", "b", "c"]}`, `{"l": ["a", "b", "c", "new"]}`, `{"l": ["a", "c"]}`},
		{"JSON", `{"l": ["a", "b"]}`, `{"l": ["a", "b", "new"]}`, `{"l": ["a"]}`},
		{"JSON", `{"l": ["b"]}`, `{"l": ["b", "new"]}`, `{"l": []}`},
		{"JSON", `{"l": ["b", "c"], "m": 1}`, `{"l": ["b", "c", "new"], "m": 1}`, `{"l": ["c"], "m": 1}`},
		{"JSON", "{\"l\": [\n  \"a\",\n  \"b\",\n  \"c\"\n]}", "{\"l\": [\n  \"a\",\n  \"b\",\n  \"c\",\n  \"new\"\n]}",
			"{\"l\": [\n  \"a\",\n  \"c\"\n]}"},
		{"JSON", "{\"l\": [\n  \"a\",\n  \"b\"\n]}", "{\"l\": [\n  \"a\",\n  \"b\",\n  \"new\"\n]}", "{\"l\": [\n  \"a\"\n]}"},
		{"JSON", "{\"l\": [\n  \"b\"\n]}", "{\"l\": [\n  \"b\",\n  \"new\"\n]}", "{\"l\": [\n]}"},
		{"TOML", "l = [\n  \"a\",\n  \"b\",\n]\n", "l = [\n  \"a\",\n  \"b\",\n  \"new\",\n]\n", "l = [\n  \"a\",\n]\n"},
		{"TOML", "l = [\"a\", \"b\",]\n", "l = [\"a\", \"b\", \"new\",]\n", "l = [\"a\", ]\n"},
		{"YAML", "l: [a, b]\n", "l: [a, b, new]\n", "l: [a]\n"},
		{"YAML", "l:\n  - a\n  - b # why\n  - c\nm: 1\n", "l:\n  - a\n  - b # why\n  - c\n  - new\nm: 1\n",
			"l:\n  - a\n  - c\nm: 1\n"},
		{"YAML", "l:\n- a\n- b", "l:\n- a\n- b\n- new", "l:\n- a\n"},
		{"YAML", "x:\n  l:\n    - 'a'\n    - 'b'\n", "x:\n  l:\n    - 'a'\n    - 'b'\n    - new\n", "x:\n  l:\n    - 'a'\n"},
	}
	for _, c := range cases {
		format := map[string]func([]byte) (*Value, error){"JSON": ParseJSON, "TOML": ParseTOML, "YAML": ParseYAML}[c.format]
		root, err := format([]byte(c.src))
		require.NoError(t, err, c.src)
		list := root.Get("l")
		if list == nil {
			list = root.At("x", "l")
		}
		require.NotNil(t, list, c.src)
		style := Style{Format: c.format, Quote: '"'}
		if c.format == "YAML" {
			style.Quote = 0
		}
		added, err := source.Apply([]byte(c.src), []source.Edit{style.AddItem([]byte(c.src), list, "new")})
		require.NoError(t, err, c.src)
		assert.Equal(t, c.added, string(added))
		for i, item := range list.Items {
			if item.Text == "b" {
				dropped, err := source.Apply([]byte(c.src), []source.Edit{DropItem([]byte(c.src), list, i)})
				require.NoError(t, err, c.src)
				assert.Equal(t, c.dropped, string(dropped))
				_, err = format(dropped)
				assert.NoError(t, err)
			}
		}
	}
}
