// Package journal carries changes out and takes them back. Before the first byte of the project changes, the record of
// what is about to be done and the old content of every file that it touches are on the disk and synced, under .crooked
// in the project. Undo needs nothing else, and gives the same outcome whether a straighten was finished or was stopped
// at any point.
//
// What is promised: after undo the old tree, byte for byte, as long as nobody else changed the touched files. What
// somebody did change, also while a straighten or an undo runs, is kept and reported: no file is replaced or deleted
// whose content was not looked at after it was taken out of its place. Nothing of the journal that can't be read is
// deleted. What is not promised: that the steps of a running straighten are seen by other programs as one instant.
//
// apply.go carries out; undo.go takes back, and putback.go does it for each file; record.go is the journal's form on
// the disk, pack.go the old contents; keeping.go is what can be asked of the journal, mark.go says whose it is;
// lock.go keeps a second process away, disk.go is the only way to the disk.
package journal

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"

	"crookedshelf/internal/parallel"
	"crookedshelf/internal/rootfs"
)

// Folder is where the journal lies in a project. Git is told to ignore it.
const Folder = ".crooked"

const (
	recordsFolder = Folder + "/journal"
	nextFolder    = recordsFolder + "/next" // a record that is being written: it counts for nothing
	asideFolder   = Folder + "/damaged"     // records that can't be read and that somebody wanted to forget
	goneEnding    = ".gone"                 // of a record that is being deleted
)

// Journal is the journal of a project. The key tells the records that were made here from others; without one none can
// be known.
type Journal struct {
	disk   Disk
	key    []byte
	trust  bool
	memory *Memory // nil where nothing is remembered
}

// Open gives the journal on a disk.
func Open(disk Disk, key []byte) *Journal { return &Journal{disk: disk, key: key} }

// Trusting takes records of others as its own.
func (j *Journal) Trusting() *Journal {
	return &Journal{disk: j.disk, key: j.key, trust: true}
}

// Memory holds records that were read, so that one whose files nobody has touched need not be read again.
type Memory struct{ known map[string]remembered }

type remembered struct {
	files  [2]rootfs.Info // of the state and of the record
	record Record
}

// Remembering is the same journal, with a memory, which may be nil.
func (j *Journal) Remembering(m *Memory) *Journal {
	return &Journal{disk: j.disk, key: j.key, trust: j.trust, memory: m}
}

// recall gives a record as it was read before, if its files are the same.
func (j *Journal) recall(name string) (r *Record, files [2]rootfs.Info, ok bool) {
	for i, file := range []string{stateFile, recordFile} {
		info, err := j.disk.Look(path.Join(recordsFolder, name, file))
		if err != nil || info.Changed.IsZero() {
			return nil, files, false
		}
		files[i] = info
	}
	known, ok := j.memory.known[name]
	same := func(a, b rootfs.Info) bool {
		return a.ID == b.ID && a.Size == b.Size && a.Modified.Equal(b.Modified) && a.Changed.Equal(b.Changed)
	}
	if !ok || !same(known.files[0], files[0]) || !same(known.files[1], files[1]) {
		return nil, files, false
	}
	again := known.record
	return &again, files, true
}

// recalled is read, unless the memory has the record.
func (j *Journal) recalled(name string) *Record {
	if j.memory == nil {
		return j.read(name)
	}
	r, files, ok := j.recall(name)
	if ok {
		return r
	}
	r = j.read(name)
	if r.Damage == nil && files[1].Size > 0 {
		if j.memory.known == nil {
			j.memory.known = map[string]remembered{}
		}
		j.memory.known[name] = remembered{files, *r}
	}
	return r
}

// State says how far a straighten has come.
type State string

// The states.
const (
	Unknown State = "" // it can't be read
	Begun   State = "begun"
	Done    State = "done"
	Undoing State = "undoing" // being taken back
	Undone  State = "undone"  // taken back, save files that somebody had changed; kept for its old contents
)

// Change is one file's change: it moves, or its bytes change, or both. Without From it is a new file, without To it is
// removed.
type Change struct {
	From, To      string
	Before, After []byte
}

func (c Change) edits() bool { return c.From == "" || c.To != "" && !bytes.Equal(c.Before, c.After) }

// Record is what a straighten wrote down before it began.
type Record struct {
	Version int     `json:"version"`
	Time    Stamp   `json:"time"`
	Title   string  `json:"title"`
	Run     string  `json:"run,omitempty"`  // the straighten that it is a step of; empty for one that is whole
	Step    int     `json:"step,omitempty"` // from 1
	Files   []Entry `json:"files"`
	// Made are the folders that were made, the outermost first; Emptied are those that may have been left empty, the
	// innermost first.
	Made    []string `json:"made"`
	Emptied []Dir    `json:"emptied"`
	// Respelled are the folders whose name gets another case or another form of its accents, the outermost first.
	Respelled []Respelling `json:"respelled,omitempty"`
	Left      []Left       `json:"left,omitempty"`

	Name    string `json:"-"` // of the record's folder
	State   State  `json:"-"`
	Damage  error  `json:"-"` // what can't be read of it; nil for nothing
	Foreign bool   `json:"-"` // it has not the mark of this user on this machine
	sum     string // of the record's file
}

// Left is a text that still named what moved when a straighten was done.
type Left struct {
	Path  string `json:"path"`  // of the file that it stands in, then
	Line  string `json:"line"`  // the line that it stands in, as far as it is kept
	Text  string `json:"text"`  // the text itself
	Named string `json:"named"` // the old path of what it names
	Now   string `json:"now"`   // where that was then
}

