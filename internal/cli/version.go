package cli

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/internal/report"
)

// Version is the program's version; a release sets it when it is linked.
var Version = "0.1.0"

func newVersion(a *app) *cobra.Command {
	return &cobra.Command{
		Use:   "version",
		Short: "Tell the program's version, with its commit and day",
		Args:  noArgs,
		RunE: func(*cobra.Command, []string) error {
			commit, day := built()
			if a.format == "json" {
				return report.JSON(a.Out, map[string]string{"version": Version, "go": runtime.Version(), "commit": commit,
					"date": day.Format(time.DateOnly), "platform": runtime.GOOS + "/" + runtime.GOARCH})
			}
			from := ""
			if commit != "" {
				from = fmt.Sprintf("commit %s of %s, ", commit, day.Format(time.DateOnly))
			}
			_, err := fmt.Fprintf(a.Out, "crooked %s (%s%s/%s)\n", Version, from, runtime.GOOS, runtime.GOARCH)
			return err
		},
	}
}

// built gives the commit from which the program was built, and its day; no commit where the toolchain did not note it.
func built() (commit string, day time.Time) {
	day = firstDay
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "", day
	}
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			commit = s.Value[:min(12, len(s.Value))]
		case "vcs.time":
			if t, err := time.Parse(time.RFC3339, s.Value); err == nil {
				day = t.UTC()
			}
		case "vcs.modified":
			if s.Value == "true" {
				commit += ", changed"
			}
		}
	}
	return commit, day
}
