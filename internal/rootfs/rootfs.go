// Package rootfs is the disk below one folder. os.Root keeps every access inside: a link that leads out is refused by the
// walk itself, not by a check that could be raced. Paths are slash-separated and relative to the folder; "." is the
// folder.
//
// Walking to a file costs a call for each folder on the way, so the folders used last are kept open. Reading on Linux asks the
// system itself for the same, in one call, and takes the other way where that is refused.
package rootfs

import (
	"bufio"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sync"
	"time"
)

// most is how many folders are kept open: more than the workers need, far fewer than a process may have.
const most = 128

// FS is a folder with what lies below it. It is safe for use by several goroutines.
type FS struct {
	root *os.Root
	top  handle

	mu   sync.Mutex
	dirs map[string]*dir
}

// dir is an open folder. One that was dropped is closed when the last use of it ends.
type dir struct {
	*os.Root
	users   int
	dropped bool
}

// Open opens a folder.
func Open(folder string) (*FS, error) {
	root, err := os.OpenRoot(folder)
	if err != nil {
		return nil, err
	}
	return &FS{root: root, top: newHandle(root), dirs: map[string]*dir{}}, nil
}

// Close lets go of the folder.
func (f *FS) Close() error {
	f.mu.Lock()
	defer f.mu.Unlock()
	for p := range f.dirs {
		f.drop(p)
	}
	f.top.close()
	return f.root.Close()
}

// within calls use with the folder that p lies in, and p's name there.
func (f *FS) within(p string, use func(in *os.Root, name string) error) error {
	parent, name := path.Split(path.Clean(p))
	if parent == "" {
		return use(f.root, name)
	}
	d, err := f.enter(parent[:len(parent)-1])
	if err != nil {
		return err
	}
	defer f.leave(d)
	return use(d.Root, name)
}

func (f *FS) enter(p string) (*dir, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	d := f.dirs[p]
	if d == nil {
		root, err := f.root.OpenRoot(filepath.FromSlash(p))
		if err != nil {
			return nil, err
		}
		for old, o := range f.dirs { // make room; which one goes is no matter
			if len(f.dirs) < most {
				break
			}
			if o.users == 0 {
				f.drop(old)
			}
		}
		d = &dir{Root: root}
		f.dirs[p] = d
	}
	d.users++
	return d, nil
}

func (f *FS) leave(d *dir) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if d.users--; d.users == 0 && d.dropped {
		d.Close()
	}
}

// drop forgets an open folder. The lock must be held.
func (f *FS) drop(p string) {
	d := f.dirs[p]
	if d == nil {
		return
	}
	delete(f.dirs, p)
	if d.dropped = true; d.users == 0 {
		d.Close()
	}
}

// ReadDir lists a folder, in no order. Of an entry the name and the kind are known, and no more.
func (f *FS) ReadDir(p string) (entries []fs.DirEntry, err error) {
	if entries, ok := f.top.list(p); ok {
		return entries, nil
	}
	err = f.within(p, func(in *os.Root, name string) error {
		d, err := in.Open(name)
		if err != nil {
			return err
		}
		defer d.Close()
		entries, err = d.ReadDir(-1)
		return err
	})
	return entries, err
}

// ReadFile reads a regular file of at most limit bytes; anything else is an error, and a pipe does not hang the reader.
func (f *FS) ReadFile(p string, limit int64) ([]byte, error) { return f.ReadInto(nil, p, limit) }

// ReadInto is ReadFile that puts the content into a room, if that is large enough.
func (f *FS) ReadInto(room []byte, p string, limit int64) (content []byte, err error) {
	if content, done, err := f.top.read(room, p, limit); done {
		return content, err
	}
	err = f.within(p, func(in *os.Root, name string) error {
		file, err := in.OpenFile(name, os.O_RDONLY|nonBlocking, 0)
		if err != nil {
			return err
		}
		defer file.Close()
		info, err := file.Stat()
		switch {
		case err != nil:
			return err
		case !info.Mode().IsRegular():
			return &fs.PathError{Op: "read", Path: p, Err: fs.ErrInvalid}
		case info.Size() > limit:
			return &fs.PathError{Op: "read", Path: p, Err: fmt.Errorf("it is larger than %d MB", limit>>20)}
		}
		content = space(room, info.Size())
		n, err := file.Read(content)
		if err == nil && n < len(content)-1 { // not all at once
			var more int
			more, err = io.ReadFull(file, content[n:])
			n += more
		}
		if err == nil && n == len(content) { // it has grown since
			rest, err := io.ReadAll(io.LimitReader(file, limit))
			content = append(content, rest...)
			return err
		}
		if content = content[:n]; err == nil || err == io.ErrUnexpectedEOF || err == io.EOF {
			return nil
		}
		return err
	})
	return content, err
}

