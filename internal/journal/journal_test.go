package journal

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
	"crookedshelf/internal/rootfs"
)

const before = `
-- a.ts --
one
-- in/mark --
# a mark
-- in/b.ts --
two
-- in/deep/c.ts --
three
-- x.ts --
swap x
-- y.ts --
swap y
-- Case.ts --
case
-- stays.ts --
edited in place
-- chain/1 --
first
-- chain/2 --
second
`

func change(from, to, old, new string) Change {
	return Change{From: from, To: to, Before: []byte(old), After: []byte(new)}
}

// changes move, edit, swap, chain, rename by case, edit in place, write new files and remove one.
func changes() []Change {
	c := change
	return []Change{
		c("a.ts", "new/a.ts", "one\n", "one\n"),
		c("in/b.ts", "new/b.ts", "two\n", "two, edited\n"),
		c("in/deep/c.ts", "new/er/c.ts", "three\n", "three\n"),
		c("x.ts", "y.ts", "swap x\n", "swap x\n"),
		c("y.ts", "x.ts", "swap y\n", "swap y, edited\n"),
		c("Case.ts", "case.ts", "case\n", "case\n"),
		c("stays.ts", "stays.ts", "edited in place\n", "edited\n"),
		c("chain/1", "chain/2", "first\n", "first\n"),
		c("chain/2", "chain/3", "second\n", "second, edited\n"),
		c("", "new/folder/index.ts", "", "written\n"),
		c("", "new/empty", "", ""),
		c("", "a.ts", "", "written where another left\n"),
		c("in/mark", "", "# a mark\n", ""),
	}
}

var when = time.Date(2031, 3, 1, 20, 0, 0, 0, time.UTC)

func lay(t *testing.T) string {
	dir := t.TempDir()
	projecttest.Write(t, dir, before)
	require.NoError(t, os.Chmod(filepath.Join(dir, "in/b.ts"), 0o755))
	require.NoError(t, os.Chmod(filepath.Join(dir, "in/deep"), 0o700))
	require.NoError(t, os.Mkdir(filepath.Join(dir, "empty"), 0o755))
	require.NoError(t, os.Symlink("a.ts", filepath.Join(dir, "link")))
	return dir
}

func open(t *testing.T, dir string) *rootfs.FS {
	disk, err := rootfs.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { disk.Close() })
	return disk
}

// locked runs f under the lock.
func locked(t *testing.T, dir string, disk Disk, f func()) {
	lock, err := Acquire(dir, disk)
	require.NoError(t, err)
	f()
	require.NoError(t, lock.Release())
}

// undoLast takes the last straighten back.
func undoLast(disk Disk) (*Outcome, error) {
	out, err := of(disk).Undo(Range{})
	if len(out) == 0 {
		return nil, err
	}
	return out[0], err
}

func TestApplyAndUndo(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	disk := open(t, dir)
	old := projecttest.Read(t, dir)
	locked(t, dir, disk, func() {
		_, err := of(disk).Apply("test", Part{}, changes(), when)
		require.NoError(t, err)
	})
	now := projecttest.Read(t, dir)
	for p, want := range map[string]string{
		"new/a.ts": "one\n", "new/b.ts": "two, edited\n", "new/er/c.ts": "three\n", "x.ts": "swap y, edited\n",
		"y.ts": "swap x\n", "case.ts": "case\n",
		"stays.ts": "edited\n", "chain/2": "first\n", "chain/3": "second, edited\n",
		"new/folder/index.ts": "written\n", "new/empty": "", "a.ts": "written where another left\n",
	} {
		assert.Contains(t, now[p], "\n"+want, p)
	}
	assert.Contains(t, now["new/b.ts"], "-rwxr-xr-x", "permissions move with the file")
	for _, gone := range []string{"in/", "in/deep/", "Case.ts", "chain/1", "in/mark"} {
		assert.NotContains(t, now, gone)
	}
	assert.Contains(t, now, "empty/", "a folder that was empty before stays")
	locked(t, dir, disk, func() {
		out, err := undoLast(disk)
		require.NoError(t, err)
		assert.Empty(t, out.Kept)
		assert.Len(t, out.Record.Files, 13)
	})
	assert.Equal(t, old, projecttest.Read(t, dir))
	locked(t, dir, disk, func() {
		_, err := undoLast(disk)
		assert.ErrorIs(t, err, ErrNothing)
	})
}

