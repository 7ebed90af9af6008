package ruby_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// suite runs the tests of a library, and gives how many there are and what they say.
func suite(t *testing.T, dir string) string {
	t.Helper()
	cmd := exec.Command("sh", "-c", `cd activemodel && ruby -W0 -I lib -I test -I ../activesupport/lib -e 'Dir["test/cases/**/*_test.rb"].sort.each { |f| require File.expand_path(f) }' -- --seed 7 | grep runs,`)
	cmd.Dir = dir
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.Output()
	require.NoError(t, err, &said)
	return string(out)
}

// Files of a real library go to random folders, as far as nothing stands against it, and its tests say the same.
func TestMovesAtRandom(t *testing.T) {
	has(t, "ruby", "sources/rails")
	rounds := 2
	if n, err := strconv.Atoi(os.Getenv("RANDOM_MOVES")); err == nil {
		rounds = n
	}
	program := tree.Build(t)
	moved, blocked := 0, 0
	for round := range rounds {
		t.Run(fmt.Sprint(round), func(t *testing.T) {
			dir := t.TempDir()
			for _, part := range []string{"activemodel", "activesupport", "tools"} {
				require.NoError(t, os.CopyFS(filepath.Join(dir, part), os.DirFS(filepath.Join("sources/rails", part))))
			}
			var files []string
			for _, p := range filesBelow(filepath.Join(dir, "activemodel/lib/active_model")) {
				rel, err := filepath.Rel(dir, p)
				require.NoError(t, err)
				files = append(files, rel)
			}
			before := suite(t, dir)
			convention, n := tree.Scattered(rand.New(rand.NewPCG(uint64(round), 11)), files)
			require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o644))
			require.NoError(t, exec.Command("git", "init", "-q", dir).Run())
			hashes, err := tree.Hashes(dir)
			require.NoError(t, err)
			said, err := tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial")
			require.True(t, err == nil || strings.Contains(said, "Moved"), said)
			_, rest, found := strings.Cut(said, "Moved ")
			require.True(t, found, said)
			count, err := strconv.Atoi(strings.Fields(rest)[0])
			require.NoError(t, err)
			moved, blocked = moved+count, blocked+n-count
			assert.Equal(t, before, suite(t, dir))
			said, err = tree.Call(program, dir, "undo")
			require.NoError(t, err, said)
			again, err := tree.Hashes(dir)
			require.NoError(t, err)
			assert.Empty(t, tree.Differences(hashes, again))
		})
	}
	t.Logf("%d files moved, %d held back", moved, blocked)
	assert.Positive(t, moved)
}
