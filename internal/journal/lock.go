package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/gofrs/flock"

	"crookedshelf/internal/rootfs"
)

const (
	lockFile   = Folder + "/lock"
	holderFile = Folder + "/holder"
	ignoreFile = Folder + "/.gitignore"
)

// Lock keeps every other process from writing to the same tree. The project's folder itself is locked for this process
// alone, and every folder above it for any number: so two projects side by side may be written at one time, and one in
// the other may not. There is no file that could be deleted while it is locked. Where the system can't lock folders, a
// file in the journal's folder is locked instead, and stays there.
type Lock struct {
	disk  Disk
	locks []*flock.Flock
}

// BusyError says that another process is writing.
type BusyError struct {
	Folder string // that is locked
	Holder string // who says that it holds the lock; may be empty
}

func (e *BusyError) Error() string {
	if e.Holder == "" {
		return fmt.Sprintf("another crooked is at work in %s or in a project below it; wait until it has ended",
			e.Folder)
	}
	return fmt.Sprintf("another crooked is at work in %s (%s); wait until it has ended", e.Folder, e.Holder)
}

// Acquire takes the lock of the project at root, an absolute path on which disk is open. It does not wait.
func Acquire(root string, disk Disk) (*Lock, error) {
	l := &Lock{disk: disk}
	if err := l.lock(root); err != nil {
		l.unlock()
		return nil, err
	}
	if err := disk.Mkdir(Folder, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
		l.unlock()
		return nil, fmt.Errorf("%s can't be made: %w", Folder, err)
	}
	if info, err := disk.Look(Folder); err != nil || !info.IsDir() {
		l.unlock()
		return nil, fmt.Errorf("%s is no folder, so the journal can't be kept in it; remove it first", Folder)
	}
	if _, err := disk.Look(ignoreFile); errors.Is(err, fs.ErrNotExist) {
		if err := disk.Create(ignoreFile, 0o600, []byte("*\n")); err != nil {
			l.unlock()
			return nil, err
		}
	}
	_ = disk.Remove(holderFile)
	_ = disk.Create(holderFile, 0o600, fmt.Appendf(nil, "process %d", os.Getpid()))
	return l, nil
}

// lock takes the locks from the project's folder upward.
func (l *Lock) lock(root string) error {
	real, err := filepath.EvalSymlinks(root)
	if err != nil {
		return err
	}
	for dir := real; ; dir = filepath.Dir(dir) {
		one := flock.New(dir, flock.SetFlag(os.O_RDONLY))
		try := one.TryRLock
		if dir == real {
			try = one.TryLock
		}
		got, err := try()
		switch {
		case err != nil && dir == real:
			return l.lockInstead(root)
		case err != nil: // a folder above that can't be locked governs nothing that this user may write
		case !got:
			return &BusyError{dir, holder(dir)}
		default:
			l.locks = append(l.locks, one)
		}
		if filepath.Dir(dir) == dir {
			return nil
		}
	}
}

// lockInstead locks a file where folders can't be locked.
func (l *Lock) lockInstead(root string) error {
	if err := l.disk.Mkdir(Folder, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
		return fmt.Errorf("%s can't be made: %w", Folder, err)
	}
	if info, err := l.disk.Look(lockFile); err == nil && !info.IsRegular() {
		return fmt.Errorf("%s is no file; remove it first", lockFile)
	} else if errors.Is(err, fs.ErrNotExist) {
		if err := l.disk.Create(lockFile, 0o600); err != nil && !errors.Is(err, fs.ErrExist) {
			return err
		}
	} else if err != nil {
		return err
	}
	one := flock.New(filepath.Join(root, filepath.FromSlash(lockFile)))
	got, err := one.TryLock()
	if err != nil {
		return fmt.Errorf("%s can't be locked: %w", root, err)
	}
	if !got {
		return &BusyError{root, holder(root)}
	}
	l.locks = append(l.locks, one)
	return nil
}

// holder is who says that it holds the lock of a folder.
func holder(dir string) string {
	text, err := rootfs.ReadRegular(filepath.Join(dir, filepath.FromSlash(holderFile)), 80)
	if err != nil || strings.ContainsFunc(string(text), func(r rune) bool { return r < ' ' || r > '~' }) {
		return ""
	}
	return strings.TrimSpace(string(text))
}

// Busy gives a *BusyError if another process holds the lock of the project at root.
func Busy(root string) error {
	one := flock.New(root, flock.SetFlag(os.O_RDONLY))
	got, err := one.TryRLock()
	if err != nil {
		return nil // it is not known
	}
	if !got {
		return &BusyError{root, holder(root)}
	}
	return one.Unlock()
}

func (l *Lock) unlock() error {
	var failed error
	for _, one := range l.locks {
		failed = errors.Join(failed, one.Unlock())
	}
	l.locks = nil
	return failed
}

// Release removes the journal's folder if nothing is in it, and lets the lock go.
func (l *Lock) Release() error {
	_ = l.disk.Remove(holderFile)
	if entries, err := l.disk.ReadDir(Folder); err == nil && len(entries) == 1 && entries[0].Name() == ".gitignore" {
		_ = l.disk.Remove(ignoreFile)
		_ = l.disk.Remove(Folder)
	}
	return l.unlock()
}
