package journal

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/exact"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/show"
)

// TakenBackError says that the changes could not be carried out and were taken back.
type TakenBackError struct {
	Cause error
	Kept  []string // what somebody changed meanwhile and was left, one sentence each
}

func (e *TakenBackError) Error() string {
	if len(e.Kept) == 0 {
		return fmt.Sprintf("%s; all is as it was", e.Cause)
	}
	return fmt.Sprintf("%s; it was taken back, and what was changed meanwhile was kept:\n  %s", e.Cause,
		strings.Join(e.Kept, "\n  "))
}

func (e *TakenBackError) Unwrap() error { return e.Cause }

// Apply carries the changes out: all of them, or after an error none. The lock must be held.
func (j *Journal) Apply(title string, part Part, changes []Change, now time.Time) (*Record, error) {
	c := &carrying{disk: j.disk, changes: changes, record: &Record{Version: formatVersion, Time: stampOf(now),
		Title: title, Run: part.Run, Step: part.Step, Left: part.Left}}
	if err := c.prepare(); err != nil {
		return nil, err
	}
	if err := j.write(c); err != nil {
		_ = removeAll(j.disk, nextFolder)
		_ = j.disk.Remove(recordsFolder) // stays while there are records
		return nil, fmt.Errorf("the journal can't be written, and nothing was changed: %w", err)
	}
	err := c.carryOut()
	if err == nil {
		err = j.setState(c.record, Done)
	}
	if err != nil {
		out, undone := j.takeBack(c.record)
		if undone != nil {
			return nil, fmt.Errorf("%w; and it could not be taken back (%s): run crooked undo", err, undone)
		}
		return nil, &TakenBackError{err, out.Kept}
	}
	return c.record, nil
}

// carrying is changes that are being carried out.
type carrying struct {
	disk    Disk
	record  *Record
	changes []Change
	seen    []rootfs.Info // each file as it was when its content was compared
	fresh   []bool        // it was changed so shortly before that another change may not show in its time
}

// prepare checks the disk against the changes and works out the record. Nothing is written.
func (c *carrying) prepare() error {
	leaving := map[string][]string{} // by what some systems take for the same path
	for _, change := range c.changes {
		if change.From != change.To && change.From != "" {
			leaving[project.Fold(change.From)] = append(leaving[project.Fold(change.From)], change.From)
		}
	}
	r := c.record
	r.Files, c.seen, c.fresh = make([]Entry, len(c.changes)), make([]rootfs.Info, len(c.changes)),
		make([]bool, len(c.changes))
	if err := parallel.Try(len(c.changes), func(i int) error { return c.look(i, leaving) }); err != nil {
		return err
	}
	made, emptied := map[string]bool{}, map[string]Dir{}
	for _, change := range c.changes {
		if change.From == change.To {
			continue
		}
		if err := c.folders(change, made, emptied); err != nil {
			return err
		}
	}
	var err error
	if r.Respelled, err = respellings(c.disk, c.changes); err != nil {
		return err
	}
	for d := range made {
		r.Made = append(r.Made, d)
	}
	slices.Sort(r.Made)
	for _, d := range emptied {
		r.Emptied = append(r.Emptied, d)
	}
	slices.SortFunc(r.Emptied, func(a, b Dir) int { return strings.Compare(b.Path, a.Path) })
	return nil
}

// look compares one change with the disk: the file must be as it was read, and its new place free.
func (c *carrying) look(i int, leaving map[string][]string) error {
	change := &c.changes[i]
	if change.From == "" {
		if taken(c.disk, change.To, leaving) {
			return fmt.Errorf("something stands at %s already (git may ignore it)", show.Name(change.To))
		}
		c.record.Files[i] = Entry{To: change.To, Before: sum(nil), After: sum(change.After),
			NewSize: int64(len(change.After))}
		return nil
	}
	info, err := c.disk.Look(change.From)
	if err != nil {
		return fmt.Errorf("%s can't be looked at: %w", show.Name(change.From), cause(err))
	}
	if !info.IsRegular() {
		return fmt.Errorf("%s has changed since it was read", show.Name(change.From))
	}
	content, err := c.disk.ReadFile(change.From, noLimit)
	if err != nil {
		return fmt.Errorf("%s can't be read: %w", show.Name(change.From), cause(err))
	}
	if !bytes.Equal(content, change.Before) {
		return fmt.Errorf("%s has changed since it was read", show.Name(change.From))
	}
	if change.From != change.To && change.To != "" && taken(c.disk, change.To, leaving) {
		return fmt.Errorf("something stands at %s already (git may ignore it)", show.Name(change.To))
	}
	before := sum(change.Before)
	after, size := before, int64(len(content))
	if change.edits() || change.To == "" {
		after, size = sum(change.After), int64(len(change.After))
	}
	c.seen[i], c.fresh[i] = info, isFresh(info)
	c.record.Files[i] = Entry{
		From: change.From, To: change.To, Before: before, After: after, Mode: info.Permissions(), UID: info.UID,
		GID:      info.GID,
		Modified: stampOf(info.Modified), ID: info.ID, Size: int64(len(content)), NewSize: size,
	}
	return nil
}

