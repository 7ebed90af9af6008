//go:build !linux

package journal

// Sync implements Disk.
func (d *RootDisk) Sync(paths []string) error { return d.syncEach(paths) }
