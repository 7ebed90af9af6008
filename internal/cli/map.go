package cli

import (
	"bytes"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/picture"
	"crookedshelf/internal/report"
)

func newMap(a *app) *cobra.Command {
	var output string
	var before, after bool
	var depth int
	cmd := &cobra.Command{
		Use:   "map",
		Short: "Draw the shelves: what stands on them, what is crooked, who uses whom",
		Long: `map shows the project as it is when everything stands where it belongs: each folder with its files, how
many of them come from elsewhere, and what it is for. With -o it draws a picture: an SVG for a README
or a merge request, or one HTML page in which everything can be looked at, searched and compared
with how it is now. The page needs no network. Without a convention it shows the folders as they are.`,
		Example: `  crooked map
  crooked map --before             the folders as they are
  crooked map -o shelves.svg
  crooked map -o map.html          a page to look around in`,
		Args: noArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if err := oneOf(cmd, "before", "after"); err != nil {
				return err
			}
			ending := strings.ToLower(filepath.Ext(output))
			if output != "" && ending != ".svg" && ending != ".html" {
				return flagError{fmt.Errorf("-o takes a file that ends in .svg or .html, not %q", output)}
			}
			if depth < 1 {
				return flagError{errors.New("--depth is 1 or more")}
			}
			p, err := a.openBare()
			if err != nil {
				return err
			}
			defer p.Close()
			done := a.busy("drawing", p)
			m, err := p.Map(engine.CheckOptions{Today: time.Now().UTC().Truncate(24 * time.Hour)})
			done()
			before = before || err == nil && m.Bare && !after // without shelves there is only what is
			switch {
			case err != nil:
				return err
			case output != "":
				return a.draw(m, output, ending, before)
			case a.format == "json":
				return report.JSON(a.Out, m)
			}
			return report.Map(a.Out, m, before, depth, a.style())
		},
	}
	cmd.Flags().StringVarP(&output, "output", "o", "", "draw into this file: .svg or .html")
	cmd.Flags().BoolVar(&before, "before", false, "the folders as they are now")
	cmd.Flags().BoolVar(&after, "after", false, "as everything stands where it belongs (the default)")
	cmd.Flags().IntVar(&depth, "depth", 3, "how many levels of folders are listed")
	return cmd
}

// draw writes a picture to a file.
func (a *app) draw(m *engine.Map, output, ending string, before bool) error {
	var drawn bytes.Buffer
	write := picture.SVG
	if ending == ".html" {
		write = picture.Page
	}
	if err := write(&drawn, m, before); err != nil {
		return err
	}
	if err := a.deliver(output, drawn.Bytes()); err != nil || a.quiet {
		return err
	}
	_, err := fmt.Fprintf(a.Out, "Written to %s.\n", report.Clean(output))
	return err
}
