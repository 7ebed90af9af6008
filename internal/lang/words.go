package lang

import "strings"

// SpeaksOfFiles are calls whose first argument is a path, in scripts and in Python.
var SpeaksOfFiles = Words(
	`readFile readFileSync writeFile writeFileSync appendFile appendFileSync existsSync createReadStream
	createWriteStream stat statSync access accessSync copyFile copyFileSync readdir readdirSync mkdir
	mkdirSync rm rmSync unlink unlinkSync copy copySync readJson readJSON readJsonSync outputFile
	ensureDir emptyDir src dest watch glob globSync globby static sendFile loadFile fork pathToFileURL
	addPassthroughCopy addWatchTarget addPlugin loadEnv serveStatic setupFiles open Path PurePath
	PosixPath join exists isfile isdir listdir scandir walk iglob copytree copyfile rmtree makedirs
	read_csv load_dotenv FileSystemLoader StaticFiles fileConfig open_resource read_text loadtxt imread
	resolve`,
)

// TakesPaths are programs whose words are paths, also those of one segment: eslint packages apps.
var TakesPaths = map[string]bool{
	"mypy": true, "ruff": true, "black": true, "isort": true, "flake8": true, "pylint": true, "pytest": true,
	"codespell": true, "bandit": true, "pyright": true, "autoflake": true,
	"eslint": true, "prettier": true, "stylelint": true, "biome": true, "jest": true, "vitest": true, "mocha": true,
	"nodemon": true, "cpx": true, "copyfiles": true, "rimraf": true,
	"cp": true, "mv": true, "rm": true, "cd": true, "ls": true, "cat": true, "find": true, "grep": true, "rsync": true,
	"chmod": true, "mkdir": true, "tar": true,
}

// Words is the set of the words of a text.
func Words(text string) map[string]bool {
	out := map[string]bool{}
	for w := range strings.FieldsSeq(text) {
		out[w] = true
	}
	return out
}

// IsWord says whether a byte is one of a word of letters without accents, digits and _.
func IsWord(c byte) bool {
	return c == '_' || c >= '0' && c <= '9' || c|0x20 >= 'a' && c|0x20 <= 'z'
}

// DottedName says whether a text is made of names with dots between them, a.b.C, behind which a colon and a name may
// stand, a.b:c, and of how many.
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
