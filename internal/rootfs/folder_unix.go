//go:build unix

package rootfs

import (
	"errors"
	"io/fs"
	"os"
	"time"

	"golang.org/x/sys/unix"
)

// folder is an open folder. What is in it is reached by its name alone, and no link is followed.
type folder struct {
	fd    int
	known FileID
}

const folderFlags = unix.O_RDONLY | unix.O_DIRECTORY | unix.O_CLOEXEC | unix.O_NONBLOCK

// openFolder opens a folder by a path of the system; its links are the caller's own.
func openFolder(name string) (*folder, error) {
	fd, err := again(func() (int, error) { return unix.Open(name, folderFlags, 0) })
	if err != nil {
		return nil, &fs.PathError{Op: "open", Path: name, Err: err}
	}
	return newFolder(fd), nil
}

func newFolder(fd int) *folder {
	f := &folder{fd: fd}
	var stat unix.Stat_t
	if unix.Fstat(fd, &stat) == nil {
		f.known = idOf(&stat)
	}
	return f
}

// again repeats a call that a signal ended.
func again(call func() (int, error)) (int, error) {
	for {
		n, err := call()
		if err != unix.EINTR {
			return n, err
		}
	}
}

func (f *folder) id() FileID   { return f.known }
func (f *folder) close() error { return unix.Close(f.fd) }

// enter opens a folder in this one.
func (f *folder) enter(name string) (*folder, error) {
	fd, err := again(func() (int, error) { return unix.Openat(f.fd, name, folderFlags|unix.O_NOFOLLOW, 0) })
	if err != nil {
		return nil, f.explain(name, err)
	}
	return newFolder(fd), nil
}

// explain tells a link from other things that can't be opened.
func (f *folder) explain(name string, err error) error {
	if err == unix.ELOOP || err == unix.ENOTDIR || err == unix.EMLINK {
		if info, looked := f.look(name); looked == nil && info.Mode&fs.ModeSymlink != 0 {
			return ErrLink
		}
	}
	return err
}

func (f *folder) look(name string) (Info, error) {
	var stat unix.Stat_t
	if _, err := again(func() (int, error) {
		return 0,
			unix.Fstatat(f.fd, orSelf(name), &stat, unix.AT_SYMLINK_NOFOLLOW)
	}); err != nil {
		return Info{}, err
	}
	return infoOf(&stat), nil
}

// orSelf is the name by which a folder reaches itself.
func orSelf(name string) string {
	if name == "" {
		return "."
	}
	return name
}

func idOf(stat *unix.Stat_t) FileID { return FileID{Device: uint64(stat.Dev), Inode: stat.Ino} }

var specialBits = [...]struct {
	system uint32
	ours   fs.FileMode
}{{unix.S_ISUID, fs.ModeSetuid}, {unix.S_ISGID, fs.ModeSetgid}, {unix.S_ISVTX, fs.ModeSticky}}

func infoOf(stat *unix.Stat_t) Info {
	mode := fs.FileMode(stat.Mode & 0o777)
	switch stat.Mode & unix.S_IFMT {
	case unix.S_IFREG:
	case unix.S_IFDIR:
		mode |= fs.ModeDir
	case unix.S_IFLNK:
		mode |= fs.ModeSymlink
	case unix.S_IFIFO:
		mode |= fs.ModeNamedPipe
	case unix.S_IFSOCK:
		mode |= fs.ModeSocket
	case unix.S_IFCHR:
		mode |= fs.ModeDevice | fs.ModeCharDevice
	case unix.S_IFBLK:
		mode |= fs.ModeDevice
	default:
		mode |= fs.ModeIrregular
	}
	for _, b := range specialBits {
		if uint32(stat.Mode)&b.system != 0 {
			mode |= b.ours
		}
	}
	return Info{
		Mode: mode, Size: stat.Size, Modified: time.Unix(stat.Mtim.Unix()), Changed: time.Unix(stat.Ctim.Unix()),
		ID:  idOf(stat),
		UID: int(stat.Uid), GID: int(stat.Gid),
	}
}

