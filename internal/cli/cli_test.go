package cli_test

import (
	"bytes"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/project/projecttest"
)

// program is the built program; the tests drive it as a user does.
var program string

func TestMain(m *testing.M) { os.Exit(buildAndRun(m)) }

func buildAndRun(m *testing.M) int {
	environment := os.Environ()
	dir, err := os.MkdirTemp("", "crooked-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	program = filepath.Join(dir, "crooked")
	caches, err := exec.Command("go", "env", "GOMODCACHE", "GOCACHE").Output()
	if err != nil {
		panic(err)
	}
	modules, builds, _ := strings.Cut(strings.TrimSpace(string(caches)), "\n")
	// the journal's key is the tests' own; what Go keeps is not, or each run would fetch all modules anew
	for name, value := range map[string]string{"HOME": dir, "XDG_CONFIG_HOME": filepath.Join(dir, ".config"),
		"GOMODCACHE": modules, "GOCACHE": builds} {
		if err := os.Setenv(name, value); err != nil {
			panic(err)
		}
	}
	settings := "[user]\n\tname = Ada\n\temail = ada@hilltop.example\n"
	if err := os.WriteFile(filepath.Join(dir, ".gitconfig"), []byte(settings), 0o600); err != nil {
		panic(err)
	}
	build := exec.Command("go", "build", "-o", program, "crookedshelf/cmd/crooked")
	build.Env = append(environment, "CGO_ENABLED=0")
	if out, err := build.CombinedOutput(); err != nil {
		panic(string(out))
	}
	return m.Run()
}

type outcome struct {
	out, err string
	code     int
}

func run(t *testing.T, dir string, args ...string) outcome {
	t.Helper()
	return runWith(t, dir, nil, args...)
}

func runWith(t *testing.T, dir string, env []string, args ...string) outcome {
	t.Helper()
	cmd := exec.Command(program, args...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), env...)
	var out, errs bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &errs
	err := cmd.Run()
	var exit *exec.ExitError
	if err != nil && !errors.As(err, &exit) {
		t.Fatal(err)
	}
	return outcome{out.String(), errs.String(), cmd.ProcessState.ExitCode()}
}

// hilltop lays out the demo project.
func hilltop(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, demo.Hilltop()))
	return dir
}

// small lays out a project of a few files.
func small(t *testing.T, text string) string {
	t.Helper()
	dir := t.TempDir()
	projecttest.Write(t, dir, text)
	return dir
}

const tools = `
-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
shelves: { tools: { at: src/tools/, from: [src/utils/**, src/helpers/**] } }
-- src/main.ts --
import './utils/dates'
-- src/utils/dates.ts --
export {}
`

func git(t *testing.T, dir string, args ...string) string {
	t.Helper()
	cmd := exec.Command("git", append([]string{"-c", "user.name=Ada", "-c", "user.email=ada@hilltop.example"},
		args...)...)
	cmd.Dir = dir
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

func TestTheWholeStoryOnTheDemo(t *testing.T) {
	t.Parallel()
	dir := hilltop(t)
	before := projecttest.Read(t, dir)

	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code)
	assert.Contains(t, check.out, "src/components/SkyPanel.tsx")
	assert.Contains(t, check.out, "src/panels/sky/SkyPanel.tsx")
	assert.Contains(t, check.out, "crooked.yaml:40")

	plan := run(t, dir, "plan")
	assert.Equal(t, 0, plan.code, plan.err)
	assert.Contains(t, plan.out, "69 moves in 25 steps, 98 rewrites in 48 files, 1 file written, 1 file removed; proved.")
	assert.Equal(t, before, projecttest.Read(t, dir), "check and plan change nothing")

	done := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 0, done.code, done.err)
	assert.Contains(t, done.out, "Moved 69 files")

	again := run(t, dir, "check")
	assert.Equal(t, 1, again.code, again.out)
	var left []string
	for line := range strings.Lines(run(t, dir, "check", "--format", "lines").out) {
		left = append(left, strings.Split(line, ": ")[1])
	}
	assert.Equal(t, []string{"homeless", "misspelled", "missing", "overreach", "loop", "dangling", "dangling", "mislabelled",
		"leftover", "thick", "exposed", "stranded", "unseen", "outdated"}, left, "what only people can set right, or --rename")
	assert.Contains(t, run(t, dir, "plan").out, "No moves; 1 file has no shelf: see crooked check.")
	assert.Contains(t, run(t, dir, "plan", "--rename").out, "src/types/SeeingReport.ts -> src/types/seeing-report.ts")

	undo := run(t, dir, "undo")
	assert.Equal(t, 0, undo.code, undo.err)
	assert.Equal(t, before, projecttest.Read(t, dir))
	assert.Contains(t, run(t, dir, "undo").out, "nothing to undo")
}

