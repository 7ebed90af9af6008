package php_test

import (
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/demo"
	"crookedshelf/internal/project/projecttest"
	"crookedshelf/oracle/tree"
)

// migration is a real package with a convention by which many of its files move.
type migration struct {
	sources, vendor, convention string
	least                       int
}

var migrations = []migration{
	{"php-parser-*", "PhpParser", `
shelves:
  making: { at: lib/PhpParser/Tools/Making/, from: [lib/PhpParser/Builder/**] }
  tokens: { at: lib/PhpParser/Text/Tokens/, from: [lib/PhpParser/Lexer/**] }
  walking: { at: lib/PhpParser/Walking/, from: [lib/PhpParser/NodeVisitor/**] }
  faults: { at: lib/PhpParser/Faults/, from: ["lib/PhpParser/Error*.php", "lib/PhpParser/ErrorHandler/**"] }
  inner: { at: lib/PhpParser/Tools/Inner/, from: ["lib/PhpParser/Internal/**"] }
  making-tests: { at: test/PhpParser/Tools/Making/, from: [test/PhpParser/Builder/**] }
  tests: { at: test/PhpParser/Other/, from: ["test/PhpParser/N*Test.php", "test/PhpParser/B*Test.php", "test/PhpParser/P*Test.php"] }
`, 69},
	{"php-twig-*", "Twig", `
shelves:
  tree: { at: src/Tree/, from: [src/Node/**] }
  reading: { at: src/Reading/Parsing/, from: [src/TokenParser/**, src/ExpressionParser.php, src/Parser.php, src/Lexer.php, "src/Token*.php"] }
  walking: { at: src/Walking/, from: [src/NodeVisitor/**, src/NodeTraverser.php] }
  loading: { at: src/Loading/, from: [src/Loader/**, src/RuntimeLoader/**] }
  rest: { at: src/Helping/, from: [src/Util/**, src/Cache/**] }
`, 120},
	{"php-league-commonmark-*", "League", `
shelves:
  blocks: { at: src/Reading/Blocks/, from: [src/Parser/Block/**] }
  inline: { at: src/Reading/Inline/, from: [src/Parser/Inline/**] }
  marks: { at: src/Marks/, from: [src/Delimiter/**] }
  out: { at: src/Writing/, from: [src/Renderer/**, src/Output/**] }
  tools: { at: src/Tools/, from: [src/Util/**] }
  more: { at: src/More/, from: [src/Extension/**] }
`, 200},
}

// needed loads what a package needs of others from where Debian has it, and nothing of the package itself.
const needed = `<?php
require __DIR__ . '/autoload.php';
foreach (['Nette/Schema', 'Nette/Utils'] as $other) {
    is_file("/usr/share/php/$other/autoload.php") && require_once "/usr/share/php/$other/autoload.php";
}
spl_autoload_register(function ($class) {
    $file = '/usr/share/php/' . str_replace('\\', '/', $class) . '.php';
    if (preg_match('/^(Symfony|Psr|League\\\\Config|Nette|Dflydev)\\\\/', $class) && is_file($file)) {
        require $file;
    }
});
`

// lay lays the sources of a package out, without what belongs to the distribution.
func lay(t *testing.T, pattern string) string {
	t.Helper()
	found, _ := filepath.Glob(filepath.Join("sources", pattern))
	found = slices.DeleteFunc(found, func(p string) bool {
		info, err := os.Stat(p)
		return err != nil || !info.IsDir()
	})
	if len(found) == 0 {
		if os.Getenv("CI") != "" {
			t.Fatalf("%s is not here: oracle/php/fetch.sh", pattern)
		}
		t.Skipf("%s is not here: oracle/php/fetch.sh", pattern)
	}
	dir := filepath.Join(t.TempDir(), "package")
	require.NoError(t, os.CopyFS(dir, os.DirFS(found[0])))
	for _, extra := range []string{"debian", ".pc", "vendor"} {
		require.NoError(t, os.RemoveAll(filepath.Join(dir, extra)))
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".gitignore"), []byte("vendor/\n.phpunit*\n"), 0o600))
	return dir
}

// in runs a program in a folder.
func in(dir, program string, args ...string) (string, error) {
	cmd := exec.Command(program, args...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "COMPOSER_ALLOW_SUPERUSER=1", "COMPOSER_DISABLE_NETWORK=1")
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// load has the loader written, and gives how many classes do not stand where their names say.
func load(t *testing.T, dir string) int {
	t.Helper()
	out, _ := in(dir, "composer", "dump-autoload", "--dev", "--optimize", "--strict-psr")
	require.Contains(t, out, "Generated optimized autoload files", out)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "vendor/needed.php"), []byte(needed), 0o600))
	return strings.Count(out, "does not comply")
}

