package workspace

import (
	"cmp"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/resolve"
	"crookedshelf/internal/lang/web/script"
)

// door is a file of a package that others import, with the name by which they do.
type door struct {
	name string // . or ./x
	file string // after the moves, below the folder of the package
}

// exports finds which files of each package others import.
func (p *parting) exports() {
	files := map[*lang.Parcel]map[string]bool{}
	for _, a := range p.Across {
		if a.New && byName(a.Mention.Kind) {
			if files[a.Other] == nil {
				files[a.Other] = map[string]bool{}
			}
			files[a.Other][p.Q.Then(a.To)] = true
		}
	}
	for _, one := range p.All {
		if one.Wanted() { // its index is a door for those to come
			for _, id := range one.Files {
				if file := p.Q.Then(id); files[one] != nil && isIndex(one, file) {
					files[one][file] = true
				}
			}
		}
		taken := map[string]bool{}
		for _, file := range slices.Sorted(maps.Keys(files[one])) {
			name := doorName(one, file)
			if taken[name] {
				name = "./" + strings.TrimPrefix(file, one.Dir+"/")
			}
			taken[name] = true
			p.doors[one] = append(p.doors[one], door{name, strings.TrimPrefix(file, one.Dir+"/")})
		}
		slices.SortFunc(p.doors[one], func(a, b door) int { return strings.Compare(a.name, b.name) })
	}
}

// isIndex says whether a file is what a package is by itself.
func isIndex(one *lang.Parcel, file string) bool { return doorName(one, file) == "." }

// doorName is the name by which others import a file: its path below the folder of sources, without the ending of a
// script; a folder for its index.
func doorName(one *lang.Parcel, file string) string {
	rest := strings.TrimPrefix(strings.TrimPrefix(file, one.Dir+"/"), "src/")
	if _, is := script.DialectOf(rest); is {
		rest = strings.TrimSuffix(rest, script.Extension(rest))
		if rest == "index" {
			return "."
		}
		rest = strings.TrimSuffix(rest, "/index")
	}
	return "./" + rest
}

// entry is a key of a manifest, with its value as it is written.
type entry struct {
	key []string
	raw string
}

// entries say in a manifest what others get of a package. One that has been there and gives out all of its files by their
// paths goes on so.
func (p *parting) entries(one *lang.Parcel) (out []entry) {
	if one.Was != nil && p.original(one.Was.Dir).Value.Get("exports") == nil {
		return nil
	}
	for _, d := range p.doors[one] {
		source := fmt.Sprintf("%q", "./"+d.file)
		if made := p.made(one, d.file); made != "" {
			source = fmt.Sprintf("{ \"types\": %q, \"default\": %q }", "./"+d.file, "./"+made)
		}
		out = append(out, entry{[]string{"exports", d.name}, source})
	}
	if p.old(one) {
		for _, d := range p.doors[one] {
			if d.name == "." {
				main := cmp.Or(p.made(one, d.file), d.file)
				out = append(out, entry{[]string{"main"}, fmt.Sprintf("%q", "./"+main)}, entry{[]string{"types"}, fmt.Sprintf("%q", "./"+d.file)})
			} else if _, is := script.DialectOf(d.file); is {
				out = append(out, entry{[]string{"typesVersions", "*", strings.TrimPrefix(d.name, "./")}, fmt.Sprintf("[%q]", "./"+d.file)})
			}
		}
	}
	return out
}

// old says whether a program that imports a package is compiled by rules that know no exports (typescriptlang.org,
// moduleResolution: node10).
func (p *parting) old(one *lang.Parcel) bool {
	for _, a := range p.Across {
		if a.Other != one || !byName(a.Mention.Kind) {
			continue
		}
		if d, _ := script.DialectOf(p.tree.Path(a.From)); d&script.TypeScript == 0 {
			continue
		}
		if c := p.settings.Compiler(p.tree.Path(a.From)); c != nil && (c.Resolution == "node10" || c.Resolution == "") {
			return true
		}
	}
	return false
}

// made is where the compiler puts what it makes of a file of a package, below the folder of that; empty where it makes
// nothing.
func (p *parting) made(one *lang.Parcel, file string) string {
	out := p.outDir(one)
	if out == "" || !resolve.IsSource(file) {
		return ""
	}
	ext := script.Extension(file)
	rest := strings.TrimPrefix(file, p.rootDir(one)+"/")
	return path.Join(out, strings.TrimSuffix(rest, ext)+resolve.CompiledEnding(ext, ""))
}
