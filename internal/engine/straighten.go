package engine

import (
	"time"

	"crookedshelf/internal/journal"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/plan"
)

// Straighten carries an outcome out, whole or as a step.
func (p *Project) Straighten(out *plan.Outcome, title string, part journal.Part, now time.Time) error {
	key, _, err := makeKey()
	if err != nil {
		return err
	}
	return withLock(p.Root, key, func(j *journal.Journal) error {
		j = j.Remembering(p.records)
		records, err := j.Records()
		if err != nil {
			return err
		}
		if err := pendingAmong(j, records); err != nil {
			return err
		}
		for _, r := range records {
			// without a key all look strange; damage of what was finished is in the warnings
			if err := j.Usable(r); err != nil && r.Damage == nil && len(key) > 0 {
				return err
			}
		}
		changes := make([]journal.Change, len(out.Files))
		parallel.Do(len(changes), func(i int) {
			f := &out.Files[i]
			changes[i] = journal.Change{From: f.From, To: f.To, Before: f.Before, After: f.After()}
		})
		_, err = j.Apply(title, part, changes, now)
		return err
	})
}

// Undo takes straightens of the project at root back. It needs no convention. With trust, records that were not made
// here are believed.
func Undo(root string, how journal.Range, trust bool) ([]*journal.Outcome, error) {
	var out []*journal.Outcome
	err := withJournal(root, func(j *journal.Journal) (err error) {
		if trust {
			j = j.Trusting()
		}
		out, err = j.Undo(how)
		return err
	})
	return out, err
}

// Straightens lists the records of the journal, the oldest first.
func Straightens(root string) ([]*journal.Record, error) {
	j, done, err := openJournal(root)
	if err != nil {
		return nil, err
	}
	defer done()
	return j.Records()
}

// VerifyJournal reads all of the journal.
func VerifyJournal(root string) ([]journal.Verified, error) {
	j, done, err := openJournal(root)
	if err != nil {
		return nil, err
	}
	defer done()
	return j.Verify()
}

// Extract gives the old content of a file from the journal.
func Extract(root, file string) ([]byte, error) {
	j, done, err := openJournal(root)
	if err != nil {
		return nil, err
	}
	defer done()
	return j.Extract(file)
}

// Forget deletes a record of the journal, or puts one aside that can't be read; then aside is where.
func Forget(root string, number int) (r *journal.Record, aside string, err error) {
	err = withJournal(root, func(j *journal.Journal) (err error) {
		r, aside, err = j.Forget(number)
		return err
	})
	return r, aside, err
}
