package ruby

import (
	"os"
	"path"
	"testing"

	"crookedshelf/internal/project/projecttest"
)

// BenchmarkRead reads all files of Ruby of a folder that RUBY_FILES names.
func BenchmarkRead(b *testing.B) {
	projecttest.Reading(b, os.Getenv("RUBY_FILES"), func(p string) bool { return path.Ext(p) == ".rb" }, func(text []byte) { _, _ = read("a.rb", text) })
}
