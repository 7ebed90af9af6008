package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

type moveOptions struct {
	straightenOptions
	alone   bool
	already bool
	patch   bool
	output  string
}

func newMove(a *app) *cobra.Command {
	var opts moveOptions
	cmd := &cobra.Command{
		Use:   "move FROM... TO",
		Short: "Move files and folders, and rewrite what refers to them",
		Long: `move takes files and folders elsewhere, with everything that refers to them: the same rewrites and the
same proof as for straighten, with or without a convention. TO is a folder if it ends in a slash or is
one; else it is the new path, so that move a.ts b.ts renames. What belongs to a file by its name goes
with it: its tests, styles and stories, and the companions that the convention names.

It shows what it will do and asks. Where nobody can be asked it needs --yes. crooked undo takes it back.

What was moved by hand is finished with --already: the file is at TO by now, and what still names its
old place is mended.`,
		Example: `  crooked move src/night.ts src/sky/
  crooked move src/util src/helpers              the folder gets a new name
  crooked move a.ts b.css lib/ --patch           a patch, and nothing is changed
  crooked move --already src/night.ts src/sky/   it was moved by hand`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) < 2 {
				return flagError{errors.New("say what to move, and where to: crooked move src/night.ts src/sky/")}
			}
			return nil
		},
		Annotations:       map[string]string{garbage: besideTexts},
		ValidArgsFunction: func(*cobra.Command, []string, string) ([]string, cobra.ShellCompDirective) { return nil, 0 },
		RunE: func(_ *cobra.Command, args []string) error {
			steady()
			return a.move(args, opts)
		},
	}
	flags := cmd.Flags()
	flags.BoolVar(&opts.alone, "alone", false, "move what is named and nothing that belongs to it by its name")
	flags.BoolVar(&opts.already, "already", false, "it was moved by hand: mend what still names the old place")
	flags.BoolVar(&opts.patch, "patch", false, "write a patch with renames, for git apply, and change nothing")
	flags.StringVarP(
		&opts.output,
		"output",
		"o",
		"",
		"write the plan to this file, or with --patch the patch, and change nothing",
	)
	opts.how.textFlags(cmd)
	opts.carryFlags(cmd)
	return cmd
}

func (a *app) move(args []string, opts moveOptions) error {
	root, err := a.projectFolder()
	if err != nil {
		return err
	}
	places, err := a.allInProject(root, args)
	if err != nil {
		return err
	}
	p, err := engine.OpenToMove(root, a.convention)
	if err != nil {
		return err
	}
	defer p.Close()
	if err := opts.complete(p); err != nil {
		return err
	}
	last := len(places) - 1
	moving := engine.Moving{From: places[:last], To: places[last], Alone: opts.alone}
	if opts.already {
		return a.finishMove(p, moving, opts)
	}
	if opts.how.asked, err = p.Moves(moving); err != nil {
		return err
	}
	if opts.steps {
		p.Stamp()
	}
	made, outcome, err := a.plan(p, &opts.how)
	if err != nil {
		return err
	}
	return a.planned(p, made, outcome, opts)
}

// finishMove mends what still names the old places of what was moved by hand.
func (a *app) finishMove(p *engine.Project, moving engine.Moving, opts moveOptions) error {
	if opts.steps || opts.commit || opts.output != "" && !opts.patch {
		return flagError{errors.New("--already makes rewrites alone: --steps, --commit and a plan in a file are for moves")}
	}
	done := a.busy("planning", p)
	made, outcome, err := p.FinishMoves(moving, opts.how.options())
	done()
	if err != nil {
		return err
	}
	if made.Empty() && len(made.Blocked) == 0 {
		if a.format == "json" {
			return report.JSON(a.Out, made)
		}
		if err := report.Leftovers(a.Out, made, a.style()); err != nil || a.quiet {
			return err
		}
		fmt.Fprintln(a.Out, "Nothing to mend: no reference leads to the old place.")
		return nil
	}
	return a.planned(p, made, outcome, opts)
}

// planned writes the plan of moves to a file, or shows it and carries it out.
func (a *app) planned(p *engine.Project, made *plan.Plan, outcome *plan.Outcome, opts moveOptions) error {
	if opts.patch || opts.output != "" {
		return a.writePlan(made, outcome, opts.output, opts.patch)
	}
	show := report.Warnings
	if !opts.yes || len(made.Blocked) > 0 {
		show = report.Plan
	}
	if a.format != "json" {
		if err := show(a.Out, made, a.style()); err != nil {
			return err
		}
	}
	if len(made.Blocked) > 0 && (!opts.partial || made.Empty()) {
		return crookedError{}
	}
	return a.straightenBy(p, made, outcome, opts.straightenOptions, "move")
}

// projectFolder is the root of a project that may have no convention: --root, the nearest folder upward that has one,
// the top of git's work tree, or this folder.
func (a *app) projectFolder() (string, error) {
	folder, err := a.folder()
	if err != nil || a.root != "" || engine.HasConvention(folder) {
		return folder, err
	}
	if top := engine.TopOf(folder); top != "" {
		return top, nil
	}
	return folder, nil
}

// inProject gives the path from the root of what the user names: from the folder in which the user is, or from --root.
// A slash at the end stays.
func (a *app) inProject(root, named string) (string, error) {
	place := named
	if a.root != "" && !filepath.IsAbs(named) {
		place = filepath.Join(root, named)
	}
	place, err := filepath.Abs(place)
	if err != nil {
		return "", err
	}
	if root, err = filepath.Abs(root); err != nil {
		return "", err
	}
	below, err := filepath.Rel(root, place)
	if err != nil || !filepath.IsLocal(below) {
		return "", flagError{fmt.Errorf("%s lies outside of the project %s", named, root)}
	}
	below = filepath.ToSlash(below)
	if strings.HasSuffix(named, "/") || strings.HasSuffix(named, string(os.PathSeparator)) {
		below += "/"
	}
	return below, nil
}

// allInProject does what inProject does for each of the names.
func (a *app) allInProject(root string, named []string) ([]string, error) {
	places := make([]string, len(named))
	for i, name := range named {
		place, err := a.inProject(root, name)
		if err != nil {
			return nil, err
		}
		places[i] = place
	}
	return places, nil
}
