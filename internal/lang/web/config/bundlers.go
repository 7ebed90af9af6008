package config

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/web/script"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// BundlerAliases reads the aliases of all settings in the tree, by the folder that they govern.
func BundlerAliases(tree *project.Project) map[string][]PathAlias {
	out := map[string][]PathAlias{}
	for id, f := range tree.Files {
		_, isScript := script.DialectOf(f.Path)
		if f.Link || !(isScript && script.IsConfiguration(f.Path) || holdsAliases(f.Path)) {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil || IsPackageFile(f.Path) && !strings.Contains(string(content), "moduleNameMapper") &&
			!strings.Contains(string(content), "module-resolver") {
			continue
		}
		dir, work := path.Dir(f.Path), packageFolder(tree, path.Dir(f.Path))
		if aside[path.Base(dir)] || strings.HasPrefix(path.Base(dir), ".") && dir != "." {
			dir = work
		}
		for _, a := range readAliases(f.Path, work, content, isScript) {
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

func readAliases(p, work string, content []byte, isScript bool) []PathAlias {
	var root *manifest.Value
	var mentions []lang.Mention
	if isScript {
		root = script.ReadObject(content)
		mentions = script.ScanText(p, content, script.TypeScript, nil).Mentions
	} else {
		root, _ = manifest.ParseJSON(content)
	}
	var out []PathAlias
	definitions := script.AliasDefinitions(root)
	if isScript {
		definitions = append(definitions, script.SetAliases(content)...)
	}
	for _, d := range definitions {
		text, ok, dir := "", false, path.Dir(p)
		switch {
		case d.Value.Kind == manifest.String:
			text, ok = d.Value.Text, true
		default:
			for _, m := range mentions {
				if !ok && m.Span.Start >= d.Value.Span.Start && m.Span.End <= d.Value.Span.End {
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
			out = append(out, Patterns(d.Pattern, target)...)
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
