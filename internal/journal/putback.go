package journal

import (
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"strconv"

	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/show"
)

// takeAway clears the new places. A file that is whole and unchanged is renamed back, which keeps all that hangs on it;
// what the straighten wrote is put into the journal. What is another file's old place is cleared only of what came
// there.
func (u *undoing) takeAway() error {
	return u.each(func(i int, f *Entry) (string, error) {
		if f.To == "" || f.inPlace() {
			return "", nil
		}
		now, info, err := u.at(f.To, i)
		if err != nil && blocked(err) { // a folder on the way is none any more: nothing of ours is there
			return "", nil
		}
		if err != nil || now == nothing {
			return "", err
		}
		if now == oldOne && f.edits() && u.key(f.From) == u.key(f.To) && !u.disk.Named(f.To) {
			return "", nil // by another spelling of its name this is the old file, which has not left yet
		}
		ours := now == newOne || now == oldOne && !f.edits()
		leaver, crossed := u.froms[u.key(f.To)]
		if crossed = crossed && leaver != i; crossed &&
			(!ours || info.ID == u.record.Files[leaver].ID && info.ID != f.ID) {
			return "", nil // the other's file, which has not left yet or is back; else putBack reports it
		}
		_, wanted := u.tos[u.key(f.From)]
		switch {
		case now == newOne:
			return u.takeWritten(i, f.To, info)
		case ours:
			return u.bringBack(i, f, info, crossed || wanted || u.key(f.From) == u.key(f.To))
		case u.begun && f.From != "" && !f.edits() && info.ID == f.ID && info.ID != (rootfs.FileID{}):
			return changedMeanwhile(f.From), u.disk.Place(f.To, f.From)
		case f.From == "":
			return fmt.Sprintf("%s was written by the straighten and changed afterwards; it was left there",
				show.Name(f.To)), nil
		}
		return fmt.Sprintf("%s was changed after the move; it was left there, and its old content is at %s again",
			show.Name(f.To), show.Name(f.From)), nil
	})
}

// bringBack brings a file that only moved back to its old place, or into the journal where that place is not to be had
// yet.
func (u *undoing) bringBack(i int, f *Entry, info rootfs.Info, crossed bool) (string, error) {
	if !crossed { // else its place may not be free yet, or be the one where it is: see asidePath
		err := u.disk.Place(f.To, f.From)
		if err == nil {
			return u.broughtBack(i, f, info)
		}
		if !errors.Is(err, fs.ErrExist) {
			return "", err
		}
		if there, _, err := u.at(f.From, i); err != nil || there != oldOne {
			return fmt.Sprintf("something else stands at %s; the file was left at %s", show.Name(f.From),
				show.Name(f.To)), err
		}
	}
	held := u.record.heldPath(i)
	if already, _, err := u.at(held, i); err != nil {
		return "", err
	} else if already == oldOne { // an undo before this one wrote the old content, and was stopped
		if err := u.disk.Remove(held); err != nil {
			return "", err
		}
	}
	return "", u.disk.Place(f.To, held)
}

// broughtBack looks at what was brought back: somebody may have saved it at the last moment.
func (u *undoing) broughtBack(i int, f *Entry, info rootfs.Info) (string, error) {
	if now, err := u.disk.Look(f.From); err == nil && alike(now, info) {
		u.back[i] = true
		return "", nil
	}
	now, _, err := u.at(f.From, i)
	if err != nil || now == oldOne {
		return "", err
	}
	return changedMeanwhile(f.From), nil
}

func changedMeanwhile(p string) string {
	return show.Name(p) + " was changed meanwhile; it is there as it was saved, and its old content stays in the journal"
}

// alike says whether a file is as it was looked at before, as far as its number, size and time tell.
func alike(now, before rootfs.Info) bool {
	return now.ID == before.ID && now.Size == before.Size && now.Modified.Equal(before.Modified) && now.IsRegular() &&
		!isFresh(before)
}

