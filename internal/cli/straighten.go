package cli

import (
	"bufio"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
	"crookedshelf/internal/show"
)

type straightenOptions struct {
	planFile string
	yes      bool
	partial  bool
	dirty    bool
	steps    bool
	commit   bool
	signoff  bool
	verify   bool
	commands []string // to verify with
	how      manner
}

func newStraighten(a *app) *cobra.Command {
	var opts straightenOptions
	cmd := &cobra.Command{
		Use:   "straighten",
		Short: "Carry the plan out: all of it or nothing, or step by step",
		Long: `straighten makes the moves and rewrites of the plan. Before the first byte changes, the old contents
are on the disk under .crooked, so that crooked undo gives the old tree back, also after a crash.

On a terminal it shows what it will do and asks. Elsewhere it needs --yes. Files with changes that
git does not have yet are not touched, unless --dirty.

With --steps it carries out one step after the other, what depends on least first; after each the
project is whole. --verify runs the convention's checks after each step, --verify-with a command of
yours; a step after which one fails is taken back, and the rest is left. --commit makes two commits
of each step, with the user's own git: the renames alone, so that history follows them, and then the
rewrites.`,
		Example: `  crooked straighten
  crooked straighten --plan plan.json --yes
  crooked straighten --partial                    also if some moves are blocked
  crooked straighten --only parts,src/utils       these shelves and folders alone
  crooked straighten --steps --verify --commit    step by step, checked and committed
  crooked straighten --steps --verify-with "npm run typecheck"`,
		Args: noArgs,
		RunE: func(*cobra.Command, []string) error {
			steady()
			return a.straighten(opts)
		},
	}
	cmd.Flags().StringVar(&opts.planFile, "plan", "", "carry out the plan in this file, if it still fits")
	opts.how.flags(cmd)
	opts.carryFlags(cmd)
	return cmd
}

// carryFlags are those that say how a plan is carried out.
func (o *straightenOptions) carryFlags(cmd *cobra.Command) {
	cmd.Flags().BoolVarP(&o.yes, "yes", "y", false, "do not ask")
	cmd.Flags().BoolVar(&o.partial, "partial", false, "carry out what is not blocked")
	cmd.Flags().BoolVar(&o.dirty, "dirty", false, "also touch files with uncommitted changes")
	cmd.Flags().BoolVar(&o.steps, "steps", false, "one step after the other")
	cmd.Flags().BoolVar(&o.verify, "verify", false, "run the convention's checks after each step")
	cmd.Flags().StringArrayVar(&o.commands, "verify-with", nil,
		"run this command after each step; may be given several times")
	cmd.Flags().BoolVar(&o.commit, "commit", false, "commit each step: the renames, then the rewrites")
	cmd.Flags().BoolVar(&o.signoff, "signoff", false, "sign the commits off, as git commit --signoff")
}

func (a *app) straighten(opts straightenOptions) error {
	open := a.open
	if opts.planFile != "" { // it may be of moves by name, which need no convention
		open = a.openBare
	}
	p, err := open()
	if err != nil {
		return err
	}
	defer p.Close()
	if err := opts.complete(p); err != nil {
		return err
	}
	if opts.steps {
		p.Stamp()
	}
	made, outcome, err := a.preparePlan(p, opts)
	if err != nil {
		return err
	}
	if len(made.Blocked) > 0 && !opts.partial {
		if err := report.Plan(a.Out, made, report.Style{Color: a.style().Color, Quiet: true}); err != nil {
			return err
		}
		fmt.Fprintf(a.Err, "crooked: %s blocked; --partial carries out the other %d\n",
			report.Count(len(made.Blocked), "move"), len(made.Moves()))
		return crookedError{}
	}
	if made.Empty() {
		if err := report.PlanSummary(a.Out, made, a.style()); err != nil {
			return err
		}
		return a.verdict(made)
	}
	return a.straightenBy(p, made, outcome, opts, "straighten")
}

// straightenBy carries a plan out that was made: it asks first, and says at the end what was done.
func (a *app) straightenBy(p *engine.Project, made *plan.Plan, outcome *plan.Outcome, opts straightenOptions,
	what string) error {
	if err := a.refuseDirty(p.Root, outcome, opts.dirty); err != nil {
		return err
	}
	git, err := a.committer(p.Root, opts)
	if err != nil {
		return err
	}
	if err := a.confirm(made, opts, what); err != nil {
		return err
	}
	if problem := engine.KeyProblem(); problem != "" {
		fmt.Fprintf(a.Err, "crooked: %s\n", show.Text(problem))
	}
	if err := a.carryOut(p, made, outcome, opts, git); err != nil {
		return err
	}
	if a.format == "json" {
		made.Seal(outcome)
		if err := report.JSON(a.Out, made); err != nil {
			return err
		}
	} else if !a.quiet {
		if err := report.Leftovers(a.Out, made, a.style()); err != nil {
			return err
		}
		fmt.Fprintf(a.Out, "%s crooked undo takes it back.\n", reported(made))
	}
	return a.verdict(made)
}

