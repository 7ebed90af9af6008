package engine

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/git"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/parallel"
)

// This file says what an experienced colleague would: in which ecosystem the project is, what its commands are, and
// what each file at the top and each known folder is.

// EcosystemTour is an ecosystem that the project is of, and by what it is known.
type EcosystemTour struct {
	Name string `json:"name"`
	Dir  string `json:"dir"` // of its manifest
	By   string `json:"by"`
}

// Command is what one types to run something of the project.
type Command struct {
	Name string `json:"name"` // as it is typed
	Runs string `json:"runs"` // word for word
	In   string `json:"in"`   // the manifest
}

// Role is what is known of a file or folder by its name.
type Role struct {
	Path    string `json:"path"`
	Is      string `json:"is"`
	By      string `json:"by,omitempty"`      // who writes it; empty for people
	Place   string `json:"place,omitempty"`   // who fixes its place or name
	MovedBy string `json:"movedBy,omitempty"` // the setting that moves it
	Secret  bool   `json:"secret,omitempty"`
	Known   string `json:"known"` // the ecosystem that says so; empty where the file itself does
}

// readRoles recognises the ecosystems, and says what the files at the top are.
func (s *survey) readRoles(work *git.WorkTree) {
	s.Ecosystems, s.Commands, s.Top, s.Outside = []EcosystemTour{}, []Command{}, []Role{}, []Role{}
	s.Changes = []FolderChanges{}
	s.known = all.Recognise(s.tree)
	for _, found := range s.known.Found {
		if found.By != "" {
			s.Ecosystems = append(s.Ecosystems, EcosystemTour{found.Name, found.Dir, found.By})
		}
	}
	tracked := map[string]bool{}
	if work != nil && work.Problem() == nil {
		for _, p := range work.Tracked() {
			tracked[p] = true
		}
	}
	type told struct {
		fact *all.Fact
		by   *all.Found
	}
	roles := make([]told, len(s.tree.Files))
	parallel.Do(len(roles), func(id int) { roles[id].fact, roles[id].by = s.known.Of(s.tree.Files[id].Path, false) })
	var secrets []string
	for id, f := range s.tree.Files {
		fact, found := roles[id].fact, roles[id].by
		if fact != nil {
			s.facts[id].locked = strings.HasPrefix(fact.Is, "exact versions") // a package manager writes it: nobody's work
			if fact.Starts {
				s.facts[id].starts = found.Name + ", " + fact.Is
			}
		}
		if fact != nil && fact.Secret {
			says := "and git does not ignore it"
			if tracked[f.Path] {
				says = "and git has it: take it out, and change what it holds, which stays in the history"
			}
			secrets = append(secrets, fmt.Sprintf("%s: %s, %s", f.Path, fact.Is, says))
		}
		switch {
		case strings.Contains(f.Path, "/"):
		case fact != nil:
			s.Top = append(s.Top, roleOf(f.Path, fact, found))
		default:
			s.Top = append(s.Top, Role{Path: f.Path, Is: s.plainly(f.Path)})
		}
	}
	s.Warnings = append(secrets, s.Warnings...) // the first thing to be said
	for _, name := range s.Ignored {
		role := Role{Path: name}
		if fact, found := s.known.Of(name, true); fact != nil {
			role = roleOf(name, fact, found)
		}
		s.Outside = append(s.Outside, role)
	}
	for _, c := range all.Commands(s.tree) {
		s.Commands = append(s.Commands, Command(c))
	}
}

func roleOf(p string, fact *all.Fact, found *all.Found) Role {
	return Role{p, fact.Is, fact.By, fact.Place, fact.MovedBy, fact.Secret, found.Name}
}

// plainly says what a file at the top is of which no ecosystem knows the name.
func (s *survey) plainly(p string) string {
	languages := s.graph.Languages
	id, _ := s.tree.Lookup(p)
	name := s.facts[id].language
	switch {
	case p == convention.FileName:
		return "the convention: which folders there are, and which files belong in them"
	case languages.IsTest(p):
		return "a test, " + name
	case languages.IsProgram(p):
		return "a program, " + name
	case languages.IsProse(p):
		return "a text for people"
	}
	return name
}

// knownFolder is what an ecosystem knows of a folder, if it does.
func (s *survey) knownFolder(dir string) (Role, bool) {
	fact, found := s.known.Of(dir+"/", false)
	if fact == nil {
		return Role{}, false
	}
	return roleOf(dir+"/", fact, found), true
}

// startsKnown are the files at which a program starts by its ecosystem though nothing of the project names them.
func (s *survey) startsKnown(seen map[string]bool) (out []Entry) {
	for id, f := range s.tree.Files {
		if by := s.facts[id].starts; by != "" && !seen[f.Path] {
			seen[f.Path] = true
			out = append(out, Entry{f.Path, by})
		}
	}
	return out
}

// kinds names the languages of a folder in which no one is most.
func kinds(shares []Share) string {
	var names []string
	for _, s := range shares[:min(3, len(shares))] {
		if s.Name != "other" {
			names = append(names, s.Name)
		}
	}
	if len(names) == 0 {
		return "other files"
	}
	if len(shares) > len(names) {
		names = append(names, "others")
	}
	last := len(names) - 1
	if last == 0 {
		return names[0]
	}
	return strings.Join(names[:last], ", ") + " and " + names[last]
}

// sureSign says whether a file says by a comment line of its own that a program wrote it. Words further inside of a
// line, and in what people read, say nothing.
func sureSign(p string, head []byte) bool {
	if strings.Contains(path.Base(p), ".min.") {
		return true
	}
	for line := range strings.Lines(string(head)) {
		line = strings.ToLower(strings.TrimSpace(line))
		comment := strings.TrimLeft(line, "/*#;<!- \t%'\"")
		if comment == line { // it is no comment
			continue
		}
		if strings.Contains(line, "@generated") || strings.Contains(line, "do not edit") ||
			strings.HasPrefix(comment, "autogenerated") ||
			strings.HasPrefix(comment, "generated by ") && !strings.HasPrefix(line, `"`) && !strings.HasPrefix(line, "'") {
			return true
		}
	}
	return false
}

// NoteChanges counts in how many commits something changed in each folder of the tour. commits are the paths that each
// changed; the folders in which most happens come first.
func (s *Survey) NoteChanges(commits [][]string) {
	folders := map[string]bool{}
	for _, f := range s.Folders {
		folders[f.Path] = true
	}
	counts := map[string]int{}
	for _, paths := range commits {
		seen := map[string]bool{}
		for _, p := range paths {
			dir := path.Dir(p)
			for !folders[dir] && dir != "." {
				dir = path.Dir(dir)
			}
			if folders[dir] && !seen[dir] {
				seen[dir] = true
				counts[dir]++
			}
		}
	}
	s.Changes = []FolderChanges{}
	for dir, n := range counts {
		s.Changes = append(s.Changes, FolderChanges{dir, n})
	}
	slices.SortFunc(s.Changes, func(a, b FolderChanges) int {
		return cmp.Or(b.Commits-a.Commits, strings.Compare(a.Path, b.Path))
	})
}
