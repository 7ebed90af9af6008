package java

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// BenchmarkRead reads all Java files of a folder that JAVA_FILES names.
func BenchmarkRead(b *testing.B) {
	var texts [][]byte
	size := 0
	_ = filepath.WalkDir(os.Getenv("JAVA_FILES"), func(p string, e os.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".java") && e.Type().IsRegular() {
			if text, err := os.ReadFile(p); err == nil {
				texts = append(texts, text)
				size += len(text)
			}
		}
		return nil
	})
	if size == 0 {
		b.Skip("no Java is here: name a folder with JAVA_FILES")
	}
	b.SetBytes(int64(size))
	for b.Loop() {
		for _, text := range texts {
			_, _ = read(text)
		}
	}
}
