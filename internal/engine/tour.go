package engine

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
)

// This file tours the folders: what is in each, what it seems to hold, and which others use it.

// findFolders numbers the folders of the tour, and says in which each file lies.
func (s *survey) findFolders() {
	numbers := map[string]int{}
	number := func(dir string) int {
		n, known := numbers[dir]
		if !known {
			n = len(s.folders)
			numbers[dir] = n
			s.folders = append(s.folders, tourFolder{path: dir})
		}
		return n
	}
	s.lies = make([]int, len(s.tree.Files))
	last := ""
	for id, f := range s.tree.Files {
		dir := project.Dir(f.Path)
		if dir == last { // neighbours mostly lie in one folder
			s.lies[id] = s.lies[id-1]
			continue
		}
		last = dir
		parts := strings.Split(dir, "/")
		s.lies[id] = number(strings.Join(parts[:min(len(parts), s.depth)], "/"))
	}
	// those around come to the list as well; the top counts only what lies there itself
	for n := 0; n < len(s.folders); n++ {
		around := []int{n}
		for dir := s.folders[n].path; strings.Contains(dir, "/"); {
			dir = project.Dir(dir)
			around = append(around, number(dir))
		}
		s.folders[n].around = around
	}
}

// tourFolder is a folder of the tour.
type tourFolder struct {
	path   string
	around []int // it and the folders in which it lies, the deepest first
	files  []project.FileID
}

// between is a pair of folders of the tour, by their numbers: files of the first use files of the second.
type between struct{ from, to int }

// countUses counts the certain references from one folder to another.
func (s *survey) countUses() {
	s.uses = map[between]int{}
	for _, part := range parallel.Parts(len(s.graph.Files), func(from, to int) map[between]int {
		uses := map[between]int{}
		for id := from; id < to; id++ {
			node := &s.graph.Files[id]
			for i, t := range node.Targets {
				if t.Kind == lang.ToFile && s.counts(id, i) && s.lies[id] != s.lies[t.File] {
					uses[between{s.lies[id], s.lies[t.File]}]++
				}
			}
		}
		return uses
	}) {
		for pair, n := range part {
			s.uses[pair] += n
		}
	}
}

// findUsers notes from which folders each folder is used.
func (s *survey) findUsers() {
	s.users = map[string]map[string]bool{}
	for pair := range s.uses {
		for _, n := range s.folders[pair.to].around {
			if slices.Contains(s.folders[pair.from].around, n) {
				continue
			}
			dir := s.folders[n].path
			if s.users[dir] == nil {
				s.users[dir] = map[string]bool{}
			}
			s.users[dir][s.folders[pair.from].path] = true
		}
	}
}

func (s *survey) tourFolders() {
	for id, n := range s.lies {
		for _, around := range s.folders[n].around {
			s.folders[around].files = append(s.folders[around].files, project.FileID(id))
		}
	}
	s.Folders = make([]FolderTour, len(s.folders))
	parallel.Do(len(s.folders), func(i int) { s.Folders[i] = s.tour(s.folders[i].path, s.folders[i].files) })
	// a folder before what lies in it, and that before its neighbour
	slices.SortFunc(s.Folders, func(a, b FolderTour) int {
		return slices.Compare(strings.Split(a.Path, "/"), strings.Split(b.Path, "/"))
	})
}

func (s *survey) tour(dir string, ids []project.FileID) FolderTour {
	t := s.count(dir, ids)
	t.Holds, t.Evidence = s.holds(ids, t)
	t.Purpose = s.purpose(dir, ids)
	if role, known := s.knownFolder(dir); known {
		t.Role = &role
	}
	return t
}

// count is a tour of a folder with what can be counted.
func (s *survey) count(dir string, ids []project.FileID) FolderTour {
	t := FolderTour{Path: dir, Files: len(ids)}
	shares := map[string]*Share{}
	for _, id := range ids {
		f := &s.facts[id]
		if f.locked {
			continue
		}
		t.Lines += f.lines
		addShare(shares, f.language, f.lines)
		if f.generated {
			t.Generated++
		}
	}
	t.Languages = sortedShares(shares)
	return t
}

