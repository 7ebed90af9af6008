//go:build linux

package cli_test

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// within runs the program with a bound on its time; a run that is too long fails the test.
func within(t *testing.T, dir string, most time.Duration, args ...string) outcome {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), most)
	defer cancel()
	cmd := exec.CommandContext(ctx, program, args...)
	cmd.Dir = dir
	var out, errs strings.Builder
	cmd.Stdout, cmd.Stderr = &out, &errs
	_ = cmd.Run()
	require.NoError(t, ctx.Err(), "%v takes longer than %s", args, most)
	return outcome{out.String(), errs.String(), cmd.ProcessState.ExitCode()}
}

// What is read beside the tree is a pipe, a device, a link to a secret, a folder or a file of 3 GB: no command hangs,
// none reads it, and none quotes it.
func TestSpecialFilesInPlaces(t *testing.T) {
	t.Parallel()
	const secret = "SECRET: [of somebody"
	outside := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(outside, []byte(secret), 0o644))
	kinds := map[string]func(p string) error{
		"pipe":   func(p string) error { return syscall.Mkfifo(p, 0o644) },
		"link":   func(p string) error { return os.Symlink(outside, p) },
		"folder": func(p string) error { return os.Mkdir(p, 0o755) },
		"huge": func(p string) error {
			if err := os.WriteFile(p, []byte("SECRET"), 0o644); err != nil {
				return err
			}
			return os.Truncate(p, 3<<30)
		},
		"socket": func(p string) error {
			fd, err := syscall.Socket(syscall.AF_UNIX, syscall.SOCK_STREAM, 0)
			if err != nil {
				return err
			}
			defer syscall.Close(fd)
			return syscall.Bind(fd, &syscall.SockaddrUnix{Name: p})
		},
	}
	if os.Geteuid() == 0 {
		kinds["device"] = func(p string) error { return syscall.Mknod(p, syscall.S_IFCHR|0o666, 1<<8|5) } // /dev/zero
	}
	places := []string{
		"crooked.yaml", ".git", ".git/config", ".git/index", ".git/HEAD", ".git/info/exclude", ".git/commondir",
		".gitignore", "mine/ignore", ".crooked", ".crooked/lock", ".crooked/holder",
		".crooked/journal", ".crooked/.gitignore", "tsconfig.json", "package.json", "src/utils/dates.ts",
		"node_modules", "src/crooked.yaml",
	}
	commands := [][]string{{"check"}, {"check", "--since", "HEAD"}, {"survey"}, {"why", "src/utils/dates.ts"}, {"plan"},
		{"straighten", "--yes"}, {"undo"}, {"undo", "--list"}, {"undo", "--verify"}}
	runs := 0
	for kind, lay := range kinds {
		for _, place := range places {
			dir := t.TempDir()
			if short, err := os.MkdirTemp("", "s"); kind == "socket" && err == nil { // the name of a socket is short
				dir = short
				defer os.RemoveAll(short)
			}
			projecttest.Write(t, dir, twoSteps)
			git(t, dir, "init", "-q")
			git(t, dir, "config", "core.excludesFile", "mine/ignore")
			git(t, dir, "add", ".")
			git(t, dir, "commit", "-qm", "first")
			p := filepath.Join(dir, place)
			require.NoError(t, os.RemoveAll(p))
			require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
			require.NoError(t, lay(p))
			for _, command := range commands {
				got := within(t, dir, 20*time.Second, command...)
				runs++
				assert.NotContains(t, got.out+got.err, "SECRET", "%s as a %s, %v", place, kind, command)
				assert.NotContains(t, got.err, "panic", "%s as a %s, %v", place, kind, command)
				if kind == "huge" && place == "src/utils/dates.ts" {
					break // a large file is a file
				}
			}
		}
	}
	t.Logf("%d runs", runs)
	dir := small(t, twoSteps)
	require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "crooked.yaml")))
	linked := run(t, dir, "check")
	assert.Equal(t, 2, linked.code)
	assert.Contains(t, linked.err,
		"the convention crooked.yaml can't be read: it is a link, and links are not followed")
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "plan.json")))
	require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
	projecttest.Write(t, dir, twoSteps)
	written := run(t, dir, "plan", "-o", "plan.json")
	assert.Equal(t, 3, written.code)
	assert.Contains(t, written.err, "is a link, and links are not followed")
	kept, err := os.ReadFile(outside)
	require.NoError(t, err)
	assert.Equal(t, secret, string(kept))
}

