// Package moves_test takes single files and folders of real projects to random places and back, one at a time, as
// somebody would by hand. For a sample the language's own compiler must say there, and when they are back, what it said
// before. What is back may name others in the way that it had to while it was away; undo of both gives every byte back.
package moves_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/plan"
	"crookedshelf/oracle/tree"
)

// moves is how many things of each project are moved: a few, or as many as the environment says.
func moves() int {
	n := 4
	fmt.Sscan(os.Getenv("RANDOM_MOVES"), &n)
	return n
}

// samples is how often a compiler is asked in each project: it takes longer than all moves.
func samples() int { return min(3, 1+moves()/50) }

func TestModulesOfGo(t *testing.T) {
	for _, module := range []string{"github.com/go-chi/chi/v5@v5.2.1", "github.com/pelletier/go-toml/v2@v2.2.4",
		"github.com/gin-gonic/gin@v1.10.0", "github.com/yuin/goldmark@v1.7.13", "github.com/goccy/go-yaml@v1.19.2"} {
		t.Run(module, func(t *testing.T) {
			dir := tree.Module(t, module)
			wander(t, dir, ".go", func() []string {
				cmd := exec.Command("go", "vet", "./...")
				cmd.Dir = dir
				cmd.Env = append(os.Environ(), "GOFLAGS=-mod=mod", "GOWORK=off")
				out, _ := cmd.CombinedOutput()
				return withoutPlaces(string(out), func(line string) bool { return strings.HasPrefix(line, "#") })
			})
		})
	}
}

func TestPackagesOfTypeScript(t *testing.T) {
	modules := tree.NeedModules(t, "npm")
	for _, name := range []string{"rxjs", "@reduxjs/toolkit", "ra-core"} {
		t.Run(name, func(t *testing.T) {
			dir := t.TempDir()
			require.NoError(t, os.CopyFS(filepath.Join(dir, "src"), os.DirFS(filepath.Join(modules, name, "src"))))
			require.NoError(t, os.WriteFile(filepath.Join(dir, "tsconfig.json"), []byte(`{ "include": ["src"], "compilerOptions": {
  "target": "es2020", "module": "esnext", "moduleResolution": "bundler", "jsx": "react-jsx", "lib": ["es2022", "dom"],
  "strict": true, "noEmit": true, "skipLibCheck": true, "types": [] } }`), 0o600))
			require.NoError(t, os.Symlink(modules, filepath.Join(dir, "node_modules")))
			wander(t, dir, ".ts", func() []string {
				cmd := exec.Command("node", filepath.Join(modules, "typescript", "bin", "tsc"), "--pretty", "false", "-p", dir)
				cmd.Dir = dir
				out, _ := cmd.CombinedOutput()
				return withoutPlaces(string(out), func(line string) bool { return strings.HasPrefix(line, " ") })
			})
		})
	}
}

func TestPackagesOfPython(t *testing.T) {
	here, err := filepath.Abs(filepath.Join("..", "pypi", "venv"))
	require.NoError(t, err)
	if _, err := os.Stat(filepath.Join(here, "ready")); err != nil {
		const message = "the comparison needs its toolchain: oracle/pypi/install.sh"
		require.Empty(t, os.Getenv("CI"), message)
		t.Skip(message)
	}
	for _, name := range []string{"mistune", "tomlkit"} {
		t.Run(name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), name)
			require.NoError(t, os.CopyFS(dir, os.DirFS(filepath.Join(here, "sources", name))))
			wander(t, dir, ".py", func() []string {
				cmd := exec.Command(filepath.Join(here, "bin", "python"), "-m", "pytest", "-q", "-p", "no:cacheprovider",
					"--ignore-glob=*/test_security_*", "--ignore-glob=*/test_inline_limits*", ".") // these measure time
				cmd.Dir = dir
				cmd.Env = append(os.Environ(), "PYTHONPATH=src:.", "PYTHONDONTWRITEBYTECODE=1")
				out, _ := cmd.CombinedOutput()
				lines := strings.Split(strings.TrimSpace(string(out)), "\n")
				said, _, _ := strings.Cut(lines[len(lines)-1], " in ") // 12 passed in 0.3s
				require.Contains(t, said, "passed", string(out))
				return []string{said}
			})
		})
	}
}

// kind is the kind of an error, behind which it names types and their files.
var kind = regexp.MustCompile(`^(error TS\d+): .*`)

// withoutPlaces are what a compiler says, without where it says it, in order.
func withoutPlaces(out string, passes func(line string) bool) (said []string) {
	for line := range strings.Lines(out) {
		if passes(line) {
			continue
		}
		if _, after, found := strings.Cut(line, ": "); found {
			line = after
		}
		said = append(said, strings.TrimSpace(kind.ReplaceAllString(line, "$1")))
	}
	slices.Sort(said)
	return said
}

