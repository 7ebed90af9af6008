//go:build unix

package cli_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	ossignal "os/signal"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// crowded is a project in which 150 files move and as many are edited.
func crowded() string {
	var text strings.Builder
	text.WriteString("-- crooked.yaml --\ncrooked: 1\nleave: { stay: [src/*] }\nshelves:\n" +
		"  tools: { at: src/tools/, from: src/utils/** }\n" +
		"  parts: { at: src/parts/<part>/, from: src/components/<part>/**, must: [{ file: index.ts, write: reexports " +
		"}] }\n")
	for i := range 75 {
		fmt.Fprintf(&text, "-- src/utils/u%d.ts --\nexport const u%d = %d\n", i, i, i)
		fmt.Fprintf(&text,
			"-- src/components/g%d/c%d.ts --\nimport { u%d } from '../../utils/u%d'\nexport const c%d = u%d\n", i%9, i,
			i, i, i, i)
	}
	return text.String()
}

// killRuns is how often a straighten is killed; CI does all of them.
func killRuns() int {
	if os.Getenv("CI") != "" {
		return 200
	}
	return 40
}

// The built program is killed at random moments of a straighten, and then of an undo. Undo gives the old tree in any
// case, or with --steps the tree before the step that was not finished.
func TestKilledAtRandomMoments(t *testing.T) {
	dir := small(t, crowded())
	old := projecttest.Read(t, dir)
	start := time.Now()
	require.Equal(t, 0, run(t, dir, "straighten", "--yes", "-q").code)
	whole := time.Since(start)
	require.Equal(t, 0, run(t, dir, "undo").code)
	require.Equal(t, old, projecttest.Read(t, dir))
	random := rand.New(rand.NewPCG(5, 8))
	halfway := 0
	kill := func(args ...string) {
		cmd := exec.Command(program, args...)
		cmd.Dir = dir
		require.NoError(t, cmd.Start())
		time.Sleep(time.Duration(random.Int64N(int64(whole) + 1)))
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
	}
	for i := range killRuns() {
		kill("straighten", "--yes", "-q")
		if told := run(t, dir, "check"); told.code == 3 {
			require.Contains(t, told.err, "was stopped half way; crooked undo gives the old tree back")
			halfway++
		}
		if i%3 == 0 {
			kill("undo")
		}
		require.Equal(t, 0, run(t, dir, "undo").code)
		require.Equal(t, old, projecttest.Read(t, dir), "run %d", i)
	}
	t.Logf("%d of %d were stopped half way", halfway, killRuns())
	if killRuns() >= 200 {
		assert.Positive(t, halfway, "no kill hit: the moments are chosen badly")
	}

	for range killRuns() / 20 {
		kill("straighten", "--steps", "--yes", "-q")
		pending := run(t, dir, "check").code == 3
		if pending {
			require.Equal(t, 0, run(t, dir, "undo").code)
		}
		require.NotEqual(t, 3, run(t, dir, "check").code, "what was finished is whole")
		require.Equal(t, 0, run(t, dir, "straighten", "--yes").code, "and can be gone on with")
		require.Equal(t, 0, run(t, dir, "undo", "--all").code)
		require.Equal(t, old, projecttest.Read(t, dir))
	}
}

// An interrupt lets the step that is under way be finished; what is left is left.
func TestInterrupt(t *testing.T) {
	t.Parallel()
	dir := small(t, crowded())
	old := projecttest.Read(t, dir)
	cmd := exec.Command(program, "straighten", "--steps", "--yes", "--verify-with", "sleep 0.3")
	cmd.Dir = dir
	require.NoError(t, cmd.Start())
	time.Sleep(700 * time.Millisecond)
	require.NoError(t, cmd.Process.Signal(syscall.SIGTERM))
	_ = cmd.Wait()
	assert.NotEqual(t, 3, run(t, dir, "check").code, "nothing is half done")
	assert.Equal(t, 0, run(t, dir, "undo", "--all").code)
	assert.Equal(t, old, projecttest.Read(t, dir))
}

// On a file system that runs full in the middle, everything is as it was, whatever the moment.
func TestFullFileSystem(t *testing.T) {
	t.Parallel()
	mount, tree := t.TempDir(), crowded()
	stopped := 0
	most := 2400 // KB: all of it fits
	for size := 620; size <= most; size += 40 {
		out, err := exec.Command("mount", "-t", "tmpfs", "-o", fmt.Sprintf("size=%dk", size), "tmpfs",
			mount).CombinedOutput()
		if err != nil {
			if os.Getenv("CI") != "" {
				t.Fatalf("a small file system can't be mounted: %s", out)
			}
			t.Skipf("a small file system can't be mounted: %s", out)
		}
		dir := filepath.Join(mount, "p")
		full := func() bool {
			defer func() { require.NoError(t, exec.Command("umount", "-l", mount).Run()) }()
			if !fits(dir, tree) {
				return true
			}
			old := projecttest.Read(t, dir)
			done := run(t, dir, "straighten", "--yes", "-q")
			if done.code == 0 {
				require.Equal(t, 0, run(t, dir, "undo").code)
			} else {
				require.Equal(t, 3, done.code, done.err)
				require.Contains(t, done.err, "no space left")
			}
			require.Equal(t, old, projecttest.Read(t, dir), "%d KB: %s", size, done.err)
			return done.code != 0
		}()
		if !full {
			assert.Greater(t, stopped, 3, "the file system ran full at several moments")
			return
		}
		stopped++
	}
	t.Fatal("it never fitted")
}

// fits writes a project by hand, and says whether there was room.
func fits(dir, text string) bool {
	for p, content := range projecttest.Files(text) {
		file := filepath.Join(dir, filepath.FromSlash(p))
		if os.MkdirAll(filepath.Dir(file), 0o755) != nil || os.WriteFile(file, []byte(content), 0o644) != nil {
			return false
		}
	}
	return true
}

// A second signal ends what the first lets be finished, whatever a check does.
func TestASecondSignalEnds(t *testing.T) {
	for _, signal := range []syscall.Signal{syscall.SIGINT, syscall.SIGTERM, syscall.SIGHUP} {
		if ossignal.Ignored(signal) { // under nohup a hangup ends nothing
			continue
		}
		dir := small(t, crowded())
		old := projecttest.Read(t, dir)
		cmd := exec.Command(program, "straighten", "--yes", "--verify-with", "touch begun; exec sleep 60")
		cmd.Dir = dir
		require.NoError(t, cmd.Start())
		require.Eventually(t, func() bool { _, err := os.Stat(filepath.Join(dir, "begun")); return err == nil },
			20*time.Second, 5*time.Millisecond)
		require.NoError(t, cmd.Process.Signal(signal))
		time.Sleep(100 * time.Millisecond)
		require.NoError(t, cmd.Process.Signal(syscall.Signal(0)), "the first one lets the step be finished")
		start := time.Now()
		for cmd.ProcessState == nil && time.Since(start) < 10*time.Second {
			_ = cmd.Process.Signal(signal)
			waited := make(chan struct{})
			go func() { _ = cmd.Wait(); close(waited) }()
			select {
			case <-waited:
			case <-time.After(5 * time.Second):
				t.Fatalf("%s does not end it", signal)
			}
		}
		require.NoError(t, os.Remove(filepath.Join(dir, "begun")))
		require.Equal(t, 0, run(t, dir, "undo").code)
		require.Equal(t, old, projecttest.Read(t, dir))
	}
}
