package rootfs

import "golang.org/x/sys/unix"

// renameAs renames as renameat2(2) can; EINVAL where the file system can't.
func (f *folder) renameAs(name string, to *folder, toName string, how renaming) error {
	flags := uint(unix.RENAME_NOREPLACE)
	if how == exchanging {
		flags = unix.RENAME_EXCHANGE
	}
	return unix.Renameat2(f.fd, name, to.fd, toName, flags)
}