// suite gives the failures of a package's own tests, and how many ran.
func suite(t *testing.T, dir string) (failures []string, sum string) {
	t.Helper()
	args := []string{"--exclude-group", "network,tty,benchmark,functional"}
	if _, err := os.Stat(filepath.Join(dir, "test/bootstrap.php")); err != nil {
		args = append(args, "--bootstrap", "vendor/needed.php")
	}
	out, _ := in(dir, "phpunit", args...)
	for _, m := range regexp.MustCompile(`(?m)^\d+\) (.+?)( with data set.*)?$`).FindAllStringSubmatch(out, -1) {
		failures = append(failures, m[1][strings.LastIndexByte(m[1], '\\')+1:])
	}
	slices.Sort(failures)
	found := regexp.MustCompile(`(?m)^(?:OK \(.*\)|Tests: .*)$`).FindString(out)
	require.NotEmpty(t, found, out[max(0, len(out)-2000):])
	return failures, found
}

// Real packages pass their own tests after many of their files have moved, and come back whole.
func TestRealPackagesStillPassTheirTests(t *testing.T) {
	has(t, "php", "composer", "phpunit")
	program := tree.Build(t)
	for _, m := range migrations {
		t.Run(strings.TrimSuffix(m.sources, "-*"), func(t *testing.T) {
			t.Parallel()
			dir := lay(t, m.sources)
			require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte("crooked: 1\n"+m.convention), 0o600))
			astray := load(t, dir)
			failed, sum := suite(t, dir)
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".phpunit.result.cache")))
			before := projecttest.Read(t, dir)
			out, err := in(dir, program, "straighten", "--yes", "--dirty")
			require.NoError(t, err, out)
			moved := 0
			_, err = fmt.Sscanf(out[strings.Index(out, "\nMoved ")+1:], "Moved %d files", &moved)
			require.NoError(t, err, out)
			require.GreaterOrEqual(t, moved, m.least)
			require.Equal(t, astray, load(t, dir))
			now, sumNow := suite(t, dir)
			require.Equal(t, failed, now)
			require.Equal(t, sum, sumNow)
			out, err = in(dir, program, "undo")
			require.NoError(t, err, out)
			load(t, dir)
			after := projecttest.Read(t, dir)
			for p, content := range before {
				if !strings.HasPrefix(p, "vendor/") {
					require.Equal(t, content, after[p], p)
				}
			}
			t.Logf("%d files moved; %s, as before; undo is exact", moved, sum)
		})
	}
}

// loadAll loads every class of a package's list from where the list says that it is.
const loadAll = `<?php
require 'vendor/needed.php';
$here = getcwd() . '/';
foreach (require 'vendor/composer/autoload_classmap.php' as $class => $file) {
    if (!str_starts_with($file, $here) || str_contains($file, '/vendor/')) {
        continue;
    }
    try {
        if (!class_exists($class) && !interface_exists($class) && !trait_exists($class)) {
            echo "$class is not there\n";
        } elseif ((new ReflectionClass($class))->getFileName() !== $file) {
            echo "$class is loaded from elsewhere\n";
        }
    } catch (Error $e) {
        echo $class, ': ', $e->getMessage(), "\n";
    }
}
`

// What moves at random is still found: every class loads from its own file, in a package that is taken apart again and
// again.
func TestWhatMovesAtRandomStillLoads(t *testing.T) {
	has(t, "php", "composer")
	program := tree.Build(t)
	random := rand.New(rand.NewPCG(11, 29))
	rounds := 6
	if os.Getenv("PHP_FILES") != "" {
		rounds = 40
	}
	for _, m := range migrations {
		t.Run(strings.TrimSuffix(m.sources, "-*"), func(t *testing.T) {
			dir := lay(t, m.sources)
			require.NoError(t, os.WriteFile(filepath.Join(dir, "vendor.php"), []byte(loadAll), 0o600))
			astray := load(t, dir)
			before, err := in(dir, "php", "vendor.php")
			require.NoError(t, err, before)
			unknown := undeclared(t, dir)
			moved := 0
			for range rounds {
				files := sourcesOf(t, dir)
				file := files[random.IntN(len(files))]
				other := files[random.IntN(len(files))]
				to := path.Join(path.Dir(other), fmt.Sprintf("Room%d", random.IntN(9))) + "/"
				out, err := in(dir, program, "move", file, to, "--yes", "--dirty", "--alone")
				if err != nil {
					require.Contains(t, out, "blocked", "%s to %s", file, to)
					continue
				}
				moved++
				require.Equal(t, astray, load(t, dir), "%s to %s", file, to)
				require.Equal(t, unknown, undeclared(t, dir), "%s to %s", file, to)
				now, err := in(dir, "php", "vendor.php")
				require.NoError(t, err, "%s to %s: %s", file, to, now)
				assert.Equal(t, strings.Count(before, "\n"), strings.Count(now, "\n"), "%s to %s: %s", file, to, now)
			}
			require.Positive(t, moved)
			t.Logf("%d of %d files moved, and every class loads", moved, rounds)
		})
	}
}

