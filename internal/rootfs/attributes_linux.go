package rootfs

import (
	"bytes"
	"os"
	"syscall"

	"golang.org/x/sys/unix"
)

// CopyAttributes gives a file the owner, the group and the extended attributes (access lists among them) of another, as far as
// the process may set them. What it may not set is left: the file's content and permissions matter more than these.
func (f *FS) CopyAttributes(from, to string) error {
	source, err := f.openFile(from, os.O_RDONLY)
	if err != nil {
		return err
	}
	defer source.Close()
	target, err := f.openFile(to, os.O_RDONLY)
	if err != nil {
		return err
	}
	defer target.Close()
	if info, err := source.Stat(); err == nil {
		if stat, ok := info.Sys().(*syscall.Stat_t); ok && (int(stat.Uid) != os.Geteuid() || int(stat.Gid) != os.Getegid()) {
			mode := info.Mode().Perm()
			_ = target.Chown(int(stat.Uid), int(stat.Gid))
			_ = target.Chmod(mode) // a change of owner drops bits
		}
	}
	size, err := unix.Flistxattr(int(source.Fd()), nil)
	if err != nil || size == 0 {
		return nil
	}
	names := make([]byte, size)
	if size, err = unix.Flistxattr(int(source.Fd()), names); err != nil {
		return nil
	}
	for name := range bytes.SplitSeq(names[:size], []byte{0}) {
		if len(name) == 0 {
			continue
		}
		value := make([]byte, 64<<10) // the most that Linux lets one hold
		if n, err := unix.Fgetxattr(int(source.Fd()), string(name), value); err == nil {
			_ = unix.Fsetxattr(int(target.Fd()), string(name), value[:n], 0)
		}
	}
	return nil
}

func (f *FS) openFile(p string, flag int) (file *os.File, err error) {
	err = f.within(p, func(in *os.Root, name string) error {
		file, err = in.OpenFile(name, flag|syscall.O_NOFOLLOW|syscall.O_NONBLOCK, 0)
		return err
	})
	return file, err
}
