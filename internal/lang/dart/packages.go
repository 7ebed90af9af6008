package dart

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// manifestName is the file that says what a package is (dart.dev/tools/pub/pubspec).
const manifestName = "pubspec.yaml"

// pack is a package.
type pack struct {
	dir     string
	name    string
	private bool     // it is not given to others
	runs    []string // its programs: files below bin
	id      project.FileID
	asks    []lang.Dependency
}

// packages reads the packages of a tree, the deeper first.
func packages(t *project.Project) (out []*pack) {
	for id := range t.Files {
		p := t.Files[id].Path
		if path.Base(p) != manifestName || t.Files[id].Link {
			continue
		}
		t.Peek(project.FileID(id), func(content []byte, err error) {
			if err != nil {
				return
			}
			root, err := manifest.ParseYAML(content)
			if err != nil {
				return // it is reported by those who read settings
			}
			one := &pack{dir: path.Dir(p), id: project.FileID(id), asks: dependencies(root)}
			if name := root.Get("name"); name != nil {
				one.name = name.Text
			}
			if to := root.Get("publish_to"); to != nil && to.Text == "none" {
				one.private = true
			}
			if runs := root.Get("executables"); runs != nil {
				for _, m := range runs.Members {
					script := m.Key
					if m.Value.Kind == manifest.String && m.Value.Text != "" {
						script = m.Value.Text
					}
					one.runs = append(one.runs, path.Join(one.dir, "bin", script+".dart"))
				}
			}
			out = append(out, one)
		})
	}
	slices.SortStableFunc(out, func(a, b *pack) int { return strings.Compare(b.dir, a.dir) })
	return out
}

// dependencies are the packages that a manifest asks for. What comes with a platform (sdk: flutter) may be there for it.
func dependencies(root *manifest.Value) (out []lang.Dependency) {
	for _, key := range []string{"dependencies", "dev_dependencies"} {
		table := root.Get(key)
		if table == nil {
			continue
		}
		for _, m := range table.Members {
			out = append(out, lang.Dependency{Name: m.Key, At: m.Start,
				Code: key == "dependencies" && m.Value.Get("sdk") == nil, Covers: func(name string) bool { return name == m.Key }})
		}
	}
	return out
}

// Packages are the packages of the tree with what they ask for.
func (r *Resolver) Packages() (out []lang.Package) {
	for _, p := range r.packs {
		out = append(out, lang.Package{Manifest: p.id, Dir: p.dir, Name: p.name, Asks: p.asks,
			Free: func(name string) bool { return strings.Contains(name, ":") || name == "" }})
	}
	return out
}

// below says whether a path lies in a folder.
func below(p, dir string) bool { return dir == "." || strings.HasPrefix(p, dir+"/") }

// packOf gives the package that a file lies in; nil for none.
func (r *Resolver) packOf(file string) (best *pack) {
	for _, p := range r.packs {
		if below(file, p.dir) && (best == nil || len(p.dir) > len(best.dir) || best.dir == ".") {
			best = p
		}
	}
	return best
}

// addressOf gives the address of a file that others know it by; empty for one that does not lie in lib.
func (r *Resolver) addressOf(file string) string {
	p := r.packOf(file)
	if p == nil || p.name == "" {
		return ""
	}
	rest, is := strings.CutPrefix(file, path.Join(p.dir, "lib")+"/")
	if !is {
		return ""
	}
	return "package:" + p.name + "/" + rest
}

// Place gives the place of a file by which others find it.
func (r *Resolver) Place(file string) (lang.Place, bool) {
	if !r.any || !isDart(file) {
		return lang.Place{}, false
	}
	p := r.packOf(file)
	if p == nil {
		return lang.Place{}, false
	}
	if slices.Contains(p.runs, file) {
		return lang.Place{Folder: path.Dir(file), Rest: path.Base(file), By: manifestName,
			Why: "is a program of the package, by its name", Alone: true}, true
	}
	lib := path.Join(p.dir, "lib") + "/"
	rest, is := strings.CutPrefix(file, lib)
	if !is || p.private || strings.HasPrefix(rest, "src/") {
		return lang.Place{}, false
	}
	return lang.Place{Folder: strings.TrimSuffix(lib, "/"), Rest: rest, By: manifestName,
		Why: "is known to other packages by its address", Public: true, Alone: true}, true
}
