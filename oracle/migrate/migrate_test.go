// Package migrate_test moves real projects and asks their own compiler about it. For each case it lays out a package's
// published sources with a convention, and then: the compiler must report the same before and after straighten, moved
// paths apart; a second check must find nothing; the patch of the plan must give the same tree under git apply; undo
// must give every byte back.
package migrate_test

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/internal/plan"
	"crookedshelf/oracle/tree"
)

//go:embed cases/*.txtar
var cases embed.FS

// leastMoves is what a case must move to count.
const leastMoves = 100

type migration struct {
	name    string
	crooked string // the program
	npm     string // the folder with node_modules
	dir     string
}

func TestMigrations(t *testing.T) {
	npm := filepath.Dir(tree.NeedModules(t, "npm"))
	program := tree.Build(t)
	entries, err := cases.ReadDir("cases")
	require.NoError(t, err)
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".txtar")
		t.Run(name, func(t *testing.T) {
			m := migration{name: name, crooked: program, npm: npm, dir: filepath.Join(t.TempDir(), name)}
			require.NoError(t, os.Mkdir(m.dir, 0o755))
			told, err := m.run()
			require.NoError(t, err)
			t.Log(told)
		})
	}
}

// lay writes the case: the copied sources, the files of the case, and a link to the installed packages.
func (m *migration) lay() error {
	text, err := cases.ReadFile("cases/" + m.name + ".txtar")
	if err != nil {
		return err
	}
	archive := txtar.Parse(text)
	for line := range strings.Lines(string(archive.Comment)) {
		fields := strings.Fields(line)
		if len(fields) != 3 || fields[0] != "copy" {
			return fmt.Errorf("the line %q is not: copy FROM TO", line)
		}
		from := filepath.Join(m.npm, "node_modules", filepath.FromSlash(fields[1]))
		if err := os.CopyFS(filepath.Join(m.dir, fields[2]), os.DirFS(from)); err != nil {
			return err
		}
	}
	for _, f := range archive.Files {
		if err := os.WriteFile(filepath.Join(m.dir, f.Name), f.Data, 0o644); err != nil {
			return err
		}
	}
	return os.Symlink(filepath.Join(m.npm, "node_modules"), filepath.Join(m.dir, "node_modules"))
}

func (m *migration) run() (string, error) {
	if err := m.lay(); err != nil {
		return "", err
	}
	before, err := tree.Hashes(m.dir)
	if err != nil {
		return "", err
	}
	reported, compileTime, err := m.compile()
	if err != nil {
		return "", err
	}
	planFile := m.dir + ".plan.json"
	defer os.Remove(planFile)
	if out, err := m.call("plan", "-o", planFile); err != nil {
		return "", fmt.Errorf("plan: %w\n%s", err, out)
	}
	text, err := os.ReadFile(planFile)
	if err != nil {
		return "", err
	}
	made, err := plan.Read(text)
	if err != nil {
		return "", err
	}
	if n := len(made.Moves()); n < leastMoves {
		return "", fmt.Errorf("only %d files move", n)
	}
	patched, err := m.patched()
	if err != nil {
		return "", err
	}
	start := time.Now()
	if out, err := m.call("straighten", "--yes", "--plan", planFile); err != nil {
		return "", fmt.Errorf("straighten: %w\n%s", err, out)
	}
	took := time.Since(start)
	after, err := tree.Hashes(m.dir)
	if err != nil {
		return "", err
	}
	if d := tree.Differences(patched, after); d != "" {
		return "", fmt.Errorf("git apply gives another tree: %s", d)
	}
	if out, err := m.call("check"); err != nil {
		return "", fmt.Errorf("the second check: %w\n%s", err, out)
	}
	moved := map[string]string{}
	for _, mv := range made.Moves() {
		moved[mv.From] = mv.To
	}
	again, _, err := m.compile()
	if err != nil {
		return "", err
	}
	old := normalize(reported, moved)
	if now := normalize(again, nil); !slices.Equal(old, now) {
		return "", fmt.Errorf("the compiler reports %d lines before and %d after:\n%s", len(old), len(now),
			firstDifference(old, now))
	}
	if out, err := m.call("undo"); err != nil {
		return "", fmt.Errorf("undo: %w\n%s", err, out)
	}
	back, err := tree.Hashes(m.dir)
	if err != nil {
		return "", err
	}
	if d := tree.Differences(before, back); d != "" {
		return "", fmt.Errorf("undo gives another tree: %s", d)
	}
	return fmt.Sprintf("%d files moved and %d mentions rewritten in %d files in %.2f s; the compiler reports the same "+
		"%d lines before and after (%.0f s a run); git apply gives the same tree; undo gives every byte back",
		len(made.Moves()), made.Changes(), len(made.Edits), took.Seconds(), len(old), compileTime.Seconds()), nil
}

