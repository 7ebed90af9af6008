package workspace

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// backend is the program that builds a distribution, as far as it is known how that is told where packages lie.
func (p *parting) backend(k *lang.Package) string {
	root := p.original(k.Dir).Value
	name := root.At("build-system", "build-backend").String()
	for _, known := range []string{"hatch", "poetry", "flit", "pdm", "uv_build", "setuptools"} {
		if strings.Contains(name, known) {
			return known
		}
	}
	if name == "" {
		return "setuptools"
	}
	return ""
}

// tell says to what builds a new distribution where its packages lie, and which files are data of theirs. The rules are
// those of the packagers: setuptools (Package Discovery and Data Files), hatchling (Wheel builder), poetry-core
// (packages), flit, pdm and uv (Build backend).
func (p *parting) tell(one *lang.Parcel, s *manifest.Sheet) {
	tops, data, inSrc := p.contents(one)
	if len(tops) == 0 {
		return
	}
	place := func(top string) string {
		if inSrc {
			return "src/" + top
		}
		return top
	}
	list := func(of []string, each func(string) string) string {
		var out []string
		for _, one := range of {
			out = append(out, each(one))
		}
		return "[" + strings.Join(out, ", ") + "]"
	}
	quoted := func(s string) string { return fmt.Sprintf("%q", s) }
	set := func(raw string, key ...string) {
		if s.Root.At(key...) == nil {
			s.Set(raw, key...)
		}
	}
	switch p.backend(one.From) {
	case "hatch":
		set(list(tops, func(top string) string { return quoted(place(top)) }), "tool", "hatch", "build", "targets", "wheel",
			"packages")
	case "poetry":
		set(list(tops, func(top string) string {
			if inSrc {
				return fmt.Sprintf("{ include = %q, from = \"src\" }", top)
			}
			return fmt.Sprintf("{ include = %q }", top)
		}), "tool", "poetry", "packages")
	case "flit":
		if len(tops) > 1 {
			p.Refuse(one.Dir, "it has the packages %s, and flit builds one", strings.Join(tops, " and "))
			return
		}
		set(quoted(tops[0]), "tool", "flit", "module", "name")
	case "uv_build":
		if len(tops) > 1 {
			set(list(tops, quoted), "tool", "uv", "build-backend", "module-name")
		} else if normal(tops[0]) != one.Name || tops[0] != strings.ReplaceAll(one.Name, "-", "_") {
			set(quoted(tops[0]), "tool", "uv", "build-backend", "module-name")
		}
		if !inSrc {
			set(`""`, "tool", "uv", "build-backend", "module-root")
		}
	case "setuptools":
		if !inSrc {
			set(list(tops, func(top string) string { return quoted(top + "*") }), "tool", "setuptools", "packages", "find",
				"include")
		}
		if len(data) > 0 {
			set(list(data, func(ending string) string { return quoted("**/*" + ending) }), "tool", "setuptools",
				"package-data", "*")
		}
	}
}

// keepApart tells setuptools which packages are those of a distribution below whose folder others lie now: it looks
// through the folder itself, and refuses to build where more than one package could be meant.
func (p *parting) keepApart(one *lang.Parcel, s *manifest.Sheet) {
	below := slices.ContainsFunc(p.All, func(other *lang.Parcel) bool {
		return other.Written() && (one.Dir == "." || strings.HasPrefix(other.Dir, one.Dir+"/"))
	})
	tops, _, inSrc := p.contents(one)
	if !below || inSrc || p.backend(one.Was) != "setuptools" || s.Root.At("tool", "setuptools", "packages") != nil ||
		s.Root.At("tool", "setuptools", "py-modules") != nil {
		return
	}
	if older := p.older(one.Was.Dir); older != "" {
		p.Remark(older, 0, "it must not take the new folders for packages of %s: let it say which it builds", one.Was.Name)
		return
	}
	if len(tops) == 0 {
		s.Set("[]", "tool", "setuptools", "packages")
		return
	}
	var include []string
	for _, top := range tops {
		include = append(include, fmt.Sprintf("%q", top+"*"))
	}
	s.Set("["+strings.Join(include, ", ")+"]", "tool", "setuptools", "packages", "find", "include")
}

// older is the file of setuptools that says what is built in a folder, where pyproject.toml does not; empty for none.
func (p *parting) older(dir string) string {
	if id, there := p.tree.Lookup(path.Join(dir, "setup.cfg")); there {
		content, _ := p.tree.Content(id)
		if root, err := manifest.ParseINI(content); err == nil && (root.At("options", "packages") != nil ||
			root.At("options", "py_modules") != nil) {
			return p.tree.Path(id)
		}
	}
	if id, there := p.tree.Lookup(path.Join(dir, "setup.py")); there {
		return p.tree.Path(id)
	}
	return ""
}

// contents are the packages of a distribution, the endings of what else lies in them, and whether they lie in src.
func (p *parting) contents(one *lang.Parcel) (tops, endings []string, inSrc bool) {
	for id := range p.tree.Files {
		id := project.FileID(id)
		then := p.Q.Then(id)
		if p.Home(id) != one || p.Q.IsTest(then) {
			continue
		}
		top, _, deeper := strings.Cut(p.below(one, then), "/")
		if !deeper || top == "tests" || top == "docs" {
			continue
		}
		if ours(then) {
			if !slices.Contains(tops, top) {
				tops = append(tops, top)
			}
			inSrc = inSrc || strings.HasPrefix(then, path.Join(one.Dir, "src")+"/")
		} else if ending := path.Ext(then); ending != "" && !slices.Contains(endings, ending) {
			endings = append(endings, ending)
		}
	}
	slices.Sort(tops)
	slices.Sort(endings)
	return tops, endings, inSrc
}
