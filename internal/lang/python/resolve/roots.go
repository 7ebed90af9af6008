package resolve

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// findRoots gives the folders from which absolute imports start: those that the convention states, that a project's
// settings name, in which a management script lies, that are called src and hold packages, and the project's own. They
// are in the order in which they are asked.
func findRoots(tree *project.Project, declared *lang.Declared) []string {
	var out []string
	add := func(dir string) {
		if dir = path.Clean(dir); !lang.Leaves(dir) && (dir == "." || tree.IsDir(dir)) && !slices.Contains(out, dir) {
			out = append(out, dir)
		}
	}
	if declared != nil {
		if root, ok := declared.Convention.Roots["python"]; ok {
			now := root.Now
			if declared.After {
				now = root.Then
			}
			add(now)
		}
	}
	for id, f := range tree.Files {
		dir := project.Dir(f.Path)
		base := f.Path[strings.LastIndexByte(f.Path, '/')+1:]
		switch base {
		case "manage.py", "setup.py":
			if _, inPackage := tree.Lookup(path.Join(dir, "__init__.py")); inPackage {
				continue // a module that only bears such a name
			}
			if base == "setup.py" {
				add(path.Join(dir, "src"))
			}
			add(dir)
		case "pyproject.toml", "setup.cfg":
			for _, named := range packageFolders(tree, project.FileID(id), f.Path) {
				add(path.Join(dir, named))
			}
			add(path.Join(dir, "src"))
			add(dir)
		}
	}
	if holdsPackages(tree, "src") {
		add("src")
	}
	add(".")
	return out
}

// holdsPackages says whether packages or modules lie directly in a folder that is none itself.
func holdsPackages(tree *project.Project, dir string) bool {
	if _, is := tree.Lookup(dir + "/__init__.py"); is || !tree.IsDir(dir) {
		return false
	}
	from, to := tree.Below(dir)
	for id := from; id < to; id++ {
		rest := strings.TrimPrefix(tree.Path(id), dir+"/")
		if strings.HasSuffix(rest, ".py") && strings.Count(rest, "/") <= 1 {
			return true
		}
	}
	return false
}

// packageFolders are the folders that a project's settings say its packages lie in (setuptools: package-dir,
// packages.find.where; pytest: pythonpath).
func packageFolders(tree *project.Project, id project.FileID, p string) []string {
	content, err := tree.Content(id)
	if err != nil {
		return nil
	}
	format := manifest.FormatOf(p)
	if format == nil {
		return nil
	}
	root, err := format.Parse(content)
	if err != nil || root == nil {
		return nil
	}
	var out []string
	for _, keys := range [][]string{
		{"tool", "setuptools", "package-dir", ""}, {"tool", "setuptools", "packages", "find", "where"},
		{"tool", "pytest", "ini_options", "pythonpath"},
		{"options.packages.find", "where"},
	} {
		v := root
		for _, k := range keys {
			if v != nil {
				v = v.Get(k)
			}
		}
		if v == nil {
			continue
		}
		for _, one := range append(v.Items, v) {
			if one.Kind == manifest.String {
				_, folder, mapped := strings.Cut(one.Text, "=")
				if !mapped {
					folder = one.Text
				}
				out = append(out, strings.TrimSpace(folder))
			}
		}
	}
	return out
}
