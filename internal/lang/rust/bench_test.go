package rust

import (
	"os"
	"testing"

	"crookedshelf/internal/project/projecttest"
)

// BenchmarkRead reads all files of Rust of a folder that RUST_FILES names.
func BenchmarkRead(b *testing.B) {
	projecttest.Reading(b, os.Getenv("RUST_FILES"), isRust, func(text []byte) { _, _ = read(text) })
}
