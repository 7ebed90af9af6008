// Package java_test compares what the program reads in Java with the compiler, and moves real libraries that must pass
// their own tests afterwards.
package java_test

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

	"crookedshelf/internal/lang/java"
	"crookedshelf/internal/parallel"
	"crookedshelf/oracle/tree"
)

// has skips a test on a machine that has not what it needs.
func has(t *testing.T, needs ...string) {
	t.Helper()
	tree.Has(t, "run oracle/java/fetch.sh", needs...)
}

// bodies are the files that are compared: those of the libraries whose sources are here.
func bodies(t *testing.T) (files []string) {
	root, err := filepath.Abs("sources")
	require.NoError(t, err)
	require.NoError(t, filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
		if err == nil && e.Type().IsRegular() && strings.HasSuffix(p, ".java") {
			files = append(files, p)
		}
		return err
	}))
	return files
}

// theirs asks the compiler's parser what is in files.
func theirs(t *testing.T, files []string) map[string][]string {
	t.Helper()
	dir := t.TempDir()
	list, out := filepath.Join(dir, "list"), filepath.Join(dir, "out")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")), 0o644))
	said, err := exec.Command("java", "-Xmx4g", "Said.java", list, out).CombinedOutput()
	require.NoError(t, err, string(said))
	f, err := os.Open(out)
	require.NoError(t, err)
	defer f.Close()
	lines, current := map[string][]string{}, ""
	scanner := bufio.NewScanner(f)
	scanner.Buffer(nil, 1<<24)
	for scanner.Scan() {
		if name, is := strings.CutPrefix(scanner.Text(), "# "); is {
			current = name
			lines[name] = []string{}
		} else {
			lines[current] = append(lines[current], scanner.Text())
		}
	}
	require.NoError(t, scanner.Err())
	return lines
}

// sorted puts lines in order, each place once: of A a, b; the compiler has the type twice.
func sorted(lines []string) []string {
	slices.Sort(lines)
	return slices.CompactFunc(lines, func(a, b string) bool { return a == b && !strings.HasPrefix(a, "doc ") })
}

// mistaken are comments with a mistake behind a tag, as a full stop or a bracket of another kind: the compiler takes the name
// there for text.
var mistaken = map[string]bool{
	"ValidatorBuilder.java doc EndpointValidatorDefinition": true, "ValidatorBuilder.java doc PredicateValidatorDefinition": true,
	"StringUtils.java doc String": true, "TestFileContextDeleteOnExit.java doc FileContext": true,
	"Fetcher.java doc RequestFuture": true, "ConfigProvider.java doc UnsupportedOperationException": true,
	"WebSocketClientHandshaker.java doc FullHttpRequest": true, "WebSocketServerHandshaker.java doc FullHttpResponse": true,
	"FastThreadLocal.java doc InternalThreadLocalMap": true, "FastThreadLocal.java doc Object": true,
}

// What a file says is what the compiler's own parser says: imports, declarations and who sees them, each name and what
// is selected on it, where a type must stand, strings, and the names in comments.
func TestAgainstTheParser(t *testing.T) {
	has(t, "java", "sources/commons-text", "sources/guava")
	files := bodies(t)
	require.Greater(t, len(files), 2500)
	want := theirs(t, files)
	mine := make([][]string, len(files))
	parallel.Do(len(files), func(i int) {
		content, err := os.ReadFile(files[i])
		if err == nil {
			mine[i], err = java.Said(content)
		}
		if err != nil {
			mine[i] = []string{"! " + err.Error()}
		}
		mine[i] = sorted(mine[i])
	})
	agreed, refused, unexplained := 0, 0, 0
	for i, file := range files {
		lines := want[file]
		if len(lines) == 1 && lines[0] == "!" {
			refused++
			continue
		}
		for k := range lines { // places are counted in characters of one byte on both sides
			lines[k] = strings.TrimRight(lines[k], " ")
		}
		lines = sorted(lines)
		less, more := tree.Without(lines, mine[i]), tree.Without(mine[i], lines)
		more = slices.DeleteFunc(more, func(line string) bool { return mistaken[filepath.Base(file)+" "+line] })
		agreed += len(lines) - len(less)
		if len(less)+len(more) == 0 {
			continue
		}
		if unexplained += len(less) + len(more); unexplained < 400 {
			fmt.Printf("%s\n  compiler: %v\n  here: %v\n", file, less, more)
		}
	}
	t.Logf("%d files, %d lines agree, %d do not; the compiler does not take %d", len(files), agreed, unexplained, refused)
	assert.Zero(t, unexplained)
	require.Less(t, refused*500, len(files))
}