// What the program says depends neither on the order in which files came to the disk nor on the number of cores.
func TestTheSameOnAnyDiskAndAnyCores(t *testing.T) {
	source := hilltop(t)
	var files []string
	require.NoError(t, filepath.WalkDir(source, func(p string, d fs.DirEntry, err error) error {
		if err == nil && d.Type().IsRegular() {
			files = append(files, p)
		}
		return err
	}))
	copied := func(order func(files []string)) string {
		dir, files := t.TempDir(), slices.Clone(files)
		order(files)
		for _, p := range files {
			rel, err := filepath.Rel(source, p)
			require.NoError(t, err)
			content, err := os.ReadFile(p)
			require.NoError(t, err)
			require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, rel)), 0o755))
			require.NoError(t, os.WriteFile(filepath.Join(dir, rel), content, 0o644))
		}
		return dir
	}
	random := rand.New(rand.NewPCG(1, 2))
	reversed := copied(slices.Reverse[[]string])
	mixed := copied(func(files []string) {
		random.Shuffle(len(files), func(i, j int) { files[i], files[j] = files[j], files[i] })
	})
	for _, args := range [][]string{
		{"check", "--all"}, {"check", "--format", "json"}, {"plan", "--all"}, {"plan", "--patch"},
		{"plan", "--format", "json"}, {"survey", "--all"}, {"survey", "--draft"}, {"why", "src/utils/dates.ts"},
	} {
		want := run(t, source, args...)
		require.NotEmpty(t, want.out, args)
		for _, dir := range []string{reversed, mixed} {
			assert.Equal(t, want, run(t, dir, args...), "%v", args)
			assert.Equal(t, want, runWith(t, dir, []string{"GOMAXPROCS=1"}, args...), "%v on one core", args)
		}
	}
	for _, dir := range []string{source, reversed, mixed} {
		require.Equal(t, 0, run(t, dir, "straighten", "--yes", "--partial").code)
		require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked"))) // it knows times and inodes
	}
	assert.Equal(t, projecttest.Read(t, source), projecttest.Read(t, reversed))
	assert.Equal(t, projecttest.Read(t, source), projecttest.Read(t, mixed))
}

func TestDemoCommand(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "hill")
	short := run(t, ".", "demo")
	assert.Equal(t, 0, short.code, short.err)
	assert.Less(t, strings.Count(short.out, "\n"), 560)
	assert.Contains(t, short.out, " more lines\n")
	assert.Regexp(t, `That was the story: 61 commands on 11 projects, in [\d.]+ s\. 2\d\d files moved`, short.out)
	told := run(t, ".", "demo", "--whole", dir)
	assert.Equal(t, 0, told.code, told.err)
	for _, part := range []string{"$ crooked survey --depth 1", "$ crooked check",
		"$ crooked why src/components/SkyPanel.tsx", "$ crooked plan", "$ crooked straighten", "$ crooked undo",
		"All straight.", dir,
		"$ crooked adopt by-feature --to by-feature.yaml",
		"$ crooked straighten --yes --dirty --convention by-module.yaml", "export * from './pages/SkyPage'"} {
		assert.Contains(t, told.out, part)
	}
	files := 0
	require.NoError(t, fs.WalkDir(demo.Hilltop(), ".", func(p string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			files++
			want, _ := fs.ReadFile(demo.Hilltop(), p)
			got, err := os.ReadFile(filepath.Join(dir, p))
			assert.NoError(t, err)
			assert.Equal(t, string(want), string(got), p)
		}
		return err
	}))
	assert.GreaterOrEqual(t, files, 60)
	again := run(t, ".", "demo", dir)
	assert.Equal(t, 2, again.code)
	assert.Contains(t, again.err, "is not empty")
}