// Part says which step of which straighten a record is, and what it leaves; the zero Part is a straighten that is whole
// and leaves nothing.
type Part struct {
	Run  string
	Step int
	Left []Left
}

// Entry is one file of a record.
type Entry struct {
	From     string        `json:"from,omitempty"` // empty for a new file
	To       string        `json:"to,omitempty"`   // empty for a file that is removed
	Before   string        `json:"before"`         // SHA-256, hexadecimal
	After    string        `json:"after"`
	Mode     fs.FileMode   `json:"mode"`
	UID      int           `json:"uid"`
	GID      int           `json:"gid"`
	Modified Stamp         `json:"modified"`
	ID       rootfs.FileID `json:"id"`     // of the file that was at From
	Offset   int64         `json:"offset"` // of the old content in the pack
	Size     int64         `json:"size"`
	NewSize  int64         `json:"new_size"`
}

func (e *Entry) edits() bool   { return e.From == "" || e.To != "" && e.Before != e.After }
func (e *Entry) inPlace() bool { return e.From == e.To }

// Stamp is a moment. A year beyond 9999 has no form as a time in JSON.
type Stamp struct {
	Seconds     int64 `json:"s"` // since 1970
	Nanoseconds int64 `json:"ns"`
}

func stampOf(t time.Time) Stamp { return Stamp{t.Unix(), int64(t.Nanosecond())} }

// Time is the moment in UTC.
func (s Stamp) Time() time.Time { return time.Unix(s.Seconds, s.Nanoseconds).UTC() }

// Dir is a folder with its attributes.
type Dir struct {
	Path string `json:"path"`
	rootfs.Attributes
}

func sum(content []byte) string {
	s := sha256.Sum256(content)
	return hex.EncodeToString(s[:])
}

func (r *Record) folder() string { return path.Join(recordsFolder, r.Name) }

// Number is the record's number, from 1.
func (r *Record) Number() int {
	n, _ := strconv.Atoi(r.Name)
	return n
}

// Pending says whether the record is of something that was stopped half way, or may be.
func (r *Record) Pending() bool { return r.State == Begun || r.State == Undoing || r.State == Unknown }

// newPath is where the new content of a file waits to be put into its place.
func (r *Record) newPath(i int) string { return path.Join(r.folder(), "new", strconv.Itoa(i)) }

// heldPath is where a file is kept that was taken out of its old place. The new content of a file that is edited in its
// place waits there, and gets the old file's place in exchange for it.
func (r *Record) heldPath(i int) string { return path.Join(r.folder(), "held", strconv.Itoa(i)) }

// takenPath is where an undo keeps what the straighten wrote, until all is in its place.
func (r *Record) takenPath(i int) string { return path.Join(r.folder(), "taken", strconv.Itoa(i)) }

// waitsAt is where the new content of a file waits.
func (r *Record) waitsAt(i int) string {
	if r.Files[i].inPlace() {
		return r.heldPath(i)
	}
	return r.newPath(i)
}

// Records lists the records of a project, the oldest first. Those that can't be read are listed as well, with their
// Damage.
func (j *Journal) Records() ([]*Record, error) {
	names, err := j.names()
	if err != nil {
		return nil, err
	}
	var out []*Record
	for _, name := range names {
		if _, err := strconv.Atoi(name); err == nil {
			out = append(out, j.recalled(name))
		}
	}
	slices.SortFunc(out, func(a, b *Record) int { return a.Number() - b.Number() })
	return out, nil
}

// names lists what is in the folder of the records.
func (j *Journal) names() ([]string, error) {
	entries, err := j.disk.ReadDir(recordsFolder)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("the journal can't be listed: %w", err)
	}
	var out []string
	for _, e := range entries {
		out = append(out, e.Name())
	}
	return out, nil
}

// sweep deletes what is left of records that never came to be and of those that were deleted before.
func (j *Journal) sweep() error {
	names, err := j.names()
	if err != nil {
		return err
	}
	for _, name := range names {
		if folder := path.Join(recordsFolder, name); folder == nextFolder || strings.HasSuffix(name, goneEnding) {
			if err := removeAll(j.disk, folder); err != nil {
				return fmt.Errorf("%s can't be deleted: %w", folder, err)
			}
		}
	}
	_ = j.disk.Remove(recordsFolder) // stays while there are records
	return nil
}

// discard deletes a record, and the journal's folder with its last record. It gets another name first: what is left
// after a crash, or where it can't be deleted, is then no record, and the next command that writes deletes it.
func (j *Journal) discard(r *Record) error {
	gone := r.folder() + goneEnding
	if err := j.disk.Place(r.folder(), gone); err != nil {
		return err
	}
	_ = removeAll(j.disk, gone)
	_ = j.disk.Remove(recordsFolder) // stays while there are other records
	return nil
}

// removeEmpty deletes a folder if it is empty. One that may not be deleted stays as well.
func removeEmpty(disk Disk, dir string) error {
	err := disk.Remove(dir)
	for _, stays := range []error{fs.ErrNotExist, fs.ErrExist, fs.ErrPermission, syscall.ENOTEMPTY, syscall.EBUSY,
		syscall.ENOTDIR, rootfs.ErrLink, rootfs.ErrGuarded} {
		if errors.Is(err, stays) {
			return nil
		}
	}
	return err
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
	if err := parallel.Try(len(entries), func(i int) error {
		p := path.Join(dir, entries[i].Name())
		if entries[i].IsDir() {
			return removeAll(disk, p)
		}
		return disk.Remove(p)
	}); err != nil {
		return err
	}
	return disk.Remove(dir)
}
