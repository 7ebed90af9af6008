//go:build unix && !linux && !darwin

package rootfs

import "errors"

// renameAs has no call of the system here.
func (*folder) renameAs(string, *folder, string, renaming) error { return errors.ErrUnsupported }
