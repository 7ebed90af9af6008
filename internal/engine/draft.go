package engine

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/project"
	"crookedshelf/internal/show"
	"crookedshelf/internal/template"
)

// draft infers a convention from the habits of a project: the folders that are there, the names that are found in one
// of them and hardly elsewhere, and how names are written.
type draft struct {
	*survey
	shelves []*draftShelf
	stay    []string
	left    int // folders that are left out for their names
}

// draftShelf is a folder that is a habit, or several that are laid out alike.
type draftShelf struct {
	name   string
	at     string // from the parent's, with a slash at the end
	holds  string
	inside []*draftShelf
	varies bool     // its place has a placeholder
	notes  []string // comments
	takes  []habit
	must   []string // files that every instance has
	names  string   // the case of its files' names; empty for none
	files  []project.FileID
	pooled string   // the name of its pool
	only   []string // the words that its placeholder stands for; nil for any
}

// habit is a look of names that stands on one shelf.
type habit struct {
	like       string
	here, all  int
	exceptions []string
}

// How plain a habit must be to count.
const (
	fewest       = 4    // files of a look
	mostStray    = 0.1  // of them elsewhere
	fewestCased  = 6    // names that are written in one case and in no other
	mostMiscased = 0.03 // of the names written otherwise
	mostNamed    = 6    // exceptions that a comment names
)

// Draft writes a first convention of the project at root from the habits that it finds.
func Draft(root string) ([]byte, error) {
	s, closeIt, err := openSurvey(root, 3)
	if err != nil {
		return nil, err
	}
	defer closeIt()
	s.readFacts()
	s.known = all.Recognise(s.tree)
	d := &draft{survey: s}
	bases := d.bases()
	if one := d.repeated(bases); one != nil {
		d.shelves = append(d.shelves, one)
		bases = slices.DeleteFunc(bases, func(base string) bool { return slices.Contains(one.only, base) })
	}
	for _, base := range bases {
		d.expand(base)
	}
	if len(d.shelves) == 0 {
		return nil,
			usage("no folder here holds source files, so there are no habits to find; crooked adopt lists starters")
	}
	d.findHabits()
	d.findCases()
	return d.write(), nil
}

// bases are the folders at the top that hold source, those that hold much of it to be looked into.
func (d *draft) bases() []string {
	counts, sum := map[string]int{}, 0
	for _, f := range d.tree.Files {
		if top, _, below := strings.Cut(f.Path, "/"); below && !f.Link && !strings.HasPrefix(top, ".") &&
			writable(top) && !all.IsAside(f.Path) {
			counts[top]++
			sum++
		}
	}
	return slices.DeleteFunc(slices.Sorted(maps.Keys(counts)), func(top string) bool { return counts[top]*50 < sum })
}

// writable says whether the name of a folder has printable characters alone.
func writable(name string) bool {
	return show.Name(name) == name
}

// expand makes shelves of what lies in a folder at the top.
func (d *draft) expand(base string) {
	for { // down to where the tree begins to branch
		folders, files := d.children(base)
		if len(files) > 0 || len(folders) != 1 {
			break
		}
		base = path.Join(base, folders[0])
	}
	folders, files := d.children(base)
	if len(folders) < 2 {
		d.shelves = append(d.shelves, d.shelf(base+"/", base))
		return
	}
	if one := d.alike(base, folders, files); one != nil {
		d.shelves = append(d.shelves, one)
		return
	}
	for _, f := range folders {
		d.shelves = append(d.shelves, d.shelf(path.Join(base, f)+"/", path.Join(base, f)))
	}
	if len(files) > 0 {
		d.stay = append(d.stay, base+"/*")
	}
}

// children are the folders and the files directly in a folder.
func (d *draft) children(dir string) (folders []string, files []project.FileID) {
	seen := map[string]bool{}
	from, to := d.tree.Below(dir)
	for id := from; id < to; id++ {
		rest := d.tree.Path(id)[len(dir)+1:]
		name, _, deeper := strings.Cut(rest, "/")
		if !deeper {
			files = append(files, id)
		} else if !seen[name] {
			if seen[name] = true; !writable(name) {
				d.left++
				continue
			}
			folders = append(folders, name)
		}
	}
	return folders, files
}

