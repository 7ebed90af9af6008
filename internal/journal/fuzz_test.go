package journal

import (
	"io/fs"
	"testing"

	"crookedshelf/internal/project"
)

// FuzzUndo: whatever a record and the old contents say, undo names no path outside of the project, ends, and does not panic.
func FuzzUndo(f *testing.F) {
	f.Add([]byte(`{"version":1,"title":"x","files":[{"from":"a.ts","to":"b.ts","before":"","after":"","mode":420,"offset":0,"size":3}],"made":["d"],"emptied":[{"path":"e","mode":493}]}`), []byte("old"), []byte("done"))
	f.Add([]byte(`{"version":1,"files":[{"from":"","to":"new.ts"},{"from":"a.ts","to":"a.ts","offset":-1,"size":-5}]}`), []byte(""), []byte("begun"))
	f.Add([]byte(`{"version":1,"files":[{"from":"../x","to":"y"}]}`), []byte(""), []byte("begun"))
	f.Add([]byte(`{"version":2}`), []byte(""), []byte("undone"))
	f.Fuzz(func(t *testing.T, record, pack, state []byte) {
		m := newMemory()
		m.put("a.ts", "old")
		m.put("b.ts", "new")
		folder := recordsFolder + "/0001"
		for dir, text := range map[string][]byte{recordFile: record, packFile: pack, stateFile: state} {
			m.put(folder+"/"+dir, string(text))
		}
		_, _ = Undo(m, Range{})
		for p, file := range m.files {
			if p != "." && p != Folder && !project.CleanPath(p) && file.mode&fs.ModeDir == 0 && !inJournal(p) {
				t.Fatalf("%q was written", p)
			}
		}
	})
}

func inJournal(p string) bool { return len(p) > len(Folder) && p[:len(Folder)+1] == Folder+"/" }