func TestUndoTakesTheLastFirst(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	disk := open(t, dir)
	old := projecttest.Read(t, dir)
	locked(t, dir, disk, func() {
		_, err := of(disk).Apply("first", Part{}, []Change{change("a.ts", "b.ts", "one\n", "1\n")}, when)
		require.NoError(t, err)
		_, err = of(disk).Apply("second", Part{}, []Change{change("b.ts", "c.ts", "1\n", "1\n")}, when)
		require.NoError(t, err)
		for _, want := range []string{"second", "first"} {
			out, err := undoLast(disk)
			require.NoError(t, err)
			assert.Equal(t, want, out.Record.Title)
		}
	})
	assert.Equal(t, old, projecttest.Read(t, dir))
}

func TestWhatWasChangedByHandIsKept(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	disk := open(t, dir)
	locked(t, dir, disk, func() {
		_, err := of(disk).Apply("test", Part{}, changes(), when)
		require.NoError(t, err)
	})
	require.NoError(t, os.WriteFile(filepath.Join(dir, "new/a.ts"), []byte("by hand"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "stays.ts"), []byte("by hand too"), 0o644))
	require.NoError(t, os.Remove(filepath.Join(dir, "new/er/c.ts")))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "new/folder/index.ts"), []byte("more"), 0o644))
	locked(t, dir, disk, func() {
		out, err := undoLast(disk)
		require.NoError(t, err)
		require.Len(t, out.Kept, 3)
		assert.Contains(t, out.Kept[0],
			"new/a.ts was changed after the move; it was left there, and its old content is at a.ts again")
		assert.Contains(t, out.Kept[1], "new/folder/index.ts was written by the straighten and changed afterwards")
		assert.Contains(t, out.Kept[2], "stays.ts was changed afterwards")
		_, err = undoLast(disk)
		assert.ErrorIs(t, err, ErrNothing, "it is not taken back twice")
	})
	now := projecttest.Read(t, dir)
	assert.Contains(t, now["new/a.ts"], "by hand")
	assert.Contains(t, now["a.ts"], "one")
	assert.Contains(t, now["stays.ts"], "by hand too")
	assert.Contains(t, now["in/deep/c.ts"], "three")
	assert.Contains(t, now[".crooked/journal/0001/old.pack"], "edited in place")
}

func TestNothingIsTouchedWhereItWouldNotFit(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name   string
		spoil  func(dir string) error
		change Change
		want   string
	}{
		{"changed meanwhile", nil, change("a.ts", "z.ts", "other", "other"), "a.ts has changed since it was read"},
		{"gone", nil, Change{From: "gone.ts", To: "z.ts"}, "gone.ts can't be looked at"},
		{"a new file where one is", nil, change("", "x.ts", "", "one\n"), "something stands at x.ts already"},
		{"taken", nil, change("a.ts", "x.ts", "one\n", "one\n"), "something stands at x.ts already"},
		{"a file for a folder", nil, change("a.ts", "x.ts/a.ts", "one\n", "one\n"), "x.ts is no folder"},
		{"a link that leads out", func(dir string) error { return os.Symlink(os.TempDir(), filepath.Join(dir, "out")) },
			change("a.ts", "out/a.ts", "one\n", "one\n"), ""},
		{"a link in place of the file", func(dir string) error {
			return errors.Join(os.Remove(filepath.Join(dir, "a.ts")), os.Symlink("x.ts", filepath.Join(dir, "a.ts")))
		}, change("a.ts", "z.ts", "swap x\n", "swap x\n"), "a.ts has changed since it was read"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			dir := lay(t)
			if c.spoil != nil {
				require.NoError(t, c.spoil(dir))
			}
			disk := open(t, dir)
			old := projecttest.Read(t, dir)
			locked(t, dir, disk, func() {
				_, err := of(disk).Apply("test", Part{}, []Change{c.change}, when)
				require.Error(t, err)
				assert.ErrorContains(t, err, c.want)
			})
			assert.Equal(t, old, projecttest.Read(t, dir))
		})
	}
}

