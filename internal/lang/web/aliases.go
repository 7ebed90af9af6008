package web

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// Where import aliases come from: the convention, the compiler's paths (settings.go), and the settings of bundlers and
// test runners, which are read here. The first that matches counts.

// AliasKeys are the places in a bundler's or test runner's settings where aliases are defined.
var AliasKeys = [][]string{
	{"resolve", "alias"}, {"vite", "resolve", "alias"}, {"alias"}, {"kit", "alias"}, {"test", "alias"}, {"moduleNameMapper"}, {"jest", "moduleNameMapper"},
	{"turbopack", "resolveAlias"}, {"webpack", "resolve", "alias"},
}

// AliasDefinition is the value that defines one alias in settings.
type AliasDefinition struct {
	Pattern string // @ or @/*
	Value   *manifest.Value
}

// AliasDefinitions finds the aliases in the settings that a file holds. An object gives each alias under its name, a list
// has find and replacement; a name mapper's key is a regular expression, of which ^x/(.*)$ is understood.
func AliasDefinitions(root *manifest.Value) []AliasDefinition {
	var out []AliasDefinition
	for _, key := range AliasKeys {
		table := root.At(key...)
		if table == nil {
			continue
		}
		mapper := key[len(key)-1] == "moduleNameMapper"
		for _, m := range table.Members {
			pattern := m.Key
			if mapper {
				var ok bool
				if pattern, ok = mapped(m.Key); !ok {
					continue
				}
			}
			value := m.Value
			if value.Kind == manifest.List && len(value.Items) > 0 {
				value = value.Items[0]
			}
			out = append(out, AliasDefinition{pattern, value})
		}
		for _, item := range table.Items {
			if find, to := item.Get("find").String(), item.Get("replacement"); find != "" && to != nil {
				out = append(out, AliasDefinition{find, to})
			}
		}
	}
	return out
}

// mapped reads ^@/(.*)$ as @/*, and ^@$ as @.
func mapped(expression string) (string, bool) {
	inner, ok := strings.CutPrefix(expression, "^")
	if !ok {
		return "", false
	}
	inner = strings.TrimSuffix(inner, "$")
	inner, starred := strings.CutSuffix(inner, "(.*)")
	inner = strings.ReplaceAll(inner, `\/`, "/")
	if strings.ContainsAny(inner, `\.[](){}+*?|^$`) {
		return "", false
	}
	if starred {
		inner += "*"
	}
	return inner, inner != ""
}

