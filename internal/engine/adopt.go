package engine

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/template"
)

// Adoption is a starter fitted to a project.
type Adoption struct {
	Starter   string   `json:"starter"`
	Path      string   `json:"path"` // of the file that is written, from the root
	Choices   []Choice `json:"choices"`
	Text      string   `json:"text"`
	Misplaced int      `json:"misplaced"` // files that would have to move
	Homeless  int      `json:"homeless"`
	Judged    int      `json:"judged"`  // source files of which it speaks
	Sources   int      `json:"sources"` // source files of the project
}

// Choice is one thing that was fitted: what, to what, and why.
type Choice struct {
	What   string `json:"what"`
	Chosen string `json:"chosen"`
	Why    string `json:"why"`
}

// Adopt fits a starter to the project at root and writes it to a file of it. A file that is there is never overwritten.
func Adopt(root, name, to string) (*Adoption, error) {
	root, err := openRoot(root)
	if err != nil {
		return nil, err
	}
	starter, err := convention.FindStarter(name)
	if err != nil {
		return nil, &UsageError{err}
	}
	if to == "" {
		to = convention.FileName
	}
	if to = path.Clean(filepath.ToSlash(to)); !project.CleanPath(to) {
		return nil, usage("%q is no path of a file below the project's root", to)
	}
	disk, tree, _, err := loadTree(root)
	if err != nil {
		return nil, err
	}
	defer disk.Close()
	if _, err := disk.Look(to); err == nil {
		return nil, usage("%s is there already, and adopt overwrites nothing: give another file with --to", to)
	} else if !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	if err := fits(starter, tree); err != nil {
		return nil, err
	}
	a := fit(starter, tree, filepath.Base(root))
	a.Path = to
	if err := a.try(tree); err != nil {
		return nil, err
	}
	if err := disk.Create(to, rootfs.Usual, []byte(a.Text)); err != nil {
		return nil, fmt.Errorf("%s can't be written: %w", to, err)
	}
	return a, nil
}

// wayIn is what else there is to do where a starter does not fit.
const wayIn = "crooked survey --draft writes a convention from what is there"

// fits refuses a starter for other languages than those in which most of the project is written.
func fits(starter convention.Starter, tree *project.Project) error {
	counts := programs(tree)
	mine, most, sum := counts[starter.Family], "", 0
	for _, name := range slices.Sorted(maps.Keys(counts)) {
		if sum += counts[name]; most == "" || counts[name] > counts[most] {
			most = name
		}
	}
	switch {
	case sum == 0:
		return usage("there is no source file here that the starter %s could speak of; nothing was written", starter.Name)
	case mine > 0 && counts[most] <= mine*2:
		return nil
	}
	var fitting []string // starters
	for _, s := range convention.Starters() {
		if s.Family == most {
			fitting = append(fitting, s.Name)
		}
	}
	others := "no starter is for that; " + wayIn
	if len(fitting) > 0 {
		others = "those for that are " + strings.Join(fitting, ", ")
	}
	return usage("the starter %s is for %s, and %d of the %d source files here are %s; %s", starter.Name, starter.Family,
		counts[most], sum, most, others)
}

// programs counts the source files of a tree by the families that read them; those of languages that are not read by
// their names.
func programs(tree *project.Project) map[string]int {
	languages := all.Languages()
	counts := map[string]int{}
	for _, f := range tree.Files {
		if languages.IsTest(f.Path) || f.Link {
			continue
		}
		family := ""
		for i := range languages.Families {
			if ext := path.Ext(f.Path); slices.Contains(languages.Families[i].Facts.Programs, ext) ||
				slices.Contains(languages.Families[i].Facts.Components, ext) {
				family = languages.Families[i].Name
			}
		}
		if family == "" && all.IsOtherProgram(f.Path) {
			family = all.Called(f.Path)
		}
		if family != "" {
			counts[family]++
		}
	}
	return counts
}

// packageFolder chooses the package: the one at the top, or in src/, that has most modules.
func (f *fitting) packageFolder() {
	counts := map[string]int{}
	for _, file := range f.tree.Files {
		if !slices.Contains(f.facts.Programs, path.Ext(file.Path)) {
			continue
		}
		inner := strings.TrimPrefix(file.Path, "src/")
		top, _, below := strings.Cut(inner, "/")
		if !below || slices.Contains(asides, top) {
			continue
		}
		folder := strings.TrimSuffix(file.Path, inner) + top
		if _, is := f.tree.Lookup(folder + "/" + f.facts.Marker); is || !f.starter.Package {
			counts[folder]++
		}
	}
	best := ""
	for _, folder := range slices.Sorted(maps.Keys(counts)) {
		if best == "" || counts[folder] > counts[best] {
			best = folder
		}
	}
	if best == "" {
		f.setVar("app", "app")
		f.choose("package", "app", "no package was found, so it is the starter's own name")
		return
	}
	if f.starter.Package {
		best = path.Base(best)
	}
	f.setVar("app", best)
	f.choose("package", best, "it has most of the modules")
}

