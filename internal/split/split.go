// Package split parts a project into packages, where the convention says that instances of shelves are packages: their
// languages write the manifests, and it says which can't be packages, and why. Files are moved by others.
package split

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Input is a tree, and what moves in it.
type Input struct {
	Convention *convention.Convention
	Graph      *graph.Graph
	Moves      map[project.FileID]string
	// Filled is the text of a template with values put in.
	Filled func(text []byte, values map[string]string) []byte
}

// Result is what the packages come to.
type Result struct {
	Writes   map[string][]byte
	Edits    map[project.FileID][]source.Edit
	Refused  []carry.Refusal
	Remarks  []carry.Remark
	Warnings []string
	taken    map[string]bool // the folders of packages whose manifests were written
}

// Packaged says whether a path lies in a package whose manifest was written for what comes to it.
func (r *Result) Packaged(p string) bool {
	for dir := project.Dir(p); ; dir = path.Dir(dir) {
		if r.taken[dir] {
			return true
		}
		if dir == "." {
			return false
		}
	}
}

// Work parts a tree into packages. Packages that need one another in a circle are refused, and so is what a language
// says can be none: the moves into them.
func Work(in Input) *Result {
	w := &worker{Input: in, out: &Result{Writes: map[string][]byte{}, Edits: map[project.FileID][]source.Edit{},
		taken: map[string]bool{}}}
	if !in.Convention.HasPackages() || len(in.Moves) == 0 {
		return w.out
	}
	q := w.parting()
	if len(w.out.Refused) > 0 {
		return w.out
	}
	taken := w.out.taken
	var foreign []lang.Unparted
	for _, rules := range in.Graph.Rules() {
		if rules.Part == nil {
			continue
		}
		parted := rules.Part(q)
		if parted == nil {
			continue
		}
		for _, dir := range parted.Taken {
			taken[dir] = true
		}
		foreign = append(foreign, parted.Foreign...)
		for _, one := range parted.Refused {
			w.refuse(one.Dir, one.Why, one.Files...)
		}
		w.circles(parted.Needs)
		maps.Copy(w.out.Writes, parted.Writes)
		for id, edits := range parted.Edits {
			w.out.Edits[id] = append(w.out.Edits[id], edits...)
		}
		for _, d := range parted.Remarks {
			line := 1
			if id, there := in.Graph.Tree.Lookup(d.Path); there {
				line = w.line(id, d.At)
			}
			w.out.Remarks = append(w.out.Remarks, carry.Remark{Path: d.Path, Line: line, Text: d.Why})
		}
	}
	for _, one := range foreign {
		if !taken[one.Dir] {
			w.refuse(one.Dir, one.Why)
			taken[one.Dir] = true
		}
	}
	for _, one := range q.Packages {
		if !taken[one.Dir] && w.comes(one.Dir) && !w.manifested(one.Dir) {
			w.out.Warnings = append(w.out.Warnings, fmt.Sprintf("%s: no language of its files makes packages yet; its manifest is yours to write", one.Dir))
		}
	}
	return w.out
}

// manifested says whether a folder will have a manifest of some language.
func (w *worker) manifested(dir string) bool {
	for id := range w.Graph.Tree.Files {
		if p := w.then(project.FileID(id)); project.Dir(p) == dir && w.Graph.Languages.IsManifest(path.Base(p)) {
			return true
		}
	}
	return false
}

// comes says whether a file comes into a folder.
func (w *worker) comes(dir string) bool {
	for _, to := range w.Moves {
		if dir == "." || strings.HasPrefix(to, dir+"/") {
			return true
		}
	}
	return false
}

type worker struct {
	Input
	dirs map[string]bool // of the packages
	out  *Result
}

// then is where a file will be.
func (w *worker) then(id project.FileID) string {
	if to := w.Moves[id]; to != "" {
		return to
	}
	return w.Graph.Tree.Path(id)
}

// parting asks for the packages in which files will be.
func (w *worker) parting() lang.Parting {
	w.dirs = map[string]bool{}
	g := w.Graph
	q := lang.Parting{Then: w.then, EditList: g.Languages.EditList,
		Named: func(manifest project.FileID, names []string, in func(project.FileID) bool) []bool {
			return g.NamedInTexts(manifest, names, func(id project.FileID) bool {
				p := g.Tree.Path(id)
				return in(id) && path.Base(p) != convention.FileName && p != w.Convention.InTree && !g.Languages.IsProse(p)
			})
		},
		Mentions: func(id project.FileID) ([]lang.Mention, []lang.Target) {
			return g.Files[id].Mentions, g.Files[id].Targets
		},
		IsTest: func(p string) bool { return g.Languages.IsTest(p) || g.Languages.Shows(p) || graph.Configures(p) },
	}
	if ws := w.Convention.Workspace; ws != nil {
		q.Members, q.Inherit, q.Shared, q.Resolver = ws.Members, ws.Inherit, ws.Shared, ws.Resolver
	}
	for id := range w.Graph.Tree.Files {
		to := w.then(project.FileID(id))
		shelf, dir := placement.PackageOf(w.Convention, to)
		if shelf == nil || w.dirs[dir] {
			continue
		}
		w.dirs[dir] = true
		captures, _ := shelf.At.Match(to)
		one := lang.NewPackage{Dir: cmp.Or(dir, ".")}
		if shelf.Package.Name != nil {
			one.Name = shelf.Package.Name.Fill(captures.Values)
		}
		if file := shelf.Package.Template; file != "" {
			content, err := w.template(file)
			if err != "" {
				w.refuse(dir, fmt.Sprintf("line %d of the convention: %s", shelf.Package.Line, err))
				continue
			}
			values := maps.Clone(captures.Values)
			if values == nil {
				values = map[string]string{}
			}
			values["package"] = cmp.Or(one.Name, path.Base(dir))
			one.Template = w.Filled(content, values)
		}
		q.Packages = append(q.Packages, one)
	}
	w.count(q.Packages)
	slices.SortFunc(q.Packages, func(a, b lang.NewPackage) int { return strings.Compare(a.Dir, b.Dir) })
	return q
}

