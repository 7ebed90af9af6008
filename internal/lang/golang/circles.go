package golang

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// This file looks at which packages would import which.

// imports looks at which package would import which: none may import itself by way of others, and what is internal
// stays so.
func (j *judge) imports() {
	needs := map[place]map[place]need{}
	for _, id := range j.readable() {
		f, from := j.old.ix.files[id], j.at[j.now[id]]
		for _, n := range j.needed(id, f) {
			to := n.at
			if to.dir == from.dir {
				continue
			}
			// what a test imports makes a circle only where it is of the package itself
			if isTest(j.tree.Path(j.now[id])) {
				if from.external {
					continue
				}
			}
			if needs[from] == nil {
				needs[from] = map[place]need{}
			}
			if _, known := needs[from][to]; !known {
				needs[from][to] = n
			}
			j.internal(id, from, to)
		}
	}
	j.starts(needs)
	j.circles(needs)
}

// need is a package that a file needs, by one of the files that it needs there.
type need struct {
	at       place // in the new tree
	by, file project.FileID
}

// needed are the packages of the new tree that a file of the old one will import.
func (j *judge) needed(id project.FileID, f *file) []need {
	var out []need
	add := func(t lang.Target) {
		for _, file := range append([]project.FileID{t.File}, t.Set()...) {
			if _, known := j.now[file]; file != project.None && known {
				out = append(out, need{j.at[j.now[file]], id, file})
			}
		}
	}
	for i := range f.imports {
		s := &f.imports[i]
		if dir, ok := j.old.folder(path.Dir(j.old.tree.Path(id)), s.path); ok && (s.name == "_" || s.name == ".") {
			for _, file := range j.old.packages[dir] {
				add(lang.File(file))
			}
		}
	}
	for _, m := range j.old.namesIn(id, f) {
		if m.Kind == NameUse { // nobody imports a package for the sake of a comment
			add(j.old.resolveName(id, &m))
		}
	}
	slices.SortStableFunc(out, func(a, b need) int { return comparePlaces(a.at, b.at) })
	return slices.CompactFunc(out, func(a, b need) bool { return a.at == b.at })
}

// internal keeps what lies below a folder called internal to those around that, by the paths of their packages.
func (j *judge) internal(id project.FileID, from, to place) {
	user, _ := j.importPath(from.dir)
	used, _ := j.importPath(to.dir)
	at := strings.LastIndex("/"+used+"/", "/internal/")
	if at < 0 {
		return
	}
	around := strings.TrimSuffix(used[:max(0, at-1)], "/")
	if around == "" || user == around || strings.HasPrefix(user, around+"/") {
		return
	}
	moving := []project.FileID{id}
	for _, file := range j.packs.Space(to).Files {
		moving = append(moving, j.was[file])
	}
	j.lost(moving, "%s uses it, and would lie outside of %s, within which alone %s may be imported",
		j.tree.Path(j.now[id]), around, used)
}

// circles blocks what would make packages import one another in a circle.
func (j *judge) circles(needs map[place]map[place]need) {
	const (
		open = iota + 1
		done
	)
	state := map[place]int{}
	var way []place
	var visit func(at place)
	visit = func(at place) {
		state[at] = open
		way = append(way, at)
		for _, to := range sortedPlaces(needs[at]) {
			switch state[to] {
			case open:
				j.circle(append(slices.Clone(way[slices.Index(way, to):]), to), needs)
			case 0:
				visit(to)
			}
		}
		way = way[:len(way)-1]
		state[at] = done
	}
	for _, at := range sortedPlaces(needs) {
		if state[at] == 0 {
			visit(at)
		}
	}
}

func (j *judge) circle(way []place, needs map[place]map[place]need) {
	var arrows []string
	var ids []project.FileID
	for i, at := range way[:len(way)-1] {
		n := needs[at][way[i+1]]
		arrows = append(arrows, fmt.Sprintf("%s imports %s (%s)", at.dir, way[i+1].dir,
			path.Base(j.tree.Path(j.now[n.by]))))
		ids = append(ids, n.by, n.file)
	}
	j.lost(ids, "packages would import one another in a circle: %s", strings.Join(arrows, ", "))
}
