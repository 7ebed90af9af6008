package ecosystems

import (
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"
)

// index finds the facts of one ecosystem that are about a path without trying them one by one: a project has many
// files, and most facts name one of them in full.
type index struct {
	named map[string][]int // by the path in full
	// starred are patterns, by how many folders they have and the first of these, which is * where it has a star itself.
	starred map[bucket][]starred
	deep    []starred // patterns that fit at any depth
	bases   []starred // patterns of secrets, which are such wherever they lie
}

type bucket struct {
	depth int
	first string
}

// starred is a pattern with the number of its fact.
type starred struct {
	pattern string
	fact    int
}

// indexes are those of all ecosystems, by their names.
var indexes = sync.OnceValue(func() map[string]*index {
	out := map[string]*index{}
	for _, e := range All() {
		x := &index{named: map[string][]int{}, starred: map[bucket][]starred{}}
		for i, f := range e.Facts {
			for _, pattern := range f.Files {
				x.add(pattern, i, f.Secret)
			}
		}
		out[e.Name] = x
	}
	return out
})

func (x *index) add(pattern string, fact int, secret bool) {
	one := starred{pattern, fact}
	first, _, below := strings.Cut(strings.TrimSuffix(pattern, "/"), "/")
	switch {
	case secret && !below:
		x.bases = append(x.bases, one)
	case strings.Contains(pattern, "**"):
		x.deep = append(x.deep, one)
	case !strings.ContainsAny(pattern, "*?{["):
		x.named[pattern] = append(x.named[pattern], fact)
	default:
		if strings.ContainsAny(first, "*?{[") {
			first = "*"
		}
		at := bucket{strings.Count(pattern, "/"), first}
		x.starred[at] = append(x.starred[at], one)
	}
}

// of gives the numbers of the facts that are about a path, in their order.
func (x *index) of(place string) (out []int) {
	out = append(out, x.named[place]...)
	try := func(patterns []starred, subject string) {
		for _, one := range patterns {
			if strings.HasSuffix(one.pattern, "/") != strings.HasSuffix(place, "/") || slices.Contains(out, one.fact) {
				continue
			}
			if fits, _ := doublestar.Match(strings.TrimSuffix(one.pattern, "/"), subject); fits {
				out = append(out, one.fact)
			}
		}
	}
	subject := strings.TrimSuffix(place, "/")
	first, _, _ := strings.Cut(subject, "/")
	depth := strings.Count(place, "/")
	try(x.starred[bucket{depth, first}], subject)
	try(x.starred[bucket{depth, "*"}], subject)
	try(x.deep, subject)
	try(x.bases, path.Base(subject))
	slices.Sort(out)
	return out
}
