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

// remark says what no compiler notices: names that are stored with the path of a package, the order in which files
// of one package do something when a program starts, and the names of packages in what an example prints.
func (j *judge) remark() {
	j.printing()
	for _, id := range j.readable() {
		p, f := j.old.tree.Path(id), j.old.ix.files[id]
		to := j.moves[p]
		if to == "" || path.Dir(to) == path.Dir(p) || isTest(p) {
			continue
		}
		for i := range f.imports {
			if why := remarked[f.imports[i].path]; why != "" {
				j.out = append(j.out, lang.Duty{Path: p, Why: why, At: f.imports[i].at.Start})
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

// printing says which examples are expected to print a name of a package that is called otherwise afterwards. It is not
// rewritten: whether the name comes from the package or from a text is seen only when the example runs.
func (j *judge) printing() {
	called := map[string]string{} // new names of packages, by a name of theirs with the old one
	for _, id := range j.readable() {
		f := j.old.ix.files[id]
		if now := j.clause(j.at[j.now[id]]); now != "" && now != f.clause {
			for _, name := range f.names() {
				called[f.clause+"."+name] = now
			}
		}
	}
	if len(called) == 0 {
		return
	}
	for _, id := range j.readable() {
		for _, u := range j.old.ix.files[id].printed {
			name := u.qualifier + "." + u.name
			if now := called[name]; now != "" {
				j.out = append(j.out, lang.Duty{Path: j.old.tree.Path(id), At: u.at.Start, Why: fmt.Sprintf(
					"an example is expected to print %s, and the package is called %s then", name, now)})
				break // one says where to look
			}
		}
	}
}