// undeclared counts the uses of names in a package that no file of it declares, by PHP's own parser, name by name.
func undeclared(t *testing.T, dir string) map[string]int {
	t.Helper()
	var files []string
	for p := range projecttest.Read(t, dir) {
		if strings.HasSuffix(p, ".php") && !strings.HasPrefix(p, "vendor") {
			files = append(files, filepath.Join(dir, p))
		}
	}
	said := theirs(t, files)
	declares := map[string]bool{}
	for _, lines := range said {
		for _, line := range lines {
			if name, is := strings.CutPrefix(line, "declares "); is {
				declares[strings.ToLower(name)] = true
			}
		}
	}
	out := map[string]int{}
	for _, lines := range said {
		for _, line := range lines {
			if parts := strings.Split(line, " "); len(parts) == 3 && parts[1] == "class" &&
				!declares[strings.ToLower("class "+parts[2])] {
				out[parts[2]]++
			}
		}
	}
	return out
}

// sourcesOf are the files of a package that hold its classes.
func sourcesOf(t *testing.T, dir string) (out []string) {
	t.Helper()
	for p := range projecttest.Read(t, dir) {
		if (strings.HasPrefix(p, "src/") || strings.HasPrefix(p, "lib/")) && strings.HasSuffix(p, ".php") {
			out = append(out, p)
		}
	}
	slices.Sort(out)
	require.NotEmpty(t, out)
	return out
}

// The demo's visitors' desk gives out the same bytes behind its front door.
func TestTheDemosPagesAreTheSame(t *testing.T) {
	has(t, "php")
	program := tree.Build(t)
	dir := filepath.Join(t.TempDir(), "visits")
	require.NoError(t, os.CopyFS(dir, demo.Visits()))
	before := pages(t, dir, ".")
	out, err := in(dir, program, "straighten", "--yes", "--dirty")
	require.NoError(t, err, out)
	require.Equal(t, before, pages(t, dir, "public"))
	tests, err := in(dir, "php", "tests/run.php")
	require.NoError(t, err, tests)
	require.Equal(t, "2 nights, as expected\n", tests)
	out, err = in(dir, program, "undo")
	require.NoError(t, err, out)
	require.Equal(t, before, pages(t, dir, "."))
}

// pages asks PHP's own server for what a browser would see of the visitors' desk.
func pages(t *testing.T, dir, root string) map[string]string {
	t.Helper()
	return pagesOf(t, dir, root, "", []string{"/", "/index.php", "/nights.php", "/book.php", "/book.php?night=2026-03-14",
		"/css/desk.css", "/img/dome.svg"})
}

// pagesOf asks PHP's own server for pages. A router, if there is one, answers for all of them.
func pagesOf(t *testing.T, dir, root, router string, paths []string) map[string]string {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := listener.Addr().String()
	require.NoError(t, listener.Close())
	args := []string{"-S", address, "-t", root}
	if router != "" {
		args = append(args, router)
	}
	server := exec.Command("php", args...)
	server.Dir = dir
	require.NoError(t, server.Start())
	defer func() { _ = server.Process.Kill(); _ = server.Wait() }()
	out := map[string]string{}
	for _, page := range paths {
		var answer *http.Response
		for range 50 {
			if answer, err = http.Get("http://" + address + page); err == nil {
				break
			}
			time.Sleep(100 * time.Millisecond)
		}
		require.NoError(t, err)
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		require.Equal(t, http.StatusOK, answer.StatusCode, "%s: %s", page, text)
		require.NotContains(t, string(text), "Warning", page)
		out[page] = string(text)
	}
	return out
}
