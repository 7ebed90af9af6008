package project

import (
	"io/fs"
	"os"
	"path/filepath"
)

// Disk is a Source on a real folder. os.Root keeps every access below it: a link that leads out is refused by the walk
// itself, not by a check that could be raced.
type Disk struct{ root *os.Root }

// OpenDisk opens the folder.
func OpenDisk(folder string) (*Disk, error) {
	root, err := os.OpenRoot(folder)
	if err != nil {
		return nil, err
	}
	return &Disk{root: root}, nil
}

// Close lets go of the folder.
func (d *Disk) Close() error { return d.root.Close() }

// ReadDir lists a folder.
func (d *Disk) ReadDir(dir string) ([]fs.DirEntry, error) {
	f, err := d.root.Open(filepath.FromSlash(dir))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return f.ReadDir(-1)
}

// ReadFile reads a regular file; anything else is an error, so that a pipe can't hang the reader.
func (d *Disk) ReadFile(path string) ([]byte, error) {
	name := filepath.FromSlash(path)
	info, err := d.root.Lstat(name)
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, &fs.PathError{Op: "read", Path: path, Err: fs.ErrInvalid}
	}
	return d.root.ReadFile(name)
}
