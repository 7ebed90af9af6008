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
	wanted := map[string]string{} // texts by instance
	for i := range r.Homes {
		if h := &r.Homes[i]; h.Kind == AtHome || h.Kind == Misplaced {
			if instance, lies := instanceOf(s, h.Path); lies && wanted[instance] == "" {
				captures, _ := s.At.Match(h.Path)
				wanted[instance] = s.Text(instance, captures.Values)
			}
		}
	}
	change := ListChange{File: id, Key: s.Listed.Key, Shelf: s}
	listed := map[string]bool{} // instances
	dir := path.Dir(s.Listed.In)
	for _, item := range items {
		instances := r.meant(w, s, dir, item, wanted)
		for _, instance := range instances {
			listed[instance] = true
		}
		if len(instances) == 0 && s.ListsLike(item) {
			change.Drop = append(change.Drop, item)
		}
	}
	for _, instance := range slices.Sorted(maps.Keys(wanted)) {
		if !listed[instance] {
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

// IsListed says whether a list has an instance, by its text or by a pattern.
func IsListed(s *convention.Shelf, items []string, instance string, values map[string]string) bool {
	return slices.ContainsFunc(items, func(item string) bool {
		fits, _ := doublestar.Match(path.Join(path.Dir(s.Listed.In), item), strings.TrimSuffix(instance, "/"))
		return item == s.Text(instance, values) || s.Listed.As == nil && fits
	})
}

// meant gives the instances that an item of a list means: by its text, by its path or pattern, or by where the files of
// its folder go.
func (r *Result) meant(w *world, s *convention.Shelf, dir, item string, wanted map[string]string) (out []string) {
	place := path.Join(dir, item)
	for instance, text := range wanted {
		folder := strings.TrimSuffix(instance, "/")
		fits, _ := doublestar.Match(place, folder)
		if text == item || s.Listed.As == nil && (place == folder || fits) {
			out = append(out, instance)
		}
	}
	if len(out) > 0 || s.Listed.As != nil || !w.tree.IsDir(place) {
		return out
	}
	from, to := w.tree.Below(place)
	for id := from; id < to; id++ {
		if instance, lies := instanceOf(s, r.Homes[id].Path); lies {
			return []string{instance}
		}
	}
	return nil
}
