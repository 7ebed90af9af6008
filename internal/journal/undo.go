package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// Outcome tells what an undo did.
type Outcome struct {
	Record *Record
	// Kept are the files that somebody changed after the straighten, one sentence each. They were left as they are, and
	// the record with the old contents was left too.
	Kept []string
}

// ErrNothing means that there is no straighten to take back.
var ErrNothing = errors.New("there is nothing to undo here")

// Range says how much an undo takes back.
type Range struct {
	All  bool // every straighten
	Step int  // of the last straighten, this step and those after it; 0 for all of it
}

// Undo takes straightens back, the last change first. If one was stopped half way, that alone is taken back: the steps before
// it were finished and stay. The lock must be held.
func Undo(disk Disk, how Range) ([]*Outcome, error) {
	records, err := Records(disk)
	if err != nil {
		return nil, err
	}
	for _, r := range records {
		if r.State == Unbegun {
			if err := r.discard(disk); err != nil {
				return nil, err
			}
		}
	}
	records = slices.DeleteFunc(records, func(r *Record) bool { return r.State == Unbegun || r.State == Undone })
	if len(records) == 0 {
		_ = cleanUp(disk)
		return nil, ErrNothing
	}
	records, err = how.of(records)
	if err != nil {
		return nil, err
	}
	var out []*Outcome
	for _, r := range slices.Backward(records) {
		one, err := undo(disk, r)
		if err != nil {
			return out, err
		}
		out = append(out, one)
	}
	return out, nil
}

// of chooses the records to take back, the oldest first.
func (r Range) of(records []*Record) ([]*Record, error) {
	last := records[len(records)-1]
	first := len(records) - 1
	switch {
	case last.State == Begun:
	case r.All:
		first = 0
	case last.Run == "" && r.Step > 0:
		return nil, fmt.Errorf("the last straighten was not made in steps")
	case last.Run != "":
		for first > 0 && records[first-1].Run == last.Run {
			first--
		}
		if from := records[first].Step; r.Step > last.Step || r.Step > 0 && r.Step < from {
			return nil, fmt.Errorf("the last straighten has the steps %d to %d", from, last.Step)
		}
		for records[first].Step < r.Step {
			first++
		}
	}
	return records[first:], nil
}

// undo brings every file of a record back. It looks only at what is on the disk, so it can be stopped and run again.
func undo(disk Disk, r *Record) (*Outcome, error) {
	u := &undoing{disk: disk, record: r, out: &Outcome{Record: r}, froms: map[string]int{}, folds: r.mayFold()}
	pack, err := disk.ReadFile(path.Join(r.folder(), packFile), noLimit)
	if err != nil {
		return nil, fmt.Errorf("the old contents can't be read: %w", err)
	}
	u.pack = pack
	for i, f := range r.Files {
		if f.From != "" {
			u.froms[f.From] = i
		}
	}
	if err := parallel.Try(len(r.Files), func(i int) error {
		if f := r.Files[i]; f.Offset < 0 || f.Size < 0 || f.Offset+f.Size > int64(len(pack)) || sum(u.old(f)) != f.Before {
			return fmt.Errorf("the old content of %s is damaged in %s", f.From, r.folder())
		}
		return nil
	}); err != nil {
		return nil, err
	}
	for _, step := range []func() error{u.respell, u.folders, u.takeAway, u.putBack, u.dropFolders} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	var touched []string
	for _, s := range r.Respelled {
		touched = append(touched, s.From)
	}
	for _, f := range r.Files {
		if f.From != "" {
			touched = append(touched, f.From)
		}
	}
	if err := disk.Sync(touched); err != nil {
		return nil, err
	}
	if len(u.out.Kept) > 0 {
		return u.out, r.setState(disk, Undone)
	}
	if err := r.discard(disk); err != nil {
		return nil, err
	}
	return u.out, cleanUp(disk)
}

type undoing struct {
	disk   Disk
	record *Record
	pack   []byte
	froms  map[string]int // the old paths
	folds  bool           // two places may be one
	out    *Outcome
}

func (u *undoing) old(f Entry) []byte { return u.pack[f.Offset : f.Offset+f.Size] }

// each does a part of the undo for every file, on all cores unless two places may be one. What do says of a file that somebody changed
// is kept, in the order of the files.
func (u *undoing) each(do func(i int, f Entry) (kept string, err error)) error {
	kept := make([]string, len(u.record.Files))
	one := func(i int) (err error) {
		kept[i], err = do(i, u.record.Files[i])
		return err
	}
	var err error
	if u.folds {
		for i := 0; i < len(kept) && err == nil; i++ {
			err = one(i)
		}
	} else {
		err = parallel.Try(len(kept), one)
	}
	u.out.Kept = append(u.out.Kept, slices.DeleteFunc(kept, func(k string) bool { return k == "" })...)
	return err
}

