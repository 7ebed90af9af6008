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
