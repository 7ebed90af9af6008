package resolve

import (
	"bytes"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/source"
)

// distribution is a folder from which packages are built and installed, with what says how.
type distribution struct {
	dir, then         string // before and after the moves
	tree              *project.Project
	files             map[string]project.FileID // pyproject.toml, setup.cfg and setup.py, as far as it has them
	pyproject, config *manifest.Value
	shift             shift
	tops              []string // the packages that go
	others            []string // folders with modules that lie beside them then, and are none of these
}

// shift is the folder in which top packages lie, before and after, as they are named from the distribution's.
type shift struct{ from, to string }

// Owes says what those who build the project must be told where packages go from one folder to another: into src/ and
// out of it. The rules are those of the packagers: setuptools (Package Discovery and Resource Access), hatchling (Wheel
// builder), poetry-core (packages), flit, pdm and uv (Build backend).
func (r *Resolver) Owes(before *lang.Rules, moves []lang.Moved) []lang.Duty {
	old, ok := before.Resolver.(*Resolver)
	if !ok || len(old.roots) == 0 {
		return nil
	}
	out := append(r.made(old, moves), r.emptied(old, moves)...)
	to := map[string]string{}
	for _, m := range moves {
		to[m.From] = m.To
	}
	all, now := moves, map[string]*distribution{}
	for _, d := range r.distributions() {
		now[d.dir] = d
	}
	for _, d := range old.distributions() {
		if settings, moved := to[path.Join(d.dir, d.named())]; moved {
			d.then = path.Dir(settings)
		}
		moves := slices.DeleteFunc(slices.Clone(all), func(m lang.Moved) bool {
			other := project.Nearest(now, project.Dir(m.To))
			return m.Packaged && other != nil && other.dir != d.then // it is built there
		})
		shifts, lost := old.shifts(d, r, moves)
		if renamed, as, files := old.renamed(d, r, moves); renamed != "" && d.byName() {
			out = append(out, lang.Duty{Path: path.Join(d.dir, d.named()), Lost: files, Why: fmt.Sprintf(
				"the package is built by its name, %s, and it would be %s; if the folder around it is to hold "+
					"packages and is none itself, say roots: { python: { now: ., then: %s/ } }", renamed, as,
				strings.ReplaceAll(as[:strings.LastIndexByte(as, '.')], ".", "/"))})
			continue
		}
		switch len(shifts) {
		case 0:
		case 1:
			d.shift = shifts[0]
			d.tops, d.others = r.neighbours(d, old, moves)
			edits, err := d.follow()
			if err != nil {
				out = append(out, lang.Duty{Path: path.Join(d.dir, d.named()), Why: err.Error(), Lost: lost})
				continue
			}
			out = append(out, edits...)
		default:
			out = append(out, lang.Duty{Path: path.Join(d.dir, d.named()), Lost: lost, Why: fmt.Sprintf(
				"the packages of %s would lie in %s and in %s, and it can't be said how they are built then; let all "+
					"of them go to one folder", d.place(), path.Join(d.then, shifts[0].to),
				path.Join(d.then, shifts[1].to))})
		}
	}
	return out
}

// distributions are those of the tree, in the order of their folders.
func (r *Resolver) distributions() []*distribution {
	var out []*distribution
	for id, f := range r.tree.Files {
		base := path.Base(f.Path)
		if base != "pyproject.toml" && base != "setup.cfg" && base != "setup.py" {
			continue
		}
		dir := project.Dir(f.Path)
		if r.regular(dir) && dir != "." {
			continue // a module that only bears such a name
		}
		i := slices.IndexFunc(out, func(d *distribution) bool { return d.dir == dir })
		if i < 0 {
			i = len(out)
			out = append(out, &distribution{dir: dir, then: dir, tree: r.tree.Project,
				files: map[string]project.FileID{}})
		}
		out[i].files[base] = project.FileID(id)
	}
	for _, d := range out {
		d.pyproject = d.parse("pyproject.toml", manifest.ParseTOML)
		d.config = d.parse("setup.cfg", manifest.ParseINI)
	}
	return slices.DeleteFunc(out, func(d *distribution) bool { return !d.builds() })
}

// builds says whether something is built there: settings of tools alone build nothing.
func (d *distribution) builds() bool {
	if _, is := d.files["setup.py"]; is {
		return true
	}
	return d.pyproject.Get("project") != nil || d.pyproject.Get("build-system") != nil ||
		d.pyproject.At("tool", "poetry") != nil ||
		d.config.Get("metadata") != nil || d.config.Get("options") != nil
}

