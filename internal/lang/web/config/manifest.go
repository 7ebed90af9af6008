package config

import (
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/seek"
)

// PackageFile is what a package.json says of where imports lead.
type PackageFile struct {
	packageText
	Dir     string   // "." for the root
	Members []string // workspaces: patterns of folders, relative to dir
}

// packageText is what the text of a package.json says.
type packageText struct {
	Name    string
	Module  bool // type: module
	Main    string
	Types   string
	Exports *manifest.Value
	Imports *manifest.Value
	TakesIn []string // workspaces: patterns of folders

	Listed   map[string]bool   // the packages that it lists
	Versions map[string]string // of some of them
	Asks     []Asked
}

// Asked is a package that a manifest asks for.
type Asked struct {
	Name, Key string // Key: under which it stands
	At        int    // the byte of the manifest
}

// IsPackageFile says whether a path is that of a package's manifest.
func IsPackageFile(p string) bool { return path.Base(p) == "package.json" }

// ReadPackage reads the package.json that a file is.
func ReadPackage(tree *project.Project, id project.FileID) (*PackageFile, error) {
	text, err := project.Says(tree, id, readPackage)
	if err != nil {
		return nil, err
	}
	return &PackageFile{packageText: text, Dir: project.Dir(tree.Path(id)), Members: slices.Clone(text.TakesIn)}, nil
}

// readPackage reads the text of a package.json; what is not there stays empty.
func readPackage(content []byte) (packageText, error) {
	root, err := manifest.ParseJSON(content)
	if err != nil {
		return packageText{}, err
	}
	f := packageText{
		Name: root.Get("name").String(), Module: root.Get("type").String() == "module",
		Main: root.Get("main").String(), Types: root.Get("types").String(),
		Exports: root.Get("exports"), Imports: root.Get("imports"),
	}
	if f.Types == "" {
		f.Types = root.Get("typings").String()
	}
	members := root.Get("workspaces")
	if m := members.Get("packages"); m != nil {
		members = m
	}
	members.Strings(func(v *manifest.Value) { f.TakesIn = append(f.TakesIn, v.Text) })
	f.Listed, f.Versions = dependencies(root),
		map[string]string{"nuxt": root.At("dependencies", "nuxt").String() + root.At("devDependencies",
			"nuxt").String()}
	for _, key := range Tables {
		if table := root.Get(key); table != nil {
			for _, m := range table.Members {
				f.Asks = append(f.Asks, Asked{m.Key, key, m.Start})
			}
		}
	}
	return f, nil
}

// Tables are the keys of a package.json under which packages are listed, in their usual order (docs.npmjs.com,
// package.json).
var Tables = []string{"dependencies", "optionalDependencies", "peerDependencies", "peerDependenciesMeta", "devDependencies"}

// dependencies gives the packages that a manifest lists.
func dependencies(root *manifest.Value) map[string]bool {
	out := map[string]bool{}
	for _, key := range Tables {
		if table := root.Get(key); table != nil {
			for _, m := range table.Members {
				out[m.Key] = true
			}
		}
	}
	for _, key := range []string{"bundledDependencies", "bundleDependencies"} {
		root.Get(key).Strings(func(v *manifest.Value) { out[v.Text] = true })
	}
	return out
}

// MembersOf gives the patterns of a workspace's packages that stand beside package.json.
func MembersOf(tree *project.Project, id project.FileID, p string) (out []string) {
	content, err := tree.Content(id)
	if err != nil {
		return nil
	}
	root, err := manifest.FormatOf(p).Parse(content)
	if err != nil {
		return nil
	}
	root.Get("packages").Strings(func(v *manifest.Value) { out = append(out, v.Text) })
	return out
}

// Lists says whether the manifest lists a package, or its types.
func (p *PackageFile) Lists(name string) bool {
	if p.Listed[name] {
		return true
	}
	return p.Listed[TypesOf(name)]
}

// TypesOf is the package that holds the types of another.
func TypesOf(name string) string {
	if scope, rest, ok := strings.Cut(strings.TrimPrefix(name, "@"), "/"); ok && name[0] == '@' {
		return "@types/" + scope + "__" + rest
	}
	return "@types/" + name
}

// Takes says which folders the patterns of a workspace take in: the last that matches counts.
func (p *PackageFile) Takes() func(dir string) bool {
	var heads seek.Pieces // what each pattern begins with
	for i, pattern := range p.Members {
		whole := path.Join(p.Dir, strings.TrimPrefix(pattern, "!"))
		if meta := strings.IndexAny(whole, "*?[{\\"); meta >= 0 {
			whole = whole[:meta]
		}
		heads.Add(whole, i)
	}
	return func(dir string) bool {
		found := false
		for _, i := range InOrder(heads.Beginning(dir, nil)) {
			pattern := p.Members[i]
			negated := strings.HasPrefix(pattern, "!")
			if ok, err := doublestar.Match(path.Join(p.Dir, strings.TrimPrefix(pattern, "!")), dir); ok && err == nil {
				found = !negated
			}
		}
		return found
	}
}