// shows fails if a text has a character that a terminal obeys, that turns the direction of what follows or that is not
// seen.
func shows(t *testing.T, what, text string, json bool) {
	t.Helper()
	assert.True(t, utf8.ValidString(text), what)
	for _, r := range text {
		if r == '\n' || r == '\t' && !json {
			continue
		}
		require.False(t, unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || r == '\u2028' || r == '\u2029',
			"%s shows %U", what, r)
	}
}

// Names with characters that a terminal obeys, that turn the direction or that are not seen come out escaped, wherever
// they are named.
func TestControlCharacters(t *testing.T) {
	t.Parallel()
	for i, evil := range []string{"\x1b[31m", "\x07\x08", "\x7f", "\u0085\u009b31m", "\u202egnp", "\u2066x\u2069",
		"\u200b\u200d\ufeff", "a\nb\rc", "\u2028", "\U000E0041", "\xff\xfe"} {
		dir := small(t, strings.ReplaceAll(twoSteps, "title", "title")+
			"-- src/utils/plain.ts --\nimport './gone'\n-- src/components/one/x.ts --\n-- tsconfig.json --\n"+
			"{ \"extends\": \"./gone\" }\n")
		name := "n" + evil + "x.ts"
		require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils", name),
			[]byte("import './lost"+strings.ReplaceAll(evil, "\n", "")+"'\n"), 0o644))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), nil, 0o644))
		require.NoError(t, os.Mkdir(filepath.Join(dir, "f"+evil), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, "f"+evil, "x.ts"), nil, 0o644))
		stored := filepath.Join(t.TempDir(), "plan.json")
		require.NotEqual(t, 3, run(t, dir, "plan", "-o", stored).code)
		for _, command := range [][]string{
			{"check"}, {"check", "--format", "lines"}, {"check", "--format", "json"}, {"check", "--format", "sarif"},
			{"survey"}, {"survey", "--format", "json"}, {"survey", "--draft"},
			{"plan"}, {"plan", "--format", "json"}, {"why", "src/utils/" + name},
			{"why", "src/utils/" + name, "--format", "json"}, {"why", evil}, {"check", "--root", evil},
			{"check", "--root", "f" + evil},
			{"straighten", "--plan", evil}, {"check", "--convention", evil}, {"check", "--baseline", evil},
			{"check", "--today", evil}, {"plan", "--only", evil}, {"plan", "--likely", evil}, {"adopt", evil},
			{"explain", evil}, {evil}, {"check", "--format", evil},
			{"check", "--" + evil}, {"check", evil}, {"check", "--since", evil}, {"undo", "--extract", evil},
			{"adopt", "layered", "--to", "f" + evil + "/new.yaml"}, {"straighten", "--yes", "--verify-with", "echo '" +
				evil + "'; false"},
			{}, {"map"}, {"map", "--format", "json"}, {"map", "-o", evil}, {"check", "--format", "quality"}, {"remove", evil},
			{"move", evil, "x/"}, {"move", "src/utils/" + name, "f" + evil + "/"}, {"move", "--already", evil, "x"},
			{"move", "src/utils/" + name, "lib/", "--format", "json", "--yes"}, {"undo"},
			{"straighten", "--yes"}, {"undo", "--list"}, {"undo", "--list", "--format", "json"}, {"undo", "--verify"},
			{"undo"},
		} {
			got := run(t, dir, command...)
			json := strings.Contains(strings.Join(command, " "), "--format json") ||
				strings.Contains(strings.Join(command, " "), "sarif") ||
				strings.Contains(strings.Join(command, " "), "quality")
			shows(t, fmt.Sprintf("%d: %q", i, command), got.out, json)
			shows(t, fmt.Sprintf("%d: the errors of %q", i, command), got.err, false)
		}
		require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils", name), []byte("// changed\n"), 0o644))
		stale := run(t, dir, "straighten", "--yes", "--plan", stored)
		assert.Equal(t, 3, stale.code)
		shows(t, "a stale plan", stale.err, false)
		require.NoError(t, os.Mkdir(filepath.Join(dir, "src/tools"), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, "src/tools", name), nil, 0o644))
		shows(t, "something stands there", run(t, dir, "straighten", "--yes", "--partial").err, false)
	}
}

