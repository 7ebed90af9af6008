package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"crookedshelf/demo"
)

func newDemo(a *app) *cobra.Command {
	return &cobra.Command{
		Use:   "demo [DIR]",
		Short: "Unpack the demo project and run the whole story on it",
		Long: `demo unpacks the web client of Hilltop Observatory, where people book nights at a telescope, as it grew: into DIR, or into
a new temporary folder. Then it runs survey, check, why, plan, straighten, check and undo on it, and says what each shows. The folder
stays, crooked as it was, for you to try things on.`,
		Example: `  crooked demo
  crooked demo hilltop && cd hilltop && crooked check`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 1 {
				return flagError{errors.New("demo takes one folder at the most")}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			folder := ""
			if len(args) == 1 {
				folder = args[0]
			}
			folder, err := unpackDemo(folder)
			if err != nil {
				return err
			}
			return a.tellStory(folder)
		},
	}
}

// unpackDemo writes the demo's files into an empty folder.
func unpackDemo(folder string) (string, error) {
	if folder == "" {
		made, err := os.MkdirTemp("", "hilltop-")
		if err != nil {
			return "", err
		}
		folder = made
	}
	if entries, err := os.ReadDir(folder); err == nil && len(entries) > 0 {
		return "", flagError{fmt.Errorf("the folder %s is not empty; the demo needs one of its own", folder)}
	}
	files := demo.Hilltop()
	err := fs.WalkDir(files, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		target := filepath.Join(folder, filepath.FromSlash(p))
		if d.IsDir() {
			return os.MkdirAll(target, 0o755)
		}
		content, err := fs.ReadFile(files, p)
		if err != nil {
			return err
		}
		return os.WriteFile(target, content, 0o644)
	})
	return folder, err
}

// tellStory runs the commands one after the other, as a user would type them.
func (a *app) tellStory(folder string) error {
	story := []struct {
		say  string
		args []string
		code int
	}{
		{"First a tour of the project as it is, with no regard to what was agreed.", []string{"survey", "--depth", "1"}, exitDone},
		{"The client grew for three years. The team has agreed on shelves and written them into crooked.yaml.\nWhat stands crooked?", []string{"check"}, exitCrooked},
		{"Why does one of them belong there, and what hangs on it?", []string{"why", "src/components/SkyPanel.tsx"}, exitDone},
		{"What would have to move, and what must be rewritten for it? Nothing is changed yet.", []string{"plan"}, exitDone},
		{"Carry it out.", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"Is all straight now?", []string{"check"}, exitDone},
		{"And back, every byte.", []string{"undo"}, exitDone},
	}
	for _, s := range story {
		fmt.Fprintf(a.Out, "%s\n\n$ crooked %s\n\n", s.say, strings.Join(s.args, " "))
		args := append(s.args, "--root", folder)
		if a.noColor {
			args = append(args, "--no-color")
		}
		if code := Run(args, a.Streams); code != s.code {
			return fmt.Errorf("crooked %s ended with exit code %d in %s", s.args[0], code, folder)
		}
		fmt.Fprintln(a.Out)
	}
	_, err := fmt.Fprintf(a.Out, "The project is in %s, crooked as it was. Try: cd %s && crooked straighten\n", folder, folder)
	return err
}
