package project

import "golang.org/x/sys/unix"

// inLargePages asks the system to back memory by large pages: filling it costs far less so. It is a wish, so nothing
// follows where that can't be.
func inLargePages(memory []byte) { _ = unix.Madvise(memory, unix.MADV_HUGEPAGE) }