// bundlerAliases reads the aliases of all settings in the tree, by the folder that they govern.
func bundlerAliases(tree *project.Project) map[string][]pathAlias {
	out := map[string][]pathAlias{}
	for id, f := range tree.Files {
		_, script := DialectOf(f.Path)
		if f.Link || !(script && isConfiguration(f.Path) || IsPackageFile(f.Path) || path.Base(f.Path) == "jest.config.json") {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil || IsPackageFile(f.Path) && !strings.Contains(string(content), "moduleNameMapper") {
			continue
		}
		dir := path.Dir(f.Path)
		for _, a := range readAliases(f.Path, content, script) {
			if !slices.ContainsFunc(out[dir], func(b pathAlias) bool { return a.pattern == b.pattern }) {
				out[dir] = append(out[dir], a)
			}
		}
	}
	return out
}

func readAliases(p string, content []byte, script bool) []pathAlias {
	var root *manifest.Value
	var mentions []lang.Mention
	if script {
		root = ReadObject(content)
		mentions = ScanText(p, content, TypeScript, nil).Mentions
	} else {
		root, _ = manifest.ParseJSON(content)
	}
	var out []pathAlias
	for _, d := range AliasDefinitions(root) {
		text, ok := "", false
		switch {
		case d.Value.Kind == manifest.String:
			text, ok = d.Value.Text, true
		default:
			for _, m := range mentions {
				if m.Span.Start >= d.Value.Span.Start && m.Span.End <= d.Value.Span.End {
					text, ok = m.Text, true
				}
			}
		}
		if target, found := aliasTarget(path.Dir(p), text); ok && found {
			out = append(out, patterns(d.Pattern, target)...)
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
	return p, text != "" && !lang.Leaves(p) && (lang.IsRelative(text) || rooted != text || strings.Contains(text, "/") || !strings.ContainsAny(text, "@"))
}

// patterns gives the aliases that a bundler's entry means: x stands for itself and for x/*.
func patterns(name, target string) []pathAlias {
	if strings.HasSuffix(name, "/*") {
		return []pathAlias{{pattern: name, targets: []string{path.Join(target, "*")}}}
	}
	if strings.HasSuffix(name, "/") {
		return []pathAlias{{pattern: name + "*", targets: []string{path.Join(target, "*")}}}
	}
	name = strings.TrimSuffix(name, "$")
	return []pathAlias{{pattern: name, targets: []string{target}}, {pattern: name + "/*", targets: []string{path.Join(target, "*")}}}
}

// conventionAliases gives the aliases that the convention states for this tree. One that says only what it will be stands
// for that today as well, where no settings define it.
func conventionAliases(declared *lang.Declared, defined func(pattern string) bool) []pathAlias {
	if declared == nil {
		return nil
	}
	var out []pathAlias
	for _, a := range declared.Convention.Aliases {
		target, ok := "", false
		switch {
		case declared.After && a.HasThen:
			target, ok = a.Then, true
		case declared.After:
			target, ok = declared.Followed[a.Scope+a.Pattern]
		case a.HasNow:
			target, ok = a.Now, true
		case a.HasThen && !defined(a.Pattern):
			target, ok = a.Then, true
		}
		if ok {
			out = append(out, pathAlias{pattern: a.Pattern, targets: []string{path.Clean(target)}, scope: a.Scope})
		}
	}
	return out
}

// statedIn are the aliases that conventions state for the files of a folder.
func (r *resolver) statedIn(dir string) []pathAlias {
	foreign := func(a pathAlias) bool { return a.scope != "" && !strings.HasPrefix(dir+"/", a.scope) }
	if !slices.ContainsFunc(r.stated, foreign) {
		return r.stated
	}
	return slices.DeleteFunc(slices.Clone(r.stated), foreign)
}

// tables gives the aliases that hold for a file, the strongest first.
func (r *resolver) tables(c *compilerFile, dir string) (out [3][]pathAlias) {
	if len(r.stated) > 0 {
		out[0] = r.statedIn(dir)
	}
	if c != nil {
		out[1] = c.paths
	}
	for ; len(r.bundlers) > 0; dir = path.Dir(dir) {
		if out[2] = r.bundlers[dir]; out[2] != nil || dir == "." || lang.Leaves(dir) {
			break
		}
	}
	return out
}

// bestAlias gives the alias of a table that matches a text: the exact name, or the pattern with the longest beginning.
func bestAlias(table []pathAlias, text string) (alias pathAlias, star string, ok bool) {
	best := -1
	for i, a := range table {
		if a.pattern == text {
			return a, "", true
		}
		if s, matches := starMatch(a.pattern, text); matches && (best < 0 || starHead(a.pattern) > starHead(table[best].pattern)) {
			best, star = i, s
		}
	}
	if best < 0 {
		return pathAlias{}, "", false
	}
	return table[best], star, true
}

// Expand implements lang.Aliases.
func (r *resolver) Expand(from, text string) (p, alias string, ok bool) {
	if text == "" || lang.IsRelative(text) || text[0] == '/' {
		return "", "", false
	}
	for _, table := range r.tables(r.compiler(from), path.Dir(from)) {
		a, star, matches := bestAlias(table, strings.TrimSuffix(text, "/"))
		if !matches || a.pattern == "*" || len(a.targets) == 0 {
			continue
		}
		p := path.Clean(strings.Replace(a.targets[0], "*", star, 1))
		if !lang.Leaves(p) {
			return p, a.pattern, true
		}
	}
	return "", "", false
}

// Contract implements lang.Aliases.
func (r *resolver) Contract(from, p, alias string) (string, bool) {
	all := r.contractions(&asker{dir: project.Dir(from), options: r.compiler(from)}, p, alias)
	if len(all) == 0 {
		return "", false
	}
	return all[0], true
}

// contractions writes a path by aliases, the best first: by the one that was used, then by one that begins like it, then by
// those of the stronger table, and among these by the one that says most of the way.
func (r *resolver) contractions(from *asker, p, alias string) []string {
	type candidate struct {
		text                     string
		same, like, table, reach int
	}
	var all []candidate
	for i, table := range r.tables(from.options, from.dir) {
		for _, a := range table {
			text, ok := a.spell(p)
			if !ok || a.pattern == "*" {
				continue
			}
			c := candidate{text: text, table: -i, reach: a.reach()}
			if a.pattern == alias {
				c.same = 1
			}
			if alias != "" && a.pattern[0] == alias[0] {
				c.like = 1
			}
			all = append(all, c)
		}
	}
	slices.SortStableFunc(all, func(a, b candidate) int {
		return cmp.Or(b.same-a.same, b.like-a.like, b.table-a.table, b.reach-a.reach)
	})
	out := make([]string, len(all))
	for i, c := range all {
		out[i] = c.text
	}
	return out
}
