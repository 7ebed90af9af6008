package engine

import (
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/git"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"

	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// Survey is a tour of a project as it is.
type Survey struct {
	Title     string         `json:"title"`
	Files     int            `json:"files"`
	Lines     int            `json:"lines"`
	Folders   []FolderTour   `json:"folders"`   // by path; each counts what lies below it too
	Languages []Share        `json:"languages"` // those with most files first
	Entries   []Entry        `json:"entries"`   // where programs and pages start
	Fixed     []FixedFiles   `json:"fixed"`     // whose names bind them to their places
	Settings  []SettingsTour `json:"settings"`
	Uses      []FolderUse    `json:"uses"`    // between the folders of the tour
	Circles   [][]string     `json:"circles"` // folders that use one another in a circle
	// InTheWay are the uses for which the folders of circles can't be packages of their own.
	InTheWay []InTheWay `json:"in_the_way"`
	// Packages are those of the project that have a manifest of their own.
	Packages []PackageTour `json:"packages"`
	// Unreferenced are files that may be of no use any more.
	Unreferenced Unreferenced `json:"unreferenced"`
	Ignored      []string     `json:"ignored"` // at the top, on the disk, and not a part of the project
	// What a colleague says: the ecosystems with how they are known, what one types, the files at the top, and what is not
	// a part of the project.
	Ecosystems []EcosystemTour `json:"ecosystems"`
	Commands   []Command       `json:"commands"`
	Top        []Role          `json:"top"`
	Outside    []Role          `json:"outside"`
	Changes    []FolderChanges `json:"changes"` // where most happens, by the history; none where there is none
	Warnings   []string        `json:"warnings"`
}

// FolderChanges is how many of the last commits changed something in a folder of the tour.
type FolderChanges struct {
	Path    string `json:"path"`
	Commits int    `json:"commits"`
}

// Share is a language with its files and lines.
type Share struct {
	Name  string `json:"name"`
	Files int    `json:"files"`
	Lines int    `json:"lines"`
}

// FolderTour is what can be said of one folder.
type FolderTour struct {
	Path      string   `json:"path"`
	Files     int      `json:"files"`
	Lines     int      `json:"lines"`
	Languages []Share  `json:"languages"`
	Holds     string   `json:"holds"`    // what it seems to hold
	Evidence  []string `json:"evidence"` // how that is known
	Generated int      `json:"generated"`
	Purpose   string   `json:"purpose,omitempty"` // in the convention's words
	Role      *Role    `json:"role,omitempty"`    // what its ecosystem knows of it; nil for nothing
}

// Entry is a file where something starts, and who says so.
type Entry struct {
	Path string `json:"path"`
	By   string `json:"by"`
}

// FixedFiles are the files of one name that binds them to their places, by what it means to the tools of their
// language.
type FixedFiles struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
	Why   string `json:"why"`
}

// SettingsTour is a settings file and how many files and folders of the project it names.
type SettingsTour struct {
	Path  string `json:"path"`
	Names int    `json:"names"`
}

// FolderUse is how many references lead from one folder to another.
type FolderUse struct {
	From  string `json:"from"`
	To    string `json:"to"`
	Count int    `json:"count"`
}

// survey is a tour in the making.
type survey struct {
	*Survey
	root    string
	disk    *rootfs.FS
	tree    *project.Project
	graph   *graph.Graph
	depth   int
	facts   []facts          // of each file
	homes   []placement.Home // nil without a convention
	folders []tourFolder
	lies    []int                      // of each file: the folder of the tour, by its number
	uses    map[between]int            // how many references there are
	users   map[string]map[string]bool // folders of the tour from which a folder is used
	known   all.Known
	work    *git.WorkTree
}

