package cli

import (
	"bytes"
	"fmt"
	"io"
	"os"
	"strconv"
	"time"

	"golang.org/x/sys/unix"
)

// watchMemory ends the program with one sentence where the memory that it may have is not enough. It is for what writes
// nothing: nothing is half done then. Without it the runtime ends the program with pages of its own.
func watchMemory(out io.Writer) {
	var limit unix.Rlimit
	if unix.Getrlimit(unix.RLIMIT_AS, &limit) != nil || limit.Cur == unix.RLIM_INFINITY || limit.Cur > 1<<50 {
		return
	}
	const reserve = 128 << 20 // bytes that the program may come to need between two looks
	go func() {
		for {
			if held, ok := addressSpace(); ok && held+reserve > limit.Cur {
				fmt.Fprintf(out, "crooked: the memory that it may have (%d MB, see ulimit -v) is not enough for this "+
					"project; nothing was changed\n", limit.Cur>>20)
				os.Exit(exitFailed)
			}
			time.Sleep(time.Millisecond)
		}
	}()
}

// addressSpace is what the program has of it, in bytes.
func addressSpace() (uint64, bool) {
	text, err := os.ReadFile("/proc/self/statm")
	if err != nil {
		return 0, false
	}
	pages, _, _ := bytes.Cut(text, []byte(" "))
	n, err := strconv.ParseUint(string(pages), 10, 64)
	return n * uint64(os.Getpagesize()), err == nil
}
