// Package paths resolves and spells what names a file or folder by a path, and is no module and no style sheet: values
// of settings, addresses in markup, links of documents, paths that code puts together, patterns, and strings that only
// look like paths.
//
// A text is read in the ways that its kind allows, one after the other; the first that leads to something counts, and
// the new text is written in the same way.
package paths

import (
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// Resolver answers for one tree.
type Resolver struct {
	tree     *lang.Tree
	public   []public
	packages map[string]bool // folders with a package.json
	byName   func() map[string][]project.FileID
}

// habitual are the names of folders beside a package whose files have the addresses of the root by habit.
var habitual = []string{"public", "static"}

// public is a folder whose files have addresses.
type public struct{ folder, at string }

// New makes the resolver of a tree.
func New(tree *lang.Tree) *Resolver {
	r, declared := &Resolver{tree: tree, packages: map[string]bool{}}, tree.Declared
	r.byName = sync.OnceValue(func() map[string][]project.FileID {
		out := map[string][]project.FileID{}
		for id, f := range tree.Files {
			out[path.Base(f.Path)] = append(out[path.Base(f.Path)], project.FileID(id))
		}
		return out
	})
	for _, f := range tree.Files {
		if path.Base(f.Path) == "package.json" {
			r.packages[path.Dir(f.Path)] = true
		}
	}
	if declared != nil {
		for _, p := range declared.Convention.Public {
			folder := p.Folder.Now
			if declared.After {
				folder = p.Folder.Then
			}
			r.public = append(r.public, public{folder, p.At})
		}
	}
	for dir := range r.packages { // by habit: what lies in public/ or static/ beside a package has the root's addresses
		for _, name := range habitual {
			if folder := path.Join(dir, name); tree.IsDir(folder) &&
				!slices.ContainsFunc(r.public, func(p public) bool { return p.folder == folder }) {
				r.public = append(r.public, public{folder, "/"})
			}
		}
	}
	if declared != nil {
		for _, folder := range declared.Served {
			r.public = append(r.public, public{folder, "/"})
		}
	}
	slices.SortFunc(r.public, func(a, b public) int { // the longer address first
		if len(a.at) != len(b.at) {
			return len(b.at) - len(a.at)
		}
		return strings.Compare(a.folder, b.folder)
	})
	return r
}

// Resolve implements lang.Resolver.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	t, _ := r.find(from, m)
	return t
}

// found is how a text led to its target.
type found struct {
	reading
	written
	ending string // that the text leaves out
}

// find gives the target, and how the text led to it.
func (r *Resolver) find(from project.FileID, m *lang.Mention) (lang.Target, found) {
	if m.Likely && m.Kind == Text && !Segments(m.Text) {
		return lang.No(lang.ToOutside), found{}
	}
	file := r.tree.Path(from)
	w := takeApart(m)
	all := r.readings(file, m, w)
	for _, read := range all {
		if t, ending, ok := r.at(m, read.path, w, file); ok {
			return t, found{read, w, ending}
		}
	}
	if m.Kind == IgnorePattern || m.Kind == SettingGlob || m.Kind == ImportGlob {
		for _, read := range all {
			if t, f, ok := r.fixedHead(m, read, w); ok {
				return t, f
			}
		}
	}
	if missing(m) {
		return lang.No(lang.ToNothing), found{}
	}
	return lang.No(lang.ToOutside), found{}
}

// fixedHead: a pattern follows the deepest folder of its fixed part that is there, also where nothing matches it.
func (r *Resolver) fixedHead(m *lang.Mention, read reading, w written) (lang.Target, found, bool) {
	for core := strings.TrimSuffix(w.core, "/"); ; {
		slash := strings.LastIndexByte(core, '/')
		if slash <= 0 {
			return lang.Target{}, found{}, false
		}
		w.pattern = w.core[slash:] + w.pattern
		core, w.core = core[:slash], core[:slash]
		if read.path = path.Dir(read.path); read.path == "." || read.path == read.base {
			return lang.Target{}, found{}, false
		}
		if r.tree.IsDir(read.path) {
			t := lang.Folder(read.path)
			if m.Kind != IgnorePattern {
				t = lang.Set(read.path, nil)
			}
			return t, found{read, w, ""}, true
		}
	}
}

// missing says whether a mention that leads nowhere is an error of the project.
func missing(m *lang.Mention) bool {
	switch m.Kind {
	case ModuleURL, Include:
		return lang.IsRelative(m.Text)
	case SettingWord, Setting:
		return m.Must()
	}
	return false
}

// implied gives the endings that a mention may leave out.
func implied(m *lang.Mention, from string) []string {
	switch m.Kind {
	case Include:
		ext := path.Ext(from)
		return []string{ext, ".html", ".md"}
	case Link:
		if path.Ext(from) == ".rst" {
			return []string{".rst", ".md"}
		}
		return []string{".md", ".html"}
	case Setting:
		switch {
		case member(m):
			return []string{"/package.json"}
		case detail(m).Entry:
			return []string{".js", ".json"}
		case m.Likely && m.Form == lang.InScript:
			return []string{".js", ".ts", ".tsx", ".jsx", ".mjs", ".json"}
		}
	}
	return nil
}