// TakeSurvey tours the project at root down to a depth of folders; 0 stands for as many levels as fit a terminal. It
// needs no convention; with one, folders have its words.
func TakeSurvey(root, conventionPath string, depth int) (*Survey, error) {
	s, done, err := openSurvey(root, depth)
	if err != nil {
		return nil, err
	}
	defer done()
	if err := s.readConvention(s.root, conventionPath); err != nil {
		return nil, err
	}
	s.Warnings = append(append([]string{}, s.tree.Warnings...), s.graph.Warnings...)
	s.readFacts()
	s.Ignored = ignoredAtTop(s.disk, s.tree)
	s.readRoles(s.work)
	s.countLines()
	s.findFolders()
	s.countUses()
	s.findUsers()
	s.tourFolders()
	s.findEntries()
	s.findUnreferenced()
	s.findFixed()
	s.findUses()
	s.findPackages()
	return s.Survey, nil
}

// openSurvey lists a project and reads who refers to whom. done lets go of it.
func openSurvey(root string, depth int) (s *survey, done func(), err error) {
	if root, err = openRoot(root); err != nil {
		return nil, nil, err
	}
	disk, tree, work, err := loadTree(root)
	if err != nil {
		return nil, nil, err
	}
	if depth == 0 {
		depth = fittingDepth(tree)
	}
	s = &survey{Survey: &Survey{Title: filepath.Base(root), Files: len(tree.Files)}, root: root, disk: disk, tree: tree,
		depth: depth, work: work}
	s.facts = make([]facts, len(tree.Files))
	s.graph = graph.Watch(tree, all.Languages(), surveyed(), s.readContent)
	return s, func() { disk.Close() }, nil
}

// fittingDepth is two levels of folders, or one where that would be more than fit a terminal.
func fittingDepth(tree *project.Project) int {
	const most = 40
	seen := map[string]bool{}
	for _, f := range tree.Files {
		if parts := strings.SplitN(project.Dir(f.Path), "/", 3); parts[0] != "." {
			seen[strings.Join(parts[:min(2, len(parts))], "/")] = true
		}
	}
	if len(seen) > most {
		return 1
	}
	return 2
}

// surveyed asks for all that files declare, and for who refers to whom for certain.
func surveyed() *lang.Declared {
	declared := lang.NewDeclared(convention.Empty(), false, nil)
	declared.AskAll()
	declared.Certain = true
	return declared
}

// readConvention takes the convention, if there is one, for its words.
func (s *survey) readConvention(root, conventionPath string) error {
	if conventionPath == "" {
		if _, err := os.Lstat(filepath.Join(root, convention.FileName)); errors.Is(err, fs.ErrNotExist) {
			return nil
		}
	}
	c, err := readConvention(root, conventionPath, nil)
	if err != nil {
		return err
	}
	placed, err := placement.Place(c, s.tree, s.graph)
	if err != nil {
		return &UsageError{err}
	}
	s.homes = placed.Homes
	if c.Title != "" {
		s.Title = c.Title
	}
	return nil
}

// findEntries lists what manifests and pages start, and the settings files with what they name.
func (s *survey) findEntries() {
	s.Entries, s.Settings = []Entry{}, []SettingsTour{}
	seen := map[string]bool{}
	languages := s.graph.Languages
	for id := range s.graph.Files {
		node := &s.graph.Files[id]
		p := s.tree.Files[id].Path
		programs := languages.Starts(p)
		names, settles := 0, false
		for i, t := range node.Targets {
			m := &node.Mentions[i]
			settles = settles || m.Kind.Is(lang.Configures)
			if t.Kind.Inside() {
				names++
			}
			starts := m.Kind.Is(lang.Runs) || programs && m.Kind.Is(lang.Starts)
			if starts && t.Kind == lang.ToFile && languages.IsProgram(s.tree.Path(t.File)) &&
				!seen[s.tree.Path(t.File)] && !s.configures(project.FileID(id), m) {
				seen[s.tree.Path(t.File)] = true
				s.Entries = append(s.Entries, Entry{s.tree.Path(t.File),
					fmt.Sprintf("%s:%s", p, s.graph.Position(graph.Reference{From: project.FileID(id), Mention: i}))})
			}
		}
		if settles && names > 0 {
			s.Settings = append(s.Settings, SettingsTour{p, names})
		}
	}
	s.Entries = append(s.Entries, s.startsKnown(seen)...)
	slices.SortFunc(s.Entries, func(a, b Entry) int { return strings.Compare(a.Path, b.Path) })
}

