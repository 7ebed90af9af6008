package engine

import (
	"path"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Unreferenced are programs to which nothing refers, and how that is known.
type Unreferenced struct {
	Files []string `json:"files"`
	Known string   `json:"known"`
}

// findUnreferenced lists programs that no reference leads to, that nothing starts and no tool finds by name or place,
// and whose name no other file holds. A name that is put together at run time is not seen: so it is a list to look at,
// and no rule.
func (s *survey) findUnreferenced() {
	s.Unreferenced = Unreferenced{
		Files: []string{},
		Known: "no import, page or setting leads to them, nothing starts them, " +
			"and no other file holds their name",
	}
	used := make([]bool, len(s.tree.Files))
	for id := range s.graph.Files {
		for _, t := range s.graph.Files[id].Targets {
			if t.Kind == lang.ToFile && t.File != project.FileID(id) {
				used[t.File] = true
			}
			for _, file := range t.Set() {
				used[file] = used[file] || file != project.FileID(id)
			}
		}
	}
	for _, e := range s.Entries {
		if id, there := s.tree.Lookup(e.Path); there {
			used[id] = true
		}
	}
	byStem := map[string][]project.FileID{}
	for id, f := range s.tree.Files {
		stem := stemOf(f.Path)
		if fact, _ := s.known.Of(f.Path, false); fact != nil { // a tool finds it by its name
			continue
		}
		if !used[id] && s.looseProgram(f.Path, stem) && !s.facts[id].generated {
			byStem[stem] = append(byStem[stem], project.FileID(id))
		}
	}
	if len(byStem) == 0 {
		return
	}
	var held sync.Map // stems that another file holds
	ids := make([]project.FileID, len(s.tree.Files))
	for i := range ids {
		ids[i] = project.FileID(i)
	}
	s.tree.ForEach(ids, false, func(id project.FileID, content []byte, err error) {
		if err != nil {
			return
		}
		for _, word := range strings.FieldsFunc(string(content), func(r rune) bool {
			return !(r == '_' || r == '-' || r == '.' || r >= '0' && r <= '9' || r|0x20 >= 'a' && r|0x20 <= 'z' || r > 127)
		}) {
			for _, stem := range []string{word, stemOf(word)} {
				if files := byStem[stem]; len(files) > 1 || len(files) == 1 && files[0] != id {
					held.Store(stem, true)
				}
			}
		}
	})
	for stem, files := range byStem {
		if _, is := held.Load(stem); is {
			continue
		}
		for _, id := range files {
			s.Unreferenced.Files = append(s.Unreferenced.Files, s.tree.Path(id))
		}
	}
	slices.Sort(s.Unreferenced.Files)
}

// stemOf is the name of a file up to its last dot.
func stemOf(p string) string {
	base := path.Base(p)
	return strings.TrimSuffix(base, path.Ext(base))
}

// looseProgram says whether a file is a program that is found by a reference alone.
func (s *survey) looseProgram(p, stem string) bool {
	languages := s.graph.Languages
	if !languages.IsProgram(p) && !languages.IsComponent(p) || languages.IsTest(p) || languages.Shows(p) ||
		languages.IsEntry(stem) || languages.Fixture(p).Why != "" || strings.Contains(stem, ".") || stem == "main" {
		return false
	}
	for _, rules := range s.graph.Rules() {
		if rules.Place != nil {
			if _, fixed := rules.Place(p); fixed {
				return false
			}
		}
	}
	return true
}
