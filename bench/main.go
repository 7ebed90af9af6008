// Command bench measures the built program as a whole process, beside ripgrep and cp over the same files in the same
// run. It makes a tree of source files with an import graph like those of real clients, so it needs nothing but the
// program.
//
//	go run ./bench -crooked ./crooked [-files 20000] [-bytes 5000] [-runs 5] [-python 50] [-git=false] [-apply=false]
//
// With -real it lays a tree of installed packages instead, and measures it with conventions of many shelves:
//
//	go run ./bench -crooked ./crooked -real oracle/npm/node_modules,oracle/templates/npm/node_modules -files 30000
//	go run ./bench -crooked ./crooked -real oracle/npm/node_modules,oracle/templates/npm/node_modules,bench/npm/node_modules -files 110000
//
// The packages are those of the lock files beside these folders (npm ci).
//
// The commands take turns, so that a machine that is slow for a while is slow for all of them. It prints medians of the
// wall time, the peak memory, and each budget of docs/architecture.md with what was measured.
package main

import (
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"crookedshelf/internal/plan"
)

func main() {
	crooked := flag.String("crooked", "./crooked", "the built program")
	files := flag.Int("files", 20000, "source files to make")
	size := flag.Int("bytes", 5000, "bytes of each, about")
	runs := flag.Int("runs", 5, "runs of each command; the median counts")
	python := flag.Int("python", 0, "how many of a hundred files are Python")
	withGit := flag.Bool("git", true, "measure git status as well, for which all files are added to a repository first")
	apply := flag.Bool("apply", true,
		"measure straighten and undo as well, and cp, for which there must be room for several times the tree")
	realTree := flag.String("real", "",
		"folders of installed packages, with commas between: lay a real tree of them and measure that")
	flag.Parse()
	program, err := filepath.Abs(*crooked)
	if err != nil {
		fail(err)
	}
	if *realTree != "" {
		if err := measureReal(program, strings.Split(*realTree, ","), *files, *runs); err != nil {
			fail(err)
		}
		return
	}
	dir, err := os.MkdirTemp("", "bench-")
	if err != nil {
		fail(err)
	}
	defer os.RemoveAll(dir)
	root := filepath.Join(dir, "tree")
	total, err := generate(root, *files, *size, *python)
	if err != nil {
		fail(err)
	}
	fmt.Printf("%d files, %.0f MB; medians of %d runs\n\n", *files, float64(total)/1e6, *runs)
	rules := filepath.Join(dir, "rules.yaml")
	if err := os.WriteFile(rules, []byte(rulesText), 0o644); err != nil {
		fail(err)
	}
	var b bench
	rg, err := exec.LookPath("rg")
	if err != nil {
		fmt.Println("ripgrep is not installed: no yardstick for reading")
	} else {
		b.add("rg import", nil, rg, "import", root) // it heeds ignore files, as crooked does, and prints what it found
		b.add("rg -c --no-ignore import", nil, rg, "-c", "--no-ignore", "import", root)
	}
	if gitPath, err := exec.LookPath("git"); err == nil && *withGit {
		keep := filepath.Join(dir, "git")
		for _, args := range [][]string{{"init", "-q", "--separate-git-dir", keep},
			{"-c", "core.looseCompression=0", "add", "."}} {
			once(gitPath, append([]string{"-C", root}, args...)...)
		}
		if err := os.Remove(filepath.Join(root, ".git")); err != nil {
			fail(err)
		}
		// undo gives files their times back, and they are new ones
		b.add("git status", nil, gitPath, "-c", "core.checkStat=minimal", "-c", "core.trustctime=false",
			"--git-dir", keep, "--work-tree", root, "status", "--porcelain")
	}
	check := b.add("crooked check", nil, program, "check", "-q", "--root", root)
	every := b.add("crooked check, every rule", nil, program, "check", "-q", "--root", root, "--convention", rules)
	survey := b.add("crooked survey", nil, program, "survey", "--root", root)
	planned := b.add("crooked plan, a quarter moves", nil, program, "plan", "-q", "--root", root)
	var cp, straighten *command
	if *apply {
		copied := filepath.Join(dir, "copied")
		cp = b.add("cp -r of all files", func() { os.RemoveAll(copied) }, "cp", "-r", filepath.Join(root, "src"),
			copied)
		straighten = b.add("crooked straighten", func() { os.RemoveAll(copied) }, program, "straighten", "-q", "--yes",
			"--dirty", "--root", root)
		b.add("crooked undo", nil, program, "undo", "-q", "--root", root)
	}
	b.run(*runs)
	touched, err := countTouched(program, root, filepath.Join(dir, "plan.json"))
	if err != nil {
		fail(err)
	}
	fmt.Printf("the plan touches %d files\n", touched)

	fmt.Println()
	if rg != "" {
		grep := b.commands[0]
		budget("check, against one rg", check.wall.Seconds()/grep.wall.Seconds(), 1.5)
		budget("check with every rule, against one rg", every.wall.Seconds()/grep.wall.Seconds(), 1.5)
	}
	budget("survey, against check with every rule", survey.wall.Seconds()/every.wall.Seconds(), 2)
	budget("plan that moves a quarter, against check", planned.wall.Seconds()/check.wall.Seconds(), 3)
	if share := float64(touched) / float64(*files); *apply {
		budget("straighten beyond plan, against cp -r of that",
			(straighten.wall-planned.wall).Seconds()/(cp.wall.Seconds()*share), 2)
	}
	budget("peak memory of plan, against source bytes", float64(planned.memory-50<<20)/float64(total), 3)
}

