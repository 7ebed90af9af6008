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

// Join is path.Join of a folder, in its shortest form, and a text that begins with ./ or ../, as nearly all imports do:
// it is the same with fewer steps.
func Join(dir, text string) string {
	rest := text
	for at := dir; ; {
		switch {
		case strings.HasPrefix(rest, "./"):
			rest = rest[2:]
		case strings.HasPrefix(rest, "../") && at != "." && !Leaves(at):
			rest = rest[3:]
			if slash := strings.LastIndexByte(at, '/'); slash > 0 {
				at = at[:slash]
			} else {
				at = "."
			}
		case !shortest(rest) || rest[len(rest)-1] == '.':
			return path.Join(dir, text)
		case at == ".":
			return rest
		default:
			return at + "/" + rest
		}
	}
}

// Clean is path.Clean; a path that is in its shortest form, as nearly all are, takes fewer steps.
func Clean(p string) string {
	if !shortest(p) {
		return path.Clean(p)
	}
	return p
}

// shortest says whether a path is in its shortest form, and below the folder that it starts from. Of some that are it
// says no.
func shortest(p string) bool {
	last := byte('/')
	for i := range len(p) {
		c := p[i]
		if last == '/' && (c == '/' || c == '.') {
			return false
		}
		last = c
	}
	return last != '/'
}

// Slashed gives a path whose folders are parted by backslashes with slashes; back says whether it was one. A text in
// which both stand is something else: a pattern, or an escape.
func Slashed(text string) (slashes string, back bool) {
	if !strings.Contains(text, `\`) || strings.ContainsAny(text, `/$^|`) {
		return text, false
	}
	return strings.ReplaceAll(text, `\`, "/"), true
}

// IsRelative says whether a text is a path from the folder of its file: . or .., or one that begins so.
func IsRelative(text string) bool {
	return text == "." || text == ".." || strings.HasPrefix(text, "./") || strings.HasPrefix(text, "../")
}

// Leaves says whether a cleaned path is outside of the root.
func Leaves(p string) bool {
	return p == ".." || strings.HasPrefix(p, "../") || strings.HasPrefix(p, "/")
}
