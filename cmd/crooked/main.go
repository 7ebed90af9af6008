// Command crooked checks where a project's files stand against a declared convention, and moves them.
package main

import (
	"os"
	"runtime/debug"

	"crookedshelf/internal/cli"
)

// What is held is mostly the text of files, in which the collector of garbage has nothing to follow: it may run early and cost little.
const garbagePercent = 30

func main() {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(garbagePercent)
	}
	os.Exit(cli.Run(os.Args[1:], cli.SystemStreams()))
}
