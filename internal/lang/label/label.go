// Package label answers for the names that files give themselves: a module's name in a comment or in the call that
// defines it. Such a name fits if it is the end of the file's own path, compared as words; it follows when the file
// moves.
package label

import (
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/names"
	"crookedshelf/internal/project"
	"crookedshelf/internal/template"
)

// Resolver answers for one tree.
type Resolver struct{ tree *project.Project }

// index is the name of files that stand for their folder.
const index = "index"

// New makes a resolver.
func New(tree *project.Project) *Resolver { return &Resolver{tree} }

// Resolve gives the file itself if the name fits its path.
func (r *Resolver) Resolve(from project.FileID, m *lang.Mention) lang.Target {
	segments := strings.Split(m.Text, "/")
	for _, entry := range []string{"", index} {
		if own := names.Last(r.tree.Path(from), len(segments), entry); names.Fits(segments, own, template.SameWords) {
			return lang.File(from)
		}
	}
	return lang.No(lang.ToNothing)
}

// Spell writes the end of the file's new path, with as many segments as before.
func (r *Resolver) Spell(q lang.Respelling) (lang.Spelling, bool) {
	if q.Target.Kind != lang.ToFile || q.Target.File != q.From { // it never fitted
		return lang.Spelling{Text: q.Mention.Text}, q.Target.Kind == lang.ToNothing
	}
	n := strings.Count(q.Mention.Text, "/") + 1
	p := r.tree.Path(q.From)
	own := names.Last(p, n, index)
	if own == nil || strings.HasSuffix(q.Mention.Text, "/"+index) {
		own = names.Last(p, n, "")
	}
	return lang.Spelling{Text: strings.Join(own, "/")}, len(own) == n
}
