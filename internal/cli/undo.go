package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newUndo(a *app) *cobra.Command {
	return &cobra.Command{
		Use:   "undo",
		Short: "Take the last straighten back",
		Long: `undo puts back exactly what the last straighten changed, also after a crash in the middle of it. Files that were changed
since then are kept as they are and told one by one.`,
		Example: `  crooked undo
  crooked undo --root hilltop`,
		Args: noArgs,
		RunE: func(*cobra.Command, []string) error {
			folder, err := a.folder()
			if err != nil {
				return err
			}
			out, err := engine.Undo(folder)
			if nothingToUndo(err) {
				if !a.quiet {
					fmt.Fprintln(a.Out, "There is nothing to undo here.")
				}
				return nil
			}
			if err != nil {
				return err
			}
			if a.format == "json" {
				err = report.JSON(a.Out, report.NewUndo(out))
			} else {
				err = report.Undo(a.Out, out, a.style())
			}
			if err == nil && len(out.Kept) > 0 {
				return crookedError{}
			}
			return err
		},
	}
}
