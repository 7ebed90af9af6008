package cli

import (
	"errors"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newWhy(a *app) *cobra.Command {
	return &cobra.Command{
		Use:         "why PATH",
		Short:       "Explain why one file belongs where it belongs",
		Annotations: map[string]string{garbage: besideNoTexts},
		Long: `why says which shelf takes a file and by which line of the convention, which shelves came close, who
refers to the file and what it refers to, what stands in the way of moving it, and which files
moving it would edit. PATH is written from the project's root. If no file is there, it says where a
new file of that name would belong.`,
		Example: `  crooked why src/components/SkyPanel.tsx
  crooked why src/components/NewPanel.tsx`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return flagError{errors.New("why takes one path: crooked why src/components/SkyPanel.tsx")}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			p, err := a.open()
			if err != nil {
				return err
			}
			defer p.Close()
			w, err := p.Why(args[0], engine.PlanOptions{})
			if err != nil {
				return err
			}
			if a.format == "json" {
				return report.JSON(a.Out, w)
			}
			return report.Why(a.Out, w, p.Convention.Path, a.style())
		},
	}
}
