package journal

import (
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// errNoFolder is what a system says of a file where a folder should be.
const errNoFolder = syscall.ENOTDIR

// of opens the journal on a disk, as this user.
func of(disk Disk) *Journal { return Open(disk, []byte("the key of the tests")) }

// same fails with the first places in which two trees differ.
func same(t *testing.T, old, now map[string]string, format string, args ...any) {
	t.Helper()
	if maps.Equal(old, now) {
		return
	}
	var differ []string
	for p := range maps.Keys(old) {
		if now[p] != old[p] {
			differ = append(differ, fmt.Sprintf("%s: %q, was %q", p, now[p], old[p]))
		}
	}
	for p := range now {
		if _, was := old[p]; !was {
			differ = append(differ, fmt.Sprintf("%s: %q, was not there", p, now[p]))
		}
	}
	slices.Sort(differ)
	t.Fatalf("%s: %d places differ:\n%s", fmt.Sprintf(format, args...), len(differ),
		strings.Join(differ[:min(5, len(differ))], "\n"))
}

// large makes a disk and changes of every kind: files that move, that change, both, that swap, that follow one another,
// new ones, and some that go.
func large() (*memory, []Change) {
	m := newMemory()
	var all []Change
	put := m.put
	for i := range 24 {
		old := fmt.Sprintf("old/%d/f%d.ts", i%4, i)
		put(old, fmt.Sprint("content ", i))
		all = append(all, change(old, fmt.Sprintf("new/%d/f%d.ts", i%3, i), fmt.Sprint("content ", i),
			fmt.Sprint("content ", i)))
		both := fmt.Sprintf("both/f%d.ts", i)
		put(both, fmt.Sprint("both ", i))
		all = append(all, change(both, fmt.Sprintf("new/both/f%d.ts", i), fmt.Sprint("both ", i),
			fmt.Sprint("both, edited ", i)))
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
	m.files["empty"] = m.file("empty", fs.ModeDir|0o700, nil)
	all = append(all, change("x.ts", "y.ts", "x", "x"), change("y.ts", "x.ts", "y", "y, edited"))
	m.files[Folder] = m.file(Folder, fs.ModeDir|0o700, nil)
	return m, all
}

// A plan of more than two hundred operations is stopped after every single one: by a power cut, with the operation done
// in part or not at all, and by one operation that fails while the disk goes on. After undo the old tree is there,
// whatever was hit; and when the undo itself is stopped, a second one gives it.
func TestEveryOperationMayBeTheLast(t *testing.T) {
	t.Parallel()
	m, all := large()
	_, err := of(m).Apply("counted", Part{}, all, when)
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
			_, err := of(m).Apply("stopped", Part{}, all, when)
			if how == "failed once" && err != nil && !strings.Contains(err.Error(), "could not be taken back") {
				same(t, old, m.shown(), "%s at %d: an error means that nothing has changed", how, n)
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
			_, _ = of(m).Undo(Range{})
			m.fault = nil
			kept, err := undone(m)
			require.NoError(t, err)
			require.Empty(t, kept, "%s at %d", how, n)
			same(t, old, m.shown(), "%s at %d", how, n)
			runs++
		}
	}
	t.Logf("%d operations, %d runs", operations, 3*operations)
	assert.Greater(t, runs, 400)
}

// An undo of a plan that was carried out is stopped after every single operation, in whole and in part; a second one
// gives the old tree.
func TestEveryOperationOfAnUndoMayBeTheLast(t *testing.T) {
	t.Parallel()
	done := func() (*memory, map[string]string) {
		m, all := large()
		old := m.shown()
		_, err := of(m).Apply("whole", Part{}, all, when)
		require.NoError(t, err)
		return m, old
	}
	m, _ := done()
	before := m.done
	_, err := of(m).Undo(Range{})
	require.NoError(t, err)
	t.Logf("%d operations, %d runs", m.done-before, 2*(m.done-before))
	for n := before; n < m.done; n++ {
		for _, half := range []bool{false, true} {
			stopped, old := done()
			stopped.fault = func(operation int) (error, bool) {
				if operation >= n {
					return errPower, half && operation == n
				}
				return nil, false
			}
			_, _ = of(stopped).Undo(Range{})
			stopped.fault = nil
			kept, err := undone(stopped)
			require.NoError(t, err)
			require.Empty(t, kept, "at %d", n)
			same(t, old, stopped.shown(), "at %d", n)
		}
	}
}

// Every single reading of the disk fails once, in a straighten and in an undo. An error of a straighten means that
// nothing has changed, or that undo is needed and gives the old tree; an undo that fails can be run again.
func TestEveryReadMayFailOnce(t *testing.T) {
	t.Parallel()
	fault := func(m *memory, n int) {
		start := m.reads
		m.readFault = func(operation int, _ string) error {
			if operation == start+n {
				return syscall.EIO
			}
			return nil
		}
	}
	runs := 0
	for _, during := range []string{"straighten", "undo"} {
		for n := 0; ; n += 1 + n/200 { // at the beginning all of them, then some
			m, all := large()
			old := m.shown()
			failed := false
			if during == "undo" {
				_, err := of(m).Apply("whole", Part{}, all, when)
				require.NoError(t, err)
				fault(m, n)
				reads := m.reads
				_, err = of(m).Undo(Range{})
				if failed = err != nil; m.reads-reads <= n {
					break
				}
			} else {
				fault(m, n)
				_, err := of(m).Apply("read", Part{}, all, when)
				if failed = err != nil; m.reads <= n {
					break
				}
				if failed && !strings.Contains(err.Error(), "could not be taken back") {
					same(t, old, m.shown(), "straighten, reading %d: an error means that nothing has changed", n)
				}
			}
			runs++
			m.readFault = nil
			if kept, err := undone(m); true {
				require.NoError(t, err, "%s, reading %d", during, n)
				require.Empty(t, kept, "%s, reading %d", during, n)
			}
			same(t, old, m.shown(), "%s, reading %d, failed: %t", during, n, failed)
		}
	}
	t.Logf("%d runs", runs)
	assert.Greater(t, runs, 500)
}

// On a file system that takes names for one which differ in case or in the form of an accent, files are renamed by case
// alone, swap with such names, and come back as they were spelled, after a stop at any operation as well.
func TestFoldingFileSystem(t *testing.T) {
	t.Parallel()
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
		m.files[m.key(Folder)] = m.file(Folder, fs.ModeDir|0o700, nil)
		return m, []Change{
			change("Card.ts", "card.ts", "card", "card"), change("caf\u00e9.ts", "cafe\u0301.ts", "coffee", "coffee"),
			change("Both.ts", "both.ts", "both", "both, edited"),
			change("Parts/Dome.ts", "parts/dome.ts", "dome", "dome, edited"),
			change("Parts/lens.ts", "parts/new/lens.ts", "lens", "lens"),
			change("Parts/De\u0301ep/X.ts", "parts/d\u00e9ep/X.ts", "deep", "deep"),
			change("a/One.ts", "a/two.ts", "one", "one"), change("a/Two.ts", "a/one.ts", "two", "two, edited"),
		}
	}
	m, all := make()
	_, err := of(m).Apply("whole", Part{}, all, when)
	require.NoError(t, err)
	now := m.shown()
	for p, content := range map[string]string{"card.ts": "card", "cafe\u0301.ts": "coffee", "both.ts": "both, edited",
		"a/two.ts": "one", "a/one.ts": "two, edited",
		"parts/dome.ts": "dome, edited", "parts/new/lens.ts": "lens", "parts/d\u00e9ep/X.ts": "deep",
		"parts/stays.ts": "stays",
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
		_, _ = of(m).Apply("stopped", Part{}, all, when)
		stop := m.done + n%17
		m.fault = func(operation int) (error, bool) {
			if operation >= stop {
				return errPower, false
			}
			return nil, false
		}
		early, _ := undone(m)
		require.Empty(t, early, "stopped after %d", n)
		m.fault = nil
		kept, err := undone(m)
		require.NoError(t, err)
		require.Empty(t, kept, "stopped after %d", n)
		same(t, old, m.shown(), "stopped after %d", n)
	}
	m, _ = make()
	_, err = of(m).Apply("taken", Part{}, []Change{change("Card.ts", "BOTH.ts", "card", "card")}, when)
	require.ErrorContains(t, err, "something stands at BOTH.ts already")
	_, err = of(m).Apply("clash", Part{}, []Change{change("Parts/Dome.ts", "parts/Dome.ts", "dome", "dome"),
		change("Parts/lens.ts", "PARTS/lens.ts", "lens", "lens")}, when)
	require.ErrorContains(t, err, "PARTS and parts are one folder on this file system")
}
