package parallel

import (
	"errors"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestEveryIndexOnce(t *testing.T) {
	t.Parallel()
	for _, n := range []int{0, 1, 15, 16, 17, 1000} {
		seen := make([]int, n)
		Do(n, func(i int) { seen[i]++ })
		for i, times := range seen {
			assert.Equal(t, 1, times, "index %d of %d", i, n)
		}
	}
}

func TestTheFirstErrorIsGiven(t *testing.T) {
	t.Parallel()
	wrong := errors.New("wrong")
	assert.NoError(t, Try(100, func(int) error { return nil }))
	assert.ErrorIs(t, Try(100, func(i int) error {
		if i == 40 {
			return wrong
		}
		return nil
	}), wrong)
}

func TestPartsAreInOrder(t *testing.T) {
	t.Parallel()
	for _, n := range []int{0, 1, part, part + 1, 10*part - 3} {
		next := 0
		for _, got := range Parts(n, func(from, to int) [2]int { return [2]int{from, to} }) {
			assert.Equal(t, next, got[0])
			assert.Greater(t, got[1], got[0])
			next = got[1]
		}
		assert.Equal(t, n, next)
	}
}

func TestSort(t *testing.T) {
	t.Parallel()
	for _, n := range []int{0, 1, 100, 2 * alone, 5*alone + 3} {
		values := rand.New(rand.NewPCG(1, 2)).Perm(n)
		Sort(values, func(a, b int) int { return a - b })
		for i, v := range values {
			assert.Equal(t, i, v, "of %d", n)
		}
	}
}