func TestJSON(t *testing.T) {
	t.Parallel()
	dir := hilltop(t)
	var check struct {
		Files    int
		Findings []struct {
			Rule, Path, Shelf, Home, Reason string
			Line                            int
		}
	}
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "check", "--format", "json").out), &check))
	assert.Equal(t, 84, check.Files)
	require.Len(t, check.Findings, 91)
	met := map[string]bool{}
	for _, found := range check.Findings {
		met[found.Rule] = true
	}
	for _, rule := range finding.Rules() {
		if rule.ID == finding.Spare || rule.ID == finding.Borrowed { // TestDependencies shows them
			continue
		}
		assert.True(t, met[rule.ID] || rule.ID == finding.Leftover,
			"the demo shows %s; leftovers show after a straighten", rule.ID)
	}
	assert.Equal(t, "misplaced", check.Findings[0].Rule)
	assert.Positive(t, check.Findings[0].Line)

	var plan struct {
		Plan  int
		Steps []struct {
			Moves []struct{ From, To, SHA256 string }
		}
		Edits []struct{ Changes []struct{ Old, New string } }
	}
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "plan", "--format", "json").out), &plan))
	assert.Equal(t, 1, plan.Plan)
	assert.Len(t, plan.Edits, 48)
	assert.Len(t, plan.Steps[0].Moves[0].SHA256, 64)

	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "straighten", "--yes", "--format", "json").out), &plan))
	var undo struct{ Files int }
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "undo", "--format", "json").out), &undo))
	assert.Equal(t, 85, undo.Files)
	assert.Contains(t, run(t, dir, "version", "--format", "json").out, `"version"`)
}

func TestStoredPlan(t *testing.T) {
	t.Parallel()
	dir := hilltop(t)
	file := filepath.Join(t.TempDir(), "plan.json")
	made := run(t, dir, "plan", "-o", file)
	assert.Equal(t, 0, made.code, made.err)
	assert.Contains(t, made.out, "Written to "+file)
	main := filepath.Join(dir, "src/main.tsx")
	text, err := os.ReadFile(main)
	require.NoError(t, err)

	require.NoError(t, os.WriteFile(main, append(text, '\n'), 0o644))
	stale := run(t, dir, "straighten", "--yes", "--plan", file)
	assert.Equal(t, 0, stale.code, "main.tsx is not touched by the plan: http is an alias, and the style sheet stays")

	require.Equal(t, 0, run(t, dir, "undo").code)
	app := filepath.Join(dir, "src/App.tsx")
	require.NoError(t, os.WriteFile(app, []byte("export {}\n"), 0o644))
	stale = run(t, dir, "straighten", "--yes", "--plan", file)
	assert.Equal(t, 3, stale.code)
	assert.Contains(t, stale.err, "src/App.tsx has changed")

	convention := filepath.Join(dir, "crooked.yaml")
	yaml, err := os.ReadFile(convention)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(convention, append(yaml, "# more\n"...), 0o644))
	assert.Contains(t, run(t, dir, "straighten", "--yes", "--plan", file).err, "crooked.yaml has changed")
	assert.Equal(t, 2, run(t, dir, "straighten", "--yes", "--plan", convention).code)
}

