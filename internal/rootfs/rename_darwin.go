package rootfs

import "golang.org/x/sys/unix"

// renameAs renames as renameatx_np(2) can.
func (f *folder) renameAs(name string, to *folder, toName string, how renaming) error {
	flags := uint32(unix.RENAME_EXCL)
	if how == exchanging {
		flags = unix.RENAME_SWAP
	}
	return unix.RenameatxNp(f.fd, name, to.fd, toName, flags)
}
