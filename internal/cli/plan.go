package cli

import (
	"bytes"
	"errors"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

func newPlan(a *app) *cobra.Command {
	var output string
	var patch bool
	var how manner
	cmd := &cobra.Command{
		Use:   "plan",
		Short: "Show the moves and every rewrite that they cause, proved",
		Long: `plan works out where every misplaced file goes and which mentions of files must be rewritten for it,
lays both over the tree in memory, reads that tree afresh, and proves that every reference leads
where it led. What can't be proved is blocked, and the plan gives the reason. It changes nothing.`,
		Example: `  crooked plan
  crooked plan -o plan.json      write the plan down; crooked straighten --plan plan.json carries it out
  crooked plan --patch           the same as a patch that git apply takes`,
		Args:        noArgs,
		Annotations: map[string]string{garbage: besideTexts},
		RunE: func(*cobra.Command, []string) error {
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			made, outcome, err := a.plan(p, &how)
			if err != nil {
				return err
			}
			return a.writePlan(made, outcome, output, patch)
		},
	}
	cmd.Flags().StringVarP(&output, "output", "o", "",
		"write the plan to this file, as JSON or with --patch as a patch")
	how.flags(cmd)
	cmd.Flags().BoolVar(&patch, "patch", false, "write a patch with renames, for git apply")
	return cmd
}

// writePlan writes a plan to the output or to a file, for people, as JSON or as a patch.
func (a *app) writePlan(made *plan.Plan, outcome *plan.Outcome, output string, patch bool) error {
	var text bytes.Buffer
	switch {
	case patch:
		if err := report.Patch(&text, made, outcome); err != nil {
			return err
		}
	case a.format == "json" || output != "":
		made.Seal(outcome)
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
		if err := report.PlanSummary(a.Out, made, a.style()); err != nil {
			return err
		}
		fmt.Fprintf(a.Out, "Written to %s.\n", output)
	}
	return a.verdict(made)
}

// manner is how a plan is to be made.
type manner struct {
	likely    string
	addresses bool
	stored    bool
	rename    bool
	only      []string
	asked     []plan.Asked // moves by name; nil for those of the convention
}

// options are what the engine is asked for.
func (m *manner) options() engine.PlanOptions {
	return engine.PlanOptions{RewriteLikely: m.likely == "rewrite", AllowAddresses: m.addresses, AllowStored: m.stored,
		Rename: m.rename, Only: m.only, Asked: m.asked}
}

func (m *manner) flags(cmd *cobra.Command) {
	m.textFlags(cmd)
	cmd.Flags().StringSliceVar(&m.only, "only", nil,
		"move what belongs on these shelves, or lies in or goes to these folders, alone")
	cmd.Flags().BoolVar(&m.rename, "rename", false, "also set names right that are not as their shelf wants them")
}

// textFlags are those that say what moves may bring about.
func (m *manner) textFlags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&m.likely, "likely", "leave",
		"strings in code that only look like paths: rewrite, ask or leave")
	cmd.Flags().BoolVar(&m.addresses, "allow-addresses", false, "let moves change the addresses of public files")
	cmd.Flags().BoolVar(&m.stored, "allow-stored", false, "let moves change names that a database or a queue remembers")
}

// plan makes the plan. With --likely ask a person is shown what would stay and is asked.
func (a *app) plan(p *engine.Project, how *manner) (*plan.Plan, *plan.Outcome, error) {
	opts := how.options()
	switch how.likely {
	case "rewrite", "leave", "ask":
	default:
		return nil, nil, flagError{fmt.Errorf("--likely is rewrite, ask or leave, not %q", how.likely)}
	}
	done := a.busy("planning", p)
	made, outcome, err := p.Plan(opts)
	done()
	if err != nil || how.likely != "ask" || len(made.Leftovers) == 0 {
		return made, outcome, err
	}
	if !a.Terminal {
		return nil, nil, flagError{errors.New("without a terminal to ask on, --likely is rewrite or leave")}
	}
	if err := report.Leftovers(a.Out, made, a.style()); err != nil {
		return nil, nil, err
	}
	if !a.ask("Rewrite these as well?") {
		return made, outcome, nil
	}
	how.likely, opts.RewriteLikely = "rewrite", true // the steps to come are planned alike
	return p.Plan(opts)
}

// deliver writes text to a file, or to the output where no file is named.
func (a *app) deliver(file string, text []byte) error {
	if file == "" {
		_, err := io.Copy(a.Out, bytes.NewReader(text))
		return err
	}
	if err := writeNamed(file, text); err != nil {
		return err
	}
	a.changed = true
	return nil
}
