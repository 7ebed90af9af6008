//go:build unix

package cli_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// hostile lays out a project that is meant to do harm, and gives what lies outside of it and must not be touched.
func hostile(t *testing.T) (dir, outside string) {
	t.Helper()
	outside = t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(outside, "secret.ts"), []byte("export const secret = 1\n"), 0o644))
	deep := strings.Repeat("[", 200_000)
	bomb := "a: &a [x, x, x, x, x, x, x, x, x]\n"
	for c := 'b'; c < 'k'; c++ {
		bomb += fmt.Sprintf("%c: &%c [%s]\n", c, c, strings.TrimSuffix(strings.Repeat(fmt.Sprintf("*%c, ", c-1), 9),
			", "))
	}
	dir = t.TempDir()
	projecttest.Write(t, dir, `-- crooked.yaml --
crooked: 1
leave: { stay: [src/*] }
mentions: [{ call: [render, eval, constructor, __proto__], like: <a>/<b>/<c>/<d>, file: src/<a>/<b>/<c>/<d>.pug }]
shelves: { tools: { at: src/tools/, from: src/utils/** }, python: { at: moved/, from: [pkg/**] } }
-- src/main.ts --
import './utils/dates'
import '../../../../../../etc/passwd'
import './out/secret'
import './loop/loop/loop/x'
-- src/utils/dates.ts --
import '../main'
render('`+strings.Repeat("a/", 3000)+`')
-- tsconfig.json --
{ "extends": ["../../../../../../etc/passwd", "./a.json"], "compilerOptions": { "rootDirs": ["../..", "/"], "paths": { "*": ["../../*", "/etc/*"], "`+strings.Repeat("*", 500)+`": ["x"] } }, "include": ["../../**/*", "/**"] }
-- a.json --
{ "extends": "./tsconfig.json" }
-- package.json --
{ "name": "x", "main": "../../../etc/passwd", "workspaces": ["../*", "/*", "**"], "imports": { "#a": "../../x.js" }, "exports": { ".": { "a": { "b": "./`+strings.Repeat("../", 50)+`x" } } } }
-- bomb.yaml --
`+bomb+`
-- open.ts --
`+strings.Repeat("`${", 50_000)+`
-- tags.tsx --
`+strings.Repeat("<a>{", 50_000)+`
-- generics.ts --
`+strings.Repeat("a<", 100_000)+`
-- pkg/__init__.py --
from pkg.a import *
-- pkg/a.py --
from pkg import *
from ................................................................ import x
-- deep.py --
import pkg.a
x = `+strings.Repeat("(", 200_000)+`
-- lambdas.py --
import pkg.a
`+strings.Repeat("lambda x=", 50_000)+strings.Repeat("lambda:", 50_000)+`
`+strings.Repeat("else:", 50_000)+`
-- formatted.py --
import pkg.a
`+strings.Repeat("f'{", 50_000)+`
`+strings.Repeat("dirname(", 50_000)+"__file__"+strings.Repeat(")", 50_000)+`
-- defs.py --
import pkg.a
`+strings.Repeat("def f(): ", 50_000)+`
`+strings.Repeat("a.b:", 50_000)+`
-- comment.css --
/* `+strings.Repeat("@import 'x'; url(", 20_000)+`
-- long.ts --
import '`+strings.Repeat("x", 500_000)+`'
`)
	for name, content := range map[string]string{
		"deep.json": deep, "deep.yaml": deep, "deep.toml": "a = " + deep, "deep.xml": strings.Repeat("<a>", 100_000),
		"deep.jsonc": "/* x */" + deep,
		"utf16.ts":   "\xff\xfei\x00m\x00p\x00o\x00r\x00t\x00", "latin1.ts": "import './\xe9'\n",
		"zero.ts": "import './\x00'\n", "empty.json": "",
		"bad\x1b[31m\x07\nname.ts": "import './gone\x1b[31m'\n",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(content), 0o644))
	}
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "src/out")))
	require.NoError(t, os.Symlink(".", filepath.Join(dir, "src/loop")))
	require.NoError(t, os.Symlink(filepath.Join(outside, "secret.ts"), filepath.Join(dir, "src/utils/link.ts")))
	require.NoError(t, os.Symlink("a-link", filepath.Join(dir, "a-link")))
	require.NoError(t, syscall.Mkfifo(filepath.Join(dir, "src/utils/pipe.ts"), 0o644))
	require.NoError(t, os.Truncate(createFile(t, filepath.Join(dir, "src/utils/huge.ts")), 2<<30))
	require.NoError(t, os.Truncate(createFile(t, filepath.Join(dir, "huge.json")), 2<<30))
	many := filepath.Join(dir, "many")
	require.NoError(t, os.Mkdir(many, 0o755))
	for i := range 20_000 {
		require.NoError(t, os.WriteFile(filepath.Join(many, fmt.Sprint(i)), nil, 0o644))
	}
	if _, err := exec.LookPath("git"); err == nil {
		git(t, dir, "init", "-q")
		mark := filepath.Join(outside, "ran")
		for _, setting := range []string{"core.fsmonitor", "core.hooksPath", "diff.external", "core.pager",
			"core.editor", "core.sshCommand", "filter.x.clean", "filter.x.smudge", "filter.x.process", "core.askPass",
			"gpg.program", "core.alternateRefsCommand"} {
			git(t, dir, "config", setting, "touch "+mark+"; false")
		}
		require.NoError(t, os.WriteFile(filepath.Join(dir, ".gitattributes"), []byte("* filter=x diff=x\n"), 0o644))
	}
	return dir, outside
}

