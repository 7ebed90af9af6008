package cli

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

func newRemove(a *app) *cobra.Command {
	var yes, dirty bool
	cmd := &cobra.Command{
		Use:   "remove FILE...",
		Short: "Remove files that nothing needs any more",
		Long: `remove shows who still names the files, and removes them if nothing that stays needs them. A folder
stands for all of its files. Entries of lists in settings that name what goes are taken out; other
texts are listed and stay. It needs no convention. crooked undo brings everything back.`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			r, err := engine.Remove(a.root, a.convention, args)
			if err != nil {
				return err
			}
			if a.format == "json" {
				if err := report.JSON(a.Out, r); err != nil {
					return err
				}
			} else if err := report.Removal(a.Out, r, a.style()); err != nil {
				return err
			}
			if len(r.Needed) > 0 {
				return crookedError{}
			}
			return a.carryOutSmall(r.Root, r.Outcome(), "remove "+strings.Join(args, " "), yes, dirty,
				fmt.Sprintf("Removed %s. crooked undo brings it back.", report.Count(len(r.Removes), "file")))
		},
	}
	cmd.Flags().BoolVarP(&yes, "yes", "y", false, "do not ask")
	cmd.Flags().BoolVar(&dirty, "dirty", false, "also touch files with uncommitted changes")
	return cmd
}

func newBegin(a *app) *cobra.Command {
	var yes, dirty bool
	cmd := &cobra.Command{
		Use:   "begin SHELF NAME...",
		Short: "Begin a new instance of a shelf",
		Long: `begin writes the files that an instance of the shelf must have, with their companions, and puts the
instance into the list of settings that the shelf names. NAME is what stands for the placeholder of
the shelf's place; there is one for each. crooked undo takes it back.`,
		Args: cobra.MinimumNArgs(2),
		RunE: func(_ *cobra.Command, args []string) error {
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			b, err := p.Begin(args[0], args[1:])
			if err != nil {
				return err
			}
			if a.format == "json" {
				if err := report.JSON(a.Out, b); err != nil {
					return err
				}
			} else if err := report.Beginning(a.Out, b, a.style()); err != nil {
				return err
			}
			return a.carryOutSmall(p.Root, b.Outcome(), "begin "+strings.Join(args, " "), yes, dirty,
				fmt.Sprintf("Wrote %s. crooked undo takes it back.", report.Count(len(b.Writes), "file")))
		},
	}
	cmd.ValidArgsFunction = func(_ *cobra.Command, args []string, _ string) ([]string, cobra.ShellCompDirective) {
		if p, err := a.open(); err == nil && len(args) == 0 {
			defer p.Close()
			return p.Instances(), cobra.ShellCompDirectiveNoFileComp
		}
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	cmd.Flags().BoolVarP(&yes, "yes", "y", false, "do not ask")
	cmd.Flags().BoolVar(&dirty, "dirty", false, "also touch files with uncommitted changes")
	return cmd
}

// carryOutSmall asks, and does what was shown.
func (a *app) carryOutSmall(root string, out *plan.Outcome, title string, yes, dirty bool, done string) error {
	if err := a.refuseDirty(root, out, dirty); err != nil {
		return err
	}
	if !yes {
		if !a.Terminal {
			return flagError{errors.New("without a terminal to ask on, this needs --yes")}
		}
		if !a.ask("Carry it out?") {
			return errors.New("not carried out; nothing was changed")
		}
	}
	if err := engine.CarryOut(root, out, title, time.Now()); err != nil {
		return err
	}
	if a.format != "json" && !a.quiet {
		fmt.Fprintln(a.Out, done)
	}
	return nil
}
