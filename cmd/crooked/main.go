// Command crooked checks where a project's files stand against a declared convention, and moves them.
package main

import (
	"os"

	"crookedshelf/internal/cli"
)

func main() { os.Exit(cli.Run(os.Args[1:], cli.SystemStreams())) }