// Files that would take a reader time or memory beyond all measure, each as large as hundreds of kilobytes, end within
// seconds; where a limit is met it is reported.
func TestNothingExplodes(t *testing.T) {
	many := func(n int, text string) string { return strings.Repeat(text, n) }
	chain := "-- tsconfig.json --\n{\"extends\":[\"./t0.json\",\"./t0.json\"]}\n-- t40.json --\n{}\n"
	for i := range 40 {
		chain += fmt.Sprintf("-- t%d.json --\n{\"extends\":[\"./t%d.json\",\"./t%d.json\"]}\n", i, i+1, i+1)
	}
	long := "-- tsconfig.json --\n{\"extends\":\"./t0.json\"}\n"
	for i := range 150 {
		long += fmt.Sprintf("-- t%d.json --\n{\"extends\":\"./t%d.json\"}\n", i, i+1)
	}
	var globs, rules, tree, keys strings.Builder
	for i := range 40_000 {
		fmt.Fprintf(&keys, "k%d = 'v'\n", i)
	}
	globs.WriteString(many(200, many(12, "**/a/")+"b\n"))
	for i := range 300_000 {
		fmt.Fprintf(&rules, "a%d\n", i)
		if i < 5000 {
			fmt.Fprintf(&globs, "a%d*b\n", i)
		}
		if i < 3000 {
			fmt.Fprintf(&tree, "-- d%d/a/b/a/c/f%d.ts --\n", i%50, i)
		}
	}
	deep := "-- " + many(2500, "d/") + "x.ts --\n"
	for name, c := range map[string]struct{ text, says string }{
		"extends, doubled 40 times":  {chain, ""},
		"extends, through 150 files": {long, "is extended by way of 100 files"},
		"a TOML key of 40 KB": {"-- pyproject.toml --\na" + many(20_000, ".a") + " = 1\n",
			"a key of more than 200 parts"},
		"a TOML table of quoted parts": {"-- pyproject.toml --\n[" + many(20_000, `"a" . `) + "a]\n",
			"a key of more than 200 parts"},
		"brackets of Markdown":            {"-- README.md --\n" + many(100_000, "[a](") + "\n", ""},
		"angles of Markdown":              {"-- README.md --\n" + many(100_000, "](<") + "\n", ""},
		"@import ( of Less":               {"-- src/a.less --\n" + many(100_000, "@import (") + "\n", ""},
		"@use with ( of SCSS":             {"-- src/a.scss --\n" + many(60_000, "@use 'x' with (") + "\n", ""},
		"2,500 folders, one in the other": {deep, "deeper than 256 folders"},
		"200 rules of 24 stars, and 5,000": {"-- .gitignore --\n" + globs.String() + tree.String(),
			"of its rules are not read"},
		"300,000 rules":       {"-- .gitignore --\n" + rules.String() + tree.String(), ""},
		"40,000 keys of TOML": {"-- a.toml --\n" + keys.String(), ""},
		"template code that is not closed": {"-- a.ejs --\n" + many(100_000, "<%- include('") + "\n-- a.njk --\n" +
			many(100_000, "{% include 'a' ") + "\n", ""},
		"40,000 references in one line": {"-- a.json --\n[\"" + many(40_000, "./src/utils/dates.ts\", \"") + "\"]\n",
			""},
		"200,000 words in one line": {"-- Dockerfile --\nCOPY " + many(200_000, "a ") + "\n", ""},
	} {
		t.Run(name, func(t *testing.T) {
			dir := t.TempDir()
			text, inDeep := c.text, ""
			if strings.HasPrefix(text, "-- d/") {
				text, inDeep = "", text
			}
			projecttest.Write(t, dir, tools+text)
			if inDeep != "" { // no system makes such a path at once
				at, err := syscall.Open(dir, syscall.O_DIRECTORY, 0)
				require.NoError(t, err)
				for range 2500 {
					require.NoError(t, syscall.Mkdirat(at, "d", 0o755))
					next, err := syscall.Openat(at, "d", syscall.O_DIRECTORY, 0)
					require.NoError(t, err)
					syscall.Close(at)
					at = next
				}
				syscall.Close(at)
				defer func() { require.NoError(t, exec.Command("rm", "-rf", filepath.Join(dir, "d")).Run()) }()
			}
			for _, command := range [][]string{{"check"}, {"survey"}, {"plan", "--likely", "rewrite"}} {
				start := time.Now()
				cmd := exec.Command(program, command...)
				cmd.Dir = dir
				out, _ := cmd.CombinedOutput()
				took := time.Since(start)
				assert.Less(t, took, 15*time.Second, command)
				usage, ok := cmd.ProcessState.SysUsage().(*syscall.Rusage)
				require.True(t, ok)
				assert.Less(t, usage.Maxrss, int64(400<<10), "KB of memory, %v", command)
				if c.says != "" && command[0] != "plan" {
					assert.Contains(t, string(out), c.says, command)
				}
			}
		})
	}
}

