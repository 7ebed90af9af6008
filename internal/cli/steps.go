package cli

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

// carryOut makes a plan happen: at once, or step by step. Each step is a plan of its own, made and proved on the tree
// as it is then, so that the project is whole after each. An interrupt lets the step that is under way be finished, a
// second one does not.
func (a *app) carryOut(p *engine.Project, made *plan.Plan, outcome *plan.Outcome, opts straightenOptions,
	git *committer) error {
	ctx, release := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
	defer release()
	context.AfterFunc(ctx, release) // a second one ends the program, and undo takes back what is half done
	s := &stepper{app: a, opts: opts, git: git, run: time.Now().UTC().Format("20060102T150405.000000"), project: p}
	if !opts.steps {
		return s.step(p, made, outcome, 1, 1, "")
	}
	defer s.close()
	for i, step := range made.Steps {
		if ctx.Err() != nil {
			return fmt.Errorf("interrupted: %s finished and stay; crooked straighten --steps goes on",
				report.Count(i, "step"))
		}
		files := []string{}
		for _, m := range step.Moves {
			files = append(files, m.From)
		}
		if err := s.planned(files, i+1, len(made.Steps), step.Title); err != nil {
			return err
		}
	}
	if opts.how.asked != nil {
		return nil
	}
	// what is left: rewrites and files to be written
	return s.planned(nil, len(made.Steps)+1, len(made.Steps)+1, "what needs no move")
}

// stepper carries out one step after the other.
type stepper struct {
	*app
	opts straightenOptions
	git  *committer
	run  string

	project *engine.Project // as it was for the last step
	opened  bool            // it was opened here
	done    *plan.Outcome   // of that step; nil for none
}

// close lets go of the project, if nobody else does.
func (s *stepper) close() {
	if s.opened {
		s.project.Close()
	}
}

// planned plans the moves of some files on the tree as it is now, and carries that out.
func (s *stepper) planned(files []string, step, of int, title string) error {
	if s.done != nil {
		next, err := s.project.Next(s.convention, s.done)
		if err != nil {
			return err
		}
		s.close()
		s.project, s.done, s.opened = next, nil, true
	}
	p := s.project
	how := s.opts.how.options()
	how.Files = files
	done := s.busy("planning step "+fmt.Sprint(step), p)
	made, outcome, err := p.Plan(how)
	done()
	if err != nil || made.Empty() {
		return err
	}
	s.done = outcome
	return s.step(p, made, outcome, step, of, title)
}

// step carries one outcome out, verifies it and commits it. If a check fails or git refuses, the step is taken back.
func (s *stepper) step(p *engine.Project, made *plan.Plan, outcome *plan.Outcome, step, of int, title string) error {
	part := journal.Part{Left: left(made)}
	recorded := report.Count(made.Changes(), "rewrite")
	if len(made.Steps) > 0 {
		recorded = fmt.Sprintf("%s, %s", report.Count(len(made.Moves()), "move"), recorded)
	}
	if s.opts.steps {
		part.Run, part.Step = s.run, step
		recorded = fmt.Sprintf("step %d, %s: %s", step, title, recorded)
	}
	before, err := s.git.look(outcome)
	if err != nil {
		return err
	}
	done := s.busy("straightening", p)
	err = p.Straighten(outcome, recorded, part, time.Now())
	if done(); err != nil {
		return err
	}
	s.changed = true
	if err := s.verify(p.Root); err != nil {
		return s.takeBack(p.Root, step, err)
	}
	if err := s.git.commit(before, made, outcome, commitTitle(made, step, of, s.opts.steps)); err != nil {
		var kept keptError
		if errors.As(err, &kept) {
			return err
		}
		return s.takeBack(p.Root, step, err)
	}
	if s.opts.steps && !s.quiet && s.format != "json" {
		// what can't be written is reported at the end
		fmt.Fprintf(s.Out, "step %d of %d, %s: %s\n", step, of, report.Clean(title), reported(made))
	}
	return nil
}

// left is what a plan leaves, for the journal.
func left(made *plan.Plan) []journal.Left {
	out := make([]journal.Left, len(made.Leftovers))
	for i, l := range made.Leftovers {
		out[i] = journal.Left{Path: l.Path, Line: l.Around, Text: l.Text, Named: l.Named, Now: l.Now}
	}
	return out
}

// takeBack undoes the step after which something failed.
func (s *stepper) takeBack(root string, step int, cause error) error {
	how := journal.Range{}
	what := "all is as it was"
	if s.opts.steps {
		how.Step = step
		what = fmt.Sprintf("step %d was taken back, and %s before it stay", step, report.Count(step-1, "step"))
	}
	out, err := engine.Undo(root, how, true)
	if err != nil {
		return fmt.Errorf("%w\nit could not be taken back (%s): run crooked undo", cause, err)
	}
	s.changed = s.opts.steps && step > 1
	var kept []string
	for _, o := range out {
		kept = append(kept, o.Kept...)
	}
	if len(kept) > 0 && !s.opts.steps {
		what = "the straighten was taken back"
	}
	return takenBack(cause, what, kept)
}

// takenBack is what the user sees of a step that was taken back, with what somebody changed meanwhile.
func takenBack(cause error, what string, kept []string) error {
	if len(kept) == 0 {
		return fmt.Errorf("%w\n%s", cause, what)
	}
	return fmt.Errorf("%w\n%s; what was changed meanwhile was kept:\n  %s", cause, what, strings.Join(kept, "\n  "))
}