func (m *migration) call(args ...string) (string, error) { return tree.Call(m.crooked, m.dir, args...) }

// patched applies the plan's patch to a copy of the tree and gives its hashes.
func (m *migration) patched() (map[string]string, error) {
	patch := m.dir + ".patch"
	defer os.Remove(patch)
	if out, err := m.call("plan", "--patch", "-o", patch); err != nil {
		return nil, fmt.Errorf("plan --patch: %w\n%s", err, out)
	}
	copied, err := os.MkdirTemp("", "patched-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(copied)
	entries, err := os.ReadDir(m.dir)
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		from, to := filepath.Join(m.dir, e.Name()), filepath.Join(copied, e.Name())
		switch {
		case e.IsDir():
			err = os.CopyFS(to, os.DirFS(from))
		case e.Type().IsRegular():
			var b []byte
			if b, err = os.ReadFile(from); err == nil {
				err = os.WriteFile(to, b, 0o644)
			}
		}
		if err != nil {
			return nil, err
		}
	}
	cmd := exec.Command("git", "apply", "--whitespace=nowarn", patch)
	cmd.Dir = copied
	cmd.Env = append(os.Environ(), "GIT_CEILING_DIRECTORIES="+filepath.Dir(copied))
	if out, err := cmd.CombinedOutput(); err != nil {
		return nil, fmt.Errorf("git apply: %w\n%s", err, out)
	}
	return tree.Hashes(copied)
}

// compile runs the compiler and gives its lines. An exit code of 1 or 2 means that it has something to report.
func (m *migration) compile() ([]string, time.Duration, error) {
	start := time.Now()
	cmd := exec.Command("node", "--max-old-space-size=8000", filepath.Join(m.npm, "node_modules", "typescript", "bin",
		"tsc"), "--noEmit", "--pretty", "false", "-p", m.dir)
	cmd.Dir = m.dir
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &out
	err := cmd.Run()
	var exit *exec.ExitError
	if err != nil && !(errors.As(err, &exit) && exit.ExitCode() <= 2) {
		return nil, 0, fmt.Errorf("the compiler: %w\n%s", err, out.String())
	}
	var lines []string
	for line := range strings.Lines(strings.ReplaceAll(out.String(), m.dir+"/", "")) {
		lines = append(lines, strings.TrimRight(line, "\n"))
	}
	return lines, time.Since(start), nil
}

var (
	place  = regexp.MustCompile(`^([^(\s][^(]*)\((\d+),\d+\): `)
	quoted = regexp.MustCompile(`'\.{1,2}/[^']*'|"[^"]*"`)
)

// normalize makes reports of before and after alike: files by their new paths, lines without columns (a rewritten
// specifier shifts what follows on its line), and specifiers in messages left out. Lines that go on a report are kept.
func normalize(lines []string, moved map[string]string) []string {
	var out []string
	for _, line := range lines {
		if m := place.FindStringSubmatch(line); m != nil {
			file := m[1]
			if to, ok := moved[file]; ok {
				file = to
			}
			line = file + ":" + m[2] + ": " + line[len(m[0]):]
		}
		out = append(out, quoted.ReplaceAllString(line, "'…'"))
	}
	slices.Sort(out)
	return out
}

func firstDifference(a, b []string) string {
	var out strings.Builder
	for _, l := range a {
		if !slices.Contains(b, l) && out.Len() < 1500 {
			fmt.Fprintf(&out, "before only: %s\n", l)
		}
	}
	for _, l := range b {
		if !slices.Contains(a, l) && out.Len() < 3000 {
			fmt.Fprintf(&out, "after only:  %s\n", l)
		}
	}
	return out.String()
}