func TestPatchGivesTheSameTree(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed, so the patch can't be applied")
	}
	odd := small(t, tools+"-- src/helpers/with blank.ts --\nimport \"../utils/dates\"\r\nno end of line\n"+
		"-- src/helpers/\"quoted\"\tü.ts --\nexport {}\n")
	require.NoError(t, os.WriteFile(filepath.Join(odd, "src/helpers/last.ts"),
		[]byte("import '../utils/dates'; import '../main'"), 0o644))
	require.NoError(t, os.Chmod(filepath.Join(odd, "src/helpers/last.ts"), 0o755))
	for name, dir := range map[string]string{"demo": hilltop(t), "odd names": odd, "service": bookings(t),
		"packages": small(t, strings.Replace(packages, "rates, slots", "rates", 1))} {
		t.Run(name, func(t *testing.T) {
			patch := filepath.Join(t.TempDir(), "moves.patch")
			require.Equal(t, 0, run(t, dir, "plan", "--patch", "-o", patch).code)
			copied := filepath.Join(t.TempDir(), "copy")
			require.NoError(t, os.CopyFS(copied, os.DirFS(dir)))
			git(t, copied, "init", "-q")
			git(t, copied, "apply", "--whitespace=nowarn", patch)
			require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
			assert.Equal(t, projecttest.Read(t, dir), projecttest.Read(t, copied))
		})
	}
}

func TestStraightenAsksOrNeedsYes(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	without := run(t, dir, "straighten")
	assert.Equal(t, 2, without.code)
	assert.Contains(t, without.err, "straighten needs --yes")
	assert.NoFileExists(t, filepath.Join(dir, "src/tools/dates.ts"))
}

func TestBlockedNeedsPartial(t *testing.T) {
	t.Parallel()
	dir := small(t, tools+"-- src/helpers/dates.ts --\nexport {}\n-- src/utils/free.ts --\nexport {}\n")
	plan := run(t, dir, "plan")
	assert.Equal(t, 1, plan.code)
	assert.Contains(t, plan.out, "blocked 2")
	assert.Contains(t, plan.out, "src/utils/dates.ts would go to the same place")
	refused := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 1, refused.code)
	assert.Contains(t, refused.err, "--partial carries out the other 1")
	assert.NoFileExists(t, filepath.Join(dir, "src/tools/free.ts"))
	partial := run(t, dir, "straighten", "--yes", "--partial")
	assert.Equal(t, 1, partial.code, "something stays crooked")
	assert.FileExists(t, filepath.Join(dir, "src/tools/free.ts"))
	assert.FileExists(t, filepath.Join(dir, "src/utils/dates.ts"))
}

func TestUncommittedChanges(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed")
	}
	dir := small(t, tools+"-- src/other.ts --\n")
	git(t, dir, "init", "-q")
	git(t, dir, "add", ".")
	git(t, dir, "commit", "-qm", "first")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/other.ts"), []byte("// not touched by the plan\n"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils/dates.ts"), []byte("export const dirty = 1\n"),
		0o644))
	refused := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 3, refused.code)
	assert.Contains(t, refused.err,
		"1 file to be touched has uncommitted changes; commit them, or say --dirty:\n  src/utils/dates.ts")
	assert.Equal(t, 0, run(t, dir, "straighten", "--yes", "--dirty").code)
	assert.Equal(t, "?? src/tools/\n", git(t, dir, "status", "--porcelain", "src/tools"),
		"the journal is not seen by git, the moves are")
	assert.Empty(t, git(t, dir, "status", "--porcelain", ".crooked"))
}

// restate gives the last record of a journal another state, as a program that was stopped leaves it, with the user's
// own mark. It is written from docs/formats.md.
func restate(t *testing.T, dir, state string) {
	t.Helper()
	records, err := filepath.Glob(filepath.Join(dir, ".crooked/journal/0*"))
	require.NoError(t, err)
	require.NotEmpty(t, records)
	record, err := os.ReadFile(filepath.Join(records[len(records)-1], "record.json"))
	require.NoError(t, err)
	settings, err := os.UserConfigDir()
	require.NoError(t, err)
	key, err := os.ReadFile(filepath.Join(settings, "crooked", "journal-key"))
	require.NoError(t, err)
	raw, err := hex.DecodeString(strings.TrimSpace(string(key)))
	require.NoError(t, err)
	text := fmt.Sprintf("crooked journal 2\nstate %s\nrecord %x\n", state, sha256.Sum256(record))
	text += fmt.Sprintf("sum %x\n", sha256.Sum256([]byte(text)))
	mark := hmac.New(sha256.New, raw)
	mark.Write([]byte(text))
	require.NoError(t, os.WriteFile(filepath.Join(records[len(records)-1], "state"),
		fmt.Appendf(nil, "%smark %x\n", text, mark.Sum(nil)), 0o600))
}

