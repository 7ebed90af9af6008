//go:build !unix

package rootfs

import (
	"io/fs"
	"os"
)

// openOutside opens a file by a path of the system.
func openOutside(p string, follow bool) (*os.File, error) {
	if info, err := os.Lstat(p); err == nil && !follow && info.Mode()&fs.ModeSymlink != 0 {
		return nil, &fs.PathError{Op: "open", Path: p, Err: ErrLink}
	}
	return os.Open(p)
}

// LookAt looks at a file, folder or link by a path of the system.
func LookAt(p string) (Info, error) {
	info, err := os.Lstat(p)
	if err != nil {
		return Info{}, err
	}
	return infoOf(info), nil
}
