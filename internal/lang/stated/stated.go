// Package stated resolves the text that a convention states to be a mention. Each entry makes an index of names: every
// file that the entry's `file` fits, by its home, has the name that `like` gives it.
package stated

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// Resolver answers for one tree.
type Resolver struct {
	tree     *project.Project
	declared *lang.Declared
	entries  []index
	looked   []int                          // numbers of entries that look for words of texts
	families func(path string) *lang.Family // who reads a file; nil for nobody
}

// index is the names of one entry.
type index struct {
	entry *convention.Mention
	like  *template.Template
	files map[string]project.FileID // by name
	names map[project.FileID]string
	// folders and folderNames are the same, where the entry names folders.
	folders     map[string]string
	folderNames map[string]string
	folder      string // that the text is read from, where the entry names any path
	path        bool
}

// New makes the index of a tree.
func New(tree *project.Project, declared *lang.Declared) *Resolver {
	r := &Resolver{tree: tree, declared: declared}
	if declared == nil {
		return r
	}
	var places template.Owned // of the files that entries name
	named := false
	for i, m := range declared.Convention.Mentions {
		x, names := r.index(m)
		r.entries = append(r.entries, x)
		if looks(m) {
			r.looked = append(r.looked, i)
		}
		for _, t := range []*template.Template{m.File, m.Now} {
			if names && t != nil {
				places.Add(t, i)
				named = true
			}
		}
	}
	if named {
		r.takeNames(&places)
	}
	return r
}

// takeNames gives the entries the names of the files that they fit.
func (r *Resolver) takeNames(places *template.Owned) {
	var entries []int
	for id, f := range r.tree.Files {
		entries = places.Among(r.declared.Home(f.Path), places.Among(f.Path, entries[:0]))
		slices.Sort(entries)
		for _, i := range slices.Compact(entries) {
			x := &r.entries[i]
			if strings.HasSuffix(x.entry.File.Text, "/") {
				r.takeFolder(x, f.Path)
				continue
			}
			c, ok := r.match(x.entry, f.Path)
			if !ok {
				continue
			}
			name := x.like.Fill(c.Values)
			if _, taken := x.files[x.key(name)]; !taken {
				x.files[x.key(name)] = project.FileID(id)
			}
			x.names[project.FileID(id)] = name
		}
	}
}

// takeFolder gives an entry that names folders the name of the one around a file that it fits. A folder goes where its
// files go with their paths below it.
func (r *Resolver) takeFolder(x *index, file string) {
	home := r.declared.Home(file)
	for dir := path.Dir(file); dir != "."; dir = path.Dir(dir) {
		below := file[len(dir):]
		then, whole := strings.CutSuffix(home, below)
		if !whole {
			then = dir
		}
		for _, place := range []string{dir + "/", then + "/"} {
			for _, t := range []*template.Template{x.entry.Now, x.entry.File} {
				if t == nil {
					continue
				}
				c, fits := t.Match(place)
				if !fits {
					continue
				}
				name := x.like.Fill(c.Values)
				if _, taken := x.folders[name]; !taken {
					x.folders[name], x.folderNames[dir] = dir, name
				}
				return
			}
		}
	}
}

// index makes the index of an entry. names: it is to have the names of the files that it fits.
func (r *Resolver) index(m *convention.Mention) (x index, names bool) {
	x = index{entry: m, like: m.Like, files: map[string]project.FileID{}, names: map[project.FileID]string{},
		folders: map[string]string{}, folderNames: map[string]string{}, folder: "."}
	if m.NoPath || m.File == nil {
		return x, false
	}
	if m.Base != nil {
		x.folder = m.Base.Now
		if r.declared.After {
			x.folder = m.Base.Then
		}
	}
	switch m.Index() {
	case "path":
		x.path = true
		return x, false
	case "package":
		r.packages(&x)
		return x, false
	}
	if x.like == nil {
		if names := m.File.Names(); len(names) == 1 {
			x.like, _ = template.ParseText("<"+names[0]+">", nil)
		}
		if x.like == nil {
			return x, false
		}
	}
	return x, true
}

