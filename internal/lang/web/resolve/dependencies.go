package resolve

import (
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/project"
)

// helpers are packages that a compiler writes imports of, so that no source names them.
var helpers = lang.Words("tslib @babel/runtime @babel/runtime-corejs3 @swc/helpers core-js regenerator-runtime")

// Packages are the packages of the tree with what they ask for. What tools alone use is found by its name in many ways, so
// only what stands under dependencies must be named by code.
func (r *resolver) Packages() (out []lang.Package) {
	for _, dir := range slices.Sorted(maps.Keys(r.packages)) {
		p := r.packages[dir]
		id, there := r.tree.Lookup(path.Join(dir, "package.json"))
		if !there {
			continue
		}
		one := lang.Package{Manifest: id, Dir: dir, Name: p.Name, Free: func(name string) bool {
			return platform[name] || !possibleName(name) || project.Nearest(r.frameworks, dir).gives(name)
		}}
		for _, a := range p.Asks {
			one.Asks = append(one.Asks, lang.Dependency{Name: a.Name, At: a.At,
				Code:   a.Key == "dependencies" && !strings.HasPrefix(a.Name, "@types/") && !helpers[a.Name],
				Covers: func(name string) bool { return name == a.Name || config.TypesOf(name) == a.Name }})
		}
		out = append(out, one)
	}
	return out
}
