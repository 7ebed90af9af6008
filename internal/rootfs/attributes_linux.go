package rootfs

import (
	"bytes"
	"errors"
	"io/fs"
	"os"

	"golang.org/x/sys/unix"
)

// Attributes are what a file or folder has beside its content, its time and its name.
type Attributes struct {
	Mode     fs.FileMode       `json:"mode"` // permissions, with the special bits
	UID      int               `json:"uid"`
	GID      int               `json:"gid"`
	Extended map[string][]byte `json:"extended,omitempty"` // extended attributes, access lists among them
}

// largestValue is the most that Linux lets one extended attribute hold.
const largestValue = 64 << 10

// CopyAttributes gives a file the permissions, the owner, the group and the extended attributes (access lists among
// them) of another, as far as the process may set them. What it may not set is left: the file's content matters more
// than these.
func (f *FS) CopyAttributes(from, to string) error {
	return f.opened(from, func(source *os.File) error {
		return f.opened(to, func(target *os.File) error {
			a, err := attributesOf(source)
			if err != nil {
				return err
			}
			return a.set(target)
		})
	})
}

// Attributes reads what a file or folder has beside its content.
func (f *FS) Attributes(p string) (a Attributes, err error) {
	err = f.opened(p, func(file *os.File) error {
		a, err = attributesOf(file)
		return err
	})
	return a, err
}

// SetAttributes gives a file or folder what Attributes read of another, as far as the process may set it.
func (f *FS) SetAttributes(p string, a Attributes) error {
	return f.opened(p, a.set)
}

func (f *FS) opened(p string, use func(*os.File) error) error {
	return f.at("open", p, func(in *folder, name string) error {
		file, err := in.open(name, false)
		if err != nil {
			return err
		}
		defer file.Close()
		return use(file)
	})
}

func attributesOf(file *os.File) (Attributes, error) {
	var stat unix.Stat_t
	if err := unix.Fstat(int(file.Fd()), &stat); err != nil {
		return Attributes{}, err
	}
	info := infoOf(&stat)
	a := Attributes{Mode: info.Permissions(), UID: info.UID, GID: info.GID}
	size, err := unix.Flistxattr(int(file.Fd()), nil)
	if err != nil || size == 0 {
		return a, nil
	}
	names := make([]byte, size)
	if size, err = unix.Flistxattr(int(file.Fd()), names); err != nil {
		return a, nil
	}
	for name := range bytes.SplitSeq(names[:size], []byte{0}) {
		if len(name) == 0 {
			continue
		}
		value := make([]byte, largestValue)
		if n, err := unix.Fgetxattr(int(file.Fd()), string(name), value); err == nil {
			if a.Extended == nil {
				a.Extended = map[string][]byte{}
			}
			a.Extended[string(name)] = bytes.Clone(value[:n])
		}
	}
	return a, nil
}

// set is an error only where the system fails, or where the permissions can't be had. The owner and what else there is
// may be beyond what the process may set.
func (a Attributes) set(file *os.File) error {
	var stat unix.Stat_t
	if err := unix.Fstat(int(file.Fd()), &stat); err != nil {
		return err
	}
	now := infoOf(&stat)
	chowned := now.UID != a.UID || now.GID != a.GID
	if chowned {
		err := file.Chown(a.UID, a.GID)
		if errors.Is(err, fs.ErrPermission) {
			err = file.Chown(-1, a.GID) // an owner may still choose among the groups
		}
		if err != nil && !beyond(err) {
			return err
		}
	}
	if chowned || now.Permissions() != a.Mode { // a change of owner drops bits
		if err := file.Chmod(a.Mode); err != nil {
			return err
		}
	}
	for name, value := range a.Extended {
		if err := unix.Fsetxattr(int(file.Fd()), name, value, 0); err != nil && !beyond(err) {
			return err
		}
	}
	return nil
}

// beyond says whether an error means that something may not be set, or not on this file system.
func beyond(err error) bool {
	return errors.Is(err, fs.ErrPermission) || errors.Is(err, errors.ErrUnsupported) || errors.Is(err, unix.EINVAL)
}