// open opens a file for reading, or a folder for listing. A pipe or a device is opened without waiting.
func (f *folder) open(name string, asFolder bool) (*os.File, error) {
	flags := unix.O_RDONLY | unix.O_NOFOLLOW | unix.O_NONBLOCK | unix.O_CLOEXEC | unix.O_NOCTTY
	if asFolder {
		flags |= unix.O_DIRECTORY
	}
	fd, err := again(func() (int, error) { return unix.Openat(f.fd, orSelf(name), flags, 0) })
	if err != nil {
		return nil, f.explain(name, err)
	}
	return os.NewFile(uintptr(fd), name), nil
}

func (f *folder) create(name string, mode fs.FileMode) (*os.File, error) {
	fd, err := again(func() (int, error) {
		return unix.Openat(f.fd, name, unix.O_WRONLY|unix.O_CREAT|unix.O_EXCL|unix.O_NOFOLLOW|unix.O_CLOEXEC,
			uint32(mode.Perm()))
	})
	if err != nil {
		return nil, err
	}
	return os.NewFile(uintptr(fd), name), nil
}

func (f *folder) mkdir(name string, mode fs.FileMode) error {
	first := uint32(0o700)
	if mode == Usual {
		first = 0o777
	}
	if _, err := again(func() (int, error) { return 0, unix.Mkdirat(f.fd, name, first) }); err != nil ||
		mode == Usual || mode == 0o700 {
		return err
	}
	made, err := f.enter(name)
	if err != nil {
		return err
	}
	defer made.close()
	return unix.Fchmod(made.fd, systemMode(mode))
}

// systemMode is a mode as chmod takes it.
func systemMode(mode fs.FileMode) uint32 {
	out := uint32(mode.Perm())
	for _, b := range specialBits {
		if mode&b.ours != 0 {
			out |= b.system
		}
	}
	return out
}

// remove deletes a file or an empty folder.
func (f *folder) remove(name string) error {
	_, err := again(func() (int, error) { return 0, unix.Unlinkat(f.fd, name, 0) })
	if err == nil || err != unix.EISDIR && err != unix.EPERM { // POSIX allows both for a folder
		return err
	}
	if _, folderErr := again(func() (int, error) {
		return 0,
			unix.Unlinkat(f.fd, name, unix.AT_REMOVEDIR)
	}); folderErr != unix.ENOTDIR {
		return folderErr
	}
	return err
}

// chtimes sets when a file was modified. The system's own two numbers are used: a year beyond 2262 does not fit into
// one.
func (f *folder) chtimes(name string, modified time.Time) error {
	stamp, err := unix.TimeToTimespec(modified)
	if err != nil {
		return err
	}
	_, err = again(func() (int, error) {
		return 0, unix.UtimesNanoAt(f.fd, name, []unix.Timespec{stamp, stamp}, unix.AT_SYMLINK_NOFOLLOW)
	})
	return err
}

func (f *folder) rename(name string, to *folder, toName string, how renaming) error {
	if how == replacing {
		_, err := again(func() (int, error) { return 0, unix.Renameat(f.fd, name, to.fd, toName) })
		return err
	}
	_, err := again(func() (int, error) { return 0, f.renameAs(name, to, toName, how) })
	if how == exchanging || !errors.Is(err, errors.ErrUnsupported) && err != unix.EINVAL {
		if err == unix.EINVAL {
			return errors.ErrUnsupported
		}
		return err
	}
	return f.placeByLink(name, to, toName)
}

// placeByLink moves a file to a free place where the system has no call for that: a second name never replaces
// anything. A folder is looked for instead.
func (f *folder) placeByLink(name string, to *folder, toName string) error {
	if err := unix.Linkat(f.fd, name, to.fd, toName, 0); err == nil {
		return unix.Unlinkat(f.fd, name, 0)
	} else if errors.Is(err, fs.ErrExist) {
		return err
	}
	if _, err := to.look(toName); err == nil {
		return fs.ErrExist
	}
	return unix.Renameat(f.fd, name, to.fd, toName)
}
