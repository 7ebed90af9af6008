package journal

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"
	"time"

	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
)

// Apply carries the changes out: all of them, or after an error none. The lock must be held.
func Apply(disk Disk, title string, part Part, changes []Change, now time.Time) (*Record, error) {
	r, err := prepare(disk, title, changes, now)
	if err != nil {
		return nil, err
	}
	r.Run, r.Step = part.Run, part.Step
	if err := r.write(disk, changes); err != nil {
		_ = r.discard(disk)
		_ = cleanUp(disk)
		return nil, fmt.Errorf("the journal can't be written, and nothing was changed: %w", err)
	}
	if err := r.carryOut(disk, changes); err != nil {
		if _, undone := undo(disk, r); undone != nil {
			return nil, fmt.Errorf("%w; and it could not be taken back (%s): run crooked undo", err, undone)
		}
		return nil, fmt.Errorf("%w; all is as it was", err)
	}
	return r, nil
}

// prepare checks the disk against the changes and works out the record. Nothing is written.
func prepare(disk Disk, title string, changes []Change, now time.Time) (*Record, error) {
	r := &Record{Version: formatVersion, Time: now.UTC(), Title: title}
	leaving := map[string][]string{} // by what some systems take for the same path
	for _, c := range changes {
		if c.From != c.To && c.From != "" {
			leaving[project.Fold(c.From)] = append(leaving[project.Fold(c.From)], c.From)
		}
	}
	r.Files = make([]Entry, len(changes))
	if err := parallel.Try(len(changes), func(i int) (err error) {
		r.Files[i], err = look(disk, changes[i], leaving)
		return err
	}); err != nil {
		return nil, err
	}
	made, emptied := map[string]bool{}, map[string]Dir{}
	var offset int64
	for i, c := range changes {
		r.Files[i].Offset = offset
		offset += r.Files[i].Size
		if c.From == c.To {
			continue
		}
		if err := r.folders(disk, c, made, emptied); err != nil {
			return nil, err
		}
	}
	var err error
	if r.Respelled, err = respellings(disk, changes); err != nil {
		return nil, err
	}
	for d := range made {
		r.Made = append(r.Made, d)
	}
	slices.Sort(r.Made)
	for _, d := range emptied {
		r.Emptied = append(r.Emptied, d)
	}
	slices.SortFunc(r.Emptied, func(a, b Dir) int { return strings.Compare(b.Path, a.Path) })
	return r, nil
}

// look holds one change against the disk: the file must be as it was read, and its new place free.
func look(disk Disk, c Change, leaving map[string][]string) (Entry, error) {
	if c.From == "" {
		if taken(disk, c.To, leaving) {
			return Entry{}, fmt.Errorf("something stands at %s already (git may ignore it)", c.To)
		}
		return Entry{To: c.To, Before: sum(nil), After: sum(c.After), Mode: 0o644}, nil
	}
	info, err := disk.Lstat(c.From)
	if err != nil {
		return Entry{}, fmt.Errorf("%s can't be looked at: %w", c.From, err)
	}
	content, err := disk.ReadFile(c.From, noLimit)
	if err != nil {
		return Entry{}, err
	}
	if !info.Mode().IsRegular() || !bytes.Equal(content, c.Before) {
		return Entry{}, fmt.Errorf("%s has changed since it was read", c.From)
	}
	if c.From != c.To && c.To != "" && taken(disk, c.To, leaving) {
		return Entry{}, fmt.Errorf("something stands at %s already (git may ignore it)", c.To)
	}
	before := sum(c.Before)
	after := before
	if c.edits() || c.To == "" {
		after = sum(c.After)
	}
	return Entry{
		From: c.From, To: c.To, Before: before, After: after, Mode: info.Mode().Perm(), Modified: info.ModTime(), Size: int64(len(content)),
	}, nil
}

// taken says whether something stands at a path that does not leave it.
func taken(disk Disk, p string, leaving map[string][]string) bool {
	if _, err := disk.Lstat(p); err != nil {
		return false
	}
	olds := leaving[project.Fold(p)]
	return !slices.Contains(olds, p) && (len(olds) == 0 || disk.Named(p))
}