// countTouched gives how many files a plan moves or edits.
func countTouched(program, root, file string) (int, error) {
	if out, err := exec.Command(program, "plan", "-q", "--root", root, "-o", file).CombinedOutput(); err != nil {
		return 0, fmt.Errorf("%w\n%s", err, out)
	}
	text, err := os.ReadFile(file)
	if err != nil {
		return 0, err
	}
	made, err := plan.Read(text)
	if err != nil {
		return 0, err
	}
	touched := map[string]bool{}
	for _, m := range made.Moves() {
		touched[m.From] = true
	}
	for _, e := range made.Edits {
		touched[e.Path] = true
	}
	return len(touched), nil
}

func fail(err error) {
	fmt.Fprintln(os.Stderr, "bench:", err)
	os.Exit(2)
}

func budget(what string, got, allowed float64) {
	word := "held"
	if got > allowed {
		word = "MISSED"
	}
	fmt.Printf("%-60s %5.2f of %.1f  %s\n", what, got, allowed, word)
}

// command is one that is measured.
type command struct {
	name    string
	before  func() // is run each time and not measured; may be nil
	program string
	args    []string
	walls   []time.Duration
	wall    time.Duration // the median
	cpus    []time.Duration
	cpu     time.Duration // of the processors; the median
	memory  int64         // bytes, the largest of the runs
}

type bench struct{ commands []*command }

func (b *bench) add(name string, before func(), program string, args ...string) *command {
	c := &command{name: name, before: before, program: program, args: args}
	b.commands = append(b.commands, c)
	return c
}

// run runs all commands in turns, and prints their medians. The first turn warms the page cache.
func (b *bench) run(turns int) {
	for turn := range turns + 1 {
		for _, c := range b.commands {
			if c.before != nil {
				c.before()
			}
			wall, cpu, memory := once(c.program, c.args...)
			if c.memory = max(c.memory, memory); turn > 0 {
				c.walls, c.cpus = append(c.walls, wall), append(c.cpus, cpu)
			}
		}
	}
	for _, c := range b.commands {
		slices.Sort(c.walls)
		slices.Sort(c.cpus)
		c.wall, c.cpu = c.walls[len(c.walls)/2], c.cpus[len(c.cpus)/2]
		fmt.Printf("%-36s %8.0f ms %8.0f ms of the processors  %6.0f MB\n", c.name, float64(c.wall.Microseconds())/1000,
			float64(c.cpu.Microseconds())/1000, float64(c.memory)/1e6)
	}
}

// once runs a command. Exit codes 0 and 1 are answers. What it prints goes to a file: a pipe would make this process
// work beside it.
func once(program string, args ...string) (wall, cpu time.Duration, memory int64) {
	out, err := os.CreateTemp("", "bench-output-")
	if err != nil {
		fail(err)
	}
	defer os.Remove(out.Name())
	defer out.Close()
	cmd := exec.Command(program, args...)
	cmd.Stdout, cmd.Stderr = out, out
	start := time.Now()
	err = cmd.Run()
	wall = time.Since(start)
	var exit *exec.ExitError
	if err != nil && !(errors.As(err, &exit) && exit.ExitCode() == 1) {
		said, _ := os.ReadFile(out.Name())
		fail(fmt.Errorf("%s %v: %w\n%s", program, args, err, said[:min(len(said), 2000)]))
	}
	usage, ok := cmd.ProcessState.SysUsage().(*syscall.Rusage)
	if !ok {
		return wall, 0, 0
	}
	return wall, cmd.ProcessState.UserTime() + cmd.ProcessState.SystemTime(), usage.Maxrss << 10
}

const conventionText = `crooked: 1
title: A large client
shelves:
  parts: { at: src/parts/, from: [src/widgets/**] }
  pages: src/pages/
  tools: src/tools/
`

