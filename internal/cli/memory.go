package cli

import (
	"math"
	"os"
	"runtime"
	"runtime/debug"
	"strconv"

	"github.com/spf13/cobra"
)

// garbage annotates a command with how much garbage there may be beside what it holds, in percent. One that keeps no
// texts of files holds little, and one that writes none holds them once.
const (
	garbage = "garbage"

	besideNoTexts = "300"
	besideTexts   = "100"
)

// sparing sets how much garbage there may be beside what is held. Below a size that is never too much nothing is
// collected. What a command holds is mostly the texts of files, in which the collector has nothing to follow, so it may
// run early at little cost.
func sparing(cmd *cobra.Command) {
	if os.Getenv("GOGC") != "" || os.Getenv("GOMEMLIMIT") != "" {
		return
	}
	const neverTooMuch = 64 << 20 // bytes
	percent, err := strconv.Atoi(cmd.Annotations[garbage])
	if err != nil {
		percent = 50
	}
	debug.SetGCPercent(-1)
	debug.SetMemoryLimit(neverTooMuch)
	first := new([64]byte) // is gone with the first collection
	runtime.AddCleanup(first, func(percent int) {
		debug.SetGCPercent(percent)
		debug.SetMemoryLimit(math.MaxInt64)
	}, percent)
}
