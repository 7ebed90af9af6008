package script

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// Words end where looking at one byte after the other says, whatever stands around.
func TestWordsEnd(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(9, 10))
	for range 100000 {
		src := make([]byte, random.IntN(30))
		for i := range src {
			if src[i] = "azAZ09_$mQ5"[random.IntN(11)]; random.IntN(5) == 0 {
				src[i] = byte(random.IntN(256))
			}
		}
		want := 0
		for want < len(src) && plainWord[src[want]] {
			want++
		}
		require.Equal(t, want, plainEnd(src, 0), "%q", src)
	}
}