// wander takes files and folders to random places and back. What is refused or blocked changes nothing, and is counted.
func wander(t *testing.T, dir, ending string, ask func() []string) {
	t.Helper()
	before, err := tree.Hashes(dir)
	require.NoError(t, err)
	var said []string
	if ask != nil {
		said = ask()
	}
	random := rand.New(rand.NewPCG(1, uint64(len(before))))
	places := choices(before, ending)
	moved, same, stayed, asked, refused := 0, 0, 0, 0, 0
	for attempt := 0; moved < moves() && attempt < 4*moves(); attempt++ {
		from := places[random.IntN(len(places))]
		to := target(random, places, from)
		back, why := move(t, dir, from, to)
		if why != "" {
			refused++
			require.Empty(t, changed(t, dir, before), "%s to %s was refused: %s", from, to, why)
			continue
		}
		moved++
		if ask != nil && asked < samples() {
			require.Equal(t, said, ask(), "%s to %s", from, to)
		}
		undone := 2
		if why := moveAll(t, dir, back); why != "" { // what it met there can't be told from its own
			t.Logf("%s stays in %s: %s", from, to, why)
			stayed++
			undone = 1
		} else if changed(t, dir, before) == "" {
			same++
		}
		if ask != nil && asked < samples() {
			asked++
			require.Equal(t, said, ask(), "%s to %s and back", from, to)
		}
		for range undone {
			_, err := engine.Undo(dir, journal.Range{}, true)
			require.NoError(t, err)
		}
		require.Empty(t, changed(t, dir, before), "%s to %s and back, and undo", from, to)
	}
	require.Positive(t, moved)
	require.LessOrEqual(t, stayed, 1+moved/8)
	t.Logf("%d moved, %d of them and back, %d to the same bytes at once and all by undo; the compiler was asked of %d; "+
		"%d were refused", moved, moved-stayed, same, asked, refused)
}

// choices are the files of a kind and the folders of a project, in order.
func choices(hashes map[string]string, ending string) (out []string) {
	for p, h := range hashes {
		if strings.ContainsAny(path.Base(p)[:1], "._") || strings.Contains(p, "testdata") || p == "src" {
			continue
		}
		if h == "folder" || path.Ext(p) == ending {
			out = append(out, filepath.ToSlash(p))
		}
	}
	slices.Sort(out)
	return out
}

// target is a place for a file or a folder: a folder of the project, a new one, or a new name.
func target(random *rand.Rand, places []string, from string) string {
	switch random.IntN(3) {
	case 0:
		if name, test := strings.CutPrefix(path.Base(from), "test_"); test { // else nobody would run it
			return path.Join(path.Dir(from), "test_renamed_"+name)
		}
		return path.Join(path.Dir(from), "renamed_"+path.Base(from))
	case 1:
		return fmt.Sprintf("%s/zone%d/", path.Dir(from), random.IntN(3))
	}
	for {
		if dir := places[random.IntN(len(places))]; path.Ext(dir) == "" {
			return dir + "/"
		}
	}
}

// move moves something, and gives the moves that take it back; or why it is refused.
func move(t *testing.T, dir, from, to string) (back []plan.Asked, why string) {
	t.Helper()
	p, err := engine.OpenToMove(dir, "")
	require.NoError(t, err)
	defer p.Close()
	asked, err := p.Moves(engine.Moving{From: []string{from}, To: to})
	if err != nil {
		return nil, err.Error()
	}
	made, why := carryOut(t, p, asked)
	if why != "" {
		return nil, why
	}
	for _, m := range made.Moves() {
		back = append(back, plan.Asked{From: m.To, To: m.From})
	}
	slices.SortFunc(back, func(a, b plan.Asked) int { return strings.Compare(a.From, b.From) })
	return back, ""
}

func moveAll(t *testing.T, dir string, asked []plan.Asked) (why string) {
	t.Helper()
	p, err := engine.OpenToMove(dir, "")
	require.NoError(t, err)
	defer p.Close()
	_, why = carryOut(t, p, asked)
	return why
}

func carryOut(t *testing.T, p *engine.Project, asked []plan.Asked) (*plan.Plan, string) {
	t.Helper()
	made, outcome, err := p.Plan(engine.PlanOptions{Asked: asked})
	if err != nil {
		return nil, err.Error()
	}
	if len(made.Blocked) > 0 {
		return nil, made.Blocked[0].From + ": " + made.Blocked[0].Reason
	}
	for _, w := range made.Warnings {
		if strings.Contains(w, "is no part of the project: from") { // what it needs is not moved, and the plan says so
			return nil, w
		}
	}
	require.NoError(t, p.Straighten(outcome, "", journal.Part{}, time.Now()))
	return made, ""
}

// changed says what is not as it was; a folder that was made may stay.
func changed(t *testing.T, dir string, before map[string]string) string {
	t.Helper()
	after, err := tree.Hashes(dir)
	require.NoError(t, err)
	for p, h := range after {
		if _, was := before[p]; !was && h == "folder" {
			delete(after, p)
		}
	}
	return tree.Differences(before, after)
}