// fitting is a starter while it is fitted.
type fitting struct {
	*Adoption
	starter convention.Starter
	facts   *lang.Facts // of the starter's family
	tree    *project.Project
	text    string
	vars    map[string]string
}

// fit chooses the source folder, the languages and the folders that the starter's text speaks of.
func fit(starter convention.Starter, tree *project.Project, folder string) *Adoption {
	f := fitting{
		Adoption: &Adoption{Starter: starter.Name, Choices: []Choice{}}, starter: starter,
		facts: &all.Languages().ByName(starter.Family).Facts, tree: tree,
		text: string(starter.Text), vars: map[string]string{},
	}
	if f.facts.Marker != "" {
		f.packageFolder()
	} else {
		f.sourceFolder()
		if len(f.facts.Dialects) > 0 {
			f.endings()
		}
	}
	f.pages()
	f.sourceSetting()
	f.lists()
	if !starter.Package {
		f.otherFolders()
	}
	f.text = strings.Replace(f.text, "crooked: 1\n", "crooked: 1\ntitle: "+title(tree, folder)+"\n", 1)
	f.Text = f.text
	return f.Adoption
}

// title is the name that the project gives itself, or that of its folder.
func title(tree *project.Project, folder string) string {
	quoted, _ := json.Marshal(cmp.Or(all.Languages().ProjectName(tree), folder)) // a JSON text is a YAML text
	return string(quoted)
}

func (f *fitting) choose(what, chosen, format string, args ...any) {
	f.Choices = append(f.Choices, Choice{what, chosen, fmt.Sprintf(format, args...)})
}

var varsLine = regexp.MustCompile(`(?m)^vars: \{ ([^}]*) \}`)

// setVar gives a variable of the text another value. It reports whether there is one.
func (f *fitting) setVar(name, value string) bool {
	line := varsLine.FindString(f.text)
	word := regexp.MustCompile(`\b` + name + `: [^,} ]+`)
	if !word.MatchString(line) {
		return false
	}
	f.vars[name] = value
	f.text = strings.Replace(f.text, line, word.ReplaceAllString(line, name+": "+value), 1)
	return true
}

// deepest is the folder in which what lies below another begins: those above it hold no other source file.
func (f *fitting) deepest(dir string) string {
	languages := all.Languages()
	common := []string(nil)
	for _, file := range f.tree.Files {
		if file.Link || !strings.HasPrefix(file.Path, dir+"/") || !languages.IsSource(file.Path) ||
			languages.IsTest(file.Path) {
			continue
		}
		parts := strings.Split(project.Dir(file.Path), "/")
		if common == nil {
			common = parts
		}
		n := 0
		for n < min(len(common), len(parts)) && common[n] == parts[n] {
			n++
		}
		common = common[:n]
	}
	return strings.Join(common, "/")
}

// asides are top folders that hold no application.
var asides = []string{"public", "static", "docs", "test", "tests", "e2e", "scripts", "tools", "bin", "examples",
	"server", "config", "cypress"}

// sourceFolder chooses the folder that the application stands in: the one at the top that holds most of the source
// files.
func (f *fitting) sourceFolder() {
	usual := regexp.MustCompile(`app: ([^,} ]+)`).FindStringSubmatch(varsLine.FindString(f.text))
	if usual == nil {
		return
	}
	languages := all.Languages()
	counts, sum := map[string]int{}, 0
	for _, file := range f.tree.Files {
		top, _, below := strings.Cut(file.Path, "/")
		if strings.HasPrefix(file.Path, usual[1]+"/") && !f.facts.Deep {
			top = usual[1]
		}
		if file.Link || !languages.IsSource(file.Path) || languages.IsTest(file.Path) || strings.HasPrefix(top, ".") {
			continue
		}
		sum++
		if below && !slices.Contains(asides, top) {
			counts[top]++
		}
	}
	best := usual[1]
	for _, top := range slices.Sorted(maps.Keys(counts)) {
		if counts[top] > counts[best] {
			best = top
		}
	}
	most := counts[best]
	if f.facts.Deep && most > 0 {
		best = f.deepest(best)
	}
	switch {
	case counts[usual[1]]*2 >= sum && sum > 0:
		best, most = usual[1], counts[usual[1]]
	case most*2 < sum || sum == 0:
		f.setVar("app", usual[1])
		f.choose("source folder", usual[1]+"/",
			"no folder at the top holds most of the %d source files, so it is the starter's own", sum)
		return
	}
	f.setVar("app", best)
	f.choose("source folder", best+"/", "%d of %d source files lie in it", most, sum)
}

