package cli

import (
	"errors"
	"path/filepath"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newAdopt(a *app) *cobra.Command {
	var to string
	cmd := &cobra.Command{
		Use:   "adopt [NAME]",
		Short: "Write a starter convention, fitted to the project",
		Long: `adopt writes a convention to begin with: it fits the starter to the source folder, the languages and
the folders that it finds, and says what it chose and why. It never overwrites a file. Without a
name it lists the starters.`,
		Example: `  crooked adopt
  crooked adopt by-feature
  crooked adopt by-module --to next.yaml && crooked plan --convention next.yaml`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 1 {
				return flagError{errors.New("adopt takes the name of one starter")}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			if len(args) == 0 {
				if a.format == "json" {
					return report.JSON(a.Out, engine.StarterList())
				}
				return report.Starters(a.Out, engine.StarterList(), a.style())
			}
			file, err := a.newConvention(to)
			if err != nil {
				return err
			}
			made, err := engine.Adopt(a.root, args[0], file)
			if err != nil {
				return err
			}
			if a.format == "json" {
				return report.JSON(a.Out, made)
			}
			if a.quiet {
				return nil
			}
			return report.Adoption(a.Out, made, a.style())
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "the file to write (default: crooked.yaml in the project's root)")
	return cmd
}

// newConvention gives the path from the root of a file that the user names from the folder in which he is.
func (a *app) newConvention(to string) (string, error) {
	if to == "" {
		return "", nil
	}
	named, err := filepath.Abs(to)
	if err != nil {
		return "", err
	}
	root := a.root
	if root == "" {
		root = "."
	}
	return a.inProject(root, named)
}
