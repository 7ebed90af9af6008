package php

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// BenchmarkRead reads all PHP files of a folder: PHP_FILES, or where Debian has its packages.
func BenchmarkRead(b *testing.B) {
	dir := os.Getenv("PHP_FILES")
	if dir == "" {
		dir = "/usr/share/php"
	}
	var texts [][]byte
	size := 0
	_ = filepath.WalkDir(dir, func(p string, e os.DirEntry, err error) error {
		if err == nil && strings.HasSuffix(p, ".php") && e.Type().IsRegular() {
			if text, err := os.ReadFile(p); err == nil {
				texts = append(texts, text)
				size += len(text)
			}
		}
		return nil
	})
	if size == 0 {
		b.Skip("no PHP is here")
	}
	b.SetBytes(int64(size))
	for b.Loop() {
		for _, text := range texts {
			_, _ = read(text)
		}
	}
}