func cause(err error) error {
	if pe, ok := err.(*fs.PathError); ok {
		return pe.Err
	}
	return err
}

// isFresh says whether a file was changed so shortly ago that one more change may leave its time as it is. Systems
// count the time of files in steps of some milliseconds; those that know no parts of a second, in steps of up to two.
func isFresh(info rootfs.Info) bool {
	step := 100 * time.Millisecond
	if info.Modified.Nanosecond() == 0 {
		step = 3 * time.Second
	}
	return time.Since(info.Modified) < step
}

// taken says whether something stands at a path that does not leave it.
func taken(disk Disk, p string, leaving map[string][]string) bool {
	if _, err := disk.Look(p); err != nil {
		return false
	}
	olds := leaving[project.Fold(p)]
	return !slices.Contains(olds, p) && (len(olds) == 0 || disk.Named(p))
}

// folders notes which folders a move makes and which it may empty.
func (c *carrying) folders(change Change, made map[string]bool, emptied map[string]Dir) error {
	for dir := path.Dir(change.To); dir != "." && change.To != "" && !made[dir]; dir = path.Dir(dir) {
		info, err := c.disk.Look(dir)
		if err == nil && !info.IsDir() {
			return fmt.Errorf("%s is no folder, so %s can't be put there", show.Name(dir), show.Name(change.To))
		}
		if err == nil {
			break
		}
		if !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		made[dir] = true
	}
	if change.From == "" {
		return nil
	}
	for dir := path.Dir(change.From); dir != "."; dir = path.Dir(dir) {
		if _, known := emptied[dir]; known {
			break
		}
		attributes, err := c.disk.Attributes(dir)
		if err != nil {
			return err
		}
		emptied[dir] = Dir{dir, attributes}
	}
	return nil
}

