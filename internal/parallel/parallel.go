// Package parallel runs a loop on all cores. What the loop gives must go to places of its own for each index, so that
// the outcome is the same however many cores there are.
package parallel

import (
	"runtime"
	"sync"
	"sync/atomic"
)

// run is how many neighbours one core takes at a time: few enough that no core is left with a long tail.
const run = 16

// Do calls f for every index below n. The order of the calls is not fixed.
func Do(n int, f func(i int)) {
	each(n, run, func(from, to int) {
		for i := from; i < to; i++ {
			f(i)
		}
	})
}

// part is how many neighbours Parts and Ranges take together.
const part = 128

// Ranges calls f for each part of the indexes below n, for loops in which what was worked out for one index may hold
// for the next.
func Ranges(n int, f func(from, to int)) { each(n, part, f) }

// Parts calls f for each part of the indexes below n, for loops that gather what they find: what f gives for the parts
// is in the order of the indexes.
func Parts[T any](n int, f func(from, to int) T) []T {
	out := make([]T, (n+part-1)/part)
	each(n, part, func(from, to int) { out[from/part] = f(from, to) })
	return out
}

// each calls f for runs of neighbours.
func each(n, run int, f func(from, to int)) {
	var next atomic.Int64
	var workers sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), (n+run-1)/run) {
		workers.Go(func() {
			for {
				from := int(next.Add(int64(run))) - run
				if from >= n {
					return
				}
				f(from, min(from+run, n))
			}
		})
	}
	workers.Wait()
}

// Try is Do for a loop that can fail: it gives the error of the lowest index that failed. After a failure, indexes that
// were not begun may be passed over.
func Try(n int, f func(i int) error) error {
	errs := make([]error, n)
	var failed atomic.Bool
	Do(n, func(i int) {
		if failed.Load() {
			return
		}
		if errs[i] = f(i); errs[i] != nil {
			failed.Store(true)
		}
	})
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}
