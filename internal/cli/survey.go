package cli

import (
	"errors"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newSurvey(a *app) *cobra.Command {
	var depth int
	var draft bool
	cmd := &cobra.Command{
		Use:   "survey",
		Short: "Tour the project as it is, folder by folder",
		Long: `survey says of each folder how many files and lines it has, what it seems to hold and how that is
known, of which ecosystem the project is, what its commands are, what each file at the top is and who
writes it, where programs start, which settings name files, which folders use which, where that runs in
circles, what changes most, and which secrets git has. It needs no convention; with one, folders have
its words. With --draft it writes a first
convention from the habits that it finds, with what does not fit them as comments. It changes
nothing.`,
		Example: `  crooked survey
  crooked survey --depth 3 --root hilltop
  crooked survey --draft > crooked.yaml`,
		Args:        noArgs,
		Annotations: map[string]string{garbage: besideNoTexts},
		RunE: func(cmd *cobra.Command, _ []string) error {
			if depth < 1 && cmd.Flags().Changed("depth") {
				return flagError{errors.New("--depth is 1 or more")}
			}
			folder, err := a.folder()
			if err != nil {
				return err
			}
			done := a.busy("surveying", nil)
			defer done()
			if draft {
				text, err := engine.Draft(folder)
				done()
				if err != nil {
					return err
				}
				_, err = a.Out.Write(text)
				return err
			}
			s, err := engine.TakeSurvey(folder, a.convention, depth)
			done()
			if err != nil {
				return err
			}
			s.NoteChanges(lastCommits(folder))
			if a.format == "json" {
				return report.JSON(a.Out, s)
			}
			return report.Survey(a.Out, s, a.style())
		},
	}
	cmd.Flags().BoolVar(&draft, "draft", false, "write a first convention from the habits of the project")
	cmd.Flags().IntVar(&depth, "depth", 0, "how many levels of folders to tell apart (default: as many as fit)")
	return cmd
}
