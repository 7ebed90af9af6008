package paths

import (
	"bytes"
	"path"
	"strings"

	"crookedshelf/internal/lang"
)

// SettingKind says whether a value of a settings file may be a path or a pattern of paths, by its look and by the key
// that it stands under. Whether it is one shows when it is resolved.
func SettingKind(text, key string) (*lang.Kind, bool) {
	if slashes, back := lang.Slashed(text); back && segments(slashes) >= 2 {
		text = slashes
	}
	if text == "" || len(text) > 300 || strings.ContainsAny(text, "\n\t\"|;`\\") || strings.Contains(text, "://") ||
		strings.HasPrefix(text, "//") ||
		strings.HasPrefix(text, "-") || strings.Contains(text, " ") && !strings.Contains(text, "/") {
		return nil, false
	}
	if strings.ContainsAny(text, "*") || strings.Contains(text, "/$1") ||
		strings.Contains(strings.ReplaceAll(text, "${", ""), "{") && strings.Contains(text, "/") {
		if strings.Contains(text, "/") && !strings.HasPrefix(text, "^") {
			return SettingGlob, true
		}
		return nil, false
	}
	if _, rest := Head(text); strings.ContainsAny(rest, "<>(){}^$") {
		return nil, false
	}
	if strings.HasPrefix(text, "/") && path.Ext(text) == "" && (!PathKey(key) || addressKey(key)) { // an address
		return nil, false
	}
	if segments(text) >= 2 || PathKey(key) || strings.HasSuffix(text, "/") {
		return Setting, true
	}
	return nil, false
}

// heads are marks with which settings begin a path from a known folder, and whether that is the project's root.
var heads = map[string]bool{
	"<rootDir>/": false, "${configDir}/": false, "{projectRoot}/": false, "${workspaceFolder}/": true,
	"${workspaceRoot}/": true, "$PWD/": true, "${PWD}/": true,
	"$rootDir/": true, "${rootDir}/": true, "$rootProject.projectDir/": true, "${rootProject.projectDir}/": true,
	"$projectDir/": false, "${projectDir}/": false,
}

// Head parts a text from the mark that it begins with.
func Head(text string) (head, rest string) {
	for h := range heads {
		if rest, ok := strings.CutPrefix(text, h); ok {
			return h, rest
		}
	}
	return "", text
}

// FromRoot says whether a mark stands for the project's root, and not for the folder of the settings file.
func FromRoot(head string) bool { return heads[strings.TrimPrefix(head, "!")] }

// segments counts the segments of a path; ./x counts as two.
func segments(text string) int { return strings.Count(strings.TrimSuffix(text, "/"), "/") + 1 }

// pathWords are the parts of keys whose values are paths.
var pathWords = bytesOf(
	"dir", "root", "path", "folder", "src", "source", "entry", "file", "input", "include", "exclude", "content",
	"static", "public", "template", "views",
	"assets", "styleurl", "context", "ignore", "baseurl", "cwd", "workdir", "where",
)

func bytesOf(texts ...string) [][]byte {
	out := make([][]byte, len(texts))
	for i, t := range texts {
		out[i] = []byte(t)
	}
	return out
}

// PathKey says whether the values under a key of this name are paths, even where they have one segment.
func PathKey(key string) bool {
	if strings.Contains(key, "/") { // it is a path itself, and its value is something else
		return false
	}
	var buf [64]byte
	plain := buf[:0] // in lower case, without hyphens
	for i := range len(key) {
		switch c := key[i]; {
		case c == '-' || c == '_':
		case c >= 'A' && c <= 'Z':
			plain = append(plain, c|0x20)
		default:
			plain = append(plain, c)
		}
	}
	for _, w := range pathWords {
		if bytes.Contains(plain, w) {
			return true
		}
	}
	return false
}

// addressKey says whether the values under a key are addresses, though its name speaks of paths: publicPath,
// routeBasePath.
func addressKey(key string) bool {
	key = strings.ToLower(key)
	for _, w := range []string{"publicpath", "basepath", "baseurl", "pathprefix", "pathname", "urlpath", "route"} {
		if strings.Contains(key, w) {
			return true
		}
	}
	return key == "path"
}

// Segments says whether a text has enough segments to be likely a path.
func Segments(text string) bool { return segments(text) >= 2 }
