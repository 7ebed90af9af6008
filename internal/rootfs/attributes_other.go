//go:build !linux

package rootfs

import "io/fs"

// Attributes are what a file or folder has beside its content, its time and its name: here, its permissions.
type Attributes struct {
	Mode     fs.FileMode       `json:"mode"`
	UID      int               `json:"uid"`
	GID      int               `json:"gid"`
	Extended map[string][]byte `json:"extended,omitempty"`
}

// CopyAttributes does nothing here: what a file has beside content, permissions and time is not carried over.
func (f *FS) CopyAttributes(_, _ string) error { return nil }

// Attributes reads the permissions of a file or folder.
func (f *FS) Attributes(p string) (Attributes, error) {
	info, err := f.Look(p)
	return Attributes{Mode: info.Permissions(), UID: info.UID, GID: info.GID}, err
}

// SetAttributes sets the permissions of a file or folder.
func (f *FS) SetAttributes(p string, a Attributes) error {
	return f.at("set the permissions of", p, func(in *folder, name string) error { return in.chmod(name, a.Mode) })
}