func TestAStoppedStraightenIsTold(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	require.Equal(t, 0, run(t, dir, "straighten", "--yes").code)
	restate(t, dir, "begun")
	for _, command := range []string{"check", "plan", "straighten"} {
		told := run(t, dir, command)
		assert.Equal(t, 3, told.code, command)
		assert.Contains(t, told.err, "was stopped half way; crooked undo gives the old tree back")
	}
	assert.Equal(t, 0, run(t, dir, "undo").code)
	assert.FileExists(t, filepath.Join(dir, "src/utils/dates.ts"))
}

func TestTheRootIsFoundUpward(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	assert.Equal(t, 1, run(t, filepath.Join(dir, "src", "utils"), "check").code)
	assert.Equal(t, 1, run(t, ".", "check", "--root", dir).code)
	other := small(t, "-- c.yaml --\ncrooked: 1\nleave: { stay: [src/*] }\nshelves: { tools: src/utils/ }\n")
	assert.Equal(t, 0, run(t, dir, "check", "--convention", filepath.Join(other, "c.yaml")).code)
}

func TestColoursAndQuiet(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	assert.NotContains(t, run(t, dir, "check").out, "\x1b", "no colours where there is no terminal")
	quiet := run(t, dir, "check", "--quiet")
	assert.Equal(t, 1, quiet.code)
	assert.Equal(t, "    src/utils/dates.ts -> src/tools/dates.ts  crooked.yaml:3\n", quiet.out)
	assert.Equal(t, 0, run(t, dir, "straighten", "--yes", "-q").code)
	assert.Empty(t, run(t, dir, "check", "-q").out)
}

func TestHelpAndCompletion(t *testing.T) {
	t.Parallel()
	for _, command := range []string{"", "check", "plan", "straighten", "undo", "demo"} {
		args := append(strings.Fields(command), "--help")
		help := run(t, ".", args...)
		assert.Equal(t, 0, help.code)
		assert.Contains(t, help.out, "Examples:", command)
	}
	for _, shell := range []string{"bash", "zsh", "fish", "powershell"} {
		assert.Contains(t, run(t, ".", "completion", shell).out, "crooked", shell)
	}
	assert.Contains(t, run(t, ".", "version").out, "crooked 0.")
}

