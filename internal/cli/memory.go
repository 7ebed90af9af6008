package cli

import (
	"math"
	"os"
	"runtime"
	"runtime/debug"

	"github.com/spf13/cobra"
)

// keepsNothing annotates a command that keeps no texts of files.
const keepsNothing = "keeps nothing"

// sparing sets how much garbage there may be beside what is held. Below a size that is never too much nothing is collected.
// What a command holds is mostly the texts of files, in which the collector has nothing to follow, so it may run early at
// little cost; a command that keeps no texts holds little.
func sparing(cmd *cobra.Command) {
	if os.Getenv("GOGC") != "" || os.Getenv("GOMEMLIMIT") != "" {
		return
	}
	const neverTooMuch = 64 << 20 // bytes
	percent := 50
	if cmd.Annotations[keepsNothing] != "" {
		percent = 300
	}
	debug.SetGCPercent(-1)
	debug.SetMemoryLimit(neverTooMuch)
	first := new([64]byte) // is gone with the first collection
	runtime.AddCleanup(first, func(percent int) {
		debug.SetGCPercent(percent)
		debug.SetMemoryLimit(math.MaxInt64)
	}, percent)
}
