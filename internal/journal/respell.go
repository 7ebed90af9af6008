package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"

	"crookedshelf/internal/project"
)

// Respelling is a folder that gets another spelling of its name, on a file system that folds names: there the new
// folder is the old one. What else is in the folder goes along.
type Respelling struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// respellings finds the folders that files leave for one that is theirs by another spelling, the outermost first.
func respellings(disk Disk, changes []Change) ([]Respelling, error) {
	left, entered := map[string]bool{}, map[string]bool{}
	for _, c := range changes {
		if c.From != c.To {
			addFolders(left, c.From)
			addFolders(entered, c.To)
		}
	}
	old := map[string]string{} // by what some systems take for the same path
	for dir := range left {
		old[project.Fold(dir)] = dir
	}
	spelled := map[string]string{} // the same, of those that are entered
	var out []Respelling
	for _, dir := range slices.Sorted(maps.Keys(entered)) {
		folded := project.Fold(dir)
		was, leaves := old[folded]
		if !leaves || left[dir] || disk.Named(dir) {
			continue
		}
		if _, err := disk.Look(dir); err != nil {
			continue // names are not folded here
		}
		if other, twice := spelled[folded]; twice {
			return nil, fmt.Errorf("%s and %s are one folder on this file system", other, dir)
		}
		spelled[folded] = dir
		if path.Base(was) != path.Base(dir) {
			out = append(out, Respelling{was, dir})
		}
	}
	return out, nil
}

// addFolders adds the folders that a path lies in.
func addFolders(to map[string]bool, p string) {
	for dir := path.Dir(p); dir != "." && !to[dir]; dir = path.Dir(dir) {
		to[dir] = true
	}
}

// asidePath is where a folder is between its two names: some systems do nothing when they are asked for a name that is
// the file's already.
func (r *Record) asidePath(i int) string { return path.Join(r.folder(), fmt.Sprintf("aside-%d", i)) }

// respell gives folders their new spelling.
func (r *Record) respell(disk Disk) error {
	for i, s := range r.Respelled {
		if err := disk.Place(s.From, r.asidePath(i)); err != nil {
			return err
		}
		if err := disk.Place(r.asidePath(i), s.To); err != nil {
			return err
		}
	}
	return nil
}

// respell gives folders their old spelling again, also one that was left between its names.
func (u *undoing) respell() error {
	for i, s := range u.record.Respelled {
		aside := u.record.asidePath(i)
		if _, err := u.disk.Look(aside); errors.Is(err, fs.ErrNotExist) {
			if u.disk.Named(s.From) {
				continue
			}
			if err := u.disk.Place(s.To, aside); errors.Is(err, fs.ErrNotExist) {
				continue // somebody took it away
			} else if err != nil {
				return err
			}
		}
		if err := u.disk.Place(aside, s.From); err != nil {
			return err
		}
	}
	return nil
}
