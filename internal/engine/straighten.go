package engine

import (
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"time"

	"crookedshelf/internal/journal"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/rootfs"
)

// PendingError tells of a straighten that was stopped half way.
type PendingError struct{ Record *journal.Record }

func (e *PendingError) Error() string {
	what, back := "a straighten", "the old tree"
	if e.Record.Step > 0 {
		what, back = fmt.Sprintf("step %d of a straighten", e.Record.Step), "the tree before that step"
	}
	return fmt.Sprintf("%s of %s was stopped half way; crooked undo gives %s back", what, e.Record.Time.Format("2006-01-02 15:04 MST"), back)
}

// CheckPending gives a *PendingError if a straighten of the project was stopped half way.
func CheckPending(root string) error {
	disk, err := rootfs.Open(root)
	if err != nil {
		return err
	}
	defer disk.Close()
	pending, err := journal.Pending(disk)
	if err != nil {
		return err
	}
	if pending != nil {
		return &PendingError{pending}
	}
	return nil
}

// Straighten carries an outcome out, whole or as a step.
func (p *Project) Straighten(out *plan.Outcome, title string, part journal.Part, now time.Time) error {
	disk, err := rootfs.Open(p.Root)
	if err != nil {
		return err
	}
	defer disk.Close()
	lock, err := journal.Acquire(p.Root, disk)
	if err != nil {
		return err
	}
	defer lock.Release()
	if pending, err := journal.Pending(disk); err != nil {
		return err
	} else if pending != nil {
		return &PendingError{pending}
	}
	changes := make([]journal.Change, len(out.Files))
	parallel.Do(len(changes), func(i int) {
		f := &out.Files[i]
		changes[i] = journal.Change{From: f.From, To: f.To, Before: f.Before, After: f.After()}
	})
	_, err = journal.Apply(disk, title, part, changes, now)
	return err
}

// Undo takes straightens of the project at root back. It needs no convention.
func Undo(root string, how journal.Range) ([]*journal.Outcome, error) {
	var out []*journal.Outcome
	err := withJournal(root, func(disk *rootfs.FS) (err error) {
		out, err = journal.Undo(disk, how)
		return err
	})
	return out, err
}

// Straightens lists what can be taken back, the oldest first.
func Straightens(root string) ([]*journal.Record, error) {
	var out []*journal.Record
	err := withJournal(root, func(disk *rootfs.FS) (err error) {
		out, err = journal.Records(disk)
		return err
	})
	if errors.Is(err, journal.ErrNothing) {
		return nil, nil
	}
	return slices.DeleteFunc(out, func(r *journal.Record) bool { return r.State == journal.Unbegun || r.State == journal.Undone }), err
}

// withJournal opens the journal of a project under its lock. Where there is none the error is journal.ErrNothing.
func withJournal(root string, work func(disk *rootfs.FS) error) error {
	root, err := openRoot(root)
	if err != nil {
		return err
	}
	disk, err := rootfs.Open(root)
	if err != nil {
		return err
	}
	defer disk.Close()
	if _, err := disk.Lstat(journal.Folder); errors.Is(err, fs.ErrNotExist) {
		return journal.ErrNothing
	}
	lock, err := journal.Acquire(root, disk)
	if err != nil {
		return err
	}
	defer lock.Release()
	return work(disk)
}