// rulesText asks for everything that a check can look at: what files declare, who needs them, who uses whom, names,
// doors.
const rulesText = `crooked: 1
title: A large client
pools: { widgets: [src/widgets/**] }
shelves:
  pages:
    at: src/pages/<group>/
    uses: [pages, parts, tools]
    inside: { parts: { takes: [{ pool: widgets, needed_by: one of pages }] } }
  unused: { at: src/unused/, takes: [{ pool: widgets, needed_by: none }] }
  parts: { at: src/parts/, takes: [{ pool: widgets, declares: component }, { pool: widgets }], names: { files: pascal } }
  tools: { at: src/tools/, uses: [tools, parts, pages], libraries: { never: [some-library] } }
`

// generate makes the tree: a quarter of the files lies in widgets, half in pages, a quarter in tools. Each file imports
// up to nine that come before it, most of them near by, some by an alias. A widget declares a component. Of a hundred
// files the last ones are Python.
func generate(root string, files, size, python int) (int64, error) {
	random := rand.New(rand.NewPCG(1, 2))
	isPython := func(i int) bool { return i%100 >= 100-python }
	module := func(i int) string { // its path without an ending
		group := i / 25
		switch i % 4 {
		case 0:
			return fmt.Sprintf("src/widgets/g%d/Widget%d", group, i)
		case 1:
			return fmt.Sprintf("src/tools/g%d/tool%d", group, i)
		}
		return fmt.Sprintf("src/pages/g%d/Page%d", group, i)
	}
	declared := func(i int) string { // a component in widgets
		if i%4 == 0 {
			return fmt.Sprintf("Widget%d", i)
		}
		return fmt.Sprintf("a%d", i)
	}
	var total int64
	write := func(name, text string) error {
		total += int64(len(text))
		return put(root, name, text)
	}
	for i := range files {
		var head strings.Builder
		for range random.IntN(9) + 1 {
			if i == 0 {
				break
			}
			near := max(0, i-1-random.IntN(min(i, 200)))
			if far := random.IntN(3) == 0; isPython(near) == isPython(i) {
				head.WriteString(importOf(module(i), module(near), declared(near), isPython(i), far))
			}
		}
		ending, opening, filler, closing := ".tsx", "\nexport function %s(first: string) {\n", scriptFiller, "}\n"
		if i%4 == 1 {
			ending = ".ts"
		}
		if isPython(i) {
			ending, opening, filler, closing = ".py", "\n\ndef %s(first):\n", pythonFiller, "    return first\n"
		}
		fmt.Fprintf(&head, opening, declared(i))
		body := filler[:min(len(filler), max(0, size-head.Len()))]
		if err := write(module(i)+ending,
			head.String()+body[:strings.LastIndexByte(body, '\n')+1]+closing); err != nil {
			return 0, err
		}
	}
	err := errors.Join(write("crooked.yaml", conventionText), write("pyproject.toml", "[project]\nname = \"client\"\n"),
		write("tsconfig.json",
			`{"compilerOptions": {"moduleResolution": "bundler", "module": "esnext", "paths": {"@/*": ["./src/*"]}}}`))
	return total, err
}

// put writes a file of a tree, with the folders that it lies in.
func put(root, name, text string) error {
	p := filepath.Join(root, filepath.FromSlash(name))
	if err := os.MkdirAll(filepath.Dir(p), 0o755); err != nil {
		return err
	}
	return os.WriteFile(p, []byte(text), 0o644)
}

// importOf writes an import of a name from one module into another.
func importOf(from, to, name string, python, far bool) string {
	top := func(p string) string { return strings.Split(p, "/")[1] }
	switch {
	case python && (far || top(from) != top(to)): // relative names stay within one package
		return fmt.Sprintf("from %s import %s\n", strings.ReplaceAll(strings.TrimPrefix(to, "src/"), "/", "."), name)
	case python:
		rel, _ := filepath.Rel(path.Dir(from), to)
		up := strings.Count(rel, "../")
		return fmt.Sprintf("from .%s%s import %s\n", strings.Repeat(".", up),
			strings.ReplaceAll(strings.TrimLeft(rel, "./"), "/", "."), name)
	case far:
		return fmt.Sprintf("import { %s } from '@/%s'\n", name, strings.TrimPrefix(to, "src/"))
	}
	rel, _ := filepath.Rel(path.Dir(from), to)
	if !strings.HasPrefix(rel, ".") {
		rel = "./" + rel
	}
	return fmt.Sprintf("import { %s } from '%s'\n", name, filepath.ToSlash(rel))
}

var (
	scriptFiller = strings.Repeat("  const value = compute(first, 'second', `third ${1 + 2}`) // of the usual kind\n"+
		"  if (/[a-z]+/.test(value)) return <p class=\"x\">{value} isn't it</p>\n", 60)
	pythonFiller = strings.Repeat("    value = compute(first, 'second', f\"third {1 + 2}\")  # of the usual kind\n"+
		"    if re.match(r\"[a-z]+\", value) and value.isn.it:\n"+
		"        return {\"class\": value, 'x': [first for first in value]}\n", 60)
)
