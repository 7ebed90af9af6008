package golang

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// remarked are packages that know others by their paths at run time, and what a reader should know who moves what uses
// them.
var remarked = map[string]string{
	"encoding/gob": "it uses encoding/gob, which knows types that are registered by the path of their package: what " +
		"was stored before names the old one",
	"plugin": "it uses plugin: a program and its plugins must be built with packages of the same paths",
}

// remark says what no compiler notices: names that are stored with the path of a package, and the order in which files
// of one package do something when a program starts.
func (j *judge) remark() {
	for _, id := range j.readable() {
		p, f := j.old.tree.Path(id), j.old.ix.files[id]
		to := j.moves[p]
		if to == "" || path.Dir(to) == path.Dir(p) || isTest(p) {
			continue
		}
		for i := range f.imports {
			if why := remarked[f.imports[i].path]; why != "" {
				j.out = append(j.out, lang.Duty{Path: p, Why: why})
			}
		}
		if f.runs {
			j.starting(id)
		}
	}
}

// starting says with which files of its new package a file that comes does something when a program starts: they do so
// in the order of their names.
func (j *judge) starting(id project.FileID) {
	var others []string
	for _, other := range j.packs.Space(j.at[j.now[id]]).Files {
		was := j.was[other]
		if path.Dir(j.old.tree.Path(was)) != path.Dir(j.old.tree.Path(id)) && j.of(other).runs &&
			!isTest(j.old.tree.Path(was)) {
			others = append(others, j.tree.Path(other))
		}
	}
	if slices.Sort(others); len(others) > 0 {
		j.out = append(j.out, lang.Duty{Path: j.old.tree.Path(id), Why: fmt.Sprintf(
			"it does something when a program starts, and in its new package so does %s: they do it in the order of "+
				"their names", strings.Join(others, " and "))})
	}
}
