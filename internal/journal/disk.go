package journal

import (
	"io/fs"
	"os"
	"path/filepath"
	"time"
)

// Disk is all that this package does to a file system. Paths are slash-separated and relative to the root. The tests have
// a twin of it that fails at a chosen moment.
type Disk interface {
	Lstat(path string) (fs.FileInfo, error)
	ReadFile(path string) ([]byte, error)
	ReadDir(path string) ([]fs.DirEntry, error)
	// Create writes a new file; one that is there already is an error.
	Create(path string, content []byte, mode fs.FileMode) error
	// Rename moves a file onto a path; what is there is replaced in one instant.
	Rename(from, to string) error
	Remove(path string) error
	Mkdir(path string, mode fs.FileMode) error
	Chtimes(path string, modified time.Time) error
	// Sync returns when what was written to the paths, and what was renamed in their folders, is on the disk.
	Sync(paths []string) error
}

// RootDisk is a Disk on a real folder. os.Root keeps every access below it.
type RootDisk struct{ root *os.Root }

// OpenDisk opens a folder for writing.
func OpenDisk(folder string) (*RootDisk, error) {
	root, err := os.OpenRoot(folder)
	if err != nil {
		return nil, err
	}
	return &RootDisk{root}, nil
}

// Close lets go of the folder.
func (d *RootDisk) Close() error { return d.root.Close() }

// Lstat implements Disk.
func (d *RootDisk) Lstat(path string) (fs.FileInfo, error) {
	return d.root.Lstat(filepath.FromSlash(path))
}

// ReadFile implements Disk.
func (d *RootDisk) ReadFile(path string) ([]byte, error) {
	return d.root.ReadFile(filepath.FromSlash(path))
}

// ReadDir implements Disk.
func (d *RootDisk) ReadDir(path string) ([]fs.DirEntry, error) {
	f, err := d.root.Open(filepath.FromSlash(path))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return f.ReadDir(-1)
}

// Create implements Disk.
func (d *RootDisk) Create(path string, content []byte, mode fs.FileMode) error {
	f, err := d.root.OpenFile(filepath.FromSlash(path), os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = f.Write(content)
	if err == nil {
		err = f.Chmod(mode.Perm())
	}
	if closed := f.Close(); err == nil {
		err = closed
	}
	return err
}

// Rename implements Disk.
func (d *RootDisk) Rename(from, to string) error {
	return d.root.Rename(filepath.FromSlash(from), filepath.FromSlash(to))
}

// Remove implements Disk.
func (d *RootDisk) Remove(path string) error { return d.root.Remove(filepath.FromSlash(path)) }

// Mkdir implements Disk.
func (d *RootDisk) Mkdir(path string, mode fs.FileMode) error {
	if err := d.root.Mkdir(filepath.FromSlash(path), 0o700); err != nil {
		return err
	}
	return d.root.Chmod(filepath.FromSlash(path), mode.Perm())
}

// Chtimes implements Disk.
func (d *RootDisk) Chtimes(path string, modified time.Time) error {
	return d.root.Chtimes(filepath.FromSlash(path), modified, modified)
}

// syncEach syncs the paths one by one, and the folders that they lie in.
func (d *RootDisk) syncEach(paths []string) error {
	folders := map[string]bool{}
	for _, p := range paths {
		if err := d.syncOne(p); err != nil && !os.IsNotExist(err) {
			return err
		}
		folders[filepath.Dir(filepath.FromSlash(p))] = true
	}
	for folder := range folders {
		_ = d.syncOne(folder) // not every system can sync a folder, and one that is gone needs none
	}
	return nil
}

func (d *RootDisk) syncOne(path string) error {
	f, err := d.root.Open(filepath.FromSlash(path))
	if err != nil {
		return err
	}
	defer f.Close()
	return f.Sync()
}
