package web

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
	"crookedshelf/internal/seek"
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

// AliasDefinitions finds the aliases in the settings that a file holds. An object gives each alias under its name, a
// list has find and replacement; a name mapper's key is a regular expression, of which ^x/(.*)$ is understood.
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
			if find, to := foundBy(item.Get("find")), item.Get("replacement"); find != "" && to != nil {
				out = append(out, AliasDefinition{find, to})
			}
		}
	}
	for _, table := range resolverPlugin(root) {
		for _, m := range table.Members {
			pattern, ok := mapped(m.Key)
			if !ok {
				pattern = m.Key
			}
			out = append(out, AliasDefinition{pattern, m.Value})
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
		if f.Link || !(script && isConfiguration(f.Path) || holdsAliases(f.Path)) {
			continue
		}
		content, err := tree.Content(project.FileID(id))
		if err != nil || IsPackageFile(f.Path) && !strings.Contains(string(content), "moduleNameMapper") && !strings.Contains(string(content), "module-resolver") {
			continue
		}
		dir, work := path.Dir(f.Path), packageFolder(tree, path.Dir(f.Path))
		if aside[path.Base(dir)] || strings.HasPrefix(path.Base(dir), ".") && dir != "." {
			dir = work
		}
		for _, a := range readAliases(f.Path, work, content, script) {
			if !slices.ContainsFunc(out[dir], func(b pathAlias) bool { return a.pattern == b.pattern }) {
				out[dir] = append(out[dir], a)
			}
		}
	}
	return out
}

// aside are folders in which the settings of a whole package are kept.
var aside = set("build", "config", "configs", "webpack", "scripts", "internals", "tools", "vite", "rollup")

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

func readAliases(p, work string, content []byte, script bool) []pathAlias {
	var root *manifest.Value
	var mentions []lang.Mention
	if script {
		root = ReadObject(content)
		mentions = ScanText(p, content, TypeScript, nil).Mentions
	} else {
		root, _ = manifest.ParseJSON(content)
	}
	var out []pathAlias
	definitions := AliasDefinitions(root)
	if script {
		definitions = append(definitions, setAliases(content)...)
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

// conventionAliases gives the aliases that the convention states for this tree. One that says only what it will be
// stands for that today as well, where no settings define it.
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
	if known, ok := r.statedFor.Load(dir); ok {
		return known.([]pathAlias)
	}
	known, _ := r.statedFor.LoadOrStore(dir, slices.DeleteFunc(slices.Clone(r.stated), foreign))
	return known.([]pathAlias)
}

// tables gives the aliases that hold for a file, the strongest first.
func (r *resolver) tables(c *compilerFile, dir string) (out [4][]pathAlias) {
	if len(r.stated) > 0 {
		out[0] = r.statedIn(dir)
	}
	if c != nil {
		out[1] = c.paths
	}
	up := func(tables map[string][]pathAlias) []pathAlias {
		for dir := dir; len(tables) > 0; dir = path.Dir(dir) {
			if t := tables[dir]; t != nil || dir == "." || lang.Leaves(dir) {
				return t
			}
		}
		return nil
	}
	out[2], out[3] = up(r.bundlers), up(r.builtin)
	return out
}

// aliasIndex finds the aliases of a table: those whose patterns fit a name, and those whose targets fit a path.
type aliasIndex struct{ patterns, targets seek.Pieces }

var noAliases aliasIndex

func (r *resolver) indexOf(table []pathAlias) *aliasIndex {
	if len(table) == 0 {
		return &noAliases
	}
	if known, ok := r.indexes.Load(&table[0]); ok {
		return known.(*aliasIndex)
	}
	x := &aliasIndex{}
	for i, a := range table {
		head, _, _ := strings.Cut(a.pattern, "*")
		x.patterns.Add(head, i)
		for _, t := range a.targets {
			head, _, _ := strings.Cut(t, "*")
			x.targets.Add(head, i)
		}
	}
	known, _ := r.indexes.LoadOrStore(&table[0], x)
	return known.(*aliasIndex)
}

// aliasesFor gives the numbers of the aliases whose patterns a name may fit, in their order.
func (r *resolver) aliasesFor(table []pathAlias, text string) []int {
	return inOrder(r.indexOf(table).patterns.Beginning(text, nil))
}

// aliasesTo gives the numbers of the aliases whose targets a path may fit, in their order.
func (r *resolver) aliasesTo(table []pathAlias, p string) []int {
	return inOrder(r.indexOf(table).targets.Beginning(p, nil))
}

func inOrder(numbers []int) []int {
	slices.Sort(numbers)
	return slices.Compact(numbers)
}

// bestAlias gives the alias of a table that matches a text: the exact name, or the pattern with the longest beginning.
func (r *resolver) bestAlias(table []pathAlias, text string) (alias pathAlias, star string, ok bool) {
	best := -1
	for _, i := range r.aliasesFor(table, text) {
		a := table[i]
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
		a, star, matches := r.bestAlias(table, strings.TrimSuffix(text, "/"))
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

// contractions writes a path by aliases, the best first: by the one that was used, then by one that begins like it,
// then by those of the stronger table, and among these by the one that says most of the way.
func (r *resolver) contractions(from *asker, p, alias string) []string {
	type candidate struct {
		text                     string
		same, like, table, reach int
	}
	var all []candidate
	for i, table := range r.tables(from.options, from.dir) {
		for _, n := range r.aliasesTo(table, p) {
			a := table[n]
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
