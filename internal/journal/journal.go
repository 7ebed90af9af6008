// Package journal carries changes out and takes them back. Before the first byte of the project changes, the record of
// what is about to be done and the old content of every file that it touches are on the disk and synced, under .crooked
// in the project. Undo needs nothing else, and gives the same outcome whether a straighten was finished or was stopped at
// any point.
//
// What is promised: after undo the old tree, byte for byte, as long as nobody else changed the touched files; what
// somebody did change is kept and told. What is not: that the steps of a running straighten are seen by other programs as
// one instant.
//
// apply.go carries out, undo.go takes back, lock.go keeps a second process away, disk.go is the only way to the disk.
package journal

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"time"

	"crookedshelf/internal/project"
)

// Folder is where the journal lies in a project. Git is told to ignore it.
const Folder = ".crooked"

const (
	recordsFolder = Folder + "/journal"
	recordFile    = "record.json"
	packFile      = "old.pack" // the old contents, one behind the other
	stateFile     = "state"
	formatVersion = 1
)

// State says how far a straighten has come.
type State string

// The states. A record without a state file was never begun: nothing in the project was touched.
const (
	Unbegun State = ""
	Begun   State = "begun"
	Done    State = "done"
	Undone  State = "undone" // taken back, save files that somebody had changed; kept for its old contents
)

// Change is one file's change: it moves, or its bytes change, or both. Without From it is a new file, without To it is removed.
type Change struct {
	From, To      string
	Before, After []byte
}

func (c Change) edits() bool { return c.From == "" || c.To != "" && !bytes.Equal(c.Before, c.After) }

// Record is what a straighten wrote down before it began.
type Record struct {
	Version int       `json:"version"`
	Time    time.Time `json:"time"`
	Title   string    `json:"title"`
	Run     string    `json:"run,omitempty"`  // the straighten that it is a step of; empty for one that is whole
	Step    int       `json:"step,omitempty"` // from 1
	Files   []Entry   `json:"files"`
	// Made are the folders that were made, the outermost first; Emptied are those that may have been left empty, the
	// innermost first.
	Made    []string `json:"made"`
	Emptied []Dir    `json:"emptied"`
	// Respelled are the folders whose name gets another case or another form of its accents, the outermost first.
	Respelled []Respelling `json:"respelled,omitempty"`

	Name  string `json:"-"` // of the record's folder
	State State  `json:"-"`
}

// Part says which step of which straighten a record is; the zero Part is a straighten that is whole.
type Part struct {
	Run  string
	Step int
}

// Entry is one file of a record.
type Entry struct {
	From     string      `json:"from"`   // empty for a new file
	To       string      `json:"to"`     // empty for a file that is removed
	Before   string      `json:"before"` // SHA-256, hexadecimal
	After    string      `json:"after"`
	Mode     fs.FileMode `json:"mode"`
	Modified time.Time   `json:"modified"`
	Offset   int64       `json:"offset"` // of the old content in the pack
	Size     int64       `json:"size"`
}

// Dir is a folder with its permissions.
type Dir struct {
	Path string      `json:"path"`
	Mode fs.FileMode `json:"mode"`
}

func sum(content []byte) string {
	s := sha256.Sum256(content)
	return hex.EncodeToString(s[:])
}

func (r *Record) folder() string { return path.Join(recordsFolder, r.Name) }

// Records lists the records of a project, the oldest first. A record that can't be read is an error: it may be all that
// is left of the old tree.
func Records(disk Disk) ([]*Record, error) {
	entries, err := disk.ReadDir(recordsFolder)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var out []*Record
	for _, e := range entries {
		if _, err := strconv.Atoi(e.Name()); err != nil || !e.IsDir() {
			continue
		}
		r, err := readRecord(disk, e.Name())
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	slices.SortFunc(out, func(a, b *Record) int { return number(a.Name) - number(b.Name) })
	return out, nil
}

func number(name string) int {
	n, _ := strconv.Atoi(name)
	return n
}

func readRecord(disk Disk, name string) (*Record, error) {
	folder := path.Join(recordsFolder, name)
	state, err := disk.ReadFile(path.Join(folder, stateFile), noLimit)
	if errors.Is(err, fs.ErrNotExist) {
		return &Record{Name: name, State: Unbegun}, nil // it never came to be
	}
	if err != nil {
		return nil, err
	}
	text, err := disk.ReadFile(path.Join(folder, recordFile), noLimit)
	if err != nil {
		return nil, err
	}
	r := &Record{Name: name, State: State(state)}
	if err := json.Unmarshal(text, r); err != nil {
		return nil, fmt.Errorf("the record %s/%s is damaged: %w", folder, recordFile, err)
	}
	if r.Version != formatVersion {
		return nil, fmt.Errorf("the record %s/%s is of version %d, and this program reads version %d", folder, recordFile, r.Version, formatVersion)
	}
	return r, r.check()
}

// check refuses a record that names anything but clean paths below the root: it may have been tampered with.
func (r *Record) check() error {
	bad := func(p string) error {
		return fmt.Errorf("the record %s names %q, which is no path below the project's root", r.folder(), p)
	}
	for _, f := range r.Files {
		if f.From != "" && !project.CleanPath(f.From) {
			return bad(f.From)
		}
		if (f.To != "" || f.From == "") && !project.CleanPath(f.To) {
			return bad(f.To)
		}
	}
	for _, d := range r.Made {
		if !project.CleanPath(d) {
			return bad(d)
		}
	}
	for _, d := range r.Emptied {
		if !project.CleanPath(d.Path) {
			return bad(d.Path)
		}
	}
	for _, s := range r.Respelled {
		if !project.CleanPath(s.From) || !project.CleanPath(s.To) || project.Fold(s.From) != project.Fold(s.To) {
			return bad(s.To)
		}
	}
	return nil
}

// Pending gives the record of a straighten that was begun and not finished, if there is one.
func Pending(disk Disk) (*Record, error) {
	records, err := Records(disk)
	if err != nil {
		return nil, err
	}
	for _, r := range records {
		if r.State == Begun {
			return r, nil
		}
	}
	return nil, nil
}

func (r *Record) setState(disk Disk, s State) error {
	temporary := path.Join(r.folder(), "next-state")
	_ = disk.Remove(temporary)
	if err := disk.Create(temporary, 0o600, []byte(s)); err != nil {
		return err
	}
	if err := disk.Sync([]string{temporary}); err != nil {
		return err
	}
	target := path.Join(r.folder(), stateFile)
	if err := disk.Rename(temporary, target); err != nil {
		return err
	}
	return disk.Sync([]string{target})
}

// discard deletes a record, and the journal's folder with its last record. The state goes first: what is left after a
// crash is then a record that was never begun.
func (r *Record) discard(disk Disk) error {
	if err := disk.Remove(path.Join(r.folder(), stateFile)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := removeAll(disk, r.folder()); err != nil {
		return err
	}
	_ = disk.Remove(recordsFolder) // stays while there are other records
	return nil
}

// removeAll deletes a folder of the journal's own with all that is in it.
func removeAll(disk Disk, dir string) error {
	entries, err := disk.ReadDir(dir)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	for _, e := range entries {
		p := path.Join(dir, e.Name())
		if e.IsDir() {
			err = removeAll(disk, p)
		} else {
			err = disk.Remove(p)
		}
		if err != nil {
			return err
		}
	}
	return disk.Remove(dir)
}
