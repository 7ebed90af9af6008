package journal

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"strings"
	"syscall"

	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/show"
)

// Outcome says what an undo did.
type Outcome struct {
	Record *Record
	// Kept are the files that somebody changed after the straighten, or while it was taken back, one sentence each.
	// They were left as they are, and the record with the old contents was left too.
	Kept []string
}

// ErrNothing means that there is no straighten to take back.
var ErrNothing = errors.New("there is nothing to undo here")

// Range says how much an undo takes back.
type Range struct {
	All  bool // every straighten
	Step int  // of the last straighten, this step and those after it; 0 for all of it
}

// Undo takes straightens back, the last change first. If one was stopped half way, that alone is taken back: the steps
// before it were finished and stay. The lock must be held.
func (j *Journal) Undo(how Range) ([]*Outcome, error) {
	records, err := j.Records()
	if err != nil {
		return nil, err
	}
	records = slices.DeleteFunc(records, func(r *Record) bool { return r.State == Undone })
	if len(records) == 0 {
		if err := j.sweep(); err != nil {
			return nil, err
		}
		return nil, ErrNothing
	}
	records, err = how.of(records)
	if err != nil {
		return nil, err
	}
	for _, r := range records {
		if err := j.Usable(r); err != nil {
			return nil, err
		}
	}
	if err := j.sweep(); err != nil {
		return nil, err
	}
	var out []*Outcome
	for _, r := range slices.Backward(records) {
		one, err := j.takeBack(r)
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
	case last.Pending():
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

// takeBack brings every file of a record back. It looks only at what is on the disk, so it can be stopped and run
// again. Nothing is replaced or deleted whose content was not looked at after it was taken from its place.
func (j *Journal) takeBack(r *Record) (*Outcome, error) {
	u := &undoing{disk: j.disk, record: r, out: &Outcome{Record: r}, froms: map[string]int{}, tos: map[string]int{},
		folds: r.mayFold(), begun: r.State == Begun}
	u.taken, u.reported, u.back = make([]rootfs.Info, len(r.Files)), make([]bool, len(r.Files)),
		make([]bool, len(r.Files))
	old, damaged, err := r.readPack(j.disk)
	if err != nil {
		return nil, &DamageError{r, fmt.Errorf("its old contents can't be read: %w", cause(err))}
	}
	if len(damaged) > 0 {
		return nil, &DamageError{r, fmt.Errorf("the old content of %s is damaged (%d of its %d contents are)",
			show.Name(damaged[0]), len(damaged), len(r.Files))}
	}
	u.old = old
	for i, f := range r.Files {
		if f.From != "" {
			u.froms[u.key(f.From)] = i
		}
		if f.To != "" && !f.inPlace() {
			u.tos[u.key(f.To)] = i
		}
	}
	j.disk.Refresh()
	if r.State == Done { // from here on it is neither the old tree nor the new one
		if err := j.setState(r, Undoing); err != nil {
			return nil, err
		}
	}
	for _, step := range []func() error{u.makeRooms, u.respell, u.folders, u.takeAway, u.putBack, u.dropFolders,
		u.lookAround} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	touched := []string{r.folder()}
	for _, s := range r.Respelled {
		touched = append(touched, s.From)
	}
	for i, f := range r.Files {
		if f.From != "" && !u.reported[i] {
			touched = append(touched, f.From)
		}
	}
	if err := j.disk.Sync(touched); err != nil {
		return nil, err
	}
	if err := u.late(); err != nil {
		return nil, err
	}
	if len(u.out.Kept) > 0 {
		return u.out, j.setState(r, Undone)
	}
	return u.out, j.discard(r)
}

type undoing struct {
	disk     Disk
	record   *Record
	old      [][]byte       // the old contents
	froms    map[string]int // who was at an old path, by key
	tos      map[string]int // who came to a new one, by key
	folds    bool           // two places may be one
	taken    []rootfs.Info  // what was taken away, as it was looked at
	back     []bool         // the file is at its old place again, and was looked at there
	begun    bool           // the straighten was not finished
	reported []bool         // something is kept of the file
	out      *Outcome
}

// key is what a place is known by: one for all spellings that some file systems take for the same.
func (u *undoing) key(p string) string {
	if u.folds {
		return project.Fold(p)
	}
	return p
}

// makeRooms makes what the undo needs in the journal.
func (u *undoing) makeRooms() error {
	for _, dir := range []string{"held", "taken"} {
		if err := u.disk.Mkdir(path.Join(u.record.folder(), dir), 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	return nil
}

// each does a part of the undo for every file, on all cores unless two places may be one. What do says of a file that
// somebody changed is kept, in the order of the files. A file that can't be put back since its place is something else
// by now is kept too, and the others go on.
func (u *undoing) each(do func(i int, f *Entry) (kept string, err error)) error {
	kept := make([]string, len(u.record.Files))
	one := func(i int) (err error) {
		f := &u.record.Files[i]
		if kept[i], err = do(i, f); blocked(err) {
			kept[i], err = fmt.Sprintf("%s can't be put back: %s; its old content stays in the journal, and crooked "+
				"undo --extract writes it out", show.Name(cmp.Or(f.From, f.To)), reason(err)), nil
		}
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
	for i, k := range kept {
		if k != "" {
			u.keep(k)
			u.reported[i] = true
		}
	}
	return err
}

func (u *undoing) keep(sentence string) {
	if !slices.Contains(u.out.Kept, sentence) {
		u.out.Kept = append(u.out.Kept, sentence)
	}
}

// blocked says whether an error means that something else stands at a place or on the way to it.
func blocked(err error) bool {
	for _, of := range []error{fs.ErrExist, syscall.ENOTDIR, syscall.EISDIR, syscall.ENOTEMPTY, rootfs.ErrLink,
		rootfs.ErrGuarded} {
		if errors.Is(err, of) {
			return true
		}
	}
	return false
}

func reason(err error) string {
	var at *fs.PathError
	switch {
	case errors.Is(err, fs.ErrExist):
		return "something else stands there"
	case errors.As(err, &at) && errors.Is(err, syscall.ENOTDIR):
		return fmt.Sprintf("%s is no folder any more", show.Name(at.Path))
	case errors.As(err, &at):
		return fmt.Sprintf("%s: %s", show.Name(at.Path), at.Err)
	}
	return err.Error()
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

// found is what is at a place, as seen from one file of the record.
type found int

const (
	nothing found = iota
	noFile        // a folder or a link
	other         // a file with another content
	oldOne        // a file with the old content
	newOne        // a file with the new content, where that is another
)

// at looks at a place, and gives what was known of it before it was read. Contents are compared with those of the pack,
// which have been read and summed up; a sum is worked out for what can only be the new content.
func (u *undoing) at(p string, i int) (found, rootfs.Info, error) {
	f := &u.record.Files[i]
	info, err := u.disk.Look(p)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nothing, info, nil
	case err != nil:
		return nothing, info, err
	case !info.IsRegular():
		return noFile, info, nil
	case info.Size != f.Size && info.Size != f.NewSize:
		return other, info, nil
	}
	content, err := u.disk.ReadFile(p, noLimit)
	switch {
	case err != nil:
		return nothing, info, err
	case f.From != "" && bytes.Equal(content, u.old[i]):
		return oldOne, info, nil
	case f.edits() && int64(len(content)) == f.NewSize && sum(content) == f.After:
		return newOne, info, nil
	}
	return other, info, nil
}

// folders makes the old folders again. Each is made beside the journal and put into its place, so that one with its old
// attributes is there or none.
func (u *undoing) folders() error {
	temporary := path.Join(u.record.folder(), "folder")
	for _, d := range slices.Backward(u.record.Emptied) {
		if _, err := u.disk.Look(d.Path); err == nil || blocked(err) {
			continue // where it is no folder, the files that belong in it are kept
		} else if !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		if err := u.disk.Remove(temporary); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		if err := u.disk.Mkdir(temporary, 0o700); err != nil {
			return err
		}
		if err := u.disk.SetAttributes(temporary, d.Attributes); err != nil {
			return err
		}
		if err := u.disk.Place(temporary, d.Path); err != nil && !blocked(err) {
			return err
		}
	}
	return nil
}

// dropFolders deletes the folders that the straighten made, where they are empty.
func (u *undoing) dropFolders() error {
	made := slices.Clone(u.record.Made)
	slices.SortFunc(made, func(a, b string) int { return strings.Compare(b, a) })
	for _, dir := range made {
		if err := removeEmpty(u.disk, dir); err != nil {
			return err
		}
	}
	return nil
}

// lookAround looks for every file by its name once more: a folder may have been swapped for another meanwhile.
func (u *undoing) lookAround() error {
	u.disk.Refresh()
	return u.each(func(i int, f *Entry) (string, error) {
		if f.From == "" || u.reported[i] {
			return "", nil
		}
		if _, err := u.disk.Look(f.From); errors.Is(err, fs.ErrNotExist) {
			return fmt.Sprintf("%s is gone again: somebody moved it, or a folder above it, meanwhile; its old content "+
				"stays in the journal", show.Name(f.From)), nil
		} else if err != nil {
			return "", err
		}
		return "", nil
	})
}

// late looks once more at what the undo took away and at what else is left in the journal: a program that had a file
// open may have written into it.
func (u *undoing) late() error {
	for _, dir := range []string{"held", "taken"} {
		entries, err := u.disk.ReadDir(path.Join(u.record.folder(), dir))
		if err != nil {
			return err
		}
		slices.SortFunc(entries, func(a, b fs.DirEntry) int { return strings.Compare(a.Name(), b.Name()) })
		kept := make([]string, len(entries))
		if err := parallel.Try(len(entries), func(n int) error {
			p := path.Join(u.record.folder(), dir, entries[n].Name())
			if i, err := strconv.Atoi(entries[n].Name()); err == nil && i >= 0 && i < len(u.record.Files) {
				if ours, err := u.isOurs(p, i, dir == "taken"); err != nil || ours {
					return err
				}
			}
			kept[n] = fmt.Sprintf("something was written meanwhile into a file that was taken away; it is in %s",
				show.Name(p))
			return nil
		}); err != nil {
			return err
		}
		for _, k := range kept {
			if k != "" {
				u.keep(k)
			}
		}
	}
	return nil
}

// isOurs says whether a file of the journal has a content that this program gave it or found in it.
func (u *undoing) isOurs(p string, i int, taken bool) (bool, error) {
	if before := u.taken[i]; taken && before.ID != (rootfs.FileID{}) {
		if now, err := u.disk.Look(p); err == nil && alike(now, before) && now.Changed.Equal(before.Changed) {
			return true, nil
		}
	}
	now, _, err := u.at(p, i)
	return now == oldOne || now == newOne, err
}
