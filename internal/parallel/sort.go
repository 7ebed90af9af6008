package parallel

import (
	"runtime"
	"slices"
	"sync"
)

// alone is how many values are sorted on one core.
const alone = 2048

// Sort sorts values of which no two are equal.
func Sort[T any](values []T, compare func(a, b T) int) {
	sortParts(values, make([]T, len(values)), runtime.GOMAXPROCS(0), compare)
}

// sortParts sorts the halves on half of the cores each and merges them.
func sortParts[T any](values, buf []T, cores int, compare func(a, b T) int) {
	if cores < 2 || len(values) < alone {
		slices.SortFunc(values, compare)
		return
	}
	mid := len(values) / 2
	var first sync.WaitGroup
	first.Go(func() { sortParts(values[:mid], buf[:mid], cores/2, compare) })
	sortParts(values[mid:], buf[mid:], cores-cores/2, compare)
	first.Wait()
	copy(buf, values)
	a, b := buf[:mid], buf[mid:]
	for i := range values {
		if len(b) == 0 || len(a) > 0 && compare(a[0], b[0]) < 0 {
			values[i], a = a[0], a[1:]
		} else {
			values[i], b = b[0], b[1:]
		}
	}
}
