package cli

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newCheck(a *app) *cobra.Command {
	var opts checkOptions
	cmd := &cobra.Command{
		Use:   "check",
		Short: "Report which files do not stand where the convention wants them",
		Long: `check compares every file's place with the convention. For each file that stands elsewhere it gives
the file's home and the line of the convention that says so. It reads every file, and reports as
well who uses what it may not, what is missing, what is not named as it should be, and which
references lead nowhere; crooked explain lists the rules. It changes nothing.`,
		Example: `  crooked check
  crooked check --since main       only files that changed since a git revision
  crooked check --root hilltop --format json
  crooked check --staged           only what the next commit changes, for a hook
  crooked check --format lines     one finding a line; sarif for programs that read SARIF 2.1.0, quality for
                                   merge requests that read reports on the quality of code`,
		Annotations: map[string]string{moreFormats: "lines sarif quality", garbage: besideNoTexts},
		Args:        noArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if err := oneOf(cmd, "since", "staged"); err != nil {
				return err
			}
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			done := a.busy("checking", p)
			c, err := a.check(p, opts)
			done()
			if err != nil {
				return err
			}
			switch a.format {
			case "json":
				err = report.JSON(a.Out, c)
			case "sarif":
				err = report.SARIF(a.Out, c, p.Convention.Path, Version)
			case "quality":
				err = report.Quality(a.Out, c)
			case "lines":
				err = report.Lines(a.Out, c)
			default:
				err = report.Check(a.Out, c, p.Convention.Path, a.style())
			}
			if err == nil && c.Failed() {
				return crookedError{}
			}
			return err
		},
	}
	cmd.Flags().StringVar(&opts.since, "since", "", "judge only files that changed since this git revision")
	cmd.Flags().BoolVar(&opts.staged, "staged", false, "judge only files that the next commit changes, as they lie here")
	cmd.Flags().StringVar(&opts.today, "today", "",
		"the day on which exceptions are judged, as 2027-03-01 (default: today, UTC)")
	cmd.Flags().StringVar(&opts.baseline, "baseline", "", "accept the findings written in this file; only others count")
	cmd.Flags().StringVar(&opts.write, "write-baseline", "", "write the findings into this file")
	return cmd
}

type checkOptions struct {
	today, baseline, write, since string
	staged                        bool
}

// check reads what the options name and checks.
func (a *app) check(p *engine.Project, opts checkOptions) (*engine.Check, error) {
	o := engine.CheckOptions{Today: time.Now().UTC().Truncate(24 * time.Hour)}
	if opts.today != "" {
		day, err := time.Parse(time.DateOnly, opts.today)
		if err != nil {
			return nil, flagError{fmt.Errorf("--today takes a day as 2027-03-01, not %q", opts.today)}
		}
		o.Today = day
	}
	if opts.since != "" || opts.staged {
		changed, err := judgedAlone(p, opts)
		if err != nil {
			return nil, err
		}
		o.Only = changed
	}
	if opts.baseline != "" {
		text, err := readNamed(opts.baseline)
		if err != nil {
			return nil, flagError{fmt.Errorf("the baseline can't be read: %w", err)}
		}
		if o.Baseline, err = engine.ReadBaseline(text); err != nil {
			return nil, err
		}
	}
	c, err := p.Check(o)
	if err == nil && c.LeadNowhere() && p.Work != nil {
		p.NoteMoved(c, stagedRenames(p.Root))
	}
	if err == nil && opts.write != "" {
		err = writeNamed(opts.write, engine.WriteBaseline(c.Findings))
	}
	return c, err
}

// judgedAlone gives the files that alone are judged.
func judgedAlone(p *engine.Project, opts checkOptions) (map[string]bool, error) {
	if opts.staged {
		return nextCommit(p)
	}
	return changedSince(p, opts.since)
}
