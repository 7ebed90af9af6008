package golang_test

import (
	"fmt"
	"maps"
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

	"crookedshelf/demo"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/oracle/tree"
)

// ask runs the go command, and gives what it says without the places at which it says it.
func ask(t *testing.T, dir string, args ...string) []string {
	t.Helper()
	return askWith(t, dir, "mod", args...)
}

// askWith says how the go command may deal with go.mod: mod writes it anew, readonly reads it.
func askWith(t *testing.T, dir, mod string, args ...string) []string {
	t.Helper()
	cmd := exec.Command("go", args...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "GOFLAGS=-mod="+mod, "GOWORK=off")
	out, _ := cmd.CombinedOutput()
	var lines []string
	for line := range strings.Lines(string(out)) {
		if line = said.ReplaceAllString(strings.TrimSpace(line), ""); line != "" && !strings.HasPrefix(line, "#") {
			lines = append(lines, line)
		}
	}
	slices.Sort(lines)
	return slices.Compact(lines)
}

// said are the places in what the go command says, and the times that tests took.
var said = regexp.MustCompile(`^\S+?:\d+:\d+: |\t[\d.]+s$| \([\d.]+s\)$|\(cached\)`)

// straighten carries out what can be carried out of a convention, and gives how many files moved.
func straighten(t *testing.T, dir, convention string) int {
	t.Helper()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o600))
	p, err := engine.Open(dir, "")
	require.NoError(t, err)
	defer p.Close()
	made, outcome, err := p.Plan(engine.PlanOptions{})
	require.NoError(t, err)
	if made.Empty() {
		return 0
	}
	require.NoError(t, p.Straighten(outcome, "", journal.Part{}, fixedTime))
	return len(made.Moves())
}

// migrations are real modules with a convention each, by which many of their files move.
var migrations = []struct {
	module, convention string
	least              int
}{
	{"github.com/go-chi/chi/v5@v5.2.1",
		"crooked: 1\nshelves:\n  middleware: { at: http/middleware/, from: [middleware/**] }\n" +
			"  router: { at: router/, from: ['*.go'] }\n", 50},
	{"github.com/pelletier/go-toml/v2@v2.2.4", "crooked: 1\nshelves:\n  inner: { at: inside/, from: [internal/**] }\n" +
		"  unstable: { at: parts/unstable/, from: [unstable/**] }\n  programs: { at: tools/, from: [cmd/**] }\n" +
		"  document: { at: document/, from: ['*.go'] }\n", 50},
	{"github.com/gin-gonic/gin@v1.10.0",
		"crooked: 1\nshelves:\n  binding: { at: http/binding/, from: [binding/**] }\n" +
			"  render: { at: http/render/, from: [render/**] }\n  inner: { at: inside/, from: [internal/**] }\n" +
			"  tests: { at: checks/, from: [testdata/**, ginS/**] }\n", 50},
	{"github.com/labstack/echo/v4@v4.12.0", "crooked: 1\nshelves:\n" +
		"  middleware: { at: http/middleware/, from: [middleware/**] }\n", 50},
	{"github.com/yuin/goldmark@v1.7.13", "crooked: 1\nshelves:\n  tree: { at: syntax/tree/, from: [ast/**] }\n" +
		"  parser: { at: syntax/parser/, from: [parser/**] }\n  renderer: { at: output/renderer/, from: [renderer/**] }\n" +
		"  extension: { at: plugins/, from: [extension/**] }\n", 50},
	{"github.com/gorilla/mux@v1.8.1", "crooked: 1\nshelves:\n  router: { at: router/, from: ['*.go'] }\n", 16},
	{"github.com/alecthomas/chroma/v2@v2.17.2", "crooked: 1\nshelves:\n" +
		"  formatters: { at: out/formatters/, from: [formatters/**] }\n" +
		"  styles: { at: out/looks/, from: [styles/**] }\n" +
		"  lexers: { at: in/lexers/, from: [lexers/**] }\n  quick: { at: out/quick/, from: [quick/**] }\n", 900},
	{"github.com/goccy/go-yaml@v1.19.2", "crooked: 1\nshelves:\n" +
		"  reading: { at: internal/reading/, from: [scanner/**, lexer/**] }\n" +
		"  tree: { at: syntax/ast/, from: [ast/**] }\n  token: { at: syntax/token/, from: [token/**] }\n" +
		"  parser: { at: syntax/parser/, from: [parser/**] }\n", 12},
}

func TestRealModulesStillPassTheirTests(t *testing.T) {
	for _, m := range migrations {
		t.Run(m.module, func(t *testing.T) {
			t.Parallel()
			dir := tree.Module(t, m.module)
			before, vet := projecttest.Read(t, dir), ask(t, dir, "vet", "./...")
			tests := failing(ask(t, dir, "test", "./..."))
			require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), nil, 0o600))
			moved := straighten(t, dir, m.convention)
			require.GreaterOrEqual(t, moved, m.least)
			require.Subset(t, vet, withoutUnkeyed(ask(t, dir, "vet", "./...")))
			require.Subset(t, tests, failing(ask(t, dir, "test", "./...")))
			_, err := engine.Undo(dir, journal.Range{}, true)
			require.NoError(t, err)
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
			require.NoError(t, os.Remove(filepath.Join(dir, "crooked.yaml")))
			after := projecttest.Read(t, dir)
			for p, content := range before {
				require.Equal(t, content, after[p], p)
			}
			t.Logf("%d files moved, go vet and go test say the same, undo is exact", moved)
		})
	}
}