// shelf makes a shelf of a folder, with shelves inside where its folders are a habit of their own.
func (d *draft) shelf(at, dir string) *draftShelf {
	folders, files := d.children(dir)
	if one := d.alike(dir, folders, files); one != nil {
		one.at = at + strings.TrimPrefix(one.at, dir+"/")
		return one
	}
	s := &draftShelf{name: path.Base(dir), at: at}
	s.files = d.below(dir)
	s.holds = d.purposeOf(dir, s.files)
	if len(folders) > 1 && len(s.files) > 0 && len(files)*5 < len(s.files) && d.ofKinds(folders) {
		for _, f := range folders {
			if plain(f) {
				s.inside = append(s.inside, &draftShelf{name: f, at: f + "/", files: d.below(path.Join(dir, f)),
					holds: d.purposeOf(path.Join(dir, f), d.below(path.Join(dir, f)))})
			}
		}
	}
	return s
}

func (d *draft) below(dir string) []project.FileID {
	from, to := d.tree.Below(dir)
	ids := make([]project.FileID, 0, to-from)
	for id := from; id < to; id++ {
		ids = append(ids, id)
	}
	return ids
}

func (d *draft) purposeOf(dir string, ids []project.FileID) string {
	if role, known := d.knownFolder(dir); known {
		return role.Is
	}
	t := d.count(dir, ids)
	holds, _ := d.holds(ids, t)
	if len(t.Languages) > 1 && holds == kinds(t.Languages) {
		return "" // what is of many kinds says nothing of what it is for
	}
	return holds
}

// ofKinds says whether most folders are called after what is in them.
func (d *draft) ofKinds(folders []string) bool {
	n := 0
	for _, f := range folders {
		if kindWords[strings.ToLower(strings.Trim(f, "_"))] {
			n++
		}
	}
	return n*2 > len(folders)
}

// kindWords are what folders are called after what is in them, and not after what it is about.
var kindWords = func() map[string]bool {
	out := map[string]bool{}
	for w := range strings.FieldsSeq(`api apis app assets common components composables config constants containers
		context controllers
		core css data db docs dto entities enums env fixtures fonts forms graphql guards handlers helper
		helpers hooks i18n icons images img interfaces js layout layouts less lib libs locale locales
		middleware middlewares migrations mixins mocks model models modules pages parts plugins providers
		public queries reducers repositories resources routes router sass schemas scripts scss server
		services shared snapshots specs src state static store stores stories style styles svg templates
		test tests themes tools types ui util utils utilities validators vendor views widgets workers
		features screens panels directives filters errors events jobs tasks`) {
		out[w] = true
	}
	return out
}()

// alike makes one shelf with a placeholder of a folder whose folders are several of one kind: they are called after
// what they are about, or have the same folders or files in them.
func (d *draft) alike(dir string, folders []string, files []project.FileID) *draftShelf {
	ids := d.below(dir)
	named := path.Base(dir)
	one := template.InCase(named, "singular")
	folders = slices.DeleteFunc(slices.Clone(folders), func(f string) bool { return !plain(f) })
	if (one == named || named == "src") && len(folders) > 2 && d.sameShape(dir, folders) {
		one = "part"
	}
	if len(folders) < 2 || len(files)*5 > len(ids) || one == named || d.ofKinds(folders) {
		return nil
	}
	cases := []string{"kebab", "camel", "snake", "pascal"}
	in := ""
	for _, c := range cases {
		if several := false; !slices.ContainsFunc(folders, func(f string) bool {
			several = several || len(template.Words(f)) > 1
			return template.InCase(f, c) != f
		}) && several {
			in = "|" + c
			break
		}
	}
	s := &draftShelf{name: named, at: dir + "/<" + strings.ReplaceAll(one, " ", "") + in + ">/", varies: true,
		files: ids}
	s.holds = d.purposeOf(dir, ids)
	s.notes = append(s.notes, fmt.Sprintf("%d folders, such as %s", len(folders),
		strings.Join(folders[:min(3, len(folders))], ", ")))
	counts := map[string]int{}
	for _, f := range folders {
		inner, own := d.children(path.Join(dir, f))
		for _, name := range inner {
			counts[name]++
		}
		for _, id := range own {
			counts[path.Base(d.tree.Path(id))]++
		}
	}
	for _, name := range sortedKeys(counts) {
		if stem, _, _ := strings.Cut(name, "."); counts[name] == len(folders) && stem == "index" {
			s.must = append(s.must, name)
			s.notes = append(s.notes, "every one has "+name)
		}
	}
	for _, name := range sortedKeys(counts) {
		if n := counts[name]; n*2 >= len(folders) && n > 1 && plain(name) && kindWords[strings.ToLower(name)] {
			s.inside = append(s.inside, &draftShelf{name: name, at: name + "/", varies: true,
				notes: []string{fmt.Sprintf("in %d of %d", n, len(folders))}})
		}
	}
	if len(files) > 0 {
		d.stay = append(d.stay, dir+"/*")
	}
	for _, name := range folders {
		if template.Words(name) == nil {
			return nil
		}
	}
	return s
}

