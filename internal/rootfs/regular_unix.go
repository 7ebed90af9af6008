//go:build unix

package rootfs

import (
	"io/fs"
	"os"

	"golang.org/x/sys/unix"
)

// openOutside opens a file by a path of the system, without waiting for what is no file.
func openOutside(p string, follow bool) (*os.File, error) {
	flags := unix.O_RDONLY | unix.O_NONBLOCK | unix.O_CLOEXEC | unix.O_NOCTTY
	if !follow {
		flags |= unix.O_NOFOLLOW
	}
	fd, err := again(func() (int, error) { return unix.Open(p, flags, 0) })
	if err == unix.ELOOP || err == unix.EMLINK {
		err = ErrLink
	}
	if err != nil {
		return nil, &fs.PathError{Op: "open", Path: p, Err: err}
	}
	return os.NewFile(uintptr(fd), p), nil
}

// LookAt looks at a file, folder or link by a path of the system.
func LookAt(p string) (Info, error) {
	var stat unix.Stat_t
	if _, err := again(func() (int, error) { return 0, unix.Lstat(p, &stat) }); err != nil {
		return Info{}, &fs.PathError{Op: "look at", Path: p, Err: err}
	}
	return infoOf(&stat), nil
}
