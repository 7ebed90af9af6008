package cli

import (
	"bytes"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"crookedshelf/internal/report"
)

func newPlan(a *app) *cobra.Command {
	var output string
	var patch bool
	cmd := &cobra.Command{
		Use:   "plan",
		Short: "Show the moves and every rewrite that they cause, proved",
		Long: `plan works out where every misplaced file goes and which mentions of files must be rewritten for it, lays both over the
tree in memory, reads that tree afresh, and proves that every reference leads where it led. What can't be proved is
blocked and told with its reason. It changes nothing.`,
		Example: `  crooked plan
  crooked plan -o plan.json      write the plan down; crooked straighten --plan plan.json carries it out
  crooked plan --patch           the same as a patch that git apply takes`,
		Args: noArgs,
		RunE: func(*cobra.Command, []string) error {
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			made, outcome, err := p.Plan()
			if err != nil {
				return err
			}
			var text bytes.Buffer
			switch {
			case patch:
				if err := report.Patch(&text, made, outcome); err != nil {
					return err
				}
			case a.format == "json" || output != "":
				stored, err := made.Write()
				if err != nil {
					return err
				}
				text.Write(stored)
			default:
				if err := report.Plan(&text, made, a.style()); err != nil {
					return err
				}
			}
			if err := a.deliver(output, text.Bytes()); err != nil {
				return err
			}
			if output != "" && !a.quiet {
				report.PlanSummary(a.Out, made, a.style())
				fmt.Fprintf(a.Out, "Written to %s.\n", output)
			}
			if len(made.Blocked) > 0 {
				return crookedError{}
			}
			return nil
		},
	}
	cmd.Flags().StringVarP(&output, "output", "o", "", "write the plan to this file, as JSON or with --patch as a patch")
	cmd.Flags().BoolVar(&patch, "patch", false, "write a patch with renames, for git apply")
	return cmd
}

// deliver writes text to a file, or to the output where no file is named.
func (a *app) deliver(file string, text []byte) error {
	if file == "" {
		_, err := io.Copy(a.Out, bytes.NewReader(text))
		return err
	}
	return os.WriteFile(file, text, 0o644)
}
