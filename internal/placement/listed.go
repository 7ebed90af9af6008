package placement

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/bmatcuk/doublestar/v4"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/project"
)

// ListChange is what a list of a settings file must get and lose, so that it has each instance of a shelf and nothing
// else.
type ListChange struct {
	File      project.FileID
	Key       []string
	Add, Drop []string
	Shelf     *convention.Shelf
}

// findUnlisted compares the lists of settings with the instances that they are to have.
func (r *Result) findUnlisted(w *world, c *convention.Convention) error {
	for _, s := range c.Shelves {
		if s.Listed == nil {
			continue
		}
		id, there := r.byHome(w.tree, s.Listed.In)
		if !there {
			return conventionError(c, s.Listed.Line, fmt.Sprintf("there is no file %s that could list %s", s.Listed.In, s.Name),
				"name the settings file: listed: { in: all.json, key: packages }")
		}
		content, err := w.tree.Content(id)
		if err != nil {
			return err
		}
		items, err := languages.Items(w.tree.Path(id), content, s.Listed.Key)
		if err != nil {
			return conventionError(c, s.Listed.Line, fmt.Sprintf("%s: %s", s.Listed.In, err),
				"name the key of a list: listed: { in: all.json, key: packages }")
		}
		r.compareList(w, s, id, items)
	}
	return nil
}

// byHome gives the file that belongs at a path, or else lies there.
func (r *Result) byHome(tree *project.Project, p string) (project.FileID, bool) {
	for id := range r.Homes {
		if h := &r.Homes[id]; h.Kind == Misplaced && h.Path == p {
			return project.FileID(id), true
		}
	}
	return tree.Lookup(p)
}

func (r *Result) compareList(w *world, s *convention.Shelf, id project.FileID, items []string) {
	list := ListOf(w.tree, s, items)
	files := map[string][]string{} // of instances, each with those that lie right in it
	for i := range r.Homes {
		if h := &r.Homes[i]; h.Kind == AtHome || h.Kind == Misplaced {
			if instance, lies := instanceOf(s, h.Path); lies {
				files[instance] = append(files[instance], h.Path)
			}
		}
	}
	wanted := map[string]string{} // texts by instance
	for instance, inside := range files {
		captures, _ := s.At.Match(inside[0])
		text, ok := list.Text(instance, captures.Values, inside)
		if wanted[instance] = text; !ok {
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Unlisted, Path: w.tree.Path(id), Shelf: s.Name,
				Line: s.Listed.Line, Reason: fmt.Sprintf("%s has no %s file that could stand in its list %s", instance, list.ending,
					strings.Join(s.Listed.Key, "."))})
		}
	}
	change := ListChange{File: id, Key: s.Listed.Key, Shelf: s}
	listed := map[string]bool{} // instances
	for _, item := range items {
		instances, lives := r.meant(w, list, item, wanted)
		for _, instance := range instances {
			listed[instance] = true
		}
		if !lives && list.like(item) {
			change.Drop = append(change.Drop, item)
		}
	}
	for _, instance := range slices.Sorted(maps.Keys(wanted)) {
		if !listed[instance] && wanted[instance] != "" {
			change.Add = append(change.Add, wanted[instance])
		}
	}
	for _, one := range []struct {
		texts []string
		says  string
	}{{change.Add, "%s is not in its list %s"}, {change.Drop, "%s stands in its list %s, and is no instance"}} {
		for _, text := range one.texts {
			r.Findings = append(r.Findings, finding.Finding{Rule: finding.Unlisted, Path: w.tree.Path(id), Shelf: s.Name,
				Line: s.Listed.Line, Reason: fmt.Sprintf(one.says, text, strings.Join(s.Listed.Key, "."))})
		}
	}
	if len(change.Add)+len(change.Drop) > 0 {
		r.Lists = append(r.Lists, change)
	}
}

// List is how the instances of a shelf stand in their list.
type List struct {
	shelf  *convention.Shelf
	dir    string // the folder of the settings file: paths are read from there
	ending string // of the file that stands for its instance; empty where the folder does
}

// ListOf looks at the items that a list has. Where most are files of the project, its instances stand in it by the file
// that has the same ending as the last of them.
func ListOf(tree *project.Project, s *convention.Shelf, items []string) List {
	list := List{shelf: s, dir: path.Dir(s.Listed.In)}
	files := 0
	for _, item := range items {
		if _, there := tree.Lookup(path.Join(list.dir, item)); there && s.Listed.As == nil && path.Ext(item) != "" {
			files++
			list.ending = path.Ext(item)
		}
	}
	if 2*files <= len(items) {
		list.ending = ""
	}
	return list
}

// Text is how an instance is written in the list: as the convention says, or as a path from the folder of the settings
// file. It is false where no file lies right in the instance that could stand for it.
func (l List) Text(instance string, values map[string]string, files []string) (string, bool) {
	if l.shelf.Listed.As != nil {
		return l.shelf.Listed.As.Fill(values), true
	}
	place := strings.TrimSuffix(instance, "/")
	if l.ending != "" && !l.shelf.AtFile {
		i := slices.IndexFunc(files, func(file string) bool { return path.Dir(file) == place && path.Ext(file) == l.ending })
		if i < 0 {
			return "", false
		}
		place = files[i]
	}
	return strings.TrimPrefix(lang.Relative(l.dir, place), "./"), true
}

// like says whether an item, which means no instance, looks like one: then it is one that is gone.
func (l List) like(item string) bool {
	if l.shelf.Listed.As != nil {
		return l.shelf.Listed.As.Fits(item)
	}
	place := path.Join(l.dir, item)
	if !l.shelf.AtFile {
		place += "/x"
	}
	return l.shelf.At.Fits(place) && !strings.ContainsAny(item, "*?{")
}

// Has says whether an item means an instance that is written so: by its text, or by a path or a pattern.
func (l List) Has(item, instance, text string) bool {
	fits, _ := doublestar.Match(path.Join(l.dir, item), strings.TrimSuffix(instance, "/"))
	return item == text || l.shelf.Listed.As == nil && fits
}

// meant gives the instances that an item of a list means: by its text, by its path or pattern, or by where the file or
// the files of the folder go that it names. It lives if it means one, or names a file that lies deeper in one.
func (r *Result) meant(w *world, list List, item string, wanted map[string]string) (out []string, lives bool) {
	for instance, text := range wanted {
		if list.Has(item, instance, text) {
			out = append(out, instance)
		}
	}
	if len(out) > 0 {
		return out, true
	}
	byName := list.shelf.Listed.As != nil
	place := path.Join(list.dir, item)
	if id, isFile := w.tree.Lookup(place); isFile {
		goes := r.Homes[id].Path
		instance, lies := instanceOf(list.shelf, goes)
		switch {
		case !lies:
			return nil, false
		case byName && path.Join(list.dir, wanted[instance]) == goes, list.ending != "" && project.Dir(goes)+"/" == instance:
			return []string{instance}, true
		}
		return nil, !byName
	}
	from, to := w.tree.Below(place)
	for id := from; id < to; id++ {
		instance, lies := instanceOf(list.shelf, r.Homes[id].Path)
		if lies && (!byName || path.Join(list.dir, wanted[instance]) == strings.TrimSuffix(instance, "/")) {
			return []string{instance}, true
		}
	}
	return nil, false
}
