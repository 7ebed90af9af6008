package early

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// Looking at many places at once passes over none that looking at one after the other finds, and takes none beyond what
// the halves of letters make.
func TestManyPlacesAtOnce(t *testing.T) {
	t.Parallel()
	f := newFours([]string{"mpor,Work", "path,odul,jest", "<vi>", "\xe2\x80?b", "abab", "zzzz", "0000", "?\\u?"},
		map[byte]func(c byte) bool{
			'<': func(c byte) bool { return c < '0' }, '>': func(c byte) bool { return c == '.' || c >= 0x80 },
			'?': func(byte) bool { return true },
		})
	random := rand.New(rand.NewPCG(7, 8))
	places := 0
	for range 20000 {
		text := make([]byte, random.IntN(150))
		for i := range text {
			text[i] = "mporWkathdulesjvi.<\xe2\x80bzz00\\u \x00\xff"[random.IntN(31)]
		}
		want := -1
		for i := len(text) - 4; i >= 0 && want < 0; i-- {
			if f.letters[text[i]]>>24&(f.letters[text[i+1]]>>16)&(f.letters[text[i+2]]>>8)&f.letters[text[i+3]]&0xff != 0 {
				want = i
			}
		}
		got := f.last(text)
		require.GreaterOrEqual(t, got, want, "%q", text)
		if got > want {
			groups := uint8(0xff)
			for k, h := range f.halves {
				groups &= h.lower[text[got+k]&15] & h.upper[text[got+k]>>4]
			}
			require.NotZero(t, groups, "%q", text)
			require.True(t, manyFours)
		}
		if got >= 0 {
			places++
		}
	}
	require.Greater(t, places, 1000)
}