func (d *distribution) parse(base string, parse func([]byte) (*manifest.Value, error)) *manifest.Value {
	id, is := d.files[base]
	if !is {
		return nil
	}
	content, err := d.tree.Content(id)
	if err != nil {
		return nil
	}
	v, err := parse(content)
	if err != nil {
		return nil
	}
	return v
}

// named is the file that the reports name.
func (d *distribution) named() string {
	for _, base := range []string{"pyproject.toml", "setup.cfg"} {
		if _, is := d.files[base]; is {
			return base
		}
	}
	return "setup.py"
}

func (d *distribution) place() string {
	if d.dir == "." {
		return "the project"
	}
	return d.dir
}

func (d *distribution) folder(rel string) string { return path.Join(d.dir, rel) }

// shifts gives where the top packages of a distribution go, one for each pair of folders, with the moves that do it.
// What is never packaged by habit, such as tests, is left out.
func (r *Resolver) shifts(d *distribution, after *Resolver, moves []lang.Moved) (out []shift, lost []string) {
	seen := map[string]bool{}
	add := func(s shift) {
		if !slices.Contains(out, s) {
			out = append(out, s)
		}
	}
	moved := map[string]bool{}
	for _, m := range moves {
		if moved[m.From] = true; !strings.HasSuffix(m.From, ".py") {
			continue
		}
		top, newTop := r.top(m.From), after.top(m.To)
		oldRoot, newRoot := d.rel(path.Dir(top)), relative(d.then, path.Dir(newTop))
		name, first := strings.TrimSuffix(path.Base(top), ".py"), false
		if !strings.HasPrefix(m.From+"/", d.dir+"/") && d.dir != "." || oldRoot == newRoot ||
			path.Base(top) != path.Base(newTop) || unpackaged[name] || !d.packaged(oldRoot) {
			continue
		}
		if strings.HasSuffix(top, ".py") && !d.lists("py-modules", "py_modules", name) {
			continue // a module beside the packages, which nobody asks for
		}
		if first = !seen[top]; first {
			seen[top] = true
			add(shift{oldRoot, newRoot})
		}
		lost = append(lost, m.From)
	}
	if d.then != d.dir && len(out) == 0 { // its settings go and the packages stay
		for _, f := range r.tree.Files {
			if top := r.top(f.Path); path.Dir(f.Path) == top && !moved[f.Path] && path.Base(f.Path) == "__init__.py" &&
				d.packaged(d.rel(path.Dir(top))) && !unpackaged[path.Base(top)] {
				add(shift{d.rel(path.Dir(top)), relative(d.then, path.Dir(top))})
				lost = append(lost, path.Join(d.dir, d.named()))
			}
		}
	}
	if len(out) == 1 { // packages that stay where they are make it two
		dir := d.folder(out[0].from)
		for _, f := range r.tree.Files {
			base, inPackage := strings.CutSuffix(f.Path, "/__init__.py")
			if inPackage && project.Dir(base) == dir && !seen[base] && !unpackaged[path.Base(base)] && !moved[f.Path] &&
				d.built(path.Base(base)) {
				add(shift{out[0].from, out[0].from})
			}
		}
	}
	return out, lost
}

// neighbours gives the top packages of a distribution that move, and the other folders that have modules in them where
// these go.
func (r *Resolver) neighbours(d *distribution, old *Resolver, moves []lang.Moved) (tops, others []string) {
	to := path.Join(d.then, d.shift.to)
	for _, m := range moves {
		if top := r.top(m.To); strings.HasSuffix(m.To, ".py") && project.Dir(top) == to &&
			d.rel(path.Dir(old.top(m.From))) == d.shift.from && !strings.HasSuffix(top, ".py") &&
			!slices.Contains(tops, path.Base(top)) {
			tops = append(tops, path.Base(top))
		}
	}
	from, end := r.tree.Below(to)
	skip := 0
	if to != "." {
		skip = len(to) + 1
	}
	for id := from; id < end; id++ {
		name, _, below := strings.Cut(r.tree.Path(id)[skip:], "/")
		if below && strings.HasSuffix(r.tree.Path(id), ".py") && !slices.Contains(tops, name) &&
			!slices.Contains(others, name) && name != "src" {
			others = append(others, name)
		}
	}
	slices.Sort(tops)
	return tops, others
}

// byName says whether the builder looks for the package by the name of the project, or of a module that settings name.
func (d *distribution) byName() bool {
	switch d.backend() {
	case "flit", "uv_build":
		return true
	case "hatch":
		return d.pyproject.At("tool", "hatch", "build") == nil
	case "poetry":
		return len(d.poetryPackages()) == 0
	}
	return false
}