// sameShape says whether most folders have a file of one name, or one that is called after the folder:
// src/card/index.js, src/card/Card.svelte.
func (d *draft) sameShape(dir string, folders []string) bool {
	counts, own := map[string]int{}, 0
	for _, f := range folders {
		_, files := d.children(path.Join(dir, f))
		named := false
		for _, id := range files {
			base := path.Base(d.tree.Path(id))
			counts[base]++
			stem, _, _ := strings.Cut(base, ".")
			named = named || template.SameWords(stem, f)
		}
		if named {
			own++
		}
	}
	for _, n := range counts {
		own = max(own, n)
	}
	return own*10 >= len(folders)*7
}

// repeated makes one shelf of the folders at the top that are laid out alike: the applications of a project, each with
// its models.py, its views.py and more.
func (d *draft) repeated(bases []string) *draftShelf {
	names := map[string][]string{} // by the name of a file, the folders that have it
	for _, base := range bases {
		if _, files := d.children(base); plain(base) && !kindWords[strings.ToLower(base)] {
			for _, id := range files {
				if p := d.tree.Path(id); d.graph.Languages.IsProgram(p) && d.graph.Languages.Fixture(p).Why == "" {
					names[path.Base(p)] = append(names[path.Base(p)], base)
				}
			}
		}
	}
	shared := map[string][]string{} // by the folder, the names that it shares
	for _, name := range slices.Sorted(maps.Keys(names)) {
		if len(names[name]) > 1 {
			for _, base := range names[name] {
				shared[base] = append(shared[base], name)
			}
		}
	}
	s := &draftShelf{name: "parts", at: "<part>/", varies: true}
	for _, base := range bases {
		if len(shared[base]) >= fewestShared {
			s.only = append(s.only, base)
			s.files = append(s.files, d.below(base)...)
		}
	}
	if len(s.only) < 2 {
		return nil
	}
	slices.Sort(s.files)
	s.notes = []string{fmt.Sprintf("%d folders that are laid out alike: they share %s", len(s.only),
		strings.Join(shared[s.only[0]][:fewestShared], ", "))}
	return s
}

// fewestShared is how many files of one name folders at the top share that are laid out alike.
const fewestShared = 3

// plain says whether a folder's name can stand in a template and as a key.
func plain(name string) bool {
	return !strings.ContainsAny(name, "<>*?{}[],\"'#:&!|%@` \\") && !strings.HasPrefix(name, ".")
}

// findHabits looks for names of one look that stand on one shelf and hardly elsewhere.
func (d *draft) findHabits() {
	languages := d.graph.Languages
	shelfOf := map[project.FileID]*draftShelf{}
	for _, s := range d.shelves {
		for _, id := range s.files {
			shelfOf[id] = s
		}
		for _, in := range s.inside {
			for _, id := range in.files {
				shelfOf[id] = in
			}
		}
	}
	by := map[string][]project.FileID{}
	for id, f := range d.tree.Files {
		if shelfOf[project.FileID(id)] == nil || languages.IsTest(f.Path) || languages.Shows(f.Path) ||
			!languages.IsProgram(f.Path) && !languages.IsComponent(f.Path) {
			continue
		}
		for _, like := range looks(path.Base(f.Path)) {
			by[like] = append(by[like], project.FileID(id))
		}
	}
	for _, like := range slices.Sorted(maps.Keys(by)) {
		ids := by[like]
		counts := map[*draftShelf]int{}
		var best *draftShelf
		for _, id := range ids {
			s := shelfOf[id]
			if counts[s]++; best == nil || counts[s] > counts[best] {
				best = s
			}
		}
		stray := len(ids) - counts[best]
		if best.varies || len(ids) < fewest || float64(stray) > mostStray*float64(len(ids)) ||
			stray > 0 && counts[best] < 2*fewest {
			continue
		}
		h := habit{like: like, here: counts[best], all: len(ids)}
		for _, id := range ids {
			if shelfOf[id] != best {
				h.exceptions = append(h.exceptions, d.tree.Path(id))
			}
		}
		best.takes = append(best.takes, h)
	}
	for _, s := range d.all() {
		slices.SortStableFunc(s.takes,
			func(a, b habit) int { return cmp.Or(b.here-a.here, cmp.Compare(a.like, b.like)) })
	}
}

