package journal

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"

	"crookedshelf/internal/project"
	"crookedshelf/internal/rootfs"
)

// memory is a disk in memory, on which operations can be made to fail. It is safe for use by several goroutines, as the
// real one is.
type memory struct {
	mu    sync.Mutex
	files map[string]*memoryFile // by path; by what the system takes for the same path, if folds
	folds bool                   // names that differ in case or in the form of an accent are one
	plain bool                   // two files can't be exchanged
	// fault says what happens to the operation with a number, from 0: nil lets it be done, else the error is given.
	// half: it is done in part before. reads are asked of only where it is set by readFault.
	fault     func(operation int) (err error, half bool)
	readFault func(operation int, p string) error
	done      int // operations that change something
	reads     int // operations that change nothing
	clock     int64
	numbers   uint64
	before    func(what, p string) // called before an operation, without the lock: somebody else's moment
}

type memoryFile struct {
	mode     fs.FileMode
	content  []byte
	modified time.Time
	changed  int64
	number   uint64
	uid      int
	extended string
	name     string
	path     string // as it is spelled
}

func (f *memoryFile) Name() string       { return f.name }
func (f *memoryFile) Size() int64        { return int64(len(f.content)) }
func (f *memoryFile) Mode() fs.FileMode  { return f.mode }
func (f *memoryFile) ModTime() time.Time { return f.modified }
func (f *memoryFile) IsDir() bool        { return f.mode.IsDir() }
func (f *memoryFile) Sys() any           { return nil }

func newMemory() *memory {
	return &memory{files: map[string]*memoryFile{".": {mode: fs.ModeDir | 0o755}}}
}

// key is what a path is kept by.
func (m *memory) key(p string) string {
	if m.folds {
		return project.Fold(p)
	}
	return p
}

func (m *memory) at(p string) *memoryFile { return m.files[m.key(p)] }

func missing(p string) error { return &fs.PathError{Op: "look", Path: p, Err: fs.ErrNotExist} }

// spend counts an operation and says whether it fails.
func (m *memory) spend() (error, bool) {
	n := m.done
	m.done++
	if m.fault == nil {
		return nil, false
	}
	return m.fault(n)
}

// begin is the head of every operation.
func (m *memory) begin(what, p string) func() {
	if m.before != nil {
		m.before(what, p)
	}
	m.mu.Lock()
	return m.mu.Unlock
}

// reading counts an operation that changes nothing and says whether it fails.
func (m *memory) reading(p string) error {
	n := m.reads
	m.reads++
	if m.readFault == nil {
		return nil
	}
	return m.readFault(n, p)
}

// tick is the moment of a change.
func (m *memory) tick() int64 {
	m.clock++
	return m.clock
}

// file is a new file or folder.
func (m *memory) file(p string, mode fs.FileMode, content []byte) *memoryFile {
	m.numbers++
	return &memoryFile{mode: mode, content: content, path: p, number: m.numbers, changed: m.tick()}
}

func (m *memory) Look(p string) (rootfs.Info, error) {
	defer m.begin("look", p)()
	if err := m.reading(p); err != nil {
		return rootfs.Info{}, err
	}
	f := m.at(p)
	if f == nil {
		return rootfs.Info{}, m.missing(p)
	}
	return rootfs.Info{Mode: f.mode, Size: f.Size(), Modified: f.modified, Changed: time.Unix(0, f.changed),
		ID: rootfs.FileID{Device: 1, Inode: f.number}, UID: f.uid}, nil
}

// missing is the error for a path that is not there: a file may stand where a folder should.
func (m *memory) missing(p string) error {
	for dir := path.Dir(p); dir != "."; dir = path.Dir(dir) {
		if f := m.at(dir); f != nil && !f.IsDir() {
			return &fs.PathError{Op: "open", Path: dir, Err: errNoFolder}
		}
	}
	return missing(p)
}

func (m *memory) ReadFile(p string, _ int64) ([]byte, error) {
	defer m.begin("read", p)()
	if err := m.reading(p); err != nil {
		return nil, err
	}
	if f := m.at(p); f != nil && !f.IsDir() {
		return bytes.Clone(f.content), nil
	}
	return nil, m.missing(p)
}

