package journal

import (
	"bytes"
	"errors"
	"fmt"
	"maps"
	"os"
	"path"
	"slices"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// journalOf makes a disk with a record in a state, and gives the project as it was before and as it is.
func journalOf(t *testing.T, state State) (m *memory, old, now map[string]string) {
	m, all := few()
	old = m.shown()
	r, err := of(m).Apply("small", Part{}, all, when)
	require.NoError(t, err)
	if state != Done {
		require.NoError(t, of(m).setState(r, state))
	}
	return m, old, m.shown()
}

// journalFiles are the paths of the journal's files, in order.
func (m *memory) journalFiles() []string {
	var out []string
	for p, f := range m.files {
		if inJournal(p) && !f.IsDir() {
			out = append(out, p)
		}
	}
	slices.Sort(out)
	return out
}

// everyBit says whether all bits of a byte are tried, or one of each: CI tries all.
func everyBit() bool { return os.Getenv("CI") != "" }

// Every single bit of every file of a journal is turned, and every file is cut off at every byte. What is damaged is
// reported, none of it is deleted, and an undo that says nothing gave the very old tree.
func TestEveryBitOfAJournalMayBeWrong(t *testing.T) {
	t.Parallel()
	for _, state := range []State{Done, Begun, Undoing, Undone} {
		m, old, now := journalOf(t, state)
		content := map[string][]byte{}
		for _, p := range m.journalFiles() {
			content[p] = bytes.Clone(m.files[p].content)
		}
		runs, said := 0, 0
		damage := func(name, p string, damaged []byte) {
			m := m.clone()
			m.files[p].content = damaged
			before := maps.Clone(m.files)
			found, err := of(m).Verify()
			require.NoError(t, err, name)
			noticed := slices.ContainsFunc(found, func(v Verified) bool { return len(v.Wrong) > 0 })
			// what is held is a copy, and another's changes of it are looked at by the undo
			if !strings.Contains(p, "/held/") {
				require.True(t, noticed, "%s: it was not reported", name)
			}
			kept, err := undone(m)
			runs++
			switch {
			case err != nil:
				said++
				same(t, now, m.shown(), "%s: an undo that fails leaves the project as it is", name)
				for p, f := range before {
					require.NotNil(t, m.files[p], "%s: %s is gone", name, p)
					require.Equal(t, f.content, m.files[p].content, "%s: %s", name, p)
				}
			case len(kept) > 0 || state == Undone:
				said++
			default:
				same(t, old, m.shown(), "%s: an undo that says nothing", name)
			}
		}
		for p, whole := range content {
			if path.Base(p) == "holder" {
				continue
			}
			for i := range whole {
				for bit := range 8 {
					if !everyBit() && bit != i%8 {
						continue
					}
					damaged := bytes.Clone(whole)
					damaged[i] ^= 1 << bit
					damage(fmt.Sprintf("%s: bit %d of byte %d of %s", state, bit, i, p), p, damaged)
				}
				damage(fmt.Sprintf("%s: %s cut off at byte %d", state, p, i), p, whole[:i])
			}
		}
		t.Logf("%s: %d runs, %d reported", state, runs, said)
		assert.Greater(t, runs, 7_000)
		assert.Positive(t, said)
	}
}

// Whatever file of the journal is missing, nothing else of it is deleted, and no other tree is given than the old one.
func TestEveryFileOfAJournalMayBeMissing(t *testing.T) {
	t.Parallel()
	for _, state := range []State{Done, Begun, Undoing} {
		m, old, now := journalOf(t, state)
		for _, p := range m.journalFiles() {
			m, _, _ := journalOf(t, state)
			delete(m.files, p)
			left := m.journalFiles()
			kept, err := undone(m)
			if err != nil {
				same(t, now, m.shown(), "%s without %s", state, p)
				assert.Equal(t, left, m.journalFiles(), "%s without %s", state, p)
				assert.ErrorContains(t, err, "Nothing of it was deleted", p)
			} else if len(kept) == 0 {
				require.NotContains(t, p, "/state")
				for place, was := range old { // what was edited comes back from the pack, save its extended attributes
					require.Equal(t, was[strings.LastIndex(was, " "):],
						m.shown()[place][strings.LastIndex(m.shown()[place], " "):], "%s without %s: %s", state, p,
						place)
				}
			}
		}
	}
}

// A record that can't be read once, by a fault of the disk, is not deleted by a straighten that fails for it, nor by an
// undo.
func TestWhatCannotBeReadIsNotDeleted(t *testing.T) {
	t.Parallel()
	for _, what := range []string{stateFile, recordFile, packFile} {
		m, _, now := journalOf(t, Done)
		older := m.journalFiles()
		m.readFault = func(_ int, p string) error {
			if strings.HasSuffix(p, "0001/"+what) {
				return syscall.EIO
			}
			return nil
		}
		records, err := of(m).Records()
		require.NoError(t, err)
		assert.Equal(t, what != packFile, records[0].Damage != nil, what)
		_, err = of(m).Undo(Range{})
		require.ErrorContains(t, err, "input/output error", what)
		same(t, now, m.shown(), "after the undo, %s", what)
		assert.Equal(t, older, m.journalFiles(), what)
		m.readFault = nil
		m.fault = func(int) (error, bool) { return errPower, false }
		_, err = of(m).Apply("second", Part{}, []Change{change("c.ts", "d.ts", "c, edited", "c, edited")}, when)
		require.ErrorContains(t, err, "nothing was changed", what)
		assert.Equal(t, older, m.journalFiles(), what)
		m.fault = nil
		kept, err := undone(m)
		require.NoError(t, err)
		assert.Empty(t, kept, "with the disk well again it can be taken back")
	}
}

// One old content can be got out of a journal of which anything else is damaged.
func TestExtract(t *testing.T) {
	t.Parallel()
	for _, spoilt := range []string{"", recordFile, stateFile} {
		m, _, _ := journalOf(t, Done)
		if spoilt != "" {
			m.files[recordsFolder+"/0001/"+spoilt].content = []byte("spoilt")
		}
		for p, want := range map[string]string{"old/b.ts": "b", "c.ts": "c", "x.ts": "x", "far/d.ts": "d"} {
			content, err := of(m).Extract(p)
			require.NoError(t, err, "%s, %s", spoilt, p)
			assert.Equal(t, want, string(content))
		}
		_, err := of(m).Extract("none.ts")
		assert.ErrorIs(t, err, ErrNoContent)
	}
	m, _, _ := journalOf(t, Done)
	pack := m.files[recordsFolder+"/0001/"+packFile]
	pack.content = bytes.Replace(pack.content, []byte("\nb\n"), []byte("\nB\n"), 1)
	content, err := of(m).Extract("old/b.ts")
	require.NoError(t, err, "the old file itself is kept as well")
	assert.Equal(t, "b", string(content))
	_, err = of(m).Undo(Range{})
	assert.ErrorContains(t, err, "the old content of old/b.ts is damaged (1 of its 8 contents are)")
}

func TestForget(t *testing.T) {
	t.Parallel()
	m, _, now := journalOf(t, Done)
	_, _, err := of(m).Forget(2)
	require.ErrorContains(t, err, "the journal has no record 2")
	_, aside, err := of(m).Forget(1)
	require.NoError(t, err)
	assert.Empty(t, aside)
	_, err = of(m).Undo(Range{})
	assert.ErrorIs(t, err, ErrNothing)
	same(t, now, m.shown(), "the project stays")

	for _, state := range []State{Begun, Undoing} {
		m, _, _ := journalOf(t, state)
		_, _, err := of(m).Forget(1)
		assert.ErrorContains(t, err, "crooked undo first")
	}
	m, _, _ = journalOf(t, Begun)
	m.files[recordsFolder+"/0001/"+recordFile].content = nil
	contents := len(m.journalFiles())
	_, aside, err = of(m).Forget(1)
	require.NoError(t, err)
	assert.Equal(t, ".crooked/damaged/0001", aside)
	assert.Len(t, m.journalFiles(), contents, "it was put aside, not deleted")
}

// A journal of somebody else is not believed, whatever its state; and nobody can change a state without the key.
func TestForeignJournals(t *testing.T) {
	t.Parallel()
	for _, state := range []State{Begun, Done, Undoing} {
		m, old, now := journalOf(t, state)
		for _, key := range [][]byte{nil, []byte("another key")} {
			_, err := Open(m, key).Undo(Range{})
			var foreign *ForeignError
			require.True(t, errors.As(err, &foreign), state)
			same(t, now, m.shown(), "nothing was done")
		}
		_, err := Open(m, nil).Trusting().Undo(Range{})
		require.NoError(t, err)
		same(t, old, m.shown(), "trusted, %s", state)
	}
	m, all := few()
	_, err := Open(m, nil).Apply("without a key", Part{}, all, when)
	require.NoError(t, err)
	_, err = Open(m, nil).Undo(Range{})
	var foreign *ForeignError
	assert.True(t, errors.As(err, &foreign), "where there is no key nothing can be told from a forgery")
}