// Bad input gets a clear message and the right exit code, and changes nothing.
func TestBadInput(t *testing.T) {
	t.Parallel()
	cases := []struct {
		name string
		tree string
		args []string
		code int
		want string // in what is written
	}{
		{"no such command", tools, []string{"chekc"}, 2, `there is no command "chekc"`},
		{"no such flag", tools, []string{"check", "--loud"}, 2, "unknown flag: --loud"},
		{"an argument too many", tools, []string{"check", "src"}, 2, `named by --root: crooked check --root src`},
		{"a format that is none", tools, []string{"check", "--format", "xml"}, 2,
			`--format is text, json, lines, sarif or quality, not "xml"`},
		{"a format that another command has", tools, []string{"plan", "--format", "lines"}, 2,
			`--format is text or json, not "lines"`},
		{"why of nothing", tools, []string{"why"}, 2, "why takes one path"},
		{"why of a folder", tools, []string{"why", "src/utils"}, 2, "src/utils is a folder"},
		{"why of what is outside", tools, []string{"why", "../x"}, 2, "no path of a file below the project's root"},
		{"no such rule", tools, []string{"explain", "misplaecd"}, 2,
			`there is no rule "misplaecd"; the rules are misplaced, homeless, misspelled, missing, unlisted, overreach, backdoor, loop, dangling`},
		{"no such root", tools, []string{"check", "--root", "nowhere"}, 2, "the folder nowhere does not exist"},
		{"a root that is a file", tools, []string{"check", "--root", "crooked.yaml"}, 2, "crooked.yaml is a file"},
		{"no convention", "-- a.ts --\n", []string{"check", "--root", "."}, 2, "there is no convention at"},
		{"no such convention", tools, []string{"check", "--convention", "none.yaml"}, 2,
			"there is no convention at none.yaml"},
		{"a wrong convention", "-- crooked.yaml --\ncrooked: 1\nshelfs: {}\n", []string{"check"}, 2,
			"crooked.yaml:2:1: the convention has no key \"shelfs\" (did you mean shelves?)"},
		{"a plan that is none", tools, []string{"straighten", "--yes", "--plan", "src/main.ts"}, 2, "this is no plan"},
		{"no such plan", tools, []string{"straighten", "--yes", "--plan", "none.json"}, 2, "the plan can't be read"},
		{"an empty project", "-- crooked.yaml --\ncrooked: 1\nshelves: { a: src/ }\n", []string{"check"}, 0,
			"the convention matches nothing here"},
		{"a broken package.json", tools + "-- package.json --\n{ \"name\": }\n", []string{"plan"}, 0,
			"warning: package.json: not valid JSON: line 1, column 11"},
		{"a broken tsconfig", tools + "-- tsconfig.json --\n{ \"compilerOptions\": {\n", []string{"plan"}, 0,
			"warning: tsconfig.json: not valid JSON"},
		{"settings that extend one another", tools +
			"-- tsconfig.json --\n{\"extends\": \"./b.json\"}\n-- b.json --\n{\"extends\": \"./tsconfig.json\"}\n",
			[]string{"plan"}, 0, "extends itself, by way of"},
		{"settings that extend what is outside", tools + "-- tsconfig.json --\n{\"extends\": \"../../x.json\"}\n",
			[]string{"plan"}, 0, "outside of the project and is not read"},
		{"not UTF-8", tools + "-- src/utils/latin.ts --\n// na\xefve \xff\nimport './dates'\n", []string{"plan"}, 0,
			"2 moves"},
		{"a manifest with a syntax error", tools + "-- deploy.yaml --\na: b\n  c: [\n", []string{"plan"}, 0,
			"warning: deploy.yaml: not valid YAML: line 2"},
		{"a component with a broken script", tools +
			"-- src/a.vue --\n<script>import './utils/dates'; const x = {{{ `</script><template><p>\n",
			[]string{"plan"}, 0, "./tools/dates"},
		{"a pattern that matches nothing", tools + "-- src/a.js --\nimport.meta.glob('./none/*.vue')\n",
			[]string{"plan"}, 0, "proved"},
		{"an alias that leaves the root", tools + "-- tsconfig.json --\n" +
			"{\"compilerOptions\": {\"paths\": {\"x/*\": [\"../../y/*\"]}}}\n-- src/a.ts --\nimport 'x/a'\n",
			[]string{"plan"}, 0, "proved"},
		{"style sheets in a circle", tools +
			"-- src/utils/a.scss --\n@use './b';\n-- src/utils/b.scss --\n@use './a';\n", []string{"plan"}, 0,
			"proved"},
		{"a container's file that copies what is not there", tools + "-- Dockerfile --\nFROM x\nCOPY nowhere/ ./\n",
			[]string{"check"}, 1, "Dockerfile:2:6  setting \"nowhere/\" leads nowhere"},
		{"a reference to what git ignores", tools + "-- .gitignore --\n/src/made/\n-- src/made/client.ts --\n" +
			"-- src/a.ts --\nimport './made/client'\nimport './gone'\n", []string{"check"}, 1,
			"src/a.ts:2:9  import \"./gone\" leads nowhere"},
		{"a convention that needs more", "-- crooked.yaml --\ncrooked: 1\n" +
			"needs: [{ package: some-framework, at_least: \"3.12\" }, { package: other }]\nshelves: { a: src/ }\n" +
			"-- package.json --\n{\"dependencies\": {\"some-framework\": \"^3.9.1\"}}\n", []string{"check"}, 3,
			"crooked.yaml line 2: some-framework must be at least 3.12, and a manifest asks for ^3.9.1\n" +
				"  crooked.yaml line 2: nothing asks for other; looked for package.json, go.mod, pyproject.toml"},
		{"an alias whose folder is torn apart", "-- crooked.yaml --\ncrooked: 1\n" +
			"shelves: { a: { at: x/, from: src/one/** }, b: { at: y/, from: src/two/** } }\n-- tsconfig.json --\n" +
			"{\"compilerOptions\": {\"paths\": {\"@/*\": [\"./src/*\"]}}}\n-- src/one/a.ts --\n-- src/two/b.ts --\n",
			[]string{"plan"}, 2,
			`say in the convention what it stands for afterwards: aliases: { "@/*": { then: … } }`},
		{"a manner of likely that is none", tools, []string{"plan", "--likely", "maybe"}, 2,
			`--likely is rewrite, ask or leave, not "maybe"`},
		{"asking without a terminal", tools + "-- src/a.js --\nlog('src/utils/dates.ts')\n",
			[]string{"plan", "--likely", "ask"}, 2, "without a terminal to ask on"},
		{"an entry of mentions that names nothing",
			"-- crooked.yaml --\ncrooked: 1\nmentions: [{ call: render }]\nshelves: { a: src/ }\n", []string{"check"},
			2, "crooked.yaml:2:14: this entry of mentions names no file"},
		{"an alias without its star",
			"-- crooked.yaml --\ncrooked: 1\naliases: { \"@/*\": src/ }\nshelves: { a: src/ }\n", []string{"check"}, 2,
			"the alias @/* and its target src/ do not agree on the *"},
		{"a shelf that moves at once and is none",
			"-- crooked.yaml --\ncrooked: 1\nat_once: [a, b]\nshelves: { a: src/ }\n", []string{"check"}, 2,
			`there is no shelf "b"`},
		{"a shelf that uses none that is there",
			"-- crooked.yaml --\ncrooked: 1\nshelves: { a: { at: src/, uses: [b, c] }, b: lib/ }\n", []string{"check"},
			2, `there is no shelf "c"`},
		{"nothing to keep apart", "-- crooked.yaml --\ncrooked: 1\nshelves: { a: { at: src/, apart: true } }\n",
			[]string{"check"}, 2, "a has one instance alone"},
		{"apart of another kind",
			"-- crooked.yaml --\ncrooked: 1\nshelves: { a: { at: \"src/<x>/\", apart: maybe } }\n", []string{"check"},
			2, "does not say whether the instances are apart"},
		{"names with control characters", tools + "-- src/utils/a\x1b[31mb.ts --\n", []string{"check"}, 1,
			`"src/utils/a\x1b[31mb.ts"`},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			dir := small(t, c.tree)
			before := projecttest.Read(t, dir)
			got := run(t, dir, c.args...)
			assert.Equal(t, c.code, got.code, got.out+got.err)
			assert.Contains(t, got.out+got.err, c.want)
			assert.Equal(t, before, projecttest.Read(t, dir))
		})
	}
}

func TestUnreadableFiles(t *testing.T) {
	t.Parallel()
	if os.Geteuid() == 0 {
		t.Log("as root every file can be read; a link in the file's place stands for an unreadable one")
	}
	dir := small(t, tools)
	require.NoError(t, os.Symlink("main.ts", filepath.Join(dir, "src/utils/link.ts")))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils/shut.ts"), nil, 0o000))
	plan := run(t, dir, "plan")
	assert.Equal(t, 1, plan.code)
	assert.Contains(t, plan.out, "it is a link, and links are not moved")
	if os.Geteuid() != 0 {
		assert.Contains(t, plan.out, "src/utils/shut.ts can't be read: permission denied")
	}
}

func TestALargeMinifiedFile(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	var big bytes.Buffer
	big.WriteString("import'./dates';")
	for i := range 600_000 {
		fmt.Fprintf(&big, "function f%d(a){return a/2+/[/]x/.test(`${a}`)?%d:\"'\"}", i, i)
	}
	require.Greater(t, big.Len(), 30<<20)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils/bundle.js"), big.Bytes(), 0o644))
	plan := run(t, dir, "plan")
	assert.Equal(t, 0, plan.code, plan.err)
	assert.Contains(t, plan.out, "src/tools/bundle.js")
}
