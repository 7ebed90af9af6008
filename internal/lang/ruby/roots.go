package ruby

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/project"
)

// This file knows where files are looked for: the folders of require, and those below which a constant is found by its
// path.

// unit is an application or a library: a folder with a Gemfile, a specification of a gem, or a Rakefile.
type unit struct {
	dir      string
	gem      bool
	app      bool     // it has config/application.rb
	requires []string // the folders in which required files are looked for, in their order
}

// root is a folder below which a constant is found by its path.
type root struct {
	dir   string
	space string // the name of what its files stand in
	gem   bool   // the loader of a library: its file version.rb has a constant VERSION
}

// table is what a tree says of where files are found.
type table struct {
	units    []*unit // the deepest first
	collapse []string
	ignore   []string
	unitBy   map[string]*unit // by their folders
	autoBy   map[string]*root // by their folders; what is ignored has nil
}

// notOfApps are folders of app whose files are not found by their names.
var notOfApps = map[string]bool{"assets": true, "javascript": true, "views": true}

// readTable finds the units and roots of a tree.
func (r *Resolver) readTable() {
	units := map[string]*unit{}
	r.table.unitBy, r.table.autoBy = units, map[string]*root{}
	at := func(dir string) *unit {
		if units[dir] == nil {
			units[dir] = &unit{dir: dir}
			r.table.units = append(r.table.units, units[dir])
		}
		return units[dir]
	}
	for _, f := range r.tree.Files {
		switch base := path.Base(f.Path); {
		case path.Ext(base) == ".gemspec":
			at(path.Dir(f.Path)).gem = true
		case base == "Gemfile", base == "Rakefile", base == "config.ru":
			at(path.Dir(f.Path))
		case base == "application.rb" && path.Base(path.Dir(f.Path)) == "config":
			at(path.Dir(path.Dir(f.Path))).app = true
		}
	}
	if len(r.table.units) == 0 {
		at(".")
	}
	slices.SortFunc(r.table.units, func(a, b *unit) int {
		if n := len(b.dir) - len(a.dir); n != 0 && a.dir != "." && b.dir != "." {
			return n
		}
		if (a.dir == ".") != (b.dir == ".") {
			if a.dir == "." {
				return 1
			}
			return -1
		}
		return strings.Compare(a.dir, b.dir)
	})
	for _, u := range r.table.units {
		for _, name := range []string{"lib", "test", "spec"} {
			if dir := path.Join(u.dir, name); r.tree.IsDir(dir) {
				u.requires = append(u.requires, dir)
			}
		}
		u.requires = append(u.requires, u.dir)
		r.addApp(u)
	}
}

// addApp adds the roots that applications and engines have by habit: the folders of app, and concerns in them.
func (r *Resolver) addApp(u *unit) {
	app := path.Join(u.dir, "app")
	if !r.tree.IsDir(app) || !u.app && !u.gem {
		return
	}
	for _, dir := range r.foldersIn(app) {
		if notOfApps[path.Base(dir)] || !r.hasRuby(dir) {
			continue
		}
		r.addRoot(root{dir: dir})
		r.addRoot(root{dir: path.Join(dir, "concerns")})
		u.requires = append(u.requires, dir)
	}
}

// addRoot adds a root; of two for one folder the first counts.
func (r *Resolver) addRoot(one root) {
	if r.table.autoBy[one.dir] == nil && r.tree.IsDir(one.dir) {
		r.table.autoBy[one.dir] = &one
	}
}

func (r *Resolver) hasRuby(dir string) bool {
	from, to := r.tree.Below(dir)
	for id := from; id < to; id++ {
		if path.Ext(r.tree.Path(id)) == ".rb" {
			return true
		}
	}
	return false
}

// foldersIn are the folders that lie in one.
func (r *Resolver) foldersIn(dir string) (out []string) {
	for _, f := range r.tree.Folders() {
		if path.Dir(f) == dir && f != "." {
			out = append(out, f)
		}
	}
	return out
}

// unitOf is the application or library of a path.
func (t *table) unitOf(p string) *unit { return nearest(t.unitBy, p) }

