package tree

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/aymanbagabas/go-udiff"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"
)

// Application is a whole application that is moved, and whose own tools are asked about it: it is laid out with a
// convention, and then each check must print the same before and after straighten; a second check of the layout must
// find nothing; undo must give every byte back.
//
// Its case is a txtar file. Its head says what it is, and has lines `check NAME: COMMAND`, which a shell runs in the
// application's folder, with the paths in Path before those of the machine, `ignore NAME...`, the folders that the
// commands write, `copy FROM TO`, what is laid out from Sources, or from this repository where FROM begins with @/, and
// `touches N`, how many files must move or change at the least. Files below check/ lie beside the application, in the
// folder that the variable CHECK names, not in it. A line `after NAME: COMMAND` must succeed when all has moved: a promise
// that only the new tree can keep. A line `lay COMMAND` runs a command in the folder when all is laid out, before the
// convention.
type Application struct {
	Name    string
	Text    []byte
	Program string
	Dir     string
	Sources string
	Root    string // of this repository
	Path    string
	Env     []string

	checks  [][2]string // name and command
	after   [][2]string
	ignored []string
	laid    []string // commands that lay out the rest
	least   int
}

// lay writes the case.
func (a *Application) lay() error {
	archive := txtar.Parse(a.Text)
	for line := range strings.Lines(string(archive.Comment)) {
		line = strings.TrimSpace(line)
		if rest, ok := strings.CutPrefix(line, "check "); ok {
			name, command, _ := strings.Cut(rest, ": ")
			a.checks = append(a.checks, [2]string{name, command})
		} else if rest, ok := strings.CutPrefix(line, "after "); ok {
			name, command, _ := strings.Cut(rest, ": ")
			a.after = append(a.after, [2]string{name, command})
		} else if rest, ok := strings.CutPrefix(line, "ignore "); ok {
			a.ignored = append(a.ignored, strings.Fields(rest)...)
		} else if rest, ok := strings.CutPrefix(line, "lay "); ok {
			a.laid = append(a.laid, rest)
		} else if fields := strings.Fields(line); len(fields) == 3 && fields[0] == "copy" {
			from := filepath.Join(a.Sources, fields[1])
			if rest, ours := strings.CutPrefix(fields[1], "@/"); ours {
				from = filepath.Join(a.Root, rest)
			}
			if err := os.CopyFS(filepath.Join(a.Dir, fields[2]), os.DirFS(from)); err != nil {
				return err
			}
		} else if len(fields) == 2 && fields[0] == "touches" {
			a.least, _ = strconv.Atoi(fields[1])
		}
	}
	if len(a.checks) == 0 {
		return errors.New("the case checks nothing")
	}
	if err := os.MkdirAll(a.Dir, 0o755); err != nil {
		return err
	}
	for _, command := range a.laid {
		if out, err := a.command(command).CombinedOutput(); err != nil {
			return fmt.Errorf("%s: %w\n%s", command, err, out)
		}
	}
	for _, f := range archive.Files {
		p := filepath.Join(a.Dir, filepath.FromSlash(f.Name))
		if rest, beside := strings.CutPrefix(f.Name, "check/"); beside {
			p = filepath.Join(filepath.Dir(a.Dir), a.Name+"-check", filepath.FromSlash(rest))
		}
		if err := os.MkdirAll(filepath.Dir(p), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(p, f.Data, 0o644); err != nil {
			return err
		}
	}
	return nil
}

// Run does all of it, and says what came of it.
func (a *Application) Run() (string, error) {
	if err := a.lay(); err != nil {
		return "", err
	}
	before, err := Hashes(a.Dir)
	if err != nil {
		return "", err
	}
	said, took, err := a.ask()
	if err != nil {
		return "", fmt.Errorf("before: %w", err)
	}
	start := time.Now()
	out, err := a.call("straighten", "--yes", "--format", "json")
	if err != nil {
		return "", fmt.Errorf("straighten: %w\n%s", err, out)
	}
	straightened := time.Since(start)
	var made struct {
		Steps []struct {
			Moves []struct{ From string } `json:"moves"`
		} `json:"steps"`
		Edits []struct {
			Path    string
			Changes []struct{} `json:"changes"`
		} `json:"edits"`
		Leftovers []struct{ Certain bool } `json:"leftovers"`
	}
	if err := json.Unmarshal([]byte(out), &made); err != nil {
		return "", err
	}
	moves, changes := 0, 0
	touched := map[string]bool{}
	for _, s := range made.Steps {
		moves += len(s.Moves)
		for _, m := range s.Moves {
			touched[m.From] = true
		}
	}
	for _, e := range made.Edits {
		changes += len(e.Changes)
		touched[e.Path] = true
	}
	if len(touched) < a.least {
		return "", fmt.Errorf("only %d files move or change", len(touched))
	}
	if out, err := a.call("check"); err != nil {
		return "", fmt.Errorf("check: %w\n%s", err, out)
	}
	now, _, err := a.ask()
	if err != nil {
		return "", fmt.Errorf("after: %w", err)
	}
	for i, c := range a.checks {
		if said[i] != now[i] {
			return "", fmt.Errorf("%s says something else now:\n%s", c[0],
				udiff.Unified("before", "now", said[i], now[i]))
		}
	}
	for _, c := range a.after {
		if out, err := a.command(c[1]).CombinedOutput(); err != nil {
			return "", fmt.Errorf("%s: %w\n%s", c[0], err, out)
		}
		if err := a.clean(); err != nil {
			return "", err
		}
	}
	if out, err := a.call("undo"); err != nil {
		return "", fmt.Errorf("undo: %w\n%s", err, out)
	}
	after, err := Hashes(a.Dir)
	if err != nil {
		return "", err
	}
	if d := Differences(before, after); d != "" {
		return "", fmt.Errorf("undo gives another tree: %s", d)
	}
	var names []string
	for _, c := range a.after {
		names = append(names, c[0])
	}
	for i, c := range a.checks {
		names = append(names, fmt.Sprintf("%s (%d lines)", c[0], strings.Count(said[i], "\n")))
	}
	return fmt.Sprintf("%d files moved and %d mentions rewritten, %d files touched, %d texts left over, in %.2f s; "+
		"the same before and after: %s, %.0f s a run; undo gives every byte back",
		moves, changes, len(touched), len(made.Leftovers), straightened.Seconds(), strings.Join(names, ", "),
		took.Seconds()), nil
}

func (a *Application) call(args ...string) (string, error) {
	return Call(a.Program, a.Dir, args...)
}

// command is one that a shell runs in the application's folder.
func (a *Application) command(text string) *exec.Cmd {
	cmd := exec.Command("sh", "-c", text)
	cmd.Dir = a.Dir
	cmd.Env = append(append(os.Environ(), "CI=1", "NO_COLOR=1", "CHECK="+a.Dir+"-check",
		"PATH="+a.Path+string(os.PathListSeparator)+os.Getenv("PATH")), a.Env...)
	return cmd
}

// ask runs the checks and then removes what they wrote.
func (a *Application) ask() ([]string, time.Duration, error) {
	start := time.Now()
	var said []string
	for _, c := range a.checks {
		cmd := a.command(c[1])
		var errors strings.Builder
		cmd.Stderr = &errors
		out, err := cmd.Output()
		if err != nil {
			return nil, 0, fmt.Errorf("%s: %w\n%s\n%s", c[0], err, out, errors.String())
		}
		if len(strings.TrimSpace(string(out))) == 0 {
			return nil, 0, fmt.Errorf("%s says nothing", c[0])
		}
		said = append(said, string(out))
	}
	return said, time.Since(start), a.clean()
}

// clean removes what commands wrote.
func (a *Application) clean() error {
	for _, name := range a.ignored {
		if err := os.RemoveAll(filepath.Join(a.Dir, name)); err != nil {
			return err
		}
	}
	return nil
}

// Cases runs the applications of the package at hand whose files fit a pattern, each as a test of its own. complete adds
// what the package knows of one.
func Cases(t *testing.T, pattern string, complete func(t *testing.T, a *Application)) {
	t.Helper()
	cases, err := filepath.Glob(pattern)
	require.NoError(t, err)
	require.NotEmpty(t, cases)
	root, err := filepath.Abs("../..")
	require.NoError(t, err)
	here, err := filepath.Abs(".")
	require.NoError(t, err)
	program := Build(t)
	for _, file := range cases {
		name := strings.TrimSuffix(filepath.Base(file), ".txtar")
		t.Run(name, func(t *testing.T) {
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			a := Application{Name: name, Text: text, Program: program, Root: root, Sources: filepath.Join(here, "sources"),
				Dir: filepath.Join(t.TempDir(), name)}
			if complete != nil {
				complete(t, &a)
			}
			said, err := a.Run()
			require.NoError(t, err)
			t.Log(said)
		})
	}
}
