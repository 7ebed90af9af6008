package engine

import (
	"maps"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/convention"
	"crookedshelf/internal/graph"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/leftover"
	"crookedshelf/internal/placement"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// Removal is what becomes of a wish to remove files.
type Removal struct {
	Root     string        `json:"-"`
	Removes  []string      `json:"removes"`  // files that can go, in the order of their paths
	Needed   []Needed      `json:"needed"`   // files that something needs which stays
	Edits    []RemovalEdit `json:"edits"`    // entries of lists that go with them
	Mentions []Mentioned   `json:"mentions"` // texts that still name what goes
	Warnings []string      `json:"warnings"`
	outcome  *plan.Outcome
}

// Needed is a file that stays, and what needs it.
type Needed struct {
	Path string   `json:"path"`
	By   []string `json:"by"` // place and text, one sentence each
}

// RemovalEdit is a file that loses entries of its lists.
type RemovalEdit struct {
	Path  string   `json:"path"`
	Texts []string `json:"texts"` // what is taken out
}

// Mentioned is a text that names what goes and stays as it is.
type Mentioned struct {
	At   string `json:"at"` // file, line and column
	Text string `json:"text"`
}

// Remove works out what removing files and folders does to a project. It needs no convention; if the project has one,
// what that says of mentions counts.
func Remove(root, conventionPath string, files []string) (*Removal, error) {
	p, err := OpenBare(root, conventionPath)
	if err != nil {
		return nil, err
	}
	defer p.Close()
	wanted, err := p.named(files)
	if err != nil {
		return nil, err
	}
	g := graph.Build(p.Tree, all.Languages(), lang.NewDeclared(p.Convention, false, nil))
	r := carry.Remove(g, wanted)
	out := &Removal{Root: p.Root, Removes: []string{}, Needed: []Needed{}, Edits: []RemovalEdit{}, Mentions: []Mentioned{},
		Warnings: append([]string{}, slices.Concat(p.Tree.Warnings, g.Warnings)...)}
	for _, id := range wanted {
		if needs := r.Needed[id]; len(needs) > 0 {
			out.Needed = append(out.Needed, Needed{p.Tree.Path(id), needs})
		}
	}
	out.outcome = &plan.Outcome{}
	for _, id := range r.Goes {
		content, err := p.Tree.Content(id)
		if err != nil {
			return nil, err
		}
		out.Removes = append(out.Removes, p.Tree.Path(id))
		out.outcome.Files = append(out.outcome.Files, plan.OutcomeFile{From: p.Tree.Path(id), Before: content})
	}
	for id, f := range p.Tree.Files {
		edits := r.Edits[project.FileID(id)]
		if len(edits) == 0 {
			continue
		}
		content, err := p.Tree.Content(project.FileID(id))
		if err != nil {
			return nil, err
		}
		edit := RemovalEdit{Path: f.Path}
		for _, e := range edits {
			edit.Texts = append(edit.Texts, strings.Trim(string(content[e.Span.Start:e.Span.End]), " \t\r\n,-"))
		}
		out.Edits = append(out.Edits, edit)
		out.outcome.Files = append(
			out.outcome.Files,
			plan.OutcomeFile{From: f.Path, To: f.Path, Before: content, Edits: edits},
		)
	}
	out.mentions(g, r)
	return out, nil
}

// mentions lists the texts that still name what goes: those that only look like references, and the path itself,
// wherever it stands.
func (r *Removal) mentions(g *graph.Graph, removal *carry.Removal) {
	seen := map[string]bool{}
	add := func(file string, at source.Position, text string) {
		m := Mentioned{At: file + ":" + at.String(), Text: text}
		if !seen[m.At] {
			seen[m.At] = true
			r.Mentions = append(r.Mentions, m)
		}
	}
	for _, ref := range removal.Likely {
		add(g.Tree.Path(ref.From), g.Position(ref), g.Files[ref.From].Mentions[ref.Mention].Text)
	}
	going := map[project.FileID]bool{}
	gone := map[string]bool{} // paths of files, and of folders of which nothing is left
	for _, id := range removal.Goes {
		going[id] = true
		gone[g.Tree.Path(id)] = true
		for dir := project.Dir(g.Tree.Path(id)); dir != "."; dir = project.Dir(dir) {
			gone[dir] = true
		}
	}
	for id, f := range g.Tree.Files {
		if !going[project.FileID(id)] {
			for dir := project.Dir(f.Path); dir != "."; dir = project.Dir(dir) {
				delete(gone, dir)
			}
		}
	}
	names := slices.Sorted(maps.Keys(gone))
	slices.Reverse(names) // the longer first: a folder is named by its files too
	for id, f := range g.Tree.Files {
		if going[project.FileID(id)] || f.Link {
			continue
		}
		g.Tree.Peek(project.FileID(id), func(content []byte, err error) {
			if err != nil || len(content) > leftover.Most {
				return
			}
			text := string(content)
			taken := map[int]bool{}
			for _, name := range names {
				for at := 0; ; {
					i := strings.Index(text[at:], name)
					if i < 0 {
						break
					}
					start := at + i
					at = start + len(name)
					if taken[start] || inWord(text, start, at) || slices.ContainsFunc(removal.Edits[project.FileID(id)],
						func(e source.Edit) bool { return e.Span.Start <= start && start < e.Span.End }) {
						continue
					}
					taken[start] = true
					add(f.Path, source.PositionAt(content, start), name)
				}
			}
		})
	}
}

// inWord says whether a text goes on as a name does at one of its ends.
func inWord(text string, start, end int) bool {
	part := func(at int) bool {
		return at >= 0 && at < len(text) &&
			(text[at]|0x20 >= 'a' && text[at]|0x20 <= 'z' || text[at] >= '0' && text[at] <= '9' ||
				text[at] == '_' || text[at] == '-')
	}
	return part(start-1) || part(end)
}

// Outcome is what removing does to the files.
func (r *Removal) Outcome() *plan.Outcome { return r.outcome }

// named gives the files of some paths, of which one may be a folder.
func (p *Project) named(paths []string) (out []project.FileID, err error) {
	for _, file := range paths {
		file = path.Clean(filepath.ToSlash(strings.TrimPrefix(file, "./")))
		if !project.CleanPath(file) {
			return nil, usage("%q is no path of a file below the project's root", file)
		}
		if id, there := p.Tree.Lookup(file); there {
			out = append(out, id)
			continue
		}
		if !p.Tree.IsDir(file) {
			return nil, usage("there is no file %s in the project", file)
		}
		from, to := p.Tree.Below(file)
		for id := from; id < to; id++ {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return slices.Compact(out), nil
}

// Beginning is a new instance of a shelf: the files that it begins with, and the lists that get it.
type Beginning struct {
	Shelf    string   `json:"shelf"`
	Instance string   `json:"instance"`
	Writes   []string `json:"writes"` // files that are written
	Lists    []string `json:"lists"`  // settings files that list it then
	outcome  *plan.Outcome
}

// Outcome is what beginning does to the files.
func (b *Beginning) Outcome() *plan.Outcome { return b.outcome }

// Begin works out a new instance of a shelf, whose placeholders have some values in the order of the shelf's place.
func (p *Project) Begin(shelf string, values []string) (*Beginning, error) {
	s := p.Convention.Shelf(shelf)
	if s == nil {
		var names []string
		for _, s := range p.Convention.Shelves {
			names = append(names, s.Name)
		}
		return nil, usage("there is no shelf %q; the shelves are %s", shelf, strings.Join(names, ", "))
	}
	names := s.At.Names()
	switch {
	case len(names) == 0 || s.AtFile:
		return nil, usage("%s has one place alone, %s: there is nothing to begin", s.Name, s.At.Text)
	case len(values) != len(names):
		return nil, usage("%s takes %s: say crooked begin %s %s", s.Name, strings.Join(names, " and "), s.Name,
			strings.ToUpper(strings.Join(names, " ")))
	}
	captures := map[string]string{}
	for i, name := range names {
		if strings.ContainsAny(values[i], `/\<>*?`) || values[i] == "" || values[i] == ".." {
			return nil, usage("%q is no name of one %s", values[i], name)
		}
		captures[name] = values[i]
	}
	b := &Beginning{
		Shelf:    s.Name,
		Instance: s.At.Fill(captures),
		Writes:   []string{},
		Lists:    []string{},
		outcome:  &plan.Outcome{},
	}
	if p.Tree.IsDir(strings.TrimSuffix(b.Instance, "/")) {
		return nil, usage("%s is there already", b.Instance)
	}
	if !s.At.Fits(b.Instance + "x") {
		return nil, usage(
			"%s may not be called so: the convention limits what <%s> may be",
			b.Instance,
			strings.Join(names, "> and <"),
		)
	}
	for _, required := range s.Must {
		content, err := p.firstContent(required, b.Instance, captures)
		if err != nil {
			return nil, err
		}
		to := required.Of(b.Instance, captures)
		b.Writes = append(b.Writes, to)
		b.outcome.Files = append(b.outcome.Files, plan.OutcomeFile{To: to, New: content})
		for _, companion := range mustBeside(s) {
			if beside, ok := companion.Of(to); ok && all.Languages().IsProgram(to) {
				b.Writes = append(b.Writes, beside)
				b.outcome.Files = append(b.outcome.Files, plan.OutcomeFile{To: beside, New: []byte{}})
			}
		}
	}
	if len(b.Writes) == 0 {
		return nil, usage("nothing says which files an instance of %s has: write must: [README.md] on the shelf", s.Name)
	}
	return b, p.listBeginning(b, s, captures)
}

// Instances are the names of the shelves that have instances, with what each is for behind a tab.
func (p *Project) Instances() (out []string) {
	for _, s := range p.Convention.Shelves {
		if len(s.At.Names()) > 0 && !s.AtFile {
			out = append(out, s.Name+"\t"+s.For)
		}
	}
	return out
}

func mustBeside(s *convention.Shelf) []convention.Companion {
	if s.Beside == nil {
		return nil
	}
	return s.Beside.Must
}

// firstContent is what a required file of a new instance holds.
func (p *Project) firstContent(q convention.Required, instance string, values map[string]string) ([]byte, error) {
	if q.Write != convention.WriteTemplate {
		return []byte{}, nil
	}
	id, there := p.Tree.Lookup(q.Template)
	if !there {
		return nil, usage("there is no file %s, of which %s is to have the text", q.Template, q.Of(instance, values))
	}
	content, err := p.Tree.Content(id)
	if err != nil {
		return nil, err
	}
	return plan.Filled(content, values), nil
}

// listBeginning puts the new instance into its list.
func (p *Project) listBeginning(b *Beginning, s *convention.Shelf, values map[string]string) error {
	if s.Listed == nil {
		return nil
	}
	id, there := p.Tree.Lookup(s.Listed.In)
	if !there {
		return usage("there is no file %s that could list it", s.Listed.In)
	}
	content, err := p.Tree.Content(id)
	if err != nil {
		return err
	}
	languages := all.Languages()
	items, err := languages.Items(s.Listed.In, content, s.Listed.Key)
	if err != nil {
		return usage("%s: %w", s.Listed.In, err)
	}
	list := placement.ListOf(p.Tree, s, items)
	text, ok := list.Text(b.Instance, values, b.Writes)
	if !ok {
		return usage("%s lists files, and %s begins with none like them: name it in must", s.Listed.In, b.Instance)
	}
	if slices.ContainsFunc(items, func(item string) bool { return list.Has(item, b.Instance, text) }) {
		return nil
	}
	edits, err := languages.EditList(s.Listed.In, content, s.Listed.Key, []string{text}, nil)
	if err != nil {
		return usage("%s: %w", s.Listed.In, err)
	}
	b.Lists = append(b.Lists, s.Listed.In)
	b.outcome.Files = append(
		b.outcome.Files,
		plan.OutcomeFile{From: s.Listed.In, To: s.Listed.In, Before: content, Edits: edits},
	)
	return nil
}

// CarryOut does what removing or beginning works out, with a record in the journal.
func CarryOut(root string, out *plan.Outcome, title string, now time.Time) error {
	return (&Project{Root: root}).Straighten(out, title, journal.Part{}, now)
}
