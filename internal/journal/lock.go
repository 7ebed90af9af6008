package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/gofrs/flock"
)

const (
	lockFile   = Folder + "/lock"
	holderFile = Folder + "/holder"
	ignoreFile = Folder + "/.gitignore"
)

// Lock keeps every other process from writing to the same project.
type Lock struct {
	disk  Disk
	flock *flock.Flock
}

// Acquire takes the lock of the project at root, on which disk is open. It does not wait.
func Acquire(root string, disk Disk) (*Lock, error) {
	if err := disk.Mkdir(Folder, 0o700); err != nil && !errors.Is(err, fs.ErrExist) {
		return nil, fmt.Errorf("%s can't be made: %w", Folder, err)
	}
	for _, p := range []string{Folder, lockFile} { // a link would lead the lock out of the project
		if info, err := disk.Lstat(p); err == nil && info.Mode()&fs.ModeSymlink != 0 {
			return nil, fmt.Errorf("%s is a link; remove it first", p)
		}
	}
	if _, err := disk.Lstat(ignoreFile); errors.Is(err, fs.ErrNotExist) {
		if err := disk.Create(ignoreFile, 0o600, []byte("*\n")); err != nil {
			return nil, err
		}
	}
	l := &Lock{disk: disk, flock: flock.New(filepath.Join(root, filepath.FromSlash(lockFile)))}
	ok, err := l.flock.TryLock()
	if err != nil {
		return nil, err
	}
	if !ok {
		holder, _ := disk.ReadFile(holderFile, noLimit)
		return nil, fmt.Errorf("another crooked is at work here%s", describe(holder))
	}
	_ = disk.Remove(holderFile)
	_ = disk.Create(holderFile, 0o600, fmt.Appendf(nil, "process %d", os.Getpid()))
	return l, nil
}

func describe(holder []byte) string {
	if text := strings.TrimSpace(string(holder)); text != "" && len(text) < 80 {
		return " (" + text + ")"
	}
	return ""
}

// Release lets the lock go, and removes the journal's folder if no record is in it.
func (l *Lock) Release() error {
	_ = l.disk.Remove(holderFile)
	if _, err := l.disk.Lstat(recordsFolder); errors.Is(err, fs.ErrNotExist) {
		_ = l.disk.Remove(ignoreFile)
		_ = l.disk.Remove(lockFile)
		_ = l.disk.Remove(Folder)
	}
	err := l.flock.Unlock()
	_ = l.disk.Remove(Folder) // some systems keep a file that is open in its folder, so it is empty only now
	return err
}

// cleanUp removes the folder of the records if it is empty.
func cleanUp(disk Disk) error {
	_ = disk.Remove(recordsFolder)
	return nil
}