// renamed gives a top package that would be a part of another, with its new name and the moves that do it.
func (r *Resolver) renamed(d *distribution, after *Resolver, moves []lang.Moved) (name, as string, files []string) {
	for _, m := range moves {
		if path.Base(m.From) != "__init__.py" || unpackaged[path.Base(path.Dir(m.From))] {
			continue
		}
		top := r.top(m.From)
		if path.Dir(m.From) != top || !d.packaged(d.rel(path.Dir(top))) {
			continue
		}
		if newTop := after.top(m.To); newTop != path.Dir(m.To) {
			name, as = path.Base(top), strings.ReplaceAll(strings.TrimPrefix(path.Dir(m.To), path.Dir(newTop)+"/"), "/",
				".")
			for _, other := range moves {
				if strings.HasPrefix(other.From, top+"/") {
					files = append(files, other.From)
				}
			}
			return name, as, files
		}
	}
	return "", "", nil
}

// unpackaged are top packages that are for working on the project.
var unpackaged = map[string]bool{
	"test": true, "tests": true, "testing": true, "docs": true, "doc": true, "examples": true, "example": true,
	"samples": true, "scripts": true, "tools": true, "benchmarks": true,
	"benchmark": true, "bench": true, "setup": true, "conftest": true, "noxfile": true, "tasks": true, "manage": true,
	"requirements": true, "utils": true, "ci": true,
}

// top is the outermost package that a module is in, or its own file.
func (r *Resolver) top(p string) string {
	top := p
	for dir := path.Dir(p); dir != "." && r.regular(dir); dir = path.Dir(dir) {
		top = dir
	}
	return top
}

// rel is a folder as it is named from the distribution's.
func (d *distribution) rel(dir string) string { return relative(d.dir, dir) }

func relative(from, dir string) string { return strings.TrimPrefix(lang.Relative(from, dir), "./") }

// packaged says whether top packages are looked for in a folder of the distribution.
func (d *distribution) packaged(rel string) bool {
	if rel == "." || rel == "src" {
		return true
	}
	id, is := d.files["pyproject.toml"]
	if is && slices.Contains(packageFolders(d.tree, id, "pyproject.toml"), rel) {
		return true
	}
	id, is = d.files["setup.cfg"]
	return is && slices.Contains(packageFolders(d.tree, id, "setup.cfg"), rel)
}

// lists says whether a single module is named as one that is built.
func (d *distribution) lists(key, configKey, name string) bool {
	if v := d.pyproject.At("tool", "setuptools", key); v != nil {
		return slices.ContainsFunc(v.Items, func(item *manifest.Value) bool { return item.Text == name })
	}
	if v := d.config.At("options", configKey); v != nil {
		return slices.Contains(strings.FieldsFunc(v.Text, func(c rune) bool {
			return c == ',' || c == ' ' ||
				c == '\n' || c == '\t'
		}), name)
	}
	if id, is := d.files["setup.py"]; is {
		content, _ := d.tree.Content(id)
		return bytes.Contains(content, []byte(configKey)) && bytes.Contains(content, []byte(name))
	}
	return d.backend() == "flit" || d.backend() == "hatch"
}

// built says whether a package beside the others is built with them: all are, unless settings list them.
func (d *distribution) built(name string) bool {
	if v := d.pyproject.At("tool", "setuptools", "packages"); v != nil && v.Kind == manifest.List {
		return slices.ContainsFunc(v.Items, func(item *manifest.Value) bool {
			return item.Text == name ||
				strings.HasPrefix(item.Text, name+".")
		})
	}
	if b := d.backend(); b != "setuptools" {
		return b == "poetry" && slices.ContainsFunc(d.poetryPackages(),
			func(v *manifest.Value) bool { return v.Get("include").String() == name })
	}
	for _, exclude := range []*manifest.Value{d.pyproject.At("tool", "setuptools", "packages", "find", "exclude"),
		d.config.At("options.packages.find", "exclude")} {
		if exclude != nil && strings.Contains(d.raw(exclude), name) {
			return false
		}
	}
	if include := d.pyproject.At("tool", "setuptools", "packages", "find", "include"); include != nil {
		return strings.Contains(d.raw(include), name)
	}
	if id, is := d.files["setup.py"]; is {
		content, _ := d.tree.Content(id)
		// what is named is what is left out, or one of a list
		return !bytes.Contains(content, []byte("'"+name+"'")) && !bytes.Contains(content, []byte("\""+name+"\""))
	}
	return true
}

// raw is the text of a list or a string.
func (d *distribution) raw(v *manifest.Value) string {
	out := v.Text
	for _, item := range v.Items {
		out += " " + item.Text
	}
	return out
}

