package journal

import (
	"bytes"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project"
)

// memory is a disk in memory, on which operations can be made to fail. It is safe for use by several goroutines, as the real
// one is.
type memory struct {
	mu    sync.Mutex
	files map[string]*memoryFile // by path; by what the system takes for the same path, if folds
	folds bool                   // names that differ in case or in the form of an accent are one
	// fault says what happens to the operation with a number, from 0: nil lets it be done, else the error is given. half: it is
	// done in part before.
	fault func(operation int) (err error, half bool)
	done  int // operations that change something
}

type memoryFile struct {
	mode     fs.FileMode
	content  []byte
	modified time.Time
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

func (m *memory) Lstat(p string) (fs.FileInfo, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if f := m.at(p); f != nil {
		copied := *f
		copied.name = path.Base(p)
		return &copied, nil
	}
	return nil, missing(p)
}

func (m *memory) ReadFile(p string, _ int64) ([]byte, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if f := m.at(p); f != nil && !f.IsDir() {
		return bytes.Clone(f.content), nil
	}
	return nil, missing(p)
}

func (m *memory) ReadDir(p string) ([]fs.DirEntry, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.at(p) == nil {
		return nil, missing(p)
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
	m.mu.Lock()
	defer m.mu.Unlock()
	err, half := m.spend()
	content := slices.Concat(parts...)
	switch {
	case m.at(p) != nil:
		return fs.ErrExist
	case m.at(path.Dir(p)) == nil:
		return missing(p)
	case err != nil && !half:
		return err
	case err != nil:
		content = content[:len(content)/2]
	}
	m.files[m.key(p)] = &memoryFile{mode: mode, content: content, path: p}
	return err
}

func (m *memory) Rename(from, to string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if err, _ := m.spend(); err != nil {
		return err
	}
	f := m.at(from)
	if f == nil || m.at(path.Dir(to)) == nil {
		return missing(from)
	}
	if m.key(from) == m.key(to) { // some systems give the file its new name, others do nothing: so nobody may count on it
		return nil
	}
	for key, f := range maps.Clone(m.files) { // what is in a folder goes along
		if rest, in := strings.CutPrefix(key, m.key(from)); in && (rest == "" || rest[0] == '/') {
			delete(m.files, key)
			parts := strings.Split(f.path, "/")
			f.path = path.Join(to, path.Join(parts[len(parts)-strings.Count(rest, "/"):]...))
			m.files[m.key(f.path)] = f
		}
	}
	return nil
}

func (m *memory) Remove(p string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.at(p) == nil {
		return missing(p)
	}
	for name := range m.files {
		if path.Dir(name) == m.key(p) && name != "." {
			return fmt.Errorf("%s is not empty", p) // asked of often, and changes nothing
		}
	}
	if err, _ := m.spend(); err != nil {
		return err
	}
	delete(m.files, m.key(p))
	return nil
}

func (m *memory) Mkdir(p string, mode fs.FileMode) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.at(p) != nil {
		return fs.ErrExist
	}
	if m.at(path.Dir(p)) == nil {
		return missing(p)
	}
	err, half := m.spend()
	if err != nil && !half {
		return err
	}
	if half { // it is there, and has not got its permissions yet
		mode = 0o100
	}
	m.files[m.key(p)] = &memoryFile{mode: fs.ModeDir | mode, path: p}
	return err
}

func (m *memory) Chtimes(p string, modified time.Time) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if err, _ := m.spend(); err != nil {
		return err
	}
	m.at(p).modified = modified
	return nil
}

func (m *memory) Named(p string) bool {
	m.mu.Lock()
	defer m.mu.Unlock()
	for ; p != "."; p = path.Dir(p) {
		if f := m.at(p); f == nil || path.Base(f.path) != path.Base(p) {
			return false
		}
	}
	return true
}

func (m *memory) CopyAttributes(string, string) error { return nil }

func (m *memory) Sync([]string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	err, _ := m.spend()
	return err
}

// shown is all of the project that is on the disk, without the journal: path, mode, time, content.
func (m *memory) shown() map[string]string {
	out := map[string]string{}
	for key, f := range m.files {
		p := f.path
		if key == "." || p == "" {
			p = key
		}
		if p != Folder && !strings.HasPrefix(p, Folder+"/") {
			out[p] = fmt.Sprintf("%s %s %s", f.mode, f.modified.UTC().Format(time.DateTime), f.content)
		}
	}
	return out
}

