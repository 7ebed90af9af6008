package cli

import (
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

func newRemove(a *app) *cobra.Command {
	var how smallOptions
	cmd := &cobra.Command{
		Use:   "remove FILE...",
		Short: "Remove files that nothing needs any more",
		Long: `remove shows who still names the files, and removes them if nothing that stays needs them. A folder
stands for all of its files. Entries of lists in settings that name what goes are taken out; other
texts are listed and stay. It needs no convention. crooked undo brings everything back.`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			root, err := a.projectFolder()
			if err != nil {
				return err
			}
			files, err := a.allInProject(root, args)
			if err != nil {
				return err
			}
			r, err := engine.Remove(root, a.convention, files)
			if err != nil {
				return err
			}
			if err := answer(a, r, report.Removal); err != nil {
				return err
			}
			if len(r.Needed) > 0 {
				return crookedError{}
			}
			return a.carryOutSmall(r.Root, r.Outcome(), "remove "+strings.Join(args, " "), how,
				fmt.Sprintf("Removed %s. crooked undo brings it back.", report.Count(len(r.Removes), "file")))
		},
	}
	how.flags(cmd)
	return cmd
}

func newBegin(a *app) *cobra.Command {
	var how smallOptions
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
			if err := answer(a, b, report.Beginning); err != nil {
				return err
			}
			return a.carryOutSmall(p.Root, b.Outcome(), "begin "+strings.Join(args, " "), how,
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
	how.flags(cmd)
	return cmd
}

// smallOptions are those of commands that change a few files at once.
type smallOptions struct{ yes, dirty bool }

func (o *smallOptions) flags(cmd *cobra.Command) {
	cmd.Flags().BoolVarP(&o.yes, "yes", "y", false, "do not ask")
	cmd.Flags().BoolVar(&o.dirty, "dirty", false, "also touch files with uncommitted changes")
}

// answer writes what a command works out, as JSON or for people.
func answer[T any](a *app, what T, write func(io.Writer, T, report.Style) error) error {
	if a.format == "json" {
		return report.JSON(a.Out, what)
	}
	return write(a.Out, what, a.style())
}

// carryOutSmall asks, and does what was shown.
func (a *app) carryOutSmall(root string, out *plan.Outcome, title string, how smallOptions, done string) error {
	if err := a.refuseDirty(root, out, how.dirty); err != nil {
		return err
	}
	if !how.yes {
		if err := a.canAsk("this"); err != nil {
			return err
		}
		if err := a.agreed(); err != nil {
			return err
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