// endings chooses the endings of plain code and of what is drawn.
func (f *fitting) endings() {
	counts := map[string]int{}
	for _, file := range f.tree.Files {
		if !strings.HasSuffix(file.Path, f.facts.Declares) {
			counts[strings.TrimPrefix(path.Ext(file.Path), ".")]++
		}
	}
	more := func(a, b string) int { return cmp.Compare(counts[a], counts[b]) }
	var plain []string
	usual, others := f.facts.Dialects[0], 0
	for i, d := range f.facts.Dialects {
		plain = append(plain, d.Plain)
		if i > 0 {
			others += counts[d.Plain] + counts[d.View]
		}
	}
	code := slices.MaxFunc(plain, more)
	if counts[usual.Plain]+counts[usual.View] > others {
		code = usual.Plain
	}
	if counts[code] > 0 && f.setVar("code", code) {
		f.choose("code", "."+code, "%d files end so", counts[code])
	}
	view := slices.MaxFunc(f.facts.Views, more)
	if counts[view] == 0 {
		view = cmp.Or(f.vars["code"], code)
	}
	if counts[view] > 0 && f.setVar("view", view) {
		f.choose("components", "."+view, "%d files end so", counts[view])
	}
}

// sourceSetting fits what a starter says of the source folder in settings: to the file that the project has, and not at
// all where the application stands in that folder already.
func (f *fitting) sourceSetting() {
	line := regexp.MustCompile(`(?m)^settings: \[\{ in: ([^,]+), .*\n`).FindStringSubmatch(f.text)
	if line == nil {
		return
	}
	if f.tree.IsDir(f.vars["app"]) {
		f.text = regexp.MustCompile(`(?m)^(?:settings|aliases|at_once): .*\n`).ReplaceAllString(f.text, "")
		f.choose("settings", f.vars["app"]+"/", "the source folder is there already, so its setting is not touched")
		return
	}
	stem := strings.TrimSuffix(line[1], path.Ext(line[1]))
	for _, ending := range f.facts.Programs {
		if _, there := f.tree.Lookup(stem + ending); there && stem+ending != line[1] {
			f.text = strings.Replace(f.text, line[1], stem+ending, 1)
			f.choose("settings", stem+ending, "the project has its settings there")
		}
	}
}

// pageNames are the words in which names of pages end, as starters write them and as others do.
var pageNames = []string{"Page", "Screen", "View", ""}

// pages takes the names of pages as the project has them: NightsPage, NightsView, nights.
func (f *fitting) pages() {
	const own = "<feature>Page.<view>"
	if !strings.Contains(f.text, own) {
		return
	}
	counts, sum := map[string]int{}, 0
	view := "." + cmp.Or(f.vars["view"], "tsx")
	for _, file := range f.tree.Files {
		folder := path.Base(path.Dir(file.Path))
		if !slices.Contains([]string{"pages", "views", "screens"}, folder) || path.Ext(file.Path) != view {
			continue
		}
		stem := strings.TrimSuffix(path.Base(file.Path), view)
		if strings.Contains(stem, ".") || f.facts.Entry == stem {
			continue
		}
		sum++
		for _, name := range pageNames {
			if strings.HasSuffix(stem, name) {
				counts[name]++
				break
			}
		}
	}
	best := pageNames[0]
	for _, name := range pageNames {
		if counts[name] > counts[best] {
			best = name
		}
	}
	if best != pageNames[0] {
		f.text = strings.ReplaceAll(f.text, own, "<feature>"+best+".<view>")
		f.choose("pages", "<feature>"+best+view, "%d of %d pages are called so", counts[best], sum)
	}
}

var listed = regexp.MustCompile(`(?m)(from: |in: |^  \w+: )\[([^\]\n]*(?:\*\*|<feature>|<module>)[^\]\n]*)\]`)

