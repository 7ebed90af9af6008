package resolve

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web/config"
	"crookedshelf/internal/project"
	"crookedshelf/internal/seek"
)

// Where import aliases come from: the convention, the compiler's paths (settings.go), and the settings of bundlers and
// test runners, which are read here. The first that matches counts.

// conventionAliases gives the aliases that the convention states for this tree. One that says only what it will be
// stands for that today as well, where no settings define it.
func conventionAliases(declared *lang.Declared, defined func(pattern string) bool) []config.PathAlias {
	if declared == nil {
		return nil
	}
	var out []config.PathAlias
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
			out = append(out, config.PathAlias{Pattern: a.Pattern, Targets: []string{path.Clean(target)},
				Scope: a.Scope})
		}
	}
	return out
}

// ofConventionIn are the aliases that conventions state for the files of a folder.
func (r *resolver) ofConventionIn(dir string) []config.PathAlias {
	foreign := func(a config.PathAlias) bool { return a.Scope != "" && !strings.HasPrefix(dir+"/", a.Scope) }
	if !slices.ContainsFunc(r.ofConvention, foreign) {
		return r.ofConvention
	}
	if known, ok := r.statedFor.Load(dir); ok {
		return known.([]config.PathAlias)
	}
	known, _ := r.statedFor.LoadOrStore(dir, slices.DeleteFunc(slices.Clone(r.ofConvention), foreign))
	return known.([]config.PathAlias)
}

// tables gives the aliases that hold for a file, the strongest first.
func (r *resolver) tables(c *config.CompilerFile, dir string) (out [4][]config.PathAlias) {
	if len(r.ofConvention) > 0 {
		out[0] = r.ofConventionIn(dir)
	}
	if c != nil {
		out[1] = c.Paths
	}
	up := func(tables map[string][]config.PathAlias) []config.PathAlias {
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

func (r *resolver) indexOf(table []config.PathAlias) *aliasIndex {
	if len(table) == 0 {
		return &noAliases
	}
	if known, ok := r.indexes.Load(&table[0]); ok {
		return known.(*aliasIndex)
	}
	x := &aliasIndex{}
	for i, a := range table {
		head, _, _ := strings.Cut(a.Pattern, "*")
		x.patterns.Add(head, i)
		for _, t := range a.Targets {
			head, _, _ := strings.Cut(t, "*")
			x.targets.Add(head, i)
		}
	}
	known, _ := r.indexes.LoadOrStore(&table[0], x)
	return known.(*aliasIndex)
}

// aliasesFor gives the numbers of the aliases whose patterns a name may fit, in their order.
func (r *resolver) aliasesFor(table []config.PathAlias, text string) []int {
	return config.InOrder(r.indexOf(table).patterns.Beginning(text, nil))
}

// aliasesTo gives the numbers of the aliases whose targets a path may fit, in their order.
func (r *resolver) aliasesTo(table []config.PathAlias, p string) []int {
	return config.InOrder(r.indexOf(table).targets.Beginning(p, nil))
}

// bestAlias gives the alias of a table that matches a text: the exact name, or the pattern with the longest beginning.
func (r *resolver) bestAlias(table []config.PathAlias, text string) (alias config.PathAlias, star string, ok bool) {
	best := -1
	for _, i := range r.aliasesFor(table, text) {
		a := table[i]
		if a.Pattern == text {
			return a, "", true
		}
		if s, matches := config.StarMatch(a.Pattern, text); matches &&
			(best < 0 || config.StarHead(a.Pattern) > config.StarHead(table[best].Pattern)) {
			best, star = i, s
		}
	}
	if best < 0 {
		return config.PathAlias{}, "", false
	}
	return table[best], star, true
}

// Expand implements lang.Aliases.
func (r *resolver) Expand(from, text string) (p, alias string, ok bool) {
	if text == "" || lang.IsRelative(text) || text[0] == '/' {
		return "", "", false
	}
	for _, table := range r.tables(r.Compiler(from), path.Dir(from)) {
		a, star, matches := r.bestAlias(table, strings.TrimSuffix(text, "/"))
		if !matches || a.Pattern == "*" || len(a.Targets) == 0 {
			continue
		}
		p := path.Clean(strings.Replace(a.Targets[0], "*", star, 1))
		if !lang.Leaves(p) {
			return p, a.Pattern, true
		}
	}
	return "", "", false
}

// Contract implements lang.Aliases.
func (r *resolver) Contract(from, p, alias string) (string, bool) {
	all := r.contractions(&asker{dir: project.Dir(from), options: r.Compiler(from)}, p, alias)
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
			text, ok := a.Spell(p)
			if !ok || a.Pattern == "*" {
				continue
			}
			c := candidate{text: text, table: -i, reach: a.Reach()}
			if a.Pattern == alias {
				c.same = 1
			}
			if alias != "" && a.Pattern[0] == alias[0] {
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
