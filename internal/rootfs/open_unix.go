//go:build unix

package rootfs

import "syscall"

// nonBlocking keeps the opening of a pipe from waiting for its other end.
const nonBlocking = syscall.O_NONBLOCK