// nearest gives what a map has for the deepest folder of a path, or for the path itself; the zero value for nothing.
func nearest[T any](by map[string]T, p string) (found T) {
	for dir := p; ; dir = path.Dir(dir) {
		if one, there := by[dir]; there {
			return one
		}
		if dir == "." || dir == "/" {
			return found
		}
	}
}

// within says whether a path lies below a folder, or is it.
func within(p, dir string) bool {
	return dir == "." || p == dir || strings.HasPrefix(p, dir+"/")
}

// below is a path seen from a folder.
func below(p, dir string) string {
	if dir == "." {
		return p
	}
	return strings.TrimPrefix(p, dir+"/")
}

// autoOf is the root below which a path lies; nil for none.
func (t *table) autoOf(p string) *root {
	if path.Ext(p) != ".rb" {
		return nil
	}
	return nearest(t.autoBy, path.Dir(p))
}

// wants gives the constant that the file at a path must define; empty for one that is not found by its name.
func (r *Resolver) wants(p string) string {
	a := r.table.autoOf(p)
	if a == nil {
		return ""
	}
	dir, rest := a.dir, below(p, a.dir)
	name := a.space
	parts := strings.Split(strings.TrimSuffix(rest, ".rb"), "/")
	for i, part := range parts {
		dir = path.Join(dir, part)
		if i < len(parts)-1 && slices.Contains(r.table.collapse, dir) {
			continue
		}
		if a.gem && i == len(parts)-1 && part == "version" {
			name = join(name, "VERSION")
			continue
		}
		name = join(name, r.spelled(join(name, r.inflect.camelize(part))))
	}
	return name
}

// spelled is the last part of a name as a file of the tree spells it: a project may call its acronyms as it likes.
func (r *Resolver) spelled(name string) string {
	if word, known := r.ix.folded[strings.ToLower(name)]; known {
		return last(word)
	}
	return last(name)
}

// required gives the file that a text of require names, seen from a file.
func (r *Resolver) required(from, text string) (project.FileID, bool) {
	if text == "" || strings.HasPrefix(text, "/") || strings.HasPrefix(text, "~") {
		return project.None, false
	}
	try := func(dir string) (project.FileID, bool) {
		p := path.Join(dir, text)
		if strings.HasPrefix(p, "../") {
			return project.None, false
		}
		if path.Ext(p) != ".rb" {
			p += ".rb"
		}
		return r.tree.Lookup(p)
	}
	if strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../") { // from where the program runs
		if u := r.table.unitOf(from); u != nil {
			if id, there := try(u.dir); there {
				return id, true
			}
		}
		return try(path.Dir(from))
	}
	if own := r.table.unitOf(from); own != nil {
		for _, dir := range own.requires {
			if id, there := try(dir); there {
				return id, true
			}
		}
	}
	if known, asked := r.elsewhere.Load(text); asked { // the same for all files
		id := known.(project.FileID)
		return id, id != project.None
	}
	found := project.None
	for _, dir := range r.otherRequires() {
		if id, there := try(dir); there {
			found = id
			break
		}
	}
	r.elsewhere.Store(text, found)
	return found, found != project.None
}

// otherRequires are the folders in which files are looked for that a file's own library does not have: those that programs
// add, and those of all libraries.
func (r *Resolver) otherRequires() (out []string) {
	out = append(out, r.extra...)
	for _, u := range r.table.units {
		if u.gem {
			out = append(out, path.Join(u.dir, "lib"))
		}
	}
	return out
}

// requiresFrom are the folders in which the files are looked for that a file requires, in their order: those of its own
// library or application, what programs add, and the folders of the other libraries of the tree.
func (r *Resolver) requiresFrom(from string) (out []string) {
	if own := r.table.unitOf(from); own != nil {
		out = append(out, own.requires...)
	}
	return append(out, r.otherRequires()...)
}

// unquoted is the text of a string without its escapes.
func unquoted(raw []byte, quote byte) string {
	if quote == '"' || strings.IndexByte(string(raw), '\\') < 0 {
		return strings.ReplaceAll(string(raw), `\`, "")
	}
	return strings.NewReplacer(`\'`, `'`, `\\`, `\`).Replace(string(raw))
}