// configures says whether a mention in a command stands behind an option that names a setting.
func (s *survey) configures(id project.FileID, m *lang.Mention) bool {
	content, err := s.tree.Content(id)
	return err == nil && all.Configures(content[:m.Span.Start])
}

// places are those that tools fix.
func places(g *graph.Graph) []lang.Place {
	var out []lang.Place
	for _, rules := range g.Rules() {
		if rules.Places != nil {
			out = append(out, rules.Places()...)
		}
	}
	return out
}

// findFixed counts the files whose names bind them to their places.
func (s *survey) findFixed() {
	s.Fixed = []FixedFiles{}
	for id, f := range s.tree.Files {
		why, name := s.facts[id].fixed, path.Base(f.Path)
		if why == "" {
			continue
		}
		at := slices.IndexFunc(s.Fixed, func(other FixedFiles) bool { return other.Name == name })
		if at < 0 {
			at = len(s.Fixed)
			s.Fixed = append(s.Fixed, FixedFiles{name, 0, why})
		}
		s.Fixed[at].Count++
	}
	for _, p := range places(s.graph) {
		from, to := s.tree.Below(p.Folder)
		why := fmt.Sprintf("is where %s looks: each file of its kind %s", p.By, p.Why)
		if p.Setting != "" {
			why += "; " + p.Setting + " moves it"
		}
		s.Fixed = append(s.Fixed, FixedFiles{p.Folder + "/", int(to - from), why})
	}
	slices.SortFunc(s.Fixed, func(a, b FixedFiles) int { return strings.Compare(a.Name, b.Name) })
}

// findUses counts the references between the folders of the tour, and finds where they run in circles.
func (s *survey) findUses() {
	s.Uses, s.Circles = []FolderUse{}, [][]string{}
	for pair, n := range s.uses {
		s.Uses = append(s.Uses, FolderUse{s.folders[pair.from].path, s.folders[pair.to].path, n})
	}
	slices.SortFunc(s.Uses, func(a, b FolderUse) int {
		return cmp.Or(b.Count-a.Count, strings.Compare(a.From, b.From), strings.Compare(a.To, b.To))
	})
	var names []string
	index := map[string]int{}
	for _, f := range s.Folders {
		index[f.Path] = len(names)
		names = append(names, f.Path)
	}
	next := make([][]int, len(names))
	for _, u := range s.Uses {
		if from, known := index[u.From]; known {
			next[from] = append(next[from], index[u.To])
		}
	}
	for _, component := range graph.Components(len(names), func(n int) []int { return next[n] }) {
		if len(component) < 2 {
			continue
		}
		var circle []string
		for _, n := range component {
			circle = append(circle, names[n])
		}
		slices.Sort(circle)
		s.Circles = append(s.Circles, circle)
	}
	slices.SortFunc(s.Circles, func(a, b []string) int { return strings.Compare(a[0], b[0]) })
	s.findInTheWay()
}

// ignoredAtTop lists what lies at the top of the folder and is no part of the project.
func ignoredAtTop(disk *rootfs.FS, tree *project.Project) []string {
	entries, err := disk.ReadDir(".")
	out := []string{}
	if err != nil {
		return out
	}
	for _, e := range entries {
		if _, known := tree.Lookup(e.Name()); known || tree.IsDir(e.Name()) {
			continue
		}
		if e.IsDir() {
			out = append(out, e.Name()+"/")
		} else {
			out = append(out, e.Name())
		}
	}
	slices.Sort(out)
	return out
}
