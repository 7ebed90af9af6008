package config

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// Definitions are the aliases that a file of settings defines, as far as its text alone says it.
type Definitions struct {
	list     []script.AliasDefinition
	mentions []lang.Mention // of a script: the paths of which values are put together
}

// DefinitionsIn reads the aliases that a script, or a file of JSON, defines.
func DefinitionsIn(p string, content []byte) *Definitions {
	if _, isScript := script.DialectOf(p); !isScript {
		root, _ := manifest.ParseJSON(content)
		return &Definitions{list: script.AliasDefinitions(root)}
	}
	return &Definitions{
		list:     append(script.AliasDefinitions(script.ReadObject(content)), script.SetAliases(content)...),
		mentions: script.ScanText(p, content, script.TypeScript, nil).Mentions,
	}
}

// BundlerAliases gives the aliases of all settings in the tree, by the folder that they govern. scripts gives what a
// script of settings defines.
func BundlerAliases(tree *project.Project, scripts func(id project.FileID) *Definitions) map[string][]PathAlias {
	out := map[string][]PathAlias{}
	for id, f := range tree.Files {
		var defined *Definitions
		switch _, isScript := script.DialectOf(f.Path); {
		case f.Link:
		case isScript && script.IsConfiguration(f.Path):
			defined = scripts(project.FileID(id))
		case holdsAliases(f.Path):
			content, err := tree.Content(project.FileID(id))
			if err == nil && (!IsPackageFile(f.Path) || bytes.Contains(content, []byte("moduleNameMapper")) ||
				bytes.Contains(content, []byte("module-resolver"))) {
				defined = DefinitionsIn(f.Path, content)
			}
		}
		if defined == nil {
			continue
		}
		dir, work := path.Dir(f.Path), packageFolder(tree, path.Dir(f.Path))
		if aside[path.Base(dir)] || strings.HasPrefix(path.Base(dir), ".") && dir != "." {
			dir = work
		}
		for _, a := range defined.aliases(path.Dir(f.Path), work) {
			if !slices.ContainsFunc(out[dir], func(b PathAlias) bool { return a.Pattern == b.Pattern }) {
				out[dir] = append(out[dir], a)
			}
		}
	}
	return out
}

// aside are folders in which the settings of a whole package are kept.
var aside = lang.Words("build config configs webpack scripts internals tools vite rollup")

// packageFolder is the nearest folder upward that has a package.json; the folder itself, if none has.
func packageFolder(tree *project.Project, dir string) string {
	for up := dir; ; up = path.Dir(up) {
		if _, is := tree.Lookup(path.Join(up, "package.json")); is {
			return up
		}
		if up == "." {
			return dir
		}
	}
}

// holdsAliases says whether a file of JSON may define aliases.
func holdsAliases(p string) bool {
	switch path.Base(p) {
	case "package.json", "jest.config.json", ".babelrc", ".babelrc.json", "babel.config.json":
		return true
	}
	return false
}

// aliases are the aliases that a file in a folder defines; work is the folder in which its tool is started.
func (d *Definitions) aliases(folder, work string) (out []PathAlias) {
	for _, one := range d.list {
		text, ok, dir := "", false, folder
		switch {
		case one.Value.Kind == manifest.String:
			text, ok = one.Value.Text, true
		default:
			for _, m := range d.mentions {
				if !ok && m.Span.Start >= one.Value.Span.Start && m.Span.End <= one.Value.Span.End {
					text, ok = m.Text, true
					for up := 0; up < lang.Own[paths.Detail](&m).Up; up++ {
						dir = path.Dir(dir)
					}
					if m.Kind == paths.WorkPath {
						dir = work
					}
				}
			}
		}
		if target, found := aliasTarget(dir, text); ok && found {
			out = append(out, Patterns(one.Pattern, target)...)
		}
	}
	return out
}

// aliasTarget gives the path from the root that an alias's value names.
func aliasTarget(dir, text string) (string, bool) {
	text = strings.TrimPrefix(text, "<rootDir>/")
	text = strings.TrimSuffix(strings.TrimSuffix(text, "$1"), "/")
	text = strings.TrimSuffix(text, "/*")
	rooted := strings.TrimPrefix(text, "/")
	p := path.Join(dir, rooted)
	return p, text != "" && !lang.Leaves(p) && (lang.IsRelative(text) || rooted != text ||
		strings.Contains(text, "/") || !strings.ContainsAny(text, "@"))
}

// Patterns gives the aliases that a bundler's entry means: x stands for itself and for x/*.
func Patterns(name, target string) []PathAlias {
	if strings.HasSuffix(name, "/*") {
		return []PathAlias{{Pattern: name, Targets: []string{path.Join(target, "*")}}}
	}
	if strings.HasSuffix(name, "/") {
		return []PathAlias{{Pattern: name + "*", Targets: []string{path.Join(target, "*")}}}
	}
	name = strings.TrimSuffix(name, "$")
	return []PathAlias{{Pattern: name, Targets: []string{target}},
		{Pattern: name + "/*", Targets: []string{path.Join(target, "*")}}}
}
