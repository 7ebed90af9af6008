// Command bench measures the built program as a whole process, beside ripgrep and cp over the same files in the same run.
// It makes a tree of source files with an import graph like those of real clients, so it needs nothing but the program.
//
//	go run ./bench -crooked ./crooked [-files 20000] [-bytes 5000] [-runs 5] [-git=false]
//
// It prints medians of the wall time, the peak memory, and each budget of docs/architecture.md with what was measured.
package main

import (
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
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
	withGit := flag.Bool("git", true, "measure git status as well, for which all files are added to a repository first")
	flag.Parse()
	program, err := filepath.Abs(*crooked)
	if err != nil {
		fail(err)
	}
	dir, err := os.MkdirTemp("", "bench-")
	if err != nil {
		fail(err)
	}
	defer os.RemoveAll(dir)
	root := filepath.Join(dir, "tree")
	total, err := generate(root, *files, *size)
	if err != nil {
		fail(err)
	}
	fmt.Printf("%d files, %.0f MB; medians of %d runs\n\n", *files, float64(total)/1e6, *runs)
	b := bench{runs: *runs}

	grep := measured{}
	if rg, err := exec.LookPath("rg"); err == nil {
		grep = b.measure("rg -c import", nil, rg, "-c", "--no-ignore", "import", root)
	} else {
		fmt.Println("ripgrep is not installed: no yardstick for reading")
	}
	if gitPath, err := exec.LookPath("git"); err == nil && *withGit {
		for _, args := range [][]string{{"init", "-q"}, {"-c", "core.looseCompression=0", "add", "."}} {
			b.once(gitPath, append([]string{"-C", root}, args...)...)
		}
		b.measure("git status", nil, gitPath, "-C", root, "status", "--porcelain")
		if err := os.RemoveAll(filepath.Join(root, ".git")); err != nil {
			fail(err)
		}
	}
	rules := filepath.Join(dir, "rules.yaml")
	if err := os.WriteFile(rules, []byte(rulesText), 0o644); err != nil {
		fail(err)
	}
	graph := b.measure("crooked check", nil, program, "check", "-q", "--root", root)
	all := b.measure("crooked check, every rule", nil, program, "check", "-q", "--root", root, "--convention", rules)
	survey := b.measure("crooked survey", nil, program, "survey", "--root", root)
	planned := b.measure("crooked plan, a quarter moves", nil, program, "plan", "-q", "--root", root)
	copied := filepath.Join(dir, "copied")
	drop := func() { os.RemoveAll(copied) }
	cp := b.measure("cp -r of all files", drop, "cp", "-r", filepath.Join(root, "src"), copied)
	drop()
	touched, err := countTouched(program, root, filepath.Join(dir, "plan.json"))
	if err != nil {
		fail(err)
	}
	fmt.Printf("the plan touches %d files\n", touched)
	straighten := b.measure("crooked straighten", func() {
		if _, err := os.Stat(filepath.Join(root, ".crooked")); err == nil {
			b.once(program, "undo", "-q", "--root", root)
		}
	}, program, "straighten", "-q", "--yes", "--dirty", "--root", root)
	b.measure("crooked undo", func() {
		if _, err := os.Stat(filepath.Join(root, ".crooked")); err != nil {
			b.once(program, "straighten", "-q", "--yes", "--dirty", "--root", root)
		}
	}, program, "undo", "-q", "--root", root)

	fmt.Println()
	if grep.wall > 0 {
		budget("check, against one rg", graph.wall.Seconds()/grep.wall.Seconds(), 1.5)
		budget("check with every rule, against one rg", all.wall.Seconds()/grep.wall.Seconds(), 1.5)
	}
	budget("survey, against check with every rule", survey.wall.Seconds()/all.wall.Seconds(), 2)
	budget("plan that moves a quarter, against check", planned.wall.Seconds()/graph.wall.Seconds(), 3)
	share := float64(touched) / float64(*files)
	budget("straighten beyond plan, against cp -r of that", (straighten.wall-planned.wall).Seconds()/(cp.wall.Seconds()*share), 2)
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
	fmt.Printf("%-46s %5.2f of %.1f  %s\n", what, got, allowed, word)
}

