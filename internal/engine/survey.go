package engine

import (
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/parallel"
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
	Ignored   []string       `json:"ignored"` // at the top, on the disk, and not a part of the project
	Warnings  []string       `json:"warnings"`
}

// Share is a language with its files and lines.
type Share struct {
	Name  string `json:"name"`
	Files int    `json:"files"`
	Lines int    `json:"lines"`
}

// FolderTour is what can be told of one folder.
type FolderTour struct {
	Path      string   `json:"path"`
	Files     int      `json:"files"`
	Lines     int      `json:"lines"`
	Languages []Share  `json:"languages"`
	Holds     string   `json:"holds"`    // what it seems to hold
	Evidence  []string `json:"evidence"` // how that is known
	Generated int      `json:"generated"`
	Purpose   string   `json:"purpose,omitempty"` // in the convention's words
}

// Entry is a file where something starts, and who says so.
type Entry struct {
	Path string `json:"path"`
	By   string `json:"by"`
}

// FixedFiles are the files of one name that binds them to their places, by what it means to the tools of their language.
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
}

// TakeSurvey tours the project at root down to a depth of folders. It needs no convention; with one, folders have its words.
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
	s.countLines()
	s.findFolders()
	s.countUses()
	s.findUsers()
	s.tourFolders()
	s.findEntries()
	s.findFixed()
	s.findUses()
	s.Ignored = ignoredAtTop(s.disk, s.tree)
	return s.Survey, nil
}

// openSurvey lists a project and reads who refers to whom. done lets go of it.
func openSurvey(root string, depth int) (s *survey, done func(), err error) {
	if root, err = openRoot(root); err != nil {
		return nil, nil, err
	}
	disk, tree, err := loadTree(root)
	if err != nil {
		return nil, nil, err
	}
	s = &survey{Survey: &Survey{Title: filepath.Base(root), Files: len(tree.Files)}, root: root, disk: disk, tree: tree, depth: depth}
	s.graph = graph.Build(tree, all.Languages(), surveyed())
	return s, func() { disk.Close() }, nil
}

// surveyed asks for all that files declare.
func surveyed() *lang.Declared {
	declared := lang.NewDeclared(&convention.Convention{}, false, nil)
	declared.Outlines = true
	return declared
}

// readConvention takes the convention, if there is one, for its words.
func (s *survey) readConvention(root, conventionPath string) error {
	if conventionPath == "" {
		if _, err := os.Stat(filepath.Join(root, convention.FileName)); errors.Is(err, fs.ErrNotExist) {
			return nil
		}
	}
	c, err := readConvention(root, conventionPath)
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

// countLines counts the lines of the project, and of each language.
func (s *survey) countLines() {
	shares := map[string]*Share{}
	for i := range s.facts {
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
	for n := 0; n < len(s.folders); n++ { // those around come to the list as well; the top counts only what lies there itself
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
				if t.Kind == lang.ToFile && !node.Mentions[i].Likely && s.lies[id] != s.lies[t.File] {
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
	slices.SortFunc(s.Folders, func(a, b FolderTour) int { return strings.Compare(a.Path, b.Path) })
}

func (s *survey) tour(dir string, ids []project.FileID) FolderTour {
	t := s.count(dir, ids)
	t.Holds, t.Evidence = s.holds(ids, t)
	t.Purpose = s.purpose(dir, ids)
	return t
}

// count is a tour of a folder with what can be counted.
func (s *survey) count(dir string, ids []project.FileID) FolderTour {
	t := FolderTour{Path: dir, Files: len(ids)}
	shares := map[string]*Share{}
	for _, id := range ids {
		f := &s.facts[id]
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
		if h := s.homes[id]; h.Kind == placement.AtHome && h.Shelf.For != "" && strings.HasPrefix(h.Shelf.At.Head(), dir+"/") {
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
		evidence = append(evidence, fmt.Sprintf("%d of %d say so at their beginning or in their names", t.Generated, len(ids)))
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
			holds = "of several kinds"
		}
		if main.Files < len(ids) {
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

// findEntries lists what manifests and pages start, and the settings files with what they name.
func (s *survey) findEntries() {
	s.Entries, s.Settings = []Entry{}, []SettingsTour{}
	seen := map[string]bool{}
	for id := range s.graph.Files {
		node := &s.graph.Files[id]
		p := s.tree.Files[id].Path
		manifest, page := path.Base(p) == "package.json", path.Ext(p) == ".html"
		names, settles := 0, false
		for i, t := range node.Targets {
			m := &node.Mentions[i]
			switch m.Kind {
			case lang.Setting, lang.SettingGlob, lang.SettingWord, lang.AliasTarget, lang.IgnorePattern, lang.ModuleSetting:
				settles = true
			}
			if t.Kind.Inside() {
				names++
			}
			starts := manifest && (m.Kind == lang.Setting || m.Kind == lang.SettingWord) || page && m.Kind == lang.Asset
			if m.Kind == lang.ModuleSetting { // a:b names what is run
				content, err := s.tree.Content(project.FileID(id))
				starts = err == nil && m.Span.End < len(content) && content[m.Span.End] == ':'
			}
			if starts && t.Kind == lang.ToFile && code(s.tree.Path(t.File)) && !seen[s.tree.Path(t.File)] {
				seen[s.tree.Path(t.File)] = true
				s.Entries = append(s.Entries, Entry{s.tree.Path(t.File), fmt.Sprintf("%s:%s", p, s.graph.Position(graph.Reference{From: project.FileID(id), Mention: i}))})
			}
		}
		if settles && names > 0 {
			s.Settings = append(s.Settings, SettingsTour{p, names})
		}
	}
	slices.SortFunc(s.Entries, func(a, b Entry) int { return strings.Compare(a.Path, b.Path) })
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
