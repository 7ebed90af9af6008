// Package label answers for the names that files give themselves: a module's name in a comment or in the call that
// defines it. Such a name fits if it is the end of the file's own path, compared as words; it follows when the file
// moves.
package label

import (
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// Resolver answers for one tree.
type Resolver struct{ tree *project.Project }

// New makes a resolver.
func New(tree *project.Project) *Resolver { return &Resolver{tree} }

// Resolve gives the file itself if the name fits its path.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	segments := strings.Split(m.Text, "/")
	for _, index := range []bool{false, true} {
		own := ending(r.tree.Path(from), len(segments), index)
		if slices.EqualFunc(own, segments, template.SameWords) {
			return lang.File(from)
		}
	}
	return lang.No(lang.ToNothing)
}

// ending is the last n segments of a path, without the file's ending and, if asked for, without a last index.
func ending(p string, n int, index bool) []string {
	base, _, _ := strings.Cut(path.Base(p), ".")
	segments := append(strings.Split(path.Dir(p), "/"), base)
	if index {
		if base != "index" {
			return nil
		}
		segments = segments[:len(segments)-1]
	}
	return segments[max(0, len(segments)-n):]
}

// Spell writes the end of the file's new path, with as many segments as before.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	if q.Target.Kind != lang.ToFile || q.Target.File != q.From { // it never fitted
		return lang.Spelling{Text: q.Mention.Text}, q.Target.Kind == lang.ToNothing
	}
	n := strings.Count(q.Mention.Text, "/") + 1
	p := r.tree.Path(q.From)
	own := ending(p, n, true)
	if own == nil || strings.HasSuffix(q.Mention.Text, "/index") {
		own = ending(p, n, false)
	}
	return lang.Spelling{Text: strings.Join(own, "/")}, len(own) == n
}
