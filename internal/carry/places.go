package carry

import (
	"fmt"
	"path"
	"strings"

	"crookedshelf/internal/leftover"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// refuseUnseen takes out moves to where git would no longer see the file. It reports whether there are some.
func (w *worker) refuseUnseen(d *Draft) bool {
	hidden, before := d.hidden(), len(w.refused)
	for _, id := range w.moving() {
		if reason := hidden(d.After.Tree.Path(d.NewID[id])); reason != "" {
			w.refuse(id, reason)
		}
	}
	return len(w.refused) > before
}

// hidden says why git would not see a file at a place, if it would not.
func (d *Draft) hidden() func(place string) string {
	ignoring := d.After.Tree.Ignoring()
	return func(place string) string {
		if !project.CleanPath(place) {
			return fmt.Sprintf("%s belongs to git, or to crooked itself", place)
		}
		by, ignored := ignoring(place)
		if !ignored {
			return ""
		}
		if repository, own := strings.CutSuffix(by, "/.git"); own {
			return fmt.Sprintf("it would lie in %s, which is a repository of its own", repository)
		}
		if by == "" {
			by = "an ignore file outside of the project"
		}
		return fmt.Sprintf("git would ignore it at %s, by %s: it would be lost from sight", place, by)
	}
}

// refuseUnread takes out files of kinds that nothing reads, where a path in them would no longer lead where it leads.
// It reports whether there are some.
func (w *worker) refuseUnread(d *Draft) bool {
	before := len(w.refused)
	now := func(old string) string {
		if id, ok := w.tree.Lookup(old); ok {
			return d.After.Tree.Path(d.NewID[id])
		}
		return d.moved.folder(old).to
	}
	for _, id := range w.moving() {
		p := w.tree.Path(id)
		if w.Graph.Files[id].Family >= 0 || w.Graph.Files[id].Plain || w.Graph.Languages.Inert(p) || w.IsData(p) {
			continue
		}
		content, err := w.tree.Content(id)
		if err != nil {
			w.refuse(id, err.Error())
			continue
		}
		unread := leftover.Unread{Content: content, From: p, To: w.moves[id]}
		for i := range w.Graph.Files[id].Mentions { // these are rewritten
			unread.Known = append(unread.Known, w.Graph.Files[id].Mentions[i].Span)
		}
		if text, line, loses := unread.Loses(w.tree, now); loses {
			w.refuse(id, fmt.Sprintf("files like %s are not read by this version, and %q in line %d leads to "+
				"something from its folder that it would not lead to from the new one; if it is no path, say data: [%q]",
				ending(p), text, line, ending(p)))
		}
	}
	return len(w.refused) > before
}

func ending(p string) string {
	if ext := path.Ext(p); ext != "" {
		return "*" + ext
	}
	return path.Base(p)
}

// refusePlaces takes out moves to a place that is taken or wanted twice, until the rest has a place each. Taking one
// out leaves a file where it was, which may be where another was to go.
func (w *worker) refusePlaces() {
	for {
		before := len(w.refused)
		w.refusePlacesOnce()
		if len(w.refused) == before {
			return
		}
	}
}

func (w *worker) refusePlacesOnce() {
	ids := w.moving()
	folds := make([]string, len(w.tree.Files)) // of the path of each file afterwards
	parallel.Do(len(folds), func(i int) {
		p, moves := w.moves[project.FileID(i)]
		if !moves {
			p = w.tree.Path(project.FileID(i))
		}
		folds[i] = project.Fold(p)
	})
	// compared as the most forgiving file system would: what differs in case or accents alone is one file on some
	staying := make(map[string]project.FileID, len(folds)-len(ids))
	folders := map[string]bool{} // folded, of what is there afterwards
	for id, folded := range folds {
		if _, moves := w.moves[project.FileID(id)]; !moves {
			staying[folded] = project.FileID(id)
		}
		for dir := project.Dir(folded); dir != "." && !folders[dir]; dir = project.Dir(dir) {
			folders[dir] = true
		}
	}
	wanted := make(map[string][2]project.FileID, len(ids)) // the first two
	for _, id := range ids {
		if first, two := wanted[folds[id]]; !two {
			wanted[folds[id]] = [2]project.FileID{id, project.None}
		} else if first[1] == project.None {
			wanted[folds[id]] = [2]project.FileID{first[0], id}
		}
	}
	for _, id := range ids {
		to, folded := w.moves[id], folds[id]
		if other, taken := staying[folded]; taken {
			w.refuse(id, w.takenReason(to, w.tree.Path(other)))
			continue
		}
		if others := wanted[folded]; others[1] != project.None {
			other := others[0]
			if other == id {
				other = others[1]
			}
			reason := fmt.Sprintf("%s would go to the same place", w.tree.Path(other))
			if otherTo := w.Moves[other]; otherTo != to {
				reason = fmt.Sprintf("%s would go to %s, which differs in case or accents alone", w.tree.Path(other),
					otherTo)
			}
			w.refuse(id, reason)
			continue
		}
		if folders[folded] {
			w.refuse(id, fmt.Sprintf("a folder stands at %s", to))
			continue
		}
		for dir := project.Dir(folded); dir != "."; dir = project.Dir(dir) {
			if other, taken := staying[dir]; taken {
				w.refuse(id, fmt.Sprintf("the file %s stands where its folder would be", w.tree.Path(other)))
				break
			}
		}
	}
}

func (w *worker) takenReason(to, other string) string {
	if to == other {
		return "a file stands there already and stays"
	}
	return fmt.Sprintf("%s stands there already and differs in case or accents alone", other)
}
