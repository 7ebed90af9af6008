//go:build !unix

package rootfs

import (
	"errors"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"time"
)

// folder is an open folder. What is in it is reached by its name alone, and no link is followed. Files have no number
// here, so a folder is known by its name alone.
type folder struct {
	in  *os.Root
	top *os.Root // of the project
	at  string   // the path from there
}

// openFolder opens a folder by a path of the system; its links are the caller's own.
func openFolder(name string) (*folder, error) {
	in, err := os.OpenRoot(name)
	if err != nil {
		return nil, err
	}
	return &folder{in: in, top: in, at: "."}, nil
}

func (f *folder) id() FileID   { return FileID{} }
func (f *folder) close() error { return f.in.Close() }

// enter opens a folder in this one: what was opened must be what was seen to be no link.
func (f *folder) enter(name string) (*folder, error) {
	seen, err := f.real(name)
	if err != nil {
		return nil, err
	}
	in, err := f.in.OpenRoot(name)
	if err != nil {
		return nil, err
	}
	if now, err := in.Stat("."); err != nil || !os.SameFile(seen, now) {
		in.Close()
		return nil, ErrLink
	}
	return &folder{in: in, top: f.top, at: path.Join(f.at, name)}, nil
}

// real looks at what is no link.
func (f *folder) real(name string) (fs.FileInfo, error) {
	info, err := f.in.Lstat(orSelf(name))
	if err == nil && info.Mode()&(fs.ModeSymlink|fs.ModeIrregular) != 0 {
		return nil, ErrLink
	}
	return info, err
}

// orSelf is the name by which a folder reaches itself.
func orSelf(name string) string {
	if name == "" {
		return "."
	}
	return name
}

func (f *folder) look(name string) (Info, error) {
	info, err := f.in.Lstat(orSelf(name))
	if err != nil {
		return Info{}, err
	}
	return infoOf(info), nil
}

func infoOf(info fs.FileInfo) Info {
	return Info{Mode: info.Mode(), Size: info.Size(), Modified: info.ModTime(), UID: -1, GID: -1}
}

func (f *folder) open(name string, _ bool) (*os.File, error) {
	if _, err := f.real(name); err != nil {
		return nil, err
	}
	return f.in.Open(orSelf(name))
}

func (f *folder) create(name string, mode fs.FileMode) (*os.File, error) {
	return f.in.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, mode)
}

func (f *folder) mkdir(name string, mode fs.FileMode) error {
	if mode == Usual {
		return f.in.Mkdir(name, 0o777)
	}
	if err := f.in.Mkdir(name, 0o700); err != nil {
		return err
	}
	return f.in.Chmod(name, mode.Perm())
}

func (f *folder) remove(name string) error { return f.in.Remove(name) }

func (f *folder) chtimes(name string, modified time.Time) error {
	return f.in.Chtimes(name, modified, modified)
}

func (f *folder) rename(name string, to *folder, toName string, how renaming) error {
	switch how {
	case exchanging:
		return errors.ErrUnsupported
	case placing:
		if _, err := to.in.Lstat(toName); err == nil {
			return fs.ErrExist
		}
	}
	if f.at == to.at {
		return f.in.Rename(name, toName)
	}
	return f.top.Rename(filepath.FromSlash(path.Join(f.at, name)), filepath.FromSlash(path.Join(to.at, toName)))
}

func (f *folder) chmod(name string, mode fs.FileMode) error { return f.in.Chmod(name, mode.Perm()) }