// lists drops the places that are not there from the lists of where things lie today. The first stays if none is there.
// What lies at the root and not in the source folder is looked for there.
func (f *fitting) lists() {
	var found []string
	f.text = listed.ReplaceAllStringFunc(f.text, func(list string) string {
		parts := listed.FindStringSubmatch(list)
		if name := strings.Trim(parts[1], " :"); name == "stay" || name == "untouched" {
			return list // harmless where it fits nothing
		}
		var kept []string
		for place := range strings.SplitSeq(parts[2], ", ") {
			for _, at := range []string{place, strings.TrimPrefix(place, "<app>/")} {
				folder := strings.TrimSuffix(f.expand(at), "/")
				if head, _, varies := strings.Cut(folder, "*"); varies {
					folder = head
				}
				folder, _, _ = strings.Cut(folder, "<")
				folder = strings.TrimSuffix(folder[:strings.LastIndexByte(folder+"/", '/')], "/")
				if folder != "" && f.tree.IsDir(folder) {
					kept = append(kept, at)
					found = append(found, folder+"/")
					break
				}
			}
		}
		if len(kept) == 0 {
			kept = append(kept, strings.Split(parts[2], ", ")[0])
		}
		return parts[1] + "[" + strings.Join(kept, ", ") + "]"
	})
	slices.Sort(found)
	if found = slices.Compact(found); len(found) > 0 {
		f.choose("found", strings.Join(found, " "), "the starter knows what usually lies there")
	}
}

func (f *fitting) expand(text string) string {
	for name, value := range f.vars {
		text = strings.ReplaceAll(text, "<"+name+">", value)
	}
	return text
}

// otherFolders gives each folder of the source folder of which the starter does not speak a shelf that is only a place.
func (f *fitting) otherFolders() {
	app := f.vars["app"]
	if app == "" {
		return
	}
	c, err := convention.Read(f.Starter, []byte(f.text))
	if err != nil {
		return
	}
	names := map[string]bool{}
	for _, file := range f.tree.Files {
		rest, inside := strings.CutPrefix(file.Path, app+"/")
		if name, _, deeper := strings.Cut(rest, "/"); inside && deeper {
			names[name] = true
		}
	}
	var added []string
	for _, name := range slices.Sorted(maps.Keys(names)) {
		if speaksOf(c, app+"/"+name+"/") || strings.ContainsAny(name, "<>*?{}[],\"'#:&!|%@` ") ||
			strings.HasPrefix(name, ".") {
			continue
		}
		shelf := name
		if c.Shelf(shelf) != nil {
			shelf += "-as-found"
		}
		f.text += fmt.Sprintf("  %s: { for: as it was found, at: <app>/%s/ }\n", shelf, name)
		added = append(added, app+"/"+name+"/")
	}
	if len(added) > 0 {
		f.choose("kept", strings.Join(added, " "), "the starter does not speak of them, so each is a shelf as it is")
	}
}

// speaksOf says whether a convention names a folder, or places in it or around it.
func speaksOf(c *convention.Convention, folder string) bool {
	speaks := func(ts []*template.Template) bool {
		return slices.ContainsFunc(ts, func(t *template.Template) bool { return strings.HasPrefix(t.Head(), folder) })
	}
	return slices.ContainsFunc(c.Shelves, func(s *convention.Shelf) bool {
		pooled := slices.ContainsFunc(s.Takes, func(t convention.Take) bool {
			return t.Pool != nil &&
				speaks(t.Pool.In)
		})
		return speaks([]*template.Template{s.At}) || speaks(s.From) || pooled
	})
}

// try says what the convention comes to on the project. One that the project refuses, or by which nothing would be
// judged, is not worth writing.
func (a *Adoption) try(tree *project.Project) error {
	c, placed, g, err := a.place(tree)
	if err != nil {
		return err
	}
	if err := needs(c, tree); err != nil {
		return usage("the starter %s does not fit, so nothing was written; %s.\n%w", a.Starter, wayIn, err)
	}
	if a.keepFixed(tree, placed, g) { // a tool looks there and nowhere else
		if c, placed, _, err = a.place(tree); err != nil {
			return err
		}
	}
	languages := all.Languages()
	for id, h := range placed.Homes {
		file := tree.Path(project.FileID(id))
		source := languages.IsProgram(file) || languages.IsComponent(file)
		if source && !languages.IsTest(file) {
			a.Sources++
		}
		switch h.Kind {
		case placement.Misplaced:
			a.Misplaced++
		case placement.Homeless:
			a.Homeless++
		case placement.AtHome:
		default:
			continue
		}
		if source && !languages.IsTest(file) {
			a.Judged++
		}
	}
	if a.Judged == 0 {
		return usage("the starter %s speaks of none of the %d source files here; nothing was written. Its source folder "+
			"would be %s; %s", a.Starter, a.Sources, spokenOf(c), wayIn)
	}
	return nil
}

