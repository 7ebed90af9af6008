package ruby

import (
	"os"
	"path/filepath"
	"testing"
)

// BenchmarkRead reads all files of Ruby of a folder that RUBY_FILES names.
func BenchmarkRead(b *testing.B) {
	var texts [][]byte
	size := 0
	_ = filepath.WalkDir(os.Getenv("RUBY_FILES"), func(p string, e os.DirEntry, err error) error {
		if err == nil && filepath.Ext(p) == ".rb" && e.Type().IsRegular() {
			if text, err := os.ReadFile(p); err == nil {
				texts = append(texts, text)
				size += len(text)
			}
		}
		return nil
	})
	if size == 0 {
		b.Skip("no Ruby is here: name a folder with RUBY_FILES")
	}
	b.SetBytes(int64(size))
	for b.Loop() {
		for _, text := range texts {
			_, _ = read("a.rb", text)
		}
	}
}
