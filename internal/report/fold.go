package report

import (
	"fmt"
	"strings"
)

// leastFolded is how many files that go from one folder to another are written as one line.
const leastFolded = 4

// bundle is files that go from one folder to another: which of the moves they are. One that is of a single file is that
// file.
type bundle struct {
	from, to string // with a slash at the end for folders
	moves    []int
}

// bundles gathers moves, given by from, to and what else is said of them, that take files of one folder to another; few
// of them stay apart. A bundle stands where its first move stood.
func bundles(n int, move func(i int) (from, to, note string), s Style) []bundle {
	type pair struct{ from, to, note string }
	of := map[pair][]int{}
	for i := range n {
		from, to, note := move(i)
		if a, b, ok := parents(from, to); ok {
			of[pair{a, b, note}] = append(of[pair{a, b, note}], i)
		}
	}
	var out []bundle
	for i := range n {
		from, to, note := move(i)
		a, b, ok := parents(from, to)
		all := of[pair{a, b, note}]
		switch {
		case !ok || len(all) < leastFolded || s.Whole:
			out = append(out, bundle{from, to, []int{i}})
		case all[0] == i:
			// the folders that all of them have in common
			inner := strings.TrimPrefix(from[:strings.LastIndexByte(from, '/')+1], a)
			for _, k := range all {
				for other, _, _ := move(k); !strings.HasPrefix(other, a+inner); {
					inner = inner[:strings.LastIndexByte(strings.TrimSuffix(inner, "/"), '/')+1]
				}
			}
			out = append(out, bundle{a + inner, b + inner, all})
		}
	}
	return out
}

// parents gives the folders of which the second takes the place of the first, by what the two paths have in common at
// their ends.
func parents(from, to string) (a, b string, ok bool) {
	for {
		i, k := strings.LastIndexByte(strings.TrimSuffix(from, "/"), '/'),
			strings.LastIndexByte(strings.TrimSuffix(to, "/"), '/')
		if from[i+1:] != to[k+1:] || i < 0 || k < 0 {
			return from, to, strings.HasSuffix(from, "/") && strings.HasSuffix(to, "/")
		}
		from, to = from[:i+1], to[:k+1]
	}
}

// name is the left side of a bundle's line.
func (b *bundle) name() string {
	if len(b.moves) == 1 {
		return Clean(b.from)
	}
	return fmt.Sprintf("%s (%d files)", Clean(b.from), len(b.moves))
}
