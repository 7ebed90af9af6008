//go:build !linux

package rootfs

// Sync returns when what was written to the paths, and what was renamed in their folders, is on the disk.
func (f *FS) Sync(paths []string) error { return f.syncEach(paths) }
