//go:build linux

package cli_test

import (
	"fmt"
	"io"
	"io/fs"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// writer is somebody who goes on working while straightens and undos run. Every content that is written has a mark of
// its own.
type writer struct {
	dir       string
	random    *rand.Rand
	places    []string
	written   int
	destroyed map[string]bool // marks that the writer wrote over or removed itself
}

var markOf = regexp.MustCompile(`mark-\d+;`)

func (w *writer) destroy(content []byte) {
	for _, m := range markOf.FindAll(content, -1) {
		w.destroyed[string(m)] = true
	}
}

// act does one thing to one place, as editors and other programs do.
func (w *writer) act() {
	p := filepath.Join(w.dir, w.places[w.random.IntN(len(w.places))])
	content := fmt.Sprintf("export const u = 1 // mark-%d;\n", w.written)
	switch w.random.IntN(10) {
	case 0, 1, 2, 3: // a new file is renamed into the place
		temporary := filepath.Join(w.dir, ".saving")
		if os.WriteFile(temporary, []byte(content), 0o644) != nil {
			return
		}
		if old, err := os.ReadFile(p); err == nil {
			w.destroy(old)
		}
		if os.Rename(temporary, p) == nil {
			w.written++
		}
	case 4, 5, 6, 7: // the file is written into
		file, err := os.OpenFile(p, os.O_RDWR, 0)
		if err != nil {
			return
		}
		defer file.Close()
		old, _ := io.ReadAll(file)
		if file.Truncate(0) != nil {
			return
		}
		w.destroy(old)
		if _, err := file.WriteAt([]byte(content), 0); err == nil {
			w.written++
		}
	case 8: // it is made, if it is not there
		file, err := os.OpenFile(p, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
		if err != nil {
			return
		}
		if _, err := file.WriteString(content); err == nil {
			w.written++
		}
		file.Close()
	case 9: // it goes
		aside := filepath.Join(w.dir, ".going")
		if os.Rename(p, aside) == nil { // so that what goes is what is looked at
			old, _ := os.ReadFile(aside)
			w.destroy(old)
			_ = os.Remove(aside)
		}
	}
}

// What is written while straightens and undos run is never lost: it is in the tree, or in the journal.
func TestAWriterWhileStraightensAndUndosRun(t *testing.T) {
	t.Parallel()
	dir := small(t, crowded())
	w := &writer{dir: dir, random: rand.New(rand.NewPCG(3, 9)), destroyed: map[string]bool{}}
	for i := range 75 {
		w.places = append(w.places, fmt.Sprintf("src/utils/u%d.ts", i), fmt.Sprintf("src/tools/u%d.ts", i),
			fmt.Sprintf("src/components/g%d/c%d.ts", i%9, i), fmt.Sprintf("src/parts/g%d/c%d.ts", i%9, i),
			fmt.Sprintf("src/parts/g%d/index.ts", i%9))
	}
	var pace atomic.Int64 // the most nanoseconds between two acts
	pace.Store(int64(time.Millisecond))
	stop, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		for {
			select {
			case <-stop:
				return
			default:
				w.act()
				time.Sleep(time.Duration(w.random.Int64N(pace.Load())))
			}
		}
	}()
	codes := map[string]int{}
	runs := killRuns() // of each
	for i := range runs {
		pace.Store([]int64{300_000, 4_000_000, 20_000_000, 80_000_000}[i%4])
		codes[fmt.Sprint("straighten ", run(t, dir, "straighten", "--yes", "--partial", "--dirty", "-q").code)]++
		codes[fmt.Sprint("undo ", run(t, dir, "undo", "-q").code)]++
	}
	close(stop)
	<-ended
	var all strings.Builder
	require.NoError(t, filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		if err == nil && d.Type().IsRegular() {
			content, err := os.ReadFile(p)
			require.NoError(t, err)
			all.Write(content)
		}
		return err
	}))
	found := map[string]bool{}
	for _, m := range markOf.FindAllString(all.String(), -1) {
		found[m] = true
	}
	alive := 0
	for i := range w.written {
		if m := fmt.Sprintf("mark-%d;", i); !w.destroyed[m] {
			alive++
			assert.True(t, found[m], "%s is lost", m)
		}
	}
	t.Logf("%d straightens and undos each, %d contents written, %d of them not written over by the writer; exit codes "+
		"%v", runs, w.written, alive, codes)
	assert.Greater(t, alive, 50)
	assert.Positive(t, codes["straighten 3"], "the writer came in the way of some")
}

