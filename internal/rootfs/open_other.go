//go:build !unix

package rootfs

const nonBlocking = 0
