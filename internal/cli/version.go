package cli

import (
	"fmt"
	"runtime"

	"github.com/spf13/cobra"

	"crookedshelf/internal/report"
)

// Version is the program's version; a release sets it when it is linked.
var Version = "0.1.0"

func newVersion(a *app) *cobra.Command {
	return &cobra.Command{
		Use:   "version",
		Short: "Tell the program's version",
		Args:  noArgs,
		RunE: func(*cobra.Command, []string) error {
			if a.format == "json" {
				return report.JSON(a.Out, map[string]string{"version": Version, "go": runtime.Version(),
					"platform": runtime.GOOS + "/" + runtime.GOARCH})
			}
			_, err := fmt.Fprintf(a.Out, "crooked %s (%s/%s)\n", Version, runtime.GOOS, runtime.GOARCH)
			return err
		},
	}
}
