package csharp

import (
	"os"
	"testing"

	"crookedshelf/internal/project/projecttest"
)

// BenchmarkRead reads all files of C# of a folder that CSHARP_FILES names.
func BenchmarkRead(b *testing.B) {
	projecttest.Reading(b, os.Getenv("CSHARP_FILES"), isSource, func(text []byte) { _, _ = read(text) })
}
