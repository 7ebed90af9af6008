package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// A real tree is the sources of packages from the registry, laid as the packages of one workspace, with an application
// beside them that uses them: a barrel file and what imports through it, a compiler's settings with an alias for each
// package, settings in one long line.

// read are the endings of the files that are taken over.
var read = map[string]bool{
	".js": true, ".mjs": true, ".cjs": true, ".jsx": true, ".ts": true, ".mts": true, ".cts": true, ".tsx": true,
	".vue": true, ".svelte": true,
	".css": true, ".scss": true, ".less": true, ".html": true, ".json": true, ".md": true, ".yml": true, ".yaml": true,
}

// source is a package's folder on the disk.
type source struct{ name, dir string }

// installed gives the packages in folders of installed packages, those within others too, each name once.
func installed(folders []string) ([]source, error) {
	seen := map[string]bool{}
	var out []source
	for _, folder := range folders {
		err := filepath.WalkDir(folder, func(p string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || d.Name() != "package.json" {
				return err
			}
			_, name, below := cutLast(filepath.ToSlash(filepath.Dir(p)), "node_modules/")
			if parts := strings.Count(name, "/"); !below || parts > 1 || parts == 1 && name[0] != '@' {
				return nil
			}
			if name = strings.ReplaceAll(strings.TrimPrefix(name, "@"), "/", "-"); !seen[name] {
				seen[name] = true
				out = append(out, source{name, filepath.Dir(p)})
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

func cutLast(text, by string) (before, after string, found bool) {
	at := strings.LastIndex(text, by)
	if at < 0 {
		return text, "", false
	}
	return text[:at], text[at+len(by):], true
}

// real is a tree that was laid, with how large it is.
type real struct {
	root     string
	files    int
	bytes    int64
	packages []string
}

func (r *real) put(name, text string) error {
	r.files++
	r.bytes += int64(len(text))
	return put(r.root, name, text)
}

// lay lays a tree of about so many files.
func lay(root string, from []string, files int) (*real, error) {
	sources, err := installed(from)
	if err != nil {
		return nil, err
	}
	const own = 3000 // files of the application
	r := &real{root: root}
	for _, s := range sources {
		if r.files >= files-own {
			break
		}
		if err := r.take(s); err != nil {
			return nil, err
		}
	}
	if r.files < files-own {
		return nil, fmt.Errorf("%d packages hold %d files, fewer than %d; name more folders of installed packages",
			len(sources), r.files, files-own)
	}
	return r, r.application(own)
}

func (r *real) take(s source) error {
	r.packages = append(r.packages, s.name)
	return filepath.WalkDir(s.dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && d.Name() == "node_modules" && p != s.dir {
			return filepath.SkipDir
		}
		if !d.Type().IsRegular() || !read[filepath.Ext(p)] {
			return nil
		}
		text, err := os.ReadFile(p)
		if err != nil {
			return err
		}
		below, err := filepath.Rel(s.dir, p)
		if err != nil {
			return err
		}
		return r.put("packages/"+s.name+"/"+filepath.ToSlash(below), string(text))
	})
}

// application writes what uses the packages: parts behind a barrel file, and pages that import them.
func (r *real) application(files int) error {
	paths := map[string][]string{"@app/*": {"./src/*"}}
	for _, name := range r.packages {
		paths["@"+name+"/*"] = []string{"./packages/" + name + "/*"}
	}
	compiler, err := json.Marshal(map[string]any{"compilerOptions": map[string]any{"moduleResolution": "bundler",
		"module": "esnext", "paths": paths}})
	if err != nil {
		return err
	}
	all := []error{
		r.put("package.json", `{"name": "client", "private": true, "workspaces": ["packages/*"]}`),
		r.put("tsconfig.json", string(compiler)),
		r.put("settings/long.json", longSettings(250<<10)),
	}
	var barrel bytes.Buffer
	for i := range files / 2 {
		fmt.Fprintf(&barrel, "export { Part%d } from './Part%d'\n", i, i)
		all = append(all, r.put(fmt.Sprintf("src/parts/Part%d.tsx", i),
			fmt.Sprintf("import one from '@%s/package.json'\nexport function Part%d() { return <p>{one}</p> }\n",
				r.packages[i%len(r.packages)], i)))
		all = append(all, r.put(fmt.Sprintf("src/pages/p%d/Page%d.tsx", i/5, i),
			fmt.Sprintf("import { Part%d, Part%d } from '@app/parts'\nexport function Page%d() { return <Part%d/> }\n",
				i, (i*7)%(files/2), i, i)))
	}
	all = append(all, r.put("src/parts/index.ts", barrel.String()))
	return errors.Join(all...)
}

// longSettings are settings in one line, as a program writes them.
func longSettings(size int) string {
	var out strings.Builder
	out.WriteString(`{"all": [`)
	for i := 0; out.Len() < size; i++ {
		if i > 0 {
			out.WriteString(", ")
		}
		fmt.Fprintf(&out,
			`{"id": %d, "name": "station night: dome %d", "path": "src/parts/Part%d.tsx", "command": "night%d:open"}`,
			i, i, i, i)
	}
	return out.String() + "]}"
}

// conventions are those that are measured, each with its text.
func (r *real) conventions() map[string]string {
	const head = "crooked: 1\nleave: { stay: ['*', settings/**] }\n"
	moving := "  parts: { at: src/shared/parts/, from: [src/parts/**] }\n  pages: src/pages/\n"
	out := map[string]string{
		"plain": head + "shelves:\n" + moving + "  packages: packages/\n",
		"pools": head + "pools: { parts: [src/parts/**] }\nshelves:\n" +
			"  pages: { at: src/pages/<page>/, inside: { parts: { takes: [{ pool: parts, needed_by: one of pages }] } " +
			"} }\n" +
			"  unused: { at: src/unused/, takes: [{ pool: parts, needed_by: none }] }\n" +
			"  shared: { at: src/parts/, takes: [{ pool: parts }] }\n  packages: packages/\n",
	}
	mentions := func(format string) string {
		var text strings.Builder
		for i := range 100 {
			text.WriteString(strings.ReplaceAll(format, "#", fmt.Sprint(i)))
		}
		return head + "shelves:\n" + moving + "  packages: packages/\nmentions:\n" + text.String()
	}
	out["100 mentions in code"] = mentions("  - { file: 'src/tools/tool#<name>.ts', like: 'tool#<name>', in_code: " +
		"true }\n")
	out["100 mentions by look"] = mentions("  - { file: 'src/views/v#/<name>.ts', like: 'view#:<name>' }\n")
	out["100 mentions by key"] = mentions("  - { in: '**/*.json', key: 'views.v#', file: <path> }\n")
	for _, n := range []int{5, 50, 200, 500} {
		for kind, format := range map[string]string{
			"plain":      "  s#: packages/@/\n",
			"from":       "  s#: { at: 'libs/@/', from: ['old/@/**', 'old/*.@.ts'] }\n",
			"two names":  "  s#: { at: 'libs/l#/', takes: [{ name: '*Name#.ts' }, { name: '*Other#.tsx' }] }\n",
			"uses":       "  s#: { at: packages/@/, uses: [parts, pages, s0] }\n",
			"laid out":   "  s#: { at: 'apps/a#/<x>/', laid_out_as: base/ }\n",
			"declares":   "  s#: { at: 'libs/l#/', takes: [{ declares: { class: 'Kind#*' } }] }\n",
			"placehold.": "  s#: { at: 'libs/l#/<a|kebab>/', from: ['old/@/<a>/**'] }\n",
		} {
			var text strings.Builder
			text.WriteString(head + "shelves:\n" + moving)
			if kind == "laid out" {
				text.WriteString("  base: { at: base/in/, takes: [{ name: '*.in.ts' }] }\n")
			}
			for i := range min(n, len(r.packages)) {
				text.WriteString(strings.NewReplacer("#", fmt.Sprint(i), "@", r.packages[i]).Replace(format))
			}
			out[fmt.Sprintf("%d shelves, %s", n, kind)] = text.String()
		}
	}
	return out
}

// measureReal measures the program on a real tree.
func measureReal(program string, from []string, files, runs int) error {
	dir, err := os.MkdirTemp("", "bench-real-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	r, err := lay(filepath.Join(dir, "tree"), from, files)
	if err != nil {
		return err
	}
	fmt.Printf("%d files of %d packages, %.0f MB; medians of %d runs, by processor time\n\n", r.files, len(r.packages),
		float64(r.bytes)/1e6, runs)
	written := map[string]string{}
	for name, text := range r.conventions() {
		p := filepath.Join(dir, strings.NewReplacer(" ", "-", ",", "").Replace(name)+".yaml")
		if err := os.WriteFile(p, []byte(text), 0o644); err != nil {
			return err
		}
		written[name] = p
	}
	if err := measureSmall(program, dir, written); err != nil {
		return err
	}
	var b bench
	run := func(name, word, convention string, args ...string) *command {
		return b.add(name, nil, program,
			append([]string{word, "-q", "--root", r.root, "--convention", written[convention]}, args...)...)
	}
	grep := b.add("rg import", nil, "rg", "import", r.root)
	check, planned := run("check", "check", "plain"), run("plan, 1,500 files move", "plan", "plain")
	home, misplaced := run("why, at home", "why", "plain", "src/pages/p1/Page5.tsx"),
		run("why, misplaced", "why", "plain", "src/parts/Part5.tsx")
	rich := map[string]*command{}
	for _, name := range slices.Sorted(maps.Keys(written)) {
		if name != "plain" {
			rich[name] = run("check, "+name, "check", name)
		}
	}
	b.run(runs)
	fmt.Println()
	allowed := 4.0
	if r.files > 60_000 {
		allowed = 5
	}
	budget("check, against one rg", ratio(check, grep), allowed)
	for _, name := range slices.Sorted(maps.Keys(rich)) {
		budget("check with "+name+", against check", ratio(rich[name], check), 1.5)
	}
	budget("plan, against check", ratio(planned, check), 3)
	budget("why of a file at home, against check", ratio(home, check), 1)
	budget("why of a misplaced file, against check", ratio(misplaced, check), 1.5)
	budget("peak memory of plan, against source bytes", float64(planned.memory)/float64(r.bytes), 2.5)
	if err := r.measureSteps(program, dir); err != nil {
		return err
	}
	return r.measureSince(program, written["plain"], runs)
}

// measureSince measures a check of a few files that changed since the last commit.
func (r *real) measureSince(program, convention string, runs int) error {
	git := func(args ...string) error {
		out, err := exec.Command("git",
			append([]string{"-C", r.root, "-c", "user.name=bench", "-c", "user.email=bench@example.org"},
				args...)...).CombinedOutput()
		if err != nil {
			return fmt.Errorf("git %s: %w: %s", args[0], err, out)
		}
		return nil
	}
	if err := errors.Join(git("init", "-q"), git("add", "-fA"), git("commit", "-qm", "all")); err != nil {
		return err
	}
	for i := range 10 {
		if err := put(r.root, fmt.Sprintf("src/pages/p%d/Page%d.tsx", i, i),
			"export const changed = true\n"); err != nil {
			return err
		}
	}
	var b bench
	args := []string{"check", "-q", "--root", r.root, "--convention", convention}
	check, since := b.add("check of a work tree", nil, program, args...), b.add("check --since HEAD", nil, program,
		append(args, "--since", "HEAD")...)
	b.run(runs)
	fmt.Println()
	budget("check of ten files that changed, against check", ratio(since, check), 1)
	return nil
}

// measureSteps carries eight steps out, which can be done once on a tree.
func (r *real) measureSteps(program, dir string) error {
	const steps = 8
	text := "crooked: 1\nleave: { stay: ['*', settings/**] }\nshelves:\n"
	for i := range steps {
		text += fmt.Sprintf("  a%d: { at: src/shared/a%d/, from: ['src/parts/*%d.tsx'] }\n", i, i, i)
	}
	rules := filepath.Join(dir, "steps.yaml")
	if err := os.WriteFile(rules, []byte(text+"  parts: src/parts/\n  pages: src/pages/\n  packages: packages/\n"),
		0o600); err != nil {
		return err
	}
	args := []string{"-q", "--root", r.root, "--convention", rules}
	_, first, _ := once(program, append([]string{"plan"}, args...)...)
	_, all, _ := once(program, append([]string{"straighten", "--yes", "--dirty", "--steps"}, args...)...)
	budget("a step, against the plan of all", (all-first).Seconds()/steps/first.Seconds(), 0.5)
	return nil
}

// measureSmall measures what a person waits for on a small project: conventions of many shelves, and settings in one
// line.
func measureSmall(program, dir string, written map[string]string) error {
	root := filepath.Join(dir, "small")
	if err := os.MkdirAll(filepath.Join(root, "src"), 0o755); err != nil {
		return err
	}
	if err := os.WriteFile(filepath.Join(root, "src", "a.ts"), nil, 0o600); err != nil {
		return err
	}
	wall := func(convention string) float64 {
		var best time.Duration
		for range 3 {
			if took, _, _ := once(program, "check", "-q", "--root", root, "--convention", convention); best == 0 ||
				took < best {
				best = took
			}
		}
		return best.Seconds()
	}
	for _, name := range slices.Sorted(maps.Keys(written)) {
		switch {
		case strings.HasPrefix(name, "200 "):
			budget("seconds for a convention of "+name, wall(written[name]), 0.05)
		case strings.HasPrefix(name, "500 "):
			budget("seconds for a convention of "+name, wall(written[name]), 0.3)
		}
	}
	if err := os.WriteFile(filepath.Join(root, "long.json"), []byte(longSettings(1<<20)), 0o600); err != nil {
		return err
	}
	budget("seconds for settings of 1 MB in one line", wall(written["plain"]), 1)
	first, err := firstOutput(program)
	if err != nil {
		return err
	}
	budget("seconds to the demo's first output", first.Seconds(), 0.03)
	fmt.Println()
	return nil
}

// firstOutput is how long the demo takes until it says something.
func firstOutput(program string) (time.Duration, error) {
	cmd := exec.Command(program, "demo")
	out, err := cmd.StdoutPipe()
	if err != nil {
		return 0, err
	}
	begun := time.Now()
	if err := cmd.Start(); err != nil {
		return 0, err
	}
	if _, err := out.Read(make([]byte, 1)); err != nil {
		return 0, err
	}
	took := time.Since(begun)
	if _, err := io.Copy(io.Discard, out); err != nil {
		return 0, err
	}
	return took, cmd.Wait()
}

func ratio(a, b *command) float64 { return a.cpu.Seconds() / b.cpu.Seconds() }
