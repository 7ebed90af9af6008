// Package apps_test moves whole applications and asks their own tools about it. For each case it lays an application out with
// a convention, and then: each check must print the same before and after straighten; a second check of the layout must find
// nothing; undo must give every byte back.
//
// A case is a txtar file. Its head has lines `check NAME: COMMAND`, which a shell runs in the application's folder, and
// `ignore NAME...`, the folders that the commands write. Files below check/ lie beside the application, not in it.
package apps_test

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/oracle/tree"
)

//go:embed cases/*.txtar
var cases embed.FS

type application struct {
	name    string
	crooked string // the program
	dir     string
	checks  [][2]string // name and command
	ignored []string
}

func TestApplicationsStillBuildAndRun(t *testing.T) {
	modules := tree.NeedModules(t, "apps/npm")
	program := tree.Build(t)
	root := t.TempDir()
	require.NoError(t, os.Symlink(modules, filepath.Join(root, "node_modules")))
	entries, err := cases.ReadDir("cases")
	require.NoError(t, err)
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), ".txtar")
		t.Run(name, func(t *testing.T) {
			a := &application{name: name, crooked: program, dir: filepath.Join(root, name)}
			told, err := a.run()
			require.NoError(t, err)
			t.Log(told)
		})
	}
}

// lay writes the case.
func (a *application) lay() error {
	text, err := cases.ReadFile("cases/" + a.name + ".txtar")
	if err != nil {
		return err
	}
	archive := txtar.Parse(text)
	for line := range strings.Lines(string(archive.Comment)) {
		line = strings.TrimSpace(line)
		if rest, ok := strings.CutPrefix(line, "check "); ok {
			name, command, _ := strings.Cut(rest, ": ")
			a.checks = append(a.checks, [2]string{name, command})
		} else if rest, ok := strings.CutPrefix(line, "ignore "); ok {
			a.ignored = append(a.ignored, strings.Fields(rest)...)
		}
	}
	if len(a.checks) == 0 {
		return errors.New("the case checks nothing")
	}
	for _, f := range archive.Files {
		p := filepath.Join(a.dir, filepath.FromSlash(f.Name))
		if rest, beside := strings.CutPrefix(f.Name, "check/"); beside {
			p = filepath.Join(filepath.Dir(a.dir), a.name+"-check", filepath.FromSlash(rest))
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

func (a *application) run() (string, error) {
	if err := a.lay(); err != nil {
		return "", err
	}
	before, err := tree.Hashes(a.dir)
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
			Moves []struct{} `json:"moves"`
		} `json:"steps"`
		Edits []struct {
			Changes []struct{} `json:"changes"`
		} `json:"edits"`
	}
	if err := json.Unmarshal([]byte(out), &made); err != nil {
		return "", err
	}
	moves, changes := 0, 0
	for _, s := range made.Steps {
		moves += len(s.Moves)
	}
	for _, e := range made.Edits {
		changes += len(e.Changes)
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
			return "", fmt.Errorf("%s said before:\n%s\nand says now:\n%s", c[0], said[i], now[i])
		}
	}
	if out, err := a.call("undo"); err != nil {
		return "", fmt.Errorf("undo: %w\n%s", err, out)
	}
	after, err := tree.Hashes(a.dir)
	if err != nil {
		return "", err
	}
	if d := tree.Differences(before, after); d != "" {
		return "", fmt.Errorf("undo gives another tree: %s", d)
	}
	var names []string
	for i, c := range a.checks {
		names = append(names, fmt.Sprintf("%s (%d lines)", c[0], strings.Count(said[i], "\n")))
	}
	return fmt.Sprintf("%d files moved and %d mentions rewritten in %.2f s; the same before and after: %s, %.0f s a run; undo gives every byte back",
		moves, changes, straightened.Seconds(), strings.Join(names, ", "), took.Seconds()), nil
}

func (a *application) call(args ...string) (string, error) {
	return tree.Call(a.crooked, a.dir, args...)
}

// ask runs the checks and then removes what they wrote.
func (a *application) ask() ([]string, time.Duration, error) {
	start := time.Now()
	var said []string
	for _, c := range a.checks {
		cmd := exec.Command("sh", "-c", c[1])
		cmd.Dir = a.dir
		cmd.Env = append(os.Environ(), "CI=1", "NO_COLOR=1", "BIN="+filepath.Join(filepath.Dir(a.dir), "node_modules", ".bin"), "CHECK="+a.dir+"-check",
			"PATH="+filepath.Join(filepath.Dir(a.dir), "node_modules", ".bin")+string(os.PathListSeparator)+os.Getenv("PATH"))
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
	for _, name := range a.ignored {
		if err := os.RemoveAll(filepath.Join(a.dir, name)); err != nil {
			return nil, 0, err
		}
	}
	return said, time.Since(start), nil
}