// spokenOf names the folders that the shelves of a convention lie in.
func spokenOf(c *convention.Convention) string {
	seen := map[string]bool{}
	for _, s := range c.Shelves {
		top, _, _ := strings.Cut(s.At.Head(), "/")
		seen[top+"/"] = true
	}
	return strings.Join(slices.Sorted(maps.Keys(seen)), ", ")
}

func (a *Adoption) place(tree *project.Project) (*convention.Convention, *placement.Result, *graph.Graph, error) {
	c, err := convention.Read(a.Path, []byte(a.Text))
	if err == nil {
		var placed *placement.Result
		var g *graph.Graph
		if placed, g, err = Place(c, tree); err == nil {
			return c, placed, g, nil
		}
	}
	return nil, nil, nil, usage("the starter %s does not work on this project, so nothing was written; %s.\n%w", a.Starter,
		wayIn, err)
}

var stayLine = regexp.MustCompile(`(?m)^  stay: \[`)

// keepFixed lets files stay in the places where a tool finds them, if the starter would move some out. It reports
// whether it did.
func (a *Adoption) keepFixed(tree *project.Project, placed *placement.Result, g *graph.Graph) bool {
	if strings.Contains(a.Text, "\nsettings:") { // the starter sets where the tool looks
		return false
	}
	var keep, why []string
	stays := func(entry, by string) {
		if !slices.Contains(keep, entry) {
			keep, why = append(keep, entry), append(why, by)
		}
	}
	known := all.Recognise(tree)
	for id, h := range placed.Homes {
		if h.Kind != placement.Misplaced {
			continue
		}
		file, bound := tree.Path(project.FileID(id)), false
		if goesAlong(tree, g.Languages, file, h) {
			continue
		}
		for _, rules := range g.Rules() {
			if rules.Place == nil {
				continue
			}
			place, fixed := rules.Place(file)
			entry := place.Folder + "/**"
			if place.Folder == "." {
				entry = file
			}
			if fixed {
				bound = true
				stays(entry, place.By)
			}
		}
		if !bound { // what a language does not know of its frameworks, the ecosystem may
			if entry, by := fixedPlace(known, file, h.Path); entry != "" {
				stays(entry, by)
			}
		}
	}
	if len(keep) == 0 {
		return false
	}
	slices.Sort(keep)
	slices.Sort(why)
	list := strings.Join(keep, ", ")
	if at := stayLine.FindStringIndex(a.Text); at != nil {
		a.Text = a.Text[:at[1]] + list + ", " + a.Text[at[1]:]
	} else if strings.Contains(a.Text, "\nleave:\n") {
		a.Text = strings.Replace(a.Text, "\nleave:\n", "\nleave:\n  stay: ["+list+"]\n", 1)
	} else {
		a.Text = strings.Replace(a.Text, "\nshelves:", "\nleave: { stay: ["+list+"] }\n\nshelves:", 1)
	}
	a.Choices = append(a.Choices, Choice{"stays", list, "a tool finds what is there by its place, by " +
		strings.Join(slices.Compact(why), ", ")})
	return true
}

// goesAlong says whether a file goes to a package with the manifest that it lies below, and stands there as it stood.
func goesAlong(tree *project.Project, languages lang.Languages, file string, h placement.Home) bool {
	if h.Shelf == nil || h.Shelf.Package == nil {
		return false
	}
	for dir := project.Dir(file); dir != "."; dir = project.Dir(dir) {
		from, to := tree.Below(dir)
		for id := from; id < to; id++ {
			if p := tree.Path(id); project.Dir(p) == dir && languages.IsManifest(path.Base(p)) {
				return h.Path == path.Join(h.Instance, strings.TrimPrefix(file, dir+"/"))
			}
		}
	}
	return false
}

// fixedPlace gives the entry of stay for a file that would leave a place where its ecosystem looks, and the name of
// that: for the file itself, or for the nearest folder above it that has its place for a tool. Empty for none.
func fixedPlace(known all.Known, file, to string) (entry, by string) {
	if fact, found := known.Loses(file, to); fact != nil {
		return file, found.Name
	}
	for dir := path.Dir(file); dir != "."; dir = path.Dir(dir) {
		fact, found := known.Of(dir+"/", false)
		if fact != nil && fact.Fixed(false) && !strings.HasPrefix(to, dir+"/") {
			return dir + "/**", found.Name
		}
	}
	return "", ""
}

// StarterList are the starters for those who have not chosen one.
func StarterList() []convention.Starter { return convention.Starters() }