// count says of each package how many files of one language come to it, of those that declare names.
func (w *worker) count(packages []lang.NewPackage) {
	dirs := map[string]*lang.NewPackage{}
	for i := range packages {
		dirs[packages[i].Dir] = &packages[i]
	}
	for _, family := range w.Graph.Languages.Families {
		if !family.Declares {
			continue
		}
		counts := map[*lang.NewPackage]int{}
		for id := range w.Graph.Tree.Files {
			id := project.FileID(id)
			if !family.Reads(w.Graph.Tree.Path(id)) {
				continue
			}
			if one := project.Nearest(dirs, project.Dir(w.then(id))); one != nil {
				counts[one]++
				one.Most = max(one.Most, counts[one])
			}
		}
	}
}

func (w *worker) template(file string) (content []byte, problem string) {
	id, there := w.Graph.Tree.Lookup(file)
	if !there {
		return nil, fmt.Sprintf("there is no file %s to begin a manifest with", file)
	}
	content, err := w.Graph.Tree.Content(id)
	if err != nil {
		return nil, err.Error()
	}
	return content, ""
}

// refuse takes out the moves into a package, and of some other files; into all, if no folder is given.
func (w *worker) refuse(dir, why string, more ...project.FileID) {
	any := false
	for _, id := range more {
		if w.Moves[id] != "" {
			w.out.Refused = append(w.out.Refused, carry.Refusal{File: id, Reason: why})
			any = true
		}
	}
	for _, id := range slices.Sorted(maps.Keys(w.Moves)) {
		to := w.Moves[id]
		_, in := placement.PackageOf(w.Convention, to)
		if dir == "" && in != "" || dir != "" && (in == dir || strings.HasPrefix(to, dir+"/")) {
			w.out.Refused = append(w.out.Refused, carry.Refusal{File: id, Reason: why})
			any = true
		}
	}
	if !any {
		w.out.Warnings = append(w.out.Warnings, cmp.Or(dir, "packages")+": "+why)
	}
}

// circles refuses packages that need one another, and shows one reference for each of them.
func (w *worker) circles(needs []lang.PackageNeed) {
	var dirs []string
	for _, n := range needs {
		dirs = append(dirs, n.From, n.To)
	}
	slices.Sort(dirs)
	dirs = slices.Compact(dirs)
	at := map[string]int{}
	for i, dir := range dirs {
		at[dir] = i
	}
	next := make([][]int, len(dirs))
	shows := map[[2]int]lang.PackageNeed{}
	for _, n := range needs {
		key := [2]int{at[n.From], at[n.To]}
		if _, known := shows[key]; !known && !n.Test {
			shows[key] = n
			next[key[0]] = append(next[key[0]], key[1])
		}
	}
	for _, component := range graph.Components(len(dirs), func(i int) []int { return next[i] }) {
		if len(component) < 2 {
			continue
		}
		circle := shortest(component, next)
		var text []string
		for i, from := range circle {
			n := shows[[2]int{from, circle[(i+1)%len(circle)]}]
			text = append(text, fmt.Sprintf("%s needs %s (%s:%d: %s)", shown(n.From), shown(n.To), w.Graph.Tree.Path(n.By),
				w.line(n.By, n.At), n.What))
		}
		why := "packages may not need one another in a circle: " + strings.Join(text, ", ") +
			"; what both need may be a package of its own"
		for _, i := range component {
			if w.dirs[dirs[i]] {
				w.refuse(dirs[i], why)
			}
		}
	}
}

// shown is the folder of a package, for messages.
func shown(dir string) string {
	if dir == "." {
		return "the root"
	}
	return dir
}

// line is the line of a byte of a file.
func (w *worker) line(id project.FileID, at int) (line int) {
	w.Graph.Tree.Peek(id, func(content []byte, err error) { line = source.PositionAt(content, at).Line })
	return line
}

// shortest gives a shortest circle of a component.
func shortest(component []int, next [][]int) (best []int) {
	in := map[int]bool{}
	for _, i := range component {
		in[i] = true
	}
	for _, start := range component {
		from := map[int]int{start: -1}
		for todo := []int{start}; len(todo) > 0; todo = todo[1:] {
			at := todo[0]
			for _, to := range next[at] {
				if to == start {
					circle := []int{at}
					for back := from[at]; back >= 0; back = from[back] {
						circle = append([]int{back}, circle...)
					}
					if best == nil || len(circle) < len(best) {
						best = circle
					}
					continue
				}
				if _, seen := from[to]; !seen && in[to] {
					from[to] = at
					todo = append(todo, to)
				}
			}
		}
	}
	return best
}
