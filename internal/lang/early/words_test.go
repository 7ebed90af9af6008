package early_test

import (
	"bytes"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/early"
)

// words are found by their p, their j and their v; vi counts before a dot alone.
func words(src []byte, i int) int {
	for _, w := range []struct {
		word   string
		before int
	}{{"import", 2}, {"jest", 0}, {"vi.", 0}} {
		if start := i - w.before; start >= 0 && bytes.HasPrefix(src[start:], []byte(w.word)) {
			return start + len(w.word)
		}
	}
	return 0
}

var some = early.NewWords([]string{"mpor", "jest", "?vi."},
	map[byte]func(byte) bool{'?': func(byte) bool { return true }}, "pjv", words)

func TestLast(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]int{
		"": 0, "i": 0, "impor": 0, "import": 6, "import x import y": 15, "jest": 4, "vi": 0, "vi.": 3, "via vi.": 7,
		"a jest or two": 6, "p j v": 0,
	} {
		assert.Equal(t, want, some.Last([]byte(text)), text)
	}
}

func TestBackwards(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(5, 6))
	for n := range 900 {
		text := make([]byte, n%150)
		var want []int
		for i := range text {
			text[i] = []byte{'/', '.', '0', 0xaf, 0x2e, 0, 0xff}[random.IntN(7)]
			if text[i] == '/' || text[i] == 0 {
				want = append([]int{i}, want...)
			}
		}
		var got []int
		early.Backwards(text, '/', 0, func(i int) bool {
			got = append(got, i)
			return false
		})
		require.Equal(t, want, got, "%q", text)
		if len(want) > 0 {
			first := -1
			early.Backwards(text, 0, '/', func(i int) bool {
				require.Equal(t, -1, first, "asked once")
				first = i
				return true
			})
			require.Equal(t, want[0], first)
		}
	}
}

// A word is found wherever it stands, before and behind whatever else.
func TestNoPlaceIsPassedOver(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(3, 4))
	for range 3000 {
		text := make([]byte, random.IntN(200))
		for i := range text {
			text[i] = "imporjestv. xé\n"[random.IntN(15)]
		}
		at := random.IntN(len(text) + 1)
		text = append(text[:at:at], append([]byte([]string{"import", "jest", "vi."}[random.IntN(3)]), text[at:]...)...)
		want := 0
		for i := range text {
			want = max(want, words(text, i))
		}
		require.Equal(t, want, some.Last(text), "%q", text)
	}
}