// complete takes what the options leave to the convention, and refuses what does not go together.
func (o *straightenOptions) complete(p *engine.Project) error {
	switch {
	case o.planFile != "" && (o.steps || len(o.how.only) > 0):
		return flagError{errors.New("a plan of a file is carried out as it is: --plan does not go with --steps or " +
			"--only")}
	case o.signoff && !o.commit:
		return flagError{errors.New("--signoff is for --commit")}
	case !o.verify:
		return nil
	}
	for _, one := range p.Convention.All() {
		o.commands = append(o.commands, one.Verify...)
	}
	if len(o.commands) == 0 {
		return flagError{fmt.Errorf("%s names no checks: write verify: [npm run typecheck], or give a command by "+
			"--verify-with", p.Convention.Path)}
	}
	return nil
}

// reported says in one sentence what was done.
func reported(made *plan.Plan) string {
	written := ""
	if len(made.Writes) > 0 {
		written = ", and wrote " + report.Count(len(made.Writes), "file")
	}
	if len(made.Removes) > 0 {
		written += ", and removed " + report.Count(len(made.Removes), "file")
	}
	rewrote := fmt.Sprintf(
		"ewrote %s in %s",
		report.Count(made.Changes(), "mention"),
		report.Count(len(made.Edits), "file"),
	)
	if len(made.Steps) == 0 {
		return fmt.Sprintf("R%s%s.", rewrote, written)
	}
	return fmt.Sprintf("Moved %s and r%s%s.", report.Count(len(made.Moves()), "file"), rewrote, written)
}

// verdict is exit code 1 where something stays blocked.
func (a *app) verdict(made *plan.Plan) error {
	if len(made.Blocked) > 0 {
		return crookedError{}
	}
	return nil
}

// preparePlan makes the plan, or reads it and compares it with the tree.
func (a *app) preparePlan(p *engine.Project, opts straightenOptions) (*plan.Plan, *plan.Outcome, error) {
	file := opts.planFile
	if file == "" {
		return a.plan(p, &opts.how)
	}
	text, err := readNamed(file)
	if err != nil {
		return nil, nil, flagError{fmt.Errorf("the plan can't be read: %w", err)}
	}
	made, err := plan.Read(text)
	if err != nil {
		return nil, nil, flagError{fmt.Errorf("%s: %w", file, err)}
	}
	outcome, err := p.StoredOutcome(made)
	return made, outcome, err
}

// refuseDirty looks for changes that git does not have yet in the files that would be touched.
func (a *app) refuseDirty(root string, outcome *plan.Outcome, allowed bool) error {
	if allowed {
		return nil
	}
	var touched []string
	for _, f := range outcome.Files {
		if f.From != "" {
			touched = append(touched, f.From)
		}
	}
	dirty, err := uncommitted(root, touched)
	if err != nil {
		return fmt.Errorf("it is not known whether files with uncommitted changes would be touched: %w", err)
	}
	if len(dirty) == 0 {
		return nil
	}
	shown := slices.Clone(dirty[:min(10, len(dirty))])
	for i := range shown {
		shown[i] = report.Clean(shown[i])
	}
	return fmt.Errorf("%s to be touched %s uncommitted changes; commit them, or say --dirty:\n  %s",
		report.Count(len(dirty), "file"), map[bool]string{true: "has", false: "have"}[len(dirty) == 1],
		strings.Join(shown, "\n  "))
}

// confirm asks on a terminal; elsewhere --yes is needed. What will be run is shown first.
func (a *app) confirm(made *plan.Plan, opts straightenOptions, what string) error {
	if opts.yes {
		return nil
	}
	if err := a.canAsk(what); err != nil {
		return err
	}
	if what != "move" { // all of it was shown
		if err := report.PlanSummary(a.Out, made, a.style()); err != nil {
			return err
		}
	}
	for _, c := range opts.commands {
		fmt.Fprintf(a.Out, "After each step this is run here: %s\n", report.Clean(c))
	}
	return a.agreed()
}

// canAsk says what to do where nobody can be asked.
func (a *app) canAsk(what string) error {
	if !a.Terminal {
		return flagError{fmt.Errorf("without a terminal to ask on, %s needs --yes", what)}
	}
	return nil
}

// agreed asks whether to carry out what was shown.
func (a *app) agreed() error {
	if !a.ask("Carry it out?") {
		return errors.New("not carried out; nothing was changed")
	}
	return nil
}

// ask puts a question to a person; anything but yes is no.
func (a *app) ask(question string) bool {
	fmt.Fprint(a.Out, question+" [y/N] ")
	if a.answers == nil { // one reader for all questions: it may have read ahead
		a.answers = bufio.NewReader(a.In)
	}
	answer, _ := a.answers.ReadString('\n')
	answer = strings.ToLower(strings.TrimSpace(answer))
	return answer == "y" || answer == "yes"
}
