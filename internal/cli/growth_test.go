package cli_test

import (
	"bufio"
	"bytes"
	"cmp"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// counters is the program that adds counters up.
var counters = sync.OnceValues(func() (string, error) {
	out, err := exec.Command("go", "tool", "-n", "covdata").Output()
	return strings.TrimSpace(string(out)), err
})

// counted is the program built with a counter in each of its blocks, and in those of the standard library that search,
// cut and sort.
var counted = sync.OnceValues(func() (string, error) {
	file := filepath.Join(filepath.Dir(program), "counted")
	build := exec.Command("go", "build", "-cover", "-covermode=count",
		"-coverpkg=crookedshelf/...,regexp,strings,bytes,slices,sort,maps,encoding/json", "-o", file,
		"crookedshelf/cmd/crooked")
	if out, err := build.CombinedOutput(); err != nil {
		return "", fmt.Errorf("%w: %s", err, out)
	}
	return file, nil
})

// steps are how often each block of the program ran, by its place.
type steps map[string]int

func (s steps) sum() (n int) {
	for _, count := range s {
		n += count
	}
	return n
}

// count runs the program and gives its steps. They are the same in each run, however busy the machine is.
func count(t *testing.T, dir string, args ...string) steps {
	t.Helper()
	program, err := counted()
	require.NoError(t, err)
	adder, err := counters()
	require.NoError(t, err)
	folder := t.TempDir()
	cmd := exec.Command(program, args...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "GOCOVERDIR="+folder, "GOMAXPROCS=1")
	out, err := cmd.CombinedOutput()
	require.NotContains(t, []int{-1, 2, 3}, cmd.ProcessState.ExitCode(), "%v\n%s", err, out[:min(len(out), 2000)])
	text := filepath.Join(folder, "text")
	said, err := exec.Command(adder, "textfmt", "-i", folder, "-o", text).CombinedOutput()
	require.NoError(t, err, string(said))
	file, err := os.Open(text)
	require.NoError(t, err)
	defer file.Close()
	s := steps{}
	for lines := bufio.NewScanner(file); lines.Scan(); {
		fields := strings.Fields(lines.Text())
		if len(fields) != 3 {
			continue
		}
		n, err := strconv.Atoi(fields[2])
		require.NoError(t, err)
		s[fields[0]] += n
	}
	return s
}

// excess names the blocks that grew more than in proportion.
func excess(first, second, third steps) string {
	over := func(place string) int { return third[place] - second[place] - 2*(second[place]-first[place]) }
	var out strings.Builder
	for _, place := range slices.SortedFunc(maps.Keys(third),
		func(a, b string) int { return cmp.Compare(over(b), over(a)) })[:12] {
		fmt.Fprintf(&out, "%10d %10d %10d  %s\n", first[place], second[place], third[place], place)
	}
	return out.String()
}

// a dimension of a project that is doubled, and doubled again.
type dimension struct {
	name string
	n    int
	args string // of the command; a plan where there are none
	make func(n int, put func(name, text string))
	runs func(t *testing.T, dir string, n int) // what is done before
}

// repeated puts a text together from numbered copies.
func repeated(n int, format string) string {
	var out strings.Builder
	for i := range n {
		out.WriteString(strings.ReplaceAll(format, "#", strconv.Itoa(i)))
	}
	return out.String()
}

// TestNothingGrowsWithASquare doubles the input twice: what the second doubling adds may be little more than twice what
// the first one added.
func TestNothingGrowsWithASquare(t *testing.T) {
	if testing.Short() {
		t.Skip("counts millions of steps")
	}
	for _, d := range dimensions() {
		t.Run(d.name, func(t *testing.T) {
			t.Parallel()
			args := strings.Fields(cmp.Or(d.args, "plan -q"))
			var runs [3]steps
			for i := range runs {
				dir, n := t.TempDir(), d.n<<i
				d.make(n, func(name, text string) {
					p := filepath.Join(dir, filepath.FromSlash(name))
					require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
					require.NoError(t, os.WriteFile(p, []byte(text), 0o644))
				})
				if d.runs != nil {
					d.runs(t, dir, n)
				}
				runs[i] = count(t, dir, args...)
			}
			first, second := runs[1].sum()-runs[0].sum(), runs[2].sum()-runs[1].sum()
			grown := float64(second) / float64(first)
			t.Logf("%d, %d, %d steps: %.2f", runs[0].sum(), runs[1].sum(), runs[2].sum(), grown)
			require.Less(t, grown, 2.4, "where it grows most:\n%s", excess(runs[0], runs[1], runs[2]))
			require.Greater(t, grown, 1.5, "the dimension does not grow")
		})
	}
}

// moveBack puts the moved file of a small project back.
func moveBack(dir string) error {
	if err := os.MkdirAll(filepath.Join(dir, "src/old"), 0o755); err != nil {
		return err
	}
	return os.Rename(filepath.Join(dir, "src/new/a.ts"), filepath.Join(dir, "src/old/a.ts"))
}

// TestLargeThings: what is larger than anybody writes by hand is read to its end, in seconds.
func TestLargeThings(t *testing.T) {
	if testing.Short() {
		t.Skip("writes and reads tens of megabytes")
	}
	for _, row := range []struct {
		name  string
		files map[string]string
		code  int
		says  string
	}{
		{"a line of 12 MB of settings",
			map[string]string{"x.json": `{"a": [` + repeated(400_000, `"begin name: dir", "src/x", `) + "1]}\n"}, 1,
			"1 finding"},
		{"a line of 12 MB of code", map[string]string{"x.js": repeated(400_000, "var a=f('b/c')+/d/.test(e);") + "\n"},
			1, "1 finding"},
		{"10,000 exceptions", map[string]string{"crooked.yaml": moving + "exceptions:\n" +
			repeated(10_000, "  - { file: src/x#/**, rule: misplaced, because: later }\n")}, 1, "1 finding"},
		{"aliases of 5,000 folders", map[string]string{
			"tsconfig.json": `{"compilerOptions": {"paths": {"@a/*": ["./src/old/*"]` +
				repeated(5_000, `, "@p#/*": ["./src/p#/*"]`) + "}}}",
			"src/b.ts": "import '@a/a'\n" + repeated(2_000, "import '@p#/c'\n"),
		}, 1, "7001 findings"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			dir := small(t, "-- crooked.yaml --\n"+moving+"-- src/old/a.ts --\n")
			for name, text := range row.files {
				require.NoError(t, os.WriteFile(filepath.Join(dir, filepath.FromSlash(name)), []byte(text), 0o600))
			}
			begun := time.Now()
			check := run(t, dir, "check")
			assert.Equal(t, row.code, check.code, check.err)
			assert.Contains(t, check.out, row.says)
			assert.Zero(t, run(t, dir, "plan", "-q").code)
			assert.Less(t, time.Since(begun), 90*time.Second)
		})
	}
}

// TestTooLittleMemory: what the program may not have is told in one sentence.
func TestTooLittleMemory(t *testing.T) {
	if runtime.GOOS != "linux" {
		t.Skip("the system tells too little of the memory that a process has")
	}
	dir := small(t, tools)
	text := bytes.Repeat([]byte("const a = 'b'\n"), 1<<17)
	for i := range 200 {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "src", "utils", fmt.Sprintf("long%d.ts", i)), text, 0o600))
	}
	cmd := exec.Command("sh", "-c", "ulimit -v 950000; exec "+program+" plan")
	cmd.Dir = dir
	out, _ := cmd.CombinedOutput()
	require.Equal(t, 3, cmd.ProcessState.ExitCode(), string(out[:min(len(out), 2000)]))
	require.Equal(t, "crooked: the memory that it may have (927 MB, see ulimit -v) is not enough for this project; "+
		"nothing was changed\n", string(out))
}