func createFile(t *testing.T, p string) string {
	t.Helper()
	require.NoError(t, os.WriteFile(p, nil, 0o644))
	return p
}

// hostileCommands are run on it one after the other.
var hostileCommands = [][]string{
	{"survey"}, {"survey", "--draft"}, {"survey", "--format", "json"}, {"check"}, {"check", "--format", "sarif"},
	{"check", "--since", "HEAD"}, {"why", "src/utils/dates.ts"}, {"why", "../../etc/passwd"}, {"plan"},
	{"plan", "--patch", "--likely", "rewrite"},
	{"adopt", "by-feature", "--to", "new.yaml"}, {"straighten", "--yes", "--partial"},
	{"straighten", "--yes", "--partial", "--dirty"}, {"undo", "--list"}, {"undo"}, {"check"},
	{}, {"map"}, {"map", "--before", "--format", "json"}, {"check", "--staged"}, {"check", "--format", "quality"},
	{"move", "src/utils/dates.ts", "elsewhere/", "--yes", "--dirty"}, {"undo"}, {"move", "src", "../outside", "--yes"},
	{"move", "src", "deep/down/", "--yes", "--dirty", "--partial"}, {"undo"}, {"move", "--already", "src/gone.ts", "src/utils/", "--yes"},
}

// traced are the calls by which a program could do harm: start another, or write.
const traced = "execve,execveat,openat,creat,rename,renameat,renameat2,unlink,unlinkat,mkdir,mkdirat,symlink,symlinkat,link,linkat,truncate,chmod,fchmodat,chown,fchownat,mknod,mknodat"

// No command starts a program of the project's or writes outside of it, hangs, or needs much memory; and names are fit
// for a terminal.
func TestHostileProject(t *testing.T) {
	t.Parallel()
	dir, outside := hostile(t)
	before := projecttest.Read(t, outside)
	strace, err := exec.LookPath("strace")
	if err != nil && os.Getenv("CI") != "" {
		t.Fatal("strace is not installed")
	}
	gitPath, _ := exec.LookPath("git")
	for _, args := range hostileCommands {
		t.Run(strings.Join(args, " "), func(t *testing.T) {
			log := filepath.Join(t.TempDir(), "trace")
			command := append([]string{program}, args...)
			if strace != "" {
				command = append([]string{strace, "-f", "-y", "-qq", "-s", "4096", "-e", "trace=" + traced, "-o", log},
					command...)
			}
			ctx, cancel := context.WithTimeout(context.Background(), 2*time.Minute)
			defer cancel()
			cmd := exec.CommandContext(ctx, command[0], command[1:]...)
			cmd.Dir = dir
			var out bytes.Buffer
			cmd.Stdout, cmd.Stderr = &out, &out
			err := cmd.Run()
			require.NoError(t, ctx.Err(), "it hangs")
			var failed *exec.ExitError
			if err != nil {
				require.ErrorAs(t, err, &failed)
				assert.Contains(t, []int{1, 2, 3}, failed.ExitCode(), "%s\n%.2000s", failed, out.String())
			}
			assert.NotContains(t, out.String(), "panic")
			assert.NotContains(t, out.String(), "\x1b[31m", "names are escaped")
			usage, ok := cmd.ProcessState.SysUsage().(*syscall.Rusage)
			if ok && strace == "" {
				assert.Less(t, usage.Maxrss, int64(600<<10), "KB of memory")
			}
			if strace != "" {
				harmless(t, log, dir, gitPath)
			}
			assert.Equal(t, before, projecttest.Read(t, outside))
		})
	}
}

var (
	called  = regexp.MustCompile(`^\d+ +(\w+)\((.*)`)
	quoted  = regexp.MustCompile(`"((?:[^"\\]|\\.)*)"`)
	flagged = regexp.MustCompile(`O_WRONLY|O_RDWR|O_CREAT|O_TRUNC`)
	folder  = regexp.MustCompile(`^(?:AT_FDCWD|\d+)<([^>]*)>`)
)

