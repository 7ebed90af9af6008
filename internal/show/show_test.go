package show_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/show"
)

func TestShown(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ raw, name, text string }{
		{"src/dome.ts", "src/dome.ts", "src/dome.ts"},
		{"caf\u00e9 \U0001F52D", "caf\u00e9 \U0001F52D", "caf\u00e9 \U0001F52D"},
		{"a\nb\tc", `"a\nb\tc"`, "a\nb\tc"},
		{"\x1b[31mred", `"\x1b[31mred"`, `\x1b[31mred`},
		{"a\x7f\u0085b", `"a\x7f\u0085b"`, `a\x7f\u0085b`},
		{"gpj.\u202enight", `"gpj.\u202enight"`, `gpj.\u202enight`},
		{"no\u200bwidth\ufeff", `"no\u200bwidth\ufeff"`, `no\u200bwidth\ufeff`},
		{"bad\xff", `"bad\xff"`, `bad\xff`},
		{"back\\slash\"", "back\\slash\"", "back\\slash\""},
		{"\r\u2028", `"\r\u2028"`, `\r\u2028`},
	} {
		assert.Equal(t, row.name, show.Name(row.raw), "%q", row.raw)
		assert.Equal(t, row.text, show.Text(row.raw), "%q", row.raw)
	}
}
