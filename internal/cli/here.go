package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

// lookAround says in a few lines what is in this folder and what can be done next; where nothing is, it helps.
func (a *app) lookAround(cmd *cobra.Command) error {
	folder, err := a.folder()
	if err != nil {
		return err
	}
	if a.convention != "" || engine.HasConvention(folder) {
		return a.lookAtShelves()
	}
	s, err := engine.TakeSurvey(folder, "", 1)
	if err != nil {
		return err
	}
	if len(s.Languages) == 0 {
		return cmd.Help()
	}
	if a.format == "json" {
		return report.JSON(a.Out, s)
	}
	fmt.Fprintf(
		a.Out,
		"%s: %s, mostly %s, and no crooked.yaml yet.\n",
		report.Clean(s.Title),
		report.Count(s.Files, "file"),
		s.Languages[0].Name,
	)
	next(a, "crooked survey", "a tour of what is there", "crooked survey --draft", "a first convention from its habits",
		"crooked adopt", "conventions to begin with", "crooked move FROM TO", "move one file now, with what refers to it",
		"crooked --help", "all commands")
	return nil
}

// lookAtShelves says how a project that has a convention stands to it.
func (a *app) lookAtShelves() error {
	p, err := a.open()
	if err != nil {
		return err
	}
	defer p.Close()
	c, err := a.check(p, checkOptions{})
	if err != nil {
		return err
	}
	if a.format == "json" {
		return report.JSON(a.Out, c)
	}
	if err := report.Verdict(a.Out, c, a.style()); err != nil {
		return err
	}
	if len(c.Findings) > 0 {
		next(
			a,
			"crooked check",
			"what lies in the wrong place",
			"crooked plan",
			"the moves that set it right, and what they rewrite",
			"crooked why FILE",
			"why a file belongs where it belongs",
			"crooked --help",
			"all commands",
		)
		return nil
	}
	next(a, "crooked survey", "a tour of the project", "crooked move FROM TO", "move files, with what refers to them",
		"crooked begin SHELF NAME", "begin something new", "crooked --help", "all commands")
	return nil
}

// next lists commands, each with what it is for.
func next(a *app, pairs ...string) {
	for i := 0; i < len(pairs); i += 2 {
		fmt.Fprintf(a.Out, "  %-26s %s\n", pairs[i], pairs[i+1])
	}
}
