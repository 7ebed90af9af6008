// Package php_test compares what the program reads in PHP with PHP's own tokenizer and parser on real files, and moves
// real packages that must pass their own tests afterwards.
package php_test

import (
	"bufio"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/php"
)

// has skips a test on a machine without PHP and its parser, but never where all must be there.
func has(t *testing.T, needs ...string) {
	t.Helper()
	for _, tool := range needs {
		_, err := exec.LookPath(tool)
		if strings.HasPrefix(tool, "/") {
			_, err = os.Stat(tool)
		}
		if err == nil {
			continue
		}
		if os.Getenv("CI") != "" || os.Getenv("PHP_FILES") != "" {
			t.Fatalf("%s is not here", tool)
		}
		t.Skipf("%s is not here: from Debian, php-cli php-parser phpunit composer", tool)
	}
}

// bodies are the folders whose files are compared: those of installed packages, and those that PHP_FILES names.
func bodies(t *testing.T) (files []string) {
	for _, dir := range append([]string{"/usr/share/php"}, filepath.SplitList(os.Getenv("PHP_FILES"))...) {
		require.NoError(t, filepath.WalkDir(dir, func(p string, e fs.DirEntry, err error) error {
			if err == nil && e.Type().IsRegular() && (strings.HasSuffix(p, ".php") || strings.HasSuffix(p, ".inc") ||
				strings.HasSuffix(p, ".phtml")) {
				files = append(files, p)
			}
			return err
		}))
	}
	slices.Sort(files)
	return files
}

// theirs asks PHP what is in files.
func theirs(t *testing.T, files []string) map[string][]string {
	t.Helper()
	dir := t.TempDir()
	list, out := filepath.Join(dir, "list"), filepath.Join(dir, "out")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")), 0o644))
	said, err := exec.Command("php", "-d", "memory_limit=4G", "-d", "short_open_tag=0", "said.php", list, out).CombinedOutput()
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
		} else if scanner.Text() != "" {
			lines[current] = append(lines[current], scanner.Text())
		}
	}
	require.NoError(t, scanner.Err())
	return lines
}

// explained are lines that only this program has: array(string=>x) is an old way of writing a type, and a callable without
// what it returns is none to the parser of comments, which takes both for text.
var explained = map[string]bool{"base.php doc ezcbaserepositorydirectory": true,
	`ReturnTypeParent.php doc \throwable`: true}

// What a file says is what PHP's own tokenizer and parser say: where tokens begin and end, what each name stands for, and
// which path an include is.
func TestAgainstTheParser(t *testing.T) {
	has(t, "php", "/usr/share/php/PhpParser/autoload.php")
	files := bodies(t)
	require.Greater(t, len(files), 5000)
	want := theirs(t, files)
	agreed, refused, doubtful := 0, 0, 0
	for _, file := range files {
		content, err := os.ReadFile(file)
		require.NoError(t, err)
		mine, err := php.Said(file, content)
		if lines := want[file]; len(lines) > 0 && strings.HasPrefix(lines[len(lines)-1], "!") {
			refused++ // a file that is broken on purpose, or newer than the parser
			continue
		}
		if !assert.NoError(t, err, file) {
			continue
		}
		a, b := sorted(want[file]), sorted(mine)
		if at := slices.Index(a, "doubtful"); at >= 0 { // of its comments nothing is compared
			a, b = withoutDocs(slices.Delete(a, at, at+1)), withoutDocs(b)
			doubtful++
		}
		agreed += len(a)
		b = slices.DeleteFunc(b, func(line string) bool { return explained[filepath.Base(file)+" "+line] })
		if !slices.Equal(a, b) {
			t.Errorf("%s\n  PHP: %v\n  here: %v", file, without(a, b), without(b, a))
		}
	}
	t.Logf("%d files, %d lines agree; PHP does not take %d, and the types in the comments of %d are not compared",
		len(files), agreed, refused, doubtful)
	require.Less(t, doubtful*20, len(files))
	require.Less(t, refused*500, len(files))
}

// The comparison sees what it is for: each ablation of what is read here makes it fail.
func TestTheComparisonFails(t *testing.T) {
	has(t, "php", "/usr/share/php/PhpParser/autoload.php")
	file := filepath.Join(t.TempDir(), "a.php")
	const text = "<?php\nnamespace A;\nuse B\\C as D;\nrequire __DIR__ . '/x.php';\nclass E extends D { function f(G $g) { return \"h{$g}i\" . j() . K; } }\n"
	require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
	want := sorted(theirs(t, []string{file})[file])
	mine, err := php.Said(file, []byte(text))
	require.NoError(t, err)
	require.Equal(t, want, sorted(mine))
	require.Greater(t, len(mine), 12)
	for i := range mine {
		assert.NotEqual(t, want, sorted(slices.Delete(slices.Clone(mine), i, i+1)), "without %s", mine[i])
	}
}

func sorted(lines []string) []string {
	out := make([]string, len(lines))
	for i, line := range lines {
		out[i] = line
		if !strings.Contains(line, " constant ") && !strings.Contains(line, " path ") { // names compare without case
			out[i] = strings.ToLower(line)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func withoutDocs(lines []string) []string {
	return slices.DeleteFunc(lines, func(line string) bool { return strings.HasPrefix(line, "doc ") })
}

func without(a, b []string) (out []string) {
	for _, line := range a {
		if _, there := slices.BinarySearch(b, line); !there && len(out) < 6 {
			out = append(out, line)
		}
	}
	return out
}