// at looks at what lies at a path.
func (r *Resolver) at(m *lang.Mention, p string, w written, from string) (t lang.Target, ending string, ok bool) {
	if patterned(m.Kind) && w.pattern != "" {
		return r.pattern(m, p, w.pattern)
	}
	folderOnly := strings.HasSuffix(w.core, "/")
	if id, found := r.tree.Lookup(p); found && !folderOnly {
		return lang.File(id), "", true
	}
	if r.tree.IsDir(p) && !member(m) && !(m.Kind == SettingWord && !strings.Contains(w.core, "/")) {
		switch m.Kind {
		case FolderRead, FolderReadWork, ImportFolder:
			return lang.Set(p, r.below(p)), "", true
		case Setting:
			if t, ending, ok := r.entry(m, p); ok {
				return t, ending, true
			}
		case Link, Asset:
			if p == "." || w.core == "" {
				return t, "", false
			}
		}
		return lang.Folder(p), "", true
	}
	if !folderOnly {
		for _, ending := range implied(m, from) {
			if id, found := r.tree.Lookup(p + ending); found && ending != "" {
				return lang.File(id), ending, true
			}
		}
	}
	return t, "", false
}

func member(m *lang.Mention) bool { return detail(m).Member }

// entry: a setting that certainly names a program by its folder means the folder's entry file.
func (r *Resolver) entry(m *lang.Mention, p string) (lang.Target, string, bool) {
	if !detail(m).Entry {
		return lang.Target{}, "", false
	}
	for _, ending := range []string{"/index.js", "/tsconfig.json"} {
		if id, found := r.tree.Lookup(p + ending); found {
			return lang.File(id), ending, true
		}
	}
	return lang.Target{}, "", false
}

func (r *Resolver) below(dir string) []project.FileID {
	from, to := r.tree.Below(dir)
	out := make([]project.FileID, 0, to-from)
	for id := from; id < to; id++ {
		out = append(out, id)
	}
	return out
}

// pattern gives the files below a folder that a pattern matches. An ignore pattern and an alias follow their folder.
func (r *Resolver) pattern(m *lang.Mention, dir, rest string) (lang.Target, string, bool) {
	if !r.tree.IsDir(dir) || dir == "." && m.Kind == IgnorePattern {
		return lang.Target{}, "", false
	}
	if m.Kind == AliasTarget && (m.Alias() == "") {
		return r.starred(dir, rest), "", true
	}
	if m.Kind == IgnorePattern || m.Kind == AliasTarget || strings.ContainsAny(rest, "$(") {
		return lang.Folder(dir), "", true
	}
	glob := strings.TrimPrefix(rest, "/")
	if member(m) {
		glob = strings.TrimSuffix(glob, "/") + "/package.json"
	}
	if !doublestar.ValidatePattern(glob) {
		return lang.Folder(dir), "", true
	}
	var set []project.FileID
	from, to := r.tree.Below(dir)
	if head, _ := doublestar.SplitPattern(glob); head == path.Clean(head) && !lang.Leaves(head) {
		from, to = r.tree.Below(path.Join(dir, head))
	}
	skip := 0
	if dir != "." {
		skip = len(dir) + 1
	}
	tail := glob[strings.LastIndexAny(glob, `*?[]{}\`)+1:]
	for id := from; id < to; id++ {
		p := r.tree.Path(id)[skip:]
		if !strings.HasSuffix(p, tail) {
			continue
		}
		if ok, _ := doublestar.Match(glob, p); ok {
			set = append(set, id)
		}
	}
	return lang.Set(dir, set), "", true
}

// starred gives the files that the target of an export leads to, in which a * stands for any text, slashes too (Node's
// documentation, Packages: subpath patterns).
func (r *Resolver) starred(dir, rest string) lang.Target {
	head, tail, _ := strings.Cut(path.Join(dir, rest), "*")
	if i := strings.LastIndexByte(tail, '*'); i >= 0 {
		tail = tail[i+1:]
	}
	var set []project.FileID
	from, to := r.tree.Below(dir)
	for id := from; id < to; id++ {
		if p := r.tree.Path(id); len(p) > len(head)+len(tail) && strings.HasPrefix(p, head) &&
			strings.HasSuffix(p, tail) {
			set = append(set, id)
		}
	}
	return lang.Set(dir, set)
}

// serves says whether a folder lies beside a package and has a name by which its files have addresses.
func (r *Resolver) serves(dir string) bool {
	return slices.Contains(habitual, path.Base(dir)) && r.packages[path.Dir(dir)]
}
