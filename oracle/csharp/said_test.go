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

// explained are the files, by their ends, of which something else is read, and why. Elsewhere there is none.
var explained = map[string]string{
	"ReadOnlySpan.Fast.cs": "comments with elements that do not match", "/Span.Fast.cs": "comments with elements that do not match",
	"NunitWeb/FormRequest.cs": "comments with elements that do not match", "DbProviderManifest.cs": "an element that is called cref",
	"ValidationAttribute.cs": "a value without quotes in a comment", "Internal/ChangeNode.cs": "comments with elements that do not match",
	"AggregatePushdown.cs": "comments with elements that do not match", "DbSpatialServices.cs": "comments with elements that do not match",
	"Sql8ExpressionRewriter.cs": "a reference with names of parameters", "claims/ClaimsIdentity.cs": "comments with elements that do not match",
	"gtest-555.cs": "a ? behind a ? of a type", "test-697.cs": "an escape that is a mark of the order of bytes", "test-async-22.cs": "types that are called async",
	"test-partial-30.cs": "members that are called partial", "test-xml-063.cs": "comments with elements that do not match",
}

// isExplained says whether the difference of a file is known. Wrong programs of a compiler's own tests are not compared: the
// parser takes some of them.
func isExplained(p string) bool {
	if strings.Contains(p, "/mcs/errors/") {
		return true
	}
	for end := range explained {
		if strings.HasSuffix(p, end) {
			return true
		}
	}
	return false
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
	count, lines, bad, differ, refused, known := 0, 0, 0, 0, 0, 0
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
			if (r.err != nil || len(r.less)+len(r.more) > 0) && isExplained(one.path) {
				known++
				continue
			}
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
	t.Logf("%d readings, %d lines, %d the compiler refuses, %d explained, %d refused, %d differ %v", count, lines, bad, known, refused, differ,
		fmt.Sprint(kinds))
	assert.Zero(t, differ+refused)
}

func first(lines []string) []string { return lines[:min(len(lines), 6)] }
