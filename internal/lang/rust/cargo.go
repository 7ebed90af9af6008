package rust

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// manifestName is the file that says what a package is (the Cargo book, "The Manifest Format").
const manifestName = "Cargo.toml"

// pack is a package.
type pack struct {
	dir     string
	name    string // as it is written
	lib     string // the name by which code knows its library
	edition string
	public  bool // others may get it
	targets []target
	deps    map[string]string // the names by which code knows others: their folders, empty for those that lie elsewhere
	asks    []lang.Dependency
	// the features, with what each of them asks for
	features map[string][]string
	ws       workspace // that it is a member of
}

// targetKind says what is made of a target.
type targetKind uint8

const (
	aLibrary targetKind = iota
	aProgram
	aTest
	anExample
	aBench
	aBuild
)

func (k targetKind) String() string {
	return [...]string{"library", "program", "test", "example", "benchmark", "build script"}[k]
}

// target is a file from which a crate is compiled.
type target struct {
	kind   targetKind
	name   string
	file   string
	byName bool // it is found by its place, and not named in the manifest
}

// folderOf are the folders in which targets are found by their places, with the tables that name them.
var folderOf = []struct {
	kind          targetKind
	folder, table string
	auto          string
}{
	{aProgram, "src/bin", "bin", "autobins"}, {aTest, "tests", "test", "autotests"},
	{anExample, "examples", "example", "autoexamples"}, {aBench, "benches", "bench", "autobenches"},
}

// packages reads the manifests of a tree.
func packages(t *project.Project) (out []*pack) {
	shared := map[string]*manifest.Value{} // of workspaces, by their folders
	own := map[string]*manifest.Value{}
	hidden := map[string]bool{} // nobody else gets it
	var dirs []string
	for id := range t.Files {
		p := t.Files[id].Path
		if path.Base(p) != manifestName || t.Files[id].Link {
			continue
		}
		t.Peek(project.FileID(id), func(content []byte, err error) {
			if err != nil {
				return
			}
			v, err := manifest.ParseTOML(content)
			if err != nil {
				return // it is reported by those who read settings
			}
			dir := path.Dir(p)
			if v.Get("workspace") != nil {
				shared[dir] = v.Get("workspace")
			}
			if v.Get("package") != nil || v.Get("project") != nil {
				own[dir] = v
				say := cmp.Or(v.Get("package"), v.Get("project")).Get("publish")
				hidden[dir] = say != nil && (say.Kind == manifest.List && len(say.Items) == 0 ||
					say.Kind == manifest.Other && string(content[say.Span.Start:say.Span.End]) == "false")
				dirs = append(dirs, dir)
			}
		})
	}
	slices.Sort(dirs)
	for _, dir := range dirs {
		p := readPackage(t, dir, own[dir], workspaceOf(dir, shared))
		p.public = !hidden[dir]
		out = append(out, p)
	}
	byDir := map[string]*pack{}
	for _, p := range out {
		byDir[p.dir] = p
	}
	for _, p := range out {
		for name, dir := range p.deps {
			if other := byDir[dir]; dir != "" && other != nil && name == under(other.name) {
				delete(p.deps, name)
				p.deps[other.lib] = dir
			}
		}
	}
	return out
}

// workspace is the part of a manifest that members share, and its folder.
type workspace struct {
	dir string
	v   *manifest.Value
}

func workspaceOf(dir string, shared map[string]*manifest.Value) workspace {
	for at := dir; ; at = path.Dir(at) {
		if v := shared[at]; v != nil {
			return workspace{at, v}
		}
		if at == "." || at == "/" {
			return workspace{dir: "."}
		}
	}
}

// textOf is a text of a table; empty for none.
func textOf(v *manifest.Value, key string) string {
	if v == nil {
		return ""
	}
	if one := v.Get(key); one != nil && one.Kind == manifest.String {
		return one.Text
	}
	return ""
}