// folders notes which folders a move makes and which it may empty.
func (r *Record) folders(disk Disk, c Change, made map[string]bool, emptied map[string]Dir) error {
	for dir := path.Dir(c.To); dir != "." && c.To != "" && !made[dir]; dir = path.Dir(dir) {
		info, err := disk.Lstat(dir)
		if err == nil && !info.IsDir() {
			return fmt.Errorf("%s is no folder, so %s can't be put there", dir, c.To)
		}
		if err == nil {
			break
		}
		if !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		made[dir] = true
	}
	if c.From == "" {
		return nil
	}
	for dir := path.Dir(c.From); dir != "."; dir = path.Dir(dir) {
		if _, known := emptied[dir]; known {
			break
		}
		info, err := disk.Lstat(dir)
		if err != nil {
			return err
		}
		emptied[dir] = Dir{dir, info.Mode().Perm()}
	}
	return nil
}

// write puts the record and the old contents on the disk. The state comes last: without it the record counts for nothing.
func (r *Record) write(disk Disk, changes []Change) error {
	records, err := Records(disk)
	if err != nil {
		return err
	}
	next := 1
	for _, old := range records {
		next = number(old.Name) + 1
	}
	r.Name = fmt.Sprintf("%04d", next)
	for _, dir := range []string{recordsFolder, r.folder(), path.Join(r.folder(), "new"), path.Join(r.folder(), "held")} {
		if err := disk.Mkdir(dir, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	text, err := json.MarshalIndent(r, "", " ")
	if err != nil {
		return err
	}
	pack := make([][]byte, len(changes))
	for i, c := range changes {
		pack[i] = c.Before
	}
	recordPath, packPath := path.Join(r.folder(), recordFile), path.Join(r.folder(), packFile)
	if err := disk.Create(recordPath, 0o600, text); err != nil {
		return err
	}
	if err := disk.Create(packPath, 0o600, pack...); err != nil {
		return err
	}
	if err := parallel.Try(len(changes), func(i int) error {
		if !changes[i].edits() {
			return nil
		}
		if err := disk.Create(r.newPath(i), r.Files[i].Mode, changes[i].After); err != nil || changes[i].From == "" {
			return err
		}
		return disk.CopyAttributes(changes[i].From, r.newPath(i))
	}); err != nil {
		return err
	}
	if err := disk.Sync([]string{recordPath, packPath, r.folder(), recordsFolder}); err != nil {
		return err
	}
	return r.setState(disk, Begun)
}

// newPath is where the new content of a file waits to be renamed into its place.
func (r *Record) newPath(i int) string { return path.Join(r.folder(), "new", fmt.Sprint(i)) }

// heldPath is where a file waits whose old place another file takes.
func (r *Record) heldPath(i int) string { return path.Join(r.folder(), "held", fmt.Sprint(i)) }

// carryOut makes the changes. Files whose old place is wanted are put aside first, so the order of the rest is free.
func (r *Record) carryOut(disk Disk, changes []Change) error {
	if err := r.respell(disk); err != nil {
		return err
	}
	for _, dir := range r.Made {
		if err := disk.Mkdir(dir, 0o755); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	}
	wanted := map[string]bool{}
	for _, c := range changes {
		if c.From != c.To && c.To != "" {
			wanted[project.Fold(c.To)] = true
		}
	}
	at := make([]string, len(changes))
	for i, c := range changes {
		at[i] = c.From
		if c.From != "" && c.From != c.To && wanted[project.Fold(c.From)] {
			at[i] = r.heldPath(i)
			if err := disk.Rename(c.From, at[i]); err != nil {
				return err
			}
		}
	}
	touched := make([]string, len(changes), len(changes)+len(r.Respelled))
	if err := parallel.Try(len(changes), func(i int) error {
		if touched[i] = changes[i].To; touched[i] == "" { // its folder may go too
			touched[i] = r.folder()
		}
		return r.putInPlace(disk, i, changes[i], at[i])
	}); err != nil {
		return err
	}
	for _, d := range r.Emptied {
		_ = disk.Remove(d.Path) // a folder that is not empty stays
	}
	for _, s := range r.Respelled {
		touched = append(touched, s.To)
	}
	if err := disk.Sync(touched); err != nil {
		return err
	}
	return r.setState(disk, Done)
}

func (r *Record) putInPlace(disk Disk, i int, c Change, at string) error {
	if c.To == "" {
		return disk.Remove(at)
	}
	if !c.edits() {
		return disk.Rename(at, c.To)
	}
	if err := disk.Rename(r.newPath(i), c.To); err != nil {
		return err
	}
	if c.From == c.To || c.From == "" {
		return nil
	}
	return disk.Remove(at)
}