func TestOnlyOneAtATime(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	disk := open(t, dir)
	locked(t, dir, disk, func() {
		_, err := Acquire(dir, disk)
		real, evalErr := filepath.EvalSymlinks(dir)
		require.NoError(t, evalErr)
		assert.ErrorContains(t, err, fmt.Sprintf("another crooked is at work in %s (process %d)", real, os.Getpid()))
	})
	lock, err := Acquire(dir, disk)
	require.NoError(t, err, "it is free again")
	require.NoError(t, lock.Release())
	assert.NoDirExists(t, filepath.Join(dir, Folder))
}

func TestALinkedJournalIsRefused(t *testing.T) {
	t.Parallel()
	dir, outside := lay(t), t.TempDir()
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, Folder)))
	_, err := Acquire(dir, open(t, dir))
	assert.Error(t, err)
	entries, err := os.ReadDir(outside)
	require.NoError(t, err)
	assert.Empty(t, entries)
}

func TestTamperedRecordsAreRefused(t *testing.T) {
	t.Parallel()
	for _, evil := range []string{`../../outside`, `/etc/passwd`, `.git/config`, `a/../../b`} {
		dir := lay(t)
		disk := open(t, dir)
		folder := filepath.Join(dir, Folder, "journal", "0001")
		require.NoError(t, os.MkdirAll(folder, 0o755))
		record := fmt.Sprintf(`{"version": 2, "files": [{"from": %q, "to": "a.ts"}]}`, evil)
		require.NoError(t, os.WriteFile(filepath.Join(folder, recordFile), []byte(record), 0o644))
		require.NoError(t, os.WriteFile(filepath.Join(folder, stateFile), of(disk).stateText(Done, sum([]byte(record))),
			0o644))
		_, err := undoLast(disk)
		assert.ErrorContains(t, err, "no path below the project's root", evil)
	}
}

// failing is a Disk that stops working after a number of operations: each one after it fails, as after a power cut. If
// half is set, the operation at the limit is done in part where that is possible.
type failing struct {
	Disk
	left atomic.Int64
	half bool
}

func failingAfter(disk Disk, operations int, half bool) *failing {
	f := &failing{Disk: disk, half: half}
	f.left.Store(int64(operations))
	return f
}

var errPower = errors.New("the power is gone")

func (f *failing) spend() error {
	if f.left.Add(-1) < 0 {
		return errPower
	}
	return nil
}

func (f *failing) Create(p string, mode fs.FileMode, parts ...[]byte) error {
	if err := f.spend(); err != nil {
		if whole := slices.Concat(parts...); f.left.Load() == -1 && f.half {
			_ = f.Disk.Create(p, mode, whole[:len(whole)/2])
		}
		return err
	}
	return f.Disk.Create(p, mode, parts...)
}

func (f *failing) Rename(from, to string) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Rename(from, to)
}

func (f *failing) Place(from, to string) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Place(from, to)
}

func (f *failing) Exchange(one, other string) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Exchange(one, other)
}

func (f *failing) SetAttributes(p string, a rootfs.Attributes) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.SetAttributes(p, a)
}

func (f *failing) Remove(p string) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Remove(p)
}

func (f *failing) Mkdir(p string, mode fs.FileMode) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Mkdir(p, mode)
}

func (f *failing) Sync(paths []string) error {
	if err := f.spend(); err != nil {
		return err
	}
	return f.Disk.Sync(paths)
}

