package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/exact"
	"crookedshelf/internal/project"
)

const (
	recordFile    = "record.json"
	packFile      = "old.pack"
	stateFile     = "state"
	formatVersion = 2
	stateHead     = "crooked journal 2"
)

// A state file is lines of a word and a value: what is stated, the sum of the record's file, the sum of the lines
// before, and the mark of whoever wrote them.
const (
	stateLine  = "state"
	recordLine = "record"
	sumLine    = "sum"
	markLine   = "mark"
)

// stateText is a state file.
func (j *Journal) stateText(s State, recordSum string) []byte {
	text := fmt.Sprintf("%s\n%s %s\n%s %s\n", stateHead, stateLine, s, recordLine, recordSum)
	text += fmt.Sprintf("%s %s\n", sumLine, sum([]byte(text)))
	return fmt.Appendf([]byte(text), "%s %s\n", markLine, mark(j.key, text))
}

// readState reads a state file. foreign: it has not the mark of this key.
func (j *Journal) readState(text string) (s State, recordSum string, foreign bool, err error) {
	switch State(text) {
	case Begun, Done, Undone:
		return State(text), "", false, errors.New("it was written by an older crooked, which can undo it")
	}
	lines := strings.SplitAfter(text, "\n")
	if len(lines) != 6 || lines[5] != "" || lines[0] != stateHead+"\n" {
		return Unknown, "", true, fmt.Errorf("its %s is damaged", stateFile)
	}
	value := func(i int, word string) string {
		rest, _ := strings.CutPrefix(strings.TrimSuffix(lines[i], "\n"), word+" ")
		return rest
	}
	if value(3, sumLine) != sum([]byte(strings.Join(lines[:3], ""))) {
		return Unknown, "", true, fmt.Errorf("its %s is damaged", stateFile)
	}
	s = State(value(1, stateLine))
	if !slices.Contains([]State{Begun, Done, Undoing, Undone}, s) {
		return Unknown, "", true, fmt.Errorf("its %s says nothing that is known", stateFile)
	}
	foreign = !marked(j.key, strings.Join(lines[:4], ""), value(4, markLine))
	return s, value(2, recordLine), foreign, nil
}

// read reads a record. What can't be read of it is its damage.
func (j *Journal) read(name string) *Record {
	folder := path.Join(recordsFolder, name)
	r := &Record{Name: name}
	text, err := j.disk.ReadFile(path.Join(folder, stateFile), largestState)
	if err != nil {
		r.Damage = fmt.Errorf("its %s can't be read: %w", stateFile, err)
		return r
	}
	state, recordSum, foreign, err := j.readState(string(text))
	if r.State, r.Foreign, r.sum = state, foreign, recordSum; err != nil {
		r.Damage = err
		return r
	}
	content, err := j.disk.ReadFile(path.Join(folder, recordFile), largestRecord)
	switch {
	case err != nil:
		r.Damage = fmt.Errorf("its %s can't be read: %w", recordFile, err)
		return r
	case sum(content) != recordSum:
		r.Damage = fmt.Errorf("its %s is damaged", recordFile)
		return r
	}
	full := &Record{}
	if err := exact.Unmarshal(content, full); err != nil {
		r.Damage = fmt.Errorf("its %s is damaged: %w", recordFile, err)
		return r
	}
	if full.Version != formatVersion {
		r.Damage = fmt.Errorf("it is of version %d, and this program reads version %d", full.Version, formatVersion)
		return r
	}
	full.Name, full.State, full.Foreign, full.sum = r.Name, r.State, r.Foreign, r.sum
	full.Damage = full.check()
	return full
}

// check refuses a record that names anything but clean paths below the root: it may have been tampered with.
func (r *Record) check() error {
	var names []string
	for _, f := range r.Files {
		if f.From == "" && f.To == "" {
			names = append(names, "")
		}
		for _, p := range []string{f.From, f.To} {
			if p != "" {
				names = append(names, p)
			}
		}
	}
	names = append(names, r.Made...)
	for _, d := range r.Emptied {
		names = append(names, d.Path)
	}
	for _, s := range r.Respelled {
		if names = append(names, s.From, s.To); project.Fold(s.From) != project.Fold(s.To) {
			return fmt.Errorf("it gives %q the name %q, which is another one", s.From, s.To)
		}
	}
	for _, p := range names {
		if !project.CleanPath(p) {
			return fmt.Errorf("it names %q, which is no path below the project's root", p)
		}
	}
	return nil
}

// setState writes a record's state, so that it is the old one or the new one whatever happens.
func (j *Journal) setState(r *Record, s State) error {
	temporary, target := path.Join(r.folder(), "next-state"), path.Join(r.folder(), stateFile)
	if err := j.disk.Remove(temporary); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := j.disk.Create(temporary, 0o600, j.stateText(s, r.sum)); err != nil {
		return err
	}
	if err := j.disk.Sync([]string{temporary}); err != nil {
		return err
	}
	if err := j.disk.Rename(temporary, target); err != nil {
		return err
	}
	r.State = s
	return j.disk.Sync([]string{target})
}

// DamageError says that a record can't be read, or is not one of this user's.
type DamageError struct {
	Record *Record
	Cause  error
}

func (e *DamageError) Error() string {
	return fmt.Sprintf(`record %d of the journal can't be used: %s. Nothing of it was deleted.
crooked undo --verify shows what can be read, crooked undo --extract FILE writes one old content out,
and crooked undo --forget %d moves the record out of the way`, e.Record.Number(), e.Cause, e.Record.Number())
}

func (e *DamageError) Unwrap() error { return e.Cause }

// ForeignError says that a record was not made by this user on this machine.
type ForeignError struct{ Record *Record }

func (e *ForeignError) Error() string {
	return fmt.Sprintf("record %d of the journal in %s was not made here by you: it may have come with the project, "+
		"and undo would write what it says.\nIf it came with the project, delete the folder %s; if you trust it, say "+
		"crooked undo --trust", e.Record.Number(), recordsFolder, Folder)
}

// Usable gives the reason why a record can't be taken back; nil for none.
func (j *Journal) Usable(r *Record) error {
	switch {
	case r.Foreign && r.State != Unknown && !j.trust:
		return &ForeignError{r}
	case r.Damage != nil:
		return &DamageError{r, r.Damage}
	}
	return nil
}
