package engine

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// facts are what a survey knows of one file.
type facts struct {
	language  string
	fixed     string // what binds it to its place, by its name
	test      bool   // or a story, or what a test has recorded
	word      string // the last of the words that its name is made of; empty where it is one word
	kinds     lang.DeclarationKinds
	lines     int
	generated bool   // it says so near its beginning, or by its name
	locked    bool   // a package manager writes it: it is nobody's work
	starts    string // the ecosystem by which a program starts there, and what it is; empty for none
}

// readFacts gathers the facts of every file that are not known yet.
func (s *survey) readFacts() {
	languages := s.graph.Languages
	parallel.Do(len(s.facts), func(i int) {
		p, f := s.tree.Files[i].Path, &s.facts[i]
		f.language, f.fixed = all.Called(p), all.Fixed(p)
		f.test = languages.IsTest(p) || languages.Shows(p) || languages.IsSnapshot(p)
		name, _, _ := strings.Cut(path.Base(p), ".")
		if words := template.Words(name); len(words) > 1 {
			f.word = words[len(words)-1]
		}
		if outline := s.graph.Outline(project.FileID(i)); outline != nil {
			for _, d := range outline.Declarations {
				f.kinds |= d.Kinds
			}
		}
	})
	var unread []project.FileID
	for id, f := range s.tree.Files {
		if !f.Link && s.graph.Files[id].Family < 0 {
			unread = append(unread, project.FileID(id))
		}
	}
	s.tree.ForEach(unread, false, func(id project.FileID, content []byte, err error) {
		if err == nil {
			s.readContent(id, content)
		}
	})
}

// readContent gathers the facts that a file's content gives.
func (s *survey) readContent(id project.FileID, content []byte) {
	if bytes.IndexByte(content[:min(len(content), 1000)], 0) >= 0 {
		return // binary
	}
	s.facts[id].lines = bytes.Count(content, []byte{'\n'})
	s.facts[id].generated = sureSign(s.tree.Path(id), content[:min(len(content), 400)])
}