func (m *memory) ReadDir(p string) ([]fs.DirEntry, error) {
	defer m.begin("list", p)()
	if err := m.reading(p); err != nil {
		return nil, err
	}
	if m.at(p) == nil {
		return nil, m.missing(p)
	}
	var out []fs.DirEntry
	for name, f := range m.files {
		if name != "." && path.Dir(name) == m.key(p) {
			copied := *f
			copied.name = path.Base(f.path)
			out = append(out, fs.FileInfoToDirEntry(&copied))
		}
	}
	slices.SortFunc(out, func(a, b fs.DirEntry) int { return strings.Compare(a.Name(), b.Name()) })
	return out, nil
}

func (m *memory) Create(p string, mode fs.FileMode, parts ...[]byte) error {
	defer m.begin("create", p)()
	err, half := m.spend()
	content := slices.Concat(parts...)
	switch {
	case m.at(p) != nil:
		return fs.ErrExist
	case m.at(path.Dir(p)) == nil:
		return m.missing(p)
	case err != nil && !half:
		return err
	case err != nil:
		content = content[:len(content)/2]
	}
	if mode == rootfs.Usual {
		mode = 0o644
	}
	m.files[m.key(p)] = m.file(p, mode, content)
	return err
}

func (m *memory) Rename(from, to string) error {
	defer m.begin("rename", from)()
	if err, _ := m.spend(); err != nil {
		return err
	}
	return m.rename(from, to)
}

func (m *memory) Place(from, to string) error {
	defer m.begin("place", from)()
	if err, _ := m.spend(); err != nil {
		return err
	}
	if m.at(from) != nil && m.at(to) != nil && m.key(from) != m.key(to) {
		return &fs.PathError{Op: "rename", Path: to, Err: fs.ErrExist}
	}
	return m.rename(from, to)
}

func (m *memory) Exchange(one, other string) error {
	defer m.begin("exchange", other)()
	if err, _ := m.spend(); err != nil {
		return err
	}
	a, b := m.at(one), m.at(other)
	switch {
	case m.plain:
		return errors.ErrUnsupported
	case a == nil:
		return m.missing(one)
	case b == nil:
		return m.missing(other)
	}
	a.path, b.path = b.path, a.path
	a.changed, b.changed = m.tick(), m.tick()
	m.files[m.key(one)], m.files[m.key(other)] = b, a
	return nil
}

func (m *memory) rename(from, to string) error {
	f := m.at(from)
	if f == nil || m.at(path.Dir(to)) == nil {
		return m.missing(from)
	}
	// some systems give the file its new name, others do nothing: so nobody may count on it
	if m.key(from) == m.key(to) {
		return nil
	}
	f.changed = m.tick()
	move := func(key, rest string, f *memoryFile) {
		delete(m.files, key)
		parts := strings.Split(f.path, "/")
		f.path = path.Join(to, path.Join(parts[len(parts)-strings.Count(rest, "/"):]...))
		m.files[m.key(f.path)] = f
	}
	if !f.IsDir() {
		move(m.key(from), "", f)
		return nil
	}
	inside := map[string]*memoryFile{}
	for key, f := range m.files { // what is in a folder goes along
		if rest, in := strings.CutPrefix(key, m.key(from)); in && (rest == "" || rest[0] == '/') {
			inside[key] = f
		}
	}
	for key, f := range inside {
		move(key, strings.TrimPrefix(key, m.key(from)), f)
	}
	return nil
}

func (m *memory) Remove(p string) error {
	defer m.begin("remove", p)()
	f := m.at(p)
	if f == nil {
		return m.missing(p)
	}
	if f.IsDir() {
		for name := range m.files {
			if path.Dir(name) == m.key(p) && name != "." {
				// asked of often, and changes nothing
				return &fs.PathError{Op: "remove", Path: p, Err: syscall.ENOTEMPTY}
			}
		}
	}
	if err, _ := m.spend(); err != nil {
		return err
	}
	delete(m.files, m.key(p))
	return nil
}

