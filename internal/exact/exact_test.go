package exact_test

import (
	"encoding/json"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/exact"
)

type night struct {
	Name  string            `json:"name"`
	More  []string          `json:"more"`
	By    map[string]any    `json:"by"`
	When  time.Time         `json:"when"`
	Next  *night            `json:"next"`
	Bytes []byte            `json:"bytes"`
	Said  map[string]string `json:"said"`
}

func TestTextsComeBack(t *testing.T) {
	t.Parallel()
	for _, raw := range []string{"", "dome", "d\xf4me.ts", "\xff\xfe\x00\x80", "caf\u00e9", "\uefff",
		"a\uef80\xefb\uf000", "\ufffd", "\xed\xa0\x80", "\U0001F52D"} {
		text := exact.Text(raw)
		assert.True(t, utf8.ValidString(text), "%q", raw)
		assert.Equal(t, raw, exact.Raw(text), "%q", raw)
	}
	assert.Equal(t, "d\ueff4me.ts", exact.Text("d\xf4me.ts"))
	assert.Equal(t, "caf\u00e9", exact.Text("caf\u00e9"), "what is valid stays as it is")
}

func TestValuesComeBack(t *testing.T) {
	t.Parallel()
	bad := "n\xefght\x1b[31m\x7f\u202e\u200b\u0085\U000E0041"
	v := night{
		Name: bad, More: []string{"x", bad}, By: map[string]any{bad: bad, "list": []any{bad, 1.0, nil}},
		When: time.Date(2031, 3, 1, 0, 0, 0, 0, time.UTC),
		Next: &night{Name: bad}, Bytes: []byte(bad), Said: map[string]string{bad: bad},
	}
	text, err := exact.Marshal(v, " ")
	require.NoError(t, err)
	for _, b := range text {
		assert.True(t, b >= ' ' && b != 0x7f || b == '\n', "byte %x", b)
	}
	for _, r := range "\u202e\u200b\u0085\U000E0041" {
		assert.NotContains(t, string(text), string(r))
	}
	assert.Contains(t, string(text), `\u202e\u200b\u0085\udb40\udc41`)
	var back night
	require.NoError(t, exact.Unmarshal(text, &back))
	assert.Equal(t, v, back)
	assert.Equal(t, bad, v.Name, "what was written stays as it was")
	var plain map[string]any
	require.NoError(t, json.Unmarshal(text, &plain), "it is JSON to everybody")
}

func TestWhatIsNoDocument(t *testing.T) {
	t.Parallel()
	for _, text := range []string{"", "{", `{"nme": 1}`, `{"name": "a"} {"name": "b"}`} {
		assert.Error(t, exact.Unmarshal([]byte(text), &night{}), text)
	}
}

func FuzzText(f *testing.F) {
	f.Add("dome")
	f.Add("\xff\uef80\xef\xbe\x80")
	f.Fuzz(func(t *testing.T, raw string) {
		text, err := exact.Marshal(raw, "")
		require.NoError(t, err)
		var back string
		require.NoError(t, exact.Unmarshal(text, &back))
		require.Equal(t, raw, back)
	})
}