// After a stop at any operation of a straighten, and at any operation of the undo that follows, undo gives the old
// tree.
func TestUndoAfterAStopAtAnyPoint(t *testing.T) {
	t.Parallel()
	for _, half := range []bool{false, true} {
		stopped := 0
		for limit := 0; ; limit++ {
			dir := lay(t)
			disk := open(t, dir)
			old := projecttest.Read(t, dir)
			_, err := of(disk).Apply("test", Part{}, changes(), when)
			require.NoError(t, err)
			locked(t, dir, disk, func() { _, err = undoLast(disk); require.NoError(t, err) })

			require.NoError(t, os.Mkdir(filepath.Join(dir, Folder), 0o700))
			_, err = of(failingAfter(disk, limit, half)).Apply("test", Part{}, changes(), when)
			if err == nil {
				break // the limit was beyond the last operation
			}
			stopped++
			for again := range 4 { // the undo is stopped as well, and run again
				_, _ = of(failingAfter(disk, again*7, false)).Undo(Range{})
			}
			_, err = undoLast(disk)
			if err != nil {
				require.ErrorIs(t, err, ErrNothing, "limit %d", limit)
			}
			locked(t, dir, disk, func() {})
			require.Equal(t, old, projecttest.Read(t, dir), "stopped after %d operations", limit)
		}
		assert.Greater(t, stopped, 30)
	}
}

func TestAFailureIsTakenBackAtOnce(t *testing.T) {
	t.Parallel()
	dir := lay(t)
	disk := open(t, dir)
	old := projecttest.Read(t, dir)
	locked(t, dir, disk, func() {
		all := append(changes(), Change{From: "link", To: "link2"})
		_, err := of(disk).Apply("test", Part{}, all, when)
		require.Error(t, err)
	})
	assert.Equal(t, old, projecttest.Read(t, dir))
	locked(t, dir, disk, func() {
		_, err := of(&refusing{disk, "new/er/c.ts"}).Apply("test", Part{}, changes(), when)
		require.ErrorContains(t, err, "all is as it was")
	})
	assert.Equal(t, old, projecttest.Read(t, dir))
}

// refusing is a Disk on which one file can't be put in its place.
type refusing struct {
	Disk
	target string
}

func (r *refusing) Place(from, to string) error {
	if to == r.target {
		return fs.ErrPermission
	}
	return r.Disk.Place(from, to)
}

// A straighten in steps has a record a step: it is taken back whole, from a step on, or after a crash the step that was
// not finished alone.
func TestSteps(t *testing.T) {
	t.Parallel()
	moves := []Change{change("a.ts", "1/a.ts", "one\n", "one\n"), change("1/a.ts", "2/a.ts", "one\n", "two\n"),
		change("2/a.ts", "3/a.ts", "two\n", "two\n")}
	start := func(t *testing.T) (string, *rootfs.FS) {
		dir := lay(t)
		disk := open(t, dir)
		locked(t, dir, disk, func() {
			_, err := of(disk).Apply("before", Part{}, []Change{change("x.ts", "z.ts", "swap x\n", "swap x\n")}, when)
			require.NoError(t, err)
			for i, c := range moves {
				_, err := of(disk).Apply("step", Part{Run: "run", Step: i + 1}, []Change{c}, when)
				require.NoError(t, err)
			}
		})
		return dir, disk
	}
	for _, c := range []struct {
		how    Range
		undone int
		at     string // where a.ts is then
		z      bool   // whether the straighten before stays
	}{{Range{}, 3, "a.ts", true}, {Range{Step: 2}, 2, "1/a.ts", true}, {Range{Step: 3}, 1, "2/a.ts", true},
		{Range{All: true}, 4, "a.ts", false}} {
		dir, disk := start(t)
		locked(t, dir, disk, func() {
			out, err := of(disk).Undo(c.how)
			require.NoError(t, err)
			assert.Len(t, out, c.undone)
		})
		now := projecttest.Read(t, dir)
		assert.Contains(t, now, c.at)
		_, there := now["z.ts"]
		assert.Equal(t, c.z, there)
	}
	dir, disk := start(t)
	locked(t, dir, disk, func() {
		_, err := of(disk).Undo(Range{Step: 4})
		assert.EqualError(t, err, "the last straighten has the steps 1 to 3")
		records, err := of(disk).Records()
		require.NoError(t, err)
		require.NoError(t, of(disk).setState(records[3], Begun)) // as a crash in the last step leaves it
		out, err := of(disk).Undo(Range{All: true})
		require.NoError(t, err)
		assert.Len(t, out, 1)
	})
	assert.Contains(t, projecttest.Read(t, dir), "2/a.ts")
}
