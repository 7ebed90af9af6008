package names

import (
	"path"
	"strings"
)

// Qualified is the name that a file or folder has by its path, without an ending, below the folder from which names are
// counted: a.b for src/a/b below src. It is false for what lies elsewhere, and for the folder itself.
func Qualified(root, place, separator string) (name string, ok bool) {
	rest, below := place, place != "."
	if root != "." {
		rest, below = strings.CutPrefix(place, root+"/")
	}
	return strings.ReplaceAll(rest, "/", separator), below
}

// Last are the last n parts of the name that a file has by its path: its folders, and its own name up to the first dot.
// A file that stands for its folder, by the name of an entry, has the folder's name; then there are none for others.
// entry may be empty.
func Last(p string, n int, entry string) []string {
	base, _, _ := strings.Cut(path.Base(p), ".")
	parts := append(strings.Split(path.Dir(p), "/"), base)
	if entry != "" {
		if base != entry {
			return nil
		}
		parts = parts[:len(parts)-1]
	}
	return parts[max(0, len(parts)-n):]
}

// Fits says whether the parts of a name are those that a file has by its path, each compared by a function.
func Fits(parts, own []string, same func(a, b string) bool) bool {
	if len(parts) != len(own) {
		return false
	}
	for i := range parts {
		if !same(parts[i], own[i]) {
			return false
		}
	}
	return true
}