type measured struct {
	wall   time.Duration
	memory int64 // bytes, the largest of the runs
}

type bench struct{ runs int }

// measure runs a command and prints its median. before is run each time and not measured.
func (b bench) measure(name string, before func(), program string, args ...string) measured {
	var walls []time.Duration
	var m measured
	for range b.runs + 1 { // the first run warms the page cache
		if before != nil {
			before()
		}
		wall, memory := b.once(program, args...)
		walls = append(walls, wall)
		m.memory = max(m.memory, memory)
	}
	walls = walls[1:]
	slices.Sort(walls)
	m.wall = walls[len(walls)/2]
	fmt.Printf("%-32s %8.0f ms  %6.0f MB\n", name, float64(m.wall.Microseconds())/1000, float64(m.memory)/1e6)
	return m
}

// once runs a command. Exit codes 0 and 1 are answers.
func (b bench) once(program string, args ...string) (time.Duration, int64) {
	cmd := exec.Command(program, args...)
	start := time.Now()
	out, err := cmd.CombinedOutput()
	wall := time.Since(start)
	var exit *exec.ExitError
	if err != nil && !(errors.As(err, &exit) && exit.ExitCode() == 1) {
		fail(fmt.Errorf("%s %v: %w\n%s", program, args, err, out[:min(len(out), 2000)]))
	}
	usage, ok := cmd.ProcessState.SysUsage().(*syscall.Rusage)
	if !ok {
		return wall, 0
	}
	return wall, usage.Maxrss << 10
}

const conventionText = `crooked: 1
title: A large client
shelves:
  parts: { at: src/parts/, from: [src/widgets/**] }
  pages: src/pages/
  tools: src/tools/
`

// rulesText asks for everything that a check can look at: what files declare, who needs them, who uses whom, names, doors.
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
// up to nine that come before it, most of them near by, some by an alias.
func generate(root string, files, size int) (int64, error) {
	random := rand.New(rand.NewPCG(1, 2))
	place := func(i int) string {
		group := i / 25
		switch i % 4 {
		case 0:
			return fmt.Sprintf("src/widgets/g%d/Widget%d.tsx", group, i)
		case 1:
			return fmt.Sprintf("src/tools/g%d/tool%d.ts", group, i)
		}
		return fmt.Sprintf("src/pages/g%d/Page%d.tsx", group, i)
	}
	filler := strings.Repeat("  const value = compute(first, 'second', `third ${1 + 2}`) // of the usual kind\n  if (/[a-z]+/.test(value)) return <p class=\"x\">{value} isn't it</p>\n", 60)
	var total int64
	write := func(name, text string) error {
		p := filepath.Join(root, filepath.FromSlash(name))
		if err := os.MkdirAll(filepath.Dir(p), 0o755); err != nil {
			return err
		}
		total += int64(len(text))
		return os.WriteFile(p, []byte(text), 0o644)
	}
	for i := range files {
		var text strings.Builder
		from := filepath.Dir(place(i))
		for range random.IntN(9) + 1 {
			if i == 0 {
				break
			}
			near := max(0, i-1-random.IntN(min(i, 200)))
			to := strings.TrimSuffix(strings.TrimSuffix(place(near), ".tsx"), ".ts")
			spec := "@/" + strings.TrimPrefix(to, "src/")
			if random.IntN(3) > 0 {
				rel, _ := filepath.Rel(from, to)
				if spec = filepath.ToSlash(rel); !strings.HasPrefix(spec, ".") {
					spec = "./" + spec
				}
			}
			fmt.Fprintf(&text, "import { a%d } from '%s'\n", near, spec)
		}
		fmt.Fprintf(&text, "\nexport function a%d(first: string) {\n", i)
		body := filler[:min(len(filler), max(0, size-text.Len()))]
		text.WriteString(body[:strings.LastIndexByte(body, '\n')+1] + "}\n")
		if err := write(place(i), text.String()); err != nil {
			return 0, err
		}
	}
	err := errors.Join(write("crooked.yaml", conventionText),
		write("tsconfig.json", `{"compilerOptions": {"moduleResolution": "bundler", "module": "esnext", "paths": {"@/*": ["./src/*"]}}}`))
	return total, err
}