// put writes a file with the folders that it needs.
func (m *memory) put(p, content string) {
	for dir := path.Dir(p); dir != "." && m.at(dir) == nil; dir = path.Dir(dir) {
		m.files[m.key(dir)] = &memoryFile{mode: fs.ModeDir | 0o750, path: dir}
	}
	m.files[m.key(p)] = &memoryFile{mode: 0o640, content: []byte(content), modified: when, path: p}
}

// large makes a disk and changes of every kind: files that move, that change, both, that swap, that follow one another, new
// ones, and some that go.
func large() (*memory, []Change) {
	m := newMemory()
	var all []Change
	put := m.put
	for i := range 24 {
		old := fmt.Sprintf("old/%d/f%d.ts", i%4, i)
		put(old, fmt.Sprint("content ", i))
		all = append(all, change(old, fmt.Sprintf("new/%d/f%d.ts", i%3, i), fmt.Sprint("content ", i), fmt.Sprint("content ", i)))
		both := fmt.Sprintf("both/f%d.ts", i)
		put(both, fmt.Sprint("both ", i))
		all = append(all, change(both, fmt.Sprintf("new/both/f%d.ts", i), fmt.Sprint("both ", i), fmt.Sprint("both, edited ", i)))
		edited := fmt.Sprintf("edited/f%d.ts", i)
		put(edited, fmt.Sprint("before ", i))
		all = append(all, change(edited, edited, fmt.Sprint("before ", i), fmt.Sprint("after ", i)))
		chain := fmt.Sprintf("chain/%02d", i)
		put(chain, fmt.Sprint("link ", i))
		all = append(all, change(chain, fmt.Sprintf("chain/%02d", i+1), fmt.Sprint("link ", i), fmt.Sprint("link ", i)))
		all = append(all, change("", fmt.Sprintf("written/f%d.ts", i), "", fmt.Sprint("written ", i)))
	}
	for i := range 8 {
		gone := fmt.Sprintf("gone/f%d", i)
		put(gone, fmt.Sprint("mark ", i))
		all = append(all, change(gone, "", fmt.Sprint("mark ", i), ""))
	}
	put("x.ts", "x")
	put("y.ts", "y")
	put("stays.ts", "stays")
	m.files["empty"] = &memoryFile{mode: fs.ModeDir | 0o700}
	all = append(all, change("x.ts", "y.ts", "x", "x"), change("y.ts", "x.ts", "y", "y, edited"))
	m.files[Folder] = &memoryFile{mode: fs.ModeDir | 0o700}
	return m, all
}

// A plan of more than two hundred operations is stopped after every single one: by a power cut, with the operation done in part
// or not at all, and by one operation that fails while the disk goes on. After undo the old tree is there, whatever was hit; and
// when the undo itself is stopped, a second one gives it.
func TestEveryOperationMayBeTheLast(t *testing.T) {
	m, all := large()
	_, err := Apply(m, "counted", Part{}, all, when)
	require.NoError(t, err)
	operations := m.done
	require.GreaterOrEqual(t, operations, 200)
	runs := 0
	for n := range operations {
		for _, how := range []string{"cut", "cut in half", "failed once"} {
			m, all := large()
			old := m.shown()
			m.fault = func(operation int) (error, bool) {
				if operation == n || operation > n && how != "failed once" {
					return errPower, how == "cut in half" && operation == n
				}
				return nil, false
			}
			_, err := Apply(m, "stopped", Part{}, all, when)
			if how == "failed once" && err != nil && !strings.Contains(err.Error(), "could not be taken back") {
				require.Equal(t, old, m.shown(), "%s at %d: an error means that nothing has changed", how, n)
				continue
			}
			// the undo is stopped as well, at a place that wanders, before it is let through
			stop := m.done + n%37
			m.fault = func(operation int) (error, bool) {
				if operation >= stop {
					return errPower, operation == stop
				}
				return nil, false
			}
			_, _ = Undo(m, Range{})
			m.fault = nil
			if _, err := Undo(m, Range{}); err != nil {
				require.ErrorIs(t, err, ErrNothing)
			}
			require.Equal(t, old, m.shown(), "%s at %d", how, n)
			runs++
		}
	}
	assert.Greater(t, runs, 400)
}

