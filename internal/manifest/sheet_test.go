package manifest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

// A sheet is written in parts, and its edits give the same text at once.
func TestSheets(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		name, format, text, want string
		do                       func(s *Sheet)
	}{
		{"a member behind others", "JSON", "{\n  \"a\": 1\n}\n", "{\n  \"a\": 1,\n  \"b\": {\n    \"c\": [\"x\"]\n  }\n}\n", func(s *Sheet) { s.Set(`["x"]`, "b", "c") }},
		{"into nothing", "JSON", "{}\n", "{\n  \"a\": true,\n  \"b\": 2\n}\n", func(s *Sheet) { s.Set("true", "a"); s.Set("2", "b") }},
		{"another value", "JSON", `{ "a": 1 }`, `{ "a": 2 }`, func(s *Sheet) { s.Set("2", "a") }},
		{"the first goes", "JSON", "{\n  \"a\": 1,\n  \"b\": 2\n}\n", "{\n  \"b\": 2\n}\n", func(s *Sheet) { s.Drop("a") }},
		{"one in between goes", "JSON", `{ "a": 1, "b": 2, "c": 3 }`, `{ "a": 1, "c": 3 }`, func(s *Sheet) { s.Drop("b") }},
		{"the last goes", "JSON", "{\n  \"a\": 1,\n  \"b\": 2\n}\n", "{\n  \"a\": 1\n}\n", func(s *Sheet) { s.Drop("b") }},
		{"all go", "JSON", "{\n  \"a\": { \"b\": 1 }\n}\n", "{\n  \"a\": {  }\n}\n", func(s *Sheet) { s.Drop("a", "b") }},
		{"what is not there goes", "JSON", `{ "a": 1 }`, `{ "a": 1 }`, func(s *Sheet) { s.Drop("b"); s.Drop("a", "b"); s.Drop("c", "d") }},
		{"one after the other", "JSON", "{\n  \"a\": 1\n}\n", "{\n  \"b\": \"x\"\n}\n", func(s *Sheet) { s.Set(`"x"`, "b"); s.Drop("a") }},
		{"an item of a list", "JSON", `{ "a": ["x"] }`, `{ "a": ["x", "y"] }`, func(s *Sheet) { s.AddItem("y", "a") }},
		{"lines that end otherwise", "JSON", "{\r\n\t\"a\": 1\r\n}\r\n", "{\r\n\t\"a\": 1,\r\n\t\"b\": 2\r\n}\r\n", func(s *Sheet) { s.Set("2", "b") }},
		{"a list of lines", "YAML", "packages:\n  - x\n", "packages:\n  - x\n  - y\ncatalog:\n  z: \"1\"\n", func(s *Sheet) { s.AddItem("y", "packages"); s.Set(`"1"`, "catalog", "z") }},
		{"a member of a mapping goes", "YAML", "a:\n  b: 1 # one\n  # of c\n  c:\n    d: e\n    f: [g]\n  h: i\n", "a:\n  b: 1 # one\n  # of c\n  h: i\n", func(s *Sheet) { s.Drop("a", "c") }},
		{"the last of a mapping goes, and a list", "YAML", "a:\n  b: 1\nc:\n  - d\n  - e", "a:\n  b: 1\n", func(s *Sheet) { s.Drop("c") }},
		{"a table", "TOML", "[a]\nb = 1\nc = 2\n", "[a]\nc = 2\nd = 3\n", func(s *Sheet) { s.Drop("a", "b"); s.Set("3", "a", "d") }},
	} {
		style := Style{Format: c.format, Quote: '"'}
		if c.format == "YAML" {
			style.Quote = 0
		}
		root, err := style.Parse([]byte(c.text))
		require.NoError(t, err, c.name)
		s := style.Sheet([]byte(c.text), root)
		c.do(s)
		require.NoError(t, s.Err, c.name)
		assert.Equal(t, c.want, string(s.Text), c.name)
		at, err := source.Apply([]byte(c.text), s.Edits)
		require.NoError(t, err, c.name)
		assert.Equal(t, c.want, string(at), c.name)
	}

	s := Style{Format: "JSON"}.Sheet([]byte("[]"), &Value{Kind: List, Span: source.Span{End: 2}})
	s.Set("1", "a")
	require.ErrorIs(t, s.Err, ErrNoObject)
	s.AddItem("x")
	assert.Equal(t, "[]", string(s.Text), "nothing is changed after the first error")
}
