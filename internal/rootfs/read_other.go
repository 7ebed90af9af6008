//go:build !linux

package rootfs

import "os"

// handle has no quicker way of reading here.
type handle struct{}

func newHandle(*os.Root) handle { return handle{} }

func (handle) close() {}

func (handle) read(string, int64) ([]byte, bool, error) { return nil, false, nil }