// mayFold says whether some file systems take two places of the record for one.
func (r *Record) mayFold() bool {
	spelled := map[string]string{}
	for _, f := range r.Files {
		for _, p := range []string{f.From, f.To} {
			folded := project.Fold(p)
			if other, known := spelled[folded]; known && other != p {
				return true
			}
			spelled[folded] = p
		}
	}
	return false
}

// sumAt gives the SHA-256 of the file at a path, and "" where there is none.
func (u *undoing) sumAt(p string) (string, error) {
	info, err := u.disk.Lstat(p)
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	if !info.Mode().IsRegular() {
		return "not a file", nil
	}
	content, err := u.disk.ReadFile(p, noLimit)
	if err != nil {
		return "", err
	}
	return sum(content), nil
}

// folders makes the old folders again. Each is made beside the journal and renamed into its place, so that one with its old permissions
// is there or none.
func (u *undoing) folders() error {
	temporary := path.Join(u.record.folder(), "folder")
	for _, d := range slices.Backward(u.record.Emptied) {
		if _, err := u.disk.Lstat(d.Path); err == nil {
			continue
		} else if !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		_ = u.disk.Remove(temporary)
		if err := u.disk.Mkdir(temporary, d.Mode); err != nil {
			return err
		}
		if err := u.disk.Rename(temporary, d.Path); err != nil {
			return err
		}
	}
	return nil
}

// takeAway clears the new places. A file that is whole and unchanged is renamed back, which keeps all that hangs on it;
// an edited one is put back from the pack and deleted. A place that is another file's old place is left to
// putBack.
func (u *undoing) takeAway() error {
	return u.each(func(i int, f Entry) (string, error) {
		if _, other := u.froms[f.To]; other || f.From == f.To || f.To == "" {
			return "", nil
		}
		now, err := u.sumAt(f.To)
		if err != nil || now == "" {
			return "", err
		}
		if f.From == "" { // a new file goes, unless somebody has written into it
			if now == f.After {
				return "", u.disk.Remove(f.To)
			}
			return fmt.Sprintf("%s was written by the straighten and changed afterwards; it was left there", f.To), nil
		}
		there, err := u.sumAt(f.From)
		if err != nil {
			return "", err
		}
		switch {
		case now == f.Before && project.Fold(f.From) == project.Fold(f.To): // not at once: see asidePath
			if err := u.disk.Rename(f.To, u.record.heldPath(i)); err != nil {
				return "", err
			}
			return "", u.restore(i, f)
		case now == f.Before && there == "":
			return "", u.disk.Rename(f.To, f.From)
		case now == f.After || now == f.Before:
			if there == "" { // while the new file is there, its attributes can be taken over
				if err := u.restore(i, f); err != nil {
					return "", err
				}
			}
			return "", u.disk.Remove(f.To)
		}
		return fmt.Sprintf("%s was changed after the move; it was left there, and its old content is at %s again", f.To, f.From), nil
	})
}

// putBack gives every old place its old content.
func (u *undoing) putBack() error {
	arrived := map[string]string{} // what may have come to an old place: the new content of the file that moved there
	for _, f := range u.record.Files {
		if f.To != "" {
			arrived[f.To] = f.After
		}
	}
	return u.each(func(i int, f Entry) (string, error) {
		if f.From == "" {
			return "", nil
		}
		now, err := u.sumAt(f.From)
		if err != nil || now == f.Before {
			return "", err
		}
		if now != "" && now != arrived[f.From] {
			return fmt.Sprintf("%s was changed afterwards; it was left as it is, and its old content is in %s at byte %d", f.From, path.Join(u.record.folder(), packFile), f.Offset), nil
		}
		return "", u.restore(i, f)
	})
}

// restore gives an old place its file again: the very file, if it was put aside, or else its old content, which is written beside the
// journal first.
func (u *undoing) restore(i int, f Entry) error {
	if held, err := u.sumAt(u.record.heldPath(i)); err != nil {
		return err
	} else if held == f.Before {
		return u.disk.Rename(u.record.heldPath(i), f.From)
	}
	temporary := path.Join(u.record.folder(), fmt.Sprintf("back-%d", i))
	_ = u.disk.Remove(temporary)
	if err := u.disk.Create(temporary, f.Mode, u.old(f)); err != nil {
		return err
	}
	for _, now := range []string{f.From, f.To} { // the file that is there has what the old one had
		if now == "" {
			break
		}
		if u.disk.CopyAttributes(now, temporary) == nil {
			break
		}
	}
	if err := u.disk.Chtimes(temporary, f.Modified); err != nil {
		return err
	}
	return u.disk.Rename(temporary, f.From)
}

// dropFolders deletes the folders that the straighten made, where they are empty.
func (u *undoing) dropFolders() error {
	made := slices.Clone(u.record.Made)
	slices.SortFunc(made, func(a, b string) int { return strings.Compare(b, a) })
	for _, dir := range made {
		_ = u.disk.Remove(dir) // one that is not empty stays
	}
	return nil
}