// The demo's service in Go is taken apart into layers, and still builds and passes its tests.
func TestTheDemosServiceIsTakenApart(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, demo.Rota()))
	convention, err := os.ReadFile(filepath.Join(dir, "crooked.yaml"))
	require.NoError(t, err)
	before := projecttest.Read(t, dir)
	require.Empty(t, ask(t, dir, "vet", "./..."))
	require.Equal(t, 11, straighten(t, dir, string(convention)))
	require.Empty(t, ask(t, dir, "vet", "./..."))
	results := ask(t, dir, "test", "./...")
	require.Empty(t, failing(slices.Clone(results)))
	for _, layer := range []string{"controllers", "services", "data"} {
		require.Contains(t, results, "ok  \thilltop.example/rota/internal/"+layer)
	}
	out, err := exec.Command("gofmt", "-l", dir).Output()
	require.NoError(t, err)
	require.Empty(t, string(out))
	_, err = engine.Undo(dir, journal.Range{}, true)
	require.NoError(t, err)
	require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
	require.Equal(t, before, projecttest.Read(t, dir))
}

// withoutUnkeyed leaves out what vet says of literals without keys: it does so for packages of other folders alone.
func withoutUnkeyed(lines []string) []string {
	return slices.DeleteFunc(lines, func(line string) bool { return strings.Contains(line, "unkeyed fields") })
}

// failing are the lines of tests that fail.
func failing(lines []string) []string {
	return slices.DeleteFunc(lines, func(line string) bool { return !strings.Contains(line, "FAIL") })
}

// Files are taken out of their packages at random. Whatever a plan does not block must still compile.
func TestWhatPartsAtRandomStillCompiles(t *testing.T) {
	for _, module := range []string{"github.com/pelletier/go-toml/v2@v2.2.4", "github.com/goccy/go-yaml@v1.19.2",
		"github.com/go-chi/chi/v5@v5.2.1"} {
		t.Run(module, func(t *testing.T) {
			t.Parallel()
			source := tree.Module(t, module)
			vet := ask(t, source, "vet", "./...")
			total := 0
			for seed := range uint64(rounds()) {
				dir := filepath.Join(t.TempDir(), fmt.Sprint(seed))
				require.NoError(t, os.CopyFS(dir, os.DirFS(source)))
				convention := atRandom(t, dir, rand.New(rand.NewPCG(seed, 3)))
				if convention == "" {
					continue
				}
				moved := straighten(t, dir, convention)
				total += moved
				require.Subset(t, vet, withoutUnkeyed(ask(t, dir, "vet", "./...")), "seed %d:\n%s", seed, convention)
			}
			require.Positive(t, total)
			t.Logf("%d files left their packages, and all compiles", total)
		})
	}
}

// rounds is how often files are chosen: a few times, or as often as the environment says.
func rounds() int {
	n := 8
	fmt.Sscan(os.Getenv("GO_MOVES_ROUNDS"), &n)
	return n
}

// atRandom makes a convention that takes some files out of their packages.
func atRandom(t *testing.T, dir string, random *rand.Rand) string {
	t.Helper()
	packages := map[string][]string{}
	for p := range projecttest.Read(t, dir) {
		if strings.HasSuffix(p, ".go") && !strings.Contains(p, "testdata/") && !strings.HasPrefix(p, "_") {
			packages[path.Dir(p)] = append(packages[path.Dir(p)], p)
		}
	}
	folders := slices.Sorted(maps.Keys(packages))
	to := map[string][]string{}
	for _, folder := range folders {
		files := packages[folder]
		slices.Sort(files)
		if random.IntN(10) < 5 {
			continue
		}
		if random.IntN(10) >= 3 {
			random.Shuffle(len(files), func(i, j int) { files[i], files[j] = files[j], files[i] })
			files = files[:1+random.IntN(min(len(files), 4))]
		}
		place := []string{fmt.Sprintf("moved/x%d", random.IntN(4)), folders[random.IntN(len(folders))],
			path.Join(folder, "sub")}[random.IntN(3)]
		if place != folder && place != "." {
			to[place] = append(to[place], files...)
		}
	}
	leaves := slices.Concat(slices.Collect(maps.Values(to))...)
	for place, files := range to { // a file that comes where one leaves would be taken on: such a convention is refused
		to[place] = slices.DeleteFunc(files, func(file string) bool {
			return slices.Contains(leaves, path.Join(place, path.Base(file)))
		})
		if len(to[place]) == 0 {
			delete(to, place)
		}
	}
	var out strings.Builder
	out.WriteString("crooked: 1\nshelves:\n")
	for i, place := range slices.Sorted(maps.Keys(to)) {
		fmt.Fprintf(&out, "  s%d: { at: %s/, from: [%q] }\n", i, place, strings.Join(to[place], `", "`))
	}
	if len(to) == 0 {
		return ""
	}
	return strings.ReplaceAll(out.String(), `\"`, `"`)
}

var fixedTime = time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)
