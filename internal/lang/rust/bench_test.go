package rust

import (
	"io/fs"
	"os"
	"path/filepath"
	"testing"
)

// BenchmarkRead reads all files of Rust below RUST_FILES.
func BenchmarkRead(b *testing.B) {
	root := os.Getenv("RUST_FILES")
	if root == "" {
		b.Skip("RUST_FILES names no folder")
	}
	var files [][]byte
	size := 0
	_ = filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && isRust(p) {
			if content, err := os.ReadFile(p); err == nil {
				files, size = append(files, content), size+len(content)
			}
		}
		return nil
	})
	b.SetBytes(int64(size))
	for b.Loop() {
		for _, content := range files {
			_, _ = read(content)
		}
	}
}
