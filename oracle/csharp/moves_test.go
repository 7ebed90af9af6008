package csharp_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

var blockedMoves = regexp.MustCompile(`(\d+) moves? blocked`)

// faults are the errors of the compiler, without where they are.
func faults(m meanings) (out []string) {
	for _, line := range m.errors {
		parts := strings.Split(line, "\t")
		out = append(out, parts[0]+" "+parts[len(parts)-1])
	}
	slices.Sort(out)
	return out
}

// Files of real libraries go to random namespaces, as far as nothing stands against it, and the compiler finds the same
// faults as before.
func TestMovesAtRandom(t *testing.T) {
	rounds := 1
	if n, err := strconv.Atoi(os.Getenv("RANDOM_MOVES")); err == nil {
		rounds = n
	}
	program := tree.Build(t)
	moved, blocked := 0, 0
	has(t, "frontend/run", "sources/nunit")
	for _, l := range here(libraries) {
		if !l.whole || l.name == scopes {
			continue
		}
		for round := range rounds {
			t.Run(fmt.Sprintf("%s/%d", l.name, round), func(t *testing.T) {
				dir := laid(t, l)
				files := sourcesOf(t, dir)
				compile := func() meanings {
					var all []string
					for _, p := range sourcesOf(t, dir) {
						all = append(all, filepath.Join(dir, p))
					}
					return compiled(t, dir, all, l.symbols)
				}
				before := faults(compile())
				convention, n := tree.Scattered(rand.New(rand.NewPCG(uint64(round), 7)), files)
				require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o644))
				require.NoError(t, exec.Command("git", "init", "-q", dir).Run())
				hashes, err := tree.Hashes(dir)
				require.NoError(t, err)
				said, err := tree.Call(program, dir, "plan")
				require.True(t, err == nil || strings.Contains(said, "blocked"), said)
				held := 0
				if found := blockedMoves.FindStringSubmatch(said); found != nil {
					held, _ = strconv.Atoi(found[1])
				}
				moved, blocked = moved+n-held, blocked+held
				if os.Getenv("SHOW") != "" {
					t.Log(said)
				}
				if held == n {
					return
				}
				said, err = tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial")
				require.True(t, err == nil || strings.Contains(said, "Moved"), said)
				now := compile()
				after := faults(now)
				if !assert.Empty(t, tree.Without(after, before), now.errors[:min(10, len(now.errors))]) && os.Getenv("KEEP") != "" {
					require.NoError(t, os.CopyFS(filepath.Join(os.Getenv("KEEP"), fmt.Sprintf("%s-%d", filepath.Base(l.name), round)), os.DirFS(dir)))
				}
				_, err = tree.Call(program, dir, "undo")
				require.NoError(t, err)
				back, err := tree.Hashes(dir)
				require.NoError(t, err)
				assert.Empty(t, tree.Differences(hashes, back))
			})
		}
	}
	t.Logf("%d files moved, %d were held back", moved, blocked)
}
