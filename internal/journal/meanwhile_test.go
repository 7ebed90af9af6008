package journal

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// few makes a disk and changes of every kind, one of each.
func few() (*memory, []Change) {
	m := newMemory()
	for p, content := range map[string]string{"old/a.ts": "a", "old/b.ts": "b", "c.ts": "c", "x.ts": "x", "y.ts": "y",
		"gone/mark": "", "far/d.ts": "d"} {
		m.put(p, content)
	}
	m.files[Folder] = m.file(Folder, 0o700|1<<31, nil)
	return m, []Change{
		change("old/a.ts", "new/a.ts", "a", "a"), change("old/b.ts", "new/b.ts", "b", "b, edited"),
		change("c.ts", "c.ts", "c", "c, edited"),
		change("x.ts", "y.ts", "x", "x"), change("y.ts", "x.ts", "y", "y, edited"), change("gone/mark", "", "", ""),
		change("", "new/index.ts", "", "index"),
		change("far/d.ts", "old/a.ts", "d", "d"),
	}
}

// somewhere says whether a content is on the disk, in the project or in the journal.
func (m *memory) somewhere(content string) bool {
	for _, f := range m.files {
		if string(f.content) == content {
			return true
		}
	}
	return false
}

const mine = "what somebody saved meanwhile"

// meanwhile is what somebody does to one place at one moment.
type meanwhile struct {
	what, place string
	before      int // the number of the operation
	act         func(m *memory, p string)

	acted  bool
	loses  string // the content that somebody destroys
	writes bool   // and whether there is a new one that must not be lost
}

func (w *meanwhile) watch(m *memory) {
	count := 0
	m.before = func(string, string) {
		if count++; count != w.before+1 {
			return
		}
		w.acted = true
		f := m.at(w.place)
		if f != nil {
			w.loses = string(f.content)
		}
		w.writes = w.what == "saved" || w.what == "written" && f != nil
		w.act(m, w.place)
	}
}

// What somebody else does to a file before any single operation of a straighten, and of the undo that follows, is never
// lost: an editor that saves by a new file, a program that writes into the file, one that makes a new file and one that
// takes a file away. And no old content is, save one that they destroyed themselves.
func TestWhatSomebodySavesMeanwhileIsNeverLost(t *testing.T) {
	t.Parallel()
	places := []string{"old/a.ts", "new/a.ts", "old/b.ts", "new/b.ts", "c.ts", "x.ts", "y.ts", "new/index.ts",
		"gone/mark", "far/d.ts"}
	acts := map[string]func(m *memory, p string){
		"saved":   func(m *memory, p string) { m.save(p, mine) },
		"written": func(m *memory, p string) { m.write(p, mine) },
		"removed": func(m *memory, p string) { m.mu.Lock(); delete(m.files, p); m.mu.Unlock() },
	}
	runs := 0
	for _, during := range []string{"straighten", "undo"} {
		for _, plain := range []bool{false, true} {
			for what, act := range acts {
				for _, p := range places {
					for n := 0; ; n++ {
						w := &meanwhile{what: what, place: p, before: n, act: act}
						if name := fmt.Sprintf("%s: %s %s before operation %d (exchange: %t)", during, p, what, n,
							!plain); !w.run(t, name, during, plain) {
							break
						}
						runs++
					}
				}
			}
		}
	}
	t.Logf("%d runs", runs)
	assert.Greater(t, runs, 10_000)
}

// run is false if the moment lies beyond the last operation.
func (w *meanwhile) run(t *testing.T, name, during string, plain bool) bool {
	m, all := few()
	m.plain = plain
	var err error
	var said []string
	if during == "undo" {
		_, err = of(m).Apply("whole", Part{}, all, when)
		require.NoError(t, err)
		w.watch(m)
		said, err = undone(m)
	} else {
		w.watch(m)
		_, err = of(m).Apply("meanwhile", Part{}, all, when)
	}
	said = append(said, fmt.Sprint(err))
	if !w.acted {
		return false
	}
	m.before = nil
	w.nothingLost(t, m, name, said)
	if during == "straighten" && err != nil && !strings.Contains(err.Error(), "could not be taken back") {
		return true
	}
	more, err := undone(m)
	require.NoError(t, err, name)
	w.nothingLost(t, m, name+", after the undo", append(said, more...))
	return true
}

func (w *meanwhile) nothingLost(t *testing.T, m *memory, name string, said []string) {
	if w.writes {
		require.True(t, m.somewhere(mine), "%s: it is lost\n%v", name, m.shown())
		seen := false
		for _, shown := range m.shown() {
			seen = seen || strings.HasSuffix(shown, mine)
		}
		require.True(t, seen || strings.Contains(strings.Join(said, "\n"), Folder),
			"%s: it is in the journal alone, and nobody says so: %q", name, said)
	}
	for p, old := range map[string]string{"old/a.ts": "a", "old/b.ts": "b", "c.ts": "c", "x.ts": "x", "y.ts": "y",
		"far/d.ts": "d"} {
		if old == w.loses || m.somewhere(old) {
			continue
		}
		content, err := of(m).Extract(p)
		require.NoError(t, err, "%s: %q is lost\n%v", name, old, m.shown())
		require.Equal(t, old, string(content), name)
	}
}

// undone takes the last straighten back, and gives what was kept.
func undone(m *memory) ([]string, error) {
	out, err := of(m).Undo(Range{})
	var kept []string
	for _, o := range out {
		kept = append(kept, o.Kept...)
	}
	if errors.Is(err, ErrNothing) {
		err = nil
	}
	return slices.Clone(kept), err
}