// A folder on the way is swapped for a link while straightens and undos run: nothing is written where the link leads,
// and what is in the folder that was swapped is there in the end.
func TestAFolderIsSwappedForALinkMeanwhile(t *testing.T) {
	t.Parallel()
	dir, outside := small(t, crowded()), t.TempDir()
	hooks := filepath.Join(dir, ".git", "hooks")
	require.NoError(t, os.MkdirAll(hooks, 0o755))
	old := projecttest.Read(t, dir)
	stop, ended := make(chan struct{}), make(chan struct{})
	swaps := 0
	go func() {
		defer close(ended)
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
			}
			folder := filepath.Join(dir, []string{"src/tools", "src/parts", "src/utils", "src/components"}[i%4])
			if os.Rename(folder, folder+"-aside") != nil {
				continue
			}
			swaps++
			if os.Symlink([]string{outside, hooks}[i%2], folder) == nil {
				time.Sleep(time.Duration(i%3) * time.Millisecond)
				_ = os.Remove(folder)
			}
			// somebody made it anew: what was in the one aside goes there
			if os.Rename(folder+"-aside", folder) != nil {
				files, _ := filepath.Glob(folder + "-aside/*")
				for _, f := range files {
					_ = os.Rename(f, filepath.Join(folder, filepath.Base(f)))
				}
				_ = os.RemoveAll(folder + "-aside")
			}
			time.Sleep(time.Duration(i%7) * time.Millisecond)
		}
	}()
	codes := map[string]int{}
	for range killRuns() / 2 {
		codes[fmt.Sprint("straighten ", run(t, dir, "straighten", "--yes", "--partial", "--dirty", "-q").code)]++
		codes[fmt.Sprint("undo ", run(t, dir, "undo", "-q").code)]++
	}
	close(stop)
	<-ended
	for _, folder := range []string{outside, hooks} {
		entries, err := os.ReadDir(folder)
		require.NoError(t, err)
		assert.Empty(t, entries, "nothing came to %s", folder)
	}
	t.Logf("%d swaps; %v; %d of %d paths as they were", swaps, codes, len(withoutJournal(projecttest.Read(t, dir))),
		len(old))
	assert.Greater(t, swaps, 10)
}

// Every call to the system by which files are changed fails once in a straighten and in an undo of the built program:
// the straighten takes itself back or is taken back by undo, and nothing wrong is left with exit code 0.
func TestEverySystemCallMayFailOnce(t *testing.T) {
	t.Parallel()
	strace, err := exec.LookPath("strace")
	if err != nil {
		require.Empty(t, os.Getenv("CI"), "strace is not installed")
		t.Skip("strace is not installed: faults can't be injected")
	}
	dir := small(t, crowded())
	old := projecttest.Read(t, dir)
	calls := []string{"renameat2", "renameat", "unlinkat", "mkdirat", "openat", "openat2", "write", "fchmod", "fsync",
		"syncfs", "newfstatat", "getdents64", "read", "fstat", "flock"}
	step := 97 // a sample; CI takes more of them
	if os.Getenv("CI") != "" {
		step = 37
	}
	total := func(log string) map[string]int {
		text, err := os.ReadFile(log)
		require.NoError(t, err)
		out := map[string]int{}
		for line := range strings.Lines(string(text)) {
			if fields := strings.Fields(line); len(fields) > 4 {
				if n, err := strconv.Atoi(fields[3]); err == nil {
					out[fields[len(fields)-1]] = n
				}
			}
		}
		return out
	}
	faulty := func(inject string, args ...string) int {
		cmd := exec.Command(strace, append([]string{"-f", "-qq", "-o", "/dev/null", "-e", inject, program}, args...)...)
		cmd.Dir = dir
		_ = cmd.Run()
		return cmd.ProcessState.ExitCode()
	}
	counts := map[string]map[string]int{}
	for _, command := range []string{"straighten", "undo"} {
		log := filepath.Join(t.TempDir(), "count")
		args := []string{"-f", "-c", "-o", log, program, command, "-q"}
		if command == "straighten" {
			args = append(args, "--yes")
		}
		cmd := exec.Command(strace, args...)
		cmd.Dir = dir
		require.NoError(t, cmd.Run())
		counts[command] = total(log)
	}
	require.Equal(t, old, projecttest.Read(t, dir))
	runs, failed := 0, 0
	for _, call := range calls {
		for n := 1; n <= counts["straighten"][call]; n += step {
			for _, fault := range []string{"EIO", "ENOSPC"} {
				code := faulty(fmt.Sprintf("inject=%s:error=%s:when=%d", call, fault, n), "straighten", "--yes", "-q")
				runs++
				now := projecttest.Read(t, dir)
				if code == 3 {
					failed++
					if pending := run(t, dir, "check"); pending.code != 3 {
						require.Equal(t, len(old), len(withoutJournal(now)),
							"%s %d: an error means that nothing has changed", call, n)
					}
				}
				undone := run(t, dir, "undo")
				require.Contains(t, []int{0, 1}, undone.code, "%s %d %s: %s", call, n, fault, undone.err)
				require.Equal(t, old, withoutJournal(projecttest.Read(t, dir)), "%s %d %s, exit code %d", call, n,
					fault, code)
				require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
			}
		}
		for n := 1; n <= counts["undo"][call]; n += step {
			require.Equal(t, 0, run(t, dir, "straighten", "--yes", "-q").code)
			code := faulty(fmt.Sprintf("inject=%s:error=EIO:when=%d", call, n), "undo", "-q")
			runs++
			if code == 0 {
				require.Equal(t, old, withoutJournal(projecttest.Read(t, dir)), "undo, %s %d", call, n)
			} else {
				failed++
			}
			again := run(t, dir, "undo")
			require.Contains(t, []int{0, 1}, again.code, "undo, %s %d: %s", call, n, again.err)
			require.Equal(t, old, withoutJournal(projecttest.Read(t, dir)), "undo, %s %d, exit code %d", call, n, code)
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
		}
	}
	t.Logf("%d runs, %d failed", runs, failed)
	assert.Positive(t, failed)
}

// withoutJournal leaves the journal out of what was read of a folder.
func withoutJournal(files map[string]string) map[string]string {
	out := map[string]string{}
	for p, content := range files {
		if !strings.HasPrefix(p, ".crooked/") {
			out[p] = content
		}
	}
	return out
}
