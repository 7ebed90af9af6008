// Package ecosystems holds what an experienced colleague knows of the files of a project: by which manifest and library
// an ecosystem is recognised, what each of its files is, who writes it, who fixes its place, and which setting moves
// it. All of that is data: one file for each ecosystem, in data/. It is for the tour alone and blocks nothing.
package ecosystems

import (
	"bytes"
	"embed"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"
	"github.com/goccy/go-yaml"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

//go:embed data/*.yaml
var files embed.FS

// Ecosystem is one way of building applications.
type Ecosystem struct {
	Name  string
	Known []Sign // by any of which it is recognised; none for what holds in any project
	Facts []Fact
}

// Sign is how an ecosystem is recognised: by a file or a library of a manifest, beside which a folder may have to be
// and other libraries must not.
type Sign struct {
	File, Folder                              string
	Npm, Python, Gem, Composer, Maven, Gradle string
	Without                                   []string
}

// Fact is what is known of files or folders of some names.
type Fact struct {
	Files   []string // patterns from the folder of the manifest; folders end in a slash
	Is      string   // its role, in one phrase
	By      string   // who writes it; empty for people
	Place   string   // who fixes its place or its name; empty for nobody
	MovedBy string   `yaml:"moved_by"` // the setting that moves it
	With    []string // libraries of which a manifest must name one
	Ignored bool     // only of what git ignores
	Secret  bool     // it must not be in the history
	Starts  bool     // a program starts there
	From    string   // memory, where nobody has looked yet
}

// Fixed says whether a tool finds the file by its place, or by its name where that changes; what is known from memory
// alone says nothing.
func (f *Fact) Fixed(renamed bool) bool {
	return f.From != "memory" && strings.Contains(f.Place, "fixed") && !strings.Contains(f.Place, "not fixed") &&
		(renamed || !strings.Contains(f.Place, "any folder"))
}

// Loses gives what is known of a file that a tool would no longer find by its place or name after a move; nil where
// nothing is lost.
func (f Facts) Loses(from, to string) (*Fact, *Found) {
	fact, found := f.Of(from, false)
	if fact == nil || !fact.Fixed(path.Base(from) != path.Base(to)) {
		return nil, nil
	}
	if now, _ := f.Of(to, false); now == fact { // the same folder of it, or one that counts as well
		return nil, nil
	}
	return fact, found
}

// All gives the ecosystems, the particular ones first.
var All = sync.OnceValue(func() (out []Ecosystem) {
	entries, err := files.ReadDir("data")
	if err != nil {
		panic(err) // they are a part of the program
	}
	for _, e := range entries {
		text, err := files.ReadFile("data/" + e.Name())
		if err != nil {
			panic(err)
		}
		var one Ecosystem
		if err := yaml.UnmarshalWithOptions(text, &one, yaml.Strict()); err != nil {
			panic(fmt.Sprintf("%s: %s", e.Name(), err)) // a test reads them all
		}
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(a, b Ecosystem) int { return b.rank() - a.rank() })
	return out
})

// rank is 2 for an ecosystem that a library tells, 1 for one that a manifest tells, 0 for any project.
func (e *Ecosystem) rank() int {
	switch {
	case len(e.Known) == 0:
		return 0
	case slices.ContainsFunc(e.Known, func(s Sign) bool { return s.library() != "" }):
		return 2
	}
	return 1
}

func (s *Sign) library() string { return s.Npm + s.Python + s.Gem + s.Composer + s.Maven + s.Gradle }

// Found is an ecosystem that a project has, in a folder.
type Found struct {
	*Ecosystem
	Dir string // of its manifest; . for the root
	By  string // by what it is known; empty for any project

	manifests *named
	index     *index
}

// Facts are those of a project.
type Facts struct{ Found []Found }

// Recognise finds the ecosystems of a project: by the manifests in its root and at most two folders further down.
func Recognise(tree *project.Project) Facts {
	var out Facts
	dirs := []string{"."}
	for _, f := range tree.Files {
		dir := project.Dir(f.Path)
		if manifests[path.Base(f.Path)] != "" && dir != "." && strings.Count(dir, "/") < 2 && dirs[len(dirs)-1] != dir {
			dirs = append(dirs, dir)
		}
	}
	for _, dir := range dirs {
		m := readManifests(tree, dir)
		for i := range All() {
			e := &All()[i]
			if len(e.Known) == 0 && dir != "." {
				continue
			}
			if by, known := m.knows(e); known {
				out.Found = append(out.Found, Found{e, dir, by, m, indexes()[e.Name]})
			}
		}
	}
	return out
}

// manifests are files that name libraries, with the language of these.
var manifests = map[string]string{"package.json": "npm", "composer.json": "composer", "pyproject.toml": "python",
	"requirements.txt": "python", "setup.cfg": "python", "setup.py": "python", "Pipfile": "python", "Gemfile": "gem",
	"pom.xml": "maven", "build.gradle": "gradle", "build.gradle.kts": "gradle"}

// named is what the manifests of a folder name: where each library stands, by its language and name.
type named struct {
	tree *project.Project
	dir  string
	at   map[[2]string]string
}

// word is a name of a library in a manifest that is no JSON.
var word = regexp.MustCompile(`[A-Za-z][\w.-]*`)

func readManifests(tree *project.Project, dir string) *named {
	m := &named{tree, dir, map[[2]string]string{}}
	for file, language := range manifests {
		id, there := tree.Lookup(path.Join(dir, file))
		if !there {
			continue
		}
		text, err := tree.Content(id)
		if err != nil {
			continue
		}
		if language != "npm" && language != "composer" {
			for _, w := range word.FindAll(text, -1) {
				m.at[[2]string{language, string(bytes.ToLower(w))}] = file
			}
			continue
		}
		root, err := manifest.ParseJSON(text)
		if err != nil {
			continue
		}
		for _, key := range []string{"dependencies", "devDependencies", "peerDependencies", "require", "require-dev"} {
			if table := root.Get(key); table != nil {
				for _, library := range table.Members {
					m.at[[2]string{language, library.Key}] = key
				}
			}
		}
	}
	return m
}

// name says whether a manifest of the folder names a library, in whatever language.
func (m *named) name(library string) bool {
	for _, language := range []string{"npm", "python", "gem", "composer", "maven", "gradle"} {
		if m.at[[2]string{language, library}] != "" || m.at[[2]string{language, strings.ToLower(library)}] != "" {
			return true
		}
	}
	return false
}

// knows says whether an ecosystem is there, and by what that is known.
func (m *named) knows(e *Ecosystem) (by string, known bool) {
	if len(e.Known) == 0 {
		return "", true
	}
	for i := range e.Known {
		s := &e.Known[i]
		if s.Folder != "" && !m.tree.IsDir(path.Join(m.dir, s.Folder)) ||
			slices.ContainsFunc(s.Without, func(name string) bool { return m.at[[2]string{"npm", name}] != "" }) {
			continue
		}
		for language, name := range map[string]string{"npm": s.Npm, "python": s.Python, "gem": s.Gem, "composer": s.Composer,
			"maven": s.Maven, "gradle": s.Gradle} {
			if at := m.at[[2]string{language, strings.ToLower(name)}]; name != "" && at != "" {
				return at + " " + name, true
			}
		}
		if s.File != "" {
			if file := m.file(s.File); file != "" {
				return file, true
			}
		}
	}
	return "", false
}

// file gives the first file of the folder that fits a pattern; empty for none.
func (m *named) file(pattern string) string {
	if !strings.Contains(pattern, "*") {
		if _, there := m.tree.Lookup(path.Join(m.dir, pattern)); there {
			return pattern
		}
		return ""
	}
	from, to := m.tree.Below(m.dir)
	for _, f := range m.tree.Files[from:to] {
		below := strings.TrimPrefix(f.Path, m.dir+"/")
		if fits, _ := doublestar.Match(pattern, below); fits {
			return below
		}
	}
	return ""
}

// Of gives what is known of a file, or of a folder, whose path ends in a slash: that it is secret, or else what the
// most particular ecosystem knows, which comes with it; nil for nothing. ignored: git ignores it.
func (f Facts) Of(place string, ignored bool) (fact *Fact, from *Found) {
	for i := range f.Found {
		found := &f.Found[i]
		below := place
		if found.Dir != "." {
			var inside bool
			if below, inside = strings.CutPrefix(place, found.Dir+"/"); !inside || below == "" {
				continue
			}
		}
		for _, k := range found.index.of(below) {
			one := &found.Facts[k]
			switch {
			case fact != nil && !one.Secret, one.Ignored && !ignored,
				len(one.With) > 0 && !slices.ContainsFunc(one.With, found.manifests.name):
				continue
			case one.Secret:
				return one, found
			}
			fact, from = one, found
		}
	}
	return fact, from
}