func (d *draft) all() []*draftShelf {
	var out []*draftShelf
	for _, s := range d.shelves {
		out = append(append(out, s.inside...), s)
	}
	return out
}

// looks are the patterns that a name may be one of: a last word, and use in front.
func looks(base string) []string {
	stem, ext, _ := strings.Cut(base, ".")
	ext = "." + ext
	if mark, rest, dotted := strings.Cut(ext[1:], "."); dotted { // night.service.ts
		if mark == "d" {
			return nil
		}
		return []string{"*." + mark + "." + rest}
	}
	var out []string
	if rest, ok := strings.CutPrefix(stem, "use"); ok && rest != "" && strings.ToUpper(rest[:1]) == rest[:1] &&
		rest[0] >= 'A' {
		out = append(out, "use*"+ext)
	}
	words := template.Words(stem)
	if len(words) < 2 {
		return out
	}
	last := stem[len(stem)-len(words[len(words)-1]):]
	if before := stem[:len(stem)-len(last)]; strings.HasSuffix(before, "-") || strings.HasSuffix(before, "_") {
		last = before[len(before)-1:] + last
	} else if last[0] < 'A' || last[0] > 'Z' {
		return out
	}
	return append(out, "*"+last+ext)
}

// findCases looks for shelves whose files' names are written in one case.
func (d *draft) findCases() {
	languages := d.graph.Languages
	for _, s := range d.all() {
		if s.varies || len(s.inside) > 0 {
			continue
		}
		cases := []string{"kebab", "camel", "pascal", "snake"}
		fits, alone, all := map[string]int{}, map[string]int{}, 0
		for _, id := range s.files {
			stem, _, _ := strings.Cut(path.Base(d.tree.Path(id)), ".")
			if !languages.IsProgram(d.tree.Path(id)) && !languages.IsComponent(d.tree.Path(id)) || !plain(stem) ||
				stem == "" || strings.HasPrefix(stem, "_") || languages.IsEntry(stem) {
				continue
			}
			all++
			var in []string
			for _, c := range cases {
				if template.InCase(stem, c) == stem {
					in = append(in, c)
					fits[c]++
				}
			}
			if len(in) == 1 {
				alone[in[0]]++
			}
		}
		for _, c := range cases {
			if alone[c] >= fewestCased && float64(all-fits[c]) <= mostMiscased*float64(all) && d.indexFits(s, c) {
				s.names = c
				s.notes = append(s.notes, fmt.Sprintf("%d of %d names are written in %s", fits[c], all, c))
			}
		}
	}
}

// indexFits says whether index files, which are called so by their languages, fit a case.
func (d *draft) indexFits(s *draftShelf, in string) bool {
	return template.InCase("index", in) == "index" || !slices.ContainsFunc(s.files, func(id project.FileID) bool {
		stem, _, _ := strings.Cut(path.Base(d.tree.Path(id)), ".")
		return stem == "index"
	})
}

// write puts the convention down.
func (d *draft) write() []byte {
	var out strings.Builder
	out.WriteString("# A first convention, from the habits of this project. Say what each shelf is for, and take out " +
		"what is no rule.\ncrooked: 1\n")
	fmt.Fprintf(&out, "title: %s\n", title(d.tree, d.Title))
	d.nameApart()
	for _, s := range d.shelves {
		if s.only != nil {
			fmt.Fprintf(&out, "\nwhere: { part: { only: [%s] } }\n", strings.Join(s.only, ", "))
		}
	}
	slices.Sort(d.stay)
	if stay := slices.Compact(d.stay); len(stay) > 0 {
		fmt.Fprintf(&out, "\nleave:\n  stay: [%s]\n", strings.Join(stay, ", "))
	}
	pools := false
	for _, s := range d.all() {
		if len(s.takes) > 0 && !pools {
			out.WriteString("\npools:                            # what lies on shelves that also take names from " +
				"elsewhere\n")
			pools = true
		}
		if len(s.takes) > 0 {
			fmt.Fprintf(&out, "  %s: [%s**]\n", s.pool(), d.placeOf(s))
		}
	}
	if d.left > 0 {
		fmt.Fprintf(&out, "\n# %d folders were left out: their names have characters that can't be shown.\n", d.left)
	}
	out.WriteString("\nshelves:\n")
	for _, s := range d.shelves {
		s.write(&out, "  ")
	}
	return []byte(out.String())
}

