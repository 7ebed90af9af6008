//go:build unix && !linux

package rootfs

import (
	"io/fs"

	"golang.org/x/sys/unix"
)

func (f *folder) chmod(name string, mode fs.FileMode) error {
	return unix.Fchmodat(f.fd, name, systemMode(mode), 0)
}