// packages takes the names of the project's packages; each stands for its manifest.
func (r *Resolver) packages(x *index) {
	for id, f := range r.tree.Files {
		if path.Base(f.Path) != "package.json" {
			continue
		}
		content, err := r.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		if root, err := manifest.ParseJSON(content); err == nil && root.Get("name").String() != "" {
			name := root.Get("name").String()
			x.files[name], x.names[project.FileID(id)] = project.FileID(id), name
		}
	}
}

// match fits a file to an entry: by its own path, which may lie in the old place or in the new one, else by its home. A
// file whose move is blocked keeps the name that it has today.
func (r *Resolver) match(m *convention.Mention, p string) (template.Captures, bool) {
	places := []*template.Template{m.File, m.Now}
	if !r.declared.After {
		places = []*template.Template{m.Now, m.File}
	}
	for _, t := range places {
		if t == nil {
			continue
		}
		if c, ok := t.Match(p); ok {
			return c, true
		}
	}
	return m.File.Match(r.declared.Home(p))
}

// key is what names are compared by: those of elements as words, since <night-list> and <NightList> are one.
func (x *index) key(name string) string {
	if x.entry.Tags {
		return strings.Join(template.Words(name), " ")
	}
	return name
}

// Resolve implements lang.Resolver.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	if rule(m) == 0 || rule(m) > len(r.entries) {
		return lang.No(lang.ToOutside)
	}
	if m.Kind == Component && r.entries[rule(m)-1].entry.Tags {
		for i := range r.entries {
			if x := &r.entries[i]; x.entry.Tags {
				if id, ok := x.files[x.key(m.Text)]; ok {
					return lang.File(id)
				}
			}
		}
		return lang.No(lang.ToOutside)
	}
	x := &r.entries[rule(m)-1]
	if !x.path {
		if id, ok := x.files[x.key(m.Text)]; ok {
			return lang.File(id)
		}
		if dir, ok := x.folders[m.Text]; ok {
			return lang.Folder(dir)
		}
		return lang.No(lang.ToOutside)
	}
	slashes, _ := lang.Slashed(m.Text)
	p := path.Join(x.folder, strings.TrimPrefix(slashes, "/"))
	if id, ok := r.tree.Lookup(p); ok {
		return lang.File(id)
	}
	if r.tree.IsDir(p) {
		return lang.Folder(p)
	}
	return lang.No(lang.ToNothing)
}

// Spell implements lang.Resolver.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	if !q.Target.Kind.Inside() {
		return lang.Spelling{Text: q.Mention.Text}, true
	}
	for _, text := range r.candidates(q) {
		m := *q.Mention
		m.Text = text
		if r.Resolve(q.From, &m).Equal(q.Target) {
			return lang.Spelling{Text: text}, true
		}
	}
	return lang.Spelling{}, false
}

func (r *Resolver) candidates(q lang.Respelling) []string {
	out := []string{q.Mention.Text}
	if q.Mention.Kind == Component && r.entries[rule(q.Mention)-1].entry.Code {
		return out // the name of a function is not changed: the move is blocked
	}
	if q.Mention.Kind == Component {
		for _, x := range r.entries {
			if name, ok := x.names[q.Target.File]; ok && x.entry.Tags {
				if kebab := strings.Join(template.Words(name), "-"); strings.Contains(q.Mention.Text, "-") {
					out = append(out, kebab)
				}
				out = append(out, name)
			}
		}
		return out
	}
	x := &r.entries[rule(q.Mention)-1]
	if !x.path {
		if name, ok := x.folderNames[q.Target.Folder()]; ok && q.Target.Kind == lang.ToFolder {
			return append(out, name)
		}
		if name, ok := x.names[q.Target.File]; ok {
			out = append(out, name)
		}
		return out
	}
	p := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		p = r.tree.Path(q.Target.File)
	}
	text := lang.Relative(x.folder, p)
	if !strings.HasPrefix(q.Mention.Text, ".") {
		text = strings.TrimPrefix(text, "./")
	}
	if strings.HasPrefix(q.Mention.Text, "/") {
		text = "/" + text
	}
	slashes, back := lang.Slashed(q.Mention.Text)
	if strings.HasSuffix(slashes, "/") {
		text += "/"
	}
	if back {
		text = strings.ReplaceAll(text, "/", `\`)
	}
	return append(out, text)
}
