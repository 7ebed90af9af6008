package lang

import (
	"path"
	"strings"
)

// Relative gives the path from a folder to a file or folder, both from the root; it always begins with a dot.
func Relative(dir, to string) string {
	if dir == to {
		return "."
	}
	up := ""
	for dir != "." && to != dir && !strings.HasPrefix(to, dir+"/") {
		up += "../"
		dir = path.Dir(dir)
	}
	switch {
	case to == "." || to == dir:
		return strings.TrimSuffix(up, "/")
	case dir != ".":
		to = strings.TrimPrefix(to, dir+"/")
	}
	if up == "" {
		return "./" + to
	}
	return up + to
}

// IsRelative says whether a text is a path from the folder of its file: . or .., or one that begins so.
func IsRelative(text string) bool {
	return text == "." || text == ".." || strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../")
}

// Leaves says whether a cleaned path is outside of the root.
func Leaves(p string) bool {
	return p == ".." || strings.HasPrefix(p, "../") || strings.HasPrefix(p, "/")
}
