package leftover

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/project"
)

// tails are paths by their last two segments, of which the last has no ending.
type tails map[string]*tail

// tail are the paths that end alike.
type tail struct {
	paths         []ended
	once          sync.Once
	wholes, parts map[string]string // the first path that is, or ends with, a text
}

// ended is a path whose ending may be left out by those who name it.
type ended struct {
	path  string
	omits bool
}

// names says how a path may be written: whole, and without its ending.
func (e ended) names() []string {
	if stem := withoutEnding(e.path); e.omits && stem != e.path {
		return []string{e.path, stem}
	}
	return []string{e.path}
}

// add takes a path of two segments and more in.
func (t tails) add(p string, omits bool) {
	above := project.Dir(p)
	if above == "." {
		return
	}
	key := path.Base(above) + "/" + path.Base(withoutEnding(p))
	if t[key] == nil {
		t[key] = &tail{}
	}
	t[key].paths = append(t[key].paths, ended{p, omits})
}

// index notes all ends of the paths.
func (t *tail) index() {
	t.once.Do(func() {
		slices.SortFunc(t.paths, func(a, b ended) int { return strings.Compare(a.path, b.path) })
		t.wholes, t.parts = map[string]string{}, map[string]string{}
		first := func(to map[string]string, text, p string) {
			if _, taken := to[text]; !taken {
				to[text] = p
			}
		}
		for _, e := range t.paths {
			for _, name := range e.names() {
				first(t.wholes, name, e.path)
				for from := name; from != ""; {
					first(t.parts, from, e.path)
					_, from, _ = strings.Cut(from, "/")
				}
			}
		}
	})
}

// find gives the first path that ends with a text, or with which the text ends, and the part of the text that names it;
// empty for none.
func (t *tail) find(text string) (p, part string) {
	if t == nil {
		return "", ""
	}
	t.index()
	if p := t.parts[text]; p != "" {
		return p, text
	}
	for _, rest, below := strings.Cut(text, "/"); below; _, rest, below = strings.Cut(rest, "/") {
		if p := t.wholes[rest]; p != "" {
			return p, rest
		}
	}
	return "", ""
}

// ends says whether one of the paths ends with a text.
func (t *tail) ends(text string) bool {
	if t == nil {
		return false
	}
	t.index()
	return t.parts[text] != ""
}
