package journal

import (
	"io/fs"
	"testing"

	"crookedshelf/internal/project"
)

// FuzzUndo: whatever a record and the old contents say, undo names no path outside of the project, ends, does not
// panic, and deletes nothing of a journal that it can't read.
func FuzzUndo(f *testing.F) {
	f.Add([]byte(`{"version":2,"title":"x","files":[{"from":"a.ts","to":"b.ts","before":"","after":"","mode":420,"offset":0,"size":3}],"made":["d"],"emptied":[{"path":"e","mode":493}]}`), []byte("old"), "done")
	f.Add([]byte(`{"version":2,"files":[{"from":"","to":"new.ts"},{"from":"a.ts","to":"a.ts","offset":-1,"size":-5}]}`),
		[]byte(""), "begun")
	f.Add([]byte(`{"version":2,"files":[{"from":"../x","to":"y"}]}`), []byte(""), "undoing")
	f.Add([]byte(`{"version":1}`),
		[]byte("crooked old 3 ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad \"a.ts\"\nabc\n"), "")
	f.Fuzz(func(t *testing.T, record, pack []byte, state string) {
		m := newMemory()
		m.put("a.ts", "old")
		m.put("b.ts", "new")
		j := of(m)
		folder := recordsFolder + "/0001"
		for name, text := range map[string][]byte{recordFile: record, packFile: pack,
			stateFile: j.stateText(State(state), sum(record))} {
			m.put(folder+"/"+name, string(text))
		}
		_, err := j.Undo(Range{})
		_, _ = j.Verify()
		_, _ = j.Extract("a.ts")
		for p, file := range m.files {
			if p != "." && p != Folder && !project.CleanPath(p) && file.mode&fs.ModeDir == 0 && !inJournal(p) {
				t.Fatalf("%q was written", p)
			}
		}
		if err != nil && m.at(folder+"/"+packFile) == nil {
			t.Fatalf("the old contents are gone, with the error %s", err)
		}
	})
}

func inJournal(p string) bool { return len(p) > len(Folder) && p[:len(Folder)+1] == Folder+"/" }
