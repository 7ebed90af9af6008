package php

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file knows how classes are found (getcomposer.org/doc/04-schema.md#autoload): by the path of their file below a
// root, or by a list that is made of the files.

// manifestName is the file in which a package says what it is and needs.
const manifestName = "composer.json"

// root is a folder below which the paths of files say the names of their classes.
type root struct {
	prefix string // of the names, with \ at its end; empty for all
	dir    string
	dev    bool // it is there while the package is worked on, and not where it is installed
	flat   bool // psr-0: the whole name is the path, and _ in that of the class parts folders too
}

// autoload is what the manifests of a tree say.
type autoload struct {
	roots  []root   // the longer prefix first
	listed []string // folders and files whose classes are listed, whatever their names
	always []string // files that are loaded at the start
	none   []string // patterns of what is not listed
	broken []string // folders of manifests that can't be read
}

// read reads a composer.json: the manifest of the folder dir.
func (a *autoload) read(dir string, content []byte) error {
	top, err := manifest.ParseJSON(content)
	if err != nil {
		return err
	}
	for _, key := range []string{"autoload", "autoload-dev"} {
		table := top.Get(key)
		if table == nil {
			continue
		}
		for _, kind := range []string{"psr-4", "psr-0"} {
			if prefixes := table.Get(kind); prefixes != nil {
				for _, m := range prefixes.Members {
					for _, place := range texts(m.Value) {
						a.roots = append(a.roots, root{prefix: m.Key, dir: path.Join(dir, place),
							dev: key == "autoload-dev", flat: kind == "psr-0"})
					}
				}
			}
		}
		for _, list := range []struct {
			key string
			to  *[]string
		}{{"classmap", &a.listed}, {"files", &a.always}, {"exclude-from-classmap", &a.none}} {
			if value := table.Get(list.key); value != nil {
				for _, place := range texts(value) {
					*list.to = append(*list.to, path.Join(dir, place))
				}
			}
		}
	}
	return nil
}

// texts are the texts of a list, or of the one value instead of it.
func texts(v *manifest.Value) (out []string) {
	if v.Kind == manifest.String {
		return []string{v.Text}
	}
	for _, item := range v.Items {
		if item.Kind == manifest.String {
			out = append(out, item.Text)
		}
	}
	return out
}

// readAutoload reads the manifests of a tree, but for those of installed packages.
func readAutoload(tree *project.Project) (a autoload, warnings []string) {
	for id, f := range tree.Files {
		if path.Base(f.Path) != manifestName || f.Link || strings.Contains("/"+f.Path, "/vendor/") {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err == nil {
			err = a.read(path.Dir(f.Path), content)
		}
		if err != nil {
			a.broken = append(a.broken, path.Dir(f.Path))
			warnings = append(warnings, fmt.Sprintf("%s can't be read, so it is not known by which paths classes are found: %s",
				f.Path, err))
		}
	}
	slices.SortStableFunc(a.roots, func(x, y root) int { return cmp.Compare(len(y.prefix), len(x.prefix)) })
	return a, warnings
}

// below gives the rest of a path below a folder.
func below(dir, p string) (string, bool) {
	if dir == "." {
		return p, true
	}
	return strings.CutPrefix(p, dir+"/")
}

// fits says whether a path is or lies below a folder or a pattern.
func fits(pattern, p string) bool {
	ok, _ := doublestar.Match(strings.TrimSuffix(pattern, "/")+"{,/**}", p)
	return ok
}

// expected is the name that a file at a path must declare to be found by the path; false where none is. has is the name
// that it had: names of psr-0 keep what they part with _.
func (a *autoload) expected(p, has string) (string, bool) {
	for i := range a.roots {
		r := &a.roots[i]
		rest, in := below(r.dir, p)
		if !in || lang.Leaves(r.dir) {
			continue
		}
		stem := strings.TrimSuffix(rest, path.Ext(rest))
		if r.flat {
			name := strings.ReplaceAll(stem, "/", `\`)
			if parts := strings.Count(short(has), "_"); parts > 0 && strings.Contains(stem, "/") {
				pieces := strings.Split(stem, "/")
				head := max(0, len(pieces)-1-parts)
				if !strings.Contains(has, `\`) {
					head = 0
				}
				name = strings.Join(append(slices.Clone(pieces[:head]), strings.Join(pieces[head:], "_")), `\`)
			}
			if strings.HasPrefix(name, r.prefix) {
				return name, true
			}
			continue
		}
		return r.prefix + strings.ReplaceAll(stem, "/", `\`), true
	}
	return "", false
}

// finds says whether a class is found by the path of a file.
func (a *autoload) finds(p, name string) bool { return a.rootOf(p, name) != nil }

// rootOf gives the root by which a class is found at the path of a file; nil for none.
func (a *autoload) rootOf(p, name string) *root {
	for i := range a.roots {
		r := &a.roots[i]
		rest, in := below(r.dir, p)
		if !in {
			continue
		}
		stem := strings.TrimSuffix(rest, path.Ext(rest))
		under, ours := strings.CutPrefix(name, r.prefix)
		if !ours {
			continue
		}
		if r.flat {
			under = strings.ReplaceAll(strings.TrimPrefix(parent(name)+`\`, `\`), `\`, "/") +
				strings.ReplaceAll(short(name), "_", "/")
			if under == stem {
				return r
			}
			continue
		}
		if strings.ReplaceAll(under, `\`, "/") == stem {
			return r
		}
	}
	return nil
}

// lists says whether the classes of a file are listed whatever its path, or it is loaded at the start.
func (a *autoload) lists(p string) bool {
	if slices.Contains(a.always, p) {
		return true
	}
	for _, place := range a.listed {
		if p == place || place == "." || strings.HasPrefix(p, place+"/") || strings.Contains(place, "*") && fits(place, p) {
			return !slices.ContainsFunc(a.none, func(pattern string) bool { return fits(pattern, p) })
		}
	}
	return false
}