// takeWritten takes what the straighten wrote out of its place, and puts it back if it is not that any more.
func (u *undoing) takeWritten(i int, p string, info rootfs.Info) (string, error) {
	to := u.record.takenPath(i)
	if already, _, err := u.at(to, i); err != nil {
		return "", err
	} else if already == newOne { // an undo before this one was stopped
		if err := u.disk.Remove(to); err != nil {
			return "", err
		}
	}
	if err := u.disk.Place(p, to); err != nil {
		return "", err
	}
	return u.checkTaken(i, p, info, func() error { return u.disk.Place(to, p) })
}

// checkTaken looks at what was taken from a place, and calls back if somebody saved it at the last moment.
func (u *undoing) checkTaken(i int, p string, info rootfs.Info, back func() error) (string, error) {
	to := u.record.takenPath(i)
	now, err := u.disk.Look(to)
	if err != nil {
		return "", err
	}
	u.taken[i] = now
	if alike(now, info) {
		return "", nil
	}
	content, now, err := u.at(to, i)
	if err != nil {
		return "", err
	}
	if u.taken[i] = now; content == newOne {
		return "", nil
	}
	if err := back(); err != nil {
		return fmt.Sprintf("%s was changed meanwhile; what was saved is in %s", show.Name(p), show.Name(to)), nil
	}
	u.taken[i] = rootfs.Info{}
	return fmt.Sprintf("%s was changed meanwhile; it was left as it is, and its old content stays in the journal",
		show.Name(p)), nil
}

// putBack gives every old place its old file.
func (u *undoing) putBack() error {
	return u.each(func(i int, f *Entry) (string, error) {
		if f.From == "" || u.back[i] {
			return "", nil
		}
		now, info, err := u.at(f.From, i)
		if err != nil || now == oldOne {
			return "", err
		}
		if now == nothing || now == newOne && f.inPlace() {
			from, notice, err := u.oldFile(i, f)
			if err != nil {
				return "", err
			}
			if now == newOne {
				kept, err := u.exchangeOld(i, f, from, info)
				return cmp.Or(kept, notice), err
			}
			return notice, u.disk.Place(from, f.From)
		}
		return fmt.Sprintf("%s was changed afterwards; it was left as it is, and its old content stays in the "+
			"journal: crooked undo --extract writes it out", show.Name(f.From)), nil
	})
}

// oldFile gives where the old file is: the very file if it is in the journal, else a new one with its content from the
// pack. If somebody has changed it there, it says so.
func (u *undoing) oldFile(i int, f *Entry) (from, notice string, err error) {
	from = u.record.heldPath(i)
	held, _, err := u.at(from, i)
	switch {
	case err != nil:
		return "", "", err
	case held == oldOne:
		return from, "", nil
	case held == other:
		return from, changedMeanwhile(f.From), nil
	}
	from, err = u.written(i, f)
	return from, "", err
}

// exchangeOld gives a file that was edited in its place its old content again.
func (u *undoing) exchangeOld(i int, f *Entry, from string, info rootfs.Info) (string, error) {
	err := u.disk.Exchange(from, f.From)
	if errors.Is(err, errors.ErrUnsupported) {
		if kept, err := u.takeWritten(i, f.From, info); err != nil || kept != "" {
			return kept, err
		}
		return "", u.disk.Place(from, f.From)
	}
	if err != nil {
		return "", err
	}
	if err := u.disk.Rename(from, u.record.takenPath(i)); err != nil {
		return "", err
	}
	return u.checkTaken(i, f.From, info, func() error { return u.disk.Exchange(u.record.takenPath(i), f.From) })
}

// written writes the old content of a file beside the journal, with the attributes that are known of it.
func (u *undoing) written(i int, f *Entry) (string, error) {
	p := path.Join(u.record.folder(), "back-"+strconv.Itoa(i))
	if err := u.disk.Remove(p); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return "", err
	}
	if err := u.disk.Create(p, f.Mode, u.old[i]); err != nil {
		return "", err
	}
	if err := u.disk.SetAttributes(p, rootfs.Attributes{Mode: f.Mode, UID: f.UID, GID: f.GID}); err != nil {
		return "", err
	}
	return p, u.disk.Chtimes(p, f.Modified.Time())
}
