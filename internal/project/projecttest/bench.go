package projecttest

import (
	"io/fs"
	"os"
	"path/filepath"
	"testing"
)

// Reading measures how fast the files of a folder are read whose paths a language takes.
func Reading(b *testing.B, dir string, takes func(path string) bool, read func(text []byte)) {
	b.Helper()
	var texts [][]byte
	size := 0
	_ = filepath.WalkDir(dir, func(p string, e fs.DirEntry, err error) error {
		if err == nil && takes(p) && e.Type().IsRegular() {
			if text, err := os.ReadFile(p); err == nil {
				texts = append(texts, text)
				size += len(text)
			}
		}
		return nil
	})
	if size == 0 {
		b.Skip("no files are here: name a folder, as the comment says")
	}
	b.SetBytes(int64(size))
	for b.Loop() {
		for _, text := range texts {
			read(text)
		}
	}
}
