package cli

import (
	"fmt"
	"os"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"

	"crookedshelf/internal/report"
)

func newMan(a *app) *cobra.Command {
	return &cobra.Command{
		Use:   "man DIR",
		Short: "Write the manual pages",
		Long: `man writes a manual page for each command into a folder, which is made if it is not there. man 1 looks
for them in folders called man1: crooked man ~/.local/share/man/man1.`,
		Example: `  crooked man ~/.local/share/man/man1 && man crooked-straighten`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return flagError{fmt.Errorf("man takes the folder for the pages: crooked man ~/.local/share/man/man1")}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := os.MkdirAll(args[0], 0o755); err != nil {
				return err
			}
			root := cmd.Root()
			root.DisableAutoGenTag = true
			_, day := built()
			header := &doc.GenManHeader{Section: "1", Source: "crooked " + Version, Manual: "Crooked Shelf", Date: &day}
			if err := doc.GenManTree(root, header, args[0]); err != nil {
				return err
			}
			if !a.quiet {
				fmt.Fprintf(a.Out, "The manual pages are in %s.\n", report.Clean(args[0]))
			}
			return nil
		},
	}
}

// firstDay is the date of a program that does not know when it was made.
var firstDay = time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
