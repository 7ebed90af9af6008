package cli

import (
	"errors"
	"fmt"
	"path"
	"path/filepath"
	"slices"

	"github.com/spf13/cobra"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/report"
)

func newUndo(a *app) *cobra.Command {
	var o undoOptions
	cmd := &cobra.Command{
		Use:   "undo",
		Short: "Take the last straighten back",
		Long: `undo puts back exactly what the last straighten changed, also after a crash in the middle of it.
Files that were changed since then are kept as they are and reported one by one. Of a straighten in
steps it takes back all, or with --step that step and those after it; if one was stopped half way,
it takes back that step alone. Commits that were made stay: git revert is for these.

The journal in .crooked has the old contents. --list and --verify show what is in it, --extract
writes one old content out, and --forget deletes one record. A record that is damaged is never
deleted, but put aside.`,
		Example: `  crooked undo
  crooked undo --list
  crooked undo --step 3
  crooked undo --all
  crooked undo --verify                      read the whole journal, and report what is damaged
  crooked undo --extract src/dome.ts         the old content of one file, to the output
  crooked undo --forget 2                    delete record 2: it can't be taken back any more`,
		Args: noArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			steady()
			if err := oneOf(cmd, "list", "verify", "extract", "forget", "all", "step"); err != nil {
				return err
			}
			folder, err := a.projectFolder()
			if err != nil {
				return err
			}
			return a.undoOr(folder, o, cmd)
		},
	}
	cmd.Flags().BoolVar(&o.how.All, "all", false, "take back every straighten that can be taken back")
	cmd.Flags().IntVar(&o.how.Step, "step", 0, "of the last straighten, take back this step and those after it")
	cmd.Flags().BoolVar(&o.list, "list", false, "list the journal, and change nothing")
	cmd.Flags().BoolVar(&o.verify, "verify", false,
		"read all of the journal, report what is damaged, and change nothing")
	cmd.Flags().StringVar(&o.extract, "extract", "",
		"write the old content of this file to the output, and change nothing")
	cmd.Flags().IntVar(&o.forget, "forget", 0, "delete this record of the journal; one that can't be read is put aside")
	cmd.Flags().BoolVar(&o.trust, "trust", false, "believe a journal that was not made here by you")
	return cmd
}

type undoOptions struct {
	how          journal.Range
	list, verify bool
	trust        bool
	extract      string
	forget       int
}

// undoOr takes back, or does what else the options say.
func (a *app) undoOr(folder string, o undoOptions, cmd *cobra.Command) error {
	switch given := cmd.Flags().Changed; {
	case o.list:
		return a.listStraightens(folder)
	case o.verify:
		return a.verifyJournal(folder)
	case given("extract"):
		content, err := engine.Extract(folder, path.Clean(filepath.ToSlash(o.extract)))
		if err != nil {
			return fmt.Errorf("%q: %w", o.extract, err)
		}
		_, err = a.Out.Write(content)
		return err
	case given("forget") && o.forget < 1 || given("step") && o.how.Step < 1:
		return flagError{errors.New("--step and --forget take a number, from 1")}
	case given("forget"):
		return a.forget(folder, o.forget)
	}
	return a.undo(folder, o.how, o.trust)
}

func (a *app) undo(folder string, how journal.Range, trust bool) error {
	out, err := engine.Undo(folder, how, trust)
	if nothingToUndo(err) {
		if a.quiet {
			return nil
		}
		_, err := fmt.Fprintln(a.Out, "There is nothing to undo here.")
		return err
	}
	if len(out) > 0 {
		a.changed = true
		if err := a.tellUndo(out); err != nil {
			return err
		}
	}
	if err != nil {
		return err
	}
	for _, o := range out {
		if len(o.Kept) > 0 {
			return crookedError{}
		}
	}
	return nil
}

// verifyJournal shows what of the journal is whole. Damage is something crooked.
func (a *app) verifyJournal(folder string) error {
	found, err := engine.VerifyJournal(folder)
	if err != nil {
		return err
	}
	if a.format == "json" {
		err = report.JSON(a.Out, report.NewVerified(found))
	} else {
		err = report.Verified(a.Out, found, a.style())
	}
	if err == nil && slices.ContainsFunc(found, func(v journal.Verified) bool { return len(v.Wrong) > 0 }) {
		return crookedError{}
	}
	return err
}

func (a *app) forget(folder string, number int) error {
	r, aside, err := engine.Forget(folder, number)
	if nothingToUndo(err) {
		err = errors.New("there is no journal here")
	}
	if err != nil {
		return err
	}
	a.changed = true
	if aside != "" {
		_, err = fmt.Fprintf(a.Out, "Record %d can't be read, so it was not deleted: it is in %s now.\n", r.Number(),
			aside)
		return err
	}
	_, err = fmt.Fprintf(a.Out, "Record %d is deleted (%s, of %s).\n", r.Number(), report.Clean(r.Title),
		r.Time.Time().Format("2006-01-02 15:04 MST"))
	return err
}

func (a *app) tellUndo(out []*journal.Outcome) error {
	if a.format == "json" {
		return report.JSON(a.Out, report.NewUndo(out))
	}
	return report.Undo(a.Out, out, a.style())
}

func (a *app) listStraightens(folder string) error {
	records, err := engine.Straightens(folder)
	if err != nil {
		return err
	}
	if a.format == "json" {
		return report.JSON(a.Out, report.NewStraightens(records))
	}
	return report.Straightens(a.Out, records, a.style())
}