// space gives room for a file of a size, and one byte more, so that a short read shows the end.
func space(room []byte, size int64) []byte {
	if int64(cap(room)) > size {
		return room[:size+1]
	}
	return make([]byte, size+1)
}

// Lstat looks at a file, folder or link.
func (f *FS) Lstat(p string) (info fs.FileInfo, err error) {
	err = f.within(p, func(in *os.Root, name string) error {
		info, err = in.Lstat(name)
		return err
	})
	return info, err
}

// Create writes a new file from parts; one that is there already is an error.
func (f *FS) Create(p string, mode fs.FileMode, parts ...[]byte) error {
	return f.within(p, func(in *os.Root, name string) error {
		file, err := in.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
		if err != nil {
			return err
		}
		out := bufio.NewWriterSize(file, bufferFor(parts))
		for _, part := range parts {
			if _, err = out.Write(part); err != nil {
				break
			}
		}
		if err == nil {
			err = out.Flush()
		}
		if err == nil && mode.Perm() != 0o600 {
			err = file.Chmod(mode.Perm())
		}
		if closed := file.Close(); err == nil {
			err = closed
		}
		return err
	})
}

// bufferFor is the size of the buffer that parts are gathered in; a single part needs none.
func bufferFor(parts [][]byte) int {
	if len(parts) > 1 {
		return 1 << 18
	}
	return 1
}

// Rename moves a file onto a path; what is there is replaced in one instant.
func (f *FS) Rename(from, to string) error {
	if path.Dir(from) == path.Dir(to) {
		return f.within(from, func(in *os.Root, name string) error { return in.Rename(name, path.Base(to)) })
	}
	return f.root.Rename(filepath.FromSlash(from), filepath.FromSlash(to))
}

// Remove deletes a file or an empty folder.
func (f *FS) Remove(p string) error {
	f.mu.Lock()
	f.drop(path.Clean(p))
	f.mu.Unlock()
	return f.within(p, func(in *os.Root, name string) error { return in.Remove(name) })
}

// Mkdir makes a folder with exactly these permissions.
func (f *FS) Mkdir(p string, mode fs.FileMode) error {
	return f.within(p, func(in *os.Root, name string) error {
		if err := in.Mkdir(name, 0o700); err != nil {
			return err
		}
		return in.Chmod(name, mode.Perm())
	})
}

// Chtimes sets when a file was modified.
func (f *FS) Chtimes(p string, modified time.Time) error {
	return f.within(p, func(in *os.Root, name string) error { return in.Chtimes(name, modified, modified) })
}

// Named says whether a path is listed by just this spelling, in every part of it. On a file system that folds names, others lead
// there as well.
func (f *FS) Named(p string) bool {
	for p = path.Clean(p); p != "."; p = path.Dir(p) {
		entries, err := f.ReadDir(path.Dir(p))
		if err != nil || !slices.ContainsFunc(entries, func(e fs.DirEntry) bool { return e.Name() == path.Base(p) }) {
			return false
		}
	}
	return true
}

// syncEach syncs the paths one by one, and the folders that they lie in.
func (f *FS) syncEach(paths []string) error {
	folders := map[string]bool{}
	for _, p := range paths {
		if err := f.syncOne(p); err != nil && !os.IsNotExist(err) {
			return err
		}
		folders[path.Dir(p)] = true
	}
	for folder := range folders {
		_ = f.syncOne(folder) // not every system can sync a folder, and one that is gone needs none
	}
	return nil
}

func (f *FS) syncOne(p string) error {
	return f.within(p, func(in *os.Root, name string) error {
		file, err := in.Open(name)
		if err != nil {
			return err
		}
		defer file.Close()
		return file.Sync()
	})
}