// purpose is what the convention says of a folder: of the shelf on which most of its files stand right.
func (s *survey) purpose(dir string, ids []project.FileID) string {
	counts := map[string]int{}
	best := ""
	for _, id := range ids {
		if s.homes == nil {
			return ""
		}
		if h := s.homes[id]; h.Kind == placement.AtHome && h.Shelf.For != "" &&
			strings.HasPrefix(h.Shelf.At.Head(), dir+"/") {
			counts[h.Shelf.For]++
			if n := counts[h.Shelf.For]; n > counts[best] || n == counts[best] && h.Shelf.For < best {
				best = h.Shelf.For
			}
		}
	}
	if counts[best]*2 < len(ids) {
		return ""
	}
	return best
}

// holds says what a folder seems to hold, and how that is known.
func (s *survey) holds(ids []project.FileID, t FolderTour) (string, []string) {
	evidence := []string{}
	tests, words := 0, map[string]int{}
	for _, id := range ids {
		if s.facts[id].test {
			tests++
		}
		if word := s.facts[id].word; word != "" {
			words[word]++
		}
	}
	holds := ""
	switch {
	case t.Generated*2 > len(ids):
		holds = "generated files"
		evidence = append(evidence, fmt.Sprintf("%d of %d say so at their beginning or in their names", t.Generated,
			len(ids)))
	case tests*2 > len(ids):
		holds = "tests"
		evidence = append(evidence, fmt.Sprintf("%d of %d are called as tests are", tests, len(ids)))
	}
	for _, word := range sortedKeys(words) {
		if n := words[word]; holds == "" && n >= 3 && n*5 >= len(ids)*3 {
			holds = "each a " + word
			evidence = append(evidence, fmt.Sprintf("the names of %d of %d end in %s", n, len(ids), word))
		}
	}
	if kind, n := s.declared(ids); holds == "" && n >= 3 && n*5 >= len(ids)*3 {
		holds = kind + "s"
		if kind == "class" {
			holds = "classes"
		}
		evidence = append(evidence, fmt.Sprintf("%d of %d declare a %s", n, len(ids), kind))
	}
	if holds == "" && len(t.Languages) > 0 {
		main := t.Languages[0]
		if holds = main.Name; main.Files*5 < len(ids)*3 {
			holds = kinds(t.Languages)
		} else if main.Files < len(ids) {
			evidence = append(evidence, fmt.Sprintf("%d of %d files are %s", main.Files, len(ids), main.Name))
		}
	}
	switch n := len(s.users[t.Path]); n {
	case 0:
	case 1:
		from := slices.Sorted(maps.Keys(s.users[t.Path]))[0]
		if from == "." {
			from = "the top"
		}
		evidence = append(evidence, "used from "+from)
	default:
		evidence = append(evidence, fmt.Sprintf("used from %d other folders", n))
	}
	return holds, evidence
}

// declared is the kind of declaration that most of some files have, of those that tell files apart.
func (s *survey) declared(ids []project.FileID) (kind string, n int) {
	for _, k := range []string{"component", "hook", "route", "class"} {
		count := 0
		for _, id := range ids {
			if s.facts[id].kinds.Has(k) {
				count++
			}
		}
		if count > n {
			kind, n = k, count
		}
	}
	return kind, n
}

func sortedKeys(m map[string]int) []string {
	return slices.SortedFunc(maps.Keys(m), func(a, b string) int { return cmp.Or(m[b]-m[a], strings.Compare(a, b)) })
}

// countLines counts the lines of the project, and of each language.
func (s *survey) countLines() {
	shares := map[string]*Share{}
	for i := range s.facts {
		if s.facts[i].locked {
			continue
		}
		s.Lines += s.facts[i].lines
		addShare(shares, s.facts[i].language, s.facts[i].lines)
	}
	s.Languages = sortedShares(shares)
}

func addShare(shares map[string]*Share, name string, lines int) {
	if shares[name] == nil {
		shares[name] = &Share{Name: name}
	}
	shares[name].Files++
	shares[name].Lines += lines
}

func sortedShares(shares map[string]*Share) []Share {
	out := []Share{}
	for _, s := range shares {
		out = append(out, *s)
	}
	slices.SortFunc(out, func(a, b Share) int {
		return cmp.Or(b.Files-a.Files, b.Lines-a.Lines, strings.Compare(a.Name, b.Name))
	})
	return out
}