// harmless reads a trace: one program is started, git beside it at the most, and all that is written lies in the
// project.
func harmless(t *testing.T, log, dir, gitPath string) {
	t.Helper()
	real, err := filepath.EvalSymlinks(dir)
	require.NoError(t, err)
	text, err := os.ReadFile(log)
	if errors.Is(err, os.ErrNotExist) {
		t.Fatal("strace wrote nothing")
	}
	require.NoError(t, err)
	seen := 0
	for line := range strings.Lines(string(text)) {
		m := called.FindStringSubmatch(line)
		if m == nil {
			continue
		}
		seen++
		names := quoted.FindAllStringSubmatch(m[2], -1)
		switch m[1] {
		case "execve", "execveat":
			if strings.Contains(line, "ENOENT") {
				continue
			}
			started := names[0][1]
			own := started == program || started == gitPath || strings.HasPrefix(filepath.Base(started), "git")
			assert.True(t, own && !strings.HasPrefix(started, real), "it starts %s", line)
		case "openat", "creat":
			if !flagged.MatchString(line) || strings.Contains(line, `"/dev/`) {
				continue
			}
			inside(t, line, m[2], names[0][1], real)
		default:
			for _, n := range names {
				inside(t, line, m[2], n[1], real)
			}
		}
	}
	assert.Positive(t, seen, "the trace says something")
}

// inside makes sure that a path which is written lies in the project.
func inside(t *testing.T, line, args, name, dir string) {
	t.Helper()
	p := name
	if !filepath.IsAbs(p) {
		base := dir
		if m := folder.FindStringSubmatch(args); m != nil {
			base = m[1]
		}
		p = filepath.Join(base, p)
	}
	assert.True(t, p == dir || strings.HasPrefix(p, dir+"/"), "it writes outside: %s", line)
}

// Plans and journals of others are not believed.
func TestForgedPlansAndJournals(t *testing.T) {
	t.Parallel()
	made := small(t, tools) // so that there is a key, and even who has it can't name such places
	require.Equal(t, 0, run(t, made, "straighten", "--yes").code)
	dir := small(t, tools)
	for _, evil := range []string{"../../x.ts", "/etc/passwd", ".git/config", "a/../../b.ts", ".crooked/x"} {
		forged := filepath.Join(t.TempDir(), "plan.json")
		for _, text := range []string{
			`{"plan":1,"convention":{"path":"","sha256":""},"steps":[{"title":"","moves":[{"from":"src/main.ts","to":%q,"shelf":"","line":1,"sha256":""}]}],"edits":[],"writes":[],"blocked":[],"leftovers":[],"remarks":[],"warnings":[]}`,
			`{"plan":1,"convention":{"path":"","sha256":""},"steps":[],"edits":[{"path":%q,"sha256":"","after":"","changes":[]}],"writes":[],"blocked":[],"leftovers":[],"remarks":[],"warnings":[]}`,
			`{"plan":1,"convention":{"path":"","sha256":""},"steps":[],"edits":[],"writes":[{"path":%q,"content":"","shelf":"","line":1}],"blocked":[],"leftovers":[],"remarks":[],"warnings":[]}`,
		} {
			require.NoError(t, os.WriteFile(forged, fmt.Appendf(nil, text, evil), 0o644))
			got := run(t, dir, "straighten", "--yes", "--plan", forged)
			assert.Equal(t, 2, got.code, evil)
			assert.Contains(t, got.err, "no path below the project's root")
		}
		record := filepath.Join(dir, ".crooked/journal/0001")
		require.NoError(t, os.MkdirAll(record, 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(record, "record.json"),
			fmt.Appendf(nil, `{"version":2,"files":[{"from":"","to":%q}]}`, evil), 0o644))
		restate(t, dir, "done")
		got := run(t, dir, "undo")
		assert.Equal(t, 3, got.code, evil)
		assert.Contains(t, got.err, "no path below the project's root")
		require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
	}
}

// A convention can't make the program hang.
func TestHostileConventions(t *testing.T) {
	stars := strings.Repeat("*a", 40) + "b"
	holes := strings.Repeat("<a>x", 30)
	for name, text := range map[string]string{
		"stars": "crooked: 1\nshelves: { a: { at: x/, from: [\"src/" + stars +
			"/**\"] }, b: { at: y/, takes: [{ name: \"" + stars + "\" }] }, c: { at: z/, takes: [{ name: \"" + stars +
			"c\" }] } }\n",
		"holes": "crooked: 1\nshelves: { a: { at: x/, from: [\"src/" + holes + "\"] } }\n",
		"folders": "crooked: 1\nshelves: { a: { at: x/, from: [" +
			strings.TrimSuffix(strings.Repeat("\"src/a/**/b/*/c/?/d\", ", 300), ", ") + "] } }\n",
		"deep":    "crooked: 1\nshelves: " + strings.Repeat("{ a: ", 60) + "1" + strings.Repeat(" }", 60) + "\n",
		"anchors": "crooked: 1\nvars: &a { b: c }\nshelves: { a: *a }\n",
	} {
		dir := small(t, "-- crooked.yaml --\n"+text+"-- src/"+strings.Repeat("aaaaaaaaaa", 20)+".ts --\n-- src/"+
			strings.Repeat("a/b/", 40)+"c.ts --\n")
		start := time.Now()
		got := run(t, dir, "check")
		assert.Less(t, time.Since(start), 20*time.Second, name)
		assert.NotContains(t, got.err, "panic", name)
	}
}
