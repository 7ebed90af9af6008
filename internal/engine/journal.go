package engine

import (
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"

	"crookedshelf/internal/git"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/show"
)

// PendingError reports a straighten, or an undo, that was stopped half way.
type PendingError struct {
	Record *journal.Record
	Root   string // of the project, where it is another one
}

func (e *PendingError) Error() string {
	what, back := "a straighten", "the old tree"
	if e.Record.Step > 0 {
		what, back = fmt.Sprintf("step %d of a straighten", e.Record.Step), "the tree before that step"
	}
	undo := "crooked undo"
	if e.Root != "" {
		undo += " --root " + show.Name(e.Root)
	}
	what += " of " + e.Record.Time.Time().Format("2006-01-02 15:04 MST")
	if e.Record.State == journal.Undoing {
		return fmt.Sprintf("the undo of %s was stopped half way; %s goes on with it and gives %s back", what, undo,
			back)
	}
	return fmt.Sprintf("%s was stopped half way; %s gives %s back", what, undo, back)
}

// checkJournals gives an error if something is stopped half way, or is being written, in the project at root or in one
// around it. It gives the records of what was done here, and warnings of those that can't be read or were not made
// here.
func checkJournals(root string, memory *journal.Memory) (done []*journal.Record, warnings []string, err error) {
	if done, warnings, err = checkJournal(root, memory); err != nil {
		return nil, nil, err
	}
	for dir := filepath.Dir(root); ; dir = filepath.Dir(dir) {
		if err := pendingElsewhere(dir); err != nil {
			return nil, nil, err
		}
		if filepath.Dir(dir) == dir {
			return done, warnings, nil
		}
	}
}

// pendingElsewhere looks at a project around this one or in it, of which only what is certain counts.
func pendingElsewhere(root string) error {
	var pending *PendingError
	var busy *journal.BusyError
	switch _, _, err := checkJournal(root, nil); {
	case errors.As(err, &pending):
		pending.Root = root
		return pending
	case errors.As(err, &busy):
		return busy
	}
	return nil
}

// checkJournal reads the journal of a project, if there is one. A straighten that runs just now is not taken for one
// that was stopped by its lock.
func checkJournal(root string, memory *journal.Memory) (done []*journal.Record, warnings []string, err error) {
	if _, err := rootfs.LookAt(filepath.Join(root, filepath.FromSlash(journal.Folder))); err != nil {
		return nil, nil, nil
	}
	j, closeIt, err := openJournal(root)
	if err != nil {
		return nil, nil, err
	}
	defer closeIt()
	j = j.Remembering(memory)
	records, err := j.Records()
	if err != nil {
		return nil, nil, err
	}
	if err := pendingAmong(j, records); err != nil {
		return nil, nil, cmp.Or(tracksJournal(root), journal.Busy(root), err)
	}
	for _, r := range records {
		if err := j.Usable(r); err != nil {
			warnings = append(warnings, strings.ReplaceAll(err.Error(), "\n", " "))
		} else if r.State == journal.Done {
			done = append(done, r)
		}
	}
	return done, warnings, nil
}

// pendingAmong gives an error if one of the records is of something that was stopped half way, or its state can't be
// read.
func pendingAmong(j *journal.Journal, records []*journal.Record) error {
	for _, r := range records {
		if r.Pending() {
			return cmp.Or(j.Usable(r), error(&PendingError{Record: r}))
		}
	}
	return nil
}

// tracksJournal gives an error if git tracks the journal: whoever clones the repository would get what one checkout
// did.
func tracksJournal(root string) error {
	w := git.Find(root)
	if w == nil {
		return nil
	}
	at := slices.IndexFunc(w.Tracked(), func(p string) bool {
		return project.Fold(p) == journal.Folder || strings.HasPrefix(project.Fold(p), journal.Folder+"/")
	})
	if at < 0 {
		return nil
	}
	return fmt.Errorf("git tracks %s: a journal is of one checkout, and one that came with a repository is not "+
		"believed. Take it out with git rm -r --cached %s, and delete the folder if it is not yours",
		show.Name(w.Tracked()[at]), journal.Folder)
}

// openJournal opens the journal of a project for reading. done lets go of it.
func openJournal(root string) (j *journal.Journal, done func(), err error) {
	root, err = openRoot(root)
	if err != nil {
		return nil, nil, err
	}
	disk, err := openGuarded(root)
	if err != nil {
		return nil, nil, err
	}
	key, err := usedKey()
	if err != nil {
		disk.Close()
		return nil, nil, err
	}
	return journal.Open(disk, key), func() { disk.Close() }, nil
}

// openGuarded opens a folder for writing: what belongs to git or to the journal can't be entered by another name than
// its own.
func openGuarded(root string) (*rootfs.FS, error) {
	disk, err := rootfs.Open(root)
	if err != nil {
		return nil, err
	}
	guard(disk, root)
	return disk, nil
}

func guard(disk *rootfs.FS, root string) {
	disk.Guard(filepath.Join(root, ".git"), "")
	if w := git.Find(root); w != nil {
		for _, folder := range w.Folders() {
			disk.Guard(folder, "")
		}
	}
	disk.Guard(filepath.Join(root, journal.Folder), journal.Folder)
}

// withJournal opens the journal of a project under its lock. Where there is none the error is journal.ErrNothing.
func withJournal(root string, work func(j *journal.Journal) error) error {
	root, err := openRoot(root)
	if err != nil {
		return err
	}
	if _, err := rootfs.LookAt(filepath.Join(root, filepath.FromSlash(journal.Folder))); errors.Is(err,
		fs.ErrNotExist) {
		return journal.ErrNothing
	}
	key, err := usedKey()
	if err != nil {
		return err
	}
	return withLock(root, key, work)
}

// withLock works on the journal of a project under its lock.
func withLock(root string, key []byte, work func(j *journal.Journal) error) error {
	disk, err := openGuarded(root)
	if err != nil {
		return err
	}
	defer disk.Close()
	if err := tracksJournal(root); err != nil {
		return err
	}
	lock, err := journal.Acquire(root, disk)
	if err != nil {
		return err
	}
	defer func() { _ = lock.Release() }() // what can't be let go ends with the process
	guard(disk, root)                     // the journal's folder is there by now
	return work(journal.Open(disk, key))
}