// An undo of a plan that was carried out is stopped after every single operation, in whole and in part; a second one gives the old tree.
func TestEveryOperationOfAnUndoMayBeTheLast(t *testing.T) {
	done := func() (*memory, map[string]string) {
		m, all := large()
		old := m.shown()
		_, err := Apply(m, "whole", Part{}, all, when)
		require.NoError(t, err)
		return m, old
	}
	m, _ := done()
	before := m.done
	_, err := Undo(m, Range{})
	require.NoError(t, err)
	for n := before; n < m.done; n++ {
		for _, half := range []bool{false, true} {
			stopped, old := done()
			stopped.fault = func(operation int) (error, bool) {
				if operation >= n {
					return errPower, half && operation == n
				}
				return nil, false
			}
			_, _ = Undo(stopped, Range{})
			stopped.fault = nil
			if _, err := Undo(stopped, Range{}); err != nil {
				require.ErrorIs(t, err, ErrNothing)
			}
			require.Equal(t, old, stopped.shown(), "at %d", n)
		}
	}
}

// On a file system that takes names for one which differ in case or in the form of an accent, files are renamed by case alone,
// swap with such names, and come back as they were spelled, after a stop at any operation as well.
func TestFoldingFileSystem(t *testing.T) {
	make := func() (*memory, []Change) {
		m := newMemory()
		m.folds = true
		m.put("Card.ts", "card")
		m.put("caf\u00e9.ts", "coffee")
		m.put("Both.ts", "both")
		m.put("a/One.ts", "one")
		m.put("a/Two.ts", "two")
		m.put("Parts/Dome.ts", "dome")
		m.put("Parts/lens.ts", "lens")
		m.put("Parts/stays.ts", "stays")
		m.put("Parts/De\u0301ep/X.ts", "deep")
		m.files[m.key(Folder)] = &memoryFile{mode: fs.ModeDir | 0o700, path: Folder}
		return m, []Change{
			change("Card.ts", "card.ts", "card", "card"), change("caf\u00e9.ts", "cafe\u0301.ts", "coffee", "coffee"), change("Both.ts", "both.ts", "both", "both, edited"),
			change("Parts/Dome.ts", "parts/dome.ts", "dome", "dome, edited"), change("Parts/lens.ts", "parts/new/lens.ts", "lens", "lens"),
			change("Parts/De\u0301ep/X.ts", "parts/d\u00e9ep/X.ts", "deep", "deep"),
			change("a/One.ts", "a/two.ts", "one", "one"), change("a/Two.ts", "a/one.ts", "two", "two, edited"),
		}
	}
	m, all := make()
	_, err := Apply(m, "whole", Part{}, all, when)
	require.NoError(t, err)
	now := m.shown()
	for p, content := range map[string]string{"card.ts": "card", "cafe\u0301.ts": "coffee", "both.ts": "both, edited", "a/two.ts": "one", "a/one.ts": "two, edited",
		"parts/dome.ts": "dome, edited", "parts/new/lens.ts": "lens", "parts/d\u00e9ep/X.ts": "deep", "parts/stays.ts": "stays",
	} {
		assert.Contains(t, now[p], content, p)
	}
	for n := range m.done {
		m, all := make()
		old := m.shown()
		m.fault = func(operation int) (error, bool) {
			if operation >= n {
				return errPower, false
			}
			return nil, false
		}
		_, _ = Apply(m, "stopped", Part{}, all, when)
		stop := m.done + n%17
		m.fault = func(operation int) (error, bool) {
			if operation >= stop {
				return errPower, false
			}
			return nil, false
		}
		_, _ = Undo(m, Range{})
		m.fault = nil
		if _, err := Undo(m, Range{}); err != nil {
			require.ErrorIs(t, err, ErrNothing)
		}
		require.Equal(t, old, m.shown(), "stopped after %d", n)
	}
	m, _ = make()
	_, err = Apply(m, "taken", Part{}, []Change{change("Card.ts", "BOTH.ts", "card", "card")}, when)
	require.ErrorContains(t, err, "something stands at BOTH.ts already")
	_, err = Apply(m, "clash", Part{}, []Change{change("Parts/Dome.ts", "parts/Dome.ts", "dome", "dome"), change("Parts/lens.ts", "PARTS/lens.ts", "lens", "lens")}, when)
	require.ErrorContains(t, err, "PARTS and parts are one folder on this file system")
}
