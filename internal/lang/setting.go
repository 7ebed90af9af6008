package lang

import (
	"bytes"
	"path"
	"strings"
)

// SettingKind says whether a value of a settings file may be a path or a pattern of paths, by its look and by the key
// that it stands under. Whether it is one shows when it is resolved.
func SettingKind(text, key string) (Kind, bool) {
	if text == "" || len(text) > 300 || strings.ContainsAny(text, "\n\t\"|;`\\") || strings.Contains(text, "://") || strings.HasPrefix(text, "//") ||
		strings.HasPrefix(text, "-") || strings.Contains(text, " ") && !strings.Contains(text, "/") {
		return 0, false
	}
	if strings.ContainsAny(text, "*") || strings.Contains(text, "/$1") || strings.Contains(strings.ReplaceAll(text, "${", ""), "{") && strings.Contains(text, "/") {
		if strings.Contains(text, "/") && !strings.HasPrefix(text, "^") {
			return SettingGlob, true
		}
		return 0, false
	}
	if _, rest := Head(text); strings.ContainsAny(rest, "<>(){}^$") {
		return 0, false
	}
	if strings.HasPrefix(text, "/") && path.Ext(text) == "" && (!PathKey(key) || addressKey(key)) { // an address
		return 0, false
	}
	if segments(text) >= 2 || PathKey(key) || strings.HasSuffix(text, "/") {
		return Setting, true
	}
	return 0, false
}

// DottedName says whether a text is made of names with dots between them, a.b.C, behind which a colon and a name may stand, a.b:c, and
// of how many.
func DottedName[T string | []byte](text T) (segments int, ok bool) {
	segments = 1
	previous, colon := byte('.'), false
	for i := range len(text) {
		switch c := text[i]; {
		case c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_' || c >= 0x80:
		case c >= '0' && c <= '9' && previous != '.' && previous != ':':
		case (c == '.' || c == ':' && !colon) && previous != '.' && previous != ':':
			colon = colon || c == ':'
			segments++
		default:
			return 0, false
		}
		previous = text[i]
	}
	return segments, previous != '.' && previous != ':'
}

// heads are marks with which settings begin a path from a known folder, and whether that is the project's root.
var heads = map[string]bool{
	"<rootDir>/": false, "${configDir}/": false, "{projectRoot}/": false, "${workspaceFolder}/": true, "${workspaceRoot}/": true, "$PWD/": true, "${PWD}/": true,
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
	"dir", "root", "path", "folder", "src", "source", "entry", "file", "input", "include", "exclude", "content", "static", "public", "template", "views",
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
	var room [64]byte
	plain := room[:0] // in lower case, without hyphens
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

// SpeaksOfFiles are calls whose first argument is a path, in scripts and in Python.
var SpeaksOfFiles = Words(`readFile readFileSync writeFile writeFileSync appendFile appendFileSync existsSync createReadStream createWriteStream stat statSync access accessSync
	copyFile copyFileSync readdir readdirSync mkdir mkdirSync rm rmSync unlink unlinkSync copy copySync readJson readJSON readJsonSync outputFile ensureDir emptyDir src dest watch
	glob globSync globby static sendFile loadFile fork pathToFileURL addPassthroughCopy addWatchTarget addPlugin loadEnv serveStatic setupFiles
	open Path PurePath PosixPath join exists isfile isdir listdir scandir walk iglob copytree copyfile rmtree makedirs read_csv load_dotenv FileSystemLoader StaticFiles fileConfig
	open_resource read_text loadtxt imread resolve`)

// Words is the set of the words of a text.
func Words(text string) map[string]bool {
	out := map[string]bool{}
	for w := range strings.FieldsSeq(text) {
		out[w] = true
	}
	return out
}

// TakesPaths are programs whose words are paths, also those of one segment: eslint packages apps.
var TakesPaths = map[string]bool{
	"mypy": true, "ruff": true, "black": true, "isort": true, "flake8": true, "pylint": true, "pytest": true, "codespell": true, "bandit": true, "pyright": true, "autoflake": true,
	"eslint": true, "prettier": true, "stylelint": true, "biome": true, "jest": true, "vitest": true, "mocha": true, "nodemon": true, "cpx": true, "copyfiles": true, "rimraf": true,
	"cp": true, "mv": true, "rm": true, "cd": true, "ls": true, "cat": true, "find": true, "grep": true, "rsync": true, "chmod": true, "mkdir": true, "tar": true,
}

// addressKey says whether the values under a key are addresses, though its name speaks of paths: publicPath, routeBasePath.
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

// IsWord says whether a byte is one of a word of letters without accents, digits and _.
func IsWord(c byte) bool {
	return c == '_' || c >= '0' && c <= '9' || c|0x20 >= 'a' && c|0x20 <= 'z'
}
