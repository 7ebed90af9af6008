package php

import (
	"cmp"
	"os"
	"path"
	"testing"

	"crookedshelf/internal/project/projecttest"
)

// BenchmarkRead reads all PHP files of a folder: PHP_FILES, or where Debian has its packages.
func BenchmarkRead(b *testing.B) {
	projecttest.Reading(b, cmp.Or(os.Getenv("PHP_FILES"), "/usr/share/php"), func(p string) bool { return path.Ext(p) == ".php" }, func(text []byte) { _, _ = read(text) })
}
