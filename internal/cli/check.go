package cli

import (
	"github.com/spf13/cobra"

	"crookedshelf/internal/report"
)

func newCheck(a *app) *cobra.Command {
	var dangling bool
	cmd := &cobra.Command{
		Use:   "check",
		Short: "Tell which files do not stand where the convention wants them",
		Long: `check holds every file's place against the convention. For each file that stands elsewhere it tells its home and the
line of the convention that says so. With --dangling it also reads every file and tells references that lead nowhere. It
changes nothing.`,
		Example: `  crooked check
  crooked check --dangling
  crooked check --root hilltop --format json
  crooked check --format lines     one finding a line; sarif for programs that read SARIF 2.1.0`,
		Annotations: map[string]string{moreFormats: "lines sarif"},
		Args:        noArgs,
		RunE: func(*cobra.Command, []string) error {
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			c, err := p.Check(dangling)
			if err != nil {
				return err
			}
			switch a.format {
			case "json":
				err = report.JSON(a.Out, c)
			case "sarif":
				err = report.SARIF(a.Out, c, p.Convention.Path, Version)
			case "lines":
				err = report.Lines(a.Out, c)
			default:
				err = report.Check(a.Out, c, p.Convention.Path, a.style())
			}
			if err == nil && len(c.Findings) > 0 {
				return crookedError{}
			}
			return err
		},
	}
	cmd.Flags().BoolVar(&dangling, "dangling", false, "also tell references that lead nowhere")
	return cmd
}
