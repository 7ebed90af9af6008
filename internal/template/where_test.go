package template

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row is a template, whose <part> may be moon or sky and whose <size> must not be big, and a path: what is refused.
func TestRefuses(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ template, path, refused string }{
		{"a/<part>/<size>.js", "a/moon/small.js", ""},
		{"a/<part>/<size>.js", "a/sun/big.js", "part sun"},
		{"a/<part>/<size>.js", "a/sky/Big.js", "size Big"},
		{"a/<part>/<size>.js", "b/sun/big.js", ""}, // it fits not even with any value
		{"a/<part|kebab>/<any>.js", "a/BigSun/x.js", ""},
		{"a/<any>/**", "a/big/x.js", ""},
		{"a/<part|plural>/<any>.js", "a/Moons/x.js", ""}, // one of several
		{"a/<part|plural|kebab>/<any>.js", "a/suns/x.js", "part suns"},
		{"a/<size|plural>/<any>.js", "a/Bigs/x.js", "size Bigs"},
		{"a/<part|kebab>/<any>.js", "a/moons/x.js", "part moons"},
	} {
		parsed, err := ParsePath("", c.template, nil)
		require.NoError(t, err)
		for i, tok := range parsed.Tokens {
			switch {
			case tok.kind == placeholder && tok.Text == "part":
				parsed.Tokens[i].Where = &Where{Only: map[string]bool{WordsKey("moon"): true, WordsKey("sky"): true}}
			case tok.kind == placeholder && tok.Text == "size":
				parsed.Tokens[i].Where = &Where{Except: map[string]bool{WordsKey("big"): true}}
			}
		}
		name, value, ok := parsed.Refuses(c.path)
		assert.Equal(t, c.refused != "", ok, c.path)
		if ok {
			assert.Equal(t, c.refused, name+" "+value)
		}
	}
}
