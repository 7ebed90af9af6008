package cli

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/report"
)

func newUndo(a *app) *cobra.Command {
	var how journal.Range
	var list bool
	cmd := &cobra.Command{
		Use:   "undo",
		Short: "Take the last straighten back",
		Long: `undo puts back exactly what the last straighten changed, also after a crash in the middle of it. Files that were changed
since then are kept as they are and told one by one. Of a straighten in steps it takes back all, or with --step that step and
those after it; if one was stopped half way, it takes back that step alone. Commits that were made stay: git revert is for these.`,
		Example: `  crooked undo
  crooked undo --list
  crooked undo --step 3
  crooked undo --all`,
		Args: noArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			folder, err := a.folder()
			if err != nil {
				return err
			}
			if list {
				return a.listStraightens(folder)
			}
			if how.All && how.Step > 0 || how.Step < 0 || cmd.Flags().Changed("step") && how.Step == 0 {
				return flagError{errors.New("--step takes the number of a step, from 1, and does not go with --all")}
			}
			return a.undo(folder, how)
		},
	}
	cmd.Flags().BoolVar(&how.All, "all", false, "take back every straighten that can be taken back")
	cmd.Flags().IntVar(&how.Step, "step", 0, "of the last straighten, take back this step and those after it")
	cmd.Flags().BoolVar(&list, "list", false, "list what can be taken back, and change nothing")
	return cmd
}

func (a *app) undo(folder string, how journal.Range) error {
	out, err := engine.Undo(folder, how)
	if nothingToUndo(err) {
		if !a.quiet {
			fmt.Fprintln(a.Out, "There is nothing to undo here.")
		}
		return nil
	}
	if len(out) > 0 {
		if err := a.tellUndo(out); err != nil {
			return err
		}
	}
	if err != nil {
		return err
	}
	for _, o := range out {
		if len(o.Kept) > 0 {
			return crookedError{}
		}
	}
	return nil
}

func (a *app) tellUndo(out []*journal.Outcome) error {
	if a.format == "json" {
		return report.JSON(a.Out, report.NewUndo(out))
	}
	return report.Undo(a.Out, out, a.style())
}

func (a *app) listStraightens(folder string) error {
	records, err := engine.Straightens(folder)
	if err != nil {
		return err
	}
	if a.format == "json" {
		return report.JSON(a.Out, report.NewStraightens(records))
	}
	return report.Straightens(a.Out, records, a.style())
}