// nameApart gives shelves of one name the name of a folder above as well, and pools names of their own.
func (d *draft) nameApart() {
	count := map[string]int{}
	for _, s := range d.shelves {
		count[s.name]++
	}
	taken := map[string]bool{}
	for _, s := range d.shelves {
		if folders := strings.Split(strings.TrimSuffix(s.at, "/"), "/"); count[s.name] > 1 && len(folders) > 1 {
			for n := 2; n <= len(folders) && (taken[s.name] || n == 2); n++ {
				s.name = strings.Map(keyRune, strings.Join(folders[len(folders)-n:], "-"))
			}
		}
		for taken[s.name] {
			s.name += "-too"
		}
		taken[s.name] = true
	}
	pools, names := map[string]bool{}, map[string]int{}
	for _, s := range d.all() {
		names[s.name]++
	}
	for _, s := range d.all() {
		if s.pooled = "in-" + strings.ReplaceAll(strings.Trim(s.name, "_"), ".", "-"); names[s.name] == 1 {
			continue
		}
		s.pooled = "in-" + strings.Map(keyRune, strings.Trim(strings.TrimSuffix(d.placeOf(s), "/"), "/"))
		if pools[s.pooled] {
			s.pooled += "-" + s.name
		}
		pools[s.pooled] = true
	}
}

// keyRune makes a path a key.
func keyRune(r rune) rune {
	switch {
	case r == '/' || r == '.' || r == '|' || r == ' ':
		return '-'
	case r == '<' || r == '>' || r == '_':
		return -1
	}
	return r
}

// pool is the name of the pool of what lies on the shelf.
func (s *draftShelf) pool() string { return s.pooled }

// placeOf is a shelf's place from the root.
func (d *draft) placeOf(s *draftShelf) string {
	for _, outer := range d.shelves {
		if slices.Contains(outer.inside, s) {
			return outer.at + s.at
		}
	}
	return s.at
}

// inYAML writes a sentence as a value: in quotes where it would mean something else.
func inYAML(text string) string {
	if strings.ContainsAny(text, ":#{}[]&*!|>'\"%@`") || strings.HasPrefix(text, "-") || strings.HasPrefix(text, "?") {
		return strconv.Quote(text)
	}
	return text
}

func (s *draftShelf) write(out *strings.Builder, indent string) {
	for _, n := range s.notes {
		fmt.Fprintf(out, "%s# %s\n", indent, n)
	}
	for _, h := range s.takes {
		fmt.Fprintf(out, "%s# %d of %d %s stand here", indent, h.here, h.all, h.like)
		if len(h.exceptions) > 0 {
			more := ""
			if len(h.exceptions) > mostNamed {
				more = fmt.Sprintf(" and %d more", len(h.exceptions)-mostNamed)
			}
			fmt.Fprintf(out, ", not %s%s", strings.Join(h.exceptions[:min(mostNamed, len(h.exceptions))], ", "), more)
		}
		out.WriteString("\n")
	}
	fmt.Fprintf(out, "%s%s:\n", indent, s.name)
	if s.holds != "" && s.holds[0] != '.' {
		fmt.Fprintf(out, "%s  for: %s\n", indent, inYAML(s.holds))
	}
	fmt.Fprintf(out, "%s  at: %s\n", indent, s.at)
	if len(s.takes) > 0 {
		var entries []string
		for _, h := range s.takes {
			entries = append(entries, fmt.Sprintf("{ name: %q }", h.like))
		}
		entries = append(entries, "{ pool: "+s.pool()+" }")
		fmt.Fprintf(out, "%s  takes: [%s]\n", indent, strings.Join(entries, ", "))
	}
	if len(s.must) > 0 {
		fmt.Fprintf(out, "%s  must: [%s]\n", indent, strings.Join(s.must, ", "))
	}
	if s.names != "" {
		fmt.Fprintf(out, "%s  names: { files: %s }\n", indent, s.names)
	}
	if len(s.inside) > 0 {
		fmt.Fprintf(out, "%s  inside:\n", indent)
		for _, in := range s.inside {
			in.write(out, indent+"    ")
		}
	}
}
