// Package csharp_test compares what the program reads in C# with the compiler, and moves real libraries that must pass
// their own tests afterwards.
package csharp_test

import (
	"bufio"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/csharp"
	"crookedshelf/internal/parallel"
	"crookedshelf/oracle/tree"
)

// has skips a test on a machine that has not what it needs.
func has(t *testing.T, needs ...string) {
	t.Helper()
	tree.Has(t, "run oracle/csharp/fetch.sh", needs...)
}

// TestAgainstTheParser compares what is read of each file with what the compiler's own parser says.
func TestAgainstTheParser(t *testing.T) {
	has(t, "frontend/run", "sources/nunit")
	root := "sources"
	if other := os.Getenv("CSHARP_FILES"); other != "" {
		root = other
	}
	var files []string
	_ = filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && strings.HasSuffix(p, ".cs") {
			files = append(files, p)
		}
		return nil
	})
	require.NotEmpty(t, files)
	list := filepath.Join(t.TempDir(), "list")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")+"\n"), 0o644))
	cmd := exec.Command("frontend/run", "Said.dll", list)
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	type reading struct {
		path    string
		symbols map[string]bool
		said    []string
	}
	in := bufio.NewScanner(out)
	in.Buffer(make([]byte, 1<<20), 1<<28)
	var batch []*reading
	count, lines, bad, differ, refused := 0, 0, 0, 0, 0
	kinds := map[string]int{}
	flush := func() {
		type result struct {
			err        error
			less, more []string
		}
		results := make([]result, len(batch))
		parallel.Do(len(batch), func(i int) {
			one := batch[i]
			if slices.Equal(one.said, []string{"bad"}) {
				return
			}
			content, _ := os.ReadFile(one.path)
			mine, err := csharp.Said(content, one.symbols)
			if err != nil {
				results[i].err = err
				return
			}
			slices.Sort(mine)
			slices.Sort(one.said)
			results[i].less, results[i].more = tree.Without(one.said, mine), tree.Without(mine, one.said)
		})
		for i, one := range batch {
			if slices.Equal(one.said, []string{"bad"}) {
				bad++
				continue
			}
			count++
			lines += len(one.said)
			r := results[i]
			if r.err != nil {
				refused++
				if refused < 40 {
					t.Logf("%s: %v", one.path, r.err)
				}
				continue
			}
			if len(r.less)+len(r.more) > 0 {
				differ++
				for _, l := range r.less {
					kinds["- "+strings.Fields(l)[0]]++
				}
				for _, l := range r.more {
					kinds["+ "+strings.Fields(l)[0]]++
				}
				if differ < 60 {
					t.Logf("%s\n   less %v\n   more %v", one.path, first(r.less), first(r.more))
				}
			}
		}
		batch = batch[:0]
	}
	for in.Scan() {
		line := in.Text()
		if rest, is := strings.CutPrefix(line, "file "); is {
			if len(batch) >= 400 {
				flush()
			}
			symbols, path, _ := strings.Cut(rest, " ")
			one := &reading{path: path, symbols: map[string]bool{}}
			for _, s := range strings.Split(symbols, ",") {
				one.symbols[s] = s != ""
			}
			batch = append(batch, one)
			continue
		}
		last := batch[len(batch)-1]
		last.said = append(last.said, line)
	}
	flush()
	require.NoError(t, cmd.Wait())
	t.Logf("%d readings, %d lines, %d the compiler refuses, %d refused, %d differ %v", count, lines, bad, refused, differ, fmt.Sprint(kinds))
	assert.Zero(t, differ+refused)
}

func first(lines []string) []string { return lines[:min(len(lines), 6)] }