// A link or a file of that name is as little a part of the project as the folder is.
func TestNodeModulesOfEveryKind(t *testing.T) {
	t.Parallel()
	for kind, lay := range map[string]func(p string) error{
		"folder": func(p string) error { return os.Mkdir(p, 0o755) },
		"link":   func(p string) error { return os.Symlink("/nowhere", p) },
		"file":   func(p string) error { return os.WriteFile(p, nil, 0o644) },
	} {
		dir := small(t, twoSteps)
		require.NoError(t, lay(filepath.Join(dir, "node_modules")))
		require.NoError(t, os.Mkdir(filepath.Join(dir, "src/utils/pkg"), 0o755))
		require.NoError(t, lay(filepath.Join(dir, "src/utils/pkg/node_modules")))
		assert.NotContains(t, run(t, dir, "check").out, "node_modules", kind)
	}
}

// New files and folders have the permissions that the user's mask gives.
func TestUmask(t *testing.T) {
	t.Parallel()
	dir := small(t, crowded())
	cmd := exec.Command("sh", "-c", "umask 027; $CROOKED straighten --yes -q && $CROOKED plan -q -o plan.json")
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "CROOKED="+program)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	for p, want := range map[string]os.FileMode{"src/parts": 0o750, "src/parts/g1": 0o750,
		"src/parts/g1/index.ts": 0o640, "plan.json": 0o640} {
		info, err := os.Stat(filepath.Join(dir, p))
		require.NoError(t, err)
		assert.Equal(t, want, info.Mode().Perm(), p)
	}
}

func TestWhatIsNoCommand(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	for _, wrong := range [][]string{{"help", "nope"}, {"completion", "nope"}, {"nope"}, {"help", "check", "nope"}} {
		got := run(t, dir, wrong...)
		assert.Equal(t, 2, got.code, wrong)
		assert.Contains(t, got.err, "nope", wrong)
	}
	for _, right := range [][]string{{"help"}, {"help", "check"}, {"completion"}, {"completion", "bash"},
		{"help", "completion", "zsh"}} {
		assert.Equal(t, 0, run(t, dir, right...).code, right)
	}
}

// JSON that was written is JSON to everybody.
func TestJSONOfOddNames(t *testing.T) {
	t.Parallel()
	dir := small(t, tools)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "src/utils/\xff\u202e.ts"), nil, 0o644))
	for _, command := range [][]string{{"check", "--format", "json"}, {"check", "--format", "sarif"},
		{"survey", "--format", "json"}, {"plan", "--format", "json"}} {
		var any map[string]any
		assert.NoError(t, json.Unmarshal([]byte(run(t, dir, command...).out), &any), command)
	}
}
