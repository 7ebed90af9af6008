package carry

import (
	"slices"
	"strings"

	"crookedshelf/internal/project"
)

// made is what compilers make of the files of a tree and put elsewhere. It is no part of the tree, and settings name it.
type made struct {
	goes   map[string]string // what moves because its source does
	stands map[string]bool   // what is there afterwards, with its folders
}

// made finds what compilers make before and after the moves.
func (w *worker) made(d *Draft) made {
	out := made{map[string]string{}, map[string]bool{}}
	after := d.After.Rules()
	for i, rules := range w.Graph.Rules() {
		if rules.Made == nil {
			continue
		}
		for old, id := range d.NewID {
			if id == project.None {
				continue
			}
			was := rules.Made(project.FileID(old))
			for n, now := range after[i].Made(id) {
				if n < len(was) && now != was[n] {
					out.goes[was[n]] = now
				}
				for ; now != "." && !out.stands[now]; now = project.Dir(now) {
					out.stands[now] = true
				}
			}
		}
	}
	return out
}

// goes says where what is no part of the tree will be: it is made of a file, or goes with its folder.
func (d *Draft) goes(place string) string {
	if to, known := d.made().goes[place]; known {
		return to
	}
	return d.moved.goes(place)
}

// madeIn says into which folders goes what was made in one; empty if nothing was.
func (d *Draft) madeIn(dir string) string {
	var to []string
	for from, now := range d.made().goes {
		if strings.HasPrefix(from, dir+"/") {
			to = append(to, project.Dir(now))
		}
	}
	slices.Sort(to)
	to = slices.Compact(to)
	return strings.Join(to[:min(len(to), 2)], ", ")
}
