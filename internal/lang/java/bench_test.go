package java

import (
	"os"
	"testing"

	"crookedshelf/internal/project/projecttest"
)

// BenchmarkRead reads all Java files of a folder that JAVA_FILES names.
func BenchmarkRead(b *testing.B) {
	projecttest.Reading(b, os.Getenv("JAVA_FILES"), isJava, func(text []byte) { _, _ = read(text) })
}