func (m *memory) Mkdir(p string, mode fs.FileMode) error {
	defer m.begin("mkdir", p)()
	if m.at(p) != nil {
		return fs.ErrExist
	}
	if m.at(path.Dir(p)) == nil {
		return m.missing(p)
	}
	err, half := m.spend()
	if err != nil && !half {
		return err
	}
	if mode == rootfs.Usual {
		mode = 0o755
	}
	if half { // it is there, and has not got its permissions yet
		mode = 0o100
	}
	m.files[m.key(p)] = m.file(p, fs.ModeDir|mode, nil)
	return err
}

func (m *memory) Chtimes(p string, modified time.Time) error {
	defer m.begin("chtimes", p)()
	if err, _ := m.spend(); err != nil {
		return err
	}
	m.at(p).modified = modified
	m.at(p).changed = m.tick()
	return nil
}

func (m *memory) Named(p string) bool {
	defer m.begin("named", p)()
	for ; p != "."; p = path.Dir(p) {
		if f := m.at(p); f == nil || path.Base(f.path) != path.Base(p) {
			return false
		}
	}
	return true
}

func (m *memory) CopyAttributes(from, to string) error {
	a, err := m.Attributes(from)
	if err != nil {
		return err
	}
	return m.SetAttributes(to, a)
}

func (m *memory) Attributes(p string) (rootfs.Attributes, error) {
	defer m.begin("attributes", p)()
	if err := m.reading(p); err != nil {
		return rootfs.Attributes{}, err
	}
	f := m.at(p)
	if f == nil {
		return rootfs.Attributes{}, m.missing(p)
	}
	return rootfs.Attributes{Mode: f.mode &^ fs.ModeDir, UID: f.uid,
		Extended: map[string][]byte{"user.note": []byte(f.extended)}}, nil
}

func (m *memory) SetAttributes(p string, a rootfs.Attributes) error {
	defer m.begin("set attributes", p)()
	if err, _ := m.spend(); err != nil {
		return err
	}
	f := m.at(p)
	if f == nil {
		return m.missing(p)
	}
	f.mode, f.uid, f.changed = f.mode&fs.ModeDir|a.Mode, a.UID, m.tick()
	if note := a.Extended["user.note"]; note != nil {
		f.extended = string(note)
	}
	return nil
}

func (m *memory) Sync([]string) error {
	defer m.begin("sync", "")()
	err, _ := m.spend()
	return err
}

func (m *memory) Refresh() {}

// shown is all of the project that is on the disk, without the journal: path, mode, owner, note, time, content.
func (m *memory) shown() map[string]string {
	out := map[string]string{}
	for key, f := range m.files {
		p := f.path
		if key == "." || p == "" {
			p = key
		}
		if p != Folder && !strings.HasPrefix(p, Folder+"/") {
			out[p] = fmt.Sprintf("%s %d %s %s %s", f.mode, f.uid, f.extended, f.modified.UTC().Format(time.DateTime),
				f.content)
		}
	}
	return out
}

// put writes a file with the folders that it needs. Each has an owner and a note of its own.
func (m *memory) put(p, content string) {
	for dir := path.Dir(p); dir != "." && m.at(dir) == nil; dir = path.Dir(dir) {
		m.files[m.key(dir)] = m.file(dir, fs.ModeDir|fs.ModeSetgid|0o750, nil)
		m.at(dir).uid, m.at(dir).extended = 7+len(dir), "of "+dir
	}
	f := m.file(p, 0o640, []byte(content))
	f.modified, f.uid, f.extended = when, 100+len(p), "of "+p
	m.files[m.key(p)] = f
}

// save is what an editor does: it writes a new file and renames it into its place. write is what others do: they write
// into the file.
func (m *memory) save(p, content string) {
	m.mu.Lock()
	defer m.mu.Unlock()
	f := m.file(p, 0o600, []byte(content))
	f.modified = when.Add(time.Hour)
	m.files[m.key(p)] = f
}

func (m *memory) write(p, content string) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if f := m.at(p); f != nil {
		f.content, f.changed, f.modified = []byte(content), m.tick(), when.Add(time.Hour)
	}
}

// clone is a copy of the disk as it is, without faults.
func (m *memory) clone() *memory {
	out := &memory{files: make(map[string]*memoryFile, len(m.files)), folds: m.folds, plain: m.plain, clock: m.clock,
		numbers: m.numbers}
	for p, f := range m.files {
		copied := *f
		out.files[p] = &copied
	}
	return out
}