// backend is the program that builds the distribution.
func (d *distribution) backend() string {
	name := d.pyproject.At("build-system", "build-backend").String()
	for _, known := range []string{"hatch", "poetry", "flit", "pdm", "uv_build", "setuptools"} {
		if strings.Contains(name, known) {
			return known
		}
	}
	if name == "" {
		return "setuptools"
	}
	return name
}

// follow gives the edits by which the packages are found where they are.
func (d *distribution) follow() ([]lang.Duty, error) {
	switch d.backend() {
	case "setuptools":
		return d.followSetuptools()
	case "hatch":
		if d.pyproject.At("tool", "hatch", "build", "targets", "wheel", "packages") != nil ||
			d.pyproject.At("tool", "hatch", "build", "packages") != nil ||
			d.pyproject.At("tool", "hatch", "build", "targets", "wheel", "only-include") != nil ||
			d.pyproject.At("tool", "hatch", "build", "targets", "wheel", "include") != nil {
			return nil, nil // paths, which follow by themselves
		}
		return d.automatic()
	case "poetry":
		return d.followPoetry()
	case "uv_build":
		now := d.pyproject.At("tool", "uv", "build-backend", "module-root")
		if d.shift.to == "src" && now == nil {
			return nil, nil
		}
		to := d.shift.to
		if to == "." {
			to = ""
		}
		return d.set([]string{"tool", "uv", "build-backend", "module-root"}, stringOf(to))
	case "pdm":
		if d.pyproject.At("tool", "pdm", "build", "includes") != nil &&
			d.pyproject.At("tool", "pdm", "build", "package-dir") == nil && d.shift.to == "src" {
			return nil, nil
		}
		return d.automatic()
	case "flit":
		return d.automatic()
	}
	return nil, fmt.Errorf("%s builds it, and it is not known how that is told where packages lie", d.backend())
}

// automatic is for packagers that look for packages in the folder itself and in src/.
func (d *distribution) automatic() ([]lang.Duty, error) {
	if d.shift.to == "." || d.shift.to == "src" {
		return nil, nil
	}
	return nil, fmt.Errorf("packages are found in %s and in %s, and not in %s; say in %s where they are",
		path.Join(d.then, "."), path.Join(d.then, "src"), path.Join(d.then, d.shift.to), d.named())
}

func stringOf(s string) *manifest.Value { return &manifest.Value{Kind: manifest.String, Text: s} }

// set gives a value to a key of pyproject.toml.
func (d *distribution) set(keys []string, value *manifest.Value) ([]lang.Duty, error) {
	id := d.files["pyproject.toml"]
	content, err := d.tree.Content(id)
	if err != nil {
		return nil, err
	}
	edit, changed, err := manifest.Set(content, d.pyproject, manifest.Style{Format: "TOML", Quote: '"'}, keys, value)
	if err != nil {
		return nil, fmt.Errorf("%s can't be set in %s: %w", strings.Join(keys, "."), d.tree.Path(id), err)
	}
	if !changed {
		return nil, nil
	}
	return []lang.Duty{{Path: d.tree.Path(id), Edits: []source.Edit{edit}, Why: "where packages lie"}}, nil
}

func (d *distribution) poetryPackages() []*manifest.Value {
	if v := d.pyproject.At("tool", "poetry", "packages"); v != nil {
		return v.Items
	}
	return nil
}

// followPoetry writes where a listed package lies. What is not listed is found in the folder itself and in src/.
func (d *distribution) followPoetry() ([]lang.Duty, error) {
	listed := d.poetryPackages()
	if len(listed) == 0 {
		return d.automatic()
	}
	id := d.files["pyproject.toml"]
	content, err := d.tree.Content(id)
	if err != nil {
		return nil, err
	}
	out := lang.Duty{Path: d.tree.Path(id), Why: "where packages lie"}
	for _, v := range listed {
		include, from := v.Get("include"), v.Get("from")
		if include == nil || include.Kind != manifest.String {
			continue
		}
		at := "."
		if from != nil {
			at = path.Clean(from.String())
		}
		if at != d.shift.from || d.tree.IsDir(path.Join(d.dir, at, include.Text)) && unpackaged[include.Text] {
			continue
		}
		if from != nil {
			out.Edits = append(out.Edits, source.Edit{Span: from.Span, New: d.shift.to})
			continue
		}
		end := include.Span.End + 1
		if end > len(content) || content[end-1] != include.Quote {
			return nil, errors.New("the entry of packages for " + include.Text + " can't be written anew")
		}
		out.Edits = append(out.Edits, source.Edit{Span: source.Span{Start: end, End: end},
			New: fmt.Sprintf(", from = %q", d.shift.to)})
	}
	if len(out.Edits) == 0 {
		return nil, nil
	}
	return []lang.Duty{out}, nil
}