// write puts the record and the old contents on the disk. They are written in a folder that counts for nothing, and
// only when all of it is synced does it get a record's name.
func (j *Journal) write(c *carrying) error {
	r := c.record
	for _, dir := range []string{Folder, recordsFolder} {
		if err := j.disk.Mkdir(dir, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	if err := removeAll(j.disk, nextFolder); err != nil {
		return err
	}
	names, err := j.names()
	if err != nil {
		return err
	}
	next := 1
	for _, name := range names {
		next = max(next, (&Record{Name: strings.TrimSuffix(name, goneEnding)}).Number()+1)
	}
	r.Name = path.Base(nextFolder)
	for _, dir := range []string{"", "new", "held", "taken"} {
		if err := j.disk.Mkdir(path.Join(nextFolder, dir), 0o700); err != nil {
			return err
		}
	}
	pack := r.packOf(c.changes)
	text, err := exact.Marshal(r, "")
	if err != nil {
		return err
	}
	r.sum, r.State = sum(text), Begun
	written := make([]string, len(c.changes)) // all that must be synced
	if err := parallel.Try(len(c.changes), func(i int) (err error) {
		written[i], err = c.writeNew(i)
		return err
	}); err != nil {
		return err
	}
	for _, f := range []struct {
		name  string
		parts [][]byte
	}{{recordFile, [][]byte{text}}, {packFile, pack}, {stateFile, [][]byte{j.stateText(Begun, r.sum)}}} {
		p := path.Join(nextFolder, f.name)
		if err := j.disk.Create(p, 0o600, f.parts...); err != nil {
			return err
		}
		written = append(written, p)
	}
	written = append(written, nextFolder)
	if err := j.disk.Sync(slices.DeleteFunc(written, func(p string) bool { return p == "" })); err != nil {
		return err
	}
	name := fmt.Sprintf("%04d", next)
	if err := j.disk.Place(nextFolder, path.Join(recordsFolder, name)); err != nil {
		return err
	}
	r.Name = name
	if err := j.disk.Sync([]string{r.folder()}); err != nil {
		return errors.Join(err, j.discard(r))
	}
	return nil
}

// writeNew writes the new content of a file to where it waits, and gives that place; "" where the content stays.
func (c *carrying) writeNew(i int) (at string, err error) {
	change := &c.changes[i]
	if !change.edits() {
		return "", nil
	}
	at = c.record.waitsAt(i)
	if change.From == "" {
		return at, c.disk.Create(at, rootfs.Usual, change.After)
	}
	if err := c.disk.Create(at, c.record.Files[i].Mode, change.After); err != nil {
		return "", err
	}
	return at, c.disk.CopyAttributes(change.From, at)
}

// carryOut makes the changes. Files whose old place is wanted are put aside first, so the order of the rest is free. No
// file is replaced and none is deleted: an old one whose content changes is kept in the journal. At the end all is
// looked for by its name once more, since a folder may have been swapped for another meanwhile.
func (c *carrying) carryOut() error {
	r := c.record
	if err := r.respell(c.disk); err != nil {
		return err
	}
	for _, dir := range r.Made {
		if err := c.disk.Mkdir(dir, rootfs.Usual); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	wanted := map[string]bool{}
	for _, change := range c.changes {
		if change.From != change.To && change.To != "" {
			wanted[project.Fold(change.To)] = true
		}
	}
	at := make([]string, len(c.changes))
	for i, change := range c.changes {
		at[i] = change.From
		if change.From != "" && change.From != change.To && wanted[project.Fold(change.From)] {
			at[i] = r.heldPath(i)
			if err := c.putAside(i); err != nil {
				return err
			}
		}
	}
	if err := parallel.Try(len(c.changes), func(i int) error { return c.putInPlace(i, at[i]) }); err != nil {
		return err
	}
	for _, d := range r.Emptied {
		if err := removeEmpty(c.disk, d.Path); err != nil {
			return err
		}
	}
	c.disk.Refresh()
	if err := parallel.Try(len(c.changes), c.arrived); err != nil {
		return err
	}
	touched := []string{r.folder()}
	for _, change := range c.changes {
		if change.To != "" {
			touched = append(touched, change.To)
		}
	}
	for _, s := range r.Respelled {
		touched = append(touched, s.To)
	}
	return c.disk.Sync(touched)
}

func (c *carrying) putInPlace(i int, at string) error {
	change, r := &c.changes[i], c.record
	switch {
	case change.To == "":
		if at == change.From {
			return c.putAside(i)
		}
		return nil
	case !change.edits():
		if at == change.From {
			if err := c.still(i, at); err != nil {
				return err
			}
		}
		if err := c.place(at, change.To); err != nil {
			return err
		}
		return c.same(i, change.To)
	case change.From == change.To:
		return c.exchange(i)
	}
	if err := c.place(r.newPath(i), change.To); err != nil {
		return err
	}
	if at == change.From && at != "" {
		return c.putAside(i)
	}
	return nil
}

// place moves a file to where nothing may stand.
func (c *carrying) place(from, to string) error {
	err := c.disk.Place(from, to)
	if errors.Is(err, fs.ErrExist) {
		return fmt.Errorf("something came to %s while the straighten ran", show.Name(to))
	}
	return err
}

// putAside takes a file out of its old place into the journal, and looks at what came out.
func (c *carrying) putAside(i int) error {
	if err := c.still(i, c.changes[i].From); err != nil {
		return err
	}
	if err := c.disk.Place(c.changes[i].From, c.record.heldPath(i)); err != nil {
		return err
	}
	return c.same(i, c.record.heldPath(i))
}

// exchange gives a file that is edited in its place its new content, and keeps the old file. Where the system can't
// exchange two files, there is none at the place for a moment.
func (c *carrying) exchange(i int) error {
	p, held := c.changes[i].From, c.record.heldPath(i)
	if err := c.still(i, p); err != nil {
		return err
	}
	err := c.disk.Exchange(held, p)
	if errors.Is(err, errors.ErrUnsupported) {
		if err = c.disk.Place(held, c.record.newPath(i)); err != nil {
			return err
		}
		if err = c.putAside(i); err != nil {
			return err
		}
		return c.place(c.record.newPath(i), p)
	}
	if err != nil {
		return err
	}
	return c.same(i, held)
}

// still says that a file is the one that was looked at, immediately before it is taken from its place.
func (c *carrying) still(i int, p string) error {
	info, err := c.disk.Look(p)
	if err != nil {
		return c.meanwhile(i)
	}
	return c.compare(i, p, info, info.Changed.Equal(c.seen[i].Changed))
}

// same says that what was taken from its place is the file that was looked at. The system's own time of the last change
// says nothing now: a rename is one.
func (c *carrying) same(i int, p string) error {
	info, err := c.disk.Look(p)
	if err != nil {
		return c.meanwhile(i)
	}
	return c.compare(i, p, info, true)
}

func (c *carrying) compare(i int, p string, info rootfs.Info, unchanged bool) error {
	seen := &c.seen[i]
	if unchanged && !c.fresh[i] && info.ID == seen.ID && info.Size == seen.Size && info.Modified.Equal(seen.Modified) &&
		info.IsRegular() {
		return nil
	}
	if !info.IsRegular() {
		return c.meanwhile(i)
	}
	content, err := c.disk.ReadFile(p, noLimit)
	if err != nil {
		return err
	}
	if !bytes.Equal(content, c.changes[i].Before) {
		return c.meanwhile(i)
	}
	return nil
}

func (c *carrying) meanwhile(i int) error {
	return fmt.Errorf("%s was changed while the straighten ran", show.Name(c.changes[i].From))
}

// arrived says that a file stands where it was put, and that what was kept of it is as it was.
func (c *carrying) arrived(i int) error {
	if to := c.changes[i].To; to != "" {
		if info, err := c.disk.Look(to); err != nil || !info.IsRegular() {
			return fmt.Errorf("%s is gone again: somebody moved it, or a folder above it, while the straighten ran",
				show.Name(to))
		}
	}
	if c.changes[i].From != "" && c.record.Files[i].keepsOld() {
		return c.same(i, c.record.heldPath(i))
	}
	return nil
}

// keepsOld says whether the old file stays in the journal when the change is carried out.
func (e *Entry) keepsOld() bool { return e.From != "" && (e.To == "" || e.edits()) }
