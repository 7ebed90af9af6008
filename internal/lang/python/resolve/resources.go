package resolve

import (
	"path"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/project"
)

// packaged gives what a path or a pattern leads to from the folder of a package.
func (r *Resolver) packaged(p string, m *lang.Mention) lang.Target {
	folder, ok := r.folderOf(r.module(p, syntax.DetailOf(m).From))
	if !ok {
		return lang.No(lang.ToOutside)
	}
	return r.dataAt(folder, m.Text)
}

func (r *Resolver) dataAt(folder, text string) lang.Target {
	head, pattern := path.Join(folder, text), ""
	if i := strings.IndexAny(text, "*?["); i >= 0 {
		slash := strings.LastIndexByte(text[:i], '/') + 1
		head, pattern = path.Join(folder, text[:slash]), text[slash:]
	}
	id, file := r.tree.Lookup(head)
	switch {
	case lang.Leaves(head):
	case file && pattern == "":
		return lang.File(id)
	case r.tree.IsDir(head) && pattern == "":
		return lang.Folder(head)
	case r.tree.IsDir(head) && doublestar.ValidatePattern(pattern):
		var set []project.FileID
		from, to := r.tree.Below(head)
		for id := from; id < to; id++ {
			if ok, _ := doublestar.Match(pattern, strings.TrimPrefix(r.tree.Path(id), head+"/")); ok {
				set = append(set, id)
			}
		}
		if len(set) > 0 {
			return lang.Set(head, set)
		}
	}
	return lang.No(lang.ToOutside)
}

// spellPackaged writes the path from where the package is now. If the package's name leads nowhere any more the package
// has moved, and its name is written anew: then the path stays, and the proof shows whether it leads where it led.
func (r *Resolver) spellPackaged(q lang.Respelling) (lang.Spelling, bool) {
	text := q.Mention.Text
	folder, ok := r.folderOf(r.module(r.tree.Path(q.From), syntax.DetailOf(q.Mention).From))
	if !ok {
		return lang.Spelling{Text: text}, true
	}
	place := q.Target.Folder()
	if q.Target.Kind == lang.ToFile {
		place = r.tree.Path(q.Target.File)
	}
	next := strings.TrimPrefix(lang.Relative(folder, place), "./")
	if i := strings.IndexAny(text, "*?["); i >= 0 {
		pattern := text[strings.LastIndexByte(text[:i], '/')+1:]
		if next = next + "/" + pattern; place == folder {
			next = pattern
		}
	}
	return lang.Spelling{Text: next}, r.dataAt(folder, next).Equal(q.Target)
}