// readPackage reads what a manifest says of a package.
func readPackage(t *project.Project, dir string, v *manifest.Value, ws workspace) *pack {
	about := v.Get("package")
	if about == nil {
		about = v.Get("project")
	}
	p := &pack{dir: dir, name: textOf(about, "name"), edition: textOf(about, "edition"), deps: map[string]string{}}
	if e := about.Get("edition"); e != nil && e.Kind != manifest.String && ws.v != nil {
		p.edition = textOf(ws.v.Get("package"), "edition")
	}
	p.lib, p.features, p.ws = under(p.name), featuresOf(v), ws
	p.readTargets(t, v, about)
	for _, table := range []string{"dependencies", "dev-dependencies", "build-dependencies", "dev_dependencies", "build_dependencies"} {
		p.readDependencies(v.Get(table), ws)
		if targets := v.Get("target"); targets != nil {
			for _, m := range targets.Members {
				p.readDependencies(m.Value.Get(table), ws)
			}
		}
	}
	return p
}

// under is a name as code writes it.
func under(name string) string { return strings.ReplaceAll(name, "-", "_") }

func (p *pack) readDependencies(table *manifest.Value, ws workspace) {
	if table == nil {
		return
	}
	for _, m := range table.Members {
		dir := ""
		if m.Value.Kind == manifest.Object {
			if at := textOf(m.Value, "path"); at != "" {
				dir = path.Join(p.dir, at)
			} else if m.Value.Get("workspace") != nil && ws.v != nil {
				if all := ws.v.Get("dependencies"); all != nil && all.Get(m.Key) != nil {
					if at := textOf(all.Get(m.Key), "path"); at != "" {
						dir = path.Join(ws.dir, at)
					}
				}
			}
		}
		name := under(m.Key)
		p.deps[name] = dir
		optional := m.Value.Get("optional") != nil // a feature may ask for it, for the sake of another package
		p.asks = append(p.asks, lang.Dependency{Name: m.Key, At: startOf(m), Code: !optional,
			Covers: func(used string) bool { return used == name }})
	}
}

// startOf is where a member is written: a table of its own with its first key.
func startOf(m manifest.Member) int {
	if m.Start == 0 && len(m.Value.Members) > 0 {
		return m.Value.Members[0].Start
	}
	return m.Start
}

// readTargets finds the targets of a package.
func (p *pack) readTargets(t *project.Project, v, about *manifest.Value) {
	there := func(rel string) bool {
		_, is := t.Lookup(path.Join(p.dir, rel))
		return is
	}
	named := map[string]bool{}
	add := func(kind targetKind, name, rel string, byName bool) {
		file := path.Join(p.dir, rel)
		if named[file] && byName {
			return
		}
		named[file] = true
		p.targets = append(p.targets, target{kind, name, file, byName})
	}
	lib := v.Get("lib")
	if lib != nil && textOf(lib, "name") != "" {
		p.lib = under(textOf(lib, "name"))
	}
	switch at := textOf(lib, "path"); {
	case at != "":
		add(aLibrary, p.lib, at, false)
	case there("src/lib.rs"):
		add(aLibrary, p.lib, "src/lib.rs", true)
	}
	for _, f := range folderOf {
		if list := v.Get(f.table); list != nil && list.Kind == manifest.List {
			for _, one := range list.Items {
				name := textOf(one, "name")
				if at := textOf(one, "path"); at != "" {
					add(f.kind, name, at, false)
					continue
				}
				for _, rel := range []string{f.folder + "/" + name + ".rs", f.folder + "/" + name + "/main.rs"} {
					if there(rel) {
						add(f.kind, name, rel, true)
						break
					}
				}
			}
		}
		if auto := about.Get(f.auto); auto != nil && auto.Text == "false" {
			continue
		}
		if f.kind == aProgram && there("src/main.rs") {
			add(aProgram, p.name, "src/main.rs", true)
		}
		folder := path.Join(p.dir, f.folder)
		from, to := t.Below(folder)
		for id := from; id < to; id++ {
			rest := strings.TrimPrefix(t.Path(id), folder+"/")
			stem, isRust := strings.CutSuffix(rest, ".rs")
			if !isRust {
				continue
			}
			if name, is := strings.CutSuffix(stem, "/main"); is && !strings.Contains(name, "/") {
				add(f.kind, name, f.folder+"/"+rest, true)
			} else if !strings.Contains(stem, "/") {
				add(f.kind, stem, f.folder+"/"+rest, true)
			}
		}
	}
	switch build := textOf(about, "build"); {
	case build != "":
		add(aBuild, "build", build, false)
	case there("build.rs"):
		add(aBuild, "build", "build.rs", true)
	}
}
